"""What a log teaches of a pack: made from packs whose figures are known, found again within what is said of
them."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import soc_factor_curve
from coldstack.core.errors import DomainError
from coldstack.core.logs.learning import learn
from coldstack.core.logs.reader import WattLog
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.measured import LOG_SPREAD, METER_SPREAD
from coldstack.core.trial.candidates import from_packs
from tests.core.discharge import oracle
from tests.core.trial.jobs import pack

PACK = replace(pack("owned:9", series=4, label_c=40.0), owned=True)
PULSES = [(30.0, 12.0), (6.0, 45.0)]


def circuit_of(ohm, ratio, slow_s, ah) -> oracle.Circuit:
    """Four cells in series, by the oracle."""
    factor = soc_factor_curve()
    cells, air = [(4.0, ah, ohm, 1.0)], (20.0, 20.0, 12.0)
    figures = ("lipo", cells, 0.0, PACK.mass_g, 0.02, 0.0, 0.1, 0.1, slow_s, *air, [])
    return oracle.Circuit(oracle.Job(*figures, factor=factor, slow=ratio * factor))


def flown(
    phases, minutes, *, ohm=0.0035, ratio=1.5, slow_s=35.0, ah=3.7, rest=True, noise=0.005, seed=1
) -> WattLog:
    """A log of a pack with these figures, by the oracle's circuit and not by ours, sampled twice a second."""
    rng, uneven = np.random.default_rng(seed), []
    while sum(s for s, _ in uneven) < 60 * minutes:
        uneven += [(s * rng.uniform(0.8, 1.2), a * rng.normal(1, 0.05)) for s, a in phases]
    circuit = circuit_of(ohm, ratio, slow_s, ah)
    z, v, t, out = 1.0, 0.0, 20.0, []
    dt, at, k, left = 0.1, 0.0, 0, uneven[0][0]
    outside = outside_ohm()
    while at < 60 * minutes:
        amps = uneven[k][1]
        if round(at / dt) % 5 == 0:
            (_, e, r0, _), *_ = circuit.parts([z, v, t, 0, 0, 0])
            out.append((at, 4 * (e - amps * r0) - amps * outside, amps))
        (_, _, r0, r1), *_ = circuit.parts([z, v, t, 0, 0, 0])
        watts = 4 * (amps * amps * r0 + v * v / r1)
        z, v = z - amps * dt / 3600 / ah, v + dt * (amps * r1 - v) / slow_s
        t += dt * (watts - 12.0 * area_m2() * (t - 20.0)) / PACK.mass_g
        at, left = at + dt, left - dt
        if left <= 0 and k + 1 < len(uneven):
            k += 1
            left = uneven[k][0]
    time_s, volts, amps = np.array(out).T
    if rest:
        time_s = np.r_[np.arange(0, 5, 0.5), time_s + 5]
        volts = np.r_[np.full(10, 4 * resting_voltage("lipo", 1.0)), volts]
        amps = np.r_[np.zeros(10), amps]
    return WattLog(time_s, volts + rng.normal(0, noise, len(volts)), amps, (), ",", False, 0)


def outside_ohm() -> float:
    """Leads and plug of the pack, by the tables of wire and plugs."""
    from coldstack.core.chain.own_plugs import plug_column
    from coldstack.core.trial.candidates import from_packs

    c = from_packs([PACK], "cautious")
    return float(c.outside_mohm[0] + plug_column("resistance_mohm")[c.plug_index][0]) / 1000


def area_m2() -> float:
    """Outside of the pack's box, by hand."""
    a, b, c = PACK.length_mm, PACK.width_mm, PACK.height_mm
    return 2 * (a * b + a * c + b * c) * 1e-6


def taught(log, of=PACK):
    return learn(log, of, air_c=20.0, source="flight.csv")


class Found(SimpleTestCase):
    def test_all_four_figures_within_what_is_said_of_them(self):
        """Pulses over eight minutes on packs of several makes: each figure lies within its ±."""
        for k, (ohm, ratio, slow_s, ah) in enumerate(
            ((0.0035, 1.5, 35.0, 3.7), (0.002, 1.0, 25.0, 4.0), (0.006, 1.9, 50.0, 3.4))
        ):
            found = taught(flown(PULSES, 8, ohm=ohm, ratio=ratio, slow_s=slow_s, ah=ah, seed=k)).learnt
            with self.subTest(ohm=ohm):
                self.assertEqual(found.source, "flight.csv")
                self.assertAlmostEqual(found.cell_mohm / 1000 / ohm, 1.0, delta=0.13)
                self.assertAlmostEqual(found.slow_ratio / ratio, 1.0, delta=found.slow_spread + 0.03)
                self.assertAlmostEqual(found.slow_s / slow_s, 1.0, delta=found.slow_spread + 0.03)
                self.assertAlmostEqual(found.capacity_ah / ah, 1.0, delta=found.capacity_spread + 0.005)
                self.assertLess(found.capacity_spread, 0.06)

    def test_a_short_log_tells_no_capacity(self):
        """Two minutes take a tenth of the charge: the resistance is told, the capacity is not, and why."""
        found = taught(flown(PULSES, 2))
        self.assertIsNone(found.learnt.capacity_ah)
        self.assertTrue(any("capacity" in words for words in found.untold))
        self.assertAlmostEqual(found.learnt.cell_mohm / 3.5, 1.0, delta=0.15)

    def test_a_capacity_is_told_from_three_tenths_on(self):
        """A log that takes a little less of the pack says so; one that takes a little more tells it."""
        log = flown(PULSES, 5)
        taken = np.cumsum(log.current_a * np.gradient(log.time_s)) / 3600 / PACK.capacity_ah
        for share, told in ((0.29, False), (0.31, True)):
            cut = taken < share
            short = replace(
                log, time_s=log.time_s[cut], voltage_v=log.voltage_v[cut], current_a=log.current_a[cut]
            )
            said = any("30 % are needed" in words for words in taught(short).untold)
            self.assertEqual(said, not told, share)

    def test_a_steady_current_tells_no_slow_part(self):
        """Under a load that never changes, from before the log began, there is no transient to see."""
        log = flown([(600.0, 14.0)], 9, rest=False)
        cut = log.time_s > 180
        steady = replace(
            log, time_s=log.time_s[cut], voltage_v=log.voltage_v[cut], current_a=log.current_a[cut]
        )
        found = taught(steady).learnt
        self.assertIsNone(found.slow_ratio)
        # how much of what is lost is slow nobody can tell there: so the quick part is known the less
        self.assertGreater(found.resistance_spread, 1.1 * LOG_SPREAD)

    def test_pulses_without_a_rest_before_tell_the_resistance(self):
        """A log that begins under load: how full the pack was is found beside it; slow part and capacity are
        not told."""
        log = flown(PULSES, 6, rest=False)
        cut = log.time_s > 60
        late = replace(
            log, time_s=log.time_s[cut] - 60, voltage_v=log.voltage_v[cut], current_a=log.current_a[cut]
        )
        found = taught(late)
        self.assertIsNone(found.learnt.slow_s)
        self.assertIsNone(found.learnt.capacity_ah)
        self.assertAlmostEqual(found.learnt.cell_mohm / 3.5, 1.0, delta=0.2)


class Refused(SimpleTestCase):
    def refuse(self, log, of=PACK):
        with self.assertRaises(DomainError) as caught:
            taught(log, of)
        self.assertEqual(caught.exception.field, "log")
        return caught.exception.sentence

    def test_another_pack(self):
        """A log of four cells for a pack of three, or of six."""
        log = flown(PULSES, 4)
        for series in (3, 6):
            self.assertIn("right pack", self.refuse(log, replace(PACK, series=series)))

    def test_volts_that_are_no_pack_s(self):
        """A log whose volts wander by themselves."""
        log = flown(PULSES, 4)
        odd = 15.5 + np.sin(log.time_s / 3)
        self.assertRegex(self.refuse(replace(log, voltage_v=odd)), "right pack|changes too little")

    def test_a_tenth_of_a_volt_over_full_is_another_pack(self):
        """One reading of 4.31 V a cell is; 4.29 V is the meter's error."""
        log = flown(PULSES, 4)
        for top_v, is_refused in ((4.31, True), (4.29, False)):
            volts, said = log.voltage_v.copy(), ""
            volts[-1] = 4 * top_v
            try:
                taught(replace(log, voltage_v=volts))
            except DomainError as refused:
                said = refused.sentence
            self.assertEqual("right pack" in said, is_refused, said)

    def test_no_current_and_nimh(self):
        """Nothing to learn from, or a chemistry whose volts do not tell."""
        log = flown(PULSES, 4)
        self.assertIn("too little current", self.refuse(replace(log, current_a=0 * log.current_a)))
        self.assertIn("NiMH", self.refuse(log, replace(PACK, chemistry="nimh", series=12)))


class UsedBySizing(SimpleTestCase):
    def test_it_goes_before_what_was_typed(self):
        """Resistance, capacity and slow part of the candidate are the log's, named, with its ±."""
        learnt = taught(flown(PULSES, 8)).learnt
        c = from_packs([replace(PACK, learnt=learnt, cell_mohm=9.0)], "cautious")
        # the label shifts it by a few per cent at most
        self.assertAlmostEqual(float(c.cell_mohm[0]) / learnt.cell_mohm, 1.0, delta=0.05)
        self.assertEqual(float(c.capacity_ah[0]), learnt.capacity_ah)
        self.assertAlmostEqual(float(c.slow_mohm[0]), learnt.slow_ratio * learnt.cell_mohm)
        self.assertEqual(c.learnt_from(0), "flight.csv")
        # no log is surer than logs of one pack agree; the label helps a little
        self.assertGreater(learnt.resistance_spread, LOG_SPREAD)
        self.assertTrue(0.9 * LOG_SPREAD < c.resistance_spread[0] < learnt.resistance_spread)

    def test_records_join_it(self):
        """Today's resistance and capacity stand between the two, surer than either; the slow part stays the
        log's."""
        known = replace(PACK, learnt=taught(flown(PULSES, 8)).learnt)
        today = StateOfHealth(level="watch", capacity_ah=3.1, cell_mohm=5.0)
        c = from_packs([replace(known, today=today)], "cautious")
        learnt = known.learnt
        self.assertTrue(learnt.cell_mohm < c.cell_mohm[0] < 5.0)
        self.assertLess(c.resistance_spread[0], min(LOG_SPREAD, METER_SPREAD[""]))
        self.assertAlmostEqual(c.capacity_ah[0], 3.1, delta=abs(learnt.capacity_ah - 3.1))
        self.assertEqual(c.slow_s[0], known.learnt.slow_s)
