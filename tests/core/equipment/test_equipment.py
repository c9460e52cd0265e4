"""Packs that serve equipment: hours, volts at the device under a burst, a reserve."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.draw.duty import duty_from_figures
from coldstack.core.draw.motion import MOTIONS
from coldstack.core.equipment.equipment import Equipment, check_equipment, usual_equipment
from coldstack.core.equipment.job import as_equipment, equipment_duty
from coldstack.core.equipment.kinds import EQUIPMENT_KINDS, equipment_kind
from coldstack.core.errors import DomainError
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.typical import typical_cells, typical_packs
from coldstack.core.rules.house_rules import STEADY, for_chemistry
from coldstack.core.sizing.detail import details
from coldstack.core.sizing.headline import headline
from coldstack.core.sizing.plan import Stock, plan
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import Bay, Electronics, Job, Wants
from coldstack.core.trial.wording import lacks

RECEIVER = Equipment(
    load_a=0.8,
    burst_a=5.0,
    burst_s=0.5,
    burst_every_s=10.0,
    hours=6.0,
    least_v=5.0,
    most_v=6.6,
    regulator="switching",
    out_v=6.0,
    regulator_max_v=13.0,
)
TRANSMITTER = Equipment(kind="transmitter", load_a=0.3, hours=6.0, least_v=6.0, most_v=9.0, used_share=0.8)
STOCK = Stock(typical_packs(), typical_cells())


def job_for(e, chemistries=("lipo", "liion", "lifepo4", "nimh"), **bay):
    """A job of this equipment at room temperature, on an XT60."""
    duty = duty_from_figures(
        average_a=1,
        peak_a=1,
        peak_s=0,
        peak_every_s=60,
        motion=MOTIONS["wheels"],
        reference_voltage_v=7.4,
        reference_mass_g=1000,
        spread=0.1,
    )
    plain = Job(
        name="equipment",
        motion=MOTIONS["steady_load"],
        mass_g=1000,
        duty=duty,
        wants=Wants(chemistries=chemistries),
        electronics=Electronics(max_v=10),
        bay=Bay(**{"air_c": 20.0, **bay}),
        rules=STEADY,
    )
    return as_equipment(plain, e)


def pack(series, ah, chemistry="lipo", mohm=None, **more):
    """A plain pack of one's own."""
    return Pack(
        id=f"owned:{series}-{ah}",
        name=f"{series}S {ah}",
        chemistry=chemistry,
        series=series,
        capacity_ah=ah,
        mass_g=100 * series * ah,
        label_c=more.pop("label_c", 20.0),
        cell_mohm=mohm,
        plug="xt60",
        owned=True,
        **more,
    )


class TwoCellReceiver(SimpleTestCase):
    def test_hours_by_hand(self):
        """6 V × 0.8 A ÷ 0.9 = 5.33 W from the resting watt-hours of 2S Li-ion, 10 Ah: within 4 %."""
        found = evaluate(job_for(RECEIVER), job_candidates(job_for(RECEIVER), [pack(2, 10.0, "liion")]))
        rules = for_chemistry(STEADY, "liion")
        socs = np.linspace(rules.landing_soc, rules.start_soc, 400)
        wh = (
            2
            * 10.0
            * float(np.mean([resting_voltage("liion", z) for z in socs]))
            * (rules.start_soc - rules.landing_soc)
        )
        self.assertAlmostEqual(found.minutes[0] / 60, wh / (6 * 0.8 / 0.9), delta=0.04 * wh / 5.33)

    def test_sized(self):
        """What it lists lasts twice the six hours, and holds the receiver's volts under each burst."""
        p = plan(job_for(RECEIVER), STOCK)
        self.assertIn("12 hours", headline(p))
        self.assertTrue(p.short_rows)
        for row in p.short_rows:
            self.assertGreaterEqual(p.evaluation.minutes[row], 0.99 * 720)
            self.assertGreaterEqual(p.evaluation.discharge.lowest_voltage_v[row] - 0.4, 5.0)

    def test_refused_with_those_volts(self):
        """A weak cold pack that sags below 5.4 V under 5 A: refused, and it says how many volts are left."""
        job = job_for(RECEIVER, air_c=0.0)
        weak = pack(2, 10.0, "liion", mohm=60.0)
        e = evaluate(job, job_candidates(job, [weak]))
        fit = fit_of(e, 0)
        left = float(e.discharge.lowest_voltage_v[0]) - 0.4
        self.assertEqual(fit.verdict, "wont")
        words = " ".join(lacks(e, 0))
        self.assertIn("V at the device under a burst, 5 V needed", words)
        self.assertIn(f"{left:.2g}", words)

    def test_the_reserve_halves_timer_and_charge(self):
        """Time flown is half of the time it lasts: in Size, and in go."""
        job = job_for(RECEIVER)
        mine = details(job, job_candidates(job, [pack(2, 5.0, "liion")]))[0]
        self.assertAlmostEqual(mine.settings.timer_s / 60, mine.minutes_low / 2, delta=0.4)
        whole = details(
            job_for(replace(RECEIVER, used_share=1.0)), job_candidates(job, [pack(2, 5.0, "liion")])
        )[0]
        self.assertAlmostEqual(mine.settings.budget_mah, whole.settings.budget_mah / 2, delta=2)
        self.assertIn("reserve", str(mine.workings["timer"]))


class Volts(SimpleTestCase):
    def verdict(self, e, p, **bay):
        """Of one pack for this equipment."""
        job = job_for(e, **bay)
        return fit_of(evaluate(job, job_candidates(job, [p])), 0)

    def test_too_many_volts_are_refused(self):
        """3S LiPo is 12.6 V full: over a 9 V transmitter; a regulator that takes 13 V lets it pass."""
        refused = self.verdict(TRANSMITTER, pack(3, 5.0))
        self.assertEqual(refused.verdict, "wont")
        self.assertIn("transmitter’s 9 V", refused.sentence)
        self.assertNotEqual(self.verdict(RECEIVER, pack(3, 8.0)).verdict, "wont")

    def test_two_lifepo4_cells_serve_a_receiver_directly(self):
        """7.3 V full, 5.6 V at the end: inside 4.8 to 8.5."""
        direct = Equipment(load_a=0.8, burst_a=5.0, hours=1.0, least_v=4.8, most_v=8.5)
        self.assertIn(self.verdict(direct, pack(2, 4.2, "lifepo4")).verdict, ("does", "care"))
        # one cell fewer never reaches 4.8 V
        self.assertEqual(self.verdict(direct, pack(1, 4.2, "lifepo4")).verdict, "wont")

    def test_no_motor_no_controller(self):
        """Its stack is cells, leads and plug; no cut-off is asked for, which would drop it in the air."""
        job = job_for(RECEIVER)
        mine = details(job, job_candidates(job, [pack(2, 10.0, "liion")]))[0]
        self.assertEqual([p.link for p in mine.plates], ["cells", "leads", "plug"])
        self.assertNotIn("cut-off", " ".join(c.sentence for c in mine.checks).lower())

    def test_a_light_duty_pack_stays_out_of_the_air(self):
        """Refused for a receiver, with care for a bench tool."""
        light = replace(pack(3, 5.0), today=None)
        self.assertTrue(job_for(RECEIVER).flies)
        tool = Equipment(kind="tool", load_w=60.0, hours=0.5, least_v=9.0, most_v=13.0, used_share=0.8)
        self.assertFalse(job_for(tool).flies)
        self.assertNotEqual(self.verdict(tool, light).verdict, "wont")

    def test_what_flows_while_it_is_off(self):
        """40 mA empty 10 Ah in ten days; 0.5 mA is not worth a word."""
        job = job_for(replace(RECEIVER, idle_ma=40.0))
        mine = details(job, job_candidates(job, [pack(2, 10.0, "liion")]))[0]
        self.assertIn("empty it in 10 days", " ".join(c.sentence for c in mine.checks))
        job = job_for(replace(RECEIVER, idle_ma=0.5))
        mine = details(job, job_candidates(job, [pack(2, 10.0, "liion")]))[0]
        self.assertNotIn("Left plugged in", " ".join(c.title for c in mine.checks))


class Duties(SimpleTestCase):
    @given(
        st.sampled_from(("none", "linear", "switching")),
        st.floats(0.05, 5),
        st.floats(1.5, 6),
        st.floats(0.2, 2),
        st.floats(0.5, 20),
    )
    def test_the_mean_stays_whatever_stands_between(self, regulator, amps, times, burst_s, hours):
        """A linear one passes amps, a switching one watts over its share; bursts are part of the mean."""
        e = Equipment(
            load_a=amps,
            burst_a=times * amps,
            burst_s=burst_s,
            burst_every_s=20.0,
            hours=hours,
            least_v=5.0,
            most_v=8.5,
            regulator=regulator,
            out_v=6.0,
            regulator_max_v=13.0,
        )
        duty = equipment_duty(e)
        if regulator == "switching":
            watts = duty.average_current_a * duty.reference_voltage_v
            self.assertAlmostEqual(watts, amps * 6.0 / 0.9, places=6)
            self.assertEqual({p.hold for p in duty.phases}, {"power"})
        else:
            self.assertAlmostEqual(duty.average_current_a, amps, places=6)
            self.assertEqual({p.hold for p in duty.phases}, {"amps"})
        self.assertAlmostEqual(duty.phases[1].current_a / duty.average_current_a, times, places=6)

    def test_watts_without_a_regulator_stay_watts(self):
        """Goggles of 8 W take more amps as the pack gets low."""
        e = Equipment(kind="goggles", load_w=8.0, least_v=7.0, most_v=25.5, hours=3.0)
        duty = equipment_duty(e)
        self.assertAlmostEqual(duty.average_current_a * duty.reference_voltage_v, 8.0)
        self.assertEqual(duty.phases[0].hold, "power")

    def test_volts_at_the_device(self):
        """What the regulator gives, as long as it can; below that the pack's less its drop."""
        self.assertEqual(RECEIVER.device_v(8.0), 6.0)
        self.assertAlmostEqual(RECEIVER.device_v(6.0), 5.6)
        self.assertEqual(Equipment(load_a=1.0).device_v(6.0), 6.0)
        linear = replace(RECEIVER, regulator="linear")
        self.assertAlmostEqual(linear.device_v(6.0), 5.4)


class BadEquipment(SimpleTestCase):
    def test_refused_at_its_field(self):
        """Both or no load, a window upside down, a regulator without volts or outside, impossible bursts."""
        cases = (
            ({"load_a": None}, "equipment.load_a"),
            ({"load_w": 5.0}, "equipment.load_a"),
            ({"load_a": -1.0}, "equipment.load_a"),
            ({"load_a": float("nan")}, "equipment.load_a"),
            ({"least_v": 7.0}, "equipment.most_v"),
            ({"out_v": None}, "equipment.out_v"),
            ({"out_v": 9.0}, "equipment.out_v"),
            ({"regulator_max_v": 6.2}, "equipment.regulator_max_v"),
            ({"burst_a": 0.5}, "equipment.burst_a"),
            ({"burst_s": 10.0}, "equipment.burst_every_s"),
            ({"burst_a": 40.0}, "equipment.burst_every_s"),
            ({"hours": 101.0}, "equipment.hours"),
            ({"used_share": 0.0}, "equipment.used_share"),
            ({"kind": "kettle"}, "equipment.kind"),
        )
        for change, field in cases:
            with self.subTest(change), self.assertRaises(DomainError) as refused:
                check_equipment(replace(RECEIVER, **change))
            self.assertEqual(refused.exception.field, field)

    def test_each_kind_is_itself_possible(self):
        """With its usual figures, and served by something typical."""
        for kind in EQUIPMENT_KINDS.values():
            e = usual_equipment(kind)
            with self.subTest(kind.id):
                self.assertEqual(check_equipment(e), e)
                self.assertTrue(plan(job_for(e, kind.chemistries), STOCK).short_rows)
        self.assertEqual(equipment_kind("receiver").used_share, 0.5)
