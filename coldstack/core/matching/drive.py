"""One pack in one model: does it plug in, by which adapters, and how does each joint fare under this model's
draw."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.chain.adapters import Adapter, Path
from coldstack.core.chain.balance import INTEGRATED
from coldstack.core.chain.cooling import cool_family, path_rise_k, plug_rise_k
from coldstack.core.chain.joints import Joint, Link, joints, path_links, wire_link
from coldstack.core.chain.plugs import PlugEnd, PlugFamily, plug_family, polarity_caution
from coldstack.core.chain.warmth import HOT_RISE_K, Warming
from coldstack.core.chain.wire import wire_diameter_mm
from coldstack.core.checks import Check, Verdict, check_at_most, worst_first
from coldstack.core.fit.fit import Fit, fit_of
from coldstack.core.packs.pack import Pack
from coldstack.core.safety import cautions
from coldstack.core.safety.cautions import Caution
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.link_specs import HOT
from coldstack.core.trial.checks.links import peak_question
from coldstack.core.trial.evaluate import Evaluation, evaluate, warming_of
from coldstack.core.trial.job import BAY_CLEARANCE_MM, USUAL_BURST_SHARE, Electronics, Job
from coldstack.core.trial.lying import inside_mm, lying
from coldstack.core.trial.ways import PlugWay, device_end, pack_end_in, way_in
from coldstack.core.trial.wording import unmeasured
from coldstack.core.units import MM, WARMER, plain_number, upper_first

FixKind = Literal["adapter_owned", "adapter_to_get", "solder_pack", "solder_model"]
LEAD_TURN_DIAMETERS = 4.0
"""Leads need about four times their outside diameter to turn where they leave the pack. House figure."""


@dataclass(frozen=True, slots=True)
class PlugFix:
    """A way to make the plugs meet: its parts, and the loading of the warmest one in this model. ``plug`` is
    the family that is soldered on, empty where nothing is."""

    kind: FixKind
    name: str
    sentence: str
    loading: float
    weakest: bool
    plug: str = ""


@dataclass(frozen=True, slots=True)
class DriveFit:
    """A pack in a model. ``path`` is how the plugs meet now, None if nothing owned joins them; ``shown`` is
    that, or the way by one adapter to get."""

    fit: Fit
    plugs: str
    look_alike: bool
    path: Path | None
    shown: Path
    joints: list[Joint]
    fixes: list[PlugFix]
    checks: list[Check]
    cautions: list[Caution]
    polarity: list[str]
    minutes: float
    rms_a: float
    peak_a: float
    evaluation: Evaluation
    questions: list[str]
    """What nobody measured and this fit hangs on, with how to measure it."""


def drive_fit(job: Job, candidate: Candidates, *, pack: Pack, pieces: tuple[Adapter, ...]) -> DriveFit:
    """Everything about one candidate (a row of one, made of ``pack``) in a model.

    The run is computed with the adapters' resistance in it, so that a bad adapter shows in minutes and
    volts too. Where nothing owned joins the plugs, the joints are those of the adapter one would get, and
    the verdict says that it will not do.
    """
    way = candidate.ways[0] or way_in(job, pack_end_in(job, pack), pieces)
    e = evaluate(job, candidate)
    found, warming = fit_of(e, 0), warming_of(e, 0)
    rms, peak = _currents(e)
    links = chain_links(e, way.shown)
    chain = joints(links, rms_a=rms, peak_a=peak, warming=warming, peak_s=job.duty.longest_peak_s)
    ends = pack_end_in(job, pack), device_end(job, pack_end_in(job, pack))
    plug = next((j for j in chain if j.link == "plug"), None)
    fixes = _stronger(warming, ends[1], plug) if way.meeting.fits else _fixes(e, way, warming, chain, *ends)
    return DriveFit(
        fit=found,
        plugs=way.meeting.sentence,
        look_alike=way.meeting.look_alike,
        path=way.path,
        shown=way.shown,
        joints=chain,
        fixes=fixes,
        checks=_other_checks(e, way.shown),
        cautions=[cautions.KEEP_POLARITY, cautions.ONE_WIRE] if fixes else [],
        polarity=_polarity(way.shown),
        minutes=float(e.minutes[0]),
        rms_a=rms,
        peak_a=peak,
        evaluation=e,
        questions=unmeasured(job, candidate),
    )


def _other_checks(e: Evaluation, path: Path) -> list[Check]:
    """All but those of the chain, and the room for the adapters, the worst first."""
    own = [c.check(0) for c in e.checks if not c.is_link]
    return worst_first([*own, *room_checks(e.job, e.candidates, path)])


def _polarity(path: Path) -> list[str]:
    return [words for words in dict.fromkeys(polarity_caution(pair) for pair in path.pairs) if words]


def chain_links(e: Evaluation, path: Path) -> list[Link]:
    """The links from the cells to the motor, adapters in their place."""
    c, job, electronics = e.candidates, e.job, e.job.electronics
    questions = {x.link: x.question for x in e.checks if x.is_link and not x.spec.in_sight}
    own_plug, own_leads = not c.plug_assumed[0], not c.leads_assumed[0]

    def asks(link: str, *, known: bool) -> str:
        return "" if known else questions.get(link, "")

    wires = wire_link("leads", "Model’s leads", electronics.lead_awg, electronics.lead_length_mm)
    rated = not job.is_assumed("electronics.controller_continuous_a")
    # a model's plug that nobody gave is the pack's, where that is known
    plug = asks("plug", known=own_plug or not job.is_assumed("electronics.plug"))
    links = [
        _cells(e),
        replace(_pack_leads(c, path), question=asks("leads", known=own_leads)),
        *(replace(x, question=plug) if x.kind == "plug" and not x.adapter else x for x in path_links(path)),
        replace(wires, question=asks("leads", known=not job.is_assumed("electronics.lead_awg"))),
        *(() if job.equipment else (_controller(electronics, asks("controller", known=rated)),)),
        *_motor(electronics),
    ]
    unsure, borne = peak_question(job), {x.link for x in e.checks if x.is_link and x.borne[0]}
    return [replace(x, peak_question=unsure, borne=_key(x) in borne) for x in links]


def _key(link: Link) -> str:
    """Which link of the trial it is."""
    return "adapter" if link.adapter else "leads" if link.kind == "wire" else link.id


def _cells(e: Evaluation) -> Link:
    c = e.candidates
    r_pack = float(c.series[0] * c.cell_mohm[0])
    continuous, burst = float(c.continuous_a[0]), float(c.burst_a[0])
    heat = next(x.check(0) for x in e.checks if x.spec is HOT)
    source = "measured, or label as trusted"
    return Link("cells", "Cells", "cells", continuous, burst, r_pack, source, also=heat)


def _controller(e: Electronics, question: str) -> Link:
    rated = e.controller_continuous_a, e.controller_burst_a, e.sharing("controller")
    return _device("controller", "Controller", *rated, question)


def _motor(e: Electronics) -> list[Link]:
    if e.motor_continuous_a is None and e.motor_burst_a is None:
        return []
    return [_device("motor", "Motor", e.motor_continuous_a, e.motor_burst_a, e.sharing("motor"))]


def room_checks(job: Job, c: Candidates, path: Path) -> list[Check]:
    """Room for the leads behind the pack, and an adapter's length with them; a caution, since a hatch may
    let them out."""
    room, length = job.bay.length_mm, float(lying(job, c).length_mm[0])
    if room is None or math.isnan(length):
        return []
    turn = lead_turn_mm(float(c.lead_awg[0]))
    check = check_at_most(
        "bay.leads",
        "Pack and the turn of its leads",
        value=length + turn,
        limit=inside_mm(room),
        unit="mm",
        limit_source=f"bay less {BAY_CLEARANCE_MM:g}{MM} a side; leads turn in {turn:.0f}{MM}",
        caution_from=1.0001,
    )
    verdict: Verdict = "caution" if check.verdict == "over" else check.verdict
    return [replace(check, verdict=verdict)]


def lead_turn_mm(awg: float) -> float:
    """Room that leads need to turn where they leave the pack. [mm]"""
    outside_mm = wire_diameter_mm(awg) + (1.6 if awg <= 12 else 1.2)
    return LEAD_TURN_DIAMETERS * outside_mm


def _currents(e: Evaluation) -> tuple[float, float]:
    return float(e.discharge.rms_current_a[0]), float(e.discharge.peak_current_a[0])


def _pack_leads(c: Candidates, path: Path) -> Link:
    limit = float(c.lead_continuous_a[0])
    awg = float(c.lead_awg[0])
    one = wire_link("pack_leads", "Pack’s leads", awg, 100)
    return replace(
        one,
        continuous_a=limit,
        burst_a=limit * (one.burst_a or 0.0) / (one.continuous_a or 1.0),
        resistance_mohm=float(c.outside_mohm[0]) - path.extra_mohm,
    )


def _device(
    link_id: str,
    name: str,
    continuous_a: float | None,
    burst_a: float | None,
    count: int = 1,
    question: str = "",
) -> Link:
    """A controller or motor as a link of the whole current: of several, each carries its share."""
    usual = burst_a is None and continuous_a is not None
    burst = USUAL_BURST_SHARE * continuous_a if usual and continuous_a is not None else burst_a
    words = f"{name}, {count} together" if count > 1 else name
    return Link(
        link_id,
        words,
        "device",
        None if continuous_a is None else count * continuous_a,
        None if burst is None else count * burst,
        None,
        f"maker’s figure{f', burst {USUAL_BURST_SHARE:g} times it assumed' if usual else ''}",
        question=question,
    )


def _stronger(warming: Warming, model_end: PlugEnd, plug: Joint | None) -> list[PlugFix]:
    """Plugs that mate and get too warm in this model: stronger ones on both sides, but for those in which the
    balance wires run."""
    now, better = plug_family(model_end.family), cool_family(warming)
    if plug is None or (plug.loading or 0.0) <= 1 or better is None or now.id == INTEGRATED:
        return []
    rise_k = plug_rise_k(better, warming)
    what = f"Solder {_an(better.name)} to pack and model in place of the {now.name}"
    return [_soldered("solder_model", better, f"{better.name} on both", what, rise_k)]


def _soldered(kind: FixKind, plug: PlugFamily, name: str, what: str, rise_k: float) -> PlugFix:
    over = " That is over its limit." if rise_k > HOT_RISE_K else ""
    words = f"{what}: {plain_number(rise_k, 2)}{WARMER} over the air.{over}"
    return PlugFix(kind, name, words, rise_k / HOT_RISE_K, False, plug.id)


def _fixes(
    e: Evaluation, way: PlugWay, warming: Warming, chain: list[Joint], pack_end: PlugEnd, model_end: PlugEnd
) -> list[PlugFix]:
    fixes = []
    if way.path is not None:
        fixes.append(_fix_by(chain, way.path, warming, "adapter_owned", way.path.names))
    elif pack_end.family != model_end.family:
        made = way.shown.pieces[0]
        words = f"{_an(made.name)}, bought or made with {made.awg:g} AWG wire"
        fixes.append(_fix_by(chain, way.shown, warming, "adapter_to_get", words))
    model, own = plug_family(model_end.family), plug_family(pack_end.family)
    if INTEGRATED in (model.id, own.id):
        return fixes  # its balance wires would have to be cut and soldered too: no job for a bench at home
    rise_k = plug_rise_k(model, warming)
    what = f"Solder {_an(model.name)} to the pack in place of its {own.name}"
    fixes.append(_soldered("solder_pack", model, f"{model.name} on the pack", what, rise_k))
    if rise_k > HOT_RISE_K and (better := cool_family(warming)) is not None:
        both = f"{better.name} on both"
        what = f"Better {_an(better.name)} on pack and model"
        fixes.append(_soldered("solder_model", better, both, what, plug_rise_k(better, warming)))
    return fixes


def _fix_by(chain: list[Joint], path: Path, warming: Warming, kind: FixKind, words: str) -> PlugFix:
    rise_k = path_rise_k(path, warming)
    weakest = next((j for j in chain if j.weakest), None)
    is_weak = weakest is not None and (weakest.adapter or weakest.link == "plug")
    tail = ""
    if weakest is not None and is_weak:
        tail = (
            " It becomes the weakest link of the chain."
            if weakest.adapter
            else f" The {weakest.name.removeprefix('Plug, ')} on the pack stays the weakest link."
        )
    over = " That is over its limit." if rise_k > HOT_RISE_K else ""
    said = f"{upper_first(words)}: {plain_number(rise_k, 2)}{WARMER} over the air in this model.{over}{tail}"
    return PlugFix(kind, path.names, said, rise_k / HOT_RISE_K, is_weak)


def _an(name: str) -> str:
    return f"an {name}" if name[:1] in "AEIOX" or name[:2] in ("SM", "M6", "8 ") else f"a {name}"
