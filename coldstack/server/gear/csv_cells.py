"""Cells of CSV files, out and back in: no cell of ours is a formula to a spreadsheet."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

FORMULA = "=+-@\t\r\n'"
"""What a cell of words must not begin with: a spreadsheet would compute it. The quote is among them so
that one that was there before comes back."""
NONE = "none"
"""A list without entries, where an empty cell would mean the usual ones."""
QUOTE = "'"
"""Set before such a cell: spreadsheets show the rest as text."""


def csv_out(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """A header and rows as CSV text; None is an empty cell, yes and no are 1 and 0, lists stand apart by
    blanks."""
    return "".join(csv_parts(header, rows))


PART = 500


def csv_parts(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[str]:
    """The same in parts of some hundred lines, for files that nobody holds whole."""
    out = io.StringIO(newline="")
    plain = csv.writer(out, lineterminator="\n")
    # a bare carriage return ends a line to many readers, and the writer quotes line feeds alone
    quoted = csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL)
    plain.writerow(header)
    for count, row in enumerate(rows, 1):
        cells = [cell_out(value) for value in row]
        breaks = any(isinstance(cell, str) and "\r" in cell for cell in cells)
        (quoted if breaks else plain).writerow(cells)
        if count % PART == 0:
            yield out.getvalue()
            out.seek(0)
            out.truncate()
    yield out.getvalue()


def cell_out(value: Any) -> Any:
    """A value as a cell; words that a spreadsheet would compute are quoted."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return int(value)
    if isinstance(value, list):
        value = " ".join(str(x) for x in value)
    if isinstance(value, str) and value[:1] in FORMULA and value:
        return QUOTE + value
    return value


def cell_back(text: str) -> str:
    """A cell as it was before it was quoted; any other as it is."""
    return text[1:] if len(text) > 1 and text[0] == QUOTE and text[1] in FORMULA else text
