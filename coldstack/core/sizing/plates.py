"""The stack: each link of the chain as a plate, the weakest with a sentence on what limits it and what
relieves it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from coldstack.core.chain.joints import cure_words, question_of, ratings_words
from coldstack.core.chain.own_plugs import plug_at
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import wire_continuous_a
from coldstack.core.checks import Check
from coldstack.core.trial.checks.link_specs import BURST, CONTINUOUS, LINKS, of_several
from coldstack.core.trial.checks.spec import PlatePart
from coldstack.core.trial.evaluate import Evaluation, warming_of
from coldstack.core.units import percent, upper_first


@dataclass(frozen=True, slots=True)
class Plate:
    """One link: its continuous and burst check, the rest (temperature), and the sentence if it is the
    weakest."""

    link: str
    name: str
    continuous: Check
    burst: Check
    leading: Check
    """The most loaded of its checks; for the cells their temperature counts too."""
    loading: float | None
    weakest: bool
    sentence: str
    assumed: bool = False
    ratings: str = ""
    """What a plug or lead that is judged by its warmth carries of its ratings, in words."""
    """Nobody gave the limit that counts: it asks where it would be over."""


def plates(e: Evaluation, row: int) -> list[Plate]:
    """The links of one candidate from cells to motor.

    Exactly one is the weakest, unless no link has a rating.
    """
    found = {link: _checked(e, row, link) for link in LINKS}
    found = {k: x for k, x in found.items() if x and any(c.limit != math.inf for _, c in x)}
    leading = {k: max(_counted(x), key=lambda p: p[1].loading or 0.0) for k, x in found.items()}
    rated = [k for k, (_, check) in leading.items() if check.loading is not None and not check.assumed]
    weakest = max(rated, key=lambda k: leading[k][1].loading or 0.0, default="")
    return [
        Plate(
            link=k,
            name=_name(e, row, k),
            continuous=next(c for _, c in found[k] if c.id == f"{k}.{CONTINUOUS.key}"),
            burst=next(c for _, c in found[k] if c.id == f"{k}.{BURST.key}"),
            leading=check,
            loading=check.loading,
            weakest=k == weakest,
            sentence=_relief(e, row, part, check) if k == weakest else question_of(check),
            assumed=check.assumed,
            ratings=_ratings(found[k], k) if check.unit == "K" else "",
        )
        for k, (part, check) in leading.items()
    ]


def _counted(found: list[tuple[PlatePart, Check]]) -> list[tuple[PlatePart, Check]]:
    """The checks that judge a link: of what warms its warmth alone, its ratings stay in sight."""
    return [x for x in found if x[1].unit == "K"] or found


def _ratings(found: list[tuple[PlatePart, Check]], link: str) -> str:
    of_id = {c.id: c for _, c in found}
    return ratings_words(of_id[f"{link}.{CONTINUOUS.key}"], of_id[f"{link}.{BURST.key}"])


def _checked(e: Evaluation, row: int, link: str) -> list[tuple[PlatePart, Check]]:
    return [
        (part, column.check(row, part.steps(e.discharge, row)))
        for column in e.checks
        if (part := column.spec.plate) and part.link == link
    ]


def _relief(e: Evaluation, row: int, part: PlatePart, check: Check) -> str:
    loading = check.loading or 0.0
    if loading <= part.roomy:
        return f"The weakest link, and not strained: {percent(loading)} {part.moment}."
    opening = "Over its limit" if loading > 1 else "The weakest link"
    today = next((x for x in e.checks if x.id == check.id and x.borne[row]), None)
    bears = " It runs so today: look at it after a run." if today and loading > 1 else ""
    cure = f" {cure_words(part.link, warming_of(e, row))}" if check.unit == "K" else ""
    return f"{opening} {part.moment}{part.relief(check)}{bears}{cure}"


def _name(e: Evaluation, row: int, link: str) -> str:
    c, electronics = e.candidates, e.job.electronics
    if link == "cells":
        strings = int(c.parallel[row])
        return f"Cells, {int(c.series[row])}S" + (f"{strings}P" if strings > 1 else "")
    if link == "leads":
        own_a, model_a = float(c.lead_continuous_a[row]), wire_continuous_a(electronics.lead_awg)
        if model_a < own_a:
            return f"Model’s leads, {electronics.lead_awg:g} AWG"
        return f"Leads, {c.kind(row).leads}{c.lead_awg[row]:g} AWG"
    if link == "adapter":
        way = e.candidates.ways[row]
        return upper_first(way.path.names) if way and way.path else "Adapter"
    if link == "plug":
        own = plug_at(int(c.plug_index[row]))
        model = plug_family(electronics.plug)
        same = own == model or e.job.is_assumed("electronics.plug")
        return f"Plug, {own.name}" if same else f"Plug, {own.name} (model: {model.name})"
    return of_several(link.capitalize(), electronics.sharing(link))
