"""Links of a chain under a current: loading, drop and heat of each, the weakest with what would relieve
it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.resistance import held_for_a, less_for
from coldstack.core.chain.adapters import Path
from coldstack.core.chain.cooling import cool_awg, cool_family, plug_rise_k, wire_rise_k
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.warmth import HOT_RISE_K, PLUG_RISE_AT_RATING_K, WARM_RISE_K, Warming
from coldstack.core.chain.wire import (
    lead_pair_resistance_mohm,
    limit_words,
    wire_burst_a,
    wire_continuous_a,
    wire_time_constant_s,
)
from coldstack.core.checks import Check, asked, borne_today, check_at_most
from coldstack.core.measuring import HOW_TO
from coldstack.core.units import WARMER, percent, plain_number
from coldstack.core.working import Step

LinkKind = Literal["cells", "plug", "wire", "device"]
ROOMY_LOADING = 0.7
"""What a relief should bring a link down to. House figure."""
MELTING_RISE_K = 120.0
"""Rise over the air from which the housing of a plug softens. House figure."""


@dataclass(frozen=True, slots=True)
class Link:
    """One part of a chain: what it carries [A] and its resistance [mΩ]; None where not known.

    ``adapter`` marks what an adapter brings in. ``also`` is a further check that counts to its loading (the
    cells' temperature). ``question`` is what to ask its owner where nobody gave the limit; the link then
    refuses nothing.
    """

    id: str
    name: str
    kind: LinkKind
    continuous_a: float | None
    burst_a: float | None
    resistance_mohm: float | None
    source: str
    adapter: bool = False
    also: Check | None = None
    question: str = ""
    peak_question: str = ""
    warms_s: float | None = None
    """Time constant of what is judged by its warmth; None for what is judged by its ratings."""
    borne: bool = False
    """The model bears it today: where it is over it warns."""


@dataclass(frozen=True, slots=True)
class Joint:
    """A link under its current.

    ``drop_v`` and ``heat_w`` are at the RMS current, ``peak_heat_w`` at the peak.
    """

    link: str
    name: str
    adapter: bool
    continuous: Check
    burst: Check
    leading: Check
    loading: float | None
    drop_v: float | None
    heat_w: float | None
    peak_heat_w: float | None
    weakest: bool
    sentence: str
    assumed: bool = False
    known_loading: float | None = None
    """The highest loading of its checks whose limit and current somebody gave: only that can refuse."""
    ratings: str = ""
    """What a plug or lead that is judged by its warmth carries of its ratings, in words."""


def path_links(path: Path) -> list[Link]:
    """The mated pairs and wires from the pack's plug on, in order."""
    links = [pair_link(path.pairs[0], "plug")]
    for i, piece in enumerate(path.pieces):
        rated = "maker’s rating" if piece.continuous_a is not None else limit_words(piece.awg)
        question = f"Its gauge is assumed, {piece.awg:g} AWG. {HOW_TO['awg']}" if piece.wire_assumed else ""
        links.append(
            Link(
                f"adapter{i}",
                piece.name,
                "wire",
                piece.wire_a,
                piece.wire_burst_a,
                piece.wire_mohm,
                rated,
                adapter=True,
                question=question,
                warms_s=wire_time_constant_s(piece.awg),
            )
        )
        links.append(pair_link(path.pairs[i + 1], f"plug{i + 1}", adapter=True))
    return links


def pair_link(family_id: str, link_id: str, *, adapter: bool = False) -> Link:
    """A mated pair of plugs as a link."""
    family = plug_family(family_id)
    return Link(
        link_id,
        f"Plug, {family.name}",
        "plug",
        family.continuous_a,
        family.burst_a,
        family.resistance_mohm,
        "typical for the family",
        adapter=adapter,
        warms_s=family.time_constant_s,
    )


def wire_link(link_id: str, name: str, awg: float, length_mm: float) -> Link:
    """A pair of leads as a link."""
    limit = wire_continuous_a(awg)
    return Link(
        link_id,
        f"{name}, {awg:g} AWG",
        "wire",
        limit,
        wire_burst_a(awg),
        lead_pair_resistance_mohm(awg, length_mm),
        limit_words(awg),
        warms_s=wire_time_constant_s(awg),
    )


def joints(
    links: Sequence[Link], *, rms_a: float, peak_a: float, warming: Warming, peak_s: float = 0.0
) -> list[Joint]:
    """Each link under the same current. Plugs and leads are judged by how warm they get, with their ratings
    in sight; the others by their ratings. A peak over ten seconds is allowed the heat of the burst.

    Exactly one link is the weakest, unless none has a rating.
    """
    under = Under(rms_a, peak_a, warming, peak_s)
    drawn = [_judged(link, under) for link in links]
    rated = [k for k, x in enumerate(drawn) if x.known is not None]
    weakest = max(rated, key=lambda k: drawn[k].known or 0.0, default=-1)
    return [_finished(links[k], x, under, weakest=k == weakest) for k, x in enumerate(drawn)]


@dataclass(frozen=True, slots=True)
class Under:
    """What a chain carries: RMS and peak amps, what warms it, and whether the peak is one of ten seconds."""

    rms_a: float
    peak_a: float
    warming: Warming
    peak_s: float


@dataclass(frozen=True, slots=True)
class _Judged:
    """A link's checks: its ratings, its warmth if that judges it, and what counts of them."""

    continuous: Check
    burst: Check
    counted: tuple[Check, ...]

    @property
    def loading(self) -> float | None:
        return max((c.loading for c in self.counted if c.loading is not None), default=None)

    @property
    def known(self) -> float | None:
        """The highest loading of which nothing was assumed; None if there is none."""
        return max((c.loading for c in self.counted if not c.assumed and c.loading is not None), default=None)


def _judged(link: Link, under: Under) -> _Judged:
    continuous, burst = _ratings(link, under)
    also = (link.also,) if link.also else ()
    if link.warms_s is not None and link.continuous_a is not None:
        return _Judged(continuous, burst, (_warmth(link, link.continuous_a, link.warms_s, under), *also))
    if link.question:
        continuous, burst = asked(continuous, link.question), asked(burst, link.question)
    elif link.peak_question:
        burst = asked(burst, link.peak_question)
    if link.borne:
        continuous, burst = _as_today(continuous, link), _as_today(burst, link)
    return _Judged(continuous, burst, (continuous, burst, *also))


def _as_today(check: Check, link: Link) -> Check:
    return borne_today(check, link.kind) if link.borne and check.verdict == "over" else check


def _warmth(link: Link, rating_a: float, warms_s: float, under: Under) -> Check:
    at_rating_k = PLUG_RISE_AT_RATING_K if link.kind == "plug" else HOT_RISE_K
    made = check_at_most(
        f"{link.id}.warmth",
        f"{link.name}, warmth over the air",
        value=under.warming.rise_k(rating_a, at_rating_k, warms_s),
        limit=HOT_RISE_K,
        unit="K",
        limit_source=f"{HOT_RISE_K:g}{WARMER} over the air, from {link.source}",
        caution_from=WARM_RISE_K / HOT_RISE_K,
        steps=_warmth_steps(link, rating_a, at_rating_k, warms_s, under),
    )
    if link.borne and made.verdict == "over":
        return borne_today(made, link.kind)
    if link.question:
        return asked(made, link.question)
    if link.peak_question and under.warming.average_rise_k(rating_a, at_rating_k) <= HOT_RISE_K:
        return asked(made, link.peak_question)
    return made


def _warmth_steps(
    link: Link, rating_a: float, at_rating_k: float, warms_s: float, under: Under
) -> tuple[Step, ...]:
    n, phases = plain_number, zip(under.warming.amps, under.warming.seconds, strict=True)
    duty = ", ".join(f"{n(a)} A for {n(s)} s" for a, s in list(phases)[:4])
    return (
        *_steps(link, under.rms_a, under.peak_a),
        Step("At its rating", "steady", f"{n(rating_a)} A warm it by {n(at_rating_k)}{WARMER}", link.source),
        Step("How quickly", "time constant", f"{n(warms_s)} s", "house figure, by family and gauge"),
        Step("Over the duty", "C·dT/dt = I²·R − T ÷ R_th, at its highest", f"{duty}, again and again"),
    )


def _ratings(link: Link, under: Under) -> tuple[Check, Check]:
    why = f"burst limit{less_for(under.peak_s)}"
    burst_limit = link.burst_a
    if burst_limit is not None and link.continuous_a is not None:
        burst_limit = float(held_for_a(link.continuous_a, burst_limit, under.peak_s))
    steps = _steps(link, under.rms_a, under.peak_a)
    continuous = check_at_most(
        f"{link.id}.continuous",
        f"{link.name}, continuous",
        value=under.rms_a,
        limit=link.continuous_a,
        unit="A",
        limit_source=link.source,
        steps=steps,
    )
    burst = check_at_most(
        f"{link.id}.burst",
        f"{link.name}, at the peak",
        value=under.peak_a,
        limit=burst_limit,
        unit="A",
        limit_source=f"{link.source}, {why}",
        steps=steps,
    )
    return continuous, burst


def _steps(link: Link, rms_a: float, peak_a: float) -> tuple[Step, ...]:
    if link.resistance_mohm is None:
        return ()
    n, r = plain_number, link.resistance_mohm
    return (
        Step(
            "Drop",
            "I·R",
            f"{n(rms_a)} A × {n(r)} mΩ = {n(rms_a * r)} mV",
            "RMS current, because heat goes with the square of the current",
        ),
        Step(
            "Heat",
            "I²·R",
            f"{n(rms_a)}² × {n(r)} mΩ = {n(rms_a**2 * r / 1000)} W; {n(peak_a**2 * r / 1000)} W at the peak",
        ),
    )


def _finished(link: Link, judged: _Judged, under: Under, *, weakest: bool) -> Joint:
    leading = max(judged.counted, key=lambda c: c.loading or 0.0)
    r = None if link.resistance_mohm is None else link.resistance_mohm / 1000
    return Joint(
        link=link.id,
        name=link.name,
        adapter=link.adapter,
        continuous=judged.continuous,
        burst=judged.burst,
        leading=leading,
        loading=judged.loading,
        drop_v=None if r is None else under.rms_a * r,
        heat_w=None if r is None else under.rms_a**2 * r,
        peak_heat_w=None if r is None else under.peak_a**2 * r,
        weakest=weakest,
        sentence=_relief(link, leading, under) if weakest else question_of(leading),
        assumed=leading.assumed,
        known_loading=judged.known,
        ratings=ratings_words(judged.continuous, judged.burst) if leading.unit == "K" else "",
    )


def ratings_words(continuous: Check, burst: Check) -> str:
    """Ratings that judge nothing and stay in sight: "19 of 15 A printed, peak 58 of 30 A"."""
    words = []
    for check, before, after in ((continuous, "", " printed"), (burst, "peak ", "")):
        if check.value is not None and check.limit is not None:
            value, limit = plain_number(check.value, 2), plain_number(check.limit, 2)
            words.append(f"{before}{value} of {limit} A{after}")
    return ", ".join(words)


def question_of(leading: Check) -> str:
    """What a link of which nobody gave the limit asks, where it would be over it."""
    return leading.sentence if leading.assumed and leading.verdict == "unknown" else ""


def _relief(link: Link, leading: Check, under: Under) -> str:
    """What limits at the weakest link, and what would relieve it."""
    loading = leading.loading or 0.0
    when = "at the peak" if leading.id.endswith(".burst") else "all the time"
    if leading is link.also:
        return (
            leading.sentence
            if loading < 1
            else f"{leading.sentence} More capacity, more C or moving air keeps it cooler."
        )
    who = "The adapter is the weakest link" if link.adapter else "The weakest link"
    if leading.unit == "K":
        when = f"{plain_number(leading.value or 0.0, 2)}{WARMER} over the air"
    if loading <= ROOMY_LOADING:
        return f"{who}, and not strained: {percent(loading)}, {when}."
    opening = f"{who}, over its limit" if loading > 1 else who
    today = " It runs so today: look at it after a run." if link.borne and loading > 1 else ""
    return (
        f"{opening}: {percent(loading)}, {when}.{today}{_heat(link, leading, under)} "
        f"{_cure(link, leading, under)}"
    )


def _heat(link: Link, leading: Check, under: Under) -> str:
    if link.kind != "plug" or (leading.loading or 0.0) <= 1 or link.resistance_mohm is None:
        return ""
    watts, peak_w = (a * a * link.resistance_mohm / 1000 for a in (under.rms_a, under.peak_a))
    rise_k = leading.value or 0.0
    end = ": enough to melt it" if leading.unit == "K" and rise_k > MELTING_RISE_K else ""
    return (
        f" It turns {plain_number(watts, 2)} W into heat in the plug, {plain_number(peak_w, 2)} W at the "
        f"peak{end}."
    )


def _cure(link: Link, leading: Check, under: Under) -> str:
    if leading.unit == "K":
        return cure_words("adapter" if link.adapter else link.kind, under.warming)
    good = f"good for {plain_number((leading.value or 0.0) / ROOMY_LOADING, 2)} A"
    return f"{'Cells' if link.kind == 'cells' else 'One'} {good} would bring it to {percent(ROOMY_LOADING)}."


def cure_words(link: str, warming: Warming) -> str:
    """What keeps a plug, leads or an adapter cool in this duty."""
    if link == "plug":
        family = cool_family(warming)
        if family is None:
            return "No plug here would stay cool: less current, or moving air."
        rise_k = plain_number(plug_rise_k(family, warming), 2)
        both = f"{family.name} on both sides ({family.continuous_a:g} A)"
        return f"{both} would bring it to {rise_k}{WARMER} over the air."
    gauge = cool_awg(warming)
    rise_k = plain_number(wire_rise_k(gauge, warming), 2)
    what = "An adapter with thicker wire" if link == "adapter" else "Thicker leads"
    return f"{what}, {gauge:g} AWG, would bring it to {rise_k}{WARMER} over the air."
