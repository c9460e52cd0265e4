"""What the API takes and says of house rules."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.packs.health import Level
from coldstack.core.rules.rule_table import Fixed, Rule
from coldstack.core.working import Working
from coldstack.server.sizing.schemas import In

SetId = Annotated[str, Field(max_length=60)]


class SetOut(BaseModel):
    """A set with every value, and which version of it this is; ``starting`` are those of the set it came
    from, ``used_by`` who goes by it."""

    id: str
    name: str
    why: str
    who_differs: str
    own: bool
    base: str
    base_name: str
    values: dict[str, float]
    starting: dict[str, float]
    used_by: list[str]
    version: str


class RulesOut(BaseModel):
    """All sets and rules; ``house`` is the set by which the shelf is kept."""

    sets: list[SetOut]
    rules: list[Rule]
    fixed: list[Fixed]
    house: str


class SetIn(In):
    """A set's values: every rule or some; the others are as in the set it came from.

    Names are for own sets.
    """

    values: Annotated[dict[str, float], Field(max_length=60)]
    name: Annotated[str, Field(min_length=1, max_length=40)] | None = None
    note: Annotated[str, Field(max_length=200)] | None = None


class NewSetIn(In):
    """A set of one's own, as a copy of another."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    copy_of: SetId = "steady"


class HouseIn(In):
    """Which set the house goes by."""

    house_rules: SetId


class EffectOut(BaseModel):
    """What follows a set, here and now: a run, the bench, the shelf."""

    timer: str
    timer_working: Working | None
    alarm_cell_v: float | None
    budget_mah: float | None
    batches: list[str]
    due: list[str]
    overdue: list[str]
    verdicts: dict[Level, list[str]]


class EffectsOut(BaseModel):
    """With the set as it is, and as it came."""

    model: str
    pack: str
    now: EffectOut
    starting: EffectOut
