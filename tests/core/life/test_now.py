"""A pack as it is now, what may be done with it, and why not."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings

from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.keeping.storage import due_of
from coldstack.core.life.now import as_it_is, pack_now
from coldstack.core.life.wording import sentence_of
from coldstack.core.rules.house_rules import STEADY
from tests.core.life.lives import HOUR, LIVES, NOW, PACK, cells, event

LAZY = [event("reading", 90 + n, cell_mohm=(3.0, 3.0, 3.0, 9.0), temperature_c=25.0) for n in range(4)]
SOUND = [event("inspection", 0.3, at_room=True), event("reading", 0.2, cell_v=cells(3.775))]


def now_is(*events, at=NOW, pack=PACK):
    return pack_now(pack, events, STEADY, at)


def allowed(p):
    return {act: may.allowed for act, may in p.may.items()}


class SeenOnIt(SimpleTestCase):
    def test_a_sign_that_nobody_knows_is_none(self):
        """As an older or newer program may have told it; those that are known stand."""
        found = now_is(*SOUND, event("inspection", 0.1, at_room=True, signs=("swollen", "purple")))
        self.assertEqual(tuple(found.told.signs), ("swollen",))


class Cooling(SimpleTestCase):
    def test_a_thermometer_goes_before_the_clock(self):
        """Twelve minutes after a run: cool at 40 °C, and still warm at 41."""
        for warm_c, cooling in ((39.0, False), (40.0, False), (41.0, True), (None, True)):
            read = [event("inspection", 0.1, temperature_c=warm_c)] if warm_c else []
            self.assertEqual(now_is(event("run", 0.2), *read).state == "cooling", cooling, warm_c)


ALL = {"charge": True, "join": True, "run": True, "store": True, "carry": True}
NONE = dict.fromkeys(ALL, False)


class Permission(SimpleTestCase):
    def test_each_state(self):
        """In a word, and what may be done then."""
        full = [
            event("charge", 0.5, ended="done", end_cell_v=cells(4.19)),
            event("inspection", 0.4, at_room=True),
        ]
        for events, state, may in (
            (SOUND, "part", ALL),
            (full, "full", ALL),
            ([event("run", 0.2)], "cooling", ALL | {"charge": False, "join": False, "run": False}),
            ([event("run", 2)], "spent", ALL | {"charge": False, "join": False, "run": False}),
            ([*SOUND, event("charging", 0.1, charge=7)], "charging", NONE),
            ([*SOUND, event("charge", 0.1, ended="danger")], "quarantined", NONE),
            ([*LAZY, *SOUND], "part", NONE),
            ([*SOUND, event("retirement", 0.1, steps=RETIRE_STEPS)], "retired", NONE),
            ([], None, ALL | {"charge": False, "join": False, "store": False}),
        ):
            with self.subTest(state=state, count=len(events)):
                found = now_is(*events)
                self.assertEqual((found.state, allowed(found)), (state, may))
                for one in found.may.values():
                    self.assertEqual(one.allowed, one.why == "")

    def test_condemned_it_says_one_thing(self):
        """To be retired, with the sign; and nothing of how to charge it."""
        found = now_is(*LAZY, *SOUND)
        self.assertEqual((found.level, found.usable), ("retire", False))
        self.assertRegex(found.may["charge"].why, "^To be retired: Cell 4 resists 3.00 times")
        self.assertEqual([f.outcome for f in found.inspection.findings], ["retire"])
        self.assertEqual((as_it_is(PACK, found).fit, as_it_is(PACK, now_is(*SOUND)).fit), (False, True))

    def test_an_uneven_pack_is_charged_alone(self):
        """It may be charged, and not joined."""
        found = now_is(SOUND[0], event("reading", 0.2, cell_v=(3.7, 3.7, 3.7, 3.6)))
        self.assertEqual((found.may["charge"].allowed, found.may["join"].allowed), (True, False))
        self.assertIn("alone", found.may["join"].why)

    def test_nothing_holds_for_ever(self):
        """After a day somebody looks, feels and reads again."""
        found = now_is(*SOUND, at=NOW + 24 * HOUR)
        self.assertEqual([f.id for f in found.inspection.findings], ["unlooked", "unread"])
        self.assertIsNone(found.looked_at)

    def test_marked_unfit_by_hand(self):
        """Out of every use, for the words that were noted."""
        found = now_is(*SOUND, pack=replace(PACK, fit=False, note="dropped"))
        self.assertEqual((allowed(found), found.level), (NONE, "retire"))
        self.assertEqual([f.id for f in found.inspection.findings], ["unfit"])


class Due(SimpleTestCase):
    def test_what_to_do_with_each(self):
        """By what it is now."""
        for events, doing in (
            ([*SOUND, event("charge", 0.1, ended="danger")], "inspect"),
            ([*SOUND, event("charging", 0.1, charge=7)], "charging"),
            ([*LAZY, event("charge", 0.1, ended="danger")], "retire"),
            (SOUND, "storage"),
            ([event("state", 9, state="stored")], "stored"),
        ):
            with self.subTest(doing):
                self.assertEqual(due_of(now_is(*events), NOW).doing, doing)

    def test_a_clock_set_back_makes_nothing_due_the_sooner(self):
        """Full for no time at all, not for less than none."""
        due = due_of(now_is(event("charge", 0, ended="done"), at=NOW - HOUR), NOW - HOUR)
        self.assertEqual(due.in_h, 48.0)


class AnyLife(SimpleTestCase):
    @given(LIVES)
    @settings(max_examples=150)
    def test_what_is_barred_is_barred_everywhere(self, events):
        """Nothing may be done with it, it is fit for nobody, the gate does not pass; and the other way."""
        found = now_is(*events)
        if found.bars:
            self.assertEqual(allowed(found), NONE)
            self.assertFalse(as_it_is(PACK, found).fit)
        if not found.inspection.passed:
            self.assertFalse(found.may["charge"].allowed or found.may["join"].allowed)
        if found.may["charge"].allowed:
            life = found.told
            self.assertTrue(life.inspected and (life.at_room or life.temperature_c is not None))
            self.assertTrue(found.reading and found.reading.cell_v and not life.quarantine)
        self.assertEqual(
            found.state == "charging",
            found.told.charging is not None and not found.told.quarantine and not found.told.retired_at,
        )

    @given(LIVES)
    @settings(max_examples=100)
    def test_every_event_has_a_sentence(self, events):
        """With a full stop, and no None in it."""
        for e in events:
            self.assertRegex(sentence_of(e), r"^[A-Z].*\.$")
            self.assertNotIn("None", sentence_of(e))
