"""House rules."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from coldstack.core.rules.house_rules import HOUSE_RULES, HouseRules, house_rules
from coldstack.core.rules.rule_table import FIXED, RULES
from coldstack.core.rules.setting import values_of
from coldstack.server.api.errors import Problem
from coldstack.server.api.versions import ANY, MadeFrom, version_of
from coldstack.server.rules import actions
from coldstack.server.rules import schemas as s
from coldstack.server.rules.assemble import all_rules, bases, house, rules_of
from coldstack.server.rules.effects import effects_out
from coldstack.server.rules.usage import users

router = Router(tags=["rules"])
WRITTEN = frozenset({400, 403, 422})


@router.get("/rules", response=s.RulesOut, summary="House rules")
def rules(request: HttpRequest) -> s.RulesOut:
    """Every set with its values, every rule with why it exists and who does otherwise."""
    return _rules_out()


@router.post(
    "/rules/sets",
    response={200: s.SetOut, WRITTEN: Problem},
    summary="A set of one’s own",
)
def add(request: HttpRequest, data: s.NewSetIn) -> s.SetOut:
    """A copy of another set, to be changed."""
    return _set_out(actions.add_set(data))


@router.put(
    "/rules/sets/{rules_id}",
    response={200: s.SetOut, WRITTEN | {412}: Problem},
    summary="Change a set",
)
def change(request: HttpRequest, rules_id: str, data: s.SetIn, if_match: MadeFrom = ANY) -> s.SetOut:
    """Starting sets too; without values it is as it came. Everything that goes by it follows at once."""
    actions.change_set(rules_id, data, if_match)
    return _set_out(rules_id)


@router.delete(
    "/rules/sets/{rules_id}",
    response={200: s.RulesOut, WRITTEN: Problem},
    summary="Delete a set of one’s own",
)
def remove(request: HttpRequest, rules_id: str) -> s.RulesOut:
    """Refused while somebody goes by it; it can be brought back."""
    actions.remove_set(rules_id)
    return _rules_out()


@router.post(
    "/rules/sets/{rules_id}/back",
    response={200: s.RulesOut, WRITTEN: Problem},
    summary="Bring a deleted set back",
)
def back(request: HttpRequest, rules_id: str) -> s.RulesOut:
    """With its values."""
    actions.bring_back(rules_id)
    return _rules_out()


@router.get(
    "/rules/sets/{rules_id}/effects",
    response={200: s.EffectsOut, 404: Problem, 422: Problem},
    summary="What follows a set",
)
def effects(request: HttpRequest, rules_id: str, model: str, pack: str = "") -> s.EffectsOut:
    """A run of this model, the bench as laid out and the shelf; with the set as it is and as it came."""
    return effects_out(rules_id, model, timezone.now(), pack)


@router.put(
    "/rules/house",
    response={200: s.RulesOut, WRITTEN: Problem},
    summary="Keep the shelf by a set",
)
def go_by(request: HttpRequest, data: s.HouseIn) -> s.RulesOut:
    """What is due and the calendar file go by it from now on."""
    actions.go_by(data.house_rules)
    return _rules_out()


def _rules_out() -> s.RulesOut:
    by, base = users(), bases()
    return s.RulesOut(
        sets=[_one(found, by, base) for found in all_rules().values()],
        rules=list(RULES),
        fixed=list(FIXED),
        house=house().house_rules,
    )


def _set_out(rules_id: str) -> s.SetOut:
    return _one(rules_of(rules_id), users(), bases())


def _one(found: HouseRules, by: dict[str, list[str]], base: dict[str, str]) -> s.SetOut:
    start = house_rules(base.get(found.id, found.id))
    return s.SetOut(
        id=found.id,
        name=found.name,
        why=found.why,
        who_differs=found.who_differs,
        own=found.id not in HOUSE_RULES,
        base=start.id,
        base_name=start.name,
        values=values_of(found),
        starting=values_of(start),
        used_by=by.get(found.id, []),
        version=version_of(actions.document_of(found)),
    )
