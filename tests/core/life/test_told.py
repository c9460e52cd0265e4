"""What a life tells: how full, since when, which cells still hold, what stands against the pack."""

from dataclasses import replace
from random import Random

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.life.told import told
from coldstack.core.rules.house_rules import STEADY, house_rules
from coldstack.core.rules.setting import changed
from tests.core.life.lives import DAY, HOUR, LIVES, NOW, PACK, cells, event


def life(*events, rules=STEADY, now=NOW):
    return told(PACK, events, rules=rules, now=now)


class HowFull(SimpleTestCase):
    def test_nothing_is_known_of_a_new_pack(self):
        """No state, no cells, no charges."""
        found = life()
        self.assertEqual((found.charge, found.since, found.cells, found.cycles), (None, None, None, 0))

    def test_whom_nobody_knows(self):
        """Volts and looks are no history; a charge, a run, a check of its resistances or a log of it are."""
        read = event("reading", 3, cell_v=cells(3.786))
        for more, stranger in (
            ((), True),
            ((read, event("inspection", 2)), True),
            ((read, event("charge", 1, ended="stopped", mah=0.0)), True),
            ((event("charge", 1, ended="done"),), False),
            ((event("run", 1, minutes=9),), False),
            ((event("reading", 1, cell_mohm=(3.0, 3.0, 3.0, 3.0), temperature_c=21.0),), False),
        ):
            with self.subTest(str(more)):
                self.assertEqual(life(*more).today.stranger, stranger)

    def test_a_run_makes_what_was_read_before_worthless(self):
        """31 of the issue: landed at 3.72 V it is spent by that, and its cells are to be read again."""
        found = life(
            event("reading", 3, cell_v=cells(3.786)), event("run", 1, landing_cell_v=3.70, minutes=9)
        )
        self.assertEqual((found.charge, found.cells), ("spent", None))
        self.assertIn("It was run since", found.lost_why)
        self.assertEqual(found.since, NOW - HOUR)
        again = life(*found.events, event("reading", 0.5, cell_v=cells(3.75)))
        self.assertEqual((again.cells.cell_v, again.lost_why), (cells(3.75), ""))

    def test_what_a_charge_left(self):
        """Full by what the charger read at its end, or by its word; part by what went in."""
        before = event("reading", 5, cell_v=cells(3.70))
        soc = life(before).socs[0]
        for told_, charge, socs in (
            ({"ended": "done", "end_cell_v": cells(4.195)}, "full", None),
            ({"ended": "done"}, "full", 1.0),
            ({"ended": "stopped", "mah": 2600.0}, "part", soc + 0.65),
            ({"ended": "stopped", "mah": 0.0}, life(before).charge, soc),
            ({"ended": "danger", "mah": 400.0}, None, soc + 0.1),
        ):
            with self.subTest(told_):
                found = life(before, event("charge", 1, **told_))
                if charge:
                    self.assertEqual(found.charge, charge)
                if socs:
                    self.assertAlmostEqual(found.socs[0], socs, places=6)

    def test_full_and_spent_are_relative_to_the_rules(self):
        """4.10 V is full under rules that end there; 3.775 V is spent under rules that land at 3.75 V."""
        read = event("reading", 1, cell_v=cells(4.10))
        self.assertEqual(life(read).charge, "part")
        self.assertEqual(life(read, rules=changed(STEADY, {"full_cell_v": 4.10})).charge, "full")
        read = event("reading", 1, cell_v=cells(3.775))
        self.assertEqual(life(read).charge, "part")
        self.assertEqual(life(read, rules=house_rules("long_life")).charge, "spent")

    def test_since_when(self):
        """Since what changed it: noted or read again it is as old; read to have left storage it is new."""
        full = event("charge", 500, ended="done")
        self.assertEqual(life(full, event("state", 5, state="full")).since, full.at)
        self.assertEqual(life(full, event("reading", 5, cell_v=cells(4.06))).since, full.at)
        stored = event("state", 400, state="stored")
        read = event("reading", 5, cell_v=cells(3.6))
        self.assertEqual(life(full, stored, read).since, read.at)
        self.assertEqual(life(full, stored, event("reading", 5, cell_v=cells(3.83))).since, stored.at)

    def test_another_packs_cells_are_no_reading(self):
        """Three volts for a pack of four cells tell nothing."""
        self.assertIsNone(life(event("reading", 1, cell_v=(3.8, 3.8, 3.8))).charge)


class Against(SimpleTestCase):
    def test_stopped_for_danger(self):
        """Set apart until a look that finds nothing; the stop stays as evidence, a second one condemns."""
        stop = event("charge", 5, ended="danger", text="It warmed by 10 K.")
        found = life(stop)
        self.assertEqual((found.quarantine, found.level), (stop, "watch"))
        self.assertEqual(life(stop, event("inspection", 4, signs=("leads",))).quarantine, stop)
        self.assertIsNone(life(stop, event("inspection", 4)).quarantine)
        self.assertEqual(
            life(stop, event("inspection", 4), event("charge", 2, ended="danger")).level, "retire"
        )
        self.assertEqual(life(stop, event("charge", 2, ended="stopped")).level, "watch")

    def test_what_does_not_heal_stands(self):
        """Swollen stays so through looks, charges and runs until it is withdrawn; bare leads are mended."""
        swollen = event("inspection", 9, signs=("swollen", "leads"))
        later = [event("inspection", 5), event("charge", 4, ended="done"), event("run", 3)]
        self.assertEqual(set(life(swollen).signs), {"swollen", "leads"})
        found = life(swollen, *later)
        self.assertEqual((list(found.signs), found.level), (["swollen"], "retire"))
        self.assertEqual(life(replace(swollen, withdrawn=True), *later).signs, {})

    def test_a_look_holds_until_it_is_used(self):
        """A run or a charge since: somebody looks again."""
        seen = event("inspection", 5)
        self.assertEqual(life(seen).inspected, seen)
        self.assertIsNone(life(seen, event("run", 2)).inspected)
        self.assertIsNone(life(seen, event("charge", 2, ended="done")).inspected)

    def test_warmth(self):
        """A hand knows less than a thermometer that just spoke, and more than one of yesterday."""
        hot = event("reading", 0.2, temperature_c=48.0)
        self.assertEqual(life(hot, event("inspection", 0.1, at_room=True)).temperature_c, 48.0)
        found = life(event("reading", 5, temperature_c=48.0), event("inspection", 0.1, at_room=True))
        self.assertEqual((found.temperature_c, found.at_room), (None, True))

    def test_retired_step_by_step(self):
        """With the last step; one taken back it is not."""
        done = event("retirement", 3, steps=RETIRE_STEPS)
        self.assertEqual(life(event("retirement", 4, steps=RETIRE_STEPS[:3]), done).retired_at, done.at)
        self.assertIsNone(life(done, event("retirement", 1, steps=RETIRE_STEPS[:4])).retired_at)


class Counted(SimpleTestCase):
    def test_charges(self):
        """Each once, those of another log before them too; one stopped before anything went in is none."""
        charges = [event("charge", 9 - n, ended="done") for n in range(3)]
        self.assertEqual(life(*charges, charges[0]).cycles, 3)
        self.assertEqual(life(event("charge", 50, ended="done", cycle=120), *charges).cycles, 123)
        self.assertEqual(life(*charges, event("charge", 1, ended="stopped", mah=0.0)).cycles, 3)

    def test_minutes_only_of_like_use(self):
        """Long flights in a glider do not make the racer's look short; a run tells its minutes once."""
        racer = [event("run", 100 - n, minutes=6.0, model="stoat") for n in range(8)]
        glider = [event("run", 50 - n, minutes=14.0, model="ptarmigan") for n in range(5)]
        charge = event("charge", 1, ended="done", minutes=6.0, cell_v=cells(3.7))
        found = life(*racer, *glider, charge)
        self.assertEqual([r.run_minutes for r in found.records if r.run_minutes], [6.0] * 8)
        self.assertNotIn("minutes", {e.id for e in found.evidence[0] if e.level != "fine"})

    def test_a_slip_in_the_minutes_compares_with_nothing(self):
        """A run six times as long as the others, or a sixth; what it read counts all the same."""
        runs = [
            event("run", k + 1, minutes=m, model="m", cell_v=(3.8,) * PACK.series)
            for k, m in enumerate((10.0, 10.0, 10.0, 59.0, 61.0, 1.7, 1.6))
        ]
        told_of = sorted(r.run_minutes for r in life(*runs).records if r.run_minutes)
        self.assertEqual(told_of, [1.7, 10.0, 10.0, 10.0, 59.0])
        self.assertEqual(len(life(*runs).records), 7)


class Times(SimpleTestCase):
    def test_a_run_of_2090_governs_nothing(self):
        """It is kept, and named; until then the pack is as it was. Then it counts."""
        stored = event("state", 50, state="stored")
        run = event("run", -64 * 365 * 24, said=NOW, minutes=9)
        found = life(stored, run)
        self.assertEqual((found.charge, found.since, found.ahead), ("stored", stored.at, (run,)))
        self.assertEqual(life(stored, run, now=found.until + 1).charge, "spent")

    def test_a_clock_set_back_turns_nothing_around(self):
        """Run at 12, charged, and the clock set back to 11: what was said last was said just after."""
        run = event("run", 0)
        full = event("charge", 0, at=NOW + 1e-3, said=NOW + 1e-3, ended="done")
        found = life(run, full, now=NOW - HOUR)
        self.assertEqual((found.charge, found.ahead), ("full", ()))

    def test_told_late(self):
        """A run sent hours later takes its place in time, and says that it came late."""
        run = event("run", 9, said=NOW, minutes=9)
        full = event("charge", 5, ended="done")
        found = life(full, run)
        self.assertEqual((found.charge, found.late), ("full", {run.key}))


class AnyLife(SimpleTestCase):
    @given(LIVES, st.integers())
    @settings(max_examples=150)
    def test_in_whatever_order_it_arrives(self, events, seed):
        """Shuffled, and each told again: the same."""
        other = [*events, *events]
        Random(seed).shuffle(other)
        one, two = life(*events), life(*other)
        for name in (
            "charge",
            "since",
            "socs",
            "cells",
            "cycles",
            "charging",
            "retired_at",
            "ran_at",
            "level",
        ):
            self.assertEqual(getattr(one, name), getattr(two, name), name)
        self.assertEqual((one.events, one.ahead, one.signs), (two.events, two.ahead, two.signs))

    @given(LIVES)
    @settings(max_examples=100)
    def test_withdrawn_is_as_never_said(self, events):
        """Each event with a key of its own, half of them withdrawn: as the other half alone."""
        own = [replace(e, key=f"own-{k}") for k, e in enumerate(events)]
        standing = [e for e in own if not e.withdrawn]
        self.assertEqual(life(*own).events, life(*standing).events)
        self.assertEqual(life(*own).charge, life(*standing).charge)

    @given(LIVES)
    @settings(max_examples=100)
    def test_until_it_says(self, events):
        """Nothing that was ahead counts before the time until which the life holds."""
        found = life(*events)
        if found.until < NOW + 30 * DAY:
            self.assertEqual(life(*events, now=found.until - 1).events, found.events)
            self.assertGreater(len(life(*events, now=found.until + 1).events), len(found.events))
