"""Tasks, what came of them, and what is remembered, as the API says it."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from coldstack.core.practice.practice import Stage
from coldstack.core.practice.task import JudgedAnswer, Level, PracticeTask, Ran
from coldstack.server.api.shapes import shows
from coldstack.server.practice.memory import NextUp, Sureness


class KindOut(BaseModel):
    """A kind of task, the stage that does the same for real, and whether it can be made of one's own gear."""

    id: str
    name: str
    leads_to: Stage
    of_own: bool


@shows(PracticeTask)
class TaskOut(BaseModel):
    """A task: what lies before one, and what is asked; ``version`` is which one it is."""

    version: str


@shows(JudgedAnswer)
class JudgedOut(BaseModel):
    """What came of the answers, as bad as the worst of them; ``ran`` is it seen through."""

    ran: Ran | None


class StepOut(BaseModel):
    """A kind of task at a level."""

    kind: str
    level: Level


class CourseOut(BaseModel):
    """A course, and who follows it."""

    id: int
    name: str
    steps: list[StepOut]
    house_rules: str | None
    followed_by: list[str]


class PersonOut(BaseModel):
    """Somebody who practises here, how many skills are due now, and how sure of all of it. 0 to 1"""

    id: int
    name: str
    course: int | None
    due: int
    share: float


@shows(Sureness)
class SurenessOut(BaseModel):
    """Of one kind, how sure one is of each level now; ``share`` of all of them. 0 to 1"""

    share: float


@shows(NextUp)
class NextUpOut(BaseModel):
    """What comes next, and why; with the seed of the task, and the house rules it goes by."""

    seed: int
    house_rules: str | None


class ProgressNow(BaseModel):
    """How far somebody is: how sure of what, what comes next, how many seconds of today's five minutes are
    done. ``answered`` counts all answers that stand, ``anew`` those that could be brought back."""

    id: int
    name: str
    course: int | None
    kinds: list[SurenessOut]
    next_up: NextUpOut
    today_s: float
    enough: bool
    answered: int
    anew: int
    now: datetime


class KeptOut(BaseModel):
    """What came of an answer, and how far that brings one."""

    judged: JudgedOut
    progress: ProgressNow


class SheetTaskOut(BaseModel):
    """A task of a sheet with what is right, question by question."""

    name: str
    task: TaskOut
    right: list[str]
    why: list[str]


class SheetOut(BaseModel):
    """A sheet of tasks; the answers belong on a page of their own."""

    seed: int
    rules: str
    tasks: list[SheetTaskOut]
