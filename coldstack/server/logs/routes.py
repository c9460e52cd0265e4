"""Logs: looked at, read, and their columns remembered. Of the samples nothing is kept."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile
from pydantic import ValidationError

from coldstack.core.draw.motion import MotionId, motion_of
from coldstack.core.errors import DomainError
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.logs import schemas as s
from coldstack.server.logs.reading import log_out, remember

LARGEST_LOG_BYTES = 64 * 1024 * 1024
router = Router(tags=["logs"])


@router.post(
    "/draw/log", response={200: s.LogOut, 422: Problem, 400: Problem}, summary="Read a watt-meter log"
)
def draw_log(
    request: HttpRequest,
    log: File[UploadedFile],
    motion: Form[MotionId] = "level_flight",
    chosen: Form[str] = "",
) -> s.LogOut:
    """Columns recognised, or as ``chosen`` (JSON in the shape of a choice); average, RMS, peak and phases
    found once nothing is missing. Nothing is kept: the screen shows it first."""
    if (log.size or 0) > LARGEST_LOG_BYTES:
        raise DomainError("log", f"The file has {(log.size or 0) / 1e6:.0f} MB; at most 64 MB can be read.")
    return log_out(log.read(), motion_of(motion), _chosen(chosen))


@router.put(
    "/draw/log-shape",
    response={204: None, 403: Problem, 422: Problem, 400: Problem},
    auth=FromOurPage(),
    summary="Remember a log’s columns",
)
def keep_shape(request: HttpRequest, data: s.ShapeIn) -> Status[None]:
    """The next file that looks alike is read by it."""
    remember(data)
    return Status(204, None)


def _chosen(text: str) -> s.ChosenIn | None:
    if not text:
        return None
    try:
        return s.ChosenIn.model_validate_json(text)
    except ValidationError:
        raise DomainError("log", "The choice of columns is not understood.") from None
