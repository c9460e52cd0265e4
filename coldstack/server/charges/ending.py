"""How a charge ends, once, whoever ends it; and what of it goes into the life of each of its packs."""

from __future__ import annotations

from statistics import fmean
from typing import Any

from django.db import transaction
from django.utils import timezone

from coldstack.core.cells.open_circuit import soc_at_rest, soc_when_charged
from coldstack.core.keeping.records import capacity_by_charge
from coldstack.core.watching.alarm import DANGERS
from coldstack.server.charges.models import ACTIVE, Charge, OnCharger
from coldstack.server.charges.seen import Observation, expected_of
from coldstack.server.gear.changes import stamp
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.log import say
from coldstack.server.life.models import Event

FULL_NEAR_V = 0.05


def as_it_ended(charge: Charge, seen: Observation, state: str) -> str:
    """Full only where the cells say so too: a charger that calls a pack full at 3.9 V a cell has stopped."""
    e = expected_of(charge)
    read = seen.last.cell_v if seen.last else ()
    by_volts = not e.unread and e.full_cell_v > 0 and charge.expected.get("by_volts", True)
    if state == "done" and by_volts and read and max(read) < e.full_cell_v - FULL_NEAR_V:
        return "stopped"
    return state


@transaction.atomic
def never_began(charge: Charge, why: str) -> None:
    """The charger was not told, or would not: its packs are free, and were not charging."""
    if not Charge.objects.filter(pk=charge.pk, state="starting").update(
        state="refused", ended=timezone.now(), ended_why=why[:300]
    ):
        return
    OnCharger.objects.filter(charge_id=charge.pk).delete()
    for event in Event.standing.filter(charge=charge.pk, kind="charging"):
        event.withdrawn = stamp()
        event.save(update_fields=["withdrawn", "changed"])


@transaction.atomic
def end(charge: Charge, state: str, why: str) -> None:
    """Close a charge, with what goes into the log; once, whoever else closes it: a hand, the watch,
    another tab."""
    running = Charge.objects.filter(pk=charge.pk, state__in=ACTIVE)
    if not running.update(state=state, ended=timezone.now(), ended_why=why[:300]):
        charge.refresh_from_db()
        return
    charge.refresh_from_db()
    charge.summary = summary_of(charge)
    charge.alarms.filter(over=False).update(over=True, done=DONE[state])
    charge.save(update_fields=["summary"])
    OnCharger.objects.filter(charge_id=charge.pk).delete()
    _say_ended(charge)


DONE = {
    "done": "The charge went on to its end.",
    "stopped": "The charge was stopped.",
    "failed": "Nobody stopped it from here.",
}


def _say_ended(charge: Charge) -> None:
    """A finished charge in the life of each of its packs, told once by its key.

    One pack alone: resistances a minute in, capacity where it began low enough, start volts. Of packs that
    shared a board each has its share of what went in, by how empty it was; what each of them holds nobody
    measured.
    """
    members, summary = list(charge.members.all()), charge.summary
    told: dict[str, Any] = {"by": "charger", "charge": charge.pk, "ended": _how_ended(charge)}
    told["text"] = "" if charge.state == "done" else charge.ended_why
    shares = _shares(charge, members)
    for pack, share in zip(members, shares, strict=True):
        more = {"mah": round(share * summary.get("mah", 0.0), 1)}
        if charge.state == "done":
            more["end_cell_v"] = summary.get("end_cell_v")
        if len(members) == 1 and summary:
            more |= _measured(charge)
        say(pack.pk, "charge", key=f"charge-{charge.pk}-{pack.pk}-{charge.run}"[:80], **told, **more)


def _how_ended(charge: Charge) -> str:
    if charge.state == "done":
        return "done"
    danger = charge.alarms.filter(level="stop", kind__in=DANGERS).exists()
    return "danger" if danger else "stopped"


def _shares(charge: Charge, members: list[OwnedPack]) -> list[float]:
    """What part of the charge went into each, by what it lacked at first of what all came to. [0 to 1]"""
    begun = dict(Event.objects.filter(charge=charge.pk, kind="charging").values_list("pack_id", "cell_v"))
    e = expected_of(charge)
    full = soc_when_charged(e.chemistry, e.full_cell_v) if not e.unread else 1.0
    lacks = [
        p.capacity_ah * max(full - fmean(soc_at_rest(p.chemistry, v) for v in begun[p.pk] or ()), 0.0)
        if begun.get(p.pk)
        else p.capacity_ah
        for p in members
    ]
    return [x / sum(lacks) for x in lacks] if sum(lacks) > 0 else [1 / len(lacks)] * len(lacks)


def _measured(charge: Charge) -> dict[str, Any]:
    """What is known of a pack that was charged alone."""
    s, e = charge.summary, expected_of(charge)
    began = min((c["soc"] for c in charge.expected.get("cells", [])), default=None)
    # a charge whose settings cannot be read tells nothing of what the pack holds
    told = began if charge.state == "done" and not e.unread and s["mah"] >= 1 else None
    read = charge.samples.filter(cell_mohm__isnull=False).first()
    return {
        "temperature_c": read.temperature_c if read else None,
        "soc": began,
        "cell_mohm": s.get("cell_mohm"),
        "cell_v": s.get("start_cell_v") if charge.time_s > 0 else None,
        "capacity_ah": None
        if told is None
        else capacity_by_charge(s["mah"], told, soc_when_charged(e.chemistry, e.full_cell_v)),
    }


def summary_of(charge: Charge) -> dict[str, Any]:
    """mAh, minutes, start and end volts, resistances after a minute, highest temperature."""
    first, last = charge.samples.first(), charge.samples.last()
    if first is None or last is None:
        return {}
    measured = charge.samples.filter(cell_mohm__isnull=False).first()
    warmest = charge.samples.filter(temperature_c__isnull=False).order_by("-temperature_c").first()
    return {
        "mah": round(last.mah),
        "minutes": round(last.time_s / 60, 1),
        "start_cell_v": first.cell_v,
        "end_cell_v": last.cell_v,
        "cell_mohm": measured.cell_mohm if measured else None,
        "highest_c": warmest.temperature_c if warmest else None,
    }
