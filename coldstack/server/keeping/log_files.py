"""The packs' lives as files: JSON of all events out and in, CSV for spreadsheets."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from datetime import datetime
from itertools import chain, groupby, islice
from typing import Annotated, Any, Literal

from django.db import transaction
from django.utils import timezone
from pydantic import AwareDatetime, BaseModel, Field, ValidationError

from coldstack.core.charging.inspection import SIGNS
from coldstack.core.errors import DomainError
from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.life.events import Event as EventValue
from coldstack.core.readings.cells import State, highest_possible_v
from coldstack.server.api.errors import words_of
from coldstack.server.api.moments import Moment
from coldstack.server.api.shapes import asks
from coldstack.server.gear.csv_cells import csv_parts
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.log import say_all
from coldstack.server.life.models import Event
from coldstack.server.life.older import events_of
from coldstack.server.life.raw import PART, raw_rows, zulu
from coldstack.server.running.replies import RunFigures
from coldstack.server.sizing.schemas import In

LOG_FORMAT, LOG_VERSION = "cold-stack-log", 2
Mohm = Annotated[float, Field(gt=0, le=10_000)]
CellV = Annotated[float, Field(ge=0, le=6)]
Cells = Annotated[list[CellV], Field(min_length=1, max_length=60)]


@asks(EventValue, bounded=True, without=("said", "charge", "withdrawn", "number"))
class EventFile(In):
    """One event; what was not measured or said is null or left out."""

    key: Annotated[str, Field(min_length=8, max_length=80)]
    at: Moment
    cell_v: Cells | None = None
    end_cell_v: Cells | None = None
    cell_mohm: Annotated[list[Mohm], Field(min_length=1, max_length=60)] | None = None


class RecordFile(In):
    """One charge, check or change of state, as version 1 wrote them."""

    at: Moment
    cycle: Annotated[int, Field(ge=0, le=100_000)] = 0
    temperature_c: Annotated[float, Field(ge=-60, le=150)] | None = None
    soc: Annotated[float, Field(ge=0, le=1)] | None = None
    cell_mohm: Annotated[list[Mohm], Field(min_length=1, max_length=60)] | None = None
    rest_cell_v: Cells | None = None
    capacity_ah: Annotated[float, Field(gt=0, le=1000)] | None = None
    balance_min: Annotated[float, Field(ge=0, le=1440)] | None = None
    run_minutes: Annotated[float, Field(gt=0, le=1440)] | None = None
    state: State | Literal[""] = ""
    source: Literal["charge", "run", "by hand", "reading"] = "charge"


class NoteFile(In):
    """One note, as version 1 wrote them."""

    at: Moment
    text: Annotated[str, Field(min_length=1, max_length=300)]


class PackFile(In):
    """All of one pack, by its tag; ``records``, ``runs`` and ``notes`` are those of version 1."""

    tag: Annotated[str, Field(min_length=1, max_length=12)]
    events: list[EventFile] = []
    records: list[RecordFile] = []
    runs: list[RunFigures] = []
    notes: list[NoteFile] = []


class LogFile(In):
    """The whole log."""

    format: Literal["cold-stack-log"]
    version: Literal[1, 2]
    exported: AwareDatetime | None = None
    packs: Annotated[list[PackFile], Field(max_length=2000)]


class LogImportOut(BaseModel):
    """What is new in a file and what was there already; ``stored`` is false for a preview."""

    events: int
    same: int
    stored: bool


def log_json(at: datetime) -> Iterator[str]:
    """The life of every pack, but for what was withdrawn and charges that run, an event a line, in parts; two
    queries."""
    tags = dict(OwnedPack.live.order_by("tag").values_list("pk", "tag"))
    head = {"format": LOG_FORMAT, "version": LOG_VERSION, "exported": zulu(at)}
    yield json.dumps(head)[:-1] + ', "packs": ['
    began, events = "\n", _told_of(tags)
    for pk, told in groupby(chain(events, [(None, {})]), key=lambda x: x[0]):
        # packs without an event stand where they would
        while tags and (pk is None or next(iter(tags)) != pk):
            yield f'{began} {{"tag": {json.dumps(tags.pop(next(iter(tags))), ensure_ascii=False)}}}'
            began = ",\n"
        if pk is None:
            break
        lines = (json.dumps(event, ensure_ascii=False) for _, event in told)
        yield f'{began} {{"tag": {json.dumps(tags.pop(pk), ensure_ascii=False)}, "events": [\n  '
        began = ",\n"
        for k, part in enumerate(batched(lines, PART)):
            yield (",\n  " if k else "") + ",\n  ".join(part)
        yield "]}"
    yield "\n]}\n"


def _told_of(tags: Mapping[int, str]) -> Iterator[tuple[int | None, dict[str, Any]]]:
    """Each event with its pack's key, without what is as always; pack by pack in the order of their tags."""
    usual = {n: f.get_default(call_default_factory=True) for n, f in EventFile.model_fields.items()}
    rows = Event.standing.filter(pack_id__in=tags).exclude(kind="charging").order_by("pack__tag", "at", "id")
    for pk, *values in raw_rows(rows, ("pack_id", *usual)):
        told = zip(usual, values, strict=True)
        yield pk, {n: v for n, v in told if v is not None and v != usual[n]}


def runs_csv() -> Iterator[str]:
    """Every run, the newest first, in parts."""
    rows = Event.standing.filter(kind="run").order_by("-at", "-id")
    names = ("at", "model", "pack__tag", "minutes", "mah", "landing_cell_v", "text")
    return csv_parts(
        ("at", "model", "pack", "minutes", "put_back_mah", "landing_cell_v", "note"),
        (list(map(_cell, row)) for row in raw_rows(rows, names)),
    )


def life_csv() -> Iterator[str]:
    """Every event, pack by pack, in parts; cells are separated by spaces."""
    rows = Event.standing.order_by("pack__tag", "at", "id")
    names = tuple(EventFile.model_fields)
    told = raw_rows(rows, ("pack__tag", *names))
    return csv_parts(("pack", *names), (list(map(_cell, row)) for row in told))


def read_log(data: bytes) -> LogFile:
    """A file as the log; raises DomainError naming the first place that cannot be taken."""
    try:
        return LogFile.model_validate_json(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(x) for x in first["loc"]) or "the file"
        words = (
            "The file is not valid JSON."
            if first["type"] == "json_invalid"
            else words_of(dict(first), first.get("input"))
        )
        more = f" And {error.error_count() - 1} more." if error.error_count() > 1 else ""
        raise DomainError("file", f"{where}: {words}{more}") from None


@transaction.atomic
def take_log(log: LogFile, *, store: bool) -> LogImportOut:
    """Add what is not there yet; all or nothing. An event is known by its key, one of version 1 by pack, time
    and source.

    Raises
    ------
    DomainError
        For a pack that is not in the box, or readings of another number of cells.
    """
    owned, now = {p.tag: p for p in OwnedPack.live.all()}, timezone.now()
    rows = []
    for p in log.packs:
        pack = owned.get(p.tag)
        if pack is None:
            words = f"There is no pack {p.tag} in the box. Add it first, or import the gear."
            raise DomainError("file", words)
        for told in _told(p):
            _check(pack, told)
            rows.append(Event(pack_id=pack.pk, said=min(told["at"], now), **told))
    with transaction.atomic():
        new, same = say_all(rows)
        if not store:
            transaction.set_rollback(True)
    return LogImportOut(events=new, same=same, stored=store)


def _told(p: PackFile) -> list[dict[str, Any]]:
    old = events_of(
        p.tag,
        [x.model_dump() for x in p.records],
        [x.model_dump() for x in p.runs],
        [x.model_dump() for x in p.notes],
    )
    return [*(x.model_dump() for x in p.events), *old]


def _check(pack: OwnedPack, told: dict[str, Any]) -> None:
    where = f"Pack {pack.tag}, {told['at']:%Y-%m-%d}"
    for name in ("cell_v", "end_cell_v", "cell_mohm"):
        cells = told.get(name)
        if cells is not None and len(cells) != pack.series:
            raise DomainError(
                "file", f"{where}: {len(cells)} cells were read, but the pack has {pack.series}."
            )
    most_v = pack.series * highest_possible_v(pack.chemistry)
    if (whole := told.get("pack_v")) is not None and whole > most_v:
        raise DomainError("file", f"{where}: its {pack.series} cells do not read {whole:g} V together.")
    if told["kind"] == "charging":
        raise DomainError("file", f"{where}: only a charger says that a charge runs.")
    for name, known in (("signs", SIGNS), ("steps", RETIRE_STEPS)):
        for word in told.get(name) or ():
            if word not in known:
                raise DomainError("file", f"{where}: “{word}” is none of {', '.join(known)}.")


def batched(lines: Iterable[str], size: int) -> Iterator[list[str]]:
    """So many at a time."""
    whole = iter(lines)
    while part := list(islice(whole, size)):
        yield part


def _cell(value: Any) -> Any:
    if isinstance(value, list):
        return " ".join(f"{v:g}" if isinstance(v, float) else str(v) for v in value)
    return value
