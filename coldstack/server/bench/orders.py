"""What to set and do for a batch on a charger, asked of the core."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.boards.batches import Batch, batch_pack, shared_limit
from coldstack.core.boards.laid import Board
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.amps import AmpsLimit, Feed, with_limit
from coldstack.core.charging.charger import Charger
from coldstack.core.charging.steps import BenchStep
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import ChargeFit, charge_fit
from coldstack.core.matching.charger_settings import ChargerSettings, charger_settings
from coldstack.core.matching.plugging import steps_in, steps_out
from coldstack.server.bench.assemble import OnBench, batch_on


@dataclass(frozen=True, slots=True)
class Ordered:
    """A batch on a charger: the fit, what to set, the steps, and the cells as they are joined."""

    batch: Batch
    fit: ChargeFit
    settings: ChargerSettings
    steps: list[BenchStep]
    unplug: list[BenchStep]
    cells: list[dict[str, float]]
    board: Board | None


def ordered(
    b: OnBench,
    pack_ids: list[str],
    charger_id: str,
    *,
    ports_in_use: int = 1,
    port: int = 1,
    current_a: float | None = None,
) -> Ordered:
    """What to set and do for a batch on a charger.

    Raises
    ------
    DomainError
        For packs that may not be charged or joined, or a charger that cannot: its reason.
    """
    batch, fed = batch_on(b, pack_ids), b.fed(charger_id)
    fit = _fit_of(b, batch, Feed(fed.source, fed.supply, min(ports_in_use, fed.charger.ports)), fed.charger)
    if current_a is not None:
        fit = _at_most(fit, current_a)
    cells = _joined_cells(batch)
    socs = [c["soc"] for c in cells]
    found = charger_settings(
        fit,
        rules=b.rules,
        trust=b.data.label_trust,
        rest_cell_v=resting_voltage(fit.pack.chemistry, min(socs)),
        imbalance_ah=(max(socs) - min(socs)) * fit.pack.held_ah,
    )
    assert found is not None
    on_board = len(batch.members) if batch.on_board else 0
    steps = steps_in(fit, found, on_board=on_board, port=port)
    return Ordered(batch, fit, found, steps, steps_out(fit, on_board=on_board), cells, b.board)


def _fit_of(b: OnBench, batch: Batch, feed: Feed, charger: Charger) -> ChargeFit:
    """How the charger takes the batch, by the board's sockets too; refused with its reason."""
    pieces = replace(b.bench, boards=()) if batch.on_board else b.bench
    pack = batch_pack(batch, b.board)
    fit = charge_fit(pack, charger, rules=b.rules, feed=feed, bench=pieces)
    if fit.amps is not None and batch.on_board and b.board is not None:
        fit = replace(fit, amps=with_limit(fit.amps, shared_limit(batch, b.rules, b.board), charger.step_a))
    if not fit.possible:
        raise DomainError("charger", fit.refusals[0].sentence)
    return fit


def _at_most(fit: ChargeFit, current_a: float) -> ChargeFit:
    """The same by no more than so many amps, in the charger's steps."""
    charger = fit.charger
    if fit.amps is None or current_a >= fit.amps.current_a:
        return fit
    share = AmpsLimit("plan", "The plan’s share of the watts", current_a, "as planned")
    amps = with_limit(fit.amps, share, charger.step_a)
    if amps is None or amps.current_a <= 0:
        words = f"{charger.name} sets steps of {charger.step_a:g} A; {current_a:g} A is less."
        raise DomainError("current_a", words)
    return replace(fit, amps=amps)


def _joined_cells(batch: Batch) -> list[dict[str, float]]:
    """Each cell position of the batch: capacities add, resistances are in parallel, charges even out."""
    ah = np.array([m.pack.held_ah for m in batch.members])
    socs = np.array([m.reading.socs for m in batch.members if m.reading])
    mohm = float(1 / sum(1 / m.cell_mohm for m in batch.members))
    return [
        {
            "capacity_ah": float(ah.sum()),
            "resistance_mohm": mohm,
            "soc": float((socs[:, k] * ah).sum() / ah.sum()),
        }
        for k in range(socs.shape[1])
    ]
