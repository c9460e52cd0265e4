"""What drawings are asked of."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from coldstack.server.matching.schemas import ChargeIn
from coldstack.server.sizing.schemas import In, JobIn

CandidateId = Annotated[str, Field(max_length=120)]


class BaysIn(In):
    """Up to four candidates in the model's bay. ``at_mm`` is where somebody puts the middle of the first;
    null for where it balances best."""

    job: JobIn
    packs: Annotated[list[CandidateId], Field(min_length=1, max_length=4)]
    at_mm: Annotated[float, Field(ge=-100_000, le=100_000)] | None = None


class WiringIn(In):
    """A pack wired into its model and to a charger, as `/match` is asked."""

    job: JobIn
    pack: CandidateId | None = None
    charge: ChargeIn = ChargeIn()
