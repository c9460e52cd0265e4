"""What one is sure of, and what comes next: spaced repetition, so that a skill comes back when it is about to
be forgotten.

Stability and difficulty of a memory and the day it comes back are those of FSRS-6 (`fsrs`) with its
published weights, no dice in them: nobody's own forgetting was measured here. A skill is a kind of task at a
level; each time it comes with other figures.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Literal

from fsrs import Card, Rating, Scheduler, State

from coldstack.core.errors import DomainError
from coldstack.core.practice.practice import KINDS, known_kind
from coldstack.core.practice.task import LEVELS, Level, Outcome

_SCHEDULER = Scheduler(
    desired_retention=0.9,
    learning_steps=(timedelta(minutes=1), timedelta(minutes=10)),
    relearning_steps=(timedelta(minutes=10),),
    maximum_interval=120,
    enable_fuzzing=False,
)
"""A wrong answer comes back in a minute, a first right one the same day, what is long known once a season."""
ONCE_RIGHT = 0.5
"""Of one right answer half may be luck. House figure."""
SITTING = timedelta(minutes=15)
"""So long one still has in mind what one was just told. House figure."""
FIVE_MINUTES_S, LONGEST_TASK_S = 300.0, 120.0
"""A day's practice; what somebody left lying counts for no more than the second. House figures. [s]"""
MOST_STEPS = 60
Why = Literal["due", "new", "ahead"]


@dataclass(frozen=True, slots=True)
class Skill:
    """What is remembered of one kind of task at one level: how it went last, and FSRS's own figures.

    ``stability_d`` are days until nine in ten would still know it, ``learnt`` is whether it was right twice.
    """

    kind: str
    level: Level
    last: Outcome
    at: datetime
    due: datetime
    learnt: bool
    again: bool
    step: int | None
    stability_d: float
    difficulty: float


@dataclass(frozen=True, slots=True)
class CourseStep:
    """A kind of task at a level, as one step of a course."""

    kind: str
    level: Level


@dataclass(frozen=True, slots=True)
class NextUp:
    """What to do next, and why: it is due, it is new, or nothing is due and this is the next that will be."""

    kind: str
    level: Level
    why: Why
    due: datetime | None


@dataclass(frozen=True, slots=True)
class Sureness:
    """Of one kind: how sure one is of each level now, 0 to 1, None for one never tried; and when the next of
    them comes back."""

    kind: str
    name: str
    levels: tuple[float | None, ...]
    due: datetime | None

    @property
    def share(self) -> float:
        """Of all levels together, how much one is sure of. 0 to 1"""
        return sum(x or 0.0 for x in self.levels) / len(self.levels)


WHOLE_COURSE: tuple[CourseStep, ...] = tuple(CourseStep(k, level) for level in LEVELS for k in KINDS)
"""All kinds on the first day, then all of a season, then all of an expert."""


def check_course(steps: Sequence[CourseStep]) -> tuple[CourseStep, ...]:
    """The steps of a course, if each is known and none is said twice.

    Raises
    ------
    DomainError
        At ``steps``.
    """
    if not 0 < len(steps) <= MOST_STEPS:
        raise DomainError("steps", "Choose at least one kind of task.")
    for step in steps:
        known_kind(step.kind)
    if len(set(steps)) < len(steps):
        raise DomainError("steps", "A kind of task is in the course once for each level.")
    return tuple(steps)


def remembered(before: Skill | None, step: CourseStep, outcome: Outcome, at: datetime) -> Skill:
    """A skill after an answer at this moment: right, or again. ``at`` may be in any zone; one that lies
    before the last answer (a clock that was set back) counts as at that one."""
    now = at.astimezone(UTC)
    if before is not None:
        now = max(now, before.at)
    rating = Rating.Good if outcome == "right" else Rating.Again
    card, _ = _SCHEDULER.review_card(_card(before, now), rating, now)
    return Skill(
        step.kind,
        step.level,
        outcome,
        now,
        card.due,
        learnt=card.state == State.Review,
        again=card.state == State.Relearning,
        step=card.step,
        stability_d=card.stability or 0.0,
        difficulty=card.difficulty or 0.0,
    )


def _card(s: Skill | None, now: datetime) -> Card:
    if s is None:
        return Card(card_id=0, due=now)
    state = State.Review if s.learnt else State.Relearning if s.again else State.Learning
    return Card(0, state, s.step, s.stability_d, s.difficulty, s.due, s.at)


def sure_of(s: Skill, at: datetime) -> float:
    """How sure one is of a skill now: the chance to know it, by FSRS; half of that while it was right once
    only, nothing after a wrong answer. 0 to 1"""
    if s.last != "right":
        return 0.0
    now = max(at.astimezone(UTC), s.at)
    chance = float(_SCHEDULER.get_card_retrievability(_card(s, now), now))
    return chance if s.learnt else ONCE_RIGHT * chance


def sureness(skills: Mapping[CourseStep, Skill], at: datetime) -> list[Sureness]:
    """Of every kind, in its order."""
    found = []
    for kind in KINDS.values():
        own = [skills.get(CourseStep(kind.id, level)) for level in LEVELS]
        due = min((s.due for s in own if s is not None), default=None)
        found.append(
            Sureness(kind.id, kind.name, tuple(None if s is None else sure_of(s, at) for s in own), due)
        )
    return found


def next_up(
    skills: Mapping[CourseStep, Skill],
    course: Sequence[CourseStep],
    at: datetime,
    *,
    last: CourseStep | None = None,
) -> NextUp:
    """What to practise now: what is due the longest, then what is new in the course, then what will be due
    the soonest. Not ``last`` again in the same sitting while there is another.

    A level is new only once the one below it, where the course has that, is learnt.
    """
    now = at.astimezone(UTC)
    if last is not None and last in skills and now - skills[last].at > SITTING:
        last = None
    known = sorted((skills[c] for c in course if c in skills), key=lambda s: s.due)
    due = [s for s in known if s.due <= now]
    new = [c for c in course if c not in skills and _open(c, skills, course)]
    others = [s for s in due if CourseStep(s.kind, s.level) != last]
    if others:
        return NextUp(others[0].kind, others[0].level, "due", others[0].due)
    if new:
        return NextUp(new[0].kind, new[0].level, "new", None)
    first = next((s for s in known if CourseStep(s.kind, s.level) != last), None)
    found = due[0] if due else first or (known[0] if known else None)
    if found is None:  # all of it waits for a level below that the course begins later
        return NextUp(course[0].kind, course[0].level, "new", None)
    return NextUp(found.kind, found.level, "due" if due else "ahead", found.due)


def _open(step: CourseStep, skills: Mapping[CourseStep, Skill], course: Sequence[CourseStep]) -> bool:
    below = [CourseStep(step.kind, x) for x in LEVELS[: LEVELS.index(step.level)]]
    asked = [c for c in below if c in course]
    return all(c in skills and skills[c].learnt for c in asked[-1:])
