"""Whether a pack fits a model, in a word and a sentence, and what the model forbids."""

from __future__ import annotations

from typing import Literal

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.chain.adapters import Path
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.job import Job
from coldstack.core.trial.wording import lack, size_unknown
from coldstack.core.units import percent, plain_number

FitVerdict = Literal["fits", "with", "no"]


def window_question(job: Job, chemistry_id: str, series: int) -> str:
    """What to ask before a pack of more volts than it runs on now goes into a model whose rating nobody
    gave; empty if there is none.

    Sizing offers no such pack; here one is held in the hand, and one cell too many burns a controller.
    """
    full_v, e = chemistry(chemistry_id).full_v * series, job.electronics
    if not job.is_assumed("electronics.max_v") or round(full_v, 6) <= e.max_v + 1e-6:
        return ""
    return (
        f"{plain_number(full_v)} V fresh off the charger is more than it runs on now "
        f"({plain_number(e.max_v)} V), and nobody said what the controller may see"
    )


def fit_verdict(
    path: Path | None,
    over: tuple[float, str] | None,
    lacks: list[str],
    short_of: list[str],
    plugs: str,
    unknown: str = "",
) -> tuple[FitVerdict, str]:
    """Fits, fits with adapters, or not, in one sentence.

    ``over`` is the loading and name of the worst overloaded link, ``lacks`` what the model forbids,
    ``short_of`` what the owner only wishes: too few minutes do not make a pack unfit for a model.
    ``unknown`` is what keeps one from saying that it fits.
    """
    how = f"with {path.names}" if path is not None and path.pieces else "as it is"
    reasons = [*lacks, *([plugs.rstrip(".")] if path is None else [])]
    too_much = (
        f"too much for {_article(over[1])}: {percent(over[0])} of its limit" if over is not None else ""
    )
    if path is None or reasons:
        return (
            "no",
            f"Does not fit: {'; '.join([*reasons, *([too_much] if too_much and path is not None else [])])}.",
        )
    if too_much:
        return "no", f"Plugs in {how}, but is {too_much}."
    wishes = f", but {'; '.join(short_of)}" if short_of else ""
    if unknown:
        return "with" if path.pieces else "fits", f"Fits {how} as far as is known: {unknown}{wishes}."
    return "with" if path.pieces else "fits", f"Fits {how}{wishes}."


def lacks_and_wishes(e: Evaluation, row: int) -> tuple[list[str], list[str]]:
    """What the model or its electronics forbid, and what its owner's wishes miss; links of the chain speak
    for themselves."""
    wished = [k for k in e.failing(row) if e.checks[k].spec.wish]
    c = e.candidates
    asks = window_question(e.job, CHEMISTRY_IDS[int(c.chemistry_index[row])], int(c.series[row]))
    lacks = [*([asks] if asks else []), *(lack(e, k, row) for k in forbidden_by(e, row))]
    return lacks, [lack(e, k, row) for k in wished]


def forbidden_by(e: Evaluation, row: int) -> list[int]:
    """Positions of the checks by which the model or its electronics forbid a pack, the worst first."""
    return [k for k in e.failing(row) if not e.checks[k].is_link and not e.checks[k].spec.wish]


def unknown_words(job: Job, c: Candidates, pack: Pack, row: int = 0) -> str:
    """What nobody said that a fit hangs on, in words; empty where all is known."""
    plug = "plug assumed" if "plug" in pack.assumed or job.is_assumed("electronics.plug") else ""
    return ", ".join(x for x in (size_unknown(job, c, row), plug) if x)


def _article(name: str) -> str:
    return f"the {name[0].lower()}{name[1:]}"


def unfit_words(pack: Pack) -> str:
    """Why a pack is out of use."""
    return f"it is marked unfit ({pack.note})" if pack.note else "it is marked unfit"
