"""Between stored sets and the core's rules.

Everything that goes by house rules gets them here, so that it follows a change at once.
"""

from __future__ import annotations

from dataclasses import replace

from coldstack.core.rules.house_rules import HOUSE_RULES, HouseRules, house_rules
from coldstack.core.rules.setting import changed, still_valid
from coldstack.server.rules.models import Household, RuleSet


def all_rules() -> dict[str, HouseRules]:
    """Every set there is, the starting ones first; one query."""
    kept = {row.slug: row for row in RuleSet.objects.filter(removed=None)}
    starting = {i: _rules(kept[i]) if i in kept else rules for i, rules in HOUSE_RULES.items()}
    return starting | {slug: _rules(row) for slug, row in kept.items()}


def rules_of(rules_id: str) -> HouseRules:
    """The set with this id, as it is now; raises DomainError for an unknown one.

    A deleted one holds where it is still used.
    """
    row = RuleSet.objects.filter(slug=rules_id).first()
    return house_rules(rules_id) if row is None else _rules(row)


def house() -> Household:
    """What the house goes by."""
    return Household.objects.filter(pk=1).first() or Household(pk=1)


def bases() -> dict[str, str]:
    """The starting set that each stored set came from."""
    return dict(RuleSet.objects.values_list("slug", "base"))


def rules_or_house(rules_id: str | None) -> HouseRules:
    """The set asked for, else the one the house goes by."""
    return rules_of(rules_id if rules_id is not None else house().house_rules)


def _rules(row: RuleSet) -> HouseRules:
    base = house_rules(row.base)
    # a rule that is not known any more, or not so far, must not fail every page that goes by this set
    rules = changed(base, still_valid(base, row.values))
    if row.slug in HOUSE_RULES:
        name = f"{base.name}, changed" if row.values else base.name
        return _named(rules, row.slug, name, base.why, base.who_differs)
    return _named(
        rules,
        row.slug,
        row.name,
        row.note or f"Made from {base.name}.",
        base.who_differs if not row.values else "",
    )


def _named(rules: HouseRules, slug: str, name: str, why: str, who_differs: str) -> HouseRules:
    return replace(rules, id=slug, name=name, why=why, who_differs=who_differs)
