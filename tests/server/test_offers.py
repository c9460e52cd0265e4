"""Offers pasted from shops, bought and thrown out; figures that nobody gave; twins; several at once; the
lead a charger needs."""

import json

from coldstack.core.labels.offers import read_offers
from coldstack.server.gear.models import CataloguePack, Change, OwnedPack
from tests.server.test_gear import CHARGER, PACK, GearCase

PASTED = """\
Brackwater 4S 2200mAh 45C XT60 189 g 24,90 €
- Hollin 3S 2200 35C – 19.95 €
* Fellside 5S 3900mAh 40C/80C charge 3C XT90 520g €61.50
Tarnlight 6S 5000 60C 720 g 79.00 EUR
1) Firn 4S 1300mAh 100C XT60H 155g $21.40
Graupel 4S HV 1550 95C 172 g 26,80 €
Skarn 2S 7600 mAh 100C hard case 4mm bullets 298 g £38
Brackwater Li-ion 4S1P 14.4V 3500mAh 10A 205 g 33.00 €
Hollin 3S2P 4400 25C 330 g 41.10 €
Fellside LiFePO4 2S 6.6V 2100mAh 20C 130g 18 €
Tarnlight 8S 4500 mAh 45C EC5 890 g 120,00 €
Hollin 4S 3700mAh 25C XT60 309 g 39.00 €
"""


class Reading(GearCase):
    def test_twelve_lines_are_twelve_packs_with_prices(self):
        """Marks of lists, currencies, decimal commas; what is not said is assumed in sight."""
        lines = self.post("/api/offers/read", {"text": PASTED}).json()
        self.assertEqual(len(lines), 12)
        self.assertTrue(all(x["pack"] and x["pack"]["price"] for x in lines))
        second = lines[1]["pack"]
        self.assertEqual(
            (second["name"], second["series"], second["capacity_ah"], second["price"]),
            ("Hollin 3S 2200 35C", 3, 2.2, 19.95),
        )
        self.assertEqual(set(second["assumed"]), {"plug", "lead_awg", "mass_g"})
        self.assertEqual(set(lines[0]["pack"]["assumed"]), {"lead_awg"})
        self.assertEqual(lines[7]["pack"]["chemistry"], "liion")

    def test_a_line_that_is_no_pack_says_what_is_missing(self):
        """It is shown, and not taken."""
        lines = self.post(
            "/api/offers/read", {"text": "Free shipping from 50 €\n\n4S only\n2200mAh 35C\n"}
        ).json()
        self.assertEqual([x["pack"] for x in lines], [None, None, None])
        self.assertIn("no capacity", lines[0]["lacking"])
        self.assertEqual([x["line"] for x in lines], [1, 3, 4])

    def test_long_pastes_are_cut(self):
        """Two hundred lines at most."""
        self.assertEqual(len(read_offers("4S 2200 35C\n" * 300)), 200)


class Taking(GearCase):
    def take(self, packs):
        reply = self.post("/api/offers", {"packs": packs})
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return reply.json()

    def read(self, text=PASTED):
        return [x["pack"] for x in self.post("/api/offers/read", {"text": text}).json()]

    def test_offers_are_candidates_beside_the_owned_ones(self):
        """Twelve in one step; they stand in the field and in a list of their own, with their prices; one
        step takes them back."""
        taken = self.take(self.read())
        self.assertEqual((taken["added"], taken["change"]["label"]), (12, "Added 12 offers"))
        plan = self.plan()
        offered = [
            n
            for n, kind in zip(plan["field"]["names"], plan["field"]["kinds"], strict=True)
            if kind == "on offer"
        ]
        self.assertIn("Hollin 4S 3700 25C", offered)
        self.assertEqual(len(offered) + plan["offers_left_out"], 12)
        listed = {row["name"]: row["price"] for row in plan["offers"]}
        self.assertEqual(set(listed), set(offered))
        self.assertEqual(listed["Hollin 4S 3700 25C"], 39.0)
        lacking = [bool(row["lacks"]) for row in plan["offers"]]
        self.assertEqual(lacking, sorted(lacking))
        self.undo(taken["change"])
        self.assertEqual(self.plan()["offers"], [])

    def test_said_twice_is_taken_once(self):
        """The same paste again adds nothing, nor a line that is there twice."""
        self.take(self.read())
        again = self.take(self.read())
        self.assertEqual((again["added"], again["change"]), (0, None))
        self.assertEqual(self.take(self.read("9S 900 20C 9 €\n9S 900 20C 9 €"))["added"], 1)

    def test_one_is_bought_and_the_rest_thrown_out_with_undo(self):
        """It is owned under the next tag, at once a candidate as such; the offer is gone; each step can
        be undone."""
        self.take(self.read())
        offer = CataloguePack.live.get(name="Hollin 4S 3700 25C", offer=True)
        bought = self.client.post(
            f"/api/gear/catalogue/{offer.pk}/buy", json.dumps({}), content_type="application/json"
        ).json()
        self.assertEqual((bought["tag"], bought["change"]["label"]), ("25", "Bought 25 Hollin 4S 3700 25C"))
        pack = OwnedPack.live.get(tag="25")
        self.assertEqual((pack.price, pack.mass_g, pack.fit), (39.0, 309.0, True))
        self.assertFalse(CataloguePack.live.filter(pk=offer.pk).exists())
        self.assertIn("owned:25", self.plan()["field"]["ids"])
        rest = list(CataloguePack.live.filter(offer=True).values_list("pk", flat=True))
        gone = self.post("/api/gear/catalogue/remove", {"ids": rest}).json()
        self.assertEqual(gone["change"]["label"], "Deleted 11 catalogue packs")
        self.assertEqual(CataloguePack.live.filter(offer=True).count(), 0)
        self.assertEqual(self.undo(gone["change"]).status_code, 200)
        self.assertEqual(CataloguePack.live.filter(offer=True).count(), 11)
        self.assertEqual(self.undo(bought["change"]).status_code, 200)
        self.assertFalse(OwnedPack.live.filter(tag="25").exists())
        self.assertEqual(CataloguePack.live.filter(offer=True).count(), 12)

    def test_a_catalogue_pack_that_is_bought_can_be_bought_again(self):
        """Only an offer goes; a tag that is taken is refused at its field."""
        pk = CataloguePack.live.first().pk
        self.assertEqual(self.post(f"/api/gear/catalogue/{pk}/buy", {"tag": "A1"}).json()["tag"], "A1")
        self.assertTrue(CataloguePack.live.filter(pk=pk).exists())
        self.assert_problem(
            self.post(f"/api/gear/catalogue/{pk}/buy", {"tag": "A1"}), 422, "tag", "Another pack is “A1”"
        )
        self.assert_problem(self.post("/api/gear/catalogue/99999/buy", {}), 404)

    def test_offers_that_cannot_be_are_refused_whole(self):
        """Each field is named, nothing is stored."""
        before = Change.objects.count()
        good = {"name": "A", "chemistry": "lipo", "series": 4, "capacity_ah": 2.2}
        reply = self.post("/api/offers", {"packs": [good, {**good, "capacity_ah": 900, "price": -1}]})
        self.assertEqual({e["field"] for e in reply.json()["errors"]}, {"capacity_ah", "price"})
        self.assert_problem(self.post("/api/offers", {"packs": []}), 422, "packs")
        self.assertEqual((Change.objects.count(), CataloguePack.live.filter(offer=True).count()), (before, 0))


class NotGiven(GearCase):
    def test_a_pack_without_its_mass(self):
        """Typical, and named as assumed; once it is weighed it is not."""
        row = self.add("packs", PACK | {"mass_g": None})["row"]
        self.assertIn("mass_g", row["assumed"])
        self.assertTrue(120 < row["mass_g"] < 220)
        part = json.dumps({"mass_g": 181})
        kept = self.client.patch(
            f"/api/gear/packs/{row['id']}", part, content_type="application/json"
        ).json()["row"]
        self.assertEqual((kept["mass_g"], "mass_g" in kept["assumed"]), (181, False))

    def test_a_charger_without_its_watts_asks_where_they_set_the_amps(self):
        """50 W a port on the mains, said so in the match, with where to read it."""
        row = self.add(
            "chargers", {"name": "Odd one", "chemistries": ["lipo"], "series_max": 6, "port_a": 20}
        )["row"]
        self.assertEqual((row["port_w"], row["mains_w"], row["assumed"]), (50, 50, ["port_w", "mains_w"]))
        match = self.post(
            "/api/match", {"job": self.job(), "pack": "owned:01", "charge": {"charger": str(row["id"])}}
        ).json()
        asked = " ".join(match["charge"]["questions"])
        self.assertIn("Odd one is taken to give 50 W a port. The charger’s plate or manual says", asked)
        self.assertIn("assumed", json.dumps(match["charge"]))

    def test_a_lead_without_its_gauge_asks_and_refuses_nothing(self):
        """In the drive chain it may be over its assumed limit, and is a question then."""
        row = self.add("pieces", {"name": "Old adapter", "pack_plug": "xt90", "device_plug": "xt60"})["row"]
        self.assertEqual(row["assumed"], ["awg"])
        self.assertGreaterEqual(row["awg"], 16)


class SeveralAndTwins(GearCase):
    def test_several_are_deleted_in_one_step(self):
        """And come back in one; those that went meanwhile are passed over; none at all is said."""
        pks = list(OwnedPack.live.values_list("pk", flat=True)[:3])
        gone = self.post("/api/gear/packs/remove", {"ids": pks}).json()
        self.assertEqual(gone["change"]["label"], "Deleted 3 packs")
        self.assertEqual(OwnedPack.live.filter(pk__in=pks).count(), 0)
        self.assert_problem(self.post("/api/gear/packs/remove", {"ids": pks}), 422, "ids", "None of these")
        self.undo(gone["change"])
        self.assertEqual(OwnedPack.live.filter(pk__in=pks).count(), 3)

    def test_a_twin_shares_the_label_and_not_what_was_measured(self):
        """Tag, resistance, note and fitness are its own."""
        pack = OwnedPack.live.exclude(cell_mohm=None).first()
        twin = self.client.get(f"/api/gear/packs/{pack.pk}/twin").json()
        row = twin["row"]
        self.assertEqual(
            (row["name"], row["capacity_ah"], row["label_c"]), (pack.name, pack.capacity_ah, pack.label_c)
        )
        self.assertEqual((row["cell_mohm"], row["note"], row["fit"]), (None, "", True))
        self.assertEqual(row["tag"], "25")
        self.assertEqual(twin["asked"], ["tag", "cell_mohm", "fit", "unknown_past", "note"])
        self.assertEqual(OwnedPack.live.count(), 26)

    def test_a_new_charger_is_offered_its_lead(self):
        """From its output to the plug that most packs carry; once it is there, none."""
        row = self.add("chargers", {**CHARGER, "output_plug": "ec5"})["row"]
        lead = self.client.get(f"/api/gear/chargers/{row['id']}/lead").json()
        self.assertIn("Nothing joins Bench two to your packs yet", lead["sentence"])
        self.assertEqual(
            (lead["row"]["kind"], lead["row"]["device_plug"], lead["row"]["device_half"]),
            ("lead", "ec5", "pack"),
        )
        self.assertIsNone(lead["row"]["awg"])
        while lead["row"]:  # a lead for each plug in the box
            self.add("pieces", {k: v for k, v in lead["row"].items() if k != "assumed"})
            lead = self.client.get(f"/api/gear/chargers/{row['id']}/lead").json()
        self.assertEqual(lead["sentence"], "")


class NotMeasured(GearCase):
    def test_a_pack_of_unknown_size_asks_where_the_bay_is_measured(self):
        """In Size and in Match, with how to measure it; not where there is no bay to fit, nor of a
        measured pack."""
        self.add("packs", {**PACK, "tag": "90", "series": 4})
        for size, asked in ((140, True), (None, False)):
            job = self.job("ptarmigan")
            job["bay"] |= {"length_mm": size, "width_mm": None, "height_mm": None}
            detail = self.post("/api/sizing/details", {"job": job, "ids": ["owned:90", "owned:01"]}).json()
            match = self.post("/api/match", {"job": job, "pack": "owned:90"}).json()
            for questions in (detail[0]["questions"], match["drive"]["questions"]):
                self.assertEqual(bool(questions), asked)
                if asked:
                    self.assertIn("How large is Hollin 3S 2200 35C? Measure it with a rule", questions[0])
            self.assertEqual(detail[1]["questions"], [])
