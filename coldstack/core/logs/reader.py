"""Reading a watt meter's log: a table of time, volts and amps, in whatever dress the meter gives it.

What cannot be recognised is not guessed: `look_at` says which column is taken for what, and what has to
be said besides.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES
from coldstack.core.errors import DomainError
from coldstack.core.logs.cleaning import cleaned
from coldstack.core.logs.columns import QUANTITIES, UNITS, ColumnUse, Quantity, recognised, words_of
from coldstack.core.logs.numbers import DAY_S, Floats, day_counts, figures_of, seconds_of_clock
from coldstack.core.logs.table import DELIMITERS, FEWEST_ROWS, FIELD, Table, is_date, table_of

SAMPLE_ROWS = 3
"""Rows shown of each column, to tell it by."""
_WORDS = {"time": "time", "volts": "volts", "amps": "amps or watts"}


@dataclass(frozen=True, slots=True)
class LogColumn:
    """One column: its header, a few cells, and what it is taken for (None: nothing)."""

    index: int
    header: str
    samples: tuple[str, ...]
    use: ColumnUse | None


@dataclass(frozen=True, slots=True)
class Look:
    """A log before it is read. ``missing`` are quantities that no column was recognised for; ``shape`` is
    the same for files that look alike."""

    table: Table
    columns: tuple[LogColumn, ...]
    missing: tuple[str, ...]
    shape: str


@dataclass(frozen=True, slots=True)
class Chosen:
    """What a person says of a log: its columns; the seconds between rows where no column counts time;
    cells in series where the only volts are those of one cell."""

    uses: tuple[ColumnUse, ...]
    step_s: float | None = None
    cells: int | None = None


@dataclass(frozen=True, slots=True)
class WattLog:
    """Samples in order of time, shape (T,); ``skipped`` rows could not be read. [s], [V], [A]

    ``notes`` say what was done to them: a scale that the figures told, a spike or a pause left out.
    """

    time_s: Floats
    voltage_v: Floats
    current_a: Floats
    columns: tuple[LogColumn, ...]
    delimiter: str
    decimal_comma: bool
    skipped: int
    notes: tuple[str, ...] = ()


def look_at(raw: bytes) -> Look:
    """A log's columns, what each is taken for, and what is missing.

    Raises
    ------
    DomainError
        For a file that is no table of figures.
    """
    table = table_of(raw)
    return looked(table, Chosen(tuple(recognised(table))))


def looked(table: Table, chosen: Chosen) -> Look:
    """The same with what a person chose."""
    by_index = {u.index: u for u in chosen.uses}
    columns = tuple(
        LogColumn(i, name, tuple(row[i] for row in table.head[:SAMPLE_ROWS]), by_index.get(i))
        for i, name in enumerate(table.names)
    )
    return Look(table, columns, tuple(_missing(chosen)), _shape(table))


def read_log(raw: bytes, chosen: Chosen | None = None) -> WattLog:
    """A log from the bytes of a file, by what a person chose, else by what is recognised.

    Raises
    ------
    DomainError
        For a file that is no table, a quantity without a column, too few rows, or figures beyond any model.
    """
    look = look_at(raw)
    if chosen is None:
        chosen = Chosen(tuple(c.use for c in look.columns if c.use is not None))
    return read_table(look.table, check_chosen(look.table, chosen))


def read_table(table: Table, chosen: Chosen) -> WattLog:
    """The samples of a table; raises as `read_log`."""
    missing = _missing(chosen)
    if missing:
        there = ", ".join(f"“{n}”" for n in table.names if n) or "without names"
        raise DomainError(
            FIELD,
            f"No column for {' and '.join(_WORDS[m] for m in missing)}. The columns are {there}. "
            f"Choose which is which.",
        )
    notes: list[str] = []
    time_s = _times(table, chosen)
    volts, amps = _volts_and_amps(table, chosen, notes)
    good = np.isfinite(time_s) & np.isfinite(volts) & np.isfinite(amps)
    skipped = int((~good).sum()) + table.ragged
    if good.sum() < FEWEST_ROWS:
        raise DomainError(
            FIELD,
            f"Only {int(good.sum())} rows hold numbers for time, volts and amps; at least "
            f"{FEWEST_ROWS} are needed.",
        )
    if skipped > 0.1 * (len(good) + table.ragged):
        raise DomainError(
            FIELD,
            f"{skipped:,} of {len(good) + table.ragged:,} rows do not hold a number for time, volts "
            f"and amps. Check the columns and the decimal sign.",
        )
    sure = next((u.given for u in chosen.uses if u.quantity == "time"), True)
    samples = cleaned(time_s[good], volts[good], amps[good], notes, free_scale=not sure)
    return WattLog(
        *samples,
        columns=looked(table, chosen).columns,
        delimiter=DELIMITERS[table.delimiter],
        decimal_comma=_decimal_comma(table, chosen),
        skipped=skipped,
        notes=tuple(notes),
    )


def check_chosen(table: Table, chosen: Chosen) -> Chosen:
    """The choice itself, if it can be meant.

    Raises
    ------
    DomainError
        For a column that is not there, one quantity twice, a unit of another quantity, or figures that
        cannot be.
    """
    seen: set[str] = set()
    for use in chosen.uses:
        if not 0 <= use.index < len(table.names):
            raise DomainError(FIELD, f"There is no column {use.index + 1}; the table has {len(table.names)}.")
        if use.quantity not in QUANTITIES or use.unit not in UNITS[use.quantity]:
            raise DomainError(FIELD, f"{use.unit} is no unit of {use.quantity}.")
        if use.quantity in seen and use.quantity != "cell_volts":
            raise DomainError(FIELD, f"Two columns are chosen for {use.quantity}; take one.")
        seen.add(use.quantity)
    if len({u.index for u in chosen.uses}) < len(chosen.uses):
        raise DomainError(FIELD, "One column is chosen for two things.")
    if chosen.step_s is not None and not 0.001 <= chosen.step_s <= 600:
        raise DomainError(FIELD, "The time from row to row must be between 0.001 and 600 s.")
    if chosen.cells is not None and not LEAST_SERIES <= chosen.cells <= MOST_SERIES:
        raise DomainError(FIELD, f"Cells in series must be between {LEAST_SERIES} and {MOST_SERIES}.")
    return chosen


def _missing(chosen: Chosen) -> list[str]:
    have = {u.quantity for u in chosen.uses}
    cells = [u for u in chosen.uses if u.quantity == "cell_volts"]
    volts = "volts" in have or len(cells) > 1 or (bool(cells) and chosen.cells is not None)
    amps = "amps" in have or ("watts" in have and volts)
    if not volts and {"amps", "watts"} <= have:
        volts = True
    known = {"time": "time" in have or chosen.step_s is not None, "volts": volts, "amps": amps}
    return [name for name, there in known.items() if not there]


def _shape(table: Table) -> str:
    """Files of one meter have it in common: delimiter, and the names of the columns or their number."""
    names = (
        "|".join(" ".join(words_of(n)) for n in table.names)
        if table.has_header
        else f"{len(table.names)} columns"
    )
    units = "|".join(u.lower() for u in table.units) if any(table.units) else ""
    return f"{DELIMITERS[table.delimiter]};{names};{units}"[:500]


def _times(table: Table, chosen: Chosen) -> Floats:
    use = next((u for u in chosen.uses if u.quantity == "time"), None)
    if use is None:
        return np.arange(len(table.body), dtype=np.float64) * float(chosen.step_s or 1.0)
    cells = table.column(use.index)
    if use.unit != "clock":
        return np.asarray(figures_of(cells) * UNITS["time"][use.unit])
    clock: Floats = np.array([seconds_of_clock(c) for c in cells], dtype=np.float64)
    date = next((u for u in chosen.uses if u.quantity == "date"), None)
    if date is not None or (cells and is_date(cells[0])):
        return np.asarray(clock + DAY_S * day_counts(table.column(date.index) if date else cells))
    back = np.diff(clock, prepend=clock[:1]) < -DAY_S / 2  # past midnight
    return np.asarray(clock + DAY_S * np.cumsum(back))


def _volts_and_amps(table: Table, chosen: Chosen, notes: list[str]) -> tuple[Floats, Floats]:
    by: dict[Quantity, list[ColumnUse]] = {q: [u for u in chosen.uses if u.quantity == q] for q in QUANTITIES}

    def figures(use: ColumnUse) -> Floats:
        return np.asarray(figures_of(table.column(use.index)) * UNITS[use.quantity][use.unit])

    watts = figures(by["watts"][0]) if by["watts"] else None
    amps = figures(by["amps"][0]) if by["amps"] else None
    volts = figures(by["volts"][0]) if by["volts"] else None
    if volts is None and by["cell_volts"]:
        cells = np.array([figures(u) for u in by["cell_volts"]])
        used = np.nanmedian(cells, axis=1) > 0  # a port for six cells shows zeros beside four
        volts = cells[used].sum(axis=0) * (chosen.cells or 1 if used.sum() == 1 else 1)
        notes.append(
            f"Volts are the sum of {int(used.sum())} cells."
            if used.sum() > 1
            else f"Volts are {chosen.cells or 1} times those of one cell."
        )
    if volts is None and watts is not None and amps is not None:
        flows = np.abs(amps) > 0.02 * np.nanmax(np.abs(amps), initial=0.0)
        shown = np.where(flows, watts / np.where(flows, amps, 1.0), np.nan)
        volts = np.where(np.isfinite(shown), np.abs(shown), np.nanmedian(np.abs(shown)))
        notes.append("Volts are watts ÷ amps.")
    assert volts is not None
    if amps is None:
        assert watts is not None
        amps = np.where(volts > 0, watts / np.where(volts > 0, volts, 1.0), np.nan)
        notes.append("Amps are watts ÷ volts.")
    return volts, amps


def _decimal_comma(table: Table, chosen: Chosen) -> bool:
    used = [u.index for u in chosen.uses if u.quantity not in ("date",) and u.unit != "clock"]
    return any("," in row[i] and "." not in row[i] for row in table.head for i in used)
