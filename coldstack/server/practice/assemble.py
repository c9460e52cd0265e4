"""Between what is stored of practice and core's values."""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

from coldstack.core.practice.practice import KINDS, exercise, known_kind
from coldstack.core.practice.task import LEVELS, Exercise, Given, Level, Shelf
from coldstack.core.trial.job import Job
from coldstack.server.api.versions import require_latest, version_of
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.packs import owned_packs
from coldstack.server.practice import schemas as s
from coldstack.server.practice.memory import WHOLE_COURSE, CourseStep, Skill
from coldstack.server.practice.models import PracticeCourse, PracticePerson, PracticeSkill
from coldstack.server.rules.assemble import all_rules, rules_or_house
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

_SKILL = tuple(f.name for f in fields(Skill))


def exercise_of(data: s.TaskIn) -> Exercise:
    """The task that is asked for; of one's own gear as it is now.

    Raises
    ------
    DomainError
        For a kind or house rules that are not there.
    """
    shelf = None
    kind = known_kind(data.kind)
    if data.own and kind.of_own:
        jobs = own_jobs() if kind.of_models else ()
        shelf = Shelf(tuple(owned_packs(fit_only=True)), tuple(gear.chargers()), jobs, gear.bench())
    return exercise(data.kind, Given(data.seed, data.level, rules_or_house(data.house_rules), shelf))


def own_jobs() -> tuple[Job, ...]:
    """Every model of one's own, by its own house rules; no equipment, which nobody starts."""
    sets = all_rules()
    jobs = [job_of(JobIn(**x), sets) for x in RcModel.live.order_by("id").values_list("job", flat=True)]
    return tuple(x for x in jobs if x.equipment is None)


def version_of_task(made: Exercise) -> str:
    """Which task it is: another one where one's own gear or the house rules have changed since."""
    return version_of(asdict(made.task))


def require_same(made: Exercise, version: str) -> None:
    """Refuse an answer to a task that is not as it was when it was asked; raises ChangedElsewhere."""
    require_latest(version, asdict(made.task))


def skill_of(row: PracticeSkill) -> Skill:
    """What is remembered, as core has it."""
    return Skill(**{name: getattr(row, name) for name in _SKILL})


def skill_values(found: Skill) -> dict[str, Any]:
    """The same for a row, but for what tells it from others."""
    return {name: getattr(found, name) for name in _SKILL if name not in ("kind", "level")}


def skills_of(person: PracticePerson) -> dict[CourseStep, Skill]:
    """All that somebody remembers; one query."""
    rows = [skill_of(row) for row in person.skills.all()]
    return {CourseStep(x.kind, x.level): x for x in rows if x.kind in KINDS and x.level in LEVELS}


def steps_of(course: PracticeCourse | None) -> tuple[CourseStep, ...]:
    """The steps of a course that are known today; all kinds without one."""
    steps = [] if course is None or course.removed else course.steps
    known = [CourseStep(kind, level_of(level)) for kind, level in steps if kind in KINDS and level in LEVELS]
    return tuple(known) or WHOLE_COURSE


def level_of(said: str) -> Level:
    """A level by its id, which is known."""
    return next(x for x in LEVELS if x == said)
