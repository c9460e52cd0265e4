"""What would be set, and what would follow: orders, curves, ways to storage, as the API says them."""

from __future__ import annotations

import numpy as np

from coldstack.core.charging.amps import Feed, pack_limit
from coldstack.core.charging.charger import USUAL_BALANCE_A
from coldstack.core.charging.programs import run_down, storage_program
from coldstack.core.charging.unequal_cells import CellCurves, Mode, UnequalCells, cell_curves
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import charge_fit
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.units import minutes_words
from coldstack.server.api.values import figures
from coldstack.server.bench import replies as r
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import OnBench, on_bench
from coldstack.server.bench.orders import Ordered, ordered
from coldstack.server.gear.models import RcModel
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

MOST_POINTS = 240
"""Points of a curve that are sent: more than a screen can show apart are thinned out."""


def order_out(data: s.StartIn) -> r.OrderOut:
    """What to set and do."""
    o = ordered(on_bench(data.bench), data.packs, data.charger, port=data.port, current_a=data.current_a)
    found = o.settings
    return r.OrderOut(
        chemistry=found.chemistry,
        program=found.program,
        cells=found.series,
        current_a=found.current_a,
        end_v=found.end_v,
        timer_min=found.timer_min,
        cutoff_mah=found.cutoff_mah,
        minutes=found.minutes,
        binding=found.binding,
        steps=list(o.steps),
        unplug=list(o.unplug),
    )


def curves_out(data: s.PackOnChargerIn) -> r.CurvesOut:
    """The same pack charged plainly and with balancing, cell by cell.

    Raises
    ------
    DomainError
        For a pack that was not read, or has one cell.
    """
    b = on_bench(data.bench)
    m = b.member(data.pack)
    if m.reading is None:
        raise DomainError("pack", "Read its cells first.")
    if m.reading.whole:
        raise DomainError("pack", "Its cells were not read one by one.")
    if m.pack.series < 2:
        raise DomainError("pack", "One cell has nothing to be balanced with.")
    full_v = for_chemistry(b.rules, m.pack.chemistry).full_v
    current_a, balance_a = _amps_for(b, data, m.pack)
    cells = UnequalCells(
        m.pack.chemistry,
        np.full(m.pack.series, m.pack.held_ah),
        np.full(m.pack.series, m.cell_mohm),
        np.array(m.reading.socs),
    )
    made = {
        mode: cell_curves(cells, current_a=current_a, full_cell_v=full_v, mode=mode, balance_a=balance_a)
        for mode in _MODES
    }
    return r.CurvesOut(
        full_v=full_v,
        current_a=current_a,
        plain=_curve("plain", made["plain"], full_v),
        balance=_curve("balance", made["balance"], full_v),
    )


def storages_out(data: s.PackOnChargerIn) -> r.StoragesOut:
    """To storage on every charger that takes the pack, and by running it."""
    b = on_bench(data.bench)
    m = b.member(data.pack)
    if m.reading is None:
        raise DomainError("pack", "Read its cells first.")
    if bars := b.standings[data.pack].now.bars:
        raise DomainError("pack", bars)
    return ways_to_storage(b, m.pack, m.reading, data.model)


def ways_to_storage(b: OnBench, pack: Pack, reading: PackReading, model_slug: str | None) -> r.StoragesOut:
    """A pack that reads so: on every charger here, and by running it in a model."""
    ways, target = [], None
    for fed in sorted((*b.feds, *b.unused), key=lambda f: f.charger.name):
        fit = charge_fit(pack, fed.charger, rules=b.rules, feed=Feed(fed.source, fed.supply), bench=b.bench)
        if any(x.id in ("chemistry", "cells", "plugs", "unfit") for x in fit.refusals):
            continue
        p = storage_program(pack, fed.charger, reading, rules=b.rules, feed=fit.feed, path=fit.path)
        ways.append(
            r.StorageOut(
                charger=fed.charger.id,
                charger_name=fed.charger.name,
                **figures(p, without=("target_soc", "target_cell_v", "binding")),
                time_words=minutes_words(60 * p.hours) if p.hours else "",
            )
        )
        target = p.target_cell_v
    run = ""
    model = RcModel.live.filter(slug=model_slug).first() if model_slug else None
    if model is not None:
        duty = job_of(JobIn(**model.job)).duty
        found = run_down(
            pack, reading, average_w=duty.average_current_a * duty.reference_voltage_v, model=model.name
        )
        run = found.sentence if found else ""
    return r.StoragesOut(target_cell_v=target, ways=ways, run_down=run)


_MODES: tuple[Mode, ...] = ("plain", "balance")


def _amps_for(b: OnBench, data: s.PackOnChargerIn, pack: Pack) -> tuple[float, float]:
    """Amps and balance amps of the charger asked for, where it can charge the pack; else what the pack takes
    and a usual balancer."""
    if data.charger is not None:
        o: Ordered = ordered(b, [data.pack], data.charger)
        return o.settings.current_a, max(o.fit.charger.balance_a, 0.1)
    return pack_limit(pack, b.rules).current_a, USUAL_BALANCE_A


def _curve(mode: str, c: CellCurves, full_v: float) -> r.CurveOut:
    keep = thinned(len(c.time_s))
    minutes = c.time_s[-1] / 60
    if c.over_full:
        which = ", ".join(str(k + 1) for k in c.over_full)
        words = (
            f"Plain: cell{'s' * (len(c.over_full) > 1)} {which} pass{'es' * (len(c.over_full) == 1)} "
            f"{full_v:.2f} V and reach{'es' * (len(c.over_full) == 1)} {c.highest_v:.2f} V. This is "
            "how fires start."
        )
    else:
        words = (
            f"{'Balanced' if mode == 'balance' else 'Plain'}: no cell passes {full_v:.2f} V; full "
            f"after {minutes:.0f} min."
        )
    return r.CurveOut(
        mode=mode,
        minutes=(c.time_s[keep] / 60).round(2).tolist(),
        cell_v=c.cell_v[keep].T.round(4).tolist(),
        current_a=c.current_a[keep].round(3).tolist(),
        highest_v=c.highest_v,
        over_full=list(c.over_full),
        sentence=words,
    )


def thinned(count: int) -> list[int]:
    """Positions of so many points that are sent, MOST_POINTS at most, evenly spread."""
    if count <= MOST_POINTS:
        return list(range(count))
    return sorted({round(i * (count - 1) / (MOST_POINTS - 1)) for i in range(MOST_POINTS)})
