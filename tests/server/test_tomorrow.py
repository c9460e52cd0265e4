"""The day ahead: planned from packs as they are, kept, ticked off by runs, laid out on the bench."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.tomorrow.models import DayAhead
from tests.clock import CLOCK
from tests.lives import told
from tests.server.test_run import RunCase

EVENING, MORNING = "2026-11-30T18:00", "2026-12-01T10:00"


class DayCase(RunCase):
    def asked(self, wishes=None, **more):
        wishes = {"ptarmigan": 3} if wishes is None else wishes
        lines = [{"model": m, "flights": n} for m, n in wishes.items()]
        return {"wishes": lines, "at": EVENING, "start": MORNING, "hours": 6, **more}

    def plan(self, wishes=None, status=200, **more):
        reply = self.post("/api/tomorrow/plan", self.asked(wishes, **more))
        self.assertEqual(reply.status_code, status, reply.content)
        return reply.json()


class Planned(DayCase):
    def test_of_three_models(self):
        """Nine runs of three models: each by a pack that may run it, what is charged before is full before,
        nothing flies twice without a charge between."""
        models = {"ptarmigan": 3, "grebe": 3, "snow-hare": 3}
        found = self.plan(models)
        self.assertEqual({m["model"]: m["planned"] for m in found["models"]}, models)
        self.assertEqual((found["begun"], found["ways_out"]), (False, []))
        for m in models:
            may = {p["tag"] for p in self.client.get(f"/api/run/packs?model={m}").json() if p["runs"]}
            self.assertLessEqual({f["tag"] for f in found["flights"] if f["model"] == m}, may)
        before = {c["tag"]: c["end_at"] for c in found["before"]}
        self.assertTrue(all(end <= f"{MORNING}:00" for end in before.values()))
        self.assertEqual(set(before), {f["tag"] for f in found["flights"] if f["how"] == "before"})
        again = [f["tag"] for f in found["flights"] if f["how"] == "there"]
        self.assertEqual(sorted(again), sorted(c["tag"] for c in found["there"]))
        self.assertLessEqual({p["tag"] for p in found["packs"]}, {x["name"] for x in found["packing"]})
        self.assertIn("Cell checker or multimeter", {x["name"] for x in found["packing"]})

    def test_two_packs_in_series(self):
        """A model that runs on pairs is not planned as if single packs were missing: it says so, at its
        line."""
        row = RcModel.live.get(slug="grebe")
        row.job["now"] = {
            "joined": "series",
            "chemistry": "lipo",
            "series": 6,
            "capacity_ah": 3,
            "mass_g": 600,
        }
        row.save()
        asked = self.post("/api/tomorrow/plan", self.asked({"ptarmigan": 1, "grebe": 2}))
        self.assert_problem(asked, 422, "wishes.1.model", "runs on two packs in series")
        self.plan({"ptarmigan": 1})

    def test_what_lies_full_is_taken(self):
        """Nothing is charged that need not be."""
        for tag in ("04", "05"):
            told(tag, "charge", ended="done", at=timezone.now() - timedelta(minutes=5))
        found = self.plan({"ptarmigan": 2})
        self.assertEqual({(f["tag"], f["how"]) for f in found["flights"]}, {("04", "full"), ("05", "full")})
        self.assertEqual(found["before"], [])

    def test_barred_packs_stay(self):
        """Swollen, retired or in quarantine: not counted on."""
        self.post("/api/keep/packs/04/looks", {"signs": ["swollen"], "at_room": True})
        found = self.plan({"ptarmigan": 3})
        self.assertNotIn("04", {f["tag"] for f in found["flights"]})

    def test_what_must_be_looked_at_stays(self):
        """Crashed and spent, far too low: not counted on, and said why; once somebody looked, it comes."""
        told("04", "run", minutes=9, landing_cell_v=3.6)
        told("04", "inspection", signs=["crashed"])
        told("05", "reading", cell_v=[3.2, 3.2, 3.2, 3.2])
        found = self.plan({"ptarmigan": 3})
        self.assertLessEqual({"04"}, {x["tag"] for x in found["left_out"]})
        self.assertFalse({"04"} & {f["tag"] for f in found["flights"]})
        self.assertTrue(all(x["why"] for x in found["left_out"]))
        told("04", "inspection", at=timezone.now() + timedelta(seconds=1))
        with CLOCK.earlier(timedelta(minutes=-1)):
            self.assertIn("04", {f["tag"] for f in self.plan({"ptarmigan": 3})["flights"]})

    def test_many_models_and_packs(self):
        """Eight models and sixty packs more: the readiest are looked at, and none is too many."""
        like = OwnedPack.live.get(tag="04")
        figures = {
            f.name: getattr(like, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")
        }
        OwnedPack.objects.bulk_create(OwnedPack(**figures, tag=f"M{k}") for k in range(60))
        models = {m.slug: 5 for m in RcModel.live.all()[:8]}
        found = self.plan(models, hours=16)
        self.assertEqual(next(m["missing"] for m in found["models"] if m["model"] == "ptarmigan"), 0)

    def test_the_strongest_charger_comes(self):
        """Of the four that the power box could feed: where nobody says, the one that brings most of it."""
        found = self.plan()
        self.assertEqual([c["name"] for c in found["along"] if c["along"]], ["Skerry Four"])

    def test_without_chargers_there(self):
        """One run of each pack; what is missing is told, with what would do."""
        found = self.plan({"ptarmigan": 5}, there=[])
        self.assertEqual(found["models"][0]["planned"], 3)
        self.assertEqual(found["models"][0]["missing"], 2)
        self.assertTrue(any("taken along: all of it can be done" in w for w in found["ways_out"]))

    def test_nobody_with_the_chargers(self):
        """An evening of ten minutes fills nothing: it is said of each pack, and they are charged there."""
        found = self.plan({"ptarmigan": 2}, attended=[{"start": "09:00", "end": "09:10"}])
        self.assertEqual(found["before"], [])
        self.assertTrue(found["not_filled"])
        self.assertTrue(all("nobody stays" in x["why"] for x in found["not_filled"]))
        self.assertEqual({f["how"] for f in found["flights"]}, {"there"})

    def test_an_evening_too_short_for_all(self):
        """Some are filled, some not: no run counts on a pack that is not full by then."""
        evening = [{"start": "20:00", "end": "21:30"}]
        found = self.plan({"ptarmigan": 3, "grebe": 3}, attended=evening)
        filled = {c["tag"] for c in found["before"]}
        self.assertEqual({f["tag"] for f in found["flights"] if f["how"] == "before"}, filled)
        self.assertFalse(filled & {x["tag"] for x in found["not_filled"]})
        self.assertTrue(all(c["end_at"] <= "2026-11-30T21:30:00" for c in found["before"]))

    def test_a_model_that_nothing_runs(self):
        """Said of the model, and the rest is planned."""
        RcModel.objects.filter(slug="grebe").update(slug="other")
        row = RcModel.live.get(slug="other")
        row.job |= {
            "now": None,
            "electronics": {
                **row.job["electronics"],
                "cells_min": 1,
                "cells_max": 1,
                "min_v": 0.0,
                "max_v": 4.3,
            },
        }
        row.save()
        found = self.plan({"other": 1, "ptarmigan": 1})
        other = found["models"][0]
        self.assertEqual((other["planned"], other["missing"], other["packs"]), (0, 1, 0))
        self.assertIn("No pack of yours", other["why"])
        self.assertEqual(found["models"][1]["planned"], 1)

    def test_minutes_instead_of_runs(self):
        """As many runs as its packs need for them."""
        wishes = [{"model": "ptarmigan", "minutes": 40}]
        found = self.post("/api/tomorrow/plan", {**self.asked(), "wishes": wishes}).json()
        self.assertEqual(found["models"][0]["wanted"], 3)

    def test_bad_input(self):
        """At its field, in words."""
        for body, field in (
            (self.asked({"nothing": 1}), "wishes.0.model"),
            (self.asked({}), "wishes"),
            (self.asked(start="2026-11-30T08:00", hours=6), "start"),
            (self.asked(there=[{"charger": "999"}]), "there.0.charger"),
            (self.asked(attended=[{"start": "20:00", "end": "19:00"}]), "attended"),
            (self.asked({"ptarmigan": 39, "grebe": 39}), "models"),
        ):
            with self.subTest(field=field):
                self.assert_problem(self.post("/api/tomorrow/plan", body), 422, field)


class KeptAhead(DayCase):
    def keep(self, version="*", status=200, **more):
        now = timezone.localtime()
        day = {"at": now.strftime("%Y-%m-%dT%H:%M"), "start": None, **more}
        hour = day.pop("in_h", 10)
        day["start"] = day["start"] or (now + timedelta(hours=hour)).strftime("%Y-%m-%dT%H:%M")
        body = self.asked(day.pop("wishes", None)) | day
        reply = self.client.put(
            "/api/tomorrow", body, content_type="application/json", headers={"If-Match": version}
        )
        self.assertEqual(reply.status_code, status, reply.content)
        return reply.json()

    def test_kept_and_put_away(self):
        """It stays; made from another version it is refused; put away twice it is gone once."""
        kept = self.keep()
        self.assertEqual(self.client.get("/api/tomorrow").json(), kept)
        self.keep(version="another", status=412)
        for _ in range(2):
            self.assertEqual(self.client.delete("/api/tomorrow").status_code, 200)
        self.assertIsNone(self.client.get("/api/tomorrow").json()["asked"])
        self.assertEqual(self.client.get("/api/tomorrow/day").status_code, 404)

    def test_runs_tick_it_off(self):
        """Two of three done: one is planned, of the packs that are left; what was withdrawn counts again."""
        attended = [{"start": "00:00", "end": "24:00"}]
        self.keep(in_h=10, attended=attended)
        with CLOCK.earlier(timedelta(hours=-11)):
            for key, tag in (("first-run", "04"), ("second-run", "05")):
                self.log(pack=tag, key=key)
            found = self.client.get("/api/tomorrow/day").json()
            model = found["models"][0]
            self.assertEqual((model["wanted"], model["flown"], model["planned"]), (3, 2, 1))
            self.assertTrue(found["begun"])
            self.client.delete("/api/runs/second-run")
            self.assertEqual(self.client.get("/api/tomorrow/day").json()["models"][0]["flown"], 1)
            for key in ("third-run", "fourth-run"):
                self.log(pack="01", key=key)
            self.assertEqual(self.client.get("/api/tomorrow/day").json()["headline"], "All of it is done.")

    def test_storage_is_not_asked_for(self):
        """Of what it counts on, until it is over; what it does not need is brought to storage as ever."""
        for tag in ("04", "05", "01", "07"):
            told(tag, "charge", ended="done", at=timezone.now() - timedelta(hours=1))
        self.assertEqual({self.doing(t) for t in ("04", "05", "01", "07")}, {"storage"})
        self.keep()
        self.assertEqual([self.doing(t) for t in ("04", "05", "01", "07")], ["day", "day", "day", "storage"])
        page = self.client.get("/api/keep/packs/04").json()["line"]
        self.assertEqual((page["doing"], page["due_short"]), ("day", "Wanted for the day ahead."))
        with CLOCK.earlier(timedelta(hours=-17)):
            self.assertEqual(self.doing("04"), "storage")
            self.assertTrue(self.client.get("/api/tomorrow").json()["over"])

    def test_a_day_that_is_far_off(self):
        """Nobody keeps packs full for a week."""
        told("04", "charge", ended="done", at=timezone.now() - timedelta(hours=1))
        self.keep(in_h=24 * 3)
        self.assertTrue(DayAhead.objects.get().packs.filter(tag="04").exists())
        self.assertEqual(self.doing("04"), "storage")

    def doing(self, tag):
        groups = self.client.get("/api/keep/shelf").json()["groups"]
        return next(g["doing"] for g in groups for p in g["packs"] if p["tag"] == tag)

    def test_laid_out(self):
        """What it wants charged before lies on the bench, once however often, which is to be ready by then;
        what lay there stays."""
        self.client.put("/api/bench", {"laid": [{"pack": "owned:07"}]}, content_type="application/json")
        for _ in range(2):
            reply = self.post("/api/tomorrow/lay", self.asked({"ptarmigan": 3}))
            self.assertEqual(reply.status_code, 200, reply.content)
        bench = self.client.get("/api/bench").json()["bench"]
        laid = [x["pack"] for x in bench["laid"]]
        self.assertEqual(laid, ["owned:07", "owned:01", "owned:04", "owned:05"])
        self.assertEqual((bench["ready_by"], bench["pace"]), (f"{MORNING}:00", "gently"))

    def test_nothing_to_lay_out(self):
        """A day of full packs: refused in words."""
        told("04", "charge", ended="done", at=timezone.now() - timedelta(minutes=5))
        self.assert_problem(self.post("/api/tomorrow/lay", self.asked({"ptarmigan": 1})), 422, "start")

    def test_packs_that_went(self):
        """Deleted since: the day is planned without them."""
        self.keep()
        self.client.delete(f"/api/gear/packs/{OwnedPack.live.get(tag='04').pk}")
        found = self.client.get("/api/tomorrow/day").json()
        self.assertNotIn("04", {f["tag"] for f in found["flights"]})
