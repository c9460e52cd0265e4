"""A life that is kept and told on is the life that all of its events tell."""

from dataclasses import replace
from unittest import mock

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.life import kept as kept_module
from coldstack.core.life.kept import kept_of, kept_with, restored, told_again, told_with
from coldstack.core.life.now import now_of
from coldstack.core.life.told import told
from coldstack.core.rules.house_rules import STEADY
from tests.core.life.lives import HOUR, LIVES, NOW, PACK, cells, event


def of(events):
    return kept_of(PACK, STEADY, events, NOW)


def one_each(life):
    """Each event under a key of its own, as they are stored."""
    return [replace(e, key=f"{e.key}-{k}") for k, e in enumerate(life)]


class AnyLife(SimpleTestCase):
    @given(LIVES, st.integers(0, 4), st.randoms(use_true_random=False))
    def test_told_on_is_told_at_once(self, life, latest, chance):
        """Whatever happens, however late it is told, ahead, withdrawn; with few events told again or many."""
        events = one_each(life)
        chance.shuffle(events)
        with mock.patch.multiple(kept_module, LATEST=latest, MOST=2 * latest + 1):
            known, kept = [], of([])
            for e in events:
                known.append(e)
                kept = kept_with(kept, PACK, STEADY, [e], NOW) or of(known)
                self.assertEqual(kept.now, of(known).now)
            again, whole = told_again(PACK, STEADY, kept, NOW), told(PACK, known, rules=STEADY, now=NOW)
        self.assertEqual(again.records, whole.records)
        self.assertEqual(again.evidence, whole.evidence)
        found = restored(PACK, STEADY, kept.now, lambda: list(again.measured))
        for name in ("state", "charge", "level", "sign", "bars", "reading", "looked_at", "inspection", "may"):
            one, other = (getattr(now_of(x, NOW), name) for x in (found, whole))
            self.assertEqual(one, other, name)
        self.assertEqual((found.records, found.until), (whole.records, whole.until))

    @given(LIVES, LIVES)
    def test_what_is_told_beside_it_is_kept_nowhere(self, life, more):
        """Asked what it would be with other events: the answer of all, and what is kept stays."""
        events, new = one_each(life), [replace(e, key=f"new-{k}") for k, e in enumerate(more)]
        kept = of(events)
        before = kept_of(PACK, STEADY, events, NOW)
        found = told_with(kept, PACK, STEADY, new, NOW)
        whole = told(PACK, [*events, *new], rules=STEADY, now=NOW)
        if found is not None:
            self.assertEqual((found.charge, found.socs, found.cells), (whole.charge, whole.socs, whole.cells))
            self.assertEqual((found.records, found.today), (whole.records, whole.today))
        self.assertEqual(kept, before)


class Cases(SimpleTestCase):
    LONG = [event("run", 1000 - k, minutes=8.0 + k % 3, landing_cell_v=3.75) for k in range(200)]

    def test_few_are_told_again(self):
        """Of two hundred runs; and one more is put beside them."""
        kept = of(self.LONG)
        self.assertEqual((len(kept.tail.events), kept.now.state.count), (kept_module.LATEST, 200))
        more = kept_with(kept, PACK, STEADY, [event("run", 1, minutes=9.0)], NOW)
        self.assertEqual((len(more.tail.events), more.now.state.count), (kept_module.LATEST + 1, 201))

    def test_told_too_late(self):
        """What came before the latest events is told anew, by whoever has them all."""
        kept = of(self.LONG)
        self.assertIsNone(kept_with(kept, PACK, STEADY, [event("run", 999.5, minutes=9.0)], NOW))
        self.assertIsNotNone(kept_with(kept, PACK, STEADY, [event("run", 801.5, minutes=9.0)], NOW))

    def test_said_twice(self):
        """Under one key, it is told once."""
        kept = of(self.LONG)
        again = kept_with(kept, PACK, STEADY, [self.LONG[-1]], NOW)
        self.assertEqual(again.now.state.count, 200)

    def test_what_is_ahead(self):
        """Counts once its hour has come."""
        ahead = event("state", -5, state="full", said=NOW)
        kept = of([event("reading", 2, cell_v=cells(3.7)), ahead])
        self.assertEqual((kept.now.until is None, [e.key for e in kept.now.ahead]), (False, [ahead.key]))
        later = kept_with(kept, PACK, STEADY, [], NOW + 6 * HOUR)
        self.assertEqual((later.now.state.charge, later.now.ahead), ("full", []))
