"""What the screens of practice show."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from django.db.models import Count, Q
from django.utils import timezone

from coldstack.core.practice.chance import Chance
from coldstack.core.practice.practice import KINDS, MOST_SEED
from coldstack.core.practice.task import Answers, Exercise, first_answers, only_asked
from coldstack.server.api.values import figures
from coldstack.server.gear.csv_cells import csv_parts
from coldstack.server.practice import replies as r
from coldstack.server.practice import schemas as s
from coldstack.server.practice.actions import as_said, person_of, said_of, today_s
from coldstack.server.practice.assemble import (
    exercise_of,
    level_of,
    require_same,
    skills_of,
    steps_of,
    version_of_task,
)
from coldstack.server.practice.memory import (
    FIVE_MINUTES_S,
    LONGEST_TASK_S,
    CourseStep,
    check_course,
    next_up,
    sureness,
)
from coldstack.server.practice.models import PracticeAnswer, PracticeCourse, PracticePerson
from coldstack.server.rules.assemble import rules_or_house

MOST_STEPS_SAID = 3
"""Of a working on a sheet of answers: how it begins is enough to find one's slip."""


def kinds_out() -> list[r.KindOut]:
    """Every kind, in the order in which one meets them."""
    return [r.KindOut(id=k.id, name=k.name, leads_to=k.leads_to, of_own=k.of_own) for k in KINDS.values()]


def task_out(made: Exercise) -> r.TaskOut:
    """A task, without what is right."""
    return r.TaskOut(**figures(made.task), version=version_of_task(made))


def judged_out(data: s.PracticeAnswersIn) -> r.JudgedOut:
    """What comes of answers, seen through."""
    made = exercise_of(data)
    require_same(made, data.version)
    return _judged(made, said_of(data))


def _judged(made: Exercise, said: Answers) -> r.JudgedOut:
    return r.JudgedOut(**figures(made.judge(only_asked(made.task, said))), ran=made.see(said))


def kept_out(row: PracticeAnswer, made: Exercise) -> r.KeptOut:
    """The same of an answer as it was kept, and what comes next."""
    return r.KeptOut(judged=_judged(made, said_of(as_said(row))), progress=progress_out(row.person_id))


def people_out() -> list[r.PersonOut]:
    """Everybody who practises here, by name; two queries."""
    now = timezone.now()
    rows = PracticePerson.objects.filter(removed=None).select_related("course").prefetch_related("skills")
    return sorted((_person(row, now) for row in rows), key=lambda x: x.name.casefold())


def _person(row: PracticePerson, now: datetime) -> r.PersonOut:
    skills, course = skills_of(row), steps_of(row.course)
    shares = [x.share for x in sureness(skills, now)]
    due = sum(1 for step in course if step in skills and skills[step].due <= now)
    return r.PersonOut(
        id=row.pk, name=row.name, course=_followed(row), due=due, share=sum(shares) / len(shares)
    )


def progress_out(person_id: int) -> r.ProgressNow:
    """How far somebody is, and what comes next; as many queries however long they have practised."""
    now, person = timezone.now(), person_of(person_id)
    skills, stands = skills_of(person), Q(withdrawn=None)
    counts = person.said.aggregate(all=Count("pk"), standing=Count("pk", filter=stands))
    last = person.said.filter(stands).last()
    before = None if last is None else CourseStep(last.kind, level_of(last.level))
    found = next_up(skills, steps_of(person.course), now, last=before)
    seconds = today_s(person, now, LONGEST_TASK_S)
    course = None if _followed(person) is None else person.course
    return r.ProgressNow(
        id=person.pk,
        name=person.name,
        course=_followed(person),
        kinds=[r.SurenessOut(**figures(x), share=x.share) for x in sureness(skills, now)],
        next_up=r.NextUpOut(
            **figures(found),
            seed=_seed(person.pk, counts["all"]),
            house_rules=(course.house_rules or None) if course else None,
        ),
        today_s=seconds,
        enough=seconds >= FIVE_MINUTES_S,
        answered=counts["standing"],
        anew=counts["all"] - counts["standing"],
        now=now,
    )


def _followed(person: PracticePerson) -> int | None:
    """The course that somebody follows, while it is there."""
    return None if person.course is None or person.course.removed else person.course.pk


def _seed(person: int, answered: int) -> int:
    """The next task's: another one for each person and each answer, the same when the page is opened
    again."""
    return int(Chance("next", person, answered).between(0, MOST_SEED))


def courses_out() -> list[r.CourseOut]:
    """Every course, with who follows it; two queries."""
    rows = PracticeCourse.objects.filter(removed=None).prefetch_related("practiceperson_set")
    return [course_out(row) for row in rows]


def course_out(row: PracticeCourse) -> r.CourseOut:
    """One course."""
    people = sorted(p.name for p in row.practiceperson_set.all() if p.removed is None)
    return r.CourseOut(
        id=row.pk,
        name=row.name,
        steps=[r.StepOut(kind=x.kind, level=x.level) for x in steps_of(row)],
        house_rules=row.house_rules or None,
        followed_by=people,
    )


CSV_COLUMNS = ("person", "at", "kind", "level", "seed", "own", "outcome", "took_s", "withdrawn")


def answers_csv() -> Iterator[str]:
    """Every answer of those on the list, the withdrawn ones too, in parts."""
    rows = PracticeAnswer.objects.filter(person__removed=None).order_by("person__name", "at", "id")
    names = ("person__name", *CSV_COLUMNS[1:])
    return csv_parts(CSV_COLUMNS, rows.values_list(*names).iterator())


def sheet_out(data: s.SheetIn) -> r.SheetOut:
    """So many tasks of these steps in turn, each with what is right.

    Raises
    ------
    DomainError
        For steps that are not known, or none.
    """
    steps = check_course([CourseStep(x.kind, x.level) for x in data.steps])
    by, tasks = Chance("sheet", data.seed), []
    for k in range(data.count):
        step, seed = steps[k % len(steps)], int(by.between(0, MOST_SEED))
        made = exercise_of(
            s.TaskIn(kind=step.kind, level=step.level, seed=seed, house_rules=data.house_rules)
        )
        judged = made.judge(first_answers(made.task))
        why = [f"{x.formula} {x.numbers}".strip() for x in judged.working.steps[:MOST_STEPS_SAID]]
        tasks.append(
            r.SheetTaskOut(
                name=KINDS[step.kind].name,
                task=task_out(made),
                right=[c.right for c in judged.came],
                why=why,
            )
        )
    return r.SheetOut(seed=data.seed, rules=rules_or_house(data.house_rules).name, tasks=tasks)
