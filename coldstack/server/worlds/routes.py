"""Which world this is, the way to the other, and a backup brought into an empty one."""

from __future__ import annotations

from typing import Literal

from django.conf import settings
from django.http import HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import BaseModel

from coldstack.server.api.errors import Problem
from coldstack.server.config.paths import World
from coldstack.server.gear.changes import world_mark
from coldstack.server.gear.models import RcModel
from coldstack.server.pairing.gate import Hands, hands_of
from coldstack.server.sizing.schemas import In
from coldstack.server.worlds.backup import is_empty, restore_here
from coldstack.server.worlds.opening import open_world

router = Router(tags=["program"])
REFUSALS = frozenset({400, 403, 422})


class WorldOut(BaseModel):
    """The world one is in; ``models`` counts its models, ``empty`` says that nothing at all was kept
    in it yet. ``hands`` says whose these are: at this machine, or a phone's."""

    world: Literal["own", "demo"]
    models: int
    empty: bool
    hands: Hands


class MarkOut(BaseModel):
    """A mark of all that is stored: another one after any write."""

    mark: str


class OpenIn(In):
    """The world to go to."""

    world: World


class OpenedOut(BaseModel):
    """Where a world answers."""

    address: str


class RestoredOut(BaseModel):
    """What a backup brought."""

    models: int


@router.get("/world", response=WorldOut, summary="Which world this is")
def which(request: HttpRequest) -> WorldOut:
    """One's own, or the demo's, which is apart from it."""
    return WorldOut(
        world=settings.WORLD, models=RcModel.live.count(), empty=is_empty(), hands=hands_of(request)
    )


@router.get("/world/mark", response=MarkOut, summary="Whether anything was written")
def mark(request: HttpRequest) -> MarkOut:
    """Compared with the one before: a page that comes to the front asks anew where it differs."""
    return MarkOut(mark=world_mark())


@router.post("/world/open", response={200: OpenedOut, REFUSALS: Problem}, summary="Go to a world")
def go_to(request: HttpRequest, data: OpenIn) -> OpenedOut:
    """The address of the other world's server, started if it does not run."""
    return OpenedOut(address=open_world(data.world, to_phone=hands_of(request) != "here"))


@router.post(
    "/files/restore",
    response={200: RestoredOut, REFUSALS: Problem},
    summary="Bring a backup",
)
def bring_backup(request: HttpRequest, file: File[UploadedFile]) -> RestoredOut:
    """Everything of a backup, into a world in which nothing was kept yet."""
    restore_here(file.read())
    return RestoredOut(models=RcModel.live.count())
