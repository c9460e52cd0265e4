"""What a task is asked by, and how it is answered."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StrictFloat, StrictInt, StrictStr

from coldstack.core.practice.practice import MOST_SEED
from coldstack.core.practice.task import Level
from coldstack.server.api.versions import ANY
from coldstack.server.practice.memory import MOST_STEPS
from coldstack.server.sizing.schemas import In

Word = Annotated[StrictStr, Field(max_length=40)]
Said = StrictInt | StrictFloat | Word | Annotated[list[Word], Field(max_length=20)]
KindId = Annotated[str, Field(max_length=40)]
RulesId = Annotated[str, Field(max_length=60)]
Key = Annotated[str, Field(min_length=8, max_length=64)]
PersonName = Annotated[str, Field(min_length=1, max_length=40)]
MOST_TASKS = 40
"""On one printed sheet."""


class TaskIn(In):
    """A task by its kind, level and seed; the same three make the same task. ``own``: of one's own gear where
    some of it suits. ``house_rules`` is the id of the set by which it is judged; null for the house's."""

    kind: KindId
    level: Level
    seed: Annotated[int, Field(ge=0, le=MOST_SEED)]
    own: bool = False
    house_rules: RulesId | None = None


class PracticeAnswersIn(TaskIn):
    """The same with what was answered, by question: a number, the id of a choice, or all ids in their
    order. ``version`` is the task's, as it was asked."""

    answers: Annotated[dict[str, Said], Field(max_length=12)]
    version: Annotated[str, Field(max_length=40)] = ANY


class KeptAnswersIn(PracticeAnswersIn):
    """An answer that is remembered: after how many seconds it was given, and the key of the press."""

    key: Key
    took_s: Annotated[float, Field(ge=0, le=86_400)] = 0.0


class PersonIn(In):
    """A name, no account."""

    name: PersonName


class PersonChangesIn(In):
    """Which course somebody follows; null for all kinds in their usual order."""

    course: int | None


class StepIn(In):
    """One step of a course."""

    kind: KindId
    level: Level


class CourseIn(In):
    """A course of one's own: its kinds and levels in their order, and by which house rules; null for the
    house's."""

    name: PersonName
    steps: Annotated[list[StepIn], Field(max_length=MOST_STEPS)]
    house_rules: RulesId | None = None


class SheetIn(In):
    """A printed sheet: so many tasks of these steps in turn, from a seed; the same seed gives the same
    sheet."""

    steps: Annotated[list[StepIn], Field(max_length=MOST_STEPS)]
    count: Annotated[int, Field(ge=1, le=MOST_TASKS)]
    seed: Annotated[int, Field(ge=0, le=MOST_SEED)]
    house_rules: RulesId | None = None
