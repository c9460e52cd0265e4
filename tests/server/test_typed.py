"""Figures as people type them, over the API and in files: the value of a form, or its question."""

import json
from pathlib import Path

from django.test import SimpleTestCase
from pydantic import ValidationError

from coldstack.core.fields.typed import UNITS, read_typed
from coldstack.server.api.errors import words_of
from coldstack.server.api.shapes import _units_of
from coldstack.server.gear.csv_words import Column, value_of
from coldstack.server.gear.kinds import KINDS
from coldstack.server.sizing.schemas import In, JobIn
from tests.server.case import DemoCase

CASES = json.loads((Path(__file__).parents[1] / "data" / "typed.json").read_text())
IN_A_JOB = {
    "A": "draw.average_a",
    "V": "draw.reference_voltage_v",
    "min": "wants.minutes",
    "s": "draw.peak_s",
    "°C": "bay.air_c",
    "rpm": "wants.rpm",
    "rpm/V": "electronics.motor_kv",
    "cells": "electronics.rated_cells",
    "g": "mass_g",
    "mm": "bay.length_mm",
    "AWG": "electronics.lead_awg",
}
IN_A_PACK = {
    "g": "mass_g",
    "C": "label_c",
    "mm": "length_mm",
    "mΩ": "cell_mohm",
    "money": "price",
    "": "series",
}
"""Where a quantity is asked, by its unit."""


def told(shape, values, path):
    """The figure at a path of a shape, or the words of its refusal."""
    try:
        made = shape.model_validate(values)
    except ValidationError as refused:
        for error in refused.errors():
            if ".".join(str(x) for x in error["loc"]).startswith(path):
                return words_of(error, error["input"])
        raise
    for name in path.split("."):
        made = getattr(made, name)
    return made


class SameEverywhere(DemoCase):
    def setUp(self):
        self.pack = {"name": "A", "chemistry": "lipo", "series": 4, "capacity_ah": 2.2, "plug": "xt60"}

    def assert_as_core(self, found, text, unit, bare=""):
        core = read_typed(text, unit, bare)
        whole = isinstance(found, str) and "whole number" in found
        if core.value is None:
            self.assertEqual(found, core.problem)
        elif not whole:
            self.assertAlmostEqual(found, core.value, delta=1e-6 * (1 + abs(core.value)))

    def test_over_the_api(self):
        """In a model's job and in a pack."""
        job, seen = self.job("ptarmigan"), 0
        for unit, bare, text, _ in CASES:
            if bare:
                continue
            for shape, values, places in (
                (JobIn, job, IN_A_JOB),
                (KINDS["packs"].schema, self.pack, IN_A_PACK),
            ):
                if path := places.get(unit):
                    changed = json.loads(json.dumps(values))
                    *parts, name = path.split(".")
                    at = changed
                    for part in parts:
                        at = at[part]
                    at[name] = text
                    seen += 1
                    with self.subTest(path=path, text=text):
                        self.assert_as_core(told(shape, changed, path), text, unit)
        self.assertGreater(seen, 180)

    def test_in_files(self):
        """A cell under a header that names the unit or not."""
        packs, seen = KINDS["packs"], 0
        headers = {("g", ""): "Weight", ("C", ""): "C rating", ("mm", ""): "Length", ("Ah", "mah"): "mAh"}
        headers |= {("g", "oz"): "Weight (oz)", ("money", ""): "Price", ("mΩ", ""): "IR", ("", ""): "Cells"}
        for unit, bare, text, _ in CASES:
            header = headers.get((unit, bare))
            # an empty cell says nothing, two rates in one cell are both taken
            if not header or not text.strip() or (unit == "C" and "-" in text + "-" and "/" in text):
                continue
            field = {**IN_A_PACK, "Ah": "capacity_ah"}[unit]
            named = "mah" if bare == "mah" else bare
            values = {**self.pack, **value_of(packs, Column(header, field, named), text)}
            if field not in values or "label_burst_c" in values or "parallel" in values:
                continue
            seen += 1
            with self.subTest(header=header, text=text):
                self.assert_as_core(told(packs.schema, values, field), text, unit, bare)
        self.assertGreater(seen, 100)

    def test_what_the_program_wrote_itself_is_read_as_it_stands(self):
        """A column by our own name with three digits behind the point is no thousand."""
        packs = KINDS["packs"]
        for text, value in (("12.345", 12.345), ("1.250", 1.25), ("412", 412.0)):
            self.assertEqual(value_of(packs, Column("mass_g", "mass_g"), text), {"mass_g": value})
        self.assertEqual(value_of(packs, Column("Weight", "mass_g"), "1.250"), {"mass_g": 1250.0})

    def test_a_pack_and_a_job_with_units(self):
        """Stored in the unit that is kept; a question stands at its field and nothing is stored."""
        told = {
            "capacity_ah": "2200 mAh",
            "mass_g": "7 oz",
            "label_c": "45C",
            "series": "4S",
            "length_mm": "10,5 cm",
        }
        kept = self.post("/api/gear/packs", {**self.pack, **told})
        self.assertEqual(kept.status_code, 201, kept.content[:300])
        row = kept.json()["row"]
        self.assertEqual(
            (row["capacity_ah"], row["label_c"], row["series"], row["length_mm"]), (2.2, 45, 4, 105)
        )
        self.assertAlmostEqual(row["mass_g"], 198.446661)
        refused = self.post("/api/gear/packs", {**self.pack, "mass_g": "250-300 g"})
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(
            refused.json()["errors"],
            [{"field": "mass_g", "message": "“250-300 g” may be 250 or 300. Which?"}],
        )
        plan = self.plan(wants={"minutes": "4:30", "mass_g": "0,5 kg"})
        self.assertIn("within 500 g", plan["subline"])


class EveryUnit(SimpleTestCase):
    def test_each_field_s_unit_can_be_typed(self):
        """Of every shape that takes figures: its units are among those that are read."""

        def all_of(shape):
            return {shape}.union(*(all_of(x) for x in shape.__subclasses__()))

        units = {unit for shape in all_of(In) for unit in _units_of(shape).values()}
        self.assertGreater(len(units), 15)
        self.assertEqual(units - set(UNITS), set())
