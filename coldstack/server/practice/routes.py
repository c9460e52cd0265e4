"""Practice: tasks from a seed, judged by the rules that the program goes by. Nothing is stored."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from coldstack.core.practice.practice import KINDS, exercise
from coldstack.core.practice.task import Exercise
from coldstack.server.api.errors import Problem
from coldstack.server.api.values import figures
from coldstack.server.practice import replies as r
from coldstack.server.practice import schemas as s
from coldstack.server.rules.assemble import rules_or_house

router = Router(tags=["practice"])


@router.get("/practice/kinds", auth=None, response=list[r.KindOut], summary="Kinds of tasks")
def kinds(request: HttpRequest) -> list[r.KindOut]:
    """What can be practised, in the order in which one meets it."""
    return [r.KindOut(id=k.id, name=k.name, leads_to=k.leads_to) for k in KINDS.values()]


@router.post(
    "/practice/task",
    auth=None,
    response={200: r.TaskOut, 400: Problem, 422: Problem},
    summary="One task",
)
def task(request: HttpRequest, data: s.TaskIn) -> r.TaskOut:
    """Made up from its seed; packs and chargers in it are nobody's."""
    return r.TaskOut(**figures(_exercise(data).task))


@router.post(
    "/practice/answer",
    auth=None,
    response={200: r.JudgedOut, 400: Problem, 422: Problem},
    summary="What comes of an answer",
)
def answer(request: HttpRequest, data: s.AnswersIn) -> r.JudgedOut:
    """Right, wasteful or dangerous, each with why, and the working."""
    said = {k: tuple(v) if isinstance(v, list) else v for k, v in data.answers.items()}
    return r.JudgedOut(**figures(_exercise(data).judge(said)))


def _exercise(data: s.TaskIn) -> Exercise:
    return exercise(data.kind, data.level, data.seed, rules_or_house(data.house_rules))
