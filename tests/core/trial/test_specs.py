"""Every check of sizing has all its words, whatever it is of."""

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.sizing.conflict import conflict
from coldstack.core.sizing.plates import plates
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.wording import lack
from tests.core.trial.jobs import job, pack

ALL = {
    "wants": {"minutes": 60, "mass_g": 100, "volts": 30, "rpm": 60_000, "lively": 2.0},
    "bay": {
        "length_mm": 50,
        "width_mm": 20,
        "height_mm": 10,
        "balance_at_mm": 300,
        "empty_balance_mm": 200,
        "centre_mm": 100,
    },
    "electronics": {
        "max_v": 8.0,
        "min_v": 14.0,
        "motor_kv": 900,
        "controller_continuous_a": 1,
        "motor_continuous_a": 1,
        "lead_awg": 26,
    },
}


class Specs(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.e = evaluate(job(**ALL), from_packs([pack()], "cautious"))

    def test_every_lack_has_words(self):
        """Also of those that rule nothing out, and belong to no link."""
        self.assertGreaterEqual(len(self.e.checks), 20)
        for k, column in enumerate(self.e.checks):
            with self.subTest(column.id):
                words = lack(self.e, k, 0)
                self.assertRegex(words, "[a-z]")
                self.assertNotRegex(words, "nan|unknown")

    def test_each_is_said_once(self):
        """One id each, and the words of what would have to give."""
        ids = [c.id for c in self.e.checks]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertTrue(all(c.spec.gives for c in self.e.checks))

    def test_what_has_to_give_is_told(self):
        """Where everything stands in the way the conflict still finds words."""
        self.assertFalse(self.e.feasible[0])
        self.assertIn("that has to change first", conflict(self.e).sentence)

    def test_each_link_has_a_plate_and_a_relief(self):
        """The weakest says by how much and what helps."""
        found = plates(self.e, 0)
        self.assertEqual([p.link for p in found], ["cells", "leads", "plug", "controller", "motor"])
        weakest = next(p for p in found if p.weakest)
        self.assertEqual(weakest.loading, max(p.loading for p in found))
        self.assertRegex(
            weakest.sentence,
            r"^Over its limit .*[:,] [\d ]+ %, .* would bring it to \d+ (%|°C\u2060\u2060 over the air)\.$",
        )

    def test_hot_cells_say_what_cools_them(self):
        """Where their temperature leads, degrees stand in the sentence and no amps."""
        warm = job(bay={"air_c": 58.0, "airflow": "closed"}, electronics={"controller_continuous_a": 500})
        cells = plates(evaluate(warm, from_packs([pack(cell_mohm=0.5, label_c=200)], "cautious")), 0)[0]
        self.assertEqual(cells.leading.id, "cells.temperature")
        self.assertTrue(cells.weakest)
        self.assertRegex(cells.sentence, r"when landing: [\d.]+ °C\u2060 of 60 °C\u2060\. More capacity")
        self.assertTrue(np.isfinite(cells.loading))
