"""A day of several models in words: what is run, what is missing, and the way out."""

from __future__ import annotations

from collections.abc import Mapping

from coldstack.core.running.tomorrow.tomorrow import TomorrowPlan
from coldstack.core.running.tomorrow.ways_out import WayOut


def counted(n: int, noun: str) -> str:
    """So many of something, like "3 runs"."""
    return f"{n} {noun}{'' if n == 1 else 's'}"


def on_two_packs(name: str) -> str:
    """Why a model that runs on two packs in series is not planned."""
    return (
        f"{name} runs on two packs in series, which a day does not plan yet: leave it out here, and take its "
        "pairs as the list of packs has them."
    )


def served_for_hours(name: str) -> str:
    """Why no day of runs is planned for equipment."""
    return f"{name} is served by one pack for hours: a day plans runs in turns."


def headline(plan: TomorrowPlan, names: Mapping[str, str]) -> str:
    """What is run with how many packs, what is missing, and how much is to be charged before."""
    runs = len(plan.flights.flights)
    wanted = sum(w.flights for w in plan.day.wanted)
    packs = len({f.pack for f in plan.flights.flights})
    if not wanted:
        return "All of it is done."
    if not runs:
        return "None of it can be run yet."
    missing = ", ".join(f"{n} of {names[m]}" for m, n in plan.short.items())
    words = (
        f"{runs} of {counted(wanted, 'run')}, {missing} missing"
        if missing
        else f"All {counted(wanted, 'run')}"
        if wanted > 1
        else "The run"
    )
    words += f", with {counted(packs, 'pack')}"
    before = len({m.pack.id for p in plan.evening.planned for m in p.batch.members}) if plan.evening else 0
    if before:
        words += f"; {before} to be charged before"
    if plan.flights.charges:
        words += f", {counted(len(plan.flights.charges), 'charge')} there"
    return words + "."


def way_out_words(
    way: WayOut, names: Mapping[str, str], packs: Mapping[str, str], places: Mapping[str, str]
) -> str:
    """What it takes, and what is still missing then."""
    n = way.amount
    words = {
        "hour": f"{'An hour' if n == 1 else f'{n} hours'} more",
        "charger": f"{places.get(way.of, 'One more charger')} taken along",
        "port": f"A port more beside {places.get(way.of, 'the charger')}",
        "energy": f"{n} Wh more in what feeds the chargers",
        "pack": f"{'A pack' if n == 1 else f'{n} packs'} more like {packs.get(way.like, 'those')} for "
        f"{names.get(way.of, 'it')}",
    }[way.lack]
    if way.missing == 0:
        return f"{words}: all of it can be done."
    return f"{words}: {counted(way.missing, 'run')} still missing."
