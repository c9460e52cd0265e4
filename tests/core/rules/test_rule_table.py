"""Every rule: its limits, its words, and that what goes by it follows."""

import math
from dataclasses import fields, replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.errors import DomainError
from coldstack.core.rules.house_rules import HOUSE_RULES, STEADY, HouseRules, for_chemistry
from coldstack.core.rules.rule_table import BY_ID, RULES
from coldstack.core.rules.setting import changed, in_words, values_of


class Table(SimpleTestCase):
    def test_every_figure_of_a_set_is_a_rule(self):
        """Nothing that counts is out of reach."""
        words = {"id", "name", "why", "who_differs"}
        self.assertEqual({f.name for f in fields(HouseRules)} - words, set(BY_ID))

    def test_each_says_why_and_who_differs(self):
        """In sentences."""
        for rule in RULES:
            with self.subTest(rule.id):
                self.assertTrue(rule.why.endswith(".") and rule.who_differs.endswith("."))
                self.assertTrue(rule.follows)
                self.assertLess(rule.low, rule.high)

    def test_starting_sets_are_possible(self):
        """As they come."""
        for rules in HOUSE_RULES.values():
            self.assertEqual(changed(STEADY, values_of(rules)).usable_share, rules.usable_share)

    def test_words(self):
        """Per cent, volts with thousandths where they matter, C, hours."""
        said = [
            in_words(BY_ID[i], v)
            for i, v in (
                ("usable_share", 0.8),
                ("full_cell_v", 4.2),
                ("parallel_spread_v", 0.005),
                ("charge_c_limit", 1.5),
                ("storage_within_h", 48),
                ("cold_run_c", 10),
            )
        ]
        self.assertEqual(said, ["80 %", "4.20 V", "0.005 V", "1.5C", "48 h", "10 °C\u2060"])


class Changed(SimpleTestCase):
    def assert_refused(self, values, field, words):
        with self.assertRaises(DomainError) as caught:
            changed(STEADY, values)
        self.assertEqual(caught.exception.field, f"values.{field}")
        self.assertIn(words, caught.exception.sentence)

    def test_nothing_allows_what_a_chemistry_or_a_caution_forbids(self):
        """At the limit yes, just beyond it no, with what is possible."""
        for rule in RULES:
            with self.subTest(rule.id):
                for beyond in (rule.low - 1e-3, rule.high + 1e-3, math.nan):
                    self.assert_refused({rule.id: beyond}, rule.id, in_words(rule, rule.low))
        self.assertEqual(changed(STEADY, {"full_cell_v": 4.20}).full_cell_v, 4.20)
        self.assert_refused({"full_cell_v": 4.21}, "full_cell_v", "4.00 V to 4.20 V, not 4.21 V")

    def test_rules_agree_with_each_other(self):
        """A cut-off above the alarm, watching after retiring: refused at the one that was set."""
        self.assert_refused({"alarm_loaded_v": 3.15}, "alarm_loaded_v", "cut-off")
        self.assert_refused({"cutoff_loaded_v": 3.45}, "cutoff_loaded_v", "cut-off")
        self.assert_refused({"cell_watch": 1.7}, "cell_watch", "before retiring")
        self.assert_refused({"capacity_end": 0.92}, "capacity_end", "above the end of flying")

    def test_an_unknown_rule(self):
        """Named."""
        self.assert_refused({"luck": 1.0}, "luck", "no rule “luck”")

    @given(st.data(), st.sampled_from(CHEMISTRY_IDS))
    def test_no_possible_set_damages_a_cell(self, data, chemistry_id):
        """Whatever is set: full never above the chemistry, alarm and cut-off never below damage, something
        left to use."""
        ids = ("usable_share", "landing_rest_v", "full_cell_v", "alarm_loaded_v", "cutoff_loaded_v")
        values = {i: data.draw(st.floats(BY_ID[i].low, BY_ID[i].high), label=i) for i in ids}
        values["cutoff_loaded_v"] = min(values["cutoff_loaded_v"], values["alarm_loaded_v"])
        cell, rules = CHEMISTRIES[chemistry_id], for_chemistry(changed(STEADY, values), chemistry_id)
        self.assertLessEqual(rules.full_v, cell.full_v)
        self.assertGreaterEqual(min(rules.alarm_v, rules.cutoff_v), cell.damage_v)
        self.assertGreater(rules.start_soc, rules.landing_soc)

    def test_cited(self):
        """Workings name the set."""
        self.assertEqual(replace(STEADY, name="Club").cited, "house rules “Club”")
