import math
from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.errors import DomainError, SeveralErrors, require_between
from coldstack.core.packs.pack import check_pack
from coldstack.core.trial.job import check_job
from tests.core.trial.jobs import job, pack


class Jobs(SimpleTestCase):
    def refused(self, wanted, field):
        with self.assertRaises(DomainError) as caught:
            check_job(wanted)
        self.assertEqual(caught.exception.field, field)
        self.assertTrue(caught.exception.sentence.endswith("."))

    def test_a_sound_job_passes(self):
        """And is given back unchanged."""
        self.assertEqual(check_job(job()).name, "test")

    def test_every_number_has_limits_and_nan_fails_each(self):
        """Just beyond either end, and NaN: the field is named."""
        for part, name, low, high in (
            ("wants", "minutes", 0.05, 601),
            ("wants", "mass_g", 0.5, 1e6),
            ("wants", "volts", 0.1, 500),
            ("wants", "rpm", 0, 1e6),
            ("electronics", "max_v", 0.5, 200),
            ("electronics", "min_v", -1, 20),
            ("electronics", "controller_continuous_a", 0, 2001),
            ("electronics", "controller_burst_a", 0, 4001),
            ("electronics", "motor_continuous_a", 0, 9999),
            ("electronics", "motor_burst_a", 0, 9999),
            ("electronics", "motor_kv", 0, 99999),
            ("electronics", "lead_length_mm", -1, 9999),
            ("bay", "length_mm", 1, 5000),
            ("bay", "width_mm", 1, 5000),
            ("bay", "height_mm", 1, 5000),
            ("bay", "air_c", -40, 60),
            ("bay", "pack_c", -40, 70),
        ):
            for bad in (low, high, math.nan):
                with self.subTest(f"{part}.{name} = {bad}"):
                    self.refused(job(**{part: {name: bad}}), f"{part}.{name}")

    def test_highest_volts_that_cannot_be_are_told_alone(self):
        """The lowest ones are then not blamed for being above them."""
        self.refused(job(electronics={"max_v": -1.0, "min_v": 9.0}), "electronics.max_v")
        with self.assertRaises(DomainError) as caught:
            check_job(job(electronics={"max_v": -1.0, "min_v": 9.0}))
        self.assertNotIsInstance(caught.exception, SeveralErrors)
        self.refused(job(electronics={"max_v": 12.0, "min_v": 12.1}), "electronics.min_v")

    def test_lists_and_choices(self):
        """No chemistry, an unknown one, no cells, an unknown plug, an impossible gauge."""
        self.refused(job(wants={"chemistries": ()}), "wants.chemistries")
        self.refused(job(wants={"chemistries": ("lead",)}), "chemistry")
        self.refused(job(wants={"cells": (0,)}), "wants.cells")
        self.refused(job(electronics={"plug": "xt45"}), "plug")
        self.refused(job(electronics={"lead_awg": 60}), "electronics.lead_awg")

    def test_a_model_without_mass(self):
        """Or of a tonne."""
        self.refused(replace(job(), mass_g=0.0), "mass_g")
        self.refused(replace(job(), mass_g=1e6), "mass_g")

    def test_what_does_not_matter_may_be_missing(self):
        """No wants, no bay, no ratings: still a job."""
        check_job(
            job(
                wants={"minutes": None, "mass_g": None},
                electronics={"controller_continuous_a": None},
                bay={"length_mm": None},
            )
        )


class Packs(SimpleTestCase):
    def test_a_sound_pack_passes_and_each_slip_is_named(self):
        """The catalogue's rows go through this."""
        check_pack(pack())
        for field, bad in (
            ("series", 0),
            ("parallel", 99),
            ("capacity_ah", 0.0),
            ("mass_g", math.nan),
            ("length_mm", 0.0),
            ("width_mm", 9999.0),
            ("height_mm", -3.0),
            ("label_c", 0.0),
            ("label_burst_c", 5000.0),
            ("charge_c", 0.0),
            ("cell_mohm", 0.0),
            ("price", -1.0),
            ("chemistry", "lead"),
            ("plug", "x"),
        ):
            with self.subTest(field), self.assertRaises(DomainError) as caught:
                check_pack(pack(**{field: bad}))
            self.assertEqual(caught.exception.field, field)


class Between(SimpleTestCase):
    def test_the_sentence_says_what_would_be_right(self):
        """Name, limits, unit, and what was given."""
        with self.assertRaisesRegex(DomainError, "Peak must be from 1 to 5 A, not 7 A."):
            require_between("draw.peak_a", "Peak", 7, low=1, high=5, unit="A")
        with self.assertRaisesRegex(DomainError, "not a number"):
            require_between("x", "Peak", math.nan, low=1, high=5)
        self.assertEqual(require_between("x", "Peak", 5, low=1, high=5), 5)
