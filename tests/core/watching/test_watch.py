"""What is warned of and what is stopped, from samples made by hand."""

from dataclasses import replace
from math import exp
from random import Random

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.charging.steps import charge_steps, unplug_steps
from coldstack.core.charging.warming import charging_rise_k
from coldstack.core.errors import DomainError
from coldstack.core.watching.expected import LOOK_GRACE_S, Expected, check_expected, looks, wrong_count
from coldstack.core.watching.judging import alarms
from coldstack.core.watching.samples import Sample

E = Expected("lipo", 4, 4.0, 4.0, 4.2, 5000.0, 4200.0, 600.0, 11.0)


def run(*lifts, minutes=5, last=None, **more):
    """Samples each 5 s in which each cell rises by its own volts a minute."""
    rows = [
        Sample(k + 1, 5.0 * k, tuple(3.8 + lift * 5 * k / 60 for lift in lifts), 4.0, 20.0, 4.0 * 5 * k / 3.6)
        for k in range(12 * minutes + 1)
    ]
    rows[-1] = replace(rows[-1], **{**(last or {}), **more})
    return rows


def said(samples, expected=E, looked_s=None, **how):
    now = samples[-1].time_s if samples else 0.0
    return {
        a.id: a.level
        for a in alarms(
            samples,
            expected,
            looked_s=now if looked_s is None else looked_s,
            now_s=how.pop("now_s", now),
            **how,
        )
    }


class Cells(SimpleTestCase):
    def test_a_sound_charge_is_quiet(self):
        """Four cells rising alike."""
        self.assertEqual(said(run(0.01, 0.01, 0.01, 0.01)), {})

    def test_over_full_just_under_at_and_over(self):
        """4.230 V is the meter's error, more is stopped."""
        for volts, wanted in ((4.229, {}), (4.23, {}), (4.231, {"over_full": "stop"})):
            with self.subTest(volts):
                rows = run(0.01, 0.01, 0.01, 0.01, cell_v=(volts,) * 4)
                self.assertEqual(said(rows), wanted)

    def test_a_cell_that_stands_still(self):
        """The others rise by 20 mV in two minutes, it does not: stopped, and named."""
        rows = run(0.01, 0.01, 0.0, 0.01)
        self.assertEqual(said(rows), {"not_following": "stop"})
        self.assertIn("Cell 3 does not follow", alarms(rows, E, looked_s=300, now_s=300)[0].sentence)

    def test_one_of_two_cells_that_stands_still(self):
        """A pack of two: what the other does is enough to see it by, and one that falls is seen too."""
        for left, right in ((0.02, 0.0), (0.0, 0.02)):
            with self.subTest(left):
                two = replace(E, series=2)
                rows = [replace(s, cell_v=s.cell_v[:2]) for s in run(left, right, 0.0, 0.0)]
                self.assertEqual(said(rows, two).get("not_following"), "stop")
                even = [replace(s, cell_v=s.cell_v[:2]) for s in run(0.01, 0.01, 0.01, 0.01)]
                fallen = [replace(s, cell_v=(s.cell_v[0] - 0.06, s.cell_v[1])) for s in even[-2:]]
                self.assertEqual(said(even, two), {})
                self.assertEqual(said([*even[:-2], *fallen], two).get("not_following"), "stop")

    def test_less_current_tells_of_resistances(self):
        """At constant volts the current falls, and a cell that resists more rises less: no fault. At the same
        current it is one."""
        hard = replace(E, current_a=8.0)
        rows = [replace(s, current_a=8.0, mah=8 * s.time_s / 3.6) for s in run(0.0085, 0.0085, 0.001, 0.0085)]
        falls = [replace(s, current_a=8.0 - max(s.time_s - 180, 0) / 40) for s in rows]
        self.assertNotIn("not_following", said(falls, hard))
        self.assertIn("not_following", said(rows, hard))

    def test_a_fall_just_under_and_over_three_hundredths(self):
        """Of a volt, in two readings, while the same current flows: below its highest of five minutes."""
        even = run(0.0, 0.0, 0.0, 0.0)
        for fell, wanted in ((0.029, False), (0.031, True)):
            fallen = [replace(s, cell_v=(s.cell_v[0] - fell, *s.cell_v[1:])) for s in even[-2:]]
            found = [a.sentence for a in alarms([*even[:-2], *fallen], E, looked_s=300, now_s=300)]
            self.assertEqual(any("Cell 1 fell by" in words for words in found), wanted, fell)

    def test_what_a_balancer_may_do(self):
        """It empties a cell by what it draws: one that falls while less flows is no fault."""
        rows = [replace(s, current_a=1.0, mah=s.time_s / 3.6) for s in run(0.01, 0.01, 0.01, 0.01)]
        fallen = [replace(s, cell_v=(s.cell_v[0] - 0.06, *s.cell_v[1:])) for s in rows[-2:]]
        for balance_a, wanted in ((0.5, True), (None, True), (1.0, False)):
            found = said([*rows[:-2], *fallen], replace(E, balance_a=balance_a))
            self.assertEqual("not_following" in found, wanted)

    def test_the_fullest_cell_may_stand_still(self):
        """It is bled by the balancer while the others come up."""
        rows = [replace(s, cell_v=(4.0, *s.cell_v[1:])) for s in run(0, 0.01, 0.01, 0.01)]
        self.assertNotIn("not_following", said(rows))

    def test_a_cell_that_falls(self):
        """By 40 mV while 4 A flow, in two readings: it may be shorting. In one alone a contact wobbled."""
        rows = run(0.01, 0.01, 0.01, 0.01)
        fallen = [replace(s, cell_v=(s.cell_v[0] - 0.06, *s.cell_v[1:])) for s in rows[-2:]]
        self.assertEqual(said([*rows[:-2], *fallen])["not_following"], "stop")
        self.assertNotIn("not_following", said([*rows[:-1], fallen[-1]]))

    def test_noise_and_a_plateau_are_no_fault(self):
        """A meter that jumps by 2 mV, and an iron phosphate cell on its plateau while the others leave it."""
        chance = Random(3)
        noisy = [
            replace(s, cell_v=tuple(v + chance.gauss(0, 0.002) for v in s.cell_v))
            for s in run(0.009, 0.009, 0.009, 0.009)
        ]
        self.assertEqual(said(noisy), {})
        iron = replace(E, chemistry="lifepo4", full_cell_v=3.65)
        rows = [
            replace(s, cell_v=(3.335 + 1e-6 * s.time_s, *(3.36 + 1e-4 * s.time_s for _ in range(3))))
            for s in run(0.01, 0.01, 0.01, 0.01)
        ]
        found = alarms(rows, iron, looked_s=rows[-1].time_s, now_s=rows[-1].time_s)
        self.assertNotIn("not_following", [a.id for a in found])

    def test_less_current_lowers_every_cell(self):
        """At the full volts of its fullest cell an iron phosphate pack is charged with a seventh of the
        current: the others fall by what their resistance took, some minutes ago, and nothing is wrong."""
        iron = replace(E, chemistry="lifepo4", full_cell_v=3.6)
        low = {"cell_v": (3.600, 3.330, 3.362, 3.571), "current_a": 0.8}
        rows = [
            replace(s, cell_v=(3.55, 3.363, 3.388, 3.54), current_a=5.6)
            if s.time_s < 30
            else replace(s, **low)
            for s in run(0, 0, 0, 0)
        ]
        for seconds in (35, 60, 135, 300):
            with self.subTest(seconds):
                so_far = [s for s in rows if s.time_s <= seconds]
                self.assertNotIn("not_following", said(so_far, iron))
        # and a fall at that current is one still
        fallen = [replace(s, cell_v=(3.6, 3.29, 3.362, 3.571)) for s in rows[-2:]]
        self.assertEqual(said([*rows[:-2], *fallen], iron)["not_following"], "stop")

    def test_a_weak_cell_runs_ahead(self):
        """60 mV above the others after an even start: a warning that says which; not if it began so."""
        self.assertEqual(said(run(0.01, 0.022, 0.01, 0.01)), {"weak_cell": "warn"})
        began = [
            replace(s, cell_v=(s.cell_v[0], s.cell_v[1] + 0.06, *s.cell_v[2:]))
            for s in run(0.01, 0.01, 0.01, 0.01)
        ]
        self.assertEqual(said(began), {})


class Warmth(SimpleTestCase):
    def warmed(self, now_c, expected=E, begun_c=20.0):
        """So warm in the last quarter of a minute, after five minutes at 4 A."""
        rows = [replace(s, temperature_c=begun_c) for s in run(0.01, 0.01, 0.01, 0.01)]
        return [*rows[:-3], *(replace(s, temperature_c=now_c) for s in rows[-3:])], expected

    def test_by_the_difference(self):
        """4 K above the most that its current makes warn, 8 K stop; one reading alone says nothing."""
        due = charging_rise_k(E.body, 4.0, 300.0, start_c=20.0, air_c=20.0).high_k
        self.assertTrue(0.5 < due < 2.5, due)
        for over, wanted in (
            (3.9, {}),
            (4.1, {"warm": "warn"}),
            (7.9, {"warm": "warn"}),
            (8.1, {"hot": "stop"}),
        ):
            with self.subTest(over):
                self.assertEqual(said(*self.warmed(20.0 + due + over)), wanted)
        self.assertEqual(said(run(0.01, 0.01, 0.01, 0.01, temperature_c=35.0)), {})

    def test_li_ion_may_warm(self):
        """At 1C for half an hour it warms by 10 to 18 K, which in a LiPo is a danger."""
        rows = [
            replace(s, temperature_c=20.0 + min(s.time_s / 120, 14.0)) for s in run(*[0.004] * 4, minutes=28)
        ]
        self.assertEqual(said(rows, replace(E, chemistry="liion")), {})
        self.assertEqual(said(rows)["hot"], "stop")

    def test_a_cold_pack_warms_by_the_room(self):
        """Brought in at 2 °C, after an hour it is at 20; within minutes that is no room's doing."""
        cold = [
            replace(s, temperature_c=2.0 + 18 * (1 - exp(-s.time_s / 1900)))
            for s in run(0.001, 0.001, 0.001, 0.001, minutes=60)
        ]
        self.assertEqual(
            said(
                [replace(s, current_a=0.4, mah=0.4 * s.time_s / 3.6) for s in cold], replace(E, current_a=0.4)
            ),
            {},
        )
        self.assertEqual(said(*self.warmed(16.0, begun_c=2.0))["hot"], "stop")

    def test_never_above_what_the_chemistry_takes(self):
        """45 °C in any reading, however it came to that."""
        for now, wanted in ((44.9, {}), (45.0, {"hot": "stop"})):
            with self.subTest(now):
                rows = [replace(s, temperature_c=44.0) for s in run(0.01, 0.01, 0.01, 0.01)]
                self.assertEqual(said([*rows[:-1], replace(rows[-1], temperature_c=now)]), wanted)

    def test_nimh_may_warm_but_not_so_far(self):
        """That is how its full is found."""
        nimh = replace(E, chemistry="nimh", full_cell_v=1.45)
        rows = [replace(s, cell_v=(1.4,) * 4) for s in run(0, 0, 0, 0)]
        self.assertEqual(said([*rows[:-1], replace(rows[-1], temperature_c=45.0)], nimh), {})
        self.assertEqual(said([*rows[:-1], replace(rows[-1], temperature_c=50.0)], nimh), {"hot": "stop"})


class Bounds(SimpleTestCase):
    def test_cutoff_timer_supply_and_link(self):
        """mAh and minutes beyond what was set stop; a sagging supply and a silent charger warn."""
        good = (0.01, 0.01, 0.01, 0.01)
        for most, wanted in ((4200.0, {}), (4200.1, {"cutoff": "stop"})):
            rows = run(*good)
            rows = [replace(s, mah=s.mah + most - rows[-1].mah) for s in rows]
            self.assertEqual(said(rows), wanted)
        late = run(*good)
        self.assertEqual(said(late, looked_s=5000.0, now_s=5000.0), {})
        self.assertEqual(said(late, looked_s=5001.0, now_s=5001.0), {"timer": "stop"})
        self.assertEqual(said(run(*good, supply_v=10.9)), {"supply_sag": "warn"})
        self.assertEqual(said(run(*good, supply_v=11.0)), {})
        self.assertEqual(said(run(*good), silent_s=4.9), {})
        self.assertEqual(said(run(*good), silent_s=5.0), {"link_lost": "warn"})

    def test_looks(self):
        """Due after ten minutes: a warning; three minutes later it stops. Before the first sample too."""
        self.assertEqual(looks(E, 60.0).due_s, 660.0)
        for now, wanted in (
            (599.0, {}),
            (600.0, {"look_due": "warn"}),
            (600.0 + LOOK_GRACE_S, {"unattended": "stop"}),
        ):
            with self.subTest(now):
                self.assertEqual(said([], looked_s=0.0, now_s=now), wanted)

    def test_what_stops_stands_first(self):
        """Whatever else is said."""
        found = alarms(run(0.01, 0.022, 0.01, 0.01, current_a=9.0), E, looked_s=300, now_s=300)
        self.assertEqual([a.level for a in found], ["stop", "warn"])


class Start(SimpleTestCase):
    def test_wrong_counts(self):
        """Another number of cells, or none, is not started."""
        self.assertEqual(wrong_count(4, 4), "")
        self.assertIn("finds 3 cells; the pack has 4", wrong_count(4, 3))
        self.assertIn("no pack", wrong_count(4, 0))

    def test_what_cannot_be_watched(self):
        """End volts above the chemistry's; looks an hour apart; no current."""
        for bad in (replace(E, full_cell_v=4.25), replace(E, look_every_s=3600.0), replace(E, current_a=0.0)):
            with self.subTest(bad), self.assertRaises(DomainError):
                check_expected(bad)
        self.assertEqual(check_expected(E), E)


class Order(SimpleTestCase):
    def test_the_lead_goes_into_the_charger_first(self):
        """Then main, then balance; on a board all main leads before the balance plugs; out in reverse."""
        alone = [
            s.id
            for s in charge_steps(
                chemistry_id="lipo", series=4, program="balance charge", current_a=3.7, end_v=16.8
            )
        ]
        self.assertEqual(alone, ["place", "set", "lead", "main", "balance", "confirm"])
        shared = charge_steps(
            chemistry_id="lipo", series=4, program="balance charge", current_a=5.6, end_v=16.8, on_board=3
        )
        self.assertIn("main leads of the 3 packs", next(s.sentence for s in shared if s.id == "main"))
        self.assertEqual(
            [s.id for s in unplug_steps(series=4)], ["balance_out", "main_out", "lead_out", "mark"]
        )
        single = [
            s.id
            for s in charge_steps(chemistry_id="lihv", series=1, program="charge", current_a=0.3, end_v=4.35)
        ]
        self.assertNotIn("balance", single)


class AnyCharge(SimpleTestCase):
    @given(
        st.lists(
            st.tuples(
                st.lists(st.floats(3.5, 4.3), min_size=4, max_size=4),
                st.floats(-5.0, 80.0),
                st.floats(0, 6000),
            ),
            min_size=1,
            max_size=12,
        )
    )
    @settings(max_examples=150)
    def test_past_a_limit_it_is_stopped_at_once(self, said):
        """Whatever came before: a cell over full by more than 30 mV, 45 °C, more mAh than the cut-off, and
        the next judgement stops it, ten seconds after at most."""
        expected = Expected("lipo", 4, 4.0, 4.0, 4.2, 1e6, 4600.0, 1200.0)
        samples = []
        for k, (cells, warmth, mah) in enumerate(said):
            samples.append(Sample(k + 1, 5.0 * k, tuple(cells), 4.0, warmth, mah))
            last = samples[-1]
            found = alarms(samples, expected, looked_s=last.time_s, now_s=last.time_s)
            stops = {a.id for a in found if a.level == "stop"}
            for holds, kind in (
                (max(cells) > 4.2301, "over_full"),
                (warmth >= 45.0, "hot"),
                (mah > 4600.0, "cutoff"),
            ):
                self.assertTrue(kind in stops or not holds, (kind, last))
