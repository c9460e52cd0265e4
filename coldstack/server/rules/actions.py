"""What one does with house rules.

Each writes in one transaction; a changed set is followed at once, since nobody keeps a copy.
"""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify

from coldstack.core.errors import DomainError
from coldstack.core.rules.house_rules import HOUSE_RULES, HouseRules, house_rules
from coldstack.core.rules.setting import changed, values_of
from coldstack.server.api.versions import ANY, require_latest
from coldstack.server.rules import schemas as s
from coldstack.server.rules.assemble import all_rules, rules_of
from coldstack.server.rules.models import Household, RuleSet
from coldstack.server.rules.usage import users

MOST_SETS = 40


@transaction.atomic
def change_set(rules_id: str, data: s.SetIn, made_from: str = ANY) -> None:
    """Keep a set's values, as what differs from the set it came from.

    Raises
    ------
    DomainError
        For an unknown set or rule, a value that no set may have, or a name that is taken.
    ChangedElsewhere
        If it was made from another version than the one that is kept.
    """
    row = _row(rules_id)
    require_latest(made_from, document_of(rules_of(rules_id)))
    base = house_rules(row.base)
    plain, now = values_of(base), changed(base, row.values)
    # against the set as it is, so that a fault is told at the rule that was just set
    changed(now, {k: v for k, v in (plain | data.values).items() if v != values_of(now).get(k)})
    row.values = {k: v for k, v in data.values.items() if v != plain[k]}
    if row.slug not in HOUSE_RULES:
        row.name = _free_name(data.name or row.name, row.slug)
        row.note = row.note if data.note is None else data.note
    row.save()


def document_of(found: HouseRules) -> list[Any]:
    """What of a set can be changed, by which its versions are told apart."""
    return [found.name, found.why, values_of(found)]


@transaction.atomic
def add_set(data: s.NewSetIn) -> str:
    """A set of one's own; its id.

    Raises
    ------
    DomainError
        For an unknown set to copy, a name that is taken, or too many sets.
    """
    there = all_rules()
    if len(there) >= MOST_SETS:
        raise DomainError("name", f"There are {MOST_SETS} sets; delete one first.")
    if data.copy_of not in there:
        raise DomainError("copy_of", "There is no such set any more.")
    name = _free_name(data.name, "")
    source = _row(data.copy_of)
    slug = base = slugify(name)[:50] or "set"
    taken, n = {*RuleSet.objects.values_list("slug", flat=True), *HOUSE_RULES}, 2
    while slug in taken:
        slug, n = f"{base}-{n}", n + 1
    RuleSet.objects.create(slug=slug, name=name, base=source.base, values=source.values)
    return slug


@transaction.atomic
def remove_set(rules_id: str) -> None:
    """Delete a set of one's own; it can be brought back.

    Raises
    ------
    DomainError
        For a starting set, or one that somebody goes by.
    """
    if rules_id in HOUSE_RULES:
        raise DomainError("set", "A starting set stays. Its values can be changed, and set back.")
    row, by = _row(rules_id), users().get(rules_id)
    if by:
        raise DomainError(
            "set", f"{', '.join(by)} go{'es' if len(by) == 1 else ''} by it: choose another set there first."
        )
    row.removed = timezone.now()
    row.save(update_fields=["removed"])


@transaction.atomic
def bring_back(rules_id: str) -> None:
    """Undo a deletion; raises DomainError for a set that never was."""
    if not RuleSet.objects.filter(slug=rules_id).update(removed=None):
        raise DomainError("set", "There is no such set.")


@transaction.atomic
def go_by(rules_id: str) -> None:
    """Keep the shelf by this set; raises DomainError for an unknown one."""
    if rules_id not in all_rules():
        raise DomainError("house_rules", "There is no such set any more.")
    Household.objects.update_or_create(pk=1, defaults={"house_rules": rules_id})


def _row(rules_id: str) -> RuleSet:
    """The stored set, or a fresh one for a starting set that was never changed."""
    row = RuleSet.objects.filter(slug=rules_id, removed=None).first()
    if row is None and rules_id not in HOUSE_RULES:
        raise DomainError("set", "There is no such set any more.")
    return row or RuleSet(slug=rules_id, name=HOUSE_RULES[rules_id].name, base=rules_id)


def _free_name(name: str, slug: str) -> str:
    clean = " ".join(name.split())
    if not clean:
        raise DomainError("name", "Give it a name.")
    if any(r.name.casefold() == clean.casefold() for i, r in all_rules().items() if i != slug):
        raise DomainError("name", f"There is a set “{clean}” already.")
    return clean
