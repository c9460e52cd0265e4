"""What matching is asked."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.charger import Input
from coldstack.server.sizing.schemas import In, JobIn


class ChargeIn(In):
    """How one would charge: null for the best there is.

    ``cells`` are its volts at rest as typed, if they were read: each cell, or the whole pack.
    """

    charger: str | None = None
    source: Input | None = None
    supply: str | None = None
    ports_in_use: Annotated[int, Field(ge=1, le=16)] = 1
    cells: Annotated[str, Field(max_length=200)] = ""


class MatchIn(In):
    """A pack ("owned:07", "pack:31", or any candidate of sizing) for a job and a charger; null for the owned
    one that fits best."""

    job: JobIn
    pack: Annotated[str, Field(max_length=120)] | None = None
    charge: ChargeIn = ChargeIn()


class GridIn(In):
    """House rules and label trust for the chargers; each model brings its own."""

    house_rules: str = "steady"
    label_trust: LabelTrust = "cautious"
