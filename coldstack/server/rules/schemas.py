"""What the API takes and says of house rules."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from coldstack.core.keeping.place import Container
from coldstack.core.rules.rule_table import Group, RuleKind
from coldstack.server.sizing.replies import CautionOut, WorkingOut
from coldstack.server.sizing.schemas import In

SetId = Annotated[str, Field(max_length=60)]


class RuleOut(BaseModel):
    """A rule: what may be set, why it exists, who does otherwise, what follows it."""

    id: str
    group: Group
    name: str
    kind: RuleKind
    low: float
    high: float
    step: float
    why: str
    who_differs: str
    follows: str


class FixedOut(BaseModel):
    """What no set changes."""

    name: str
    why: str
    who_differs: str


class SetOut(BaseModel):
    """A set with every value; ``starting`` are those of the set it came from, ``used_by`` who goes by it."""

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


class RulesOut(BaseModel):
    """All sets and rules; ``house`` is the set by which the shelf is kept."""

    sets: list[SetOut]
    rules: list[RuleOut]
    fixed: list[FixedOut]
    house: str


class SetIn(In):
    """A set's values: every rule or some; the others are as in the set it came from. Names are for own sets."""

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


class PlaceIn(In):
    """Where packs lie, how warm it is there now and at the hottest, and in what."""

    place: Annotated[str, Field(max_length=60)] = ""
    now_c: Annotated[float, Field(ge=-60, le=90)] | None = None
    hottest_c: Annotated[float, Field(ge=-60, le=90)] | None = None
    container: Container = ""


class PlaceOut(BaseModel):
    """The same, with what to mind there."""

    place: str
    now_c: float | None
    hottest_c: float | None
    container: Container
    sentence: str
    cautions: list[CautionOut]


class SafetySectionOut(BaseModel):
    """Cautions for one moment."""

    id: str
    title: str
    cautions: list[CautionOut]


class SafetyOut(BaseModel):
    """The safety page; ``advice`` says who comes first."""

    sections: list[SafetySectionOut]
    advice: str


class EffectOut(BaseModel):
    """What follows a set, here and now: a run, the bench, the shelf."""

    timer: str
    timer_working: WorkingOut | None
    alarm_cell_v: float | None
    budget_mah: float | None
    batches: list[str]
    due: list[str]
    overdue: list[str]
    verdicts: dict[Literal["fine", "watch", "light", "retire"], list[str]]


class EffectsOut(BaseModel):
    """With the set as it is, and as it came."""

    model: str
    pack: str
    now: EffectOut
    starting: EffectOut
