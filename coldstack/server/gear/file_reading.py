"""Files of gear to rows: CSV of packs or the catalogue, JSON of everything. Formats are in docs/formats.md."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import dataclass
from typing import Any

from coldstack.core.errors import DomainError
from coldstack.server.gear.kinds import KINDS, Kind

FORMAT_NAME, FORMAT_VERSION = "cold-stack-gear", 1
CSV_KINDS = ("packs", "catalogue", "cells")
MOST_ROWS = 50_000


@dataclass(frozen=True, slots=True)
class FileRow:
    """One row of a file: its kind, where it stands in words a person finds it by, and its values as read."""

    kind: Kind
    place: str
    values: dict[str, Any]


def read_file(name: str, content: bytes, kind_id: str) -> list[FileRow]:
    """Rows of a file; ``kind_id`` says what a CSV holds, JSON says it itself.

    Raises
    ------
    DomainError
        If the whole file cannot be understood: neither UTF-8 nor UTF-16, broken JSON, another format or version, unknown columns.
    """
    text = _decoded(content)
    if not text.strip():
        raise DomainError("file", "The file is empty.")
    rows = _json_rows(text) if name.lower().endswith(".json") or text.lstrip()[:1] in "{[" else _csv_rows(text, kind_id)  # fmt: skip
    if len(rows) > MOST_ROWS:
        raise DomainError("file", f"The file has {len(rows)} rows; at most {MOST_ROWS} can be read at once.")
    return rows


def _decoded(content: bytes) -> str:
    encoding = "utf-16" if content[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"
    try:
        return content.decode(encoding)
    except UnicodeDecodeError as error:
        raise DomainError("file", f"The file is not text in UTF-8: byte {error.start + 1} is none. Save it as UTF-8.") from None  # fmt: skip


def _csv_rows(text: str, kind_id: str) -> list[FileRow]:
    if kind_id not in CSV_KINDS:
        raise DomainError("kind", f"CSV is read for {', '.join(CSV_KINDS)}; everything else comes as JSON.")
    kind = KINDS[kind_id]
    first = text.lstrip("\r\n").split("\n", 1)[0]
    delimiter = max((",", ";", "\t"), key=first.count)
    reader = csv.reader(io.StringIO(text.lstrip("\r\n"), newline=""), delimiter=delimiter, strict=True)
    try:
        lines = [(reader.line_num, cells) for cells in reader if any(c.strip() for c in cells)]
    except csv.Error as error:
        raise DomainError("file", f"Line {reader.line_num} is not CSV: {error}.") from None
    header = [h.strip() for h in lines[0][1]]
    _check_header(kind, header)
    return [_csv_row(kind, header, number, cells, delimiter) for number, cells in lines[1:]]


def _check_header(kind: Kind, header: list[str]) -> None:
    unknown = [h for h in header if h not in kind.fields]
    if unknown:
        raise DomainError("file", f"There is no column “{unknown[0][:40]}” for {kind.many}. Known are: {', '.join(kind.fields)}.")  # fmt: skip
    twice = {h for h in header if header.count(h) > 1}
    if twice:
        raise DomainError("file", f"The column “{sorted(twice)[0]}” is there twice.")
    needed = [n for n, f in kind.schema.model_fields.items() if f.is_required() and n not in header]
    if needed:
        raise DomainError("file", f"These columns are missing: {', '.join(needed)}.")


def _csv_row(kind: Kind, header: list[str], number: int, cells: list[str], delimiter: str) -> FileRow:
    values: dict[str, Any] = {}
    if len(cells) != len(header):
        values["(row)"] = f"{len(cells)} cells in {len(header)} columns"
        return FileRow(kind, f"line {number}", values)
    for name, cell in zip(header, cells, strict=True):
        # an empty cell says nothing: where something must stand in, it is assumed
        if cell.strip() or kind.schema.model_fields[name].is_required():
            values[name] = _cell(kind, name, cell.strip(), delimiter)
    return FileRow(kind, f"line {number}", values)


def _cell(kind: Kind, name: str, cell: str, delimiter: str) -> Any:
    """A CSV cell as JSON would have it; what is no number stays text, for the shape to refuse by name."""
    field = kind.schema.model_fields[name]
    words = str(field.annotation)
    if "list" in words:
        return cell.split()
    if "bool" in words:
        return {"1": True, "true": True, "yes": True, "0": False, "false": False, "no": False}.get(
            cell.lower(), cell
        )
    if "float" in words or "int" in words:
        plain = cell.replace(",", ".") if delimiter != "," else cell
        try:
            return int(plain) if "int" in words and "float" not in words else float(plain)
        except ValueError:
            return cell
    return cell


def _json_rows(text: str) -> list[FileRow]:
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        where = (
            f" at line {error.lineno}, column {error.colno}"
            if isinstance(error, json.JSONDecodeError)
            else ""
        )
        raise DomainError("file", f"The file is not valid JSON{where}.") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT_NAME:
        raise DomainError("file", f"This is no file of Cold Stack’s gear: “format” must be “{FORMAT_NAME}”.")
    if data.get("version") != FORMAT_VERSION:
        raise DomainError("file", f"Version {data.get('version')!r} of the format is not known here; this program reads version {FORMAT_VERSION}.")  # fmt: skip
    unknown = set(data) - {"format", "version", "exported", *KINDS}
    if unknown:
        raise DomainError(
            "file", f"There is no section “{min(unknown)[:40]}”. Known are: {', '.join(KINDS)}."
        )
    rows = []
    for kind in KINDS.values():
        section = data.get(kind.id, [])
        if not isinstance(section, list):
            raise DomainError("file", f"The section “{kind.id}” must be a list.")
        for i, values in enumerate(section):
            shaped = values if isinstance(values, dict) else {"(row)": "not an object"}
            rows.append(FileRow(kind, f"{kind.id}, entry {i + 1}", shaped))
    return rows
