from dataclasses import replace
from math import ceil

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.chain.adapters import Adapter, BalanceAdapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.charge_time import BALANCE_SHARE
from coldstack.core.charging.charger import Supply
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import _imbalance_ah, best_feed, charge_fit, readings_of
from coldstack.core.matching.charge_chain import charge_joints
from coldstack.core.matching.charger_settings import charger_settings, halves, port_rows, settings_cautions
from coldstack.core.readings.cells import pack_reading, whole_reading
from coldstack.core.rules.house_rules import house_rules
from tests.core.charging.gear import DC, SMALL_SUPPLY, bench, charger, four_port, lead, pack

STEADY = house_rules("steady")


def fit(p, c, *, feed=DC, on=None, rules=STEADY):
    return charge_fit(p, c, rules=rules, feed=feed, bench=bench() if on is None else on)


def refusals(found):
    return {r.id: r.sentence for r in found.refusals}


class Refused(SimpleTestCase):
    def test_lihv_on_a_charger_with_lipo_only(self):
        """With the end volts of both: it would stop short."""
        found = fit(
            pack(chemistry="lihv", series=1, plug="ph_2"),
            charger(chemistries=("lipo",)),
            on=bench(lead("ph_2")),
        )
        self.assertEqual(set(refusals(found)), {"chemistry"})
        self.assertRegex(
            found.refusals[0].sentence, r"LiHV is full at 4\.35 V.* LiPo program ends at 4\.20 V"
        )

    def test_lipo_on_a_charger_with_lihv_only(self):
        """The dangerous way round is called an overcharge."""
        found = fit(pack(), charger(chemistries=("lihv",)))
        self.assertRegex(refusals(found)["chemistry"], r"goes on to 4\.35 V: an overcharge")

    def test_nimh_on_lithium_and_lithium_on_nimh(self):
        """Their ends differ in kind."""
        found = fit(pack(chemistry="nimh"), charger(chemistries=("lipo",)))
        self.assertRegex(refusals(found)["chemistry"], "small drop of its volts after the peak")
        other = fit(pack(), charger(chemistries=("nimh",)))
        self.assertRegex(refusals(other)["chemistry"], "NiMH program has not: it would overcharge it")
        self.assertIsNone(charger_settings(other, rules=STEADY, trust="cautious"))

    def test_8s_on_a_6s_charger_and_its_halves(self):
        """Refused; two 4S halves could be charged, with amps and minutes, if they come apart."""
        eight = pack(series=8, capacity_ah=4.0)
        found = fit(eight, four_port(), feed=Feed("mains"))
        self.assertIn("8 lithium cells in series; Four ends at 6", refusals(found)["cells"])
        two = halves(found, rules=STEADY, trust="cautious", bench=bench())
        self.assertTrue(two.possible)
        self.assertRegex(
            two.sentence, r"two 4S packs.* at 4 A in about \d+ min.*A sealed pack .* cannot be split"
        )

    def test_halves_that_do_not_help(self):
        """16S halves are 8S; 7S has none; a pack that fits has no need."""
        sixteen = fit(pack(series=14), four_port(series_max=6), feed=Feed("mains"))
        self.assertFalse(halves(sixteen, rules=STEADY, trust="cautious", bench=bench()).possible)
        seven = fit(pack(series=7), four_port(), feed=Feed("mains"))
        self.assertIn(
            "do not make two equal halves",
            halves(seven, rules=STEADY, trust="cautious", bench=bench()).sentence,
        )
        self.assertIsNone(halves(fit(pack(), charger()), rules=STEADY, trust="cautious", bench=bench()))

    def test_too_few_cells(self):
        """A charger that starts at 2S."""
        found = fit(pack(series=1), charger(series_min=2))
        self.assertIn("starts at 2 cells", refusals(found)["cells"])

    def test_an_unfit_pack_is_never_charged(self):
        """With what is noted of it."""
        found = fit(pack(fit=False, note="swollen"), charger())
        self.assertIn("marked unfit: swollen", refusals(found)["unfit"])

    def test_too_slow(self):
        """Under a fifth of C: 20 W for 6S 10 Ah gives 0.7 A of 2 A."""
        found = fit(pack(capacity_ah=10.0), charger(port_w=20.0, dc_w=20.0))
        self.assertRegex(refusals(found)["slow"], r"Only 0\.7 A, 0\.07C: below 0\.2C \(2 A\)")

    def test_no_lead(self):
        """It says which lead would."""
        found = fit(pack(plug="ec5"), charger())
        self.assertIn("A charge lead 4 mm banana to EC5 would", refusals(found)["plugs"])

    def test_a_supply_of_the_wrong_volts(self):
        """24 V into a charger of 11 to 18 V."""
        found = fit(pack(), charger(), feed=Feed("dc", Supply("1", "big", "mains", 24, 480)))
        self.assertIn("big gives 24 V; One wants 11 V to 18 V", refusals(found)["input"])


class BalanceWays(SimpleTestCase):
    def test_straight_in(self):
        """XH into XH."""
        self.assertIn("XH, 7 pins", fit(pack(), charger()).balance.sentence)

    def test_by_a_balance_adapter(self):
        """EH to XH; not if it is for fewer cells."""
        eh = pack(balance_plug="eh")
        self.assertIn("balance", refusals(fit(eh, charger())))
        wide = BalanceAdapter("b", "EH to XH", "eh", "xh", 6)
        self.assertIn("EH to XH", fit(eh, charger(), on=bench(balance=(wide,))).balance.sentence)
        narrow = replace(wide, cells=4)
        self.assertIn("balance", refusals(fit(eh, charger(), on=bench(balance=(narrow,)))))

    def test_through_a_board(self):
        """A board that takes EH and brings out XH."""
        board = Adapter(
            "board",
            "board",
            (PlugEnd("xt60", "device"), PlugEnd("banana_4", "pack")),
            kind="board",
            continuous_a=3.0,
            balance_from=("eh",),
            balance_out="xh",
            balance_cells=6,
        )
        found = fit(pack(balance_plug="eh", series=2, capacity_ah=5.0), charger(), on=bench(boards=(board,)))
        self.assertTrue(found.possible)
        self.assertIn("Through board", found.balance.sentence)
        self.assertEqual((found.amps.current_a, found.amps.binding.name), (3.0, "board"))

    def test_an_integrated_plug_needs_a_splitter(self):
        """Balance wires in the main plug."""
        one = pack(plug="integrated", series=3)
        self.assertTrue({"balance", "plugs"} <= set(refusals(fit(one, charger()))))
        splitter = Adapter(
            "s",
            "splitter",
            (PlugEnd("integrated", "device"), PlugEnd("xt60", "pack")),
            kind="splitter",
            balance_from=("integrated",),
            balance_out="xh",
            balance_cells=6,
        )
        found = fit(one, charger(), on=bench(splitter))
        self.assertTrue(found.possible, refusals(found))
        self.assertEqual([p.name for p in found.path.pieces], ["splitter", "xt60 lead"])

    def test_nothing_to_balance(self):
        """One cell, or NiMH."""
        self.assertIsNone(fit(pack(series=1), charger()).balance)
        self.assertIsNone(fit(pack(chemistry="nimh"), charger()).balance)

    def test_a_board_is_not_used_for_one_pack_that_a_lead_serves(self):
        """Though it would join the plugs too."""
        board = Adapter(
            "board", "board", (PlugEnd("xt60", "device"), PlugEnd("banana_4", "pack")), kind="board"
        )
        self.assertEqual(
            [p.name for p in fit(pack(), charger(), on=bench(boards=(board,))).path.pieces], ["xt60 lead"]
        )


class Slips(SimpleTestCase):
    def test_what_to_set(self):
        """6S 5 Ah on 60 W: all of it, each with its working."""
        found = charger_settings(fit(pack(), charger()), rules=STEADY, trust="cautious")
        self.assertEqual(
            (found.chemistry, found.program, found.series, found.current_a),
            ("LiPo", "balance charge", 6, 2.3),
        )
        self.assertEqual((found.end_cell_v, round(found.end_v, 2)), (4.2, 25.2))
        self.assertEqual(found.timer_min, ceil(1.1 * found.minutes_high))
        # 3 % more than the label, from the charge of a cell that rests 5 mV lower than where the rules land
        lowest = soc_at_rest("lipo", resting_voltage("lipo", 0.2) - 0.005)
        self.assertAlmostEqual(found.cutoff_mah / 1.1, 5150 * (1 - lowest), delta=60)
        self.assertTrue(found.minutes > 60 * 4.0 / 2.3)
        self.assertEqual(set(found.workings), {"amps", "minutes", "timer", "cutoff", "end_v"})
        self.assertIn("Limit: the port’s watts.", found.line)

    def test_gentle_rules_end_lower(self):
        """Long life: 4.15 V a cell."""
        gentle = house_rules("long_life")
        found = charger_settings(fit(pack(), charger(), rules=gentle), rules=gentle, trust="cautious")
        self.assertAlmostEqual(found.end_v, 24.9)

    def test_nimh_has_its_own_program(self):
        """No end volts; and its cautions."""
        f = fit(pack(chemistry="nimh", capacity_ah=4.0), charger())
        found = charger_settings(f, rules=STEADY, trust="cautious")
        self.assertIsNone(found.end_v)
        self.assertIn("peak", found.program)
        self.assertIn("nimh_warms", [c.id for c in settings_cautions(f)])

    def read(self, cells):
        return readings_of(pack(), pack_reading("lipo", tuple(cells)))

    def test_the_whole_pack_says_nothing_of_imbalance(self):
        """Its middle is where it begins; how far cells lag stays as usual."""
        rest, spread = readings_of(pack(), whole_reading("lipo", 6, 22.8))
        self.assertAlmostEqual(rest, 3.8)
        self.assertEqual(spread, None)

    def test_readings_shorten_it_and_show_imbalance(self):
        """Half-full cells take less; the spread costs balancing time."""
        f = fit(pack(), charger())
        even = self.read([3.82] * 6)
        rest, spread = self.read([3.82] * 5 + [3.79])
        self.assertEqual((even[0], rest), (3.82, 3.79))
        self.assertAlmostEqual(even[1], 0)
        self.assertGreater(spread, 0.1)
        landed = charger_settings(f, rules=STEADY, trust="cautious").minutes
        half = charger_settings(
            f, rules=STEADY, trust="cautious", rest_cell_v=even[0], imbalance_ah=0.0
        ).minutes
        uneven = charger_settings(
            f, rules=STEADY, trust="cautious", rest_cell_v=rest, imbalance_ah=spread
        ).minutes
        self.assertLess(half, landed)
        self.assertGreater(uneven, half)

    def test_a_cell_lags_as_usual_where_nobody_read_it(self):
        """By a share of what the pack holds; where volts tell little, a reading cannot say it is less."""
        flat, plain = (pack(chemistry=c, capacity_ah=5.0) for c in ("lifepo4", "lipo"))
        usual = BALANCE_SHARE * 5.0
        self.assertAlmostEqual(_imbalance_ah(plain, None), usual)
        self.assertEqual([_imbalance_ah(plain, x) for x in (0.0, 1.0)], [0.0, 1.0])
        self.assertEqual([_imbalance_ah(flat, x) for x in (0.0, 1.0)], [usual, 1.0])

    def test_readings_that_cannot_be(self):
        """A dead cell, an overcharged one; named at the field."""
        for cells, words in (
            ([3.8] * 5 + [2.4], "below 3 V, is damaged"),
            ([3.8] * 5 + [4.4], "over full, which is 4.2 V"),
            ([3.8] * 5 + [4.3], "over full, which is 4.2 V"),
        ):
            with self.assertRaisesRegex(DomainError, words) as caught:
                self.read(cells)
            self.assertEqual(caught.exception.field, "charge.cells")

    def test_readings_at_the_bounds(self):
        """Just damaged is damaged; at the volts themselves it is not, and is charged."""
        self.read([3.0] * 6)
        self.read([4.23] * 6)
        with self.assertRaisesRegex(DomainError, "damaged"):
            self.read([3.0] * 5 + [2.999])

    def test_ports_on_mains_and_dc_and_behind_a_supply(self):
        """One, two and four ports in use: as `charge_amps` has them."""
        rows = port_rows(
            pack(),
            four_port(),
            rules=STEADY,
            supplies=[SMALL_SUPPLY],
            fit=fit(pack(), four_port(), feed=Feed("mains")),
        )
        amps = {(r.source, r.supply, r.ports_in_use): r.current_a for r in rows}
        self.assertEqual(len(rows), 9)
        self.assertEqual([amps["mains", "", n] for n in (1, 2, 4)], [3.9, 3.9, 1.9])
        self.assertEqual([amps["dc", "", n] for n in (1, 2, 4)], [3.9, 3.9, 3.9])
        self.assertEqual([amps["dc", "small supply", n] for n in (1, 2, 4)], [2.6, 1.3, 0.6])

    def test_the_best_feed(self):
        """Mains where there is one; else the strongest supply that suits; else DC."""
        big = Supply("b", "big", "mains", 24.0, 480.0)
        self.assertEqual(best_feed(four_port(), [big]).source, "mains")
        self.assertEqual(best_feed(charger(), [big, SMALL_SUPPLY]).supply, SMALL_SUPPLY)
        self.assertIsNone(best_feed(charger(), [big]).supply)


class TheChain(SimpleTestCase):
    def test_the_link_that_sets_the_amps_is_the_weakest(self):
        """From the supply to the pack, each under the same current; the binding one slides out."""
        found = fit(pack(), charger(), feed=Feed("dc", SMALL_SUPPLY))
        made = charge_joints(found)
        self.assertEqual(
            [j.link for j in made], ["supply", "charger", "port", "plug1", "piece1", "plug0", "pack"]
        )
        weak = [j for j in made if j.weakest]
        self.assertEqual(len(weak), 1)
        self.assertIn("60 W ÷ (6 × 4.2 V)", weak[0].sentence)
        self.assertIn("126 W for this pack would reach the 5 A", weak[0].sentence)
        self.assertTrue(all(j.loading <= 1 for j in made))

    def test_what_a_lead_takes_of_volts_and_watts(self):
        """Amps times ohms, and times the amps again."""
        found = fit(pack(), charger(), feed=Feed("dc", SMALL_SUPPLY))
        lost = [j for j in charge_joints(found) if j.drop_v is not None]
        self.assertTrue(lost)
        for joint in lost:
            self.assertAlmostEqual(joint.heat_w, joint.drop_v * found.amps.current_a)
            self.assertLess(joint.drop_v, 0.2)

    @settings(max_examples=50)
    @given(
        st.sampled_from(["lipo", "lihv", "nimh"]),
        st.integers(1, 8),
        st.floats(0.1, 20),
        st.floats(5, 300),
        st.integers(1, 4),
    )
    def test_no_link_of_any_possible_charge_is_over(self, kind, series, ah, port_w, ports):
        """And a possible one is useful, and of a chemistry and count that the charger does."""
        p = pack(chemistry=kind, series=series, capacity_ah=ah)
        found = fit(p, four_port(port_w=port_w), feed=Feed("mains", None, ports))
        if found.possible:
            self.assertTrue(all(j.loading <= 1 for j in charge_joints(found)))
            self.assertGreaterEqual(found.amps.current_a, 0.2 * ah * (1 - 1e-9))
            self.assertLessEqual(series, 12 if kind == "nimh" else 6)
            self.assertIsNotNone(charger_settings(found, rules=STEADY, trust="cautious"))
        else:
            self.assertTrue(all(r.sentence and r.short for r in found.refusals))
