"""The draw by physics, joined to what else is known."""

import json
from dataclasses import replace
from pathlib import Path
from statistics import median

from django.test import SimpleTestCase

import coldstack.demo
from coldstack.core.describing.answers import Answers, LimitAnswers
from coldstack.core.describing.evidence import drawn_by
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.describing.physics import average_by_physics, full_stick, peak_by_physics
from coldstack.core.describing.supposed import supposed
from coldstack.core.propulsion.told import Propulsion
from coldstack.core.rules.house_rules import STEADY, for_chemistry
from coldstack.core.sizing.plan import plan
from coldstack.core.trial.job import RunsOn
from tests.core.describing.all_classes import STOCK
from tests.core.describing.drives import driven, drives

STEPS = (
    ("nothing", ("class",)),
    ("pack", ("class", "pack", "grams", "label")),
    ("controller", ("class", "pack", "grams", "label", "controller")),
    ("drive", ("class", "pack", "grams", "label", "controller", "drive")),
)


def drawn(answers: Answers):
    """Average and peak by the answers, with the usual rules."""
    a = supposed(answers, STEADY)
    return drawn_by(a, usable_ah=a.now.capacity_ah * for_chemistry(STEADY, a.now.chemistry).usable)


def width(estimate) -> float:
    """High over low end."""
    return estimate.high_a / estimate.low_a


class EachPieceNarrows(SimpleTestCase):
    def test_nothing_pack_controller_propeller(self):
        """The median range of all models gets narrower with each, of the average and of the peak."""
        ranges = [[drawn(driven(m, row, *facts)) for m, row in drives()] for _, facts in STEPS]
        self.assertGreaterEqual(len(ranges[0]), 30)
        for of in ("average", "peak"):
            widths = [median(width(getattr(d, of)) for d in step) for step in ranges]
            with self.subTest(of, widths=widths):
                self.assertEqual(widths, sorted(widths, reverse=True))
                self.assertGreater(widths[0] / widths[-1], 1.3)

    def test_the_truth_lies_within(self):
        """Of those described in full, average and peak between the ends: 17 of 20 at least."""
        full = [(m, drawn(driven(m, row, *STEPS[-1][1]))) for m, row in drives()]
        for of, true in (("average", "average_a"), ("peak", "peak_a")):
            inside = [getattr(d, of).low_a <= getattr(m, true) <= getattr(d, of).high_a for m, d in full]
            self.assertGreaterEqual(sum(inside) / len(inside), 0.85, of)
        # and is not bought by ranges that say nothing: within a factor of two either way in the median
        self.assertLess(median(width(d.average) for _, d in full), 4.0)

    def test_propellers_say_nothing_of_a_fan(self):
        """A ducted fan, a helicopter and a car have no such piece."""
        for kind in ("jet", "helicopter", "car"):
            a = Answers("", kind, 2000, RunsOn("lipo", 4, 4, 400), limits=LimitAnswers(motor_kv=2000))
            a = replace(a, propulsion=Propulsion(propeller="5x4"))
            self.assertIsNone(full_stick(a))


class KvCellsAndPropellerAlone(SimpleTestCase):
    """What the demo's logs and meters say, against an entry by motor, cells and propeller or gearing."""

    def models(self):
        text = (Path(coldstack.demo.__file__).parent / "models.json").read_text(encoding="utf-8")
        return {m["slug"]: m["job"] for m in json.loads(text)}

    def entered(self, slug: str) -> tuple[Answers, dict]:
        job = self.models()[slug]
        e, now, told = job["electronics"], job["now"], dict(job["propulsion"])
        kind, model_class = told.pop("kind"), told.pop("model_class")
        return Answers(
            "",
            kind,
            1000,
            RunsOn(now["chemistry"], now["series"], 1.0, 100),
            now_mass_told=False,
            mass_told=False,
            capacity_told=False,
            model_class=model_class,
            rotors=e.get("motors"),
            limits=LimitAnswers(motor_kv=e.get("motor_kv")),
            propulsion=Propulsion(**told),
        ), job

    def test_the_range_holds_what_a_meter_says(self):
        """Ptarmigan, Fieldfare, Stoat and Dipper: average and peak between the ends."""
        for slug in ("ptarmigan", "fieldfare", "stoat", "dipper"):
            answers, job = self.entered(slug)
            found = drawn(answers)
            with self.subTest(slug):
                average, peak = job["draw"]["average_a"], job["draw"]["peak_a"]
                self.assertTrue(found.average.low_a <= average <= found.average.high_a, found.average.words)
                self.assertTrue(found.peak.low_a <= peak <= found.peak.high_a, found.peak.words)

    def test_a_shortlist_follows(self):
        """With packs to choose from, and with mass and capacity named among what was assumed."""
        for slug in ("ptarmigan", "fieldfare", "stoat"):
            answers, _ = self.entered(slug)
            described = described_job(answers, STEADY)
            with self.subTest(slug):
                self.assertTrue({"mass_g", "now.capacity_ah", "draw.average_a"} <= described.job.assumed)
                self.assertTrue(plan(described.job, STOCK).short_rows)


class Pieces(SimpleTestCase):
    def quad(self, **more) -> Answers:
        a = Answers("", "multirotor", 900, RunsOn("lipo", 4, 3.3, 345), rotors=4, model_class="camera")
        return replace(
            a, propulsion=Propulsion(propeller="10x4.5", **more), limits=LimitAnswers(motor_kv=920)
        )

    def one(self, a: Answers):
        likely = drawn(a).likely
        return average_by_physics(a, likely)[0], peak_by_physics(a, likely)[0]

    def test_coaxial_rotors_take_a_fifth_more(self):
        """Of the watts of hovering."""
        apart, paired = self.one(self.quad())[0], self.one(self.quad(coaxial=True))[0]
        self.assertAlmostEqual(paired.median_a / apart.median_a, 1.2)

    def test_a_told_resistance_makes_the_peak_surer(self):
        """The speed it holds is no guess then."""
        self.assertLess(self.one(self.quad(motor_mohm=110))[1].sigma, self.one(self.quad())[1].sigma)

    def test_supposed_mass_makes_it_less_sure(self):
        """Hovering goes with the mass to the one and a half."""
        self.assertGreater(
            self.one(replace(self.quad(), mass_told=False))[0].sigma, self.one(self.quad())[0].sigma
        )

    def test_a_told_meter_is_not_argued_with(self):
        """Amps by a meter are the average, whatever propeller and motor say."""
        a = self.quad()
        told = replace(a, usage=replace(a.usage, average_a=11.0))
        self.assertEqual([p.id for p in drawn(told).average.pieces], ["amps"])
        self.assertAlmostEqual(drawn(told).average.median_a, 11.0)

    def test_peaks_lean_on_one_ratio_once(self):
        """Controller, plug, label and propeller say one thing of the average, not four."""
        a = replace(self.quad(), limits=LimitAnswers(motor_kv=920, controller_a=30, plug="xt60"))
        ids = [p.id for p in drawn(a).average.pieces]
        self.assertEqual(ids.count("peak"), 1)
        self.assertFalse({"controller", "plug", "label", "propeller"} & set(ids))
