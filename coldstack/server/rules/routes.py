"""House rules, and the place of the packs."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from coldstack.core.keeping.place import place_cautions, place_sentence
from coldstack.core.rules.cautions import ADVICE
from coldstack.core.rules.house_rules import HOUSE_RULES, HouseRules, house_rules
from coldstack.core.rules.rule_table import FIXED, RULES, values_of
from coldstack.core.rules.safety import SAFETY
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.rules import actions
from coldstack.server.rules import schemas as s
from coldstack.server.rules.assemble import all_rules, bases, house, place_of, rules_of
from coldstack.server.rules.effects import effects_out
from coldstack.server.rules.usage import users
from coldstack.server.sizing.replies import CautionOut

router = Router(tags=["rules"])
WRITTEN = frozenset({400, 403, 422})


@router.get("/rules", response=s.RulesOut, summary="House rules")
def rules(request: HttpRequest) -> s.RulesOut:
    """Every set with its values, every rule with why it exists and who does otherwise."""
    return _rules_out()


@router.post("/rules/sets", response={200: s.SetOut, WRITTEN: Problem}, auth=FromOurPage(), summary="A set of one’s own")  # fmt: skip
def add(request: HttpRequest, data: s.NewSetIn) -> s.SetOut:
    """A copy of another set, to be changed."""
    return _set_out(actions.add_set(data))


@router.put("/rules/sets/{rules_id}", response={200: s.SetOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Change a set")  # fmt: skip
def change(request: HttpRequest, rules_id: str, data: s.SetIn) -> s.SetOut:
    """Starting sets too; without values it is as it came. Everything that goes by it follows at once."""
    actions.change_set(rules_id, data)
    return _set_out(rules_id)


@router.delete("/rules/sets/{rules_id}", response={200: s.RulesOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Delete a set of one’s own")  # fmt: skip
def remove(request: HttpRequest, rules_id: str) -> s.RulesOut:
    """Refused while somebody goes by it; it can be brought back."""
    actions.remove_set(rules_id)
    return _rules_out()


@router.post("/rules/sets/{rules_id}/back", response={200: s.RulesOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Bring a deleted set back")  # fmt: skip
def back(request: HttpRequest, rules_id: str) -> s.RulesOut:
    """With its values."""
    actions.bring_back(rules_id)
    return _rules_out()


@router.get("/rules/sets/{rules_id}/effects", response={200: s.EffectsOut, 404: Problem, 422: Problem}, summary="What follows a set")  # fmt: skip
def effects(request: HttpRequest, rules_id: str, model: str, pack: str = "") -> s.EffectsOut:
    """A run of this model, the bench as laid out and the shelf; with the set as it is and as it came."""
    return effects_out(rules_id, model, timezone.now(), pack)


@router.put("/rules/house", response={200: s.RulesOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Keep the shelf by a set")  # fmt: skip
def go_by(request: HttpRequest, data: s.HouseIn) -> s.RulesOut:
    """What is due and the calendar file go by it from now on."""
    actions.go_by(data.house_rules)
    return _rules_out()


@router.get("/keep/place", response=s.PlaceOut, summary="Where packs lie")
def place(request: HttpRequest) -> s.PlaceOut:
    """With what to mind there."""
    return _place_out()


@router.put("/keep/place", response={200: s.PlaceOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Say where packs lie")  # fmt: skip
def keep_place(request: HttpRequest, data: s.PlaceIn) -> s.PlaceOut:
    """Name, warmth now and at the hottest, and what they lie in."""
    actions.keep_place(data)
    return _place_out()


@router.get("/safety", response=s.SafetyOut, summary="Cautions, by when they apply")
def safety(request: HttpRequest) -> s.SafetyOut:
    """All of them in one place; each also stands where it applies."""
    sections = [s.SafetySectionOut(id=x.id, title=x.title, cautions=[CautionOut(**asdict(c)) for c in x.cautions]) for x in SAFETY]  # fmt: skip
    return s.SafetyOut(sections=sections, advice=ADVICE.sentence)


def _place_out() -> s.PlaceOut:
    here = place_of(house())
    return s.PlaceOut(
        place=here.name, now_c=here.now_c, hottest_c=here.hottest_c, container=here.container, sentence=place_sentence(here),
        cautions=[CautionOut(**asdict(c)) for c in place_cautions(here)],
    )  # fmt: skip


def _rules_out() -> s.RulesOut:
    by, base = users(), bases()
    return s.RulesOut(
        sets=[_one(found, by, base) for found in all_rules().values()],
        rules=[s.RuleOut(**asdict(r)) for r in RULES],
        fixed=[s.FixedOut(**asdict(f)) for f in FIXED],
        house=house().house_rules,
    )


def _set_out(rules_id: str) -> s.SetOut:
    return _one(rules_of(rules_id), users(), bases())


def _one(found: HouseRules, by: dict[str, list[str]], base: dict[str, str]) -> s.SetOut:
    start = house_rules(base.get(found.id, found.id))
    return s.SetOut(
        id=found.id, name=found.name, why=found.why, who_differs=found.who_differs, own=found.id not in HOUSE_RULES, base=start.id, base_name=start.name,
        values=values_of(found), starting=values_of(start), used_by=by.get(found.id, []),
    )  # fmt: skip
