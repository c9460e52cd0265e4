"""What is warned of and what is stopped, from samples made by hand."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.charging.steps import charge_steps, unplug_steps
from coldstack.core.charging.watch import (
    LOOK_GRACE_S,
    Expected,
    Sample,
    alarms,
    check_expected,
    looks,
    wrong_count,
)
from coldstack.core.errors import DomainError

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
    return {a.id: a.level for a in alarms(samples, expected, looked_s=now if looked_s is None else looked_s, now_s=how.pop("now_s", now), **how)}  # fmt: skip


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

    def test_the_fullest_cell_may_stand_still(self):
        """It is bled by the balancer while the others come up."""
        rows = [replace(s, cell_v=(4.0, *s.cell_v[1:])) for s in run(0, 0.01, 0.01, 0.01)]
        self.assertNotIn("not_following", said(rows))

    def test_a_cell_that_falls(self):
        """By 40 mV while 4 A flow: it may be shorting."""
        rows = run(0.01, 0.01, 0.01, 0.01)
        v = rows[-1].cell_v
        self.assertEqual(said([*rows[:-1], replace(rows[-1], cell_v=(v[0] - 0.04, *v[1:]))])["not_following"], "stop")  # fmt: skip

    def test_a_weak_cell_runs_ahead(self):
        """60 mV above the others after an even start: a warning that says which; not if it began so."""
        self.assertEqual(said(run(0.01, 0.022, 0.01, 0.01)), {"weak_cell": "warn"})
        began = [replace(s, cell_v=(s.cell_v[0], s.cell_v[1] + 0.06, *s.cell_v[2:])) for s in run(0.01, 0.01, 0.01, 0.01)]  # fmt: skip
        self.assertEqual(said(began), {})


class Warmth(SimpleTestCase):
    def test_lipo_stays_cool(self):
        """5 K above its start warns, 10 K or 45 °C stop."""
        for now, wanted in ((24.9, {}), (25.0, {"warm": "warn"}), (30.0, {"hot": "stop"})):
            with self.subTest(now):
                self.assertEqual(said(run(0.01, 0.01, 0.01, 0.01, temperature_c=now)), wanted)

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
        self.assertEqual(said(run(*good, mah=4201.0)), {"cutoff": "stop"})
        late = run(*good)
        self.assertEqual(said([late[0], replace(late[-1], time_s=5001.0)], looked_s=5001.0), {"timer": "stop"})  # fmt: skip
        self.assertEqual(said(run(*good, supply_v=10.9)), {"supply_sag": "warn"})
        self.assertEqual(said(run(*good, supply_v=11.0)), {})
        self.assertEqual(said(run(*good), silent_s=4.9), {})
        self.assertEqual(said(run(*good), silent_s=5.0), {"link_lost": "warn"})

    def test_looks(self):
        """Due after ten minutes: a warning; three minutes later it stops. Before the first sample too."""
        self.assertEqual(looks(E, 60.0).due_s, 660.0)
        for now, wanted in ((599.0, {}), (600.0, {"look_due": "warn"}), (600.0 + LOOK_GRACE_S, {"unattended": "stop"})):  # fmt: skip
            with self.subTest(now):
                self.assertEqual(said([], looked_s=0.0, now_s=now), wanted)

    def test_what_stops_stands_first(self):
        """Whatever else is said."""
        found = alarms(run(0.01, 0.022, 0.01, 0.01, mah=4201.0), E, looked_s=300, now_s=300)
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
        alone = [s.id for s in charge_steps(chemistry_id="lipo", series=4, program="balance charge", current_a=3.7, end_v=16.8)]  # fmt: skip
        self.assertEqual(alone, ["place", "set", "lead", "main", "balance", "confirm"])
        shared = charge_steps(chemistry_id="lipo", series=4, program="balance charge", current_a=5.6, end_v=16.8, on_board=3)  # fmt: skip
        self.assertIn("main leads of the 3 packs", next(s.sentence for s in shared if s.id == "main"))
        self.assertEqual([s.id for s in unplug_steps(series=4)], ["balance_out", "main_out", "lead_out", "mark"])  # fmt: skip
        single = [s.id for s in charge_steps(chemistry_id="lihv", series=1, program="charge", current_a=0.3, end_v=4.35)]  # fmt: skip
        self.assertNotIn("balance", single)
