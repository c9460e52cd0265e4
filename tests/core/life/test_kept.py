"""A life that is kept and told on is the life that all of its events tell."""

from dataclasses import replace
from unittest import mock

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.life import kept as kept_module
from coldstack.core.life.kept import kept_of, restored, told_again
from coldstack.core.life.now import now_of
from coldstack.core.life.told import told, told_with
from coldstack.core.rules.house_rules import STEADY
from tests.core.life.lives import HOUR, LIVES, NOW, PACK, cells, event


def of(events):
    return kept_of(PACK, STEADY, events, NOW)


def one_each(life):
    """Each event under a key of its own, as they are stored."""
    return [replace(e, key=f"{e.key}-{k}") for k, e in enumerate(life)]


class AnyLife(SimpleTestCase):
    @given(LIVES, st.integers(0, 4), st.integers(0, 12), st.randoms(use_true_random=False))
    def test_told_on_is_told_at_once(self, life, latest, first, chance):
        """Whatever happens, however late it is told, ahead, withdrawn; with few events told again or many."""
        events = one_each(life)
        chance.shuffle(events)
        with mock.patch.object(kept_module, "LATEST", latest):
            found = told_again(PACK, STEADY, of(events[:first]), NOW)
            for k, e in enumerate(events[first:], first + 1):
                found = told_with(found, [e], NOW) or told(PACK, events[:k], rules=STEADY, now=NOW)
            kept, whole = of(events), told(PACK, events, rules=STEADY, now=NOW)
        self.assert_alike(found, whole)
        again = told_again(PACK, STEADY, kept, NOW)
        self.assert_alike(again, whole)
        self.assert_alike(restored(PACK, STEADY, kept.now, lambda: list(again.measured)), whole)

    def assert_alike(self, found, whole):
        """One life is the other, and stands as it does."""
        for name in ("state", "charge", "level", "sign", "bars", "reading", "looked_at", "inspection", "may"):
            one, other = (getattr(now_of(x, NOW), name) for x in (found, whole))
            self.assertEqual(one, other, name)
        self.assertEqual((found.records, found.until), (whole.records, whole.until))
        signs, others = ([(e.id, e.level, e.sentence) for e in x.evidence[0]] for x in (found, whole))
        self.assertEqual((signs, found.cycles), (others, whole.cycles))

    @given(LIVES, LIVES)
    def test_what_is_told_beside_it_is_kept_nowhere(self, life, more):
        """Asked what it would be with other events: the answer of all, and what is kept stays."""
        events, new = one_each(life), [replace(e, key=f"new-{k}") for k, e in enumerate(more)]
        kept = of(events)
        before = kept_of(PACK, STEADY, events, NOW)
        found = told_with(told_again(PACK, STEADY, kept, NOW), new, NOW)
        whole = told(PACK, [*events, *new], rules=STEADY, now=NOW)
        if found is not None:
            self.assertEqual((found.charge, found.socs, found.cells), (whole.charge, whole.socs, whole.cells))
            self.assertEqual((found.records, found.today), (whole.records, whole.today))
        self.assertEqual(kept, before)


class Cases(SimpleTestCase):
    LONG = [event("run", 1000 - k, minutes=8.0 + k % 3, landing_cell_v=3.75) for k in range(200)]

    def with_more(self, kept, *more, now=NOW):
        return told_with(told_again(PACK, STEADY, kept, now), more, now)

    def test_few_are_told_again(self):
        """Of two hundred runs; and one more is put beside them."""
        kept = of(self.LONG)
        self.assertEqual((len(kept.tail.events), kept.now.state.count), (kept_module.LATEST, 200))
        more = self.with_more(kept, event("run", 1, minutes=9.0))
        self.assertEqual((len(more.events), more.count), (kept_module.LATEST + 1, 201))

    def test_asked_with_more_twice(self):
        """As if something had been said, and then something else: all that was before still counts."""
        more = self.with_more(of(self.LONG), event("run", 1, minutes=9.0))
        again = told_with(more, [event("charge", 0.5, ended="done")], NOW)
        self.assertEqual((again.count, again.cycles, len(again.records)), (202, 1, 201))

    def test_told_too_late(self):
        """What came before the latest events is told anew, by whoever has them all."""
        kept = of(self.LONG)
        self.assertIsNone(self.with_more(kept, event("run", 999.5, minutes=9.0)))
        self.assertIsNotNone(self.with_more(kept, event("run", 801.5, minutes=9.0)))

    def test_said_twice(self):
        """Under one key, it is told once."""
        self.assertEqual(self.with_more(of(self.LONG), self.LONG[-1]).count, 200)

    def test_what_is_ahead(self):
        """Counts once its hour has come."""
        ahead = event("state", -5, state="full", said=NOW)
        kept = of([event("reading", 2, cell_v=cells(3.7)), ahead])
        self.assertEqual((kept.now.until is None, [e.key for e in kept.now.ahead]), (False, [ahead.key]))
        later = self.with_more(kept, now=NOW + 6 * HOUR)
        self.assertEqual((later.charge, later.ahead), ("full", ()))
