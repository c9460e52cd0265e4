from django.test import SimpleTestCase

from coldstack.core.sizing.pairs import pairs
from coldstack.core.sizing.plates import plates
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import evaluate
from tests.core.trial.jobs import job, pack


def stack(wanted, one, joined=None):
    c = from_packs([one], "cautious")
    if joined is not None:
        c = pairs(c).take([joined])
    return {p.link: p for p in plates(evaluate(wanted, c), 0)}


class Names(SimpleTestCase):
    def test_cells_say_series_and_strings(self):
        """4S, and 2S2P for two packs in parallel."""
        self.assertEqual(stack(job(), pack())["cells"].name, "Cells, 4S")
        self.assertEqual(stack(job(), pack(series=2), joined=1)["cells"].name, "Cells, 2S2P")

    def test_a_mixed_plug_names_both_halves(self):
        """The pack's first, the model's in brackets."""
        self.assertEqual(stack(job(), pack(plug="xt90"))["plug"].name, "Plug, XT90 (model: XT60)")
        self.assertEqual(stack(job(), pack())["plug"].name, "Plug, XT60")

    def test_the_wire_that_limits_is_named(self):
        """A thin pack lead on thick model leads, and the other way round; two packs in parallel have two
        leads."""
        self.assertEqual(stack(job(), pack(lead_awg=16))["leads"].name, "Leads, 16 AWG")
        self.assertEqual(
            stack(job(electronics={"lead_awg": 16}), pack())["leads"].name, "Model’s leads, 16 AWG"
        )
        self.assertEqual(
            stack(job(electronics={"lead_awg": 8}), pack(lead_awg=16), joined=1)["leads"].name,
            "Leads, 2 × 16 AWG",
        )

    def test_a_model_without_motor_figures_has_no_motor_plate(self):
        """Absent, not unknown: nobody said there is a limit."""
        found = stack(job(electronics={"motor_continuous_a": None, "motor_burst_a": None}), pack())
        self.assertNotIn("motor", found)


class Sentences(SimpleTestCase):
    def weak(self, wanted, one):
        return next(p for p in stack(wanted, one).values() if p.weakest)

    def test_a_cold_stack_says_that_nothing_is_strained(self):
        """No cure is offered where none is needed."""
        self.assertIn(
            "not strained", self.weak(job(draw={"average_a": 5.0, "peak_a": 12.0}), pack()).sentence
        )

    def test_an_overload_says_so_and_names_a_cure_that_cures(self):
        """The controller of 30 A at 40 A: over, and the one proposed is at most 70 % loaded."""
        plate = self.weak(
            job(electronics={"controller_continuous_a": 25.0, "controller_burst_a": 30.0}), pack()
        )
        self.assertEqual(plate.link, "controller")
        self.assertIn("Over its limit at the peak", plate.sentence)
        proposed = float(plate.sentence.split("One of ")[1].split(" A")[0])
        self.assertLessEqual(plate.burst.value / proposed, 0.70 + 1e-9)

    def test_each_link_has_its_own_cure(self):
        """A plug for the plug, wire for the leads, cells for the cells, less propeller for the motor."""
        for wanted, one, link, words in (
            (job(electronics={"plug": "block_small"}), pack(), "plug", "on both sides"),
            (job(electronics={"lead_awg": 20}), pack(), "leads", "Thicker leads"),
            (
                job(electronics={"motor_continuous_a": 14.0, "motor_burst_a": 30.0}),
                pack(),
                "motor",
                "less propeller",
            ),
            (job(), pack(label_c=5.0, cell_mohm=3.0), "cells", "Cells good for"),
        ):
            plate = self.weak(wanted, one)
            self.assertEqual(plate.link, link)
            self.assertIn(words, plate.sentence)

    def test_hot_cells_lead_by_temperature(self):
        """In hot air the cells' plate is led by degrees, not amps."""
        plate = self.weak(job(bay={"air_c": 44.0, "airflow": "closed"}), pack(cell_mohm=6.0, label_c=None))
        self.assertEqual(plate.leading.id, "cells.temperature")
        self.assertIn("°C\u2060 of 60 °C\u2060", plate.sentence)

    def test_leading_is_the_most_loaded_of_a_plate_s_checks(self):
        """On every plate; of plugs and leads their warmth, with the ratings in sight."""
        for plate in stack(job(), pack()).values():
            self.assertEqual(plate.loading, plate.leading.loading)
            if plate.link in ("leads", "plug"):
                self.assertEqual(plate.leading.id, f"{plate.link}.warmth")
                self.assertRegex(plate.ratings, r"^[\d.]+ of [\d.]+ A printed, peak [\d.]+ of [\d.]+ A$")
                continue
            self.assertGreaterEqual(
                plate.leading.loading, max(plate.continuous.loading, plate.burst.loading) - 1e-12
            )
