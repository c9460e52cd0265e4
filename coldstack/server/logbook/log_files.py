"""The log as files: JSON of records, runs and notes out and in, CSV for spreadsheets."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from django.db import transaction
from pydantic import AwareDatetime, BaseModel, Field, ValidationError

from coldstack.core.charging.cell_readings import State
from coldstack.core.errors import DomainError
from coldstack.server.api.errors import words_of
from coldstack.server.gear.csv_cells import csv_out
from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.models import PackNote, PackRecord, RunLog
from coldstack.server.logbook.replies import RunFigures
from coldstack.server.sizing.schemas import In

LOG_FORMAT, LOG_VERSION = "cold-stack-log", 1
BATCH = 2000
Mohm = Annotated[float, Field(gt=0, le=10_000)]
CellV = Annotated[float, Field(ge=0, le=6)]


class RecordFile(In):
    """One charge, check or change of state; what was not measured is null or left out."""

    at: AwareDatetime
    cycle: Annotated[int, Field(ge=0, le=100_000)] = 0
    temperature_c: Annotated[float, Field(ge=-60, le=150)] | None = None
    soc: Annotated[float, Field(ge=0, le=1)] | None = None
    cell_mohm: Annotated[list[Mohm], Field(min_length=1, max_length=60)] | None = None
    rest_cell_v: Annotated[list[CellV], Field(min_length=1, max_length=60)] | None = None
    capacity_ah: Annotated[float, Field(gt=0, le=1000)] | None = None
    balance_min: Annotated[float, Field(ge=0, le=1440)] | None = None
    run_minutes: Annotated[float, Field(gt=0, le=1440)] | None = None
    state: State | Literal[""] = ""
    source: Literal["charge", "run", "by hand", "reading"] = "charge"


class NoteFile(In):
    """One note."""

    at: AwareDatetime
    text: Annotated[str, Field(min_length=1, max_length=300)]


class PackFile(In):
    """All of one pack, by its tag."""

    tag: Annotated[str, Field(min_length=1, max_length=12)]
    records: list[RecordFile] = []
    runs: list[RunFigures] = []
    notes: list[NoteFile] = []


class LogFile(In):
    """The whole log."""

    format: Literal["cold-stack-log"]
    version: Literal[1]
    exported: AwareDatetime | None = None
    packs: Annotated[list[PackFile], Field(max_length=2000)]


class LogImportOut(BaseModel):
    """What is new in a file and what was there already; ``stored`` is false for a preview."""

    records: int
    runs: int
    notes: int
    same: int
    stored: bool


def log_json(at: datetime) -> str:
    """The log of every pack; five queries."""
    packs = {p.pk: PackFile(tag=p.tag) for p in OwnedPack.live.all()}
    for rec in PackRecord.objects.filter(pack_id__in=packs).order_by("at", "id"):
        packs[rec.pack_id].records.append(RecordFile(**{n: getattr(rec, n) for n in RecordFile.model_fields}))
    for run in RunLog.standing.filter(pack_id__in=packs).order_by("at", "id"):
        packs[run.pack_id].runs.append(RunFigures(**{n: getattr(run, n) for n in RunFigures.model_fields if n != "model"}, model=run.model_slug))  # fmt: skip
    for note in PackNote.objects.filter(pack_id__in=packs, removed=None).order_by("at", "id"):
        packs[note.pack_id].notes.append(NoteFile(at=note.at, text=note.text))
    return LogFile(format=LOG_FORMAT, version=LOG_VERSION, exported=at, packs=list(packs.values())).model_dump_json(indent=1, exclude_defaults=True)  # fmt: skip


def runs_csv() -> str:
    """Every run, the newest first."""
    rows = RunLog.standing.select_related("pack").all()
    return csv_out(
        ("at", "model", "pack", "minutes", "put_back_mah", "landing_cell_v", "note"),
        ((x.at.isoformat(timespec="seconds"), x.model_slug, x.pack.tag, x.minutes, x.put_back_mah, x.landing_cell_v, x.note) for x in rows),
    )  # fmt: skip


def records_csv() -> str:
    """Every record, pack by pack; cells are separated by spaces."""
    rows = PackRecord.objects.select_related("pack").order_by("pack__tag", "at", "id")
    names = tuple(RecordFile.model_fields)
    return csv_out(("pack", *names), ((x.pack.tag, *(_cell(getattr(x, n)) for n in names)) for x in rows))


def read_log(data: bytes) -> LogFile:
    """A file as the log; raises DomainError naming the first place that cannot be taken."""
    try:
        return LogFile.model_validate_json(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(x) for x in first["loc"]) or "the file"
        words = "The file is not valid JSON." if first["type"] == "json_invalid" else words_of(dict(first), first.get("input"))  # fmt: skip
        more = f" And {error.error_count() - 1} more." if error.error_count() > 1 else ""
        raise DomainError("file", f"{where}: {words}{more}") from None


@transaction.atomic
def take_log(log: LogFile, *, store: bool) -> LogImportOut:
    """Add what is not there yet; all or nothing. Records are known by pack, time and source, runs by their key, notes by time and text.

    Raises
    ------
    DomainError
        For a pack that is not in the box, or readings of another number of cells.
    """
    owned = {p.tag: p for p in OwnedPack.live.all()}
    for p in log.packs:
        _check(p, owned)
    ids = [owned[p.tag].pk for p in log.packs]
    there = set(PackRecord.objects.filter(pack_id__in=ids).values_list("pack_id", "at", "source"))
    keys = set(RunLog.objects.values_list("key", flat=True))
    said = set(PackNote.objects.filter(pack_id__in=ids).values_list("pack_id", "at", "text"))
    records, runs, notes, same = [], [], [], 0
    for p in log.packs:
        pk = owned[p.tag].pk
        new = [x for x in p.records if (pk, x.at, x.source) not in there]
        fresh = [x for x in p.runs if x.key not in keys]
        noted = [x for x in p.notes if (pk, x.at, x.text) not in said]
        same += len(p.records) + len(p.runs) + len(p.notes) - len(new) - len(fresh) - len(noted)
        records += [PackRecord(pack_id=pk, **x.model_dump()) for x in new]
        runs += [RunLog(pack_id=pk, model_slug=x.model, **x.model_dump(exclude={"model"})) for x in fresh]
        notes += [PackNote(pack_id=pk, **x.model_dump()) for x in noted]
    if len({x.key for x in runs}) < len(runs):
        raise DomainError("file", "Two runs in the file have the same key.")
    if store:
        PackRecord.objects.bulk_create(records, batch_size=BATCH)
        RunLog.objects.bulk_create(runs, batch_size=BATCH)
        PackNote.objects.bulk_create(notes, batch_size=BATCH)
    return LogImportOut(records=len(records), runs=len(runs), notes=len(notes), same=same, stored=store)


def _check(p: PackFile, owned: dict[str, OwnedPack]) -> None:
    pack = owned.get(p.tag)
    if pack is None:
        raise DomainError("file", f"There is no pack {p.tag} in the box. Add it first, or import the gear.")
    for x in p.records:
        for cells in (x.cell_mohm, x.rest_cell_v):
            if cells is not None and len(cells) != pack.series:
                raise DomainError("file", f"Pack {p.tag}, {x.at:%Y-%m-%d}: {len(cells)} cells were read, but the pack has {pack.series}.")  # fmt: skip


def _cell(value: Any) -> Any:
    if isinstance(value, list):
        return " ".join(f"{v:g}" for v in value)
    return value.isoformat(timespec="seconds") if isinstance(value, datetime) else value
