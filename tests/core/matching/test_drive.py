from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.matching.charge import Bench
from coldstack.core.matching.considered import considered_pack
from coldstack.core.matching.drive import drive_fit, room_checks
from coldstack.core.matching.grid import charge_cells, drive_column
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.sizing.plan import pick, plan
from coldstack.core.trial.candidates import from_packs, job_candidates
from coldstack.core.trial.ways import owned_path
from tests.core.chain.test_adapters import adapter
from tests.core.charging.gear import bench, charger, four_port, lead
from tests.core.trial.jobs import cell, job, pack, stock


def fit(p, *pieces, **changes):
    """A pack in the test's aeroplane."""
    j = job(**changes)
    return drive_fit(j, job_candidates(j, [p], tuple(pieces)), pack=p, pieces=tuple(pieces))


def mine(**changes):
    """A pack of one's own."""
    return pack(owned=True, **changes)


class LookAlikes(SimpleTestCase):
    def test_the_smaller_of_two_on_a_model_with_the_larger(self):
        """Will not do, and is named a look-alike; what to get or solder is told with its warmth and the
        cautions."""
        found = fit(mine(plug="xt30"))
        self.assertEqual((found.fit.verdict, found.fit.short), ("wont", "look-alike plug"))
        self.assertTrue(found.look_alike)
        self.assertIsNone(found.path)
        self.assertRegex(found.fit.sentence, "^Will not do: XT30 and XT60 do not mate: they look alike")
        self.assertEqual([f.kind for f in found.fixes], ["adapter_to_get", "solder_pack"])
        self.assertRegex(
            found.fixes[0].sentence, r"An XT30 to XT60 adapter.*: \d+ °C\u2060\u2060 over the air"
        )
        self.assertEqual({c.id for c in found.cautions}, {"keep_polarity", "one_wire"})

    def test_balance_wires_in_the_main_plug(self):
        """Nobody is told to cut such a plug off, too warm or not mating: its balance wires are in it."""
        found = fit(mine(plug="integrated"))
        self.assertEqual([f.kind for f in found.fixes], ["adapter_to_get"])
        draw = {"average_a": 90.0, "peak_a": 140.0, "peak_s": 8.0, "peak_every_s": 40.0}
        hot = fit(mine(plug="integrated", capacity_ah=9.0), draw=draw, electronics={"plug": "integrated"})
        plug = next(j for j in hot.joints if j.link == "plug")
        self.assertGreater(plug.loading, 1)
        self.assertEqual(hot.fixes, [])

    def test_one_that_is_yet_to_be_bought(self):
        """It goes with care: one orders it with the right plug."""
        found = fit(pack(plug="ec5"))
        self.assertEqual(found.fit.verdict, "care")
        self.assertIn("EC5 and XT60 do not mate", found.fit.sentence)

    def test_with_an_owned_adapter(self):
        """It plugs in; a peak of 40 A for five seconds warms the small plug, and it says so."""
        found = fit(mine(plug="xt30"), adapter("xt30", "xt60", awg=14))
        self.assertEqual(found.fixes[0].kind, "adapter_owned")
        self.assertIn("The XT30 on the pack stays the weakest link", found.fixes[0].sentence)
        reason = found.fit.reasons[0]
        self.assertEqual(reason.id, "plug.warmth")
        self.assertAlmostEqual(reason.value, next(j for j in found.joints if j.weakest).leading.value)
        self.assertIn("plug", found.fit.sentence)

    def test_a_thin_adapter_becomes_the_weakest_link_and_is_called_so(self):
        """Both plugs could do it; its wire cannot."""
        found = fit(mine(plug="ec5"), adapter("ec5", "xt60", awg=22))
        self.assertIn("It becomes the weakest link of the chain", found.fixes[0].sentence)
        weak = next(j for j in found.joints if j.weakest)
        self.assertTrue(weak.adapter)
        self.assertIn("The adapter is the weakest link", weak.sentence)
        self.assertEqual((found.fit.verdict, found.fit.reasons[0].id), ("wont", "adapter.warmth"))

    def test_a_sound_adapter_fits_with(self):
        """And its resistance is in the run: the wire and the further pair, beyond the pack's own leads."""
        bare, through = fit(mine()), fit(mine(plug="ec5"), adapter("ec5", "xt60", awg=12))
        self.assertEqual((bare.fit.verdict, through.fit.verdict), ("does", "does"))
        more = [float(f.evaluation.candidates.outside_mohm[0]) for f in (bare, through)]
        self.assertAlmostEqual(more[1] - more[0], through.path.extra_mohm)
        self.assertGreater(through.path.extra_mohm, 1.0)
        self.assertEqual(through.fit.sentence, "Does the job with ec5-xt60.")


class TheBlock(SimpleTestCase):
    def test_a_two_pin_block_in_a_35_a_model(self):
        """Over, with the heat at the joint, and relief on both sides."""
        draw = {"average_a": 32.0, "peak_a": 45.0, "peak_s": 8.0, "peak_every_s": 40.0}
        found = fit(mine(plug="block_large"), draw=draw, electronics={"plug": "block_large"})
        block = next(j for j in found.joints if j.link == "plug")
        self.assertTrue(30 < found.rms_a < 42, found.rms_a)
        self.assertAlmostEqual(block.heat_w, found.rms_a**2 * 0.010)
        self.assertEqual(block.continuous.verdict, "over")
        self.assertRegex(block.sentence, r"It turns 1\d W into heat")
        self.assertRegex(block.sentence, "on both sides")
        self.assertEqual([f.kind for f in found.fixes], ["solder_model"])
        self.assertEqual(found.fit.verdict, "wont")


class TheModel(SimpleTestCase):
    def test_too_many_volts_come_before_the_plug(self):
        """An 8S pack with another plug: both are said, the volts first."""
        found = fit(mine(series=8, plug="ec5", mass_g=380.0))
        self.assertRegex(
            found.fit.sentence, r"^Will not do: .*over the controller’s 16\.8 V when full.*; EC5 and XT60"
        )

    def test_wishes_are_no_refusal(self):
        """Short of the wanted minutes it still goes, with care."""
        found = fit(mine(), wants={"minutes": 30.0})
        self.assertEqual(found.fit.verdict, "care")
        self.assertRegex(found.fit.sentence, "^Goes, with care: short by")
        self.assertEqual(found.fit.reasons[0].where, "wants.minutes")

    def test_an_unfit_pack_fits_nothing(self):
        """With what is noted."""
        found = fit(mine(fit=False, note="swollen"))
        self.assertEqual(found.fit.verdict, "wont")
        self.assertIn("marked unfit (swollen)", found.fit.sentence)

    def test_wrong_half(self):
        """A home-made pack with the model's half."""
        found = fit(replace(mine(), plug_half="device"))
        self.assertEqual(found.fit.verdict, "wont")
        self.assertIn("same half of XT60", found.fit.sentence)

    def test_leads_need_room_to_turn(self):
        """135 mm and about 15 mm of lead: in 160 mm it goes, in 150 mm it is tight, which a hatch may
        cure."""
        roomy, tight = fit(pack()), fit(pack(), bay={"length_mm": 150.0})
        verdicts = [{c.id: c.verdict for c in f.checks}["bay.leads"] for f in (roomy, tight)]
        self.assertEqual(verdicts, ["ok", "caution"])
        self.assertEqual(tight.fit.verdict, "does")

    def test_a_pack_that_cannot_deliver_is_no_crash(self):
        """One cell in a 4S model."""
        found = fit(pack(series=1, capacity_ah=0.3, plug="ph_2"))
        self.assertEqual(found.fit.verdict, "wont")

    def test_polarity_is_cautioned_where_the_plug_leaves_it_open(self):
        """Bullets."""
        found = fit(pack(plug="bullet_4"), electronics={"plug": "bullet_4"})
        self.assertRegex(found.polarity[0], "either way")


class TheGrid(SimpleTestCase):
    def setUp(self):
        self.packs = (
            pack("a"),
            pack("b", plug="ec5"),
            pack("c", plug="xt30"),
            pack("d", series=6),
            pack("e", fit=False),
            pack("f", length_mm=200.0),
            pack("g", series=2),
            pack("h", plug="t_plug", capacity_ah=2.0),
            pack("i", chemistry="nimh", series=12),
        )
        self.pieces = (adapter("ec5", "xt60", awg=12), adapter("t_plug", "xt60"))

    def test_each_cell_says_what_the_pair_says_alone(self):
        """Verdict of the grid and of the two chains agree, pack by pack; minutes too where it was run."""
        j = job()
        for p, c in zip(self.packs, drive_column(j, self.packs, self.pieces), strict=True):
            alone = drive_fit(j, job_candidates(j, [p], self.pieces), pack=p, pieces=self.pieces)
            self.assertEqual(c.verdict, alone.fit.verdict, p.name)
            self.assertEqual((c.sentence, c.minutes), (alone.fit.sentence, alone.minutes))
            self.assertTrue(c.short and c.sentence)

    def test_chargers_too(self):
        """Amps and verdict of each cell are those of the pair alone."""
        from coldstack.core.matching.charge import best_feed, charge_fit

        rules, on = house_rules("steady"), bench(*self.pieces, lead("ec5"))
        chargers = [charger(), four_port()]
        rows = charge_cells(self.packs, chargers, rules=rules, trust="cautious", bench=on, supplies=[])
        for p, row in zip(self.packs, rows, strict=True):
            for c, found in zip(chargers, row, strict=True):
                alone = charge_fit(p, c, rules=rules, feed=best_feed(c, []), bench=on)
                self.assertEqual(found.verdict == "does", alone.possible)
                if alone.possible:
                    self.assertEqual(found.current_a, alone.amps.current_a)

    def test_nothing_possible_nothing_run(self):
        """No pack on any charger."""
        rows = charge_cells(
            [pack(chemistry="lifepo4")],
            [charger()],
            rules=house_rules("steady"),
            trust="cautious",
            bench=Bench(),
            supplies=[],
        )
        self.assertEqual(rows[0][0].short, "no LiFePO4")


class Considered(SimpleTestCase):
    def test_a_build_from_cells_can_be_matched(self):
        """Its chemistry, cells and capacity go on the charger; its end is a pack's."""
        j = job(wants={"chemistries": ("liion",), "minutes": 5.0, "mass_g": 900.0})
        s = stock(cells=(cell(),))
        built = next(
            i for i in plan(j, s).evaluation.candidates.ids if i.startswith("cells:") or "build" in i
        )
        row = pick(j, s, [built])
        made = considered_pack(row)
        self.assertEqual((made.chemistry, made.series), ("liion", int(row.series[0])))
        self.assertEqual(made.plug_end, PlugEnd(made.plug, "pack"))
        self.assertIsNone(made.charge_c)


class OneOrSeveral(SimpleTestCase):
    def names(self, **electronics):
        return {x.link: x.name for x in fit(pack(), electronics=electronics).joints}

    def test_controllers_are_named_together_only_where_there_are_several(self):
        """One is called by its name alone."""
        self.assertEqual(self.names()["controller"], "Controller")
        self.assertEqual(self.names(controllers=4)["controller"], "Controller, 4 together")


class Room(SimpleTestCase):
    def ids(self, length_mm, room_mm):
        j, p = job(bay={"length_mm": room_mm}), pack(length_mm=length_mm)
        return [c.id for c in room_checks(j, from_packs([p], j.label_trust), owned_path(j, p.plug_end, ()))]

    def check(self, **changes):
        j, p = job(bay={"length_mm": 150.0}), pack(length_mm=138.0, **changes)
        (found,) = room_checks(j, from_packs([p], j.label_trust), owned_path(j, p.plug_end, ()))
        return found.limit_source

    def test_the_turn_of_the_leads_is_looked_at_where_both_lengths_are_known(self):
        """A bay or a pack that nobody measured says nothing."""
        self.assertEqual(self.ids(138.0, 150.0), ["bay.leads"])
        self.assertIn("turn in 11 mm", self.check(lead_awg=14))
        self.assertIn("turn in 15 mm", self.check(lead_awg=12))
        self.assertEqual((self.ids(138.0, None), self.ids(None, 150.0), self.ids(None, None)), ([], [], []))
