"""House figures: lists that belong together, and how far a rule may be set.

Single figures are held by tests of what follows from them, in the room where each stands; the table of
docs/model.md is made from the code.
"""

from django.test import SimpleTestCase

from coldstack.core.packs.kinds import KINDS
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.rules.rule_table import RULES
from coldstack.core.trial.job import AIRFLOW_W_PER_M2_K
from coldstack.core.trial.unknowns import AGEING


class HouseFigures(SimpleTestCase):
    def test_lists_of_figures(self):
        """Air over a pack, what ageing takes unseen, and how far cells may differ by the Steady rules."""
        self.assertEqual(AIRFLOW_W_PER_M2_K, {"closed": 6, "vented": 12, "stream": 25})
        self.assertEqual(AGEING, {"fine": 0.1, "again": 0.15, "watch": 0.15, "light": 0.25, "retire": 0.4})
        effort = {kind.id: kind.effort for kind in KINDS.values() if kind.effort}
        self.assertEqual(effort, {"series pair": 0.05, "parallel pair": 0.05, "cell build": 0.1})
        steady = house_rules("steady")
        self.assertEqual((steady.spread_watch_v, steady.spread_act_v), (0.03, 0.05))

    def test_how_far_a_rule_may_be_set(self):
        """Those whose bounds keep packs whole: nobody sets his way past them."""
        bounds = {rule.id: (rule.low, rule.high) for rule in RULES}
        for rule_id, told in (
            ("full_cell_v", (4.0, 4.2)),
            ("charge_c_limit", (0.2, 5.0)),
            ("usable_share", (0.4, 0.9)),
            ("landing_rest_v", (3.5, 3.85)),
            ("alarm_loaded_v", (3.1, 3.8)),
            ("cutoff_loaded_v", (3.0, 3.5)),
            ("parallel_spread_v", (0.005, 0.1)),
            ("spread_act_v", (0.01, 0.05)),
            ("cell_bad", (1.1, 2.0)),
            ("growth_bad", (1.2, 3.0)),
            ("capacity_end", (0.6, 0.95)),
        ):
            with self.subTest(rule_id):
                self.assertEqual(bounds[rule_id], told)
