"""Reading a watt meter's log: a table of time, volts and amps, in whatever dress the meter gives it."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]

FIELD = "log"
MOST_ROWS = 2_000_000
FEWEST_ROWS = 10
LONGEST_LOG_S = 24 * 3600.0

_NAMES = {
    "time": ("time", "t", "seconds", "sec", "elapsed", "zeit", "temps", "timestamp", "ms", "duration"),
    "volts": ("voltage", "volts", "volt", "u", "v", "spannung", "tension", "vbat", "millivolts"),
    "amps": ("current", "amps", "amp", "ampere", "amperes", "i", "a", "strom", "courant", "milliamps"),
}  # fmt: skip
_SCALES = {
    "time": {"ms": 1e-3, "s": 1.0, "sec": 1.0, "seconds": 1.0, "min": 60.0, "minutes": 60.0, "h": 3600.0},
    "volts": {"v": 1.0, "mv": 1e-3, "volt": 1.0, "volts": 1.0, "millivolts": 1e-3},
    "amps": {"a": 1.0, "ma": 1e-3, "amp": 1.0, "amps": 1.0, "milliamps": 1e-3},
}  # fmt: skip
_UNIT_WORDS = {"v": "V", "mv": "mV", "a": "A", "ma": "mA"}
_PLAIN_UNIT = {"time": "s", "volts": "V", "amps": "A"}


@dataclass(frozen=True, slots=True)
class LogColumn:
    """How one quantity was recognised: the header as written, and its unit."""

    quantity: str
    header: str
    unit: str


@dataclass(frozen=True, slots=True)
class WattLog:
    """Samples in order of time, shape (T,); ``skipped`` rows could not be read. [s], [V], [A]"""

    time_s: Floats
    voltage_v: Floats
    current_a: Floats
    columns: tuple[LogColumn, ...]
    delimiter: str
    decimal_comma: bool
    skipped: int


def read_log(raw: bytes) -> WattLog:
    """A log from the bytes of a file.

    The delimiter (comma, semicolon, tab), decimal commas, the header's names and units (s, ms, min, clock times; V, mV;
    A, mA) are recognised. Rows that cannot be read are counted and left out; more than a tenth of them is an error.

    Raises
    ------
    DomainError
        For a file that is no table, a missing column, too few or too many rows, or figures beyond any model.
    """
    lines = _lines(raw)
    delimiter = _delimiter(lines)
    start, header = _header(lines, delimiter)
    columns = _columns(header)
    body = lines[start + 1 :]
    if len(body) > MOST_ROWS:
        raise DomainError(FIELD, f"The file has {len(body):,} rows; at most {MOST_ROWS:,} can be read.")
    comma = delimiter != "," and any("," in line for line in body[:20])
    values, skipped = _values(body, delimiter, comma, {k: c[0] for k, c in columns.items()})
    if len(values["time"]) < FEWEST_ROWS:
        raise DomainError(FIELD, f"Only {len(values['time'])} rows hold numbers for time, volts and amps; at least {FEWEST_ROWS} are needed.")  # fmt: skip
    if skipped > 0.1 * len(body):
        raise DomainError(FIELD, f"{skipped:,} of {len(body):,} rows do not hold a number for time, volts and amps. Check the columns and the decimal sign.")  # fmt: skip
    scaled = {k: values[k] * _SCALES[k].get(columns[k][2].lower(), 1.0) for k in columns}
    return WattLog(
        *_sorted_and_sane(scaled["time"], scaled["volts"], scaled["amps"]),
        columns=tuple(LogColumn(k, c[1], _UNIT_WORDS.get(c[2], c[2])) for k, c in columns.items()),
        delimiter={",": "comma", ";": "semicolon", "\t": "tab"}[delimiter],
        decimal_comma=comma,
        skipped=skipped,
    )


def _lines(raw: bytes) -> list[str]:
    if not raw.strip():
        raise DomainError(FIELD, "The file is empty. A watt-meter log has columns for time, volts and amps.")
    if b"\x00" in raw[:4096]:
        if raw[:2] not in (b"\xff\xfe", b"\xfe\xff"):
            raise DomainError(FIELD, "This is not a text file (a picture, perhaps). A watt-meter log is a CSV file with columns for time, volts and amps.")  # fmt: skip
        text = raw.decode("utf-16", errors="replace")
    else:
        try:
            text = raw.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = raw.decode("latin-1")
    if sum(1 for c in text[:2000] if ord(c) < 32 and c not in "\r\n\t") > 5:
        raise DomainError(FIELD, "This is not a text file (a picture, perhaps). A watt-meter log is a CSV file with columns for time, volts and amps.")  # fmt: skip
    return [line for line in text.splitlines() if line.strip() and not line.lstrip().startswith("#")]


def _delimiter(lines: list[str]) -> str:
    sample = lines[:20]
    counts = {d: min((line.count(d) for line in sample[-5:]), default=0) for d in (";", "\t", ",")}
    best = max(counts, key=lambda d: (counts[d] > 1, counts[d], d != ","))
    # decimal commas make commas plenty: semicolons or tabs between at least three columns win
    for d in (";", "\t"):
        if counts[d] >= 2:
            return d
    return best if counts[best] else ","


def _header(lines: list[str], delimiter: str) -> tuple[int, list[str]]:
    """The first line that names at least two of the three quantities; meters put titles above it."""
    best: tuple[int, int, list[str]] | None = None
    for at, line in enumerate(lines[:30]):
        cells = [c.strip() for c in next(csv.reader([line], delimiter=delimiter))]
        named = sum(any(_quantity(c) == q for c in cells) for q in _NAMES)
        if named > (best[1] if best else 0):
            best = (at, named, cells)
    if best is None or best[1] == 0:
        shown = lines[0][:60].strip()
        raise DomainError(FIELD, f"No header names time, volts and amps. The file begins “{shown}”; the first line should read like “time s, voltage V, current A”.")  # fmt: skip
    return best[0], best[2]


def _quantity(cell: str) -> str | None:
    name, unit = _split(cell)
    for quantity, names in _NAMES.items():
        if name in names:
            return quantity
    for quantity, scales in _SCALES.items():
        if name.split("_")[0].split(" ")[0] in _NAMES[quantity] or (not name and unit in scales):
            return quantity
    return None


def _split(cell: str) -> tuple[str, str]:
    """Name and unit of a header cell: "Voltage (mV)" → ("voltage", "mv"); "current_a" → ("current", "a")."""
    text = cell.strip().strip('"').lower()
    bracket = re.match(r"^(.*?)[\s_]*[\[(/]\s*([a-zµ]+)\s*[\])]?$", text)
    if bracket:
        return bracket.group(1).strip(), bracket.group(2)
    parts = re.split(r"[\s_]+", text)
    units = {u for scale in _SCALES.values() for u in scale}
    if len(parts) > 1 and parts[-1] in units:
        return " ".join(parts[:-1]), parts[-1]
    return text, text if text in ("ms", "mv", "ma") else ""


def _columns(header: list[str]) -> dict[str, tuple[int, str, str]]:
    found: dict[str, tuple[int, str, str]] = {}
    for index, cell in enumerate(header):
        quantity = _quantity(cell)
        if quantity and quantity not in found:
            unit = _split(cell)[1]
            if unit not in _SCALES[quantity]:
                unit = _PLAIN_UNIT[quantity].lower()
            found[quantity] = (index, cell, unit)
    missing = [q for q in _NAMES if q not in found]
    if missing:
        there = ", ".join(f"“{c}”" for c in header if c) or "none"
        raise DomainError(FIELD, f"No column for {' and '.join(missing)}. The columns are {there}; name them “time”, “voltage” and “current”.")  # fmt: skip
    return found


def _values(
    body: list[str], delimiter: str, comma: bool, index: dict[str, int]
) -> tuple[dict[str, Floats], int]:
    names, highest = list(index), max(index.values())
    fast = _fast_values(body, delimiter, comma, index)
    if fast is not None:
        return fast, 0
    rows, skipped = [], 0
    for cells in csv.reader(io.StringIO("\n".join(body)), delimiter=delimiter):
        if len(cells) <= highest:
            skipped += 1
            continue
        row = [_number(cells[index[n]], comma, is_time=n == "time") for n in names]
        if None in row:
            skipped += 1
        else:
            rows.append(row)
    table = np.array(rows, dtype=float).reshape(-1, len(names)).T
    return dict(zip(names, table, strict=True)), skipped


def _fast_values(
    body: list[str], delimiter: str, comma: bool, index: dict[str, int]
) -> dict[str, Floats] | None:
    """All rows at once if every cell is a plain number; None otherwise."""
    text = "\n".join(body)
    if not text:
        return None
    if comma:
        text = text.replace(",", ".")
    try:
        table = np.loadtxt(io.StringIO(text), delimiter=delimiter, usecols=list(index.values()), ndmin=2).T
    except (ValueError, IndexError):
        return None
    return dict(zip(index, table, strict=True)) if np.all(np.isfinite(table)) else None


def _number(cell: str, comma: bool, *, is_time: bool) -> float | None:
    text = cell.strip()
    if is_time and ":" in text:
        parts = text.replace(",", ".").split(":")
        try:
            return sum(float(p) * 60.0**k for k, p in enumerate(reversed(parts)))
        except ValueError:
            return None
    if comma:
        text = text.replace(".", "").replace(",", ".") if "," in text else text
    try:
        value = float(text)
    except ValueError:
        return None
    return value if np.isfinite(value) else None


def _sorted_and_sane(time_s: Floats, voltage_v: Floats, current_a: Floats) -> tuple[Floats, Floats, Floats]:
    order = np.argsort(time_s, kind="stable")
    time_s, voltage_v, current_a = time_s[order], voltage_v[order], current_a[order]
    time_s = time_s - time_s[0]
    if not time_s[-1] > 0:
        raise DomainError(FIELD, "The time column does not move on; it should count seconds.")
    if time_s[-1] > LONGEST_LOG_S:
        raise DomainError(FIELD, f"The log lasts {time_s[-1] / 3600:.0f} hours. Is the time column in milliseconds? Name it “time ms”.")  # fmt: skip
    if np.median(current_a) < 0:
        current_a = -current_a  # meters count discharge either way
    if not (0 < np.median(voltage_v) < 130):
        raise DomainError(FIELD, f"The volts are about {np.median(voltage_v):.0f}; is the column in millivolts? Name it “voltage mV”.")  # fmt: skip
    if np.max(np.abs(current_a)) > 2000:
        raise DomainError(FIELD, f"The amps reach {np.max(np.abs(current_a)):.0f}; is the column in milliamps? Name it “current mA”.")  # fmt: skip
    return time_s, voltage_v, np.maximum(current_a, 0.0)
