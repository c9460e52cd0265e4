"""Two packs in series as one run: by the emptiest cell of both, and as Size judges such a pair."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.errors import DomainError
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.readings.cells import pack_reading, whole_reading
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.running.go import RunContext, go_check
from coldstack.core.running.pairs import (
    in_series,
    known_together,
    pair_candidate,
    read_together,
    typed_pair,
    unlike,
)
from coldstack.core.trial.evaluate import evaluate
from tests.core.trial.jobs import job, pack

ONE = pack(id="owned:02", series=2, owned=True)
OTHER = replace(ONE, id="owned:03")


def together(*cells, one=ONE, other=OTHER, known=None):
    reading = read_together([pack_reading("lipo", c) for c in cells], "lipo", STEADY)
    model = job()
    return go_check(
        model,
        in_series(one, other),
        reading,
        candidate=pair_candidate(model, one, other, ()),
        known=known_together(one, other, known or [RunContext(), RunContext()]),
    )


class AsOne(SimpleTestCase):
    def test_cells_add(self):
        """Twice the cells, one capacity, both masses and the harness; the lesser of both."""
        both = in_series(ONE, replace(OTHER, cell_mohm=5.0))
        self.assertEqual((both.series, both.capacity_ah, both.id), (4, ONE.capacity_ah, "owned:02+owned:03"))
        self.assertGreater(both.mass_g, 2 * ONE.mass_g)

    def test_only_alike(self):
        """Other cells, another chemistry, the same pack twice: refused."""
        for other, words in (
            (replace(OTHER, series=3), "only packs that are alike"),
            (replace(OTHER, chemistry="lihv"), "only packs that are alike"),
            (ONE, "with itself"),
        ):
            with self.assertRaisesRegex(DomainError, words):
                in_series(ONE, other)

    def test_like_a_pack_of_as_many_cells(self):
        """The same minutes as one 4S of the same cells, but for the harness."""
        both = together((4.19,) * 2, (4.19,) * 2)
        alone = pack(series=4, owned=True, mass_g=2 * ONE.mass_g)
        one = go_check(job(), alone, pack_reading("lipo", (4.19,) * 4))
        self.assertAlmostEqual(both.minutes / one.minutes, 1, delta=0.08)
        e = evaluate(job(), pair_candidate(job(), ONE, OTHER, ()))
        self.assertEqual(both.fit, fit_of(e, 0).verdict)

    def test_the_emptier_pack_ends_it(self):
        """3.95 V in the second: as short as if both read so, and no go for cells so far apart."""
        even, low = together((4.15,) * 2, (4.15,) * 2), together((4.15,) * 2, (4.11,) * 2)
        self.assertLess(low.minutes, even.minutes)
        self.assertIn("spread", [r.id for r in low.reasons])
        far = together((4.19,) * 2, (3.95,) * 2)
        self.assertEqual((far.verdict, far.reasons[0].id), ("no_go", "spread"))

    def test_what_either_bars(self):
        """One that cools, or holds far less than the other, bars both; by its tag."""
        known = [RunContext(), RunContext(barred="It was just run: let it cool.")]
        barred = together((4.19,) * 2, (4.19,) * 2, known=known)
        self.assertEqual(barred.verdict, "no_go")
        self.assertIn("03: It was just run", barred.reasons[0].sentence)
        for held, verdict in ((0.98, None), (0.95, "careful"), (0.85, "no_go")):
            tired = replace(OTHER, today=StateOfHealth(capacity_ah=held * OTHER.capacity_ah))
            self.assertEqual([r.verdict for r in unlike(ONE, tired)], [verdict] if verdict else [])


class Typed(SimpleTestCase):
    def test_ways(self):
        """Each with a plus or a new line between, by cells or as a whole; all in a row; all together."""
        for text, one, other, whole in (
            ("4.19 4.18 + 4.20 4.17", (4.19, 4.18), (4.20, 4.17), False),
            ("4.19 4.18\n4.20 4.17", (4.19, 4.18), (4.20, 4.17), False),
            ("4.19 4.18 4.20 4.17", (4.19, 4.18), (4.20, 4.17), False),
            ("8.38+8.36", (4.19, 4.19), (4.18, 4.18), True),
            ("16.76", (4.19, 4.19), (4.19, 4.19), True),
        ):
            with self.subTest(text):
                found = typed_pair("lipo", 2, text, STEADY)
                for read, cells in zip(found, (one, other), strict=True):
                    self.assertEqual(tuple(round(v, 3) for v in read.cell_v), cells)
                    self.assertEqual(read.whole, whole)
        self.assertEqual(read_together(found, "lipo", STEADY).spread_v, None)
        mixed = [whole_reading("lipo", 2, 8.3), pack_reading("lipo", (4.1, 4.1))]
        self.assertTrue(read_together(mixed, "lipo", STEADY).whole)
