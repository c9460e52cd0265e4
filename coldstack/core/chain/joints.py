"""Links of a chain under a current: loading, drop and heat of each, the weakest with what would relieve
it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from coldstack.core.chain.adapters import Path
from coldstack.core.chain.plugs import family_good_for, plug_family
from coldstack.core.chain.wire import WIRE_BURST_FACTOR, lead_pair_resistance_mohm, wire_continuous_a
from coldstack.core.checks import Check, asked, check_at_most
from coldstack.core.measuring import HOW_TO
from coldstack.core.units import percent, plain_number
from coldstack.core.working import Step

LinkKind = Literal["cells", "plug", "wire", "device"]
ROOMY_LOADING = 0.7
"""What a relief should bring a link down to. House figure."""
MELTING_W = 3.0
"""Heat from which a plug the size of a fingertip softens: with about 10 cm² at 15 W/m²K it would have to be
200 K hotter than the air. House figure."""


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


def path_links(path: Path) -> list[Link]:
    """The mated pairs and wires from the pack's plug on, in order."""
    links = [pair_link(path.pairs[0], "plug")]
    for i, piece in enumerate(path.pieces):
        rated = (
            "maker’s rating" if piece.continuous_a is not None else "copper wire, 60 K warmer than still air"
        )
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
    )


def wire_link(link_id: str, name: str, awg: float, length_mm: float) -> Link:
    """A pair of leads as a link."""
    limit = wire_continuous_a(awg)
    return Link(
        link_id,
        f"{name}, {awg:g} AWG",
        "wire",
        limit,
        WIRE_BURST_FACTOR * limit,
        lead_pair_resistance_mohm(awg, length_mm),
        "copper wire, 60 K warmer than still air",
    )


def joints(links: Sequence[Link], *, rms_a: float, peak_a: float, brief_peak: bool = True) -> list[Joint]:
    """Each link under the same current. Where the peak lasts over ten seconds the continuous limit holds
    for it too.

    Exactly one link is the weakest, unless none has a rating.
    """
    drawn = [_joint(link, rms_a, peak_a, brief_peak) for link in links]
    sure = [known_loading(link, checks) for link, (checks, _) in zip(links, drawn, strict=True)]
    rated = [k for k, loading in enumerate(sure) if loading is not None]
    weakest = max(rated, key=lambda k: sure[k] or 0.0, default=-1)
    return [
        _finished(links[k], checks, loading, rms_a, peak_a, weakest=k == weakest)
        for k, (checks, loading) in enumerate(drawn)
    ]


def _joint(link: Link, rms_a: float, peak_a: float, brief: bool) -> tuple[tuple[Check, Check], float | None]:
    burst_limit = link.burst_a if brief else link.continuous_a
    why = "burst limit" if brief else "continuous limit, since the peak lasts over 10 s"
    steps = _steps(link, rms_a, peak_a)
    continuous = check_at_most(
        f"{link.id}.continuous",
        f"{link.name}, continuous",
        value=rms_a,
        limit=link.continuous_a,
        unit="A",
        limit_source=link.source,
        steps=steps,
    )
    burst = check_at_most(
        f"{link.id}.burst",
        f"{link.name}, at the peak",
        value=peak_a,
        limit=burst_limit,
        unit="A",
        limit_source=f"{link.source}, {why}",
        steps=steps,
    )
    if link.question:
        continuous, burst = asked(continuous, link.question), asked(burst, link.question)
    elif link.peak_question:
        burst = asked(burst, link.peak_question)
    also = [link.also] if link.also else []
    known = [c.loading for c in (continuous, burst, *also) if c.loading is not None]
    return (continuous, burst), max(known, default=None)


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


def _finished(
    link: Link,
    checks: tuple[Check, Check],
    loading: float | None,
    rms_a: float,
    peak_a: float,
    *,
    weakest: bool,
) -> Joint:
    continuous, burst = checks
    among = [continuous, burst, *([link.also] if link.also else [])]
    leading = max(among, key=lambda c: c.loading or 0.0)
    r = None if link.resistance_mohm is None else link.resistance_mohm / 1000
    return Joint(
        link=link.id,
        name=link.name,
        adapter=link.adapter,
        continuous=continuous,
        burst=burst,
        leading=leading,
        loading=loading,
        drop_v=None if r is None else rms_a * r,
        heat_w=None if r is None else rms_a**2 * r,
        peak_heat_w=None if r is None else peak_a**2 * r,
        weakest=weakest,
        sentence=relief(link, leading, rms_a, peak_a) if weakest else question_of(leading),
        assumed=leading.assumed,
        known_loading=known_loading(link, checks),
    )


def known_loading(link: Link, checks: tuple[Check, Check]) -> float | None:
    """The highest loading among a link's checks of which nothing was assumed; None if there is none."""
    among = [*checks, *([link.also] if link.also else [])]
    return max((c.loading for c in among if not c.assumed and c.loading is not None), default=None)


def question_of(leading: Check) -> str:
    """What a link of which nobody gave the limit asks, where it would be over it."""
    return leading.sentence if leading.assumed and leading.verdict == "unknown" else ""


def relief(link: Link, leading: Check, rms_a: float, peak_a: float) -> str:
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
    if loading <= ROOMY_LOADING:
        return f"{who}, and not strained: {percent(loading)} {when}."
    opening = f"{who}, over its limit" if loading > 1 else who
    return (
        f"{opening} {when}: {percent(loading)}.{_heat(link, rms_a, peak_a, loading)} "
        f"{_cure(link, leading, rms_a, peak_a)}"
    )


def _heat(link: Link, rms_a: float, peak_a: float, loading: float) -> str:
    if link.kind != "plug" or loading <= 1 or link.resistance_mohm is None:
        return ""
    watts, peak_w = (a * a * link.resistance_mohm / 1000 for a in (rms_a, peak_a))
    end = ": enough to melt it" if max(watts, peak_w / 3) > MELTING_W else ""
    return (
        f" It turns {plain_number(watts, 2)} W into heat in the plug, {plain_number(peak_w, 2)} W at "
        f"the peak{end}."
    )


def _cure(link: Link, leading: Check, rms_a: float, peak_a: float) -> str:
    need = (leading.value or 0.0) / ROOMY_LOADING
    good = f"good for {plain_number(need, 2)} A"
    if link.kind == "plug":
        family = family_good_for(rms_a / ROOMY_LOADING, peak_a / ROOMY_LOADING)
        if family is None:
            return f"A plug {good} would carry it."
        share = max(rms_a / family.continuous_a, peak_a / family.burst_a)
        both = "and no adapter" if link.adapter else "on both sides"
        return f"{family.name} {both} ({family.continuous_a:g} A) would bring it to {percent(share)}."
    if link.kind == "wire":
        what = "An adapter with thicker wire" if link.adapter else "Thicker leads"
        return f"{what}, {good}, would bring it to {percent(ROOMY_LOADING)}."
    return f"{'Cells' if link.kind == 'cells' else 'One'} {good} would bring it to {percent(ROOMY_LOADING)}."
