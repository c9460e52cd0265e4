"""Between the API's shapes and the core's values."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.cells.resistance import TRUST_WORDS
from coldstack.core.chain.adapters import PIECE_KINDS
from coldstack.core.chain.balance import BALANCE_PLUGS
from coldstack.core.chain.plugs import CONTACT_SHAPES, PlugFamily, plug_families
from coldstack.core.charging.inspection import SIGNS
from coldstack.core.describing.narrowing import narrowing
from coldstack.core.discharge.batch import Ending
from coldstack.core.draw.duty import Duty, Phase, duty_from_figures, duty_from_phases, duty_working
from coldstack.core.draw.motion import MOTIONS, Motion, motion_of
from coldstack.core.equipment.equipment import DROPOUT_V, REGULATORS, Equipment, check_equipment
from coldstack.core.equipment.job import as_equipment, equipment_duty
from coldstack.core.errors import DomainError
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.keys import catalogue_row
from coldstack.core.packs.kinds import kind_ids
from coldstack.core.propulsion.told import Propulsion
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.safety.cautions import ADVICE
from coldstack.core.sizing.detail import Detail
from coldstack.core.sizing.front import AIMS
from coldstack.core.sizing.headline import able_count, field_turning_mass_g, headline, plan_working, subline
from coldstack.core.sizing.plan import Fineness, Plan, cell_chips
from coldstack.core.sizing.why_not import why_not
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.job import (
    AIRFLOW_W_PER_M2_K,
    Bay,
    Electronics,
    Job,
    RunsOn,
    Wants,
    check_job,
    rated_window,
)
from coldstack.core.trial.now import pointed_out, true_for
from coldstack.core.trial.spread import MinutesRange
from coldstack.core.trial.wording import NOTHING_RATED, hottest, lacks
from coldstack.core.units import clock, upper_first
from coldstack.core.wear.cost import RunningCost, cost_figures, running_cost
from coldstack.server.api.shapes import value_of
from coldstack.server.api.values import figures
from coldstack.server.rules.assemble import all_rules, rules_of
from coldstack.server.sizing import replies as r
from coldstack.server.sizing import schemas as s


def job_of(data: s.JobIn, sets: Mapping[str, HouseRules] | None = None) -> Job:
    """The core's job; ``sets`` are all house rules where many jobs are made, so that they are fetched once.

    Raises
    ------
    DomainError
        For figures that cannot be, naming the field.
    """
    motion = motion_of(data.motion)
    served = None if data.equipment is None else check_equipment(value_of(Equipment, data.equipment))
    return check_job(
        _served(
            served,
            Job(
                name=data.name,
                motion=motion,
                mass_g=data.mass_g,
                duty=duty_of(data.draw, motion) if served is None else equipment_duty(served),
                wants=value_of(Wants, data.wants),
                electronics=electronics_of(data.electronics),
                bay=value_of(Bay, data.bay),
                rules=(sets or {}).get(data.house_rules) or rules_of(data.house_rules),
                drive=data.drive,
                label_trust=data.label_trust,
                now=None if data.now is None else value_of(RunsOn, data.now),
                propulsion=value_of(Propulsion, data.propulsion),
                assumed=frozenset(data.assumed),
            ),
        )
    )


def _served(equipment: Equipment | None, job: Job) -> Job:
    return job if equipment is None else as_equipment(job, equipment)


def electronics_of(data: s.ElectronicsIn) -> Electronics:
    """The electronics' limits; volts that were left out follow from the cells they are rated for.

    Raises
    ------
    DomainError
        If neither the highest volts nor the most cells are given.
    """
    given = data.model_dump()
    lowest, highest = rated_window(given["rated_from"], given["rated_cells"])
    max_v = highest if data.max_v is None else data.max_v
    min_v = (lowest or 0.0) if data.min_v is None else data.min_v
    if max_v is None:
        raise DomainError(
            "electronics.max_v", "Say for how many cells the controller is rated, or its highest volts."
        )
    return Electronics(**{**given, "max_v": max_v, "min_v": min_v})


def duty_of(draw: s.DrawIn, motion: Motion) -> Duty:
    """The duty of phases, where there are any, else of the figures."""
    common: dict[str, Any] = {
        "reference_voltage_v": draw.reference_voltage_v,
        "reference_mass_g": draw.reference_mass_g,
        "spread": draw.spread,
        "peak_voltage_v": draw.peak_voltage_v,
    }
    if draw.phases:
        return duty_from_phases(tuple(Phase(**p.model_dump()) for p in draw.phases), **common)
    return duty_from_figures(
        average_a=draw.average_a,
        peak_a=draw.peak_a,
        peak_s=draw.peak_s,
        peak_every_s=draw.peak_every_s,
        motion=motion,
        **common,
    )


def fineness_of(data: s.FinenessIn) -> Fineness:
    """The grid's fineness."""
    return Fineness(data.capacity_steps, data.c_steps)


def plan_out(plan: Plan, picked: Detail | None = None) -> r.PlanOut:
    """A plan as the API says it."""
    costs = running_cost(plan.evaluation)
    e = plan.evaluation
    c, job = e.candidates, e.job
    cut = e.discharge.ending == int(Ending.RAN_TOO_LONG)
    return r.PlanOut.model_construct(
        headline=headline(plan),
        subline=subline(plan),
        narrow=narrowing(job),
        count=len(c),
        feasible_count=int(e.feasible.sum()),
        able_count=able_count(plan),
        max_v=job.electronics.max_v,
        min_v=job.electronics.min_v,
        pointed_out=list(pointed_out(job)),
        wanted_min=job.wants.minutes,
        followed_min=float(e.minutes[cut].min()) if cut.any() else None,
        turning_mass_g=field_turning_mass_g(plan),
        best=c.ids[plan.best] if plan.best is not None else None,
        field=_field_out(e),
        front=plan.front_rows,
        shortlist=_rows(plan, plan.short_rows, plan.short_range, costs),
        misses=_rows(plan, [m.row for m in plan.misses], plan.miss_range, costs),
        offers=_rows(plan, plan.offer_rows, plan.offer_range, costs),
        offers_left_out=plan.offers_left_out,
        coarser=plan.coarser,
        conflict=_conflict(plan),
        shopping=_shopping(plan),
        chips=cell_chips(job),
        duty=_duty_out(job),
        working=plan_working(plan),
        picked=detail_out(picked) if picked else None,
    )


def _field_out(e: Evaluation) -> r.FieldOut:
    c = e.candidates
    return r.FieldOut.model_construct(
        ids=c.ids,
        names=c.names,
        kinds=kind_ids(c.kind_index),
        series=c.series.astype(int).tolist(),
        mass_g=np.round(c.mass_g, 1).tolist(),
        minutes=np.round(e.minutes, 2).tolist(),
        loading=np.round(np.minimum(e.heat, 99.0), 3).tolist(),
        feasible=e.feasible.tolist(),
    )


def _duty_out(job: Job) -> r.DutyOut:
    return r.DutyOut(
        average_a=job.duty.average_current_a,
        rms_a=job.duty.rms_current_a,
        peak_a=job.duty.peak_current_a,
        cycle_s=job.duty.cycle_s,
        true_for=true_for(job),
        phases=list(job.duty.phases),
        working=duty_working(job.duty),
    )


SHORT_LISTS = 12
"""Of so many rows it is told why not another: of long lists nobody asks."""


def _rows(plan: Plan, rows: list[int], spread: MinutesRange, costs: RunningCost) -> list[r.RowOut]:
    e = plan.evaluation
    c, now = e.candidates, e.now_row
    out = []
    for k, row in enumerate(rows):
        loading, part = hottest(e, row)
        out.append(
            r.RowOut(
                **_figures_of(c, row),
                **cost_figures(costs, row),
                minutes=float(spread.minutes[k]),
                minutes_low=float(spread.low[k]),
                minutes_high=float(spread.high[k]),
                widest=spread.most(k),
                loading=min(loading, 99.0),
                reason=part.link if part else NOTHING_RATED,
                lacks=lacks(e, row),
                fit=fit_of(e, row),
                fragile=bool(spread.fragile[k]),
                runs_on_it=row == now,
                why_not=why_not(e, row, costs) if k < SHORT_LISTS and e.feasible[row] else [],
            )
        )
    return out


def _figures_of(c: Candidates, row: int) -> dict[str, Any]:
    return {
        "id": c.ids[row],
        "name": c.names[row],
        "kind": c.kind(row).id,
        "chemistry": CHEMISTRY_IDS[int(c.chemistry_index[row])],
        "series": int(c.series[row]),
        "parallel": int(c.parallel[row]),
        "capacity_mah": float(c.capacity_ah[row]) * 1000,
        "mass_g": float(c.mass_g[row]),
        "price": None if np.isnan(c.price[row]) else float(c.price[row]),
        "catalogue_id": catalogue_row(c.ids[row]),
    }


def _conflict(plan: Plan) -> r.ConflictOut | None:
    if plan.conflict is None:
        return None
    ids = plan.evaluation.candidates.ids
    return r.ConflictOut(
        sentence=plan.conflict.sentence,
        reliefs=[
            r.ReliefOut(gives=x.gives, id=ids[x.row], sentence=x.sentence) for x in plan.conflict.reliefs
        ],
    )


def _shopping(plan: Plan) -> r.ShoppingOut | None:
    if plan.shopping is None:
        return None
    return r.ShoppingOut(line=plan.shopping.line, working=plan.shopping.working)


def detail_out(detail: Detail) -> r.DetailOut:
    """A candidate in full as the API says it."""
    settings = r.SettingsOut(**figures(detail.settings), timer=clock(detail.settings.timer_s))
    more = {"chemistry_name": CHEMISTRIES[detail.chemistry].name, "catalogue_id": catalogue_row(detail.id)}
    return r.DetailOut(**{**figures(detail), "settings": settings, **more})


def _plug_note(plug: PlugFamily) -> str:
    guard = ", spark guard" if plug.spark_guard else ""
    return f"{plug.continuous_a:g} A, {plug.burst_a:g} A burst{guard}"


def choices_out() -> r.ChoicesOut:
    """The lists that fields choose from."""
    air = {"closed": "closed bay", "vented": "vented bay", "stream": "in the air stream"}
    return r.ChoicesOut(
        motions=[
            r.MotionChoice(
                id=m.id, name=m.name, note=f"watts go with mass^{m.mass_exponent:g}", geared=m.geared
            )
            for m in MOTIONS.values()
            if m.moves
        ],
        chemistries=[
            r.Choice(id=c.id, name=c.name, note=f"{c.nominal_v:.2f} V nominal, {c.full_v:.2f} V full, a cell")
            for c in CHEMISTRIES.values()
        ],
        plugs=[
            r.Choice(id=p.id, name=p.name, note=_plug_note(p)) for p in plug_families().values() if p.on_packs
        ],
        output_plugs=[
            r.Choice(id=p.id, name=p.name, note=f"{p.continuous_a:g} A") for p in plug_families().values()
        ],
        signs=[r.Choice(id=x.id, name=x.name, note=x.outcome) for x in SIGNS.values()],
        balance_plugs=[r.Choice(id=k, name=v, note="") for k, v in BALANCE_PLUGS.items()],
        piece_kinds=[r.Choice(id=k, name=v, note="") for k, v in PIECE_KINDS.items()],
        contact_shapes=[r.Choice(id=k, name=v, note="") for k, v in CONTACT_SHAPES.items()],
        house_rules=[
            r.Choice(id=x.id, name=x.name, note=f"{x.why} {x.who_differs}".strip())
            for x in all_rules().values()
        ],
        label_trusts=[
            r.Choice(id=k, name=k.replace("_", " "), note=f"{upper_first(words)}.")
            for k, words in TRUST_WORDS.items()
        ],
        airflows=[
            r.Choice(id=k, name=air[k], note=f"sheds {v:g} W/m²K") for k, v in AIRFLOW_W_PER_M2_K.items()
        ],
        aims=[r.Choice(id=k, name=v, note="") for k, v in AIMS.items()],
        regulators=[
            r.RegulatorChoice(id=k, name=v, note="", dropout_v=DROPOUT_V[k]) for k, v in REGULATORS.items()
        ],
        advice=ADVICE.sentence,
    )
