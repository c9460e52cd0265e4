"""What a model runs on now, put into the box; and a household that has no cell checker."""

import json
import uuid
from datetime import timedelta

from django.utils import timezone

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.lives import events
from tests.server.case import DemoCase

QUAD = {
    "name": "Siskin",
    "kind": "multirotor",
    "mass_g": 410,
    "now": {"series": 4, "capacity_ah": 1.3, "label_c": 75},
    "usage": {"minutes": 4.5},
}
BOAT = {
    "name": "Dabchick",
    "kind": "boat",
    "mass_g": 1900,
    "now": {"joined": "series", "chemistry": "nimh", "series": 6, "capacity_ah": 3.0},
}
CHARGER = {
    "name": "Bench 80",
    "chemistries": ["lipo", "nimh"],
    "series_max": 6,
    "nimh_cells_max": 8,
    "port_a": 6,
    "port_w": 80,
    "mains_w": 80,
    "balance_families": ["xh"],
    "output_plug": "xt60",
}


class EmptyCase(DemoCase):
    """An empty program of one's own."""

    @classmethod
    def setUpTestData(cls):
        """Nothing."""

    def made(self, answers=QUAD, **have):
        reply = self.post("/api/new-model", {"answers": answers, "have": have})
        self.assertEqual(reply.status_code, 200, reply.content)
        return reply.json()

    def put(self, path, body):
        return self.client.put(path, json.dumps(body), content_type="application/json")

    def runs_on(self, slug="siskin"):
        return self.client.get(f"/api/models/{slug}/runs-on").json()


class WithTheModel(EmptyCase):
    def test_packs_come_with_it(self):
        """Two of them, spent: tagged, linked, with what nobody told taken as usual; one step to undo."""
        made = self.made(count=2, state="spent")
        self.assertEqual((made["tags"], made["pick"]), (["01", "02"], "owned:01"))
        self.assertEqual(made["change"]["label"], "Added model Siskin, with packs 01 and 02")
        pack = OwnedPack.live.get(tag="02")
        self.assertEqual((pack.name, pack.series, pack.capacity_ah), ("4S 1300 mAh LiPo", 4, 1.3))
        self.assertEqual(set(pack.assumed), {"mass_g", "plug", "lead_awg"})
        self.assertEqual(RcModel.live.get(slug="siskin").job["now"]["pack"], "owned:01")
        self.assertEqual([e.state for e in events("01")], ["spent"])
        (line,) = [p for p in self.client.get("/api/run/packs?model=siskin").json() if p["tag"] == "01"]
        self.assertTrue(line["runs"], line)
        self.post(f"/api/gear/changes/{made['change']['id']}/undo", {})
        self.assertEqual((OwnedPack.live.count(), RcModel.live.count()), (0, 0))

    def test_what_it_runs_on_runs_it(self):
        """A buggy on NiMH of which nobody knows what it resists: the one in the box does what was told of it,
        in Size and in Run, and has no C that nobody printed."""
        buggy = {
            "name": "Dunlin",
            "kind": "car",
            "mass_g": 1500,
            "now": {"chemistry": "nimh", "series": 6, "capacity_ah": 3.0},
            "usage": {"minutes": 12},
        }
        made = self.made(buggy, count=1, state="full")
        self.assertEqual(OwnedPack.live.get().label_c, None)
        plan = self.post("/api/sizing/plan", {"job": RcModel.live.get().job}).json()
        (its,) = [r for r in (*plan["shortlist"], *plan["misses"]) if r["runs_on_it"]]
        self.assertEqual(its["id"], "owned:01")
        self.assertAlmostEqual(its["minutes"], 12, delta=0.2)
        go = self.post("/api/run/go", {"model": made["slug"], "pack": "01", "cells": "8.5"}).json()
        self.assertNotIn("stops", [r["id"] for r in go["reasons"]])
        self.assertNotEqual(go["verdict"], "no_go")

    def test_none_are_here(self):
        """The model alone; its pack of now is picked, and Match shows that one in an empty box."""
        made = self.made()
        self.assertEqual((made["tags"], made["pick"]), ([], "now"))
        job = RcModel.live.get(slug="siskin").job
        found = self.post("/api/match", {"job": job}).json()
        self.assertEqual((found["pack"]["id"], found["pack"]["series"]), ("now", 4))
        self.assertEqual(self.runs_on()["tag"], None)

    def test_two_in_series(self):
        """Counted singly: each has half the cells."""
        made = self.made(BOAT, count=2, state="full")
        self.assertEqual({p.series for p in OwnedPack.live.all()}, {6})
        self.assertEqual(RcModel.live.get(slug=made["slug"]).job["now"]["pack"], "")

    def test_nothing_by_halves(self):
        """What is missing is told at its question; no pack is left behind."""
        reply = self.post("/api/new-model", {"answers": {**QUAD, "mass_g": None}, "have": {"count": 3}})
        self.assert_problem(reply, 422, "mass_g")
        self.assert_problem(self.post("/api/new-model", {"answers": QUAD, "have": {"count": 21}}), 422)
        self.assertEqual(OwnedPack.objects.count(), 0)


class Later(EmptyCase):
    def test_put_in_afterwards(self):
        """From an empty page; nobody can be put in by none, and not what nobody told."""
        self.made()
        self.assert_problem(self.post("/api/models/siskin/runs-on", {"count": 0}), 422, "count")
        put = self.post("/api/models/siskin/runs-on", {"count": 1, "state": "full"}).json()
        self.assertEqual(put["tags"], ["01"])
        self.assertEqual(self.runs_on()["tag"], "01")
        self.post(f"/api/gear/changes/{put['change']['id']}/undo", {})
        self.assertEqual((OwnedPack.live.count(), self.runs_on()["tag"]), (0, None))
        job = {**RcModel.live.get(slug="siskin").job, "now": None}
        self.put("/api/models/siskin/job", job)
        self.assert_problem(self.post("/api/models/siskin/runs-on", {"count": 1}), 422, "now")

    def test_one_that_looks_like_it_is_asked_about(self):
        """By its label; not one of other cells, capacity or C; linked by a word, and let go by another."""
        self.made()
        pack = {"name": "Blue one", "chemistry": "lipo", "series": 4, "capacity_ah": 1.3, "mass_g": 160}
        for tag, part in (
            ("A1", {}),
            ("A2", {"series": 3}),
            ("A3", {"capacity_ah": 1.55}),
            ("A4", {"label_c": 45}),
            ("A5", {"chemistry": "lihv"}),
        ):
            self.post("/api/gear/packs", {**pack, "tag": tag, **part})
            asked = self.client.get("/api/models-on", {"pack": f"owned:{tag}"}).json()
            self.assertEqual([m["slug"] for m in asked], ["siskin"] if tag == "A1" else [], tag)
        self.assertEqual([a["tag"] for a in self.runs_on()["alike"]], ["A1"])
        self.put("/api/models/siskin/runs-on", {"pack": "owned:A1"})
        self.assertEqual(self.runs_on()["tag"], "A1")
        self.assertEqual(self.client.get("/api/models-on", {"pack": "owned:A1"}).json(), [])
        self.put("/api/models/siskin/runs-on", {"pack": ""})
        self.assertEqual(self.runs_on()["tag"], None)
        self.assert_problem(self.put("/api/models/siskin/runs-on", {"pack": "owned:Z9"}), 422, "pack")

    def test_a_tag_given_to_another_pack(self):
        """The link goes with the pack: another one under its tag is not what it runs on."""
        made = self.made(count=1)
        self.client.delete(f"/api/gear/packs/{OwnedPack.live.get(tag='01').pk}")
        self.post(
            "/api/gear/packs",
            {"tag": "01", "name": "Other", "chemistry": "lipo", "series": 6, "capacity_ah": 5, "mass_g": 700},
        )
        self.assertEqual(self.runs_on(made["slug"])["tag"], None)
        plan = self.post("/api/sizing/plan", {"job": RcModel.live.get(slug="siskin").job}).json()
        self.assertFalse(
            [r for r in (*plan["shortlist"], *plan["misses"]) if r["id"] == "owned:01" and r["runs_on_it"]]
        )


class NoChecker(EmptyCase):
    """A multimeter, and no more."""

    def setUp(self):
        super().setUp()
        self.made(count=1, state="spent")
        self.post("/api/gear/chargers", CHARGER)

    def bench(self, cells, pack="owned:01"):
        return {"laid": [{"pack": pack, "cells": cells}]}

    def planned(self, cells):
        return self.post("/api/bench/plan", self.bench(cells)).json()

    def now(self, tag="01"):
        return self.client.get(f"/api/keep/packs/{tag}").json()["line"]

    def test_a_round(self):
        """Read as a whole, charged by hand, run, logged by pack volts, to storage: no dead end."""
        self.post("/api/keep/packs/01/looks", {"at_room": True})
        plan = self.planned("14,8 V")
        (laid,) = plan["laid"]
        self.assertEqual((laid["cell_v"], laid["pack_v"], laid["outcome"]), ([], 14.8, "pass"))
        self.assertEqual(laid["spread_v"], None)
        (slot,) = plan["slots"]
        self.assertLessEqual(slot["current_a"], 0.5 * 1.3)
        self.assertIn("not read one by one", slot["binding"])
        charged = self.post("/api/keep/charged", {"packs": ["01"], "key": "press-0000001", "put_in_mah": 900})
        self.assertEqual(charged.json()["label"], "01: charged full")
        self.post("/api/keep/charged", {"packs": ["01"], "key": "press-0000001", "put_in_mah": 900})
        self.assertEqual(len(events("01", kind="charge")), 1)
        self.assertEqual(self.now()["charge"], "full")
        self.assertEqual(self.planned("")["headline"], "01 is full.")
        go = self.post("/api/run/go", {"model": "siskin", "pack": "01", "cells": "16.7"}).json()
        self.assertEqual((go["verdict"], go["pack_v"], go["cells"]), ("careful", 16.7, []))
        run = {
            "key": str(uuid.uuid4()),
            "model": "siskin",
            "pack": "01",
            "at": (timezone.now() + timedelta(seconds=1)).isoformat(),
            "minutes": 4,
            "cells": "16.7",
            "landed": "15,1",
        }
        self.assertEqual(self.post("/api/runs", run).status_code, 200)
        (kept,) = events("01", kind="run")
        self.assertAlmostEqual(kept.landing_cell_v, 15.1 / 4)
        self.assertEqual((kept.pack_v, kept.cell_v), (16.7, None))
        ways = self.client.get("/api/keep/packs/01/to-storage", {"cells": "16,4", "model": "siskin"}).json()
        self.assertIn("as read", ways["reckoned"])
        self.assertIn("run it in Siskin", ways["run_down"])

    def test_never_with_others(self):
        """Two packs read as a whole are not joined on a board, and no curve of cells is made up of them."""
        self.post("/api/models/siskin/runs-on", {"count": 1, "state": "spent"})
        for tag in ("01", "02"):
            self.post(f"/api/keep/packs/{tag}/looks", {"at_room": True})
        self.post(
            "/api/gear/pieces",
            {
                "name": "Board",
                "kind": "board",
                "pack_plug": "xt60",
                "device_plug": "xt60",
                "sockets": 4,
                "balance_from": ["xh"],
                "balance_out": "xh",
                "balance_cells": 6,
            },
        )
        laid = [{"pack": f"owned:{tag}", "cells": "14.8"} for tag in ("01", "02")]
        plan = self.post("/api/bench/plan", {"laid": laid}).json()
        self.assertEqual([len(b["packs"]) for b in plan["batches"]], [1, 1])
        both = {"bench": {"laid": laid}, "packs": ["owned:01", "owned:02"]}
        reasons = self.post("/api/bench/sharing", both).json()["reasons"]
        self.assertIn("were not read one by one", reasons[0]["sentence"])
        curves = self.post("/api/bench/curves", {"bench": {"laid": laid}, "pack": "owned:01"})
        self.assert_problem(curves, 422, "pack", "not read one by one")

    def test_just_off_the_charger(self):
        """Nothing to read with: as it was noted, with care; without even that it must be read."""
        asked = {"model": "siskin", "pack": "01", "cells": ""}
        self.post("/api/keep/left", {"packs": ["01"], "state": "full"})
        go = self.post("/api/run/go", asked).json()
        self.assertEqual((go["noted"], go["verdict"]), ("full", "careful"))
        self.assertIn("Nobody read it", " ".join(r["sentence"] for r in go["reasons"]))
        self.post("/api/keep/left", {"packs": ["01"], "state": "part"})
        self.assert_problem(self.post("/api/run/go", asked), 422, "cell_v", "0 readings")

    def test_landing_volts(self):
        """One cell's, each cell's, the whole pack's: the same landing; nonsense is told at its field."""
        landed = []
        for text in ("3.78", "378", "3.78 3.79 3.77 3.78", "15,12", "1512", "3.78 7.57 11.34 15.12"):
            run = {"key": str(uuid.uuid4()), "model": "siskin", "pack": "01", "minutes": 4, "landed": text}
            reply = self.post("/api/runs", {**run, "at": timezone.now().isoformat()})
            landed.append(round(reply.json()["landing_cell_v"], 3))
        self.assertEqual(set(landed), {3.78})
        bad = {"key": str(uuid.uuid4()), "model": "siskin", "pack": "01", "minutes": 4, "landed": "low"}
        self.assert_problem(
            self.post("/api/runs", {**bad, "at": timezone.now().isoformat()}), 422, "landed", "“low”"
        )

    def test_charged_by_hand_is_refused(self):
        """Packs that are not there; mAh of several together; nothing is noted then."""
        self.assert_problem(self.post("/api/keep/charged", {"packs": ["01", "77"]}), 422, "packs")
        self.post("/api/models/siskin/runs-on", {"count": 1})
        both = {"packs": ["01", "02"], "put_in_mah": 500}
        self.assert_problem(self.post("/api/keep/charged", both), 422, "put_in_mah")
        self.assertEqual(events("01", kind="charge"), [])

    def test_in_files(self):
        """A whole pack's volts go out with the log and come back; more than its cells have does not."""
        self.post("/api/keep/packs/01/checks", {"cells": "15.2"})
        self.assertIn("Read: 15.20 V, the whole pack.", json.dumps(self.life(), ensure_ascii=False))
        log = json.loads(self.client.get("/api/keep/log.json").getvalue())
        self.assertEqual([e.get("pack_v") for e in log["packs"][0]["events"]], [None, 15.2])
        self.assertIn("15.2", self.client.get("/api/keep/life.csv").getvalue().decode())
        log["packs"][0]["events"][1] |= {"pack_v": 25.2, "key": "another-key-01"}
        self.assert_problem(self.take_in(log), 422, "file", "do not read 25.2 V")

    def life(self):
        return self.client.get("/api/keep/packs/01").json()

    def take_in(self, log):
        from django.core.files.uploadedfile import SimpleUploadedFile

        data = SimpleUploadedFile("log.json", json.dumps(log).encode())
        return self.client.post("/api/keep/log", {"file": data, "store": True})


class FleetOfTheDemo(DemoCase):
    def test_nimh_by_its_volts(self):
        """8.4 V of seven cells: charged and run like any other; no word of cells that nobody can read."""
        packs = [p for p in OwnedPack.live.all() if p.chemistry == "nimh"]
        self.assertTrue(packs)
        pack = packs[0]
        whole = f"{pack.series * 1.2:.1f}".replace(".", ",")
        laid = self.post("/api/bench/plan", {"laid": [{"pack": f"owned:{pack.tag}", "cells": whole}]}).json()
        (line,) = laid["laid"]
        self.assertEqual(line["problem"], "")
        self.assertNotIn("cells_unknown", [f["id"] for f in line["findings"]])


class AskedBack(EmptyCase):
    def test_a_slip_holds_the_model_up(self):
        """4100 g for 410: asked with what was meant; refused while nobody answers; kept once it is so."""
        slipped = {**QUAD, "mass_g": 4100}
        (asked,) = self.post("/api/describe-model", slipped).json()["questions"]
        self.assertEqual((asked["field"], asked["meant"]), ("mass_g", 410))
        reply = self.post("/api/new-model", {"answers": slipped, "have": {"count": 1}})
        self.assert_problem(reply, 422, "mass_g", "Did you mean 410")
        self.assertEqual(OwnedPack.objects.count(), 0)
        self.made({**slipped, "sure": ["mass_g"]}, count=1)
        self.assertEqual(RcModel.live.get().job["mass_g"], 4100)

    def test_figures_that_cannot_be(self):
        """Below nothing, beyond everything: refused at each question, never a fault of the program."""
        for part in (
            {"mass_g": -5},
            {"mass_g": "\ud800"},
            {"mass_g": 1e300},
            {"now": {"series": 4, "capacity_ah": -1.3}},
            {"now": {"series": 4, "capacity_ah": 1.3, "label_c": -75}},
            {"usage": {"minutes": -4.5}},
            {"usage": {"average_a": 1e300}},
            {"limits": {"motor_kv": -1}},
            {"goals": {"minutes": -1, "mass_g": -2}},
        ):
            reply = self.post("/api/describe-model", {**QUAD, **part})
            self.assertEqual(reply.status_code, 422, (part, reply.content[:200]))
        for row in ({"mass_g": -1}, {"series": 0}, {"capacity_ah": "x"}, {"capacity_ah": 1e300}, {}):
            asked = {"kind": "packs", "row": {"name": "x", "chemistry": "lipo", **row}}
            self.assertEqual(self.post("/api/gear/questions", asked).json(), [])

    def test_a_slip_that_cannot_be(self):
        """An average above the peak: refused where the slip was made, with what was meant."""
        slipped = {**QUAD, "usage": {"average_a": 140, "peak_a": 80}}
        reply = self.post("/api/describe-model", slipped)
        self.assert_problem(reply, 422, "usage.average_a", "Did you mean 14 A")
        asked = self.post("/api/describe-model", {**QUAD, "usage": {"minutes": 0.55}}).json()["questions"]
        self.assertEqual([(q["field"], q["meant"]) for q in asked], [("usage.minutes", 5.5)])

    def test_gear_as_it_is_typed(self):
        """Every kind that has figures; what cannot be kept yet, or has none, is not asked."""
        pack = {"name": "Blue", "chemistry": "lipo", "series": 4, "capacity_ah": 1.3, "mass_g": 1550}
        for kind, row, field, meant in (
            ("packs", pack, "mass_g", 155),
            ("catalogue", {**pack, "mass_g": 15.5}, "mass_g", 155),
            ("chargers", {**CHARGER, "port_w": 800, "mains_w": 80}, "port_w", 80),
            ("supplies", {"name": "Brick", "voltage_v": 2, "power_w": 240}, "voltage_v", None),
        ):
            found = self.post("/api/gear/questions", {"kind": kind, "row": row}).json()
            wanted = [] if meant is None else [(field, meant)]
            self.assertEqual([(q["field"], q["meant"]) for q in found], wanted, kind)
        sure = self.post("/api/gear/questions", {"kind": "packs", "row": pack, "sure": ["mass_g"]})
        self.assertEqual(sure.json(), [])
        self.assertEqual(self.post("/api/gear/questions", {"kind": "models", "row": {}}).json(), [])
        self.assert_problem(self.post("/api/gear/questions", {"kind": "boats", "row": {}}), 422, "kind")

    def test_a_charge_beyond_what_it_holds(self):
        """Kept and flagged in its life; its capacity is not believed."""
        self.made(count=1)
        self.post("/api/keep/packs/01/checks", {"cells": "14.8", "put_in_mah": 9000})
        page = self.client.get("/api/keep/packs/01").json()
        self.assertIn("More than the pack can hold", page["life"][0]["flag"])
        self.assertEqual(page["capacity"]["cells"], [[]] if page["capacity"]["cells"] else [])


class TwoInSeries(EmptyCase):
    def setUp(self):
        super().setUp()
        self.slug = self.made(BOAT, count=2, state="full")["slug"]

    def packs(self):
        return self.client.get("/api/run/packs", {"model": self.slug}).json()

    def go(self, cells="", pack="01+02"):
        return self.post("/api/run/go", {"model": self.slug, "pack": pack, "cells": cells})

    def log(self, **more):
        run = {"key": str(uuid.uuid4()), "model": self.slug, "pack": "01+02", "minutes": 15}
        return self.post("/api/runs", {**run, "at": timezone.now().isoformat(), **more})

    def test_listed_and_judged_as_one(self):
        """First in the list; read as two, go by both; the alarm is that of twelve cells."""
        first = self.packs()[0]
        self.assertEqual((first["tag"], first["pair"], first["series"]), ("01+02", ["01", "02"], 12))
        go = self.go("8.5 + 8.4").json()
        self.assertNotEqual(go["verdict"], "no_go", go["reasons"])
        self.assertAlmostEqual(go["alarm_v"], 12 * go["alarm_cell_v"])
        self.assertEqual((go["pack"]["tag"], round(go["pack_v"], 1)), ("01+02", 16.9))
        self.assertEqual(self.go().json()["noted"], "full")

    def test_only_packs_alike_are_logged_as_one(self):
        """Neither with other cells nor with itself, and nothing of it is kept."""
        small = {"tag": "03", "name": "Small", "chemistry": "lipo", "series": 2, "capacity_ah": 2.2}
        self.post("/api/gear/packs", small)
        for pair, words in (("01+03", "have other cells"), ("01+01", "with itself")):
            refused = self.log(pack=pair)
            self.assertEqual(refused.status_code, 422, pair)
            self.assertIn(words, refused.json()["errors"][0]["message"])
            self.assertEqual([events(t, kind="run") for t in ("01", "03")], [[], []])

    def test_logged_as_two_runs_of_one(self):
        """Each has it in its life and is spent; the list has it once; taken away and back together."""
        made = self.log(landed="7.4 + 7.3", put_back_mah=2000).json()
        self.assertEqual(made["pack"], "01+02")
        landed = [round(events(t, kind="run")[0].landing_cell_v, 3) for t in ("01", "02")]
        self.assertEqual(landed, [1.233, 1.217])
        told = self.client.get("/api/runs", {"model": self.slug}).json()["runs"]
        self.assertEqual([r["pack"] for r in told], ["01+02"])
        for tag in ("01", "02"):
            self.assertEqual(self.client.get(f"/api/keep/packs/{tag}").json()["run_count"], 1)
        self.client.delete(f"/api/runs/{made['key']}")
        self.assertEqual([events(t, kind="run") for t in ("01", "02")], [[], []])
        self.client.post(f"/api/runs/{made['key']}/back")
        better = self.post(f"/api/runs/{events('01', kind='run')[0].pk}/mended", {"minutes": 14}).json()
        self.assertEqual((better["minutes"], events("02", kind="run")[0].minutes), (14, 14))

    def test_each_is_charged_and_kept_alone(self):
        """Cooling together after the run; each laid out, read and charged by itself."""
        self.log()
        self.assertEqual(self.packs()[0]["state"], "cooling")
        self.assertEqual(self.go("8.5 + 8.4").json()["verdict"], "no_go")
        self.post("/api/keep/charged", {"packs": ["02"]})
        self.assertEqual(self.client.get("/api/keep/packs/02").json()["line"]["charge"], "full")
        self.assertEqual(self.client.get("/api/keep/packs/01").json()["line"]["charge"], "spent")

    def test_what_cannot_be(self):
        """A pack that is not there, the same twice, other cells; a tag with a plus in it is one pack."""
        self.assert_problem(self.go("8.4 + 8.4", "01+09"), 422, "pack", "no pack 09")
        self.assert_problem(self.go("8.4 + 8.4", "01+01"), 422, "pack", "with itself")
        odd = {"tag": "A+B", "name": "Odd", "chemistry": "nimh", "series": 7, "capacity_ah": 3, "mass_g": 400}
        self.post("/api/gear/packs", odd)
        self.assertEqual(self.go("9.8", "A+B").json()["pack"]["tag"], "A+B")
        self.assert_problem(self.log(pack="01+09"), 422, "pack")
        self.assert_problem(self.log(landed="7.4 + low"), 422, "landed", "“low”")


class SmallChargers(EmptyCase):
    def test_by_the_balance_plug_alone(self):
        """Added from its sheet; no lead is asked for; two packs are charged one by one, never on a board."""
        self.made(count=2, state="spent")
        small = {
            **CHARGER,
            "name": "Pebble",
            "by_balance": True,
            "series_min": 2,
            "port_a": 0.8,
            "port_w": 20,
        }
        made = self.post("/api/gear/chargers", {**small, "mains_w": 20}).json()["row"]
        lead = self.client.get(f"/api/gear/chargers/{made['id']}/lead").json()
        self.assertFalse(any(lead.values()), lead)
        for tag in ("01", "02"):
            self.post(f"/api/keep/packs/{tag}/looks", {"at_room": True})
        laid = [{"pack": f"owned:{t}", "cells": "3.70 3.71 3.70 3.71"} for t in ("01", "02")]
        plan = self.post("/api/bench/plan", {"laid": laid}).json()
        self.assertEqual([len(s["tags"]) for s in plan["slots"]], [1, 1])
        order = {"bench": {"laid": laid}, "packs": ["owned:01"], "charger": str(made["id"]), "port": 1}
        steps = self.post("/api/bench/order", order).json()
        self.assertEqual([s["id"] for s in steps["steps"]], ["place", "set", "balance", "confirm"])
        self.assertEqual([s["id"] for s in steps["unplug"]], ["balance_out", "mark"])

    def test_one_cell_on_usb(self):
        """0.3 A out of five volts: matched and planned like any other."""
        whoop = {"tag": "W1", "name": "Whoop 1S", "chemistry": "lihv", "series": 1, "plug": "ph_2"}
        self.post("/api/gear/packs", {**whoop, "capacity_ah": 0.45, "mass_g": 12})
        usb = {
            "name": "Stick",
            "chemistries": ["lipo", "lihv"],
            "series_max": 1,
            "ports": 2,
            "port_a": 0.45,
            "port_w": 2,
            "step_a": 0.05,
            "dc_w": 4,
            "dc_min_v": 4.5,
            "dc_max_v": 5.5,
            "balance_families": [],
            "output_plug": "ph_2",
        }
        self.assertEqual(self.post("/api/gear/chargers", usb).status_code, 201)
        self.post("/api/keep/packs/W1/looks", {"at_room": True})
        plan = self.post("/api/bench/plan", {"laid": [{"pack": "owned:W1", "cells": "3.72"}]}).json()
        self.assertEqual([s["charger_name"] for s in plan["slots"]], ["Stick"], plan["undone"])
