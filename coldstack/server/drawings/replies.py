"""What is drawn, as the API says it. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.drawings.bay import BayDrawing
from coldstack.core.drawings.wired import Wiring
from coldstack.server.api.shapes import shows


@shows(BayDrawing)
class BayOut(BaseModel):
    """A candidate in the bay, and in words what the drawing shows."""

    sentence: str


@shows(Wiring)
class WiringOut(BaseModel):
    """A wiring: its parts, what is plugged into what, the steps, what must not be."""


class WiringsOut(BaseModel):
    """Into the model, and on the charger: null where it cannot be charged, or there is no charger."""

    drive: WiringOut
    charge: WiringOut | None
