"""The draw by estimate, held against what a model's runs say, and the setup on other cells."""

from __future__ import annotations

from dataclasses import asdict

from pydantic import BaseModel

from coldstack.core.describing.estimated import Against, against, estimated_draw, estimated_figures, kind_of
from coldstack.core.describing.evidence import Drawn
from coldstack.core.describing.other_cells import OtherCells, other_cells
from coldstack.core.describing.pieces import Estimate
from coldstack.server.gear.models import RcModel
from coldstack.server.running.go import learned_of
from coldstack.server.sizing import schemas as s
from coldstack.server.sizing.assemble import job_of


class PieceOut(BaseModel):
    """One piece of evidence of a current: in words, its median and where nine in ten lie."""

    words: str
    median_a: float
    low_a: float
    high_a: float


class CurrentOut(BaseModel):
    """A current by estimate: its median, where nine in ten lie, and by what."""

    median_a: float
    low_a: float
    high_a: float
    pieces: list[PieceOut]


class EstimateOut(BaseModel):
    """What a model draws by estimate, and that as a job holds it (``draw``); how it stands against its runs
    (``logged``) and against what a meter told (``measured``); ``off_by`` what its runs drew over an earlier
    one, which this starts from; ``cells`` the setup on other cells. ``none`` says why there is none."""

    kind: str
    average: CurrentOut | None
    peak: CurrentOut | None
    draw: s.DrawIn | None
    logged: Against | None
    measured: Against | None
    off_by: float | None
    cells: list[OtherCells]
    none: str


NO_DRAW = "Its load is told, not estimated."
NO_PACK = "Say what it runs on now, and its draw is estimated for that."
ESTIMATED = "without a meter"
MEASURED = ("measured", "log")


def estimate_out(data: s.EstimateIn) -> EstimateOut:
    """The estimate for a job, and for a kept model how far off it is from its runs."""
    job = job_of(data.job)
    drawn = estimated_draw(job)
    if drawn is None:
        return EstimateOut(
            kind=kind_of(job),
            average=None,
            peak=None,
            draw=None,
            logged=None,
            measured=None,
            off_by=None,
            cells=[],
            none=NO_PACK if job.equipment is None else NO_DRAW,
        )
    raw = estimated_draw(job, corrected=False)
    assert raw is not None
    figures, true_for = estimated_figures(job, drawn)
    measured = None
    if data.job.draw.source in MEASURED:
        measured = against(raw, job.duty.average_current_a, "its meter")
    return EstimateOut(
        kind=kind_of(job),
        average=_current(drawn.average),
        peak=None if drawn.peak is None else _current(drawn.peak),
        draw=s.DrawIn(source="estimate", source_note=ESTIMATED, **asdict(figures), **asdict(true_for)),
        logged=_logged(data.model, raw),
        measured=measured,
        off_by=job.propulsion.off_by,
        cells=list(other_cells(job)),
        none="",
    )


def _current(e: Estimate) -> CurrentOut:
    pieces = [
        PieceOut(words=p.words, median_a=p.median_a, low_a=alone.low_a, high_a=alone.high_a)
        for p in sorted(e.pieces, key=lambda p: p.sigma)
        for alone in [Estimate((p,))]
    ]
    return CurrentOut(median_a=e.median_a, low_a=e.low_a, high_a=e.high_a, pieces=pieces)


def _logged(slug: str | None, drawn: Drawn) -> Against | None:
    model = RcModel.live.filter(slug=slug).first() if slug else None
    found = learned_of(model) if model else None
    if found is None:
        return None
    return against(drawn, found.average_a, f"its {found.count} runs")
