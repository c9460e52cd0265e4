"""What a field asks, and the checks of a value that follow from it."""

import math
import unittest
from dataclasses import dataclass, fields, replace
from typing import Annotated

from coldstack.core.chain.own_plugs import check_plug
from coldstack.core.chain.plugs import PlugFamily
from coldstack.core.charging.charger import Charger, Supply, check_charger, check_supply
from coldstack.core.errors import DomainError, SeveralErrors, faults
from coldstack.core.fields.quantity import Quantity, Words, YesNo
from coldstack.core.fields.table import bounds, fields_of, holds_several
from coldstack.core.packs.pack import CellType, LogFindings, Pack, check_cell_type, check_learnt, check_pack

PACK = Pack("x", "x", "lipo", 4, 2.2, 200)
VALUES = (
    (PACK, check_pack),
    (CellType("x", "x", "liion", 3.0, 48, 18, 65, 20), check_cell_type),
    (LogFindings("a log", 3.0, 0.1), check_learnt),
    (Supply("x", "x", "mains", 12, 300), check_supply),
    (Charger("x", "x", ("lipo",), 6, 10, 200, mains_w=200), check_charger),
    (PlugFamily("own_x", "Own", 40, 80, 1.0), check_plug),
)
HANGS_ON_OTHERS = {"balance_a", "series_max", "series_min", "continuous_a", "burst_a", "dc_min_v", "dc_max_v"}
"""Their own checks know more than the table: the charger's and the plug's."""


class Bounds(unittest.TestCase):
    """A value stands between the bounds of its fields."""

    def test_at_and_just_outside_each_bound(self):
        """At a bound it can be; a hair outside it is refused, by its name in the form."""
        for value, check in VALUES:
            for name, field in fields_of(type(value)).items():
                asked = field.asked
                if not isinstance(asked, Quantity) or name in HANGS_ON_OTHERS:
                    continue
                for bound, outside in ((asked.low, -math.inf), (asked.high, math.inf)):
                    with self.subTest(value=type(value).__name__, field=name, bound=bound):
                        check(replace(value, **{name: bound}))
                        with self.assertRaises(DomainError) as caught:
                            check(replace(value, **{name: math.nextafter(bound, outside)}))
                        self.assertEqual(caught.exception.field, name)

    def test_what_a_pack_can_be(self):
        """Figures that no table of ours made up: a cell is no 5 mAh, 30S is no pack, 600C is no label."""
        good = {"series": 28, "capacity_ah": 0.01, "label_c": 500, "mass_g": 0.5, "charge_c": 20}
        bad = {"series": 29, "capacity_ah": 0.005, "label_c": 600, "mass_g": 0.4, "charge_c": 21}
        for name, figure in good.items():
            self.assertIs(type(check_pack(replace(PACK, **{name: figure}))), Pack)
        for name, figure in bad.items():
            with self.subTest(name), self.assertRaises(DomainError):
                check_pack(replace(PACK, **{name: figure}))

    def test_everything_wrong_is_said_at_once(self):
        """Three figures that cannot be are three sentences, each with name, bounds and unit."""
        with self.assertRaises(SeveralErrors) as caught:
            check_pack(replace(PACK, series=0, mass_g=math.nan, label_c=501))
        said = {e.field: e.sentence for e in caught.exception.errors}
        self.assertEqual(said["series"], "Cells in series must be from 1 to 28, not 0.")
        self.assertEqual(said["mass_g"], "Mass must be from 0.5 to 50000 g\u2060, not not a number.")
        self.assertEqual(said["label_c"], "Continuous C must be from 0.1 to 500 C, not 501 C.")

    def test_unknown_passes_and_each_of_several_counts(self):
        """None is not known; of a list every number is looked at, under the path it has in a job."""

        @dataclass(frozen=True)
        class Wanted:
            mass_g: Annotated[float | None, Quantity("Mass", unit="g", low=1, high=10)] = None
            cells: Annotated[tuple[int, ...], Quantity("Cells", low=1, high=4)] = ()

        self.assertEqual(faults(*bounds(Wanted(), "goals.")), [])
        found = faults(*bounds(Wanted(11, (2, 5)), "goals."))
        self.assertEqual([e.field for e in found], ["goals.mass_g", "goals.cells"])
        self.assertEqual(faults(*bounds(Wanted(11, (2,)), without=("mass_g",))), [])


class Table(unittest.TestCase):
    """What can be read of a class."""

    def test_every_field_in_order(self):
        """Names, what is asked, and what stands where nobody says anything."""
        table = fields_of(Pack)
        self.assertEqual(list(table), [f.name for f in fields(Pack)])
        self.assertIsInstance(table["name"].asked, Words)
        self.assertIsInstance(table["fit"].asked, YesNo)
        self.assertIsNone(table["id"].asked)
        self.assertIsNone(table["label_c"].default)
        self.assertEqual(table["plug"].default, "xt60")

    def test_usual_lies_within_what_can_be(self):
        """What most have is possible, and narrower than everything."""
        for value, _ in VALUES:
            for name, field in fields_of(type(value)).items():
                if isinstance(field.asked, Quantity) and field.asked.usual is not None:
                    low, high = field.asked.usual
                    with self.subTest(f"{type(value).__name__}.{name}"):
                        self.assertLess(field.asked.low, low + 1e-9)
                        self.assertLess(low, high)
                        self.assertLess(high, field.asked.high)

    def test_several(self):
        """A list is told from one of a list."""
        self.assertTrue(holds_several(fields_of(Charger)["chemistries"].hint))
        self.assertFalse(holds_several(fields_of(Pack)["chemistry"].hint))
