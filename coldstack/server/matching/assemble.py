"""Between the API's shapes, the stored gear and the core's values of matching."""

from __future__ import annotations

import math
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.balance import balance_pins, balance_plug_name
from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench, ChargeFit, best_feed, charge_fit, readings_of
from coldstack.core.matching.charge_chain import charge_joints
from coldstack.core.matching.charger_settings import (
    ChargerSettings,
    PortRow,
    charger_settings,
    halves,
    port_rows,
    settings_cautions,
)
from coldstack.core.matching.considered import considered_pack
from coldstack.core.matching.drive import DriveFit, drive_fit
from coldstack.core.matching.grid import GridCell, charge_cells, drive_column
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, typed_reading
from coldstack.core.rules.house_rules import HouseRules, house_rules
from coldstack.core.sizing.front import best_row
from coldstack.core.sizing.pairs import pairs
from coldstack.core.sizing.plan import pick
from coldstack.core.trial.balance import pack_position_mm
from coldstack.core.trial.candidates import Candidates, job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import Job
from coldstack.core.trial.now import NOW_ID
from coldstack.server.api.values import figures
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.packs import owned_packs, pack_by_id, stock
from coldstack.server.matching import replies as r
from coldstack.server.matching import schemas as s
from coldstack.server.rules.assemble import all_rules
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn


@dataclass(frozen=True, slots=True)
class Chosen:
    """What was chosen: as a candidate for the model, and as the pack that goes on a charger."""

    candidate: Candidates
    pack: Pack
    subject: str


@dataclass(frozen=True, slots=True)
class Matched:
    """A pack between its model and a charger, of those there are; ``charge`` is None without a charger, what
    to set without a possible fit."""

    job: Job
    chosen: Chosen
    drive: DriveFit
    chargers: list[Charger]
    cells: list[GridCell]
    bench: Bench
    supplies: list[Supply]
    charge: ChargeFit | None
    to_set: ChargerSettings | None


def matched(data: s.MatchIn) -> Matched:
    """One pack between its model and a charger.

    Raises
    ------
    DomainError
        For a pack, charger or supply that is not there, or figures that cannot be.
    """
    job, bench, supplies = job_of(data.job), gear.bench(), gear.supplies()
    chosen = chosen_in(job, data.pack or _best_at_hand(job, bench), bench.pieces)
    drive = drive_fit(job, chosen.candidate, pack=chosen.pack, pieces=bench.pieces)
    chargers, pack = gear.chargers(), chosen.pack
    cells = charge_cells(
        [pack], chargers, rules=job.rules, trust=job.label_trust, bench=bench, supplies=supplies
    )[0]
    fit = to_set = None
    if (charger := _charger(chargers, cells, data.charge.charger)) is not None:
        feed = _feed(charger, data.charge, supplies)
        rest_cell_v, imbalance_ah = readings_of(pack, _read(pack, data.charge.cells, job.rules))
        fit = charge_fit(pack, charger, rules=job.rules, feed=feed, bench=bench)
        to_set = charger_settings(
            fit, rules=job.rules, trust=job.label_trust, rest_cell_v=rest_cell_v, imbalance_ah=imbalance_ah
        )
    return Matched(job, chosen, drive, chargers, cells, bench, supplies, fit, to_set)


def match_out(data: s.MatchIn) -> r.MatchOut:
    """The same as the API says it."""
    m = matched(data)
    return r.MatchOut(
        pack=_pack_out(m.chosen),
        drive=_drive_out(m.job, m.drive),
        charge=None if m.charge is None else _charge_out(m, m.charge),
        chargers=[
            r.ChargerChoice(
                id=c.id, name=c.name, possible=cell.verdict == "does", short=cell.short, minutes=cell.minutes
            )
            for c, cell in zip(m.chargers, m.cells, strict=True)
        ],
        supplies=[r.SupplyChoice(id=x.id, name=x.name) for x in m.supplies],
    )


def grid_out(data: s.GridIn) -> r.GridOut:
    """Every owned pack in every model and on every charger; seven queries however many there are."""
    packs, bench, chargers = tuple(owned_packs()), gear.bench(), gear.chargers()
    models = list(RcModel.live.values("slug", "name", "job"))
    sets = all_rules()
    rules = sets.get(data.house_rules) or house_rules(data.house_rules)
    by_model = [drive_column(job_of(JobIn(**m["job"]), sets), packs, bench.pieces) for m in models]
    by_charger = charge_cells(
        packs, chargers, rules=rules, trust=data.label_trust, bench=bench, supplies=gear.supplies()
    )
    return r.GridOut(
        models=[r.GridHead(id=m["slug"], name=m["name"]) for m in models],
        chargers=[r.GridHead(id=c.id, name=c.name) for c in chargers],
        packs=[
            r.GridPack(
                id=pack.id,
                tag=pack.called,
                name=pack.name,
                note=pack.note,
                fit=pack.fit,
                models=[column[k] for column in by_model],
                chargers=list(by_charger[k]),
            )
            for k, pack in enumerate(packs)
        ],
    )


def best_owned(job: Job, bench: Bench) -> str:
    """The owned pack that does the job best, in Size's order; of those that do it with care or not, the
    same.

    Raises
    ------
    DomainError
        If nothing is owned.
    """
    packs = tuple(owned_packs())
    if not packs:
        raise DomainError("pack", "There is no pack in the box yet. Add one, or pick one in Size.")
    return packs[best_row(evaluate(job, job_candidates(job, packs, bench.pieces)))].id


def _best_at_hand(job: Job, bench: Bench) -> str:
    """The best owned one; in an empty box what the model runs on now."""
    if job.now is not None and not owned_packs():
        return NOW_ID
    return best_owned(job, bench)


def chosen_in(job: Job, pack_id: str, pieces: tuple[Adapter, ...]) -> Chosen:
    """A pack of the box, two of one, or any candidate of sizing.

    Raises
    ------
    DomainError
        For one that is not there.
    """
    kind, _, rest = pack_id.partition(":")
    base = pack_by_id(rest if kind in ("series", "parallel") else pack_id)
    if base is not None:
        alone = job_candidates(job, [base], pieces)
        if kind in ("series", "parallel"):
            pair = pairs(alone).take([0 if kind == "series" else 1])
            return Chosen(
                pair, base, "Each pack of the pair charges on its own, read and balanced on its own."
            )
        return Chosen(alone, base, "")
    built = pick(job, stock(), [pack_id])
    if len(built) == 0:
        raise DomainError(
            "pack", "There is no such pack any more: it was deleted, or another job made it up."
        )
    what = "It is what it runs on now, and not in the box" if pack_id == NOW_ID else "It is not built yet"
    return Chosen(built, considered_pack(built), f"{what}: its plug and leads are assumed.")


def _charger(chargers: list[Charger], cells: list[GridCell], wanted: str | None) -> Charger | None:
    """The wanted one; else the quickest that can, else the first."""
    if wanted is not None:
        for charger in chargers:
            if charger.id == wanted:
                return charger
        raise DomainError("charge.charger", "There is no such charger any more.")
    quick = [(cell.minutes, i) for i, cell in enumerate(cells) if cell.minutes is not None]
    return chargers[min(quick)[1] if quick else 0] if chargers else None


def _feed(charger: Charger, data: s.ChargeIn, supplies: list[Supply]) -> Feed:
    ports = min(data.ports_in_use, charger.ports)
    if data.source is None or data.source not in charger.inputs:
        return best_feed(charger, supplies, ports_in_use=ports)
    if data.source == "mains" or data.supply is None:
        return Feed(data.source, None, ports)
    for supply in supplies:
        if supply.id == data.supply:
            return Feed("dc", supply, ports)
    raise DomainError("charge.supply", "There is no such supply any more.")


def _pack_out(chosen: Chosen) -> r.PackOut:
    c, pack = chosen.candidate, chosen.pack
    cell, family = chemistry(pack.chemistry), pack.balance_family
    pins = balance_pins(pack.series) if pack.balance_brought_out else None
    both: dict[str, float] = {"series": int(c.series[0]), "parallel": int(c.parallel[0])}
    both |= {"capacity_ah": float(c.capacity_ah[0]), "mass_g": float(c.mass_g[0])}
    its_own = {name: getattr(pack, name) for name in ("chemistry", *r.PLUG, *r.STATE)}
    return r.PackOut(
        **{**its_own, "id": c.ids[0], "name": c.names[0], **both},
        kind=c.kind(0).id,
        chemistry_name=cell.name,
        full_v=cell.full_v * float(c.series[0]),
        nominal_v=cell.nominal_v * float(c.series[0]),
        plug_name=plug_family(pack.plug).name,
        plug_assumed="plug" in pack.assumed,
        balance_name=balance_plug_name(family),
        balance_pins=pins,
    )


def _drive_out(job: Job, d: DriveFit) -> r.DriveOut:
    position = float(pack_position_mm(job, d.evaluation.candidates.mass_g)[0])
    return r.DriveOut(
        **figures(d, without=("path", "shown", "evaluation")),
        adapters=[p.name for p in d.path.pieces] if d.path else [],
        position_mm=None if math.isnan(position) else position,
        model_plug=plug_family(job.electronics.plug).name,
        model_plug_assumed=job.is_assumed("electronics.plug"),
    )


def _charge_out(m: Matched, fit: ChargeFit) -> r.ChargeOut:
    job, charger, feed = m.job, fit.charger, fit.feed
    half = halves(fit, rules=job.rules, trust=job.label_trust, bench=m.bench)
    return r.ChargeOut(
        charger=charger.id,
        charger_name=charger.name,
        source=feed.source,
        supply=feed.supply.id if feed.supply else None,
        ports=charger.ports,
        ports_in_use=feed.ports_in_use,
        inputs=list(charger.inputs),
        possible=fit.possible,
        subject=m.chosen.subject,
        refusals=list(fit.refusals),
        halves=half.sentence if half else "",
        halves_possible=half.possible if half else False,
        joints=charge_joints(fit) if fit.path and fit.path.pairs else [],
        way=[p.name for p in fit.path.pieces] if fit.path else [],
        balance=fit.balance.sentence if fit.balance else "Nothing to balance." if fit.amps else "",
        limits=[
            r.LimitOut(id=x.id, name=x.name, current_a=x.current_a, numbers=x.numbers)
            for x in (fit.amps.limits if fit.amps else ())
        ],
        settings=m.to_set,
        ports_table=_ports_table(fit, job, m.supplies),
        cautions=list(settings_cautions(fit)) if fit.possible else [],
        questions=fit.questions if fit.amps else [],
    )


def _read(pack: Pack, cells: str, rules: HouseRules) -> PackReading | None:
    if not cells.strip():
        return None
    try:
        return typed_reading(pack.chemistry, pack.series, cells, rules)
    except DomainError as error:
        raise DomainError("charge.cells", error.sentence) from None


def _ports_table(fit: ChargeFit, job: Job, supplies: list[Supply]) -> list[PortRow]:
    if {x.id for x in fit.refusals} & {"chemistry", "cells", "unfit"}:
        return []
    return list(port_rows(fit.pack, fit.charger, rules=job.rules, supplies=supplies, fit=fit))
