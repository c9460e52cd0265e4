"""Between the API's shapes, the stored gear and what the core draws."""

from __future__ import annotations

from contextlib import suppress

from coldstack.core.chain.adapters import Path
from coldstack.core.drawings.bay import BayDrawing, bay_drawing
from coldstack.core.drawings.bay_words import bay_sentence
from coldstack.core.drawings.in_model import drive_wiring, solderings
from coldstack.core.drawings.on_charger import OnBoard, charge_wiring
from coldstack.core.drawings.wired import Wiring
from coldstack.core.errors import DomainError
from coldstack.core.matching.plugging import steps_in, steps_out
from coldstack.server.api.values import figures
from coldstack.server.bench.assemble import on_bench
from coldstack.server.bench.orders import Ordered, ordered
from coldstack.server.bench.schemas import StartIn
from coldstack.server.drawings import replies as r
from coldstack.server.drawings import schemas as s
from coldstack.server.gear import assemble as gear
from coldstack.server.matching.assemble import chosen_in, matched
from coldstack.server.matching.schemas import MatchIn
from coldstack.server.sizing.assemble import job_of


def bays_out(data: s.BaysIn) -> list[r.BayOut]:
    """Each candidate that is there, in the bay; unknown ids are left out."""
    job, pieces = job_of(data.job), gear.bench().pieces
    drawn: list[BayDrawing] = []
    for pack in data.packs:
        with suppress(DomainError):
            candidate = chosen_in(job, pack, pieces).candidate
            at_mm = None if drawn else data.at_mm
            drawn.append(bay_drawing(job, candidate, at_mm=at_mm, leads_ahead=data.leads_ahead))
    return [r.BayOut(**figures(d), sentence=bay_sentence(d)) for d in drawn]


def wirings_out(data: s.WiringIn) -> r.WiringsOut:
    """The pack that `/match` shows, into its model and on its charger."""
    m = matched(MatchIn(job=data.job, pack=data.pack, charge=data.charge))
    charge = None
    if m.charge is not None and m.charge.possible and m.to_set is not None:
        steps = steps_in(m.charge, m.to_set), steps_out(m.charge)
        charge = charge_wiring(m.charge, plug_in=steps[0], pull_out=steps[1])
    drive = drive_wiring(m.job, m.chosen.candidate, m.chosen.pack, m.drive)
    cures = solderings(m.job, m.chosen.candidate, m.chosen.pack, m.drive)
    pack = m.chosen.pack
    return r.WiringsOut(
        tag=pack.called if pack.owned else None,
        drive=_out(drive),
        soldering=[r.SolderingOut(**figures(x)) for x in cures],
        charge=None if charge is None else _out(charge),
    )


def bench_wiring_out(data: StartIn) -> r.WiringOut:
    """A batch on a charger's port, as the bench orders it."""
    o = ordered(on_bench(data.bench), data.packs, data.charger, port=data.port, current_a=data.current_a)
    return _out(_ordered_wiring(o))


def _ordered_wiring(o: Ordered) -> Wiring:
    members = o.batch.members
    board = o.board.piece if o.batch.on_board and o.board is not None else None
    on = None
    if board is not None:
        straight = Path((), ())
        on = OnBoard(board, tuple(m.pack for m in members), tuple(m.way or straight for m in members))
    return charge_wiring(o.fit, plug_in=o.steps, pull_out=o.unplug, on_board=on)


def _out(wiring: Wiring) -> r.WiringOut:
    return r.WiringOut(**figures(wiring))
