"""Files of gear to rows: CSV of packs or the catalogue, JSON of everything.

Formats are in docs/formats.md.
"""

from __future__ import annotations

import csv
import difflib
import io
import json
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.errors import DomainError
from coldstack.core.labels.checks import only_series
from coldstack.core.labels.figures import LEAST_LISTED_MAH
from coldstack.server.gear.csv_cells import cell_back
from coldstack.server.gear.csv_words import VOLTS, Column, column_of, plain, value_of
from coldstack.server.gear.kinds import KINDS, GearKind
from coldstack.server.gear.older import with_cell_mohm

FORMAT_NAME, FORMAT_VERSION = "cold-stack-gear", 2
CSV_KINDS = ("packs", "catalogue", "cells", "chargers", "supplies", "pieces", "plugs")
MOST_ROWS = 50_000
DELIMITERS = (",", ";", "\t")
TITLES = 6
"""Lines at the top among which the header is sought."""
MOST_COLUMNS = 500
"""More is no table that a person keeps."""


@dataclass(frozen=True, slots=True)
class FileRow:
    """One row of a file: its kind, where it stands in words a person finds it by, and its values as read."""

    kind: GearKind
    place: str
    values: dict[str, Any]


@dataclass(frozen=True, slots=True)
class FileRows:
    """All rows of a file, and what to know of its columns: those left out, figures that had no unit."""

    rows: list[FileRow]
    notes: tuple[str, ...] = ()


def read_file(name: str, content: bytes, kind_id: str) -> FileRows:
    """Rows of a file; ``kind_id`` says what a CSV holds, JSON says it itself.

    Raises
    ------
    DomainError
        If the whole file cannot be understood: no text, broken JSON, another format or version, columns
        that are missing.
    """
    text = _decoded(content)
    if not text.strip():
        raise DomainError("file", "The file is empty.")
    is_json = name.lower().endswith(".json") or text.lstrip()[:1] in "{["
    found = FileRows(_json_rows(text)) if is_json else _csv_rows(text, kind_id)
    _refuse_many(len(found.rows))
    return found


def _refuse_many(rows: int) -> None:
    if rows > MOST_ROWS:
        raise DomainError("file", f"The file has {rows} rows; at most {MOST_ROWS} can be read at once.")


def _decoded(content: bytes) -> str:
    if content[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return content.decode("utf-16", errors="replace")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:  # what older spreadsheets write
        text = content.decode("cp1252", errors="replace")
    if sum(1 for c in text[:4000] if ord(c) < 32 and c not in "\r\n\t") > 2:
        raise DomainError(
            "file", "The file is not text (a picture or a spreadsheet’s own format, perhaps). Save it as CSV."
        )
    return text


def _csv_rows(text: str, kind_id: str) -> FileRows:
    if kind_id not in CSV_KINDS:
        raise DomainError("kind", f"CSV is read for {', '.join(CSV_KINDS)}; everything else comes as JSON.")
    kind = KINDS[kind_id]
    body = text.lstrip("\r\n")
    if body[:4].lower() == "sep=" and len(body) > 5 and body[5] in "\r\n":
        body = body[5:].lstrip("\r\n")
    head = body.split("\n", TITLES)[:TITLES]
    delimiter = max(
        DELIMITERS, key=lambda d: max((_named_in(kind, line.split(d)), line.count(d)) for line in head)
    )
    reader = csv.reader(io.StringIO(body, newline=""), delimiter=delimiter, strict=True)
    try:
        lines = [(reader.line_num, cells) for cells in reader if any(c.strip() for c in cells)]
    except csv.Error as error:
        raise DomainError("file", f"Line {reader.line_num} is not CSV: {error}.") from None
    if not lines:
        raise DomainError("file", "There is nothing in it but separators.")
    # before each is made something of
    _refuse_many(len(lines) - TITLES)
    top = max(range(min(len(lines), TITLES)), key=lambda k: (_named_in(kind, lines[k][1]), -k))
    if len(lines[top][1]) > MOST_COLUMNS:
        words = f"Its header has {len(lines[top][1])} columns; {MOST_COLUMNS} are the most."
        raise DomainError("file", words)
    columns = _one_each(kind, lines[top][1])
    _check_columns(kind, columns)
    rows = [_csv_row(kind, columns, number, cells) for number, cells in lines[top + 1 :]]
    return FileRows(rows, tuple(_notes(columns, lines[top + 1 :])))


def _named_in(kind: GearKind, cells: list[str]) -> int:
    """How many fields a line names: the header is the line near the top that names most; titles stand
    above it."""
    return len({column_of(kind, c.strip(' "\r')).field for c in cells[:MOST_COLUMNS] if c.strip()} - {""})


def _one_each(kind: GearKind, headers: list[str]) -> list[Column]:
    """The columns, one for each field: of two in people's words the one with the field's own name, else
    the first, is taken and the other left out. The same header twice stays, to be refused."""
    columns = [column_of(kind, h.strip()) if h.strip() else Column("", "") for h in headers]
    names = [plain(c.header) for c in columns]
    best: dict[str, Column] = {}
    for column in sorted(columns, key=lambda c: plain(c.header) != c.field):
        best.setdefault(column.field, column)
    return [
        c if best[c.field] is c or names.count(plain(c.header)) > 1 else Column(c.header, "") for c in columns
    ]


def _check_columns(kind: GearKind, columns: list[Column]) -> None:
    """Everything that is wrong with a header, at once."""
    wrong = []
    taken = [c.field for c in columns if c.field]
    for field in dict.fromkeys(f for f in taken if taken.count(f) > 1):
        both = " and ".join(f"“{c.header}”" for c in columns if c.field == field)
        wrong.append(f"{both} both mean {field}; keep one.")
    known = {*taken, *(["series"] if VOLTS in taken else [])}
    missing = [n for n, f in kind.schema.model_fields.items() if f.is_required() and n not in known]
    if missing:
        unknown = [c.header for c in columns if c.header and not c.field]
        near = difflib.get_close_matches(plain(unknown[0]), kind.fields, n=1) if unknown else []
        hint = f" “{unknown[0][:40]}” may be meant for {near[0]}." if near else ""
        wrong.append(
            f"These columns are missing: {', '.join(missing)}.{hint} "
            f"Take the template for {kind.many} as a start."
        )
    if wrong:
        raise DomainError("file", " ".join(wrong))


def _notes(columns: list[Column], lines: list[tuple[int, list[str]]]) -> Iterator[str]:
    unknown = [f"“{c.header}”" for c in columns if c.header and not c.field]
    if unknown:
        yield f"Left out, since no field is called so: {', '.join(unknown)}."
    for i, column in enumerate(columns):
        if column.field == "capacity_ah" and not column.unit and plain(column.header) != "capacity_ah":
            bare = [
                cells[i].strip()
                for _, cells in lines
                if i < len(cells) and re.fullmatch(r"\s*\d{2,5}\s*", cells[i])
            ]
            if any(float(b) >= LEAST_LISTED_MAH for b in bare):
                yield f"“{column.header}” has no unit: figures such as {bare[0]} are read as mAh."


def _csv_row(kind: GearKind, columns: list[Column], number: int, cells: list[str]) -> FileRow:
    place = f"line {number}"
    if any(c.strip() for c in cells[len(columns) :]) or len(cells) < sum(bool(c.header) for c in columns) / 2:
        return FileRow(kind, place, {"(row)": f"{len(cells)} cells in {len(columns)} columns"})
    values: dict[str, Any] = {}
    for column, cell in zip(columns, cells, strict=False):
        if column.field:
            # an empty cell says nothing: where something must stand in, it is assumed
            values = {**value_of(kind, column, cell_back(cell)), **values}
    return FileRow(kind, place, _cells_by_volts(values))


def _cells_by_volts(values: dict[str, Any]) -> dict[str, Any]:
    """Cells in series from printed volts, where no column counts them and the chemistry leaves one answer."""
    volts = values.pop(VOLTS, None)
    if isinstance(volts, float) and "series" not in values and values.get("chemistry") in CHEMISTRIES:
        series = only_series(volts, values["chemistry"])
        if series is not None:
            values["series"] = series
    return values


def _json_rows(text: str) -> list[FileRow]:
    try:
        data = json.loads(text)
        if isinstance(data, dict) and data.get("version") == 1:
            data = with_cell_mohm(data)
    except (ValueError, RecursionError) as error:
        where = (
            f" at line {error.lineno}, column {error.colno}"
            if isinstance(error, json.JSONDecodeError)
            else ""
        )
        raise DomainError("file", f"The file is not valid JSON{where}.") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT_NAME:
        raise DomainError("file", f"This is no file of Cold Stack’s gear: “format” must be “{FORMAT_NAME}”.")
    if data.get("version") not in (1, FORMAT_VERSION):
        raise DomainError(
            "file",
            f"Version {data.get('version')!r} of the format is not known here; this program reads versions 1 "
            f"and {FORMAT_VERSION}.",
        )
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
            shaped = _known_case(kind, values) if isinstance(values, dict) else {"(row)": "not an object"}
            rows.append(FileRow(kind, f"{kind.id}, entry {i + 1}", shaped))
    return rows


def _known_case(kind: GearKind, values: dict[str, Any]) -> dict[str, Any]:
    """Names of fields in any case or in people's words, and words of lists in any spelling; what is not
    known stays, to be refused."""
    out: dict[str, Any] = {}
    for key, value in values.items():
        column = column_of(kind, key)
        name = (
            key if key in kind.fields or not column.field or column.field in (*values, *out) else column.field
        )
        column = Column(key, name, column.unit)
        if isinstance(value, str) and name in kind.fields and kind.id != "models" and value.strip():
            out |= value_of(kind, column, value)
        else:
            out[name] = value
    return out
