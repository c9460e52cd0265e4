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


KINDS = {"lipo": (3, 4), "lihv": (3,), "liion": (3, 4), "lifepo4": (4,), "nimh": (8, 10)}


@st.composite
def models_and_packs(draw):
    """A model, and packs of which most do its job: so large that it draws 1C to 6C of the first."""
    packs = draw(st.lists(packs_of(), min_size=1, max_size=2))
    average_a = packs[0].capacity_ah * draw(st.floats(1.0, 6.0))
    model = job(
        motion=draw(st.sampled_from(["level_flight", "hover", "wheels"])),
        draw={"average_a": average_a, "peak_a": average_a * draw(st.floats(1.0, 3.0))},
        electronics={"controller_continuous_a": 200.0, "controller_burst_a": 250.0, "motor_burst_a": 250.0},
        mass_g=draw(st.floats(500.0, 3000.0)),
    )
    return model, packs


@st.composite
def packs_of(draw):
    """One of the field's packs, new or read, its cells alike or apart."""
    kind = draw(st.sampled_from(sorted(KINDS)))
    cells, ah = draw(st.sampled_from(KINDS[kind])), round(draw(st.floats(1.5, 6.0)), 2)
    ratios = draw(st.sampled_from([(), (1.0, 1.4), (0.9, 1.0, 1.2)]))
    mohm = draw(st.none() | st.floats(8.0, 20.0).map(lambda x: round(x / ah, 2)))
    each = tuple(ratios[k % len(ratios)] for k in range(cells)) if ratios else ()
    today = StateOfHealth(cell_mohm=mohm, cell_ratios=each)
    return pack(
        f"{kind} {cells} {ah}", chemistry=kind, series=cells, capacity_ah=ah, label_c=35.0, today=today
    )


class EveryRow(SimpleTestCase):
    @given(models_and_packs())
    @settings(max_examples=many(60, 10), deadline=None)
    def test_never_longer_than_the_check(self, drawn):
        """Cells alike, and the others as far above the lowest as may be: the timer of every row is the
        shorter one of the check's, to the digit; at a known warmth never more than at either end, and from
        full the same."""
        model, packs = drawn
        kits = kits_of(model, [along(p) for p in packs], ())
        for p, kit in zip(packs, kits, strict=True):
            if not fit_of(evaluate(model, job_candidates(model, [p])), 0).runs:
                continue  # no go, whatever it reads
            full_v = chemistry(p.chemistry).full_v
            self.assertAlmostEqual(kit.rows[-1].from_v, full_v, delta=0.0101)
            volts = [r.from_v for r in kit.rows]
            for column, ends in ((0, (None,)), (1, EDGES_C[:2]), (4, EDGES_C[3:5])):
                found = [self.checked(model, p, volts, c) for c in ends]
                timers, early = np.min([t for t, _ in found], axis=0), max(e for _, e in found)
                if column and early:
                    continue  # where it may stop early the check itself jumps from row to row
                said = np.array([r.answers[column].timer_s for r in kit.rows])
                self.assertTrue(np.all(said <= timers), (p.name, column, said - timers))
                self.assertEqual(said[-1], timers[-1], (p.name, column))
                if column == 0:
                    self.assertGreaterEqual(np.mean(said == timers), 0.97, p.name)

    def checked(self, model, p, volts, pack_c):
        """The shorter timer of the two by which each row is asked, and how often it stops early at most.
        [s]"""
        timers, early = [], 0.0
        for more in (0.0, model.rules.spread_act_v):
            cells = [
                pack_reading(p.chemistry, (v, *(v + more,) * (p.series - 1)), model.rules) for v in volts
            ]
            found = reckoned(model, replace(p, owned=True), cells, temperature_c=pack_c)
            timers.append([found.timer_s(k) for k in range(len(volts))])
            early = max(early, found.spread.early.max())
        return np.min(timers, axis=0), early

    def test_as_if_asked_for_alone(self):
        """Packs of several chemistries, one of which would be worse if it read low: the same kits, whoever
        else comes along."""
        worse = ((4.0, StateOfHealth(level="retire")), (4.1, StateOfHealth(records_wanted=3)))
        packs = [
            along(pack("one")),
            along(pack("two", series=3)),
            along(pack("three"), worse=worse),
            along(pack("four", chemistry="nimh", series=12)),
        ]
        self.assertEqual(kits_of(job(), packs, ()), [kits_of(job(), [a], ())[0] for a in packs])
        self.assertNotEqual(*(kits_of(job(), [packs[k]], ())[0].rows for k in (0, 2)))

    def test_worse_below(self):
        """From so many volts down its rows are those of the pack as it would be then: here seven tenths."""
        worse = ((4.0, StateOfHealth(records_wanted=3)),)
        plain, told_so = kits_of(job(), [along(pack("one")), along(pack("one"), worse=worse)], ())
        for a, b in zip(plain.rows, told_so.rows, strict=True):
            share = 0.7 if a.from_v < 4.0 else 1.0
            self.assertAlmostEqual(b.budget_mah, share * a.budget_mah, delta=1)
        self.assertEqual({4.0, 3.99} - {r.from_v for r in plain.rows}, set())

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
