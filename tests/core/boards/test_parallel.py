"""Who may share a board: what is never joined, the house rules, and the currents."""

from django.test import SimpleTestCase

from coldstack.core.boards.parallel import governing, sharing
from coldstack.core.charging.amps import pack_charge_c
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.rules.house_rules import HOUSE_RULES, house_rules
from tests.core.boards.laid import board, four_s, lay
from tests.core.charging.gear import lead

STEADY = house_rules("steady")


def ids(members, rules=STEADY, on=None, **how):
    return {r.id for r in sharing(members, rules=rules, board=on or board(), **how).reasons}


class Never(SimpleTestCase):
    def test_a_2s_among_4s_under_every_rule_set(self):
        """Refused with its volts, whatever the school."""
        members = [lay(four_s("01"), 3.7), lay(four_s("13", series=2), 3.7)]
        for rules in HOUSE_RULES.values():
            with self.subTest(rules.id):
                found = sharing(members, rules=rules, board=board())
                self.assertEqual({r.id for r in found.reasons}, {"series"})
                self.assertIn("16.8 V against 8.4 V", found.reasons[0].sentence)

    def test_other_chemistry_and_nimh(self):
        """LiHV with LiPo; NiMH with anything, its own kind too."""
        self.assertIn("chemistry", ids([lay(four_s("01"), 3.7), lay(four_s("02", chemistry="lihv"), 3.7)]))
        self.assertIn("peak", ids([lay(four_s(t, chemistry="nimh"), 1.2) for t in ("11", "12")]))

    def test_unfit_unread_and_outlier(self):
        """A swollen pack, one that was not read, and one whose own cells differ."""
        good = lay(four_s("01"), 3.7)
        self.assertIn("unfit", ids([good, lay(four_s("02"), 3.7, signs=["swollen"])]))
        self.assertIn("unread", ids([good, lay(four_s("02"))]))
        self.assertIn("outlier", ids([good, lay(four_s("02"), 3.7, 3.7, 3.7, 3.65)]))


class HouseRule(SimpleTestCase):
    def test_just_under_at_and_over_each_sets_volts(self):
        """0.02, 0.05 and 0.1 V a cell; the resistances are high enough that no rush forbids it."""
        for rules in HOUSE_RULES.values():
            for more, refused in ((-0.001, False), (0.0, False), (0.001, True)):
                with self.subTest(rules=rules.id, more=more):
                    high = 3.7 + rules.parallel_spread_v + more
                    members = [lay(four_s(t, cell_mohm=30.0), v) for t, v in (("01", 3.7), ("02", high))]
                    self.assertEqual("spread" in ids(members, rules), refused)

    def test_position_by_position(self):
        """Equal packs' volts, but crossed cells: the balance leads would join 3.72 with 3.66."""
        members = [lay(four_s("01"), 3.72, 3.72, 3.68, 3.68), lay(four_s("02"), 3.66, 3.70, 3.72, 3.72)]
        self.assertIn("spread", ids(members))


class Rush(SimpleTestCase):
    def test_amps_by_hand(self):
        """Two 4S packs 0.25 V a cell apart: 1.0 V over both packs' resistance, and more than the socket
        takes."""
        members = [lay(four_s("01"), 3.70), lay(four_s("02"), 3.95)]
        found = sharing(members, rules=STEADY, board=board())
        ohm = [(4 * m.cell_mohm * _factor(m) + m.outside_mohm + 1.0) / 1000 for m in members]
        self.assertAlmostEqual(found.currents_a[0], 1.0 / sum(ohm), delta=0.02)
        self.assertAlmostEqual(sum(found.currents_a), 0, places=9)
        self.assertIn("rush", {r.id for r in found.reasons})

    def test_balance_plugs_first(self):
        """Within the rule by the main leads; through the thin wires first it is not."""
        members = [
            lay(four_s("01", cell_mohm=1.0), 3.70),
            lay(four_s("02", cell_mohm=1.0), 3.80),
        ]
        rules = house_rules("field_day")
        self.assertNotIn("balance_wire", ids(members, rules))
        first = sharing(members, rules=rules, board=board(), balance_first=True)
        self.assertEqual("balance_wire" in {r.id for r in first.reasons}, first.wire_a > 3.0)
        self.assertGreater(first.wire_a, 3.0)

    def test_equal_packs_exchange_nothing(self):
        """And are calm at once."""
        found = sharing([lay(four_s("01"), 3.7), lay(four_s("02"), 3.7)], rules=STEADY, board=board())
        self.assertEqual((found.allowed, found.calm_s), (True, 0.0))
        self.assertAlmostEqual(found.wire_a, 0)


class Fit(SimpleTestCase):
    def test_sockets(self):
        """Two sockets, three packs."""
        self.assertIn("sockets", ids([lay(four_s(t), 3.7) for t in "123"], on=board(2)))

    def test_plugs_and_adapters(self):
        """An EC5 pack does not go into an XT60 socket; one adapter serves one pack."""
        adapter = lead("ec5", continuous_a=20.0)
        self.assertIn(
            "plug", ids([lay(four_s("01"), 3.7), lay(four_s("02", plug="ec5"), 3.7, pieces=(adapter,))])
        )

    def test_balance_families_and_cells(self):
        """The board takes XH of up to six cells."""
        self.assertIn("balance", ids([lay(four_s("01"), 3.7), lay(four_s("02", balance_plug="eh"), 3.7)]))
        eights = [lay(four_s(t, series=8), 3.7) for t in "12"]
        self.assertIn("balance", ids(eights))


class Rate(SimpleTestCase):
    def test_the_lower_label_governs_the_sum(self):
        """2.6 Ah at 1C and 3.0 Ah at 3C under Field day: 1C on both; under Steady 1C by the rule."""
        members = [
            lay(four_s("31", capacity_ah=2.6, charge_c=1.0), 3.7),
            lay(four_s("32", capacity_ah=3.0, charge_c=3.0), 3.7),
        ]
        lowest = governing(members, house_rules("field_day")).pack
        self.assertEqual((pack_charge_c(lowest, house_rules("field_day")), lowest.id), (1.0, "owned:31"))

    def test_no_label_means_1c(self):
        """What everyone agrees is safe."""
        members = [lay(four_s("31", charge_c=None), 3.7), lay(four_s("32", charge_c=5.0), 3.7)]
        self.assertEqual(governing(members, house_rules("field_day")).pack.id, "owned:31")

    def test_a_cold_or_unknown_pack_governs(self):
        """It may be charged at half the rate only, whatever the others' labels say."""
        steady = house_rules("steady")
        for how in ({"stranger": True}, {"temperature_c": 5.0}, {"apart": True}, {"level": "light"}):
            slow = lay(four_s("31", today=StateOfHealth(**how)), 3.7)
            members = [slow, lay(four_s("32"), 3.7)]
            self.assertEqual(pack_charge_c(governing(members, steady).pack, steady), 0.5)


def _factor(m):
    from coldstack.core.cells.resistance import soc_factor

    return soc_factor(m.reading.socs[0])
