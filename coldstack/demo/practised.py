"""Who practises in the demo: one of the club three weeks in, one on her first evening, and their course."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta

from coldstack.core.practice.chance import Chance
from coldstack.core.practice.practice import KINDS
from coldstack.server.practice.actions import remember_anew
from coldstack.server.practice.memory import CourseStep
from coldstack.server.practice.models import PracticeAnswer, PracticeCourse, PracticePerson

DAYS, A_DAY, TOOK_S = 21, 9, 25.0
_KNOWN = 0.8
"""Share of right answers of somebody who learns."""


def practised(now: datetime) -> None:
    """A course, two people, and what they answered until now."""
    first = [[k, "first_day"] for k in KINDS]
    course = PracticeCourse.objects.create(name="Beginners’ evening", steps=[*first, ["settings", "season"]])
    ida = PracticePerson.objects.create(name="Ida", made=now - timedelta(days=DAYS))
    mirel = PracticePerson.objects.create(name="Mirel", course=course, made=now - timedelta(days=1))
    _answers(ida, now, _three_weeks(now))
    _answers(mirel, now, _one_evening(now))
    for person in (ida, mirel):
        remember_anew(person)


def _three_weeks(now: datetime) -> Iterator[tuple[datetime, CourseStep]]:
    """Every other evening a few minutes: at first the first day, later a season of the first kinds."""
    kinds = list(KINDS)
    for day in range(DAYS, 0, -2):
        for k in range(A_DAY):
            at = now - timedelta(days=day, seconds=-k * TOOK_S)
            done = (DAYS - day) // 2 * A_DAY + k
            early = done < 5 * len(kinds)
            kind = kinds[done % len(kinds)] if early else kinds[done % 7]
            yield at, CourseStep(kind, "first_day" if early else "season")


def _one_evening(now: datetime) -> Iterator[tuple[datetime, CourseStep]]:
    for k, kind in enumerate(list(KINDS)[:6]):
        yield now - timedelta(days=1, seconds=-k * TOOK_S), CourseStep(kind, "first_day")


def _answers(person: PracticePerson, now: datetime, said: Iterator[tuple[datetime, CourseStep]]) -> None:
    by = Chance("practised", person.name)
    PracticeAnswer.objects.bulk_create(
        PracticeAnswer(
            key=f"demo-{person.name}-{k}",
            person=person,
            kind=step.kind,
            level=step.level,
            seed=k,
            outcome="right" if by.happens(_KNOWN) else by.one_of(("wasteful", "dangerous")),
            took_s=TOOK_S,
            at=at,
        )
        for k, (at, step) in enumerate(said)
        if at < now
    )
