"""A new plug, one wire at a time: at no step are two bare ends of a pack apart in volts."""

from functools import cache
from itertools import pairwise, product
from unittest import TestCase

from coldstack.core.chain.plugs import PLUGS, PlugEnd
from coldstack.core.drawings.soldering import Soldering, apart_v, bare_poles, shorted, soldering


@cache
def every_soldering() -> list[tuple[float, Soldering]]:
    """Every plug of packs to every other, on packs of one cell and of fourteen, on one or on both sides."""
    found = []
    for old in PLUGS.values():
        for new in PLUGS.values():
            for both in (False, True):
                for volts in (3.2, 4.2, 58.8):
                    ends = PlugEnd(old.id), PlugEnd(new.id, "device")
                    made = soldering(old=ends[0], model=ends[1], new=new.id, both=both, pack_v=volts)
                    found.append((volts, made))
    return found


class OneWireAtATime(TestCase):
    def test_never_two_bare_ends_of_a_pack(self):
        """Nor do cutters that touch all that is bare in a step short it."""
        for volts, made in every_soldering():
            for step in made.steps:
                self.assertEqual(apart_v(step, volts), 0.0, (made.name, step.id))
                self.assertFalse(shorted(step, volts), (made.name, step.id))

    def test_what_is_struck_out_is_a_short(self):
        """By the same test, at every voltage."""
        for volts, made in every_soldering():
            self.assertTrue(shorted(made.never, volts))
            self.assertAlmostEqual(apart_v(made.never, volts), volts)
            self.assertEqual(made.does, "a short circuit")

    def test_a_step_moves_one_wire_of_a_pack(self):
        """And it ends with both at the new plug; plus is not touched before minus is covered there."""
        for _, made in every_soldering():
            on_pack = [s for s in made.steps if s.whose == "pack"]
            for before, after in pairwise(on_pack):
                moved = (before.plus != after.plus) + (before.minus != after.minus)
                self.assertEqual(moved, 1, after.id)
            self.assertEqual((on_pack[0].plus, on_pack[0].minus), ("old", "old"))
            self.assertEqual((on_pack[-1].plus, on_pack[-1].minus), ("new", "new"))
            self.assertTrue(all(s.minus == "new" for s in on_pack if s.plus != "old"))

    def test_the_words_say_what_is_bare(self):
        """The sentence and `live` by the ends of the wires themselves; a model's are dead."""
        for _, made in every_soldering()[::50]:
            parts = made.sentence.removeprefix("Bare metal by steps: ").rstrip(".").split("; ")
            self.assertEqual(len(parts), len(made.steps))
            for part, step in zip(parts, made.steps, strict=True):
                for pole in ("plus", "minus"):
                    self.assertEqual(pole in part, pole in bare_poles(step), part)
                self.assertEqual("live" in part, step.live)
                self.assertEqual(step.live, step.whose == "pack" and bool(bare_poles(step)))

    def test_both_sides_begin_with_the_model(self):
        """Dead, both wires at once; a single cure leaves the model alone."""
        one, both = (
            soldering(
                old=PlugEnd("ec3"), model=PlugEnd("xt60", "device"), new="xt60", both=x, pack_v=12.6, packs=2
            )
            for x in (False, True)
        )
        self.assertEqual({s.whose for s in one.steps}, {"pack"})
        self.assertEqual([s.whose for s in both.steps[:3]], ["model", "model", "pack"])
        self.assertEqual((one.old, both.old), ({"pack": "EC3"}, {"pack": "EC3", "model": "XT60"}))
        self.assertTrue(one.steps[0].sentence.startswith("Each pack by itself: at storage volts"))

    def test_words_for_what_it_has(self):
        """NiMH has no storage volts, and neither it nor one cell a balance plug to tape over."""
        ends = {"old": PlugEnd("rcy"), "model": PlugEnd("xt30", "device"), "new": "xt30", "both": False}
        for stored, balance in product((True, False), repeat=2):
            made = soldering(**ends, pack_v=8.4, stored=stored, balance_plug=balance)
            rest = made.steps[0].sentence
            self.assertEqual(("storage volts" in rest, "balance plug" in rest), (stored, balance))
