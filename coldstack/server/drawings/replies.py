"""What is drawn, as the API says it. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.drawings.bay import BayDrawing
from coldstack.core.drawings.cells import ChargerPort, PackDrawing
from coldstack.core.drawings.faces import Contact, Face
from coldstack.core.drawings.soldering import Soldering
from coldstack.core.drawings.wired import Wiring
from coldstack.server.api.shapes import shows


@shows(BayDrawing)
class BayOut(BaseModel):
    """A candidate in the bay, and in words what the drawing shows."""

    sentence: str


@shows(Wiring)
class WiringOut(BaseModel):
    """A wiring: its parts, what is plugged into what, the steps, what must not be."""


@shows(Soldering)
class SolderingOut(BaseModel):
    """A new plug, one wire at a time: what is cut and bare in each step, and what must not be."""


class WiringsOut(BaseModel):
    """Into the model, with the cures by a new plug; and on the charger: null where it cannot be charged, or
    there is no charger. ``tag`` is of the pack of the box that it is, or is two of; null for another."""

    tag: str | None

    drive: WiringOut
    soldering: list[SolderingOut]
    charge: WiringOut | None


class TakenForOut(BaseModel):
    """A family that is taken for another, with the one measure that tells them apart, if a rule does."""

    id: str
    name: str
    telling: str


@shows(Face)
class FaceOut(BaseModel):
    """A family from the front."""

    single: bool
    contacts: list[Contact]


class PlugOut(BaseModel):
    """A family of plugs: its face, null where nobody measured it, and what it is taken for."""

    id: str
    name: str
    face: FaceOut | None
    continuous_a: float
    burst_a: float
    polarity: str
    halves_alike: bool
    mates: list[str]
    alike: list[TakenForOut]


class PlugLikeOut(BaseModel):
    """A family that a plug may be, the likeliest first."""

    id: str
    name: str
    sentence: str


class WhichPlugOut(BaseModel):
    """What it may be; ``sentence`` says how sure that is, and what to measure next."""

    likely: list[PlugLikeOut]
    sentence: str


@shows(PackDrawing)
class PackDrawnOut(BaseModel):
    """A pack as it is: its cells side by side, its balance pins, the ports of chargers owned that it goes
    into."""

    tag: str
    ports: list[ChargerPort]
    chemistry_name: str
    highest_v: float
    lowest_v: float
    """Between which volts a cell of it lives: full, and where the house lands."""
