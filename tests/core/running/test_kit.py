"""Many kits at once: each as if it was asked for alone, every row as the check itself has it."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.discharge.simulate import simulate
from coldstack.core.fit.fit import fit_of
from coldstack.core.life.told import told
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.readings.cells import pack_reading
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.running.go import RunContext
from coldstack.core.running.kit import EDGES_C, TakenAlong, kits_of
from coldstack.core.running.reckoned import reckoned
from coldstack.core.running.since import said_since
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate, loads, pack_columns, surroundings
from coldstack.core.trial.near import ranges_near
from coldstack.core.trial.spread import minutes_range
from tests.core.trial.jobs import job, pack
from tests.thorough import many


def along(of, **more):
    of = replace(of, owned=True)
    life = told(of, [], rules=STEADY, now=0.0)
    return TakenAlong(of, RunContext(), said_since(of, life, "test", 0.0), **more)


PACKS = st.builds(
    lambda kind, cells, ah, label_c, mohm, ratios: pack(
        f"{kind} {cells} {ah}",
        chemistry=kind,
        series=cells,
        capacity_ah=ah,
        label_c=label_c,
        today=StateOfHealth(
            cell_mohm=mohm, cell_ratios=tuple(ratios[k % len(ratios)] for k in range(cells)) if ratios else ()
        ),
    ),
    st.sampled_from(["lipo", "lihv", "liion", "lifepo4", "nimh"]),
    st.integers(1, 6),
    st.floats(0.3, 6.0).map(lambda x: round(x, 2)),
    st.sampled_from([10.0, 30.0, 60.0]),
    st.none() | st.floats(2.0, 60.0).map(lambda x: round(x, 1)),
    st.sampled_from([(), (1.0, 1.4), (0.9, 1.0, 1.2)]),
)
JOBS = st.builds(
    lambda moves, average, peak, mass: job(
        motion=moves, draw={"average_a": average, "peak_a": average * peak}, mass_g=mass
    ),
    st.sampled_from(["level_flight", "hover", "wheels"]),
    st.floats(2.0, 30.0),
    st.floats(1.0, 4.0),
    st.floats(200.0, 3000.0),
)


class EveryRow(SimpleTestCase):
    @given(JOBS, st.lists(PACKS, min_size=1, max_size=3))
    @settings(max_examples=many(60, 8), deadline=None)
    def test_never_longer_than_the_check(self, model, packs):
        """Cells alike, and the others as far above the lowest as may be: the timer of every row is the
        shorter one of the check's, to the digit; at a known warmth never more than at either end."""
        kits = kits_of(model, [along(p) for p in packs], ())
        for p, kit in zip(packs, kits, strict=True):
            if not fit_of(evaluate(model, job_candidates(model, [p])), 0).runs:
                continue  # no go, whatever it reads
            full_v = chemistry(p.chemistry).full_v
            self.assertAlmostEqual(kit.rows[-1].from_v, full_v, delta=0.0101)
            volts = [r.from_v for r in kit.rows]
            for column, ends in ((0, (None,)), (1, EDGES_C[:2]), (4, EDGES_C[3:5])):
                timers = np.array([self.checked(model, p, volts, c) for c in ends]).min(axis=0)
                said = np.array([r.answers[column].timer_s for r in kit.rows])
                self.assertTrue(np.all(said <= timers), (p.name, column, said - timers))
                if column == 0:
                    self.assertGreaterEqual(np.mean(said == timers), 0.97, p.name)

    def checked(self, model, p, volts, pack_c):
        """The shorter timer of the two by which a row is asked. [s]"""
        timers = []
        for more in (0.0, model.rules.spread_act_v):
            cells = [
                pack_reading(p.chemistry, (v, *(v + more,) * (p.series - 1)), model.rules) for v in volts
            ]
            found = reckoned(model, replace(p, owned=True), cells, temperature_c=pack_c)
            timers.append([found.timer_s(k) for k in range(len(volts))])
        return np.array(timers).min(axis=0)

    def test_as_if_asked_for_alone(self):
        """Packs of several chemistries, one of which would be worse if it read low: the same kits, whoever
        else comes along."""
        worse = ((4.1, StateOfHealth(records_wanted=3)), (4.0, StateOfHealth(level="retire")))
        packs = [
            along(pack("one")),
            along(pack("two", series=3)),
            along(pack("three"), worse=worse),
            along(pack("four", chemistry="nimh", series=12)),
        ]
        self.assertEqual(kits_of(job(), packs, ()), [kits_of(job(), [a], ())[0] for a in packs])
        self.assertNotEqual(*(kits_of(job(), [packs[k]], ())[0].rows for k in (0, 2)))

    def test_none(self):
        """Nothing asked, nothing made."""
        self.assertEqual(kits_of(job(), [], ()), [])


class BetweenTwo(SimpleTestCase):
    def test_the_low_end_is_that_of_every_draw(self):
        """Of runs from thirty charges six are run by every draw: the low ends of the others are theirs to the
        last digit, the high ends within five percent."""
        for motion, peak in (("level_flight", 40.0), ("hover", 30.0), ("wheels", 90.0)):
            model = job(motion=motion, draw={"peak_a": peak})
            c = job_candidates(model, [pack()] * 30)
            socs = np.linspace(0.35, 1.0, 30)
            packs = replace(pack_columns(model, c), start_soc=socs)
            run = simulate(packs, loads(model, c), surroundings(model))
            at = np.arange(30)
            below, above = np.minimum(at // 6 * 6, 24), np.minimum(-(-at // 6) * 6, 29)
            below[29] = 29
            near = ranges_near(model, c, packs, run, below, above)
            every = minutes_range(model, c, near.minutes, np.zeros(30, bool), packs=packs)
            np.testing.assert_allclose(near.low, every.low, rtol=1e-12)
            np.testing.assert_allclose(near.high, every.high, rtol=0.05)
