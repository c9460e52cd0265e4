"""What one does at the bench: keep the layout, read, start, look, stop, take out of use. Each writes in one transaction."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from django.db import IntegrityError, transaction

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging import watch
from coldstack.core.charging.amps import Feed, Limit, with_limit
from coldstack.core.charging.batches import Batch, batch_pack, socket_limit
from coldstack.core.charging.steps import BenchStep, charge_steps
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import ChargeFit, charge_fit
from coldstack.core.matching.slip import Slip, slip
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import OnBench, batch_on, on_bench, pack_tag
from coldstack.server.bench.devices import (
    DeviceRefusal,
    LineCharger,
    LinkLost,
    Message,
    Order,
    charger_device,
    checker_device,
)
from coldstack.server.bench.models import Charge, Layout, Reading
from coldstack.server.bench.signals import pack_read
from coldstack.server.bench.watcher import stop as stop_at_charger
from coldstack.server.gear.actions import record
from coldstack.server.gear.models import Change, OwnedPack


@dataclass(frozen=True, slots=True)
class Ordered:
    """A batch on a charger: the fit, what to set, the steps, and the cells as they are joined."""

    batch: Batch
    fit: ChargeFit
    slip: Slip
    steps: list[BenchStep]
    cells: list[dict[str, float]]


@transaction.atomic
def keep_layout(data: s.BenchIn) -> None:
    """Keep the bench as it is laid out.

    Raises
    ------
    DomainError
        For packs, signs, boards or rules that are not known. Readings that cannot be understood are kept as typed.
    """
    on_bench(data)
    Layout.objects.update_or_create(pk=1, defaults={"document": data.model_dump(mode="json")})


def kept_layout() -> s.BenchIn:
    """The bench as it was kept, without packs that have gone since."""
    row = Layout.objects.filter(pk=1).first()
    if row is None:
        return s.BenchIn()
    data = s.BenchIn(**row.document)
    there = {f"owned:{tag}" for tag in OwnedPack.live.values_list("tag", flat=True)}
    laid = [x for x in data.laid if x.pack in there]
    groups = [[x for x in g if x in there] for g in data.groups]
    return data.model_copy(update={"laid": laid, "groups": [g for g in groups if g], "at": None})


def read_by_checker(pack_id: str) -> tuple[list[float], float | None]:
    """Volts of each cell by the linked checker, kept as a reading.

    Raises
    ------
    DomainError
        Without a checker, or if it does not answer.
    """
    pack, checker = _owned(pack_id), checker_device()
    if checker is None:
        raise DomainError("pack", "No cell checker is linked. Type the cells, like 3.82 3.83 3.79.")
    latest = Charge.objects.filter(state="done", packs__icontains=f'"{pack_id}"').exists()
    try:
        volts, temperature = checker.read({
            "tag": pack.tag, "chemistry": pack.chemistry, "cells": pack.series, "lazy": "lazy" in pack.note, "soc": 0.99 if latest else None,
        })  # fmt: skip
    except LinkLost:
        raise DomainError("pack", "The cell checker does not answer. Type the cells, like 3.82 3.83 3.79.") from None  # fmt: skip
    except DeviceRefusal as refusal:
        raise DomainError("pack", str(refusal)) from None
    with transaction.atomic():
        reading = Reading.objects.create(pack=pack, cell_v=volts, temperature_c=temperature, source="checker")
        pack_read.send(sender=Reading, reading=reading)
    return volts, temperature


def ordered(b: OnBench, pack_ids: list[str], charger_id: str, *, ports_in_use: int = 1, port: int = 1, current_a: float | None = None) -> Ordered:  # fmt: skip
    """What to set and do for a batch on a charger.

    Raises
    ------
    DomainError
        For packs that may not be charged or joined, or a charger that cannot: its reason.
    """
    batch, fed = batch_on(b, pack_ids), b.fed(charger_id)
    pack = batch_pack(batch, b.board)
    feed = Feed(fed.source, fed.supply, min(ports_in_use, fed.charger.ports))
    fit = charge_fit(pack, fed.charger, rules=b.rules, feed=feed, bench=replace(b.bench, boards=()) if batch.on_board else b.bench)  # fmt: skip
    if fit.amps is not None and batch.on_board and b.board is not None:
        fit = replace(fit, amps=with_limit(fit.amps, socket_limit(batch, b.board), fed.charger.step_a))
    if not fit.possible:
        raise DomainError("charger", fit.refusals[0].sentence)
    if current_a is not None and fit.amps is not None and current_a < fit.amps.current_a:
        share = Limit("plan", "The plan’s share of the watts", current_a, "as planned")
        fit = replace(fit, amps=with_limit(fit.amps, share, fed.charger.step_a))
        if fit.amps is None or fit.amps.current_a <= 0:
            raise DomainError(
                "current_a",
                f"{fed.charger.name} sets steps of {fed.charger.step_a:g} A; {current_a:g} A is less.",
            )
    cells = _joined_cells(batch)
    socs = [c["soc"] for c in cells]
    found = slip(fit, rules=b.rules, trust=b.data.label_trust, rest_cell_v=resting_voltage(pack.chemistry, min(socs)), imbalance_ah=(max(socs) - min(socs)) * pack.capacity_ah)  # fmt: skip
    assert found is not None and fit.amps is not None
    lead = " and ".join(x.name for x in reversed(fit.path.pieces)) if fit.path and fit.path.pieces else ""
    steps = charge_steps(
        chemistry_id=pack.chemistry, series=pack.series, program=found.program, current_a=found.current_a, end_v=found.end_v,
        on_board=len(batch.members) if batch.on_board else 0, lead=f"the {lead}" if lead else "the board" if batch.on_board else "", port=port,
    )  # fmt: skip
    return Ordered(batch, fit, found, steps, cells)


def start(data: s.StartIn) -> Charge:
    """Start a batch on a port of a linked charger, and keep it; the charger is stopped again if it cannot be kept.

    Raises
    ------
    DomainError
        For anything that forbids it: inspection, house rules, the charger's own refusal, a wrong cell count, steps not ticked.
    """
    b = on_bench(data.bench)
    fed = b.fed(data.charger)
    device = charger_device(fed.charger.name)
    if device is None:
        raise DomainError("charger", f"{fed.charger.name} is not linked: set it by hand, and stay with it.")
    running = list(Charge.objects.filter(state="charging"))
    here = [c for c in running if c.charger_name == fed.charger.name]
    _require_free(data, fed.charger.ports, here, running)
    o = ordered(
        b, data.packs, data.charger, ports_in_use=len(here) + 1, port=data.port, current_a=data.current_a
    )
    missing = [x for x in o.steps if x.id not in data.steps]
    if missing:
        raise DomainError("steps", f"Tick every step first. Next: {missing[0].sentence}")
    try:
        return _started(data, b, o, device)
    except LinkLost:
        raise DomainError("charger", f"{fed.charger.name} does not answer. Nothing was started.") from None
    except DeviceRefusal as refusal:
        raise DomainError("charger", f"{fed.charger.name} refuses: {refusal}") from None


def look(charge_id: int) -> Charge:
    """Somebody looked: the pack is cool and flat."""
    charge = Charge.objects.get(pk=charge_id)
    Charge.objects.filter(pk=charge_id, state="charging").update(looked_s=charge.time_s)
    charge.alarms.filter(kind="look_due", over=False).update(over=True)
    return Charge.objects.get(pk=charge_id)


def stop(charge_id: int) -> Charge:
    """Stop a charge by hand.

    Raises
    ------
    DomainError
        If the charger cannot be reached: somebody must go to it.
    """
    charge = Charge.objects.get(pk=charge_id)
    if charge.state == "charging" and not stop_at_charger(charge, charger_device(charge.charger_name), "stopped by hand"):  # fmt: skip
        raise DomainError("charger", f"{charge.charger_name} does not answer. Go to it and stop it there.")
    return Charge.objects.get(pk=charge_id)


@transaction.atomic
def take_out_of_use(pack_id: str, why: str) -> Change:
    """Mark a pack as not to be charged or run again; it can be undone."""
    pack = _owned(pack_id)
    before = {"fit": pack.fit, "note": pack.note}
    pack.fit, pack.note = False, (f"{pack.note}; {why}" if pack.note and why not in pack.note else pack.note or why)[:200]  # fmt: skip
    pack.save()
    return record(f"Took pack {pack.tag} out of use", [{"kind": "packs", "id": pack.pk, "before": before}])


def _started(data: s.StartIn, b: OnBench, o: Ordered, device: LineCharger) -> Charge:
    pack, found = o.fit.pack, o.slip
    hello = device.hello()
    if hello.simulated:
        device.plug(data.port, _simulated(o, data.simulate))
    wrong = watch.wrong_count(pack.series, len(device.detect(data.port)))
    if wrong:
        raise DomainError("port", wrong)
    order = Order(pack.chemistry, "balance" if o.fit.balance else "plain", pack.series, found.current_a, found.end_cell_v or 0.0, 60.0 * found.timer_min, float(found.cutoff_mah))  # fmt: skip
    fed = b.fed(data.charger)
    expected = watch.check_expected(watch.Expected(
        pack.chemistry, pack.series, pack.capacity_ah, found.current_a, found.end_cell_v or chemistry(pack.chemistry).full_v, order.timer_s, order.cutoff_mah,
        60.0 * data.look_every_min, fed.charger.dc_min_v if fed.source == "dc" else None,
    ))  # fmt: skip
    run = ""
    try:
        with transaction.atomic():
            _keep_readings(b, o.batch)
            run = device.start(data.port, order)
            return Charge.objects.create(
                packs=data.packs, label=" + ".join(pack_tag(x) for x in data.packs), charger_name=fed.charger.name, port=data.port, run=run,
                settings={**{n: getattr(order, n) for n in Order.__slots__}, "minutes": found.minutes, "binding": found.binding, "charger": fed.charger.id},
                expected={**{n: getattr(expected, n) for n in watch.Expected.__slots__}, "cells": o.cells, "balance_a": o.fit.charger.balance_a},
            )  # fmt: skip
    except IntegrityError:
        device.stop(data.port, "not kept")
        raise DomainError("port", "Something charges on this port already.") from None


def _keep_readings(b: OnBench, batch: Batch) -> None:
    """What the packs of a batch read before it was charged, for their history."""
    lines = {x.pack: x for x in b.data.laid}
    rows = dict(OwnedPack.live.filter(tag__in=[pack_tag(m.pack.id) for m in batch.members]).values_list("tag", "pk"))  # fmt: skip
    Reading.objects.bulk_create(
        Reading(pack_id=rows[pack_tag(m.pack.id)], cell_v=list(m.reading.cell_v), temperature_c=lines[m.pack.id].temperature_c, source=lines[m.pack.id].source)
        for m in batch.members
        if m.reading is not None
    )  # fmt: skip


def _require_free(data: s.StartIn, ports: int, here: list[Charge], running: list[Charge]) -> None:
    if data.port > ports:
        raise DomainError("port", f"This charger has {ports} port{'s' * (ports > 1)}.")
    if any(c.port == data.port for c in here):
        raise DomainError("port", f"Port {data.port} is charging already.")
    busy = {x for c in running for x in c.packs}
    both = [pack_tag(x) for x in data.packs if x in busy]
    if both:
        raise DomainError("packs", f"{both[0]} is being charged already.")


def _joined_cells(batch: Batch) -> list[dict[str, float]]:
    """Each cell position of the batch: capacities add, resistances are in parallel, charges even out."""
    ah = np.array([m.pack.capacity_ah for m in batch.members])
    socs = np.array([m.reading.socs for m in batch.members if m.reading])
    mohm = float(1 / sum(1 / m.cell_mohm for m in batch.members))
    return [{"capacity_ah": float(ah.sum()), "resistance_mohm": mohm, "soc": float((socs[:, k] * ah).sum() / ah.sum())} for k in range(socs.shape[1])]  # fmt: skip


def _simulated(o: Ordered, simulate: str) -> Message:
    mass_g = sum(m.pack.mass_g for m in o.batch.members)
    return {"chemistry": o.fit.pack.chemistry, "cells": o.cells, "mass_g": mass_g, "faults": {simulate: 0} if simulate else {}}  # fmt: skip


def _owned(pack_id: str) -> OwnedPack:
    found = OwnedPack.live.filter(tag=pack_tag(pack_id)).first()
    if found is None:
        raise DomainError("pack", f"There is no pack {pack_tag(pack_id)} in the box.")
    return found
