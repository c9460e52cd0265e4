"""What one does in practice: people, answers, beginning anew, courses. Each writes in one transaction."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from coldstack.core.errors import DomainError
from coldstack.core.practice.task import OUTCOMES, Exercise, Outcome, only_asked
from coldstack.server.practice import schemas as s
from coldstack.server.practice.assemble import (
    exercise_of,
    level_of,
    require_same,
    skill_of,
    skill_values,
)
from coldstack.server.practice.memory import CourseStep, Skill, check_course, remembered
from coldstack.server.practice.models import PracticeAnswer, PracticeCourse, PracticePerson, PracticeSkill
from coldstack.server.rules.assemble import all_rules

MOST_PEOPLE, MOST_COURSES = 200, 40


@transaction.atomic
def add_person(name: str) -> PracticePerson:
    """Somebody new; who was taken away under this name comes back with all that they knew.

    Raises
    ------
    DomainError
        At the name: for none, or one that is there.
    """
    clean = _clean(name)
    rows = list(PracticePerson.objects.all())
    same = next((x for x in rows if x.name.casefold() == clean.casefold()), None)
    if same is not None:
        if same.removed is None:
            raise DomainError("name", f"{same.name} practises here already.")
        same.removed = None
        same.save(update_fields=["removed"])
        return same
    if sum(x.removed is None for x in rows) >= MOST_PEOPLE:
        raise DomainError("name", f"{MOST_PEOPLE} people practise here; take one away first.")
    return PracticePerson.objects.create(name=clean, made=timezone.now())


@transaction.atomic
def remove_person(person_id: int) -> None:
    """Taken from the list; all that they did stays, and can be brought back."""
    person = person_of(person_id)
    person.removed = timezone.now()
    person.save(update_fields=["removed"])


@transaction.atomic
def bring_person_back(person_id: int) -> None:
    """Undo that; raises DomainError for somebody who never was."""
    if not PracticePerson.objects.filter(pk=person_id).update(removed=None):
        raise DomainError("person", "There is nobody of this name.")


@transaction.atomic
def follow(person_id: int, course_id: int | None) -> None:
    """Follow a course, or none; raises DomainError for one that is not there."""
    person = person_of(person_id)
    person.course = None if course_id is None else course_of(course_id)
    person.save(update_fields=["course"])


def as_said(row: PracticeAnswer) -> s.PracticeAnswersIn:
    """An answer that was kept, as it was given."""
    return s.PracticeAnswersIn(
        kind=row.kind,
        level=level_of(row.level),
        seed=row.seed,
        own=row.own,
        house_rules=row.house_rules or None,
        answers=row.answers,
    )


@transaction.atomic
def keep_answer(person_id: int, data: s.KeptAnswersIn) -> tuple[PracticeAnswer, Exercise]:
    """Judge an answer and remember it, with its task; said again with its key, it is the one that was kept.

    Raises
    ------
    DomainError
        At the question, for what is no answer.
    ChangedElsewhere
        If the task is not as it was when it was asked.
    """
    person = person_of(person_id)
    had = PracticeAnswer.objects.filter(key=data.key).first()
    if had is not None:
        if had.person_id != person.pk:
            raise DomainError("key", "This was said for somebody else.")
        return had, exercise_of(as_said(had))
    made = exercise_of(data)
    require_same(made, data.version)
    judged = made.judge(only_asked(made.task, said_of(data)))
    row = PracticeAnswer.objects.create(
        key=data.key,
        person=person,
        kind=data.kind,
        level=data.level,
        seed=data.seed,
        own=data.own,
        house_rules=data.house_rules or "",
        answers=data.answers,
        outcome=judged.outcome,
        took_s=data.took_s,
        at=timezone.now(),
    )
    _remember(person, row)
    return row, made


def said_of(data: s.PracticeAnswersIn) -> dict[str, float | str | tuple[str, ...]]:
    """The answers as core takes them."""
    return {k: tuple(v) if isinstance(v, list) else v for k, v in data.answers.items()}


@transaction.atomic
def begin_anew(person_id: int) -> None:
    """All answers are withdrawn, none deleted: nothing is remembered any more."""
    person = person_of(person_id)
    person.said.filter(withdrawn=None).update(withdrawn=timezone.now())
    person.skills.all().delete()


@transaction.atomic
def bring_answers_back(person_id: int) -> None:
    """What was withdrawn last is remembered again, with what was answered since."""
    person = person_of(person_id)
    last = (
        person.said.exclude(withdrawn=None).order_by("-withdrawn").values_list("withdrawn", flat=True).first()
    )
    if last is None:
        raise DomainError("person", "Nothing was withdrawn.")
    person.said.filter(withdrawn=last).update(withdrawn=None)
    remember_anew(person)


def remember_anew(person: PracticePerson) -> None:
    """What follows from all answers that stand, one after the other."""
    person.skills.all().delete()
    skills: dict[CourseStep, Skill] = {}
    for row in person.said.filter(withdrawn=None).iterator():
        step = CourseStep(row.kind, level_of(row.level))
        skills[step] = remembered(skills.get(step), step, outcome_of(row), row.at)
    PracticeSkill.objects.bulk_create(
        PracticeSkill(person=person, kind=x.kind, level=x.level, **skill_values(found))
        for x, found in skills.items()
    )


@transaction.atomic
def add_course(data: s.CourseIn) -> PracticeCourse:
    """A course; raises DomainError for a name that is taken, or steps that are not known."""
    if PracticeCourse.objects.filter(removed=None).count() >= MOST_COURSES:
        raise DomainError("name", f"There are {MOST_COURSES} courses; delete one first.")
    return _written(PracticeCourse(), data)


@transaction.atomic
def change_course(course_id: int, data: s.CourseIn) -> PracticeCourse:
    """The same of one that is there; who follows it goes by it at once."""
    return _written(course_of(course_id), data)


@transaction.atomic
def remove_course(course_id: int) -> None:
    """Deleted; who followed it goes by all kinds. It can be brought back."""
    course = course_of(course_id)
    course.removed = timezone.now()
    course.save(update_fields=["removed"])


@transaction.atomic
def bring_course_back(course_id: int) -> None:
    """Undo that, for those who followed it too; raises DomainError for one that never was."""
    if not PracticeCourse.objects.filter(pk=course_id).update(removed=None):
        raise DomainError("course", "There is no such course.")


def person_of(person_id: int) -> PracticePerson:
    """Somebody who is on the list."""
    return PracticePerson.objects.select_related("course").get(pk=person_id, removed=None)


def course_of(course_id: int) -> PracticeCourse:
    """A course that is there; raises DomainError for any other."""
    found = PracticeCourse.objects.filter(pk=course_id, removed=None).first()
    if found is None:
        raise DomainError("course", "There is no such course any more.")
    return found


def outcome_of(row: PracticeAnswer) -> Outcome:
    """What came of it."""
    return next(x for x in OUTCOMES if x == row.outcome)


def today_s(person: PracticePerson, now: datetime, longest_s: float) -> float:
    """Seconds practised on this day, as the clock on the wall counts days. [s]"""
    morning = timezone.localtime(now).replace(hour=0, minute=0, second=0, microsecond=0)
    taken = person.said.filter(at__gte=morning, at__lte=now).values_list("took_s", flat=True)
    return sum(min(x, longest_s) for x in taken)


def _remember(person: PracticePerson, row: PracticeAnswer) -> None:
    step = CourseStep(row.kind, level_of(row.level))
    had = person.skills.filter(kind=step.kind, level=step.level).first()
    found = remembered(skill_of(had) if had else None, step, outcome_of(row), row.at)
    person.skills.update_or_create(kind=step.kind, level=step.level, defaults=skill_values(found))


def _written(course: PracticeCourse, data: s.CourseIn) -> PracticeCourse:
    clean = _clean(data.name)
    others = PracticeCourse.objects.filter(removed=None).exclude(pk=course.pk)
    if any(x.name.casefold() == clean.casefold() for x in others):
        raise DomainError("name", f"There is a course “{clean}” already.")
    if data.house_rules is not None and data.house_rules not in all_rules():
        raise DomainError("house_rules", "There is no such set any more.")
    steps = check_course([CourseStep(x.kind, x.level) for x in data.steps])
    course.name, course.steps = clean, [[x.kind, x.level] for x in steps]
    course.house_rules = data.house_rules or ""
    course.save()
    return course


def _clean(name: str) -> str:
    clean = " ".join(name.split())
    if not clean:
        raise DomainError("name", "Give a name.")
    return clean
