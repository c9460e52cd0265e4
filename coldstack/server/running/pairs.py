"""Two packs of the box that run together in series, by both their tags: "02+03"."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from coldstack.core.chain.adapters import Adapter
from coldstack.core.fit.fit import fit_of
from coldstack.core.life.now import Permission
from coldstack.core.packs.health import LEVELS
from coldstack.core.readings.cells import example_cells
from coldstack.core.running.pairs import SIGN, in_series, pair_candidate
from coldstack.core.running.reckoned import first_runs
from coldstack.core.sizing.pairs import twins
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import Job
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.now import Standing
from coldstack.server.life.replies import now_fields
from coldstack.server.running import replies as r

_FULLEST = ("too_low", "spent", "stored", "part", "full")


def tags_of(said: str) -> tuple[str, ...]:
    """The tags of one pack, or of two that run together; a tag may itself have a plus in it."""
    if SIGN not in said or OwnedPack.live.filter(tag=said).exists():
        return (said,)
    one, _, other = said.partition(SIGN)
    return one.strip(), other.strip()


def pairs_out(job: Job, along: Sequence[Standing], pieces: tuple[Adapter, ...]) -> list[r.RunPackOut]:
    """Packs alike that this model may run on two by two, with the verdict of both together; where it is told
    to run on two in series, whatever the verdict."""
    found = []
    for i, k in twins([s.pack for s in along]):
        one, other = along[i], along[k]
        e = evaluate(job, pair_candidate(job, one.pack, other.pack, pieces))
        fit = fit_of(e, 0)
        if not (fit.runs or job.runs_on_two):
            continue
        both = in_series(one.pack, other.pack)
        waits = [f"{s.tag}: {s.now.may['run'].why}" for s in (one, other) if s.now.may["run"].why]
        found.append(
            r.RunPackOut(
                **both_now(one, other),
                tag=f"{one.tag}{SIGN}{other.tag}",
                name=both.name,
                pair=[one.tag, other.tag],
                fit=fit.verdict,
                runs=fit.runs,
                minutes=fit.minutes * first_runs(both) if fit.runs else None,
                why=fit.reasons[0].sentence if fit.reasons else "",
                waits=waits[0] if waits else "",
            )
        )
    return found


def both_now(one: Standing, other: Standing) -> dict[str, Any]:
    """The fields of `NowOut` for two together: as full as the emptier, as read as the older reading."""
    a, b = now_fields(one), now_fields(other)
    charges = [x["charge"] for x in (a, b)]
    emptier = None if None in charges else min(charges, key=_FULLEST.index)
    read = all(x["cell_v"] or x["pack_v"] for x in (a, b))
    cells = [*a["cell_v"], *b["cell_v"]] if read and a["cell_v"] and b["cell_v"] else []
    socs = [x["lowest_soc"] for x in (a, b)]
    apart = [x["state"] for x in (a, b) if x["state"] != x["charge"]]
    return {
        **a,
        "state": apart[0] if apart else emptier,
        "charge": emptier,
        "cell_v": cells,
        "pack_v": sum(x["pack_v"] or sum(x["cell_v"]) for x in (a, b)) if read and not cells else None,
        "cells_at": min(a["cells_at"], b["cells_at"]) if read else None,
        "lowest_soc": None if None in socs else min(socs),
        "level": max(a["level"], b["level"], key=LEVELS.index),
        "sign": a["sign"] or b["sign"],
        "bars": a["bars"] or b["bars"],
        "looked_at": None,
        "signs": [],
        "may": {act: _both(a["may"][act], b["may"][act]) for act in a["may"]},
        "example": f" {SIGN} ".join([example_cells(one.pack.chemistry, one.pack.series)] * 2),
        "series": a["series"] + b["series"],
    }


def _both(one: Permission, other: Permission) -> Permission:
    return one if not one.allowed else other
