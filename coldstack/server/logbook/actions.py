"""What one does with the log: note a state, take it back, keep a finished charge."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from coldstack.server.bench.models import Charge
from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.assemble import packs_by_tag
from coldstack.server.logbook.models import PackRecord

WORDS = {"stored": "brought to storage", "full": "full", "spent": "spent", "part": "part full", "too_low": "too low"}  # fmt: skip
LOWEST_SOC_FOR_CAPACITY = 0.5
"""A charge from above half says too little of the whole capacity."""


@transaction.atomic
def leave(tags: list[str], state: str) -> tuple[list[int], str]:
    """Note that these packs were left in a state now; the records' ids and what was done, in words.

    Raises
    ------
    DomainError
        For a pack that is not there; nothing is noted then.
    """
    found = packs_by_tag(tags)
    now = timezone.now()
    made = PackRecord.objects.bulk_create([PackRecord(pack_id=found[t], at=now, state=state, source="by hand", cycle=_cycles(found[t])) for t in tags])  # fmt: skip
    return [x.pk for x in made], f"{', '.join(tags)}: {WORDS[state]}"


@transaction.atomic
def unleave(records: list[int]) -> int:
    """Take back what was noted by hand; how many."""
    return PackRecord.objects.filter(pk__in=records, source="by hand").delete()[0]


def keep_charge(charge: Charge) -> None:
    """A finished charge of one pack as a record: resistances a minute in, capacity where it began low enough, end volts."""
    s = charge.summary
    pack = OwnedPack.objects.filter(tag=charge.packs[0].removeprefix("owned:"), removed=None).first() if len(charge.packs) == 1 else None  # fmt: skip
    if pack is None or not s:
        return
    began = min(c["soc"] for c in charge.expected["cells"])
    whole = charge.state == "done" and began <= LOWEST_SOC_FOR_CAPACITY
    read = charge.samples.filter(cell_mohm__isnull=False).first()
    PackRecord.objects.create(
        pack=pack, at=timezone.now(), cycle=_cycles(pack.pk) + 1, temperature_c=read.temperature_c if read else None, soc=began,
        cell_mohm=s.get("cell_mohm"), rest_cell_v=s.get("start_cell_v") if charge.time_s > 0 else None,
        capacity_ah=s["mah"] / 1000 / (1 - began) if whole else None, state="full" if charge.state == "done" else "part",
    )  # fmt: skip


def _cycles(pack_pk: int) -> int:
    last = PackRecord.objects.filter(pack_id=pack_pk).order_by("-at", "-id").values_list("cycle", flat=True).first()  # fmt: skip
    return last or 0
