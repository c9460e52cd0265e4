"""Rules set otherwise than a set has them: within their bounds, and not at odds with each other."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from coldstack.core.errors import DomainError
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.rules.rule_table import BY_ID, RULES, Rule
from coldstack.core.units import DEG

_ORDERED = (
    ("cutoff_loaded_v", "alarm_loaded_v", "The cut-off must not be above the alarm."),
    ("cell_watch", "cell_bad", "Watching must begin before retiring."),
    ("growth_watch", "growth_bad", "Watching must begin before light duty."),
    ("spread_watch_v", "spread_act_v", "Watching must begin before acting."),
    ("capacity_end", "capacity_watch", "Watching must begin above the end of flying."),
    ("minutes_act", "minutes_watch", "Watching must begin above light duty."),
    ("balance_watch_min", "balance_act_min", "Watching must begin before acting."),
)


def changed(rules: HouseRules, values: Mapping[str, float]) -> HouseRules:
    """The rules with some set otherwise.

    Raises
    ------
    DomainError
        At the rule that is not known, outside what a label, a chemistry or a caution leaves open, or at
        odds with another.
    """
    for rule_id, value in values.items():
        rule = BY_ID.get(rule_id)
        if rule is None:
            raise DomainError(f"values.{rule_id}", f"There is no rule “{rule_id}”.")
        if not rule.low - 1e-9 <= value <= rule.high + 1e-9:
            given = "not a number" if math.isnan(value) else in_words(rule, value)
            raise DomainError(
                f"values.{rule_id}",
                f"“{rule.name}” may be from {in_words(rule, rule.low)} to {in_words(rule, rule.high)}, not "
                f"{given}.",
            )
    out = replace(rules, **values)  # type: ignore[arg-type]  # the table’s ids are fields that hold numbers
    for lower, higher, sentence in _ORDERED:
        if not getattr(out, lower) <= getattr(out, higher):
            blamed = lower if lower in values or higher not in values else higher
            raise DomainError(f"values.{blamed}", sentence)
    return out


def still_valid(rules: HouseRules, values: Mapping[str, float]) -> dict[str, float]:
    """What of values that were kept earlier can still be set; the rest holds as in the rules."""
    kept = dict(values)
    while True:
        try:
            changed(rules, kept)
            return kept
        except DomainError as error:
            del kept[error.field.removeprefix("values.")]


def values_of(rules: HouseRules) -> dict[str, float]:
    """Every rule's value, by its id."""
    return {r.id: float(getattr(rules, r.id)) for r in RULES}


def in_words(rule: Rule, value: float) -> str:
    """A value of a rule as it is read: "80 %", "3.60 V", "1.3 times"."""
    match rule.kind:
        case "percent":
            return f"{value * 100:.0f} %"
        case "cell_voltage":
            return f"{value:.3f} V" if value < 0.1 else f"{value:.2f} V"
        case "c_rate":
            return f"{value:g}C"
        case "temperature":
            return f"{value:g}{DEG}"
    return f"{value:g} {({'hours': 'h', 'minutes': 'min'}).get(rule.kind, rule.kind)}"
