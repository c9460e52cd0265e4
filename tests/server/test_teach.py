"""What a log teaches of a pack, over the API: offered, taken, seen everywhere, taken back."""

from django.core.files.uploadedfile import SimpleUploadedFile

from coldstack.server.gear.models import OwnedPack
from tests.server.case import DemoCase
from tests.server.test_log import DEMO, rows


class Teaching(DemoCase):
    def ask(self, tag="01", raw=None, **fields):
        log = SimpleUploadedFile("flight.csv", DEMO.read_bytes() if raw is None else raw)
        return self.client.post("/api/draw/log/teach", {"log": log, "pack": tag, **fields})

    def keep(self, learnt, tag="01"):
        return self.client.put(
            f"/api/keep/packs/{tag}/learnt", {"learnt": learnt}, content_type="application/json"
        )

    def test_the_demo_flight_tells_its_pack(self):
        """Made with 3.4 mΩ and 3.7 Ah: found within what is said, and nothing is kept by asking."""
        body = self.ask().json()
        learnt = body["learnt"]
        self.assertEqual((body["tag"], learnt["source"], body["typed_mohm"]), ("01", "flight.csv", 3.04))
        self.assertAlmostEqual(learnt["cell_mohm"] / 3.4, 1.0, delta=learnt["resistance_spread"] + 0.03)
        self.assertAlmostEqual(learnt["capacity_ah"] / 3.7, 1.0, delta=learnt["capacity_spread"] + 0.02)
        self.assertIsNone(OwnedPack.live.get(tag="01").learnt)

    def test_taken_it_is_seen_in_size_run_and_keep_and_undone_it_is_gone(self):
        """One act, one undo, and every screen goes by it in between."""
        job = self.client.get("/api/models/ptarmigan").json()["job"]

        def detail():
            body = {"job": job, "ids": ["owned:01"]}
            return self.client.post("/api/sizing/details", body, content_type="application/json").json()[0]

        before = detail()["cell_mohm"]
        learnt = self.ask().json()["learnt"] | {"cell_mohm": 7.7, "source": "flight of Thursday.csv"}
        change = self.keep(learnt).json()
        # it joins what the pack's own readings say, by its smaller error
        taught = detail()
        self.assertEqual(taught["learnt_from"], "flight of Thursday.csv")
        self.assertTrue(1.1 * before < taught["cell_mohm"] < 7.7)
        page = self.client.get("/api/keep/packs/01").json()
        self.assertEqual(page["learnt"]["source"], "flight of Thursday.csv")
        undone = self.client.post(f"/api/gear/changes/{change['id']}/undo")
        self.assertEqual(undone.status_code, 200)
        self.assertEqual(detail()["learnt_from"], "")
        self.assertAlmostEqual(detail()["cell_mohm"], before)
        self.assertIsNone(self.client.get("/api/keep/packs/01").json()["learnt"])

    def test_forgotten_and_undone(self):
        """Null takes it off; undoing brings it back."""
        learnt = self.ask().json()["learnt"]
        self.keep(learnt)
        change = self.keep(None).json()
        self.assertIsNone(OwnedPack.live.get(tag="01").learnt)
        self.client.post(f"/api/gear/changes/{change['id']}/undo")
        self.assertEqual(OwnedPack.live.get(tag="01").learnt["source"], "flight.csv")

    def test_refusals_name_their_field(self):
        """No such pack, another pack's log, a log whose columns are not known, air that is none, figures
        that cannot be."""
        odd = rows("Foo,Bar,Baz")
        for reply, field in (
            (self.ask("99"), "pack"),
            (self.ask("20"), "log"),
            (self.ask(raw=odd), "log"),
            (self.ask(air_c="900"), "air_c"),
            (
                self.keep({"source": "x", "cell_mohm": -1.0, "resistance_spread": 0.1}),
                "cell_mohm",
            ),
            (self.keep(None, tag="99"), "pack"),
        ):
            self.assertEqual(reply.status_code, 422, reply.content)
            self.assertEqual(reply.json()["errors"][0]["field"], field)
