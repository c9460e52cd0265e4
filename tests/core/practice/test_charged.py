"""Settings seen through: what the simulation shows is what the judge says, and follows by hand."""

from dataclasses import replace
from unittest import TestCase

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.charger import Charger
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.charged import GAS_OVER_V, charged_so, set_to
from coldstack.core.rules.house_rules import for_chemistry, house_rules
from tests.core.practice.many import many, read, rights

STEADY = house_rules("steady")
PACK = Pack("p", "3S 2200", "lipo", 3, 2.2, 180.0, label_c=30.0, charge_c=2.0, price=25.0)
CHARGER = Charger("c", "Skerry 300", tuple(CHEMISTRIES), 14, 20.0, 300.0, nimh_cells_max=16, mains_w=300.0)


def seen(program="lipo", series=3, amps=2.2, *, pack=PACK, charger=CHARGER, rules=STEADY, seed=1):
    return charged_so(pack, charger, set_to(pack, program, series, amps, rules), rules, seed)


class RightOnes(TestCase):
    def test_it_ends_full_and_harms_nothing(self):
        """About the charge over the amps, and the taper; no cell over full, all alike at the end."""
        ran = seen()
        self.assertEqual(ran.outcome, "right")
        self.assertEqual([m.outcome for m in ran.moments], ["right"])
        last = [line.values[-1] for line in ran.lines]
        self.assertLess(max(max(line.values) for line in ran.lines), 4.2005)
        self.assertLess(max(last) - min(last), 0.006)
        share = 1 - for_chemistry(STEADY, "lipo").landing_soc
        minutes = ran.time_s[-1] / 60
        self.assertGreater(minutes, 60 * share)
        self.assertLess(minutes, 60 * share + 35)
        self.assertRegex(ran.sentence, r"^It takes \d+ min and stays .*good for about \d+ cycles\.$")

    def test_it_begins_where_a_run_lands(self):
        """Cells at the landing point of the rules, a hundredth or so apart."""
        first = [line.values[0] for line in seen(amps=0.1).lines]
        at = resting_voltage("lipo", for_chemistry(STEADY, "lipo").landing_soc)
        for volts in first:
            self.assertAlmostEqual(volts, at, delta=0.03)

    def test_twice_the_amps_in_about_half_the_time(self):
        """And a charger of few watts takes longer, whatever is set."""
        slow, quick = (seen(amps=a).time_s[-1] for a in (1.0, 2.0))
        self.assertTrue(1.5 < slow / quick < 2.0)
        weak = replace(CHARGER, port_w=12.6, mains_w=12.6)
        self.assertAlmostEqual(seen(amps=9.0, charger=weak).time_s[-1] / slow, 1.0, delta=0.1)

    def test_the_same_seed_the_same_charge(self):
        """And another one other cells."""
        self.assertEqual(seen(), seen())
        self.assertNotEqual(seen().lines, seen(seed=2).lines)


class WrongOnes(TestCase):
    def test_one_cell_too_many(self):
        """12.6 V were right for three, 16.8 V are 5.6 V each: over full, gas, fire, in this order, each at
        its volts; and the pack is gone."""
        ran = seen(series=4)
        self.assertEqual([m.mark for m in ran.moments], ["over full", "swells", "may burn"])
        times = [m.time_s for m in ran.moments]
        self.assertEqual(times, sorted(times))
        for m, volts in zip(ran.moments, (4.23, 4.5, 5.0), strict=True):
            at = ran.time_s.index(m.time_s)
            self.assertAlmostEqual(max(line.values[at] for line in ran.lines), volts, delta=0.02)
            self.assertEqual(max(ran.lines, key=lambda x: x.values[at]).name, f"cell {m.cell}")
        self.assertIn("It costs the pack (price 25)", ran.sentence)

    def test_a_program_of_higher_volts(self):
        """LiHV ends a LiPo at 4.35 V: over full, which the watch stops, and not yet gas."""
        ran = seen("lihv")
        self.assertEqual([m.mark for m in ran.moments], ["over full"])
        self.assertAlmostEqual(max(max(x.values) for x in ran.lines), 4.35, delta=0.005)

    def test_a_program_without_an_end(self):
        """A peak never comes: it goes on until it may burn."""
        self.assertEqual(seen("nimh").moments[-1].mark, "may burn")

    def test_what_never_begins(self):
        """Too few cells are refused, no amps flow; of NiMH no model of ours tells."""
        self.assertIsNone(seen(series=2))
        self.assertIsNone(seen(amps=0.0))
        nimh = replace(PACK, chemistry="nimh", series=6)
        self.assertIsNone(seen("nimh", 6, pack=nimh))

    def test_far_too_many_amps(self):
        """Full volts are kept, and yet: said from the first minute. Half over the label is its limit."""
        self.assertIn("20 A flow where 4.4 A may", seen(amps=20.0).moments[0].sentence)
        self.assertEqual(seen(amps=1.51 * 4.4).outcome, "dangerous")
        self.assertEqual(seen(amps=1.49 * 4.4).outcome, "right")

    def test_more_amps_wear(self):
        """Ever fewer cycles, by the house's figures: 300 at 1C, three quarters of them at 2C."""
        for amps, cycles in ((2.2, 300), (4.4, 225)):
            told = int(seen(amps=amps).sentence.split(" cycles")[0].split()[-1])
            self.assertAlmostEqual(told, cycles, delta=16)


class AsJudged(TestCase):
    def test_what_is_seen_is_what_is_said(self):
        """For every program and one cell more or less, all else right: a lithium pack is seen over full
        exactly where the judge says dangerous, and right where all is right."""
        seen_through = 0
        for e, rules in many("settings", 240, start=9000):
            cell, _, series, _ = read(e.task.things[0])
            if cell.charge_method != "cc_cv":
                continue
            amps = float(rights(e)["amps"].split()[0])
            end_v = series * for_chemistry(rules, cell.id).full_v
            right = {"program": cell.id, "series": float(series), "amps": amps, "end_v": end_v}
            told = rights(e)
            right |= {q: told[q].split()[0] for q in ("timer", "cutoff") if q in told}
            wrong = [{"program": p} for p in CHEMISTRIES] + [{"series": float(series + k)} for k in (-1, 1)]
            for change in wrong:
                said = {**right, **change}
                ran, outcome = e.see(said), e.judge(said).outcome
                if ran is None:
                    self.assertNotEqual(outcome, "right")
                    continue
                seen_through += 1
                over = any(m.mark == "over full" for m in ran.moments)
                self.assertEqual(over, outcome == "dangerous", (e.task, said))
                self.assertEqual(ran.outcome == "dangerous", outcome == "dangerous")
        self.assertGreater(seen_through, 30)

    def test_every_lithium_chemistry_by_its_own_volts(self):
        """Gas begins as far over its own full volts as over a LiPo's."""
        for kind in ("lipo", "lihv", "liion", "lifepo4"):
            pack = replace(PACK, chemistry=kind, price=None)
            moments = seen("nimh", pack=pack).moments
            self.assertEqual([m.mark for m in moments], ["over full", "swells", "may burn"])
            self.assertIn(f"At {chemistry(kind).full_v + GAS_OVER_V:.2f} V", moments[1].sentence)

    def test_on_the_board(self):
        """Who joins what may not be joined sees the rush that the board's own reckoning gives; who does not
        sees nothing."""
        rushes = 0
        for e, _ in many("sharing", 600):
            q = e.task.questions[0]
            yes, no = ({"may": "yes"}, {"may": "no"}) if q.id == "may" else ({"amps": "1"}, {"amps": "none"})
            self.assertIsNone(e.see(no))
            ran = e.see(yes)
            if ran is None:  # cells unlike: no reckoning of ours tells
                self.assertEqual(e.judge(yes).outcome, "dangerous")
                continue
            rushes += 1
            self.assertEqual(ran.outcome, e.judge(yes).outcome)
            into, out_of = (line.values[0] for line in ran.lines)
            self.assertAlmostEqual(into, -out_of, delta=0.02)  # what one gets the other gives
        self.assertGreater(rushes, 5)
