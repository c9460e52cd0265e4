"""Logs: looked at, read, and their columns remembered. Of the samples nothing is kept."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile
from pydantic import ValidationError

from coldstack.core.draw.motion import MotionId, motion_of
from coldstack.core.errors import DomainError, require_between
from coldstack.server.api.errors import Problem
from coldstack.server.gear.schemas import ChangeOut
from coldstack.server.logs import schemas as s
from coldstack.server.logs.reading import log_out, remember
from coldstack.server.logs.teaching import keep_learnt, taught_out

LARGEST_LOG_BYTES = 64 * 1024 * 1024
router = Router(tags=["logs"])


@router.post(
    "/draw/log",
    auth=None,
    response={200: s.LogOut, 422: Problem, 400: Problem},
    summary="Read a watt-meter log",
)
def draw_log(
    request: HttpRequest,
    log: File[UploadedFile],
    motion: Form[MotionId] = "level_flight",
    chosen: Form[str] = "",
) -> s.LogOut:
    """Columns recognised, or as ``chosen`` (JSON in the shape of a choice); average, RMS, peak and phases
    found once nothing is missing. Nothing is kept: the screen shows it first."""
    return log_out(_bytes(log), motion_of(motion), _chosen(chosen))


@router.post(
    "/draw/log/teach",
    auth=None,
    response={200: s.LogFitOut, 422: Problem, 400: Problem},
    summary="What a log teaches of a pack",
)
def teach(
    request: HttpRequest,
    log: File[UploadedFile],
    pack: Form[str],
    chosen: Form[str] = "",
    air_c: Form[float] = 20.0,
) -> s.LogFitOut:
    """R0, slow part and true capacity of the pack with this tag, with their uncertainty. Nothing is kept."""
    require_between("air_c", "Air", air_c, low=-40, high=60, unit="°C")
    return taught_out(_bytes(log), _chosen(chosen), pack[:12], log.name or "a log", air_c)


@router.put(
    "/keep/packs/{path:tag}/learnt",
    response={200: ChangeOut, frozenset({400, 403, 404, 422}): Problem},
    summary="Keep what a log taught of a pack, or forget it",
)
def keep_taught(request: HttpRequest, tag: str, data: s.KeepFindingsIn) -> ChangeOut:
    """Can be undone as any change of gear."""
    change = keep_learnt(tag, data.learnt)
    return ChangeOut.of(change)


@router.put(
    "/draw/log-shape",
    response={204: None, 403: Problem, 422: Problem, 400: Problem},
    summary="Remember a log’s columns",
)
def keep_shape(request: HttpRequest, data: s.ShapeIn) -> Status[None]:
    """The next file that looks alike is read by it."""
    remember(data)
    return Status(204, None)


def _bytes(log: UploadedFile) -> bytes:
    if (log.size or 0) > LARGEST_LOG_BYTES:
        raise DomainError("log", f"The file has {(log.size or 0) / 1e6:.0f} MB; at most 64 MB can be read.")
    return bytes(log.read())


def _chosen(text: str) -> s.ChosenIn | None:
    if not text:
        return None
    try:
        return s.ChosenIn.model_validate_json(text)
    except ValidationError:
        raise DomainError("log", "The choice of columns is not understood.") from None
