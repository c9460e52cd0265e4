"""What one does with the log: note a state, take it back, keep a finished charge."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict

from django.db import transaction
from django.db.models import OuterRef, Subquery
from django.utils import timezone

from coldstack.core.cells.open_circuit import soc_when_charged
from coldstack.core.charging.cell_readings import check_reading, pack_reading, state_after_run, typed_cells
from coldstack.core.errors import DomainError
from coldstack.core.keeping.records import capacity_by_charge, typed_resistances
from coldstack.core.keeping.retire import is_retired
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.server.bench.models import Charge, Reading
from coldstack.server.bench.watcher import expected_of
from coldstack.server.gear.actions import save_job
from coldstack.server.gear.assemble import PACK_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.logbook.assemble import packs_by_tag
from coldstack.server.logbook.models import PackNote, PackRecord, Retirement, RunLog
from coldstack.server.logbook.replies import CheckIn, LearnedOut, RunIn
from coldstack.server.logbook.running import learned_of
from coldstack.server.rules.assemble import rules_or_house
from coldstack.server.sizing.schemas import JobIn

WORDS = {"stored": "brought to storage", "full": "full", "spent": "spent", "part": "part full", "too_low": "too low"}  # fmt: skip


@transaction.atomic
def leave(tags: list[str], state: str) -> tuple[list[int], str]:
    """Note that these packs were left in a state now; the records' ids and what was done, in words.

    Raises
    ------
    DomainError
        For a pack that is not there; nothing is noted then.
    """
    found = packs_by_tag(tags)
    now, cycles = timezone.now(), _cycles_of(found.values())
    made = PackRecord.objects.bulk_create([PackRecord(pack_id=found[t], at=now, state=state, source="by hand", cycle=cycles[found[t]]) for t in tags])  # fmt: skip
    return [x.pk for x in made], f"{', '.join(tags)}: {WORDS[state]}"


@transaction.atomic
def unleave(records: list[int]) -> int:
    """Take back what was noted by hand; how many."""
    return PackRecord.objects.filter(pk__in=records, source="by hand").delete()[0]


@transaction.atomic
def log_run(data: RunIn) -> RunLog:
    """Keep a run once, and what it left its pack in.

    Raises
    ------
    DomainError
        For a pack or a model that is not there.
    """
    known = RunLog.objects.filter(key=data.key).select_related("pack").first()
    if known is not None:
        return known
    pack_pk = packs_by_tag([data.pack])[data.pack]
    if not RcModel.live.filter(slug=data.model).exists():
        raise DomainError("model", "There is no such model any more.")
    run = RunLog.objects.create(
        key=data.key, pack_id=pack_pk, model_slug=data.model, at=data.at, minutes=data.minutes, put_back_mah=data.put_back_mah,
        landing_cell_v=data.landing_cell_v, note=data.note,
    )  # fmt: skip
    _left_by(run)
    return run


@transaction.atomic
def set_run_removed(key: str, *, removed: bool) -> RunLog:
    """Take a run away with what it said of its pack, or bring both back; raises RunLog.DoesNotExist for an unknown key."""
    run = RunLog.objects.select_related("pack").get(key=key)
    if removed == (run.removed is not None):
        return run
    run.removed = timezone.now() if removed else None
    run.save(update_fields=["removed"])
    if removed:
        PackRecord.objects.filter(pack_id=run.pack_id, at=run.at, source="run").delete()
    else:
        _left_by(run)
    return run


@transaction.atomic
def put_back(run_id: int, mah: float) -> RunLog:
    """What a charge put back after a run."""
    run = RunLog.objects.select_related("pack").get(pk=run_id)
    run.put_back_mah = mah
    run.save(update_fields=["put_back_mah"])
    return run


@transaction.atomic
def learn(slug: str) -> LearnedOut:
    """Put what the runs teach into the model's job; its peak stays, and is never below the average.

    Raises
    ------
    DomainError
        While it is too early.
    """
    model = RcModel.live.select_for_update().get(slug=slug)
    found = learned_of(model)
    if found is None:
        raise DomainError(
            "model", "Too early: three runs with what was put back, or their landing volts, are needed."
        )
    draw = {**model.job["draw"], "phases": None, "source": "log", "source_note": f"{found.count} runs logged", "spread": round(min(found.spread, 0.5), 3)}  # fmt: skip
    draw["average_a"] = float(f"{found.average_a:.3g}")
    draw["peak_a"] = max(draw["peak_a"], draw["average_a"])
    save_job(slug, JobIn(**{**model.job, "draw": draw}))
    return LearnedOut(**asdict(found))


@transaction.atomic
def add_note(tag: str, text: str) -> PackNote:
    """Note a sentence about a pack; raises DomainError for an empty one, OwnedPack.DoesNotExist for an unknown pack."""
    clean = " ".join(text.split())
    if not clean:
        raise DomainError("text", "Write a word or two.")
    return PackNote.objects.create(pack=OwnedPack.live.get(tag=tag), at=timezone.now(), text=clean)


@transaction.atomic
def set_note_removed(note_id: int, *, removed: bool) -> PackNote:
    """Take a note away, or bring it back; raises PackNote.DoesNotExist for an unknown one."""
    note = PackNote.objects.get(pk=note_id)
    note.removed = timezone.now() if removed else None
    note.save(update_fields=["removed"])
    return note


@transaction.atomic
def check_pack(tag: str, data: CheckIn) -> tuple[int, str]:
    """Keep a check by hand; the record's id, and what was kept in words.

    Raises
    ------
    DomainError
        For cells or resistances that cannot be understood, or nothing at all.
    OwnedPack.DoesNotExist
        For an unknown pack.
    """
    row = OwnedPack.live.get(tag=tag)
    if not data.cells.strip() and not data.mohm.strip():
        raise DomainError("cells", "Type the cells’ volts, their resistances, or both.")
    if data.put_in_mah is not None and not data.cells.strip():
        raise DomainError("cells", "Type the cells’ volts before the charge: what it put in says nothing without them.")  # fmt: skip
    reading = (
        check_reading(row.chemistry, row.series, typed_cells(data.cells)) if data.cells.strip() else None
    )
    mohm = typed_resistances(data.mohm, row.series) if data.mohm.strip() else None
    soc = sum(reading.socs) / len(reading.socs) if reading else None
    charged = data.put_in_mah is not None
    full = for_chemistry(rules_or_house(None), row.chemistry).start_soc
    made = PackRecord.objects.create(
        pack=row, at=timezone.now(), cycle=_cycles(row.pk) + charged, temperature_c=data.temperature_c, soc=soc, cell_mohm=mohm, rest_cell_v=reading.cell_v if reading else None,
        capacity_ah=capacity_by_charge(data.put_in_mah, soc, full) if data.put_in_mah is not None and soc is not None else None, balance_min=data.balance_min,
        state="full" if charged else reading.state if reading else "", source="by hand",
    )  # fmt: skip
    return made.pk, f"Kept for {tag}: " + ", ".join(
        w for w, there in (("cells", reading), ("resistances", mohm), ("a charge", charged)) if there
    )


@transaction.atomic
def tick_retirement(tag: str, ticked: list[str]) -> Retirement:
    """Keep which steps of retiring were done; with the last one the pack is retired, and taken back it is not.

    Raises
    ------
    DomainError
        For a step that is not one, or the last one while the pack is in use.
    OwnedPack.DoesNotExist
        For an unknown pack.
    """
    row = OwnedPack.live.values("id", "fit", "note", *PACK_FIGURES).get(tag=tag)
    done = is_retired(pack_of(row, f"owned:{tag}"), ticked)
    kept, _ = Retirement.objects.get_or_create(pack_id=row["id"])
    kept.ticked = list(dict.fromkeys(ticked))
    kept.done = (kept.done or timezone.now()) if done else None
    kept.save()
    return kept


def keep_charge(charge: Charge) -> None:
    """A finished charge as a record of each of its packs.

    One pack alone: resistances a minute in, capacity where it began low enough, start volts. Of packs that shared a board only the state is
    kept: nobody measured which of them took what.
    """
    s = charge.summary
    if not s:
        return
    state = "full" if charge.state == "done" else "part"
    tags = [x.removeprefix("owned:") for x in charge.packs]
    packs = list(OwnedPack.live.filter(tag__in=tags))
    if len(tags) > 1:
        cycles = _cycles_of(p.pk for p in packs)
        PackRecord.objects.bulk_create([PackRecord(pack=p, at=timezone.now(), cycle=cycles[p.pk] + 1, state=state) for p in packs])  # fmt: skip
    elif packs:
        _keep_alone(charge, packs[0], state)


def _keep_alone(charge: Charge, pack: OwnedPack, state: str) -> None:
    s = charge.summary
    began = min(c["soc"] for c in charge.expected["cells"])
    e = expected_of(charge)
    full = soc_when_charged(e.chemistry, e.full_cell_v)
    read = charge.samples.filter(cell_mohm__isnull=False).first()
    PackRecord.objects.create(
        pack=pack, at=timezone.now(), cycle=_cycles(pack.pk) + 1, temperature_c=read.temperature_c if read else None, soc=began,
        cell_mohm=s.get("cell_mohm"), rest_cell_v=s.get("start_cell_v") if charge.time_s > 0 else None,
        capacity_ah=capacity_by_charge(s["mah"], began, full) if charge.state == "done" and s["mah"] >= 1 else None, state=state,
    )  # fmt: skip


def keep_reading(reading: Reading) -> None:
    """Cells read at rest: their spread counts for the pack's health, and they say in which state it is."""
    found = pack_reading(reading.pack.chemistry, tuple(reading.cell_v))
    PackRecord.objects.create(
        pack=reading.pack, at=reading.at, cycle=_cycles(reading.pack.pk), temperature_c=reading.temperature_c, rest_cell_v=reading.cell_v, state=found.state,
        source="reading",
    )  # fmt: skip


def _left_by(run: RunLog) -> None:
    """What the run left its pack in."""
    state = state_after_run(run.pack.chemistry, run.landing_cell_v)
    PackRecord.objects.create(pack_id=run.pack_id, at=run.at, cycle=_cycles(run.pack_id), state=state, run_minutes=run.minutes, source="run")  # fmt: skip


def _cycles(pack_pk: int) -> int:
    return _cycles_of([pack_pk])[pack_pk]


def _cycles_of(pack_pks: Iterable[int]) -> dict[int, int]:
    """Charges of each pack up to its latest record; one query."""
    latest = PackRecord.objects.filter(pack_id=OuterRef("pk")).order_by("-at", "-id").values("cycle")[:1]
    rows = OwnedPack.objects.filter(pk__in=list(pack_pks)).annotate(cycles=Subquery(latest))
    return {pk: cycles or 0 for pk, cycles in rows.values_list("pk", "cycles")}
