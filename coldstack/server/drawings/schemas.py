"""What drawings are asked of."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from coldstack.core.chain.plugs import ContactShape
from coldstack.server.matching.schemas import ChargeIn
from coldstack.server.sizing.schemas import In, JobIn

CandidateId = Annotated[str, Field(max_length=120)]


class BaysIn(In):
    """Up to four candidates in the model's bay. ``at_mm`` is where somebody puts the middle of the first;
    null for where it balances best. ``leads_ahead``: with their leads to the nose."""

    job: JobIn
    packs: Annotated[list[CandidateId], Field(min_length=1, max_length=4)]
    at_mm: Annotated[float, Field(ge=-100_000, le=100_000)] | None = None
    leads_ahead: bool = False


class WiringIn(In):
    """A pack wired into its model and to a charger, as `/match` is asked."""

    job: JobIn
    pack: CandidateId | None = None
    charge: ChargeIn = ChargeIn()


Millimetres = Annotated[float, Field(gt=0, le=200)]


class WhichPlugIn(In):
    """What was seen of a plug and measured with a rule; null for what was not. ``mates_with`` is the id of a
    family that it must go into."""

    shape: ContactShape | None = None
    single: bool | None = None
    contact_mm: Millimetres | None = None
    apart_mm: Millimetres | None = None
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None
    mates_with: Annotated[str, Field(max_length=40)] | None = None
