"""A rule that nobody asks is no rule."""

import ast
from dataclasses import fields
from pathlib import Path

from django.test import SimpleTestCase

from coldstack.core.rules.house_rules import HouseRules, house_rules
from coldstack.core.rules.rule_table import RULES

CORE = Path(__file__).resolve().parents[3] / "coldstack" / "core"


def asked_names():
    """Every attribute that code of core reads, but for the table of the rules itself."""
    return {
        node.attr
        for path in CORE.rglob("*.py")
        if path.name not in ("rule_table.py", "setting.py")
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Attribute)
    }


class Asked(SimpleTestCase):
    def test_every_rule_is_asked_somewhere(self):
        """Each figure that a person can set is read by whoever goes by it."""
        self.assertGreater(len(RULES), 20)
        asked = asked_names()
        self.assertEqual([r.id for r in RULES if r.id not in asked], [])

    def test_every_rule_is_a_figure_of_the_set(self):
        """What the table names is there, within its own bounds in each starting set."""
        names = {f.name for f in fields(HouseRules)}
        for rules_id in ("steady", "field_day", "long_life"):
            rules = house_rules(rules_id)
            for rule in RULES:
                if rule.id in names and isinstance(getattr(rules, rule.id), float):
                    with self.subTest(rules_id, rule=rule.id):
                        self.assertLessEqual(rule.low, getattr(rules, rule.id))
                        self.assertLessEqual(getattr(rules, rule.id), rule.high)
