"""One pack in one model: does it plug in, by which adapters, and how does each joint fare under this model's
draw."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.cells.resistance import BURST_DURATION_S
from coldstack.core.chain.adapters import Adapter, Path, coolest, made_adapter, paths
from coldstack.core.chain.joints import Joint, Link, joints, path_links, wire_link
from coldstack.core.chain.plugs import PlugEnd, family_good_for, mating, plug_family, polarity_caution
from coldstack.core.chain.wire import wire_diameter_mm
from coldstack.core.checks import Check, Verdict, check_at_most, worst_first
from coldstack.core.matching.verdict import (
    FitVerdict,
    fit_verdict,
    lacks_and_wishes,
    unfit_words,
    unknown_words,
)
from coldstack.core.packs.pack import Pack
from coldstack.core.safety import cautions
from coldstack.core.safety.cautions import Caution
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.links import HOT, peak_question
from coldstack.core.trial.evaluate import Evaluation, evaluate
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Electronics, Job
from coldstack.core.trial.wording import unmeasured
from coldstack.core.units import percent

FixKind = Literal["adapter_owned", "adapter_to_get", "solder_pack", "solder_model"]
LEAD_TURN_DIAMETERS = 4.0
"""Leads need about four times their outside diameter to turn where they leave the pack. House figure."""


@dataclass(frozen=True, slots=True)
class Fix:
    """A way to make the plugs meet: its parts, and the loading of the worst new one under this model's
    draw."""

    kind: FixKind
    name: str
    sentence: str
    loading: float
    weakest: bool


@dataclass(frozen=True, slots=True)
class DriveFit:
    """A pack in a model. ``path`` is how the plugs meet now, None if nothing owned joins them."""

    verdict: FitVerdict
    sentence: str
    plugs: str
    look_alike: bool
    path: Path | None
    joints: list[Joint]
    fixes: list[Fix]
    checks: list[Check]
    lacks: list[str]
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
    the verdict says that it does not fit.
    """
    pack_end = pack_end_in(job, pack)
    model_end = device_end(job, pack_end)
    meeting = mating(pack_end, model_end)
    path = owned_path(job, pack_end, pieces)
    shown = path or path_to_get(job, pack_end)
    e = evaluate(job, replace(candidate, outside_mohm=candidate.outside_mohm + shown.extra_mohm))
    links = chain_links(e, shown)
    rms, peak = _currents(e)
    chain = joints(links, rms_a=rms, peak_a=peak, brief_peak=brief_peak(job))
    fixes = _stronger(e, model_end) if meeting.fits else _fixes(job, e, path, pack_end, model_end)
    lacks, short_of = lacks_and_wishes(e, 0)
    lacks = lacks if pack.fit else [unfit_words(pack), *lacks]
    over = max(((x, j.name) for j in chain if (x := j.known_loading or 0.0) > 1), default=None)
    unknown = unknown_words(job, candidate, pack)
    verdict, sentence = fit_verdict(path, over, lacks, short_of, meeting.sentence, unknown)
    return DriveFit(
        verdict=verdict,
        sentence=sentence,
        plugs=meeting.sentence,
        look_alike=meeting.look_alike,
        path=path,
        joints=chain,
        fixes=fixes,
        checks=_other_checks(e, shown),
        lacks=lacks,
        cautions=[cautions.KEEP_POLARITY, cautions.ONE_WIRE] if fixes else [],
        polarity=_polarity(shown),
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


def pack_end_in(job: Job, pack: Pack) -> PlugEnd:
    """The pack's plug in this model; where nobody said which it is, the model's own is assumed."""
    if "plug" in pack.assumed and not job.is_assumed("electronics.plug"):
        return PlugEnd(job.electronics.plug, pack.plug_half)
    return pack.plug_end


def device_end(job: Job, pack_end: PlugEnd) -> PlugEnd:
    """The model's plug; where nobody said which it is, the one that the pack carries is assumed."""
    family = pack_end.family if job.is_assumed("electronics.plug") else job.electronics.plug
    return PlugEnd(family, "device")


def owned_path(job: Job, pack_end: PlugEnd, pieces: tuple[Adapter, ...]) -> Path | None:
    """The way that what is owned offers: fewest adapters, then the coolest under the duty as measured.

    None if there is none.
    """
    found = paths(pack_end, device_end(job, pack_end), pieces)
    return coolest(found, rms_a=job.duty.rms_current_a, peak_a=job.duty.peak_current_a)


def path_to_get(job: Job, pack_end: PlugEnd) -> Path:
    """The way by one adapter that one would buy or make."""
    model_end = device_end(job, pack_end)
    return Path((made_adapter(pack_end, model_end),), (pack_end.family, model_end.family))


def chain_links(e: Evaluation, path: Path) -> list[Link]:
    """The links from the cells to the motor, adapters in their place."""
    c, job, electronics = e.candidates, e.job, e.job.electronics
    questions = {x.link: x.question for x in e.checks if x.is_link}

    def asks(link: str, *, assumed: bool) -> str:
        return questions[link] if assumed else ""

    wires = wire_link("leads", "Model’s leads", electronics.lead_awg, electronics.lead_length_mm)
    unrated = job.is_assumed("electronics.controller_continuous_a")
    plug = asks("plug", assumed=job.is_assumed("electronics.plug") or bool(c.plug_assumed[0]))
    links = [
        _cells(e),
        replace(_pack_leads(c, path), question=asks("leads", assumed=bool(c.leads_assumed[0]))),
        *(replace(x, question=plug) if x.kind == "plug" and not x.adapter else x for x in path_links(path)),
        replace(wires, question=asks("leads", assumed=job.is_assumed("electronics.lead_awg"))),
        _controller(electronics, asks("controller", assumed=unrated)),
        *_motor(electronics),
    ]
    unsure = peak_question(job)
    return [replace(link, peak_question=unsure) for link in links]


def _cells(e: Evaluation) -> Link:
    c = e.candidates
    r_pack = float(c.series[0] * c.resistance_mohm[0])
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
    room, length = job.bay.length_mm, float(c.length_mm[0])
    if room is None or math.isnan(length):
        return []
    awg = float(c.lead_awg[0])
    outside_mm = wire_diameter_mm(awg) + (1.6 if awg <= 12 else 1.2)
    turn = LEAD_TURN_DIAMETERS * outside_mm
    check = check_at_most(
        "bay.leads",
        "Pack and the turn of its leads",
        value=length + turn,
        limit=max(room - 2 * BAY_CLEARANCE_MM, 0.0),
        unit="mm",
        limit_source=f"bay less {BAY_CLEARANCE_MM:g} mm a side; leads turn in {turn:.0f} mm",
        caution_from=1.0001,
    )
    verdict: Verdict = "caution" if check.verdict == "over" else check.verdict
    return [replace(check, verdict=verdict)]


def _currents(e: Evaluation) -> tuple[float, float]:
    return float(e.discharge.rms_current_a[0]), float(e.discharge.peak_current_a[0])


def brief_peak(job: Job) -> bool:
    """Whether the peak is short enough for burst limits."""
    return job.duty.longest_peak_s <= BURST_DURATION_S


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
    burst = burst_a if burst_a is not None else continuous_a
    words = f"{name}, {count} together" if count > 1 else name
    return Link(
        link_id,
        words,
        "device",
        None if continuous_a is None else count * continuous_a,
        None if burst is None else count * burst,
        None,
        "maker’s figure",
        question=question,
    )


def _stronger(e: Evaluation, model_end: PlugEnd) -> list[Fix]:
    """Plugs that mate and are too weak for this model: stronger ones on both sides."""
    rms, peak = _currents(e)
    now = plug_family(model_end.family)
    better = family_good_for(rms, peak)
    if max(rms / now.continuous_a, peak / now.burst_a) <= 1 or better is None:
        return []
    share = max(rms / better.continuous_a, peak / better.burst_a)
    return [
        Fix(
            "solder_model",
            f"{better.name} on both",
            f"Solder {_an(better.name)} to pack and model in place of the {now.name}: {percent(share)}.",
            share,
            False,
        )
    ]


def _fixes(job: Job, e: Evaluation, path: Path | None, pack_end: PlugEnd, model_end: PlugEnd) -> list[Fix]:
    rms, peak = _currents(e)
    fixes = []
    if path is not None:
        fixes.append(_fix_by(e, path, "adapter_owned", path.names))
    if path is None and pack_end.family != model_end.family:
        to_get = path_to_get(job, pack_end)
        made = to_get.pieces[0]
        fixes.append(
            _fix_by(
                e, to_get, "adapter_to_get", f"{_an(made.name)}, bought or made with {made.awg:g} AWG wire"
            )
        )
    model = plug_family(model_end.family)
    share = max(rms / model.continuous_a, peak / model.burst_a)
    fixes.append(
        Fix(
            "solder_pack",
            f"{model.name} on the pack",
            f"Solder {_an(model.name)} to the pack in place of its {plug_family(pack_end.family).name}: "
            f"then the plug is at {percent(share)}.",
            share,
            False,
        )
    )
    if share > 1 and (better := family_good_for(rms, peak)) is not None:
        over = max(rms / better.continuous_a, peak / better.burst_a)
        fixes.append(
            Fix(
                "solder_model",
                f"{better.name} on both",
                f"Better {_an(better.name)} on pack and model: {percent(over)}.",
                over,
                False,
            )
        )
    return fixes


def _fix_by(e: Evaluation, path: Path, kind: FixKind, words: str) -> Fix:
    rms, peak = _currents(e)
    loading = path.loading(rms, peak, brief_peak=brief_peak(e.job))
    chain = joints(chain_links(e, path), rms_a=rms, peak_a=peak, brief_peak=brief_peak(e.job))
    weakest = next((j for j in chain if j.weakest), None)
    is_weak = weakest is not None and (weakest.adapter or weakest.link == "plug")
    tail = ""
    if weakest is not None and is_weak:
        tail = (
            " It becomes the weakest link of the chain."
            if weakest.adapter
            else f" The {weakest.name.removeprefix('Plug, ')} on the pack stays the weakest link."
        )
    over = " That is over its limit." if loading > 1 else ""
    return Fix(
        kind,
        path.names,
        f"{words[0].upper()}{words[1:]}: {percent(loading)} under this model’s draw.{over}{tail}",
        loading,
        is_weak,
    )


def _an(name: str) -> str:
    return f"an {name}" if name[:1] in "AEIOX" or name[:2] in ("SM", "M6", "8 ") else f"a {name}"
