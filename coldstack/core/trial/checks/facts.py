"""What speaks against a pack in a model without a number: its plug, its health, a cut-off that does not
know it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS, Chemistry
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.trial.candidates import Bools, Candidates
from coldstack.core.trial.checks.spec import HOLDS_AGAINST, CheckColumn, Miss, Spec
from coldstack.core.trial.job import Job

Words = Callable[[Job, Candidates, int], str]
CUTOFF_APART_V = 0.15
"""A cut-off that is set so far from what a pack needs, a cell, has to be set anew. House figure."""


def unfit_words(pack: Pack) -> str:
    """Why a pack is out of use."""
    return f"it is marked unfit ({pack.note})" if pack.note else "it is marked unfit"


def _unfit(_job: Job, c: Candidates, row: int) -> str:
    pack = c.packs[row]
    return unfit_words(pack) if pack else ""


def _light(_job: Job, c: Candidates, row: int) -> str:
    return f"light duty only, by its health: {_sign(c, row)}"


def _watched(_job: Job, c: Candidates, row: int) -> str:
    return _sign(c, row)


def _sign(c: Candidates, row: int) -> str:
    pack = c.packs[row]
    sign = pack.today.sign if pack and pack.today else ""
    return f"{sign[:1].lower()}{sign[1:]}".rstrip(".") if sign else "its health is to be watched"


def _plugs(_job: Job, c: Candidates, row: int) -> str:
    way = c.ways[row]
    return way.meeting.sentence.rstrip(".") if way else ""


def _cutoff(job: Job, c: Candidates, row: int) -> str:
    return cutoff_words(job, CHEMISTRY_IDS[int(c.chemistry_index[row])], int(c.series[row]))


def cutoff_words(job: Job, chemistry_id: str, series: int) -> str:
    """What to set, where the controller's cut-off does not know these cells."""
    if job.electronics.cutoff == "none":
        return (
            "this controller does not stop by itself; fit an alarm on the balance lead, stop when it sounds"
        )
    volts = for_chemistry(job.rules, chemistry_id).cutoff_v
    cell, now = CHEMISTRIES[chemistry_id], job.now
    of_now = f"it is set for {CHEMISTRIES[now.chemistry].name} now; " if now else ""
    return (
        f"the cut-off does not know {cell.name}: {of_now}set it to {series * volts:.1f} V, {volts:.2f} V a "
        "cell, or fit an alarm on the balance lead"
    )


def _fact(fact_id: str, title: str, words: Words, gives: str, *, short: str, where: str) -> Spec:
    def lacks(m: Miss) -> str:
        return words(m.job, m.candidates, m.row)

    return Spec(fact_id, title, "", lacks, gives, short=short, where=where, fact=True)


UNFIT = _fact("pack.unfit", "Fit to be used", _unfit, "the pack itself", short="unfit", where="pack.fit")
LIGHT = _fact("pack.light", "Health", _light, "the pack itself", short="light duty", where="pack")
WATCHED = replace(
    _fact("pack.watch", "Health", _watched, "the pack itself", short="watch it", where="pack"), required=False
)
PLUGS = _fact("plug.mates", "Plugs", _plugs, "the plug", short="other plug", where="pack.plug")
PLUGS_TO_BUY = replace(PLUGS, id="plug.other", required=False)
CUTOFF = replace(
    _fact("cutoff.knows", "Cut-off", _cutoff, "the cut-off", short="cut-off", where="electronics.cutoff"),
    required=False,
)


def fact_columns(job: Job, c: Candidates) -> Iterator[CheckColumn]:
    """Each fact beside whom it speaks against; left out where it speaks against nobody."""
    mine = ~(c.is_kind("sold") | c.is_kind("joined"))
    apart, unfit, light, watched = (np.zeros(len(c), bool) for _ in range(4))
    for k, (p, way) in enumerate(zip(c.packs, c.ways, strict=True)):
        if p is None:
            continue
        if way is not None and way.path is None:
            apart[k] = True
        if not p.fit:
            unfit[k] = True
        elif p.owned and p.today is not None:
            light[k] = p.level == "light"
            watched[k] = p.level in ("watch", "again")
    for spec, against, words, source in (
        (UNFIT, unfit, _unfit, "what was noted of it"),
        (replace(LIGHT, required=job.flies), light & ~unfit, _light, job.rules.cited),
        (WATCHED, watched & ~unfit, _watched, job.rules.cited),
        (PLUGS, apart & mine, _plugs, "which plugs mate, and what is owned"),
        (PLUGS_TO_BUY, apart & ~mine, _plugs, "which plugs mate, and what is owned"),
        (CUTOFF, _unknown_to_cutoff(job, c), _cutoff, "controller"),
    ):
        if against.any():
            value, limit = np.where(against, HOLDS_AGAINST, 0.0), np.ones(len(c))
            yield CheckColumn(spec, value, limit, source, told=partial(words, job, c))


def _unknown_to_cutoff(job: Job, c: Candidates) -> Bools:
    """For which candidates the controller does not stop in time as it is set now."""
    by_chemistry = np.array([_is_unknown(job, cell) for cell in CHEMISTRIES.values()], dtype=bool)
    return np.asarray(by_chemistry[c.chemistry_index])


def _is_unknown(job: Job, cell: Chemistry) -> bool:
    if cell.charge_method != "cc_cv":
        return False
    if job.equipment is not None:
        return False
    if job.electronics.cutoff == "none":
        return True
    if job.now is None or job.now.chemistry == cell.id:
        return False
    if CHEMISTRIES[job.now.chemistry].charge_method != cell.charge_method:
        return True
    apart = for_chemistry(job.rules, cell.id).cutoff_v - for_chemistry(job.rules, job.now.chemistry).cutoff_v
    return abs(apart) > CUTOFF_APART_V
