"""The stack: each link of the chain as a plate, the weakest with a sentence on what limits it and what relieves it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.chain.joints import question_of
from coldstack.core.chain.own_plugs import plug_at
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import wire_continuous_a
from coldstack.core.checks import Check
from coldstack.core.sizing.columns import HOTTEST_CELL_C, WARM_CELL_C, of_several
from coldstack.core.sizing.evaluate import Evaluation
from coldstack.core.units import percent, plain_number
from coldstack.core.working import Step

LINK_ORDER = ("cells", "leads", "plug", "controller", "motor")
ROOMY_LOADING = 0.7
"""What a relief should bring the link down to. House figure."""


@dataclass(frozen=True, slots=True)
class Plate:
    """One link: its continuous and burst check, the rest (temperature), and the sentence if it is the weakest."""

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
    """Nobody gave the limit that counts: it asks where it would be over."""


def plates(e: Evaluation, row: int) -> list[Plate]:
    """The links of one candidate from cells to motor. Exactly one is the weakest, unless no link has a rating."""
    checks = {c.id: c.check(row, _steps(e, row, c.id)) for c in e.checks if c.is_link}
    links = [k for k in LINK_ORDER if f"{k}.continuous" in checks]
    loadings = {k: _link_loading(checks, k) for k in links}
    leading = {k: _leading(checks, k) for k in links}
    rated = [k for k in links if loadings[k] is not None and not leading[k].assumed]
    weakest = max(rated, key=lambda k: loadings[k] or 0.0, default="")
    return [
        Plate(
            link=k,
            name=_name(e, row, k),
            continuous=checks[f"{k}.continuous"],
            burst=checks[f"{k}.burst"],
            leading=leading[k],
            loading=loadings[k],
            weakest=k == weakest,
            sentence=_relief(checks, k, e, row) if k == weakest else question_of(leading[k]),
            assumed=leading[k].assumed,
        )
        for k in links
    ]


def _link_loading(checks: dict[str, Check], link: str) -> float | None:
    known = [c.loading for c in checks.values() if c.id.startswith(f"{link}.") and c.loading is not None]  # fmt: skip
    return max(known) if known else None


def _leading(checks: dict[str, Check], link: str) -> Check:
    return max((c for c in checks.values() if c.id.startswith(f"{link}.")), key=lambda c: c.loading or 0.0)


def _name(e: Evaluation, row: int, link: str) -> str:
    c, electronics = e.candidates, e.job.electronics
    if link == "cells":
        strings = int(c.parallel[row])
        return f"Cells, {int(c.series[row])}S" + (f"{strings}P" if strings > 1 else "")
    if link == "leads":
        own_a, model_a = float(c.lead_continuous_a[row]), wire_continuous_a(electronics.lead_awg)
        if model_a < own_a:
            return f"Model’s leads, {electronics.lead_awg:g} AWG"
        pair = "2 × " if c.kinds[row] == "parallel pair" else ""
        return f"Leads, {pair}{c.lead_awg[row]:g} AWG"
    if link == "plug":
        own = plug_at(int(c.plug_index[row]))
        model = plug_family(electronics.plug)
        return f"Plug, {own.name}" if own == model else f"Plug, {own.name} (model: {model.name})"
    return of_several(link.capitalize(), electronics.sharing(link))


def _steps(e: Evaluation, row: int, check_id: str) -> tuple[Step, ...]:
    d, n = e.discharge, plain_number
    if check_id.endswith(".continuous"):
        return (
            Step(
                "Current that heats",
                "√(mean of I²) over the run",
                f"{n(float(d.rms_current_a[row]))} A",
                "RMS, because heat goes with the square of the current",
            ),
            *_shared(e, check_id),
        )
    if check_id.endswith(".burst"):
        return (
            Step(
                "Largest current",
                "peak phase at the pack’s own volts under load",
                f"{n(float(d.peak_current_a[row]))} A",
            ),
            *_shared(e, check_id),
        )
    return (Step("Heat", "I²·R0 + v²/R1, less what the bay sheds", f"{n(float(d.heat_wh[row]))} Wh over the run"),)  # fmt: skip


def _shared(e: Evaluation, check_id: str) -> tuple[Step, ...]:
    count = e.job.electronics.sharing(check_id.split(".")[0])
    if count <= 1:
        return ()
    return (Step("Shared", "÷ number", f"÷ {count}", "each is taken to carry the same"),)


def _relief(checks: dict[str, Check], link: str, e: Evaluation, row: int) -> str:
    worst = _leading(checks, link)
    loading, value, n = worst.loading or 0.0, worst.value or 0.0, plain_number
    when = {"burst": "at the peak", "continuous": "all the time", "temperature": "when landing"}[
        worst.id.split(".")[1]
    ]
    roomy = WARM_CELL_C / HOTTEST_CELL_C if worst.id == "cells.temperature" else ROOMY_LOADING
    if loading <= roomy:
        return f"The weakest link, and not strained: {percent(loading)} {when}."
    opening = "Over its limit" if loading > 1 else "The weakest link"
    if worst.id == "cells.temperature":
        return (
            f"{opening} {when}: {n(value)} °C of 60 °C. More capacity, more C or moving air keeps it cooler."
        )
    need = np.ceil(value / ROOMY_LOADING)
    cure = {
        "cells": f"Cells good for {n(need)} A would bring it to {percent(value / need)}.",
        "leads": f"Thicker leads, good for {n(need)} A, would bring it to {percent(value / need)}.",
        "plug": f"A plug good for {n(need)} A would bring it to {percent(value / need)}.",
        "controller": f"One of {n(need)} A would bring it to {percent(value / need)}.",
        "motor": f"A motor good for {n(need)} A, or less propeller, would bring it to {percent(value / need)}.",
    }[link]
    return f"{opening} {when}, {percent(loading)}. {cure}"
