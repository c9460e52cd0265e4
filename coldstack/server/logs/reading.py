"""A log as the API shows it: by what a person chose now, else chose for a file that looked alike, else by
what is recognised."""

from __future__ import annotations

from dataclasses import asdict

from django.db import transaction

from coldstack.core.draw.found import found_draw
from coldstack.core.draw.motion import Motion
from coldstack.core.errors import DomainError
from coldstack.core.logs.columns import UNITS, ColumnUse
from coldstack.core.logs.reader import Chosen, LogColumn, Look, check_chosen, look_at, looked, read_table
from coldstack.core.logs.table import DELIMITERS
from coldstack.server.logs import schemas as s
from coldstack.server.logs.models import LogShape


def log_out(raw: bytes, motion: Motion, chosen: s.ChosenIn | None) -> s.LogOut:
    """The preview of a log. Where columns are missing, or what is in them cannot be, it says so and tells
    nothing yet.

    Raises
    ------
    DomainError
        For a file that is no table of figures, or a choice that cannot be meant.
    """
    look, taken, remembered = understood(raw, chosen)
    wrong, found = "", None
    if not look.missing:
        try:
            found = _found(look, taken, motion)
        except DomainError as error:
            wrong = error.sentence
    return s.LogOut(
        rows=len(look.table.body),
        delimiter=DELIMITERS[look.table.delimiter],
        columns=[_column(c) for c in look.columns],
        units={quantity: list(units) for quantity, units in UNITS.items()},
        missing=list(look.missing),
        shape=look.shape,
        step_s=taken.step_s,
        cells=taken.cells,
        remembered=remembered,
        wrong=wrong,
        found=found,
    )


def understood(raw: bytes, chosen: s.ChosenIn | None) -> tuple[Look, Chosen, bool]:
    """A log's table, what its columns are taken for, and whether that was remembered; raises as `log_out`."""
    look = look_at(raw)
    said = chosen or remembered_choice(look)
    if said is None:
        return look, Chosen(tuple(c.use for c in look.columns if c.use is not None)), False
    taken = check_chosen(look.table, chosen_of(said))
    return looked(look.table, taken), taken, chosen is None


@transaction.atomic
def remember(data: s.ShapeIn) -> None:
    """Keep a choice for files of this shape; the last one holds."""
    chosen = data.chosen.model_dump(mode="json")
    LogShape.objects.update_or_create(shape=data.shape, defaults={"chosen": chosen})


def chosen_of(data: s.ChosenIn) -> Chosen:
    """An API's choice as the core's."""
    uses = tuple(ColumnUse(u.index, u.quantity, u.unit) for u in data.uses)
    return Chosen(uses, data.step_s, data.cells)


def remembered_choice(look: Look) -> s.ChosenIn | None:
    """What was chosen for a file that looked alike, if it can be meant for this one."""
    kept = LogShape.objects.filter(shape=look.shape).values_list("chosen", flat=True).first()
    if kept is None:
        return None
    try:
        said = s.ChosenIn.model_validate(kept)
        check_chosen(look.table, chosen_of(said))
    except (ValueError, DomainError):
        return None
    return said


def _found(look: Look, taken: Chosen, motion: Motion) -> s.FoundOut:
    log = read_table(look.table, taken)
    return s.FoundOut(
        rows=len(log.time_s),
        skipped=log.skipped,
        decimal_comma=log.decimal_comma,
        notes=list(log.notes),
        **asdict(found_draw(log, motion)),
    )


def _column(column: LogColumn) -> s.LogColumnOut:
    use = column.use
    return s.LogColumnOut(
        index=column.index,
        header=column.header,
        samples=list(column.samples),
        quantity=use.quantity if use else "",
        unit=use.unit if use else "",
        given=use.given if use else False,
    )
