"""A log as a table: its text, what stands between its cells, where its figures begin, and its header."""

from __future__ import annotations

import csv
import re
from collections import Counter
from dataclasses import dataclass

from coldstack.core.errors import DomainError

FIELD = "log"
MOST_ROWS = 2_000_000
FEWEST_ROWS = 10
MOST_COLUMNS = 60
LOOKED_AT = 60
"""Rows by which the shape of a table is told."""
HEADER_WITHIN = 2000
"""Lines within which the figures must begin."""
DELIMITERS = {";": "semicolon", "\t": "tab", "|": "bar", ",": "comma", " ": "blank"}
NO_TABLE = (
    "This is not a text file (a picture, perhaps). A watt-meter log is a CSV file with "
    "columns for time, volts and amps."
)

_FIGURE = re.compile(r"^[+-]?(\d[\d.,']*|[.,]\d+)([eE][+-]?\d+)?\s*(?:[a-zA-Zµ%°]{1,3})?$")
_CLOCK = re.compile(r"^\d{1,3}:\d{1,2}(?::\d{1,2})?(?:[.,]\d+)?\s*(?:[ap]\.?m\.?)?$", re.I)
_DATE = re.compile(r"^\d{1,4}[-./]\d{1,2}[-./]\d{1,4}\.?(?:[T\s,]+.*)?$")


@dataclass(frozen=True, slots=True)
class Table:
    """Names of the columns (empty where there is no header), units from a row of their own, and the body.

    The body is kept as lines and taken apart a column at a time: as cells a million rows would fill half
    a gigabyte. ``head`` are its first rows as cells. Every row has at least one cell for each column;
    ``ragged`` counts those that had not, and were left out.
    """

    delimiter: str
    names: tuple[str, ...]
    units: tuple[str, ...]
    body: list[str]
    head: list[list[str]]
    ragged: int

    @property
    def has_header(self) -> bool:
        """Whether the columns are named."""
        return any(self.names)

    def column(self, index: int) -> list[str]:
        """The cells of one column, from top to bottom."""
        between, quoted = _between(self.delimiter), [line for line in self.body if '"' in line]
        if quoted:
            return [row[index] for row in split(self.body, self.delimiter)]
        return [line.split(between, index + 1)[index].strip() for line in self.body]


def table_of(raw: bytes) -> Table:
    """The table in the bytes of a file.

    Raises
    ------
    DomainError
        For a file that is empty, no text, or no table of figures.
    """
    lines = _lines(raw)
    delimiter = _delimiter(lines)
    if len(lines) > MOST_ROWS:
        raise DomainError(FIELD, f"The file has {len(lines):,} rows; at most {MOST_ROWS:,} can be read.")
    top = split(lines[:HEADER_WITHIN], delimiter)
    start = next((i for i, row in enumerate(top) if _is_data(row)), None)
    if start is None:
        raise DomainError(
            FIELD,
            f"No row of figures is in it. The file begins “{lines[0][:60].strip()}”; a log has "
            f"columns for time, volts and amps.",
        )
    data = [row for row in split(lines[start : start + LOOKED_AT], delimiter) if _is_data(row)]
    width = Counter(len(_trimmed(row)) for row in data).most_common(1)[0][0]
    if width > MOST_COLUMNS:
        raise DomainError(FIELD, f"The table has {width} columns; at most {MOST_COLUMNS} can be read.")
    names, units = _header(top[:start], width)
    body = [line for line in lines[start:] if not line.startswith("#")]
    whole = [line for line in body if _cells(line, delimiter) >= width]
    head = split(whole[:LOOKED_AT], delimiter)
    return Table(delimiter, names, units, whole, head, len(body) - len(whole))


def split(lines: list[str], delimiter: str) -> list[list[str]]:
    """Lines as cells without blanks around them."""
    if not any('"' in line for line in lines):
        between = _between(delimiter)
        return [[cell.strip() for cell in line.split(between)] for line in lines]
    return [[cell.strip() for cell in _row(line, delimiter)] for line in lines]


def _row(line: str, delimiter: str) -> list[str]:
    try:
        return next(csv.reader([line], delimiter=delimiter), [])
    except csv.Error:  # a lone quote, a cell beyond all measure
        return line.split(delimiter)


def _between(delimiter: str) -> str | None:
    """What `str.split` takes for it: any blanks are one."""
    return None if delimiter == " " else delimiter


def _cells(line: str, delimiter: str) -> int:
    if delimiter == " ":
        return len(line.split())
    return len(_row(line, delimiter)) if '"' in line else line.count(delimiter) + 1


def is_figure(cell: str) -> bool:
    """Whether a cell holds a number, a clock time or a date."""
    return bool(_FIGURE.match(cell) or is_clock(cell) or is_date(cell))


def is_clock(cell: str) -> bool:
    """Whether a cell is a time of day or a time run: 14:02:11.5, 1:05, 2:02:11 PM."""
    return bool(_CLOCK.match(cell))


def is_date(cell: str) -> bool:
    """Whether a cell begins with a date, with a clock time behind it or not."""
    return bool(_DATE.match(cell))


def _lines(raw: bytes) -> list[str]:
    if not raw.strip():
        raise DomainError(FIELD, "The file is empty. A watt-meter log has columns for time, volts and amps.")
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        text = raw.decode("utf-16", errors="replace")
    elif b"\x00" in raw[:4096]:
        raise DomainError(FIELD, NO_TABLE)
    else:
        try:
            text = raw.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = raw.decode("cp1252", errors="replace")
    if sum(1 for c in text[:2000] if ord(c) < 32 and c not in "\r\n\t") > 5:
        raise DomainError(FIELD, NO_TABLE)
    lines = [line.strip("\r\n \ufeff") for line in text.splitlines()]
    lines = [line for line in lines if line and not line.startswith("//")]
    if lines and re.match(r"^sep=.$", lines[0], re.I):
        lines = lines[1:]
    if not lines:
        raise DomainError(
            FIELD, "The file holds remarks only. A watt-meter log has columns for time, volts and amps."
        )
    return lines


def _delimiter(lines: list[str]) -> str:
    """What leaves most figures whole, in rows of one width."""
    figures = [line for line in lines if not line.startswith("#")] or lines
    middle = figures[len(figures) // 3 :][:LOOKED_AT] if len(figures) > LOOKED_AT else figures

    def score(delimiter: str) -> float:
        rows = [_trimmed(row) for row in split(middle, delimiter)]
        width, count = Counter(len(row) for row in rows).most_common(1)[0]
        if width < 2:
            return 0.0
        cells = [cell for row in rows for cell in row if cell]
        return count / len(rows) * sum(map(is_figure, cells)) / max(len(cells), 1)

    scores = {d: score(d) for d in DELIMITERS if d != " "}
    best = max(scores, key=lambda d: scores[d])
    if scores[best] >= 0.3:
        return best
    return " " if score(" ") > scores[best] else (best if scores[best] > 0 else ",")


def _is_data(row: list[str]) -> bool:
    cells = [cell for cell in row if cell]
    return (
        len(cells) >= 2
        and not row[0].startswith("#")
        and sum(map(is_figure, cells)) >= max(2, 0.6 * len(cells))
    )


def _trimmed(row: list[str]) -> list[str]:
    """Without the empty cell that a delimiter at the end of the line leaves."""
    return row[:-1] if len(row) > 1 and not row[-1] else row


def _header(above: list[list[str]], width: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Names, and units where they have a row of their own below."""
    none = ("",) * width
    # a header may stand in a remark; "#" alone is the name of a count
    above = [[row[0].lstrip("# ") or row[0], *row[1:]] for row in above if row]
    fitting = [_fitted(row, width) for row in above[-12:] if len(_trimmed(row)) >= max(2, width - 1)]
    fitting = [row for row in fitting if sum(bool(c) for c in row) >= 2]
    if not fitting:
        return none, none
    if len(fitting) > 1 and all(len(c.strip("[]() ")) <= 4 for c in fitting[-1]):
        return tuple(fitting[-2]), tuple(c.strip("[]() ") for c in fitting[-1])
    return tuple(fitting[-1]), none


def _fitted(row: list[str], width: int) -> list[str]:
    return (row + [""] * width)[:width]
