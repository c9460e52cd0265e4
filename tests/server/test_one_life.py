"""One life per pack: every stage says the same of it, whatever happened to it, in whatever order."""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime, timedelta
from random import Random
from urllib.parse import quote

from django.db import transaction
from django.utils import timezone
from icalendar import Calendar

from coldstack.core.charging.inspection import SIGNS
from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from coldstack.server.life.replies import NowOut
from tests.lives import events, forget, told
from tests.server.case import DemoCase
from tests.thorough import many

SAID = tuple(NowOut.model_fields)
MODELS = ("ptarmigan", "stoat", "grebe")


def now_of(reply):
    """What a reply says of a pack now, but for the minutes that pass from one to the next."""
    may = {act: (m["allowed"], re.sub(r"\d+ min ago", "just", m["why"])) for act, m in reply["may"].items()}
    return {**{name: reply[name] for name in SAID}, "may": may}


class LifeCase(DemoCase):
    def page(self, tag):
        return self.client.get(f"/api/keep/packs/{quote(tag)}").json()

    def line(self, tag):
        return self.page(tag)["line"]

    def get(self, address):
        reply = self.client.get(address)
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return reply.json()

    def asked(self, path, body):
        reply = self.post(path, body)
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return reply.json()

    def said_of_every_pack(self):
        """What each pack's page says of it."""
        return {tag: self.line(tag) for tag in OwnedPack.live.values_list("tag", flat=True)}

    def assert_one_truth(self):
        """Every endpoint that mentions a pack says the same of it."""
        packs = self.said_of_every_pack()
        self.assert_shelf_and_calendar(packs)
        self.assert_bench(packs)
        self.assert_run(packs)
        self.assert_match_and_size(packs)

    def assert_shelf_and_calendar(self, packs):
        groups = self.get("/api/keep/shelf")["groups"]
        shelf = {p["tag"]: p for g in groups for p in g["packs"]}
        self.assertEqual(set(shelf), set(packs))
        for tag, line in packs.items():
            self.assertEqual(now_of(shelf[tag]), now_of(line), tag)
        calendar = Calendar.from_ical(self.client.get("/api/keep/due.ics").content).walk("VEVENT")
        due = {str(e["summary"]).removeprefix("Pack ").split(":")[0] for e in calendar}
        self.assertEqual(due & {t for t, x in packs.items() if x["bars"]}, set())
        for tag in self.get("/api/keep/tags"):
            barred = packs[tag["tag"]]["bars"] != ""
            self.assertEqual("Not to be charged or run" in tag["charging"], barred, tag["tag"])

    def assert_bench(self, packs):
        tags = list(packs)
        for start in range(0, len(tags), 50):
            laid = [{"pack": f"owned:{t}"} for t in tags[start : start + 50]]
            plan = self.asked("/api/bench/plan", {"laid": laid, "at": "2026-11-25T18:00:00"})
            for x in plan["laid"]:
                self.assertEqual(now_of(x), now_of(packs[x["tag"]]), x["tag"])
                self.assertEqual(x["outcome"] == "pass", x["may"]["charge"]["allowed"], x["tag"])
            for batch in plan["batches"]:
                act = "join" if len(batch["tags"]) > 1 else "charge"
                for tag in batch["tags"]:
                    # a pack that only cools has a place once it is cool
                    allowed = packs[tag]["may"][act]["allowed"] or batch["after_cooling"]
                    self.assertTrue(allowed, (tag, packs[tag]["may"][act]))

    def assert_run(self, packs):
        for model in MODELS:
            along = {p["tag"]: p for p in self.get(f"/api/run/packs?model={model}")}
            self.assertEqual(set(along), {t for t, x in packs.items() if not x["bars"]})
            for tag, line in along.items():
                self.assertEqual(now_of(line), now_of(packs[tag]), tag)
        for tag, line in packs.items():
            if line["cell_v"]:
                go = self.asked("/api/run/go", {"model": "ptarmigan", "pack": tag})
                self.assertEqual(now_of(go["pack"]), now_of(line), tag)
                if not line["may"]["run"]["allowed"]:
                    self.assertEqual(go["verdict"], "no_go", tag)
            if line["bars"]:
                day = {"model": "ptarmigan", "pack": tag, "packs": 2, "ports": 1}
                self.assert_problem(self.post("/api/run/day", day), 422, "pack", "not to be run")

    def assert_match_and_size(self, packs):
        grid = {p["tag"]: p for p in self.asked("/api/match/grid", {})["packs"]}
        sized = {
            i.removeprefix("owned:") for i in self.plan("grebe")["field"]["ids"] if i.startswith("owned:")
        }
        for tag, line in packs.items():
            barred = line["bars"] != ""
            self.assertEqual(grid[tag]["fit"], not barred, tag)
            if barred:
                self.assertEqual(
                    {c["verdict"] for c in grid[tag]["models"] + grid[tag]["chargers"]}, {"wont"}
                )
                self.assertNotIn(tag, sized)
                self.assertEqual(self.get(f"/api/keep/packs/{tag}/to-storage")["ways"], [])


class DemoWorld(LifeCase):
    def test_every_stage_says_the_same_of_every_pack(self):
        """From the start, by construction: the demo was made by the same acts."""
        self.assert_one_truth()
        packs = self.said_of_every_pack()
        self.assertEqual({t for t, x in packs.items() if x["bars"]}, {"03", "08"})
        self.assertEqual({x["state"] for x in packs.values()}, {"full", "part", "stored", "spent"})


class RandomLives(LifeCase):
    PACKS, EVENTS = many(100, 50), 12

    def event(self, chance, pack, now):
        kind = chance.choice(["reading", "inspection", "charge", "run", "state", "retirement", "charging"])
        v = [round(chance.uniform(2.9, 4.2), 3)] * pack.series
        fields = {
            "reading": {"cell_v": v, "temperature_c": chance.choice([None, 18.0, 45.0])},
            "inspection": {
                "signs": chance.choice([[], [], [], [chance.choice(sorted(SIGNS))]]),
                "at_room": chance.random() < 0.7,
            },
            "charge": {"ended": chance.choice(["done", "done", "stopped", "danger", ""]), "mah": 900.0},
            "run": {"minutes": chance.uniform(2, 12), "landing_cell_v": chance.choice([None, 3.75])},
            "state": {"state": chance.choice(["full", "stored", "spent", "part", "too_low"])},
            "retirement": {"steps": list(RETIRE_STEPS[: chance.choice([0, 1, 5])])},
            "charging": {"charge": pack.pk, "by": "charger"},
        }[kind]
        if kind == "retirement" and chance.random() < 0.7:
            kind, fields = "state", {"state": "stored"}
        minutes = chance.choice([chance.uniform(0, 20), chance.uniform(0, 30_000), -5000.0])
        at = now - timedelta(minutes=minutes)
        withdrawn = now if chance.random() < 0.1 else None
        said = min(at, now) + timedelta(minutes=chance.choice([0, 0, 90]))
        return {"kind": kind, "at": at, "said": said, "withdrawn": withdrawn, **fields}

    def test_packs_with_anything_in_their_lives(self):
        """All kinds of events, late, ahead, withdrawn: the same from every stage; and told again in another
        order of arrival, the same packs."""
        chance, now = Random(14), timezone.now()
        like = [p for p in OwnedPack.live.all() if p.fit]
        figures = [f.name for f in OwnedPack._meta.fields if f.name not in ("id", "tag")]
        for n in range(self.PACKS):
            pack = like[n % len(like)]
            OwnedPack.objects.create(tag=f"R{n}", **{f: getattr(pack, f) for f in figures})
        forget()
        OwnedPack.live.exclude(tag__startswith="R").update(removed=now)
        packs = list(OwnedPack.live.all())
        lives = [(p, self.event(chance, p, now)) for p in packs for _ in range(self.EVENTS)]
        keyed = [(p, {"key": f"any-life-{k:05d}", **e}) for k, (p, e) in enumerate(lives)]
        for pack, fields in keyed:
            told(pack, **fields)
        self.assert_one_truth()
        first = self.said_of_every_pack()
        self.assertGreater(len({x["state"] for x in first.values()}), 6, "the lives are too much alike")
        forget()
        chance.shuffle(keyed)
        for pack, fields in keyed:
            told(pack, **fields)
        again = self.said_of_every_pack()
        for tag, line in first.items():
            self.assertEqual(self.lasting(again[tag]), self.lasting(line), tag)

    def lasting(self, line):
        """Without the numbers of rows, and without what is told in minutes that pass."""
        allowed = {act: may["allowed"] for act, may in line["may"].items()}
        return {**now_of(line), "signs": [s["id"] for s in line["signs"]], "may": allowed}


class Cases(LifeCase):
    """Each of these was wrong before."""

    def bench(self):
        return self.get("/api/bench")["bench"]

    def planned(self):
        return self.asked("/api/bench/plan", {**self.bench(), "at": "2026-11-25T18:00:00"})

    def log(self, tag, **more):
        body = {
            "key": "one-run-0001",
            "model": "ptarmigan",
            "pack": tag,
            "at": timezone.now().isoformat(),
            "minutes": 8,
            **more,
        }
        return self.asked("/api/runs", body)

    def test_a_run_is_known_at_the_bench(self):
        """31 was laid out and read, then run: no batch joins it on volts from before, and its cells are to
        be read again."""
        self.assertIn("31", str([b["tags"] for b in self.planned()["batches"]]))
        self.log("31", landing_cell_v=3.72)
        line = next(x for x in self.planned()["laid"] if x["tag"] == "31")
        self.assertEqual((line["state"], line["charge"], line["cell_v"]), ("cooling", "spent", []))
        self.assertNotIn("31", str([b["tags"] for b in self.planned()["batches"]]))
        self.assertEqual(next(x for x in self.bench()["laid"] if x["pack"] == "owned:31")["cells"], "")
        # nor on what an open page still holds of before
        old = [{"pack": "owned:31", "cells": "3.786 3.785 3.787 3.784", "read_at": "2026-11-25T13:50:00Z"}]
        plan = self.asked("/api/bench/plan", {"laid": old, "at": "2026-11-25T18:00:00"})
        self.assertEqual((plan["batches"], plan["laid"][0]["cell_v"]), ([], []))
        self.assertIn("It was run since", str(plan["laid"][0]["findings"]))

    def test_cells_typed_anywhere_are_known_everywhere(self):
        """At the bench: on the page and before a run. On the page: at the bench."""
        laid = [{"pack": "owned:07", "cells": "4.19 4.18 4.19"}]
        self.client.put("/api/bench", json.dumps({"laid": laid}), content_type="application/json")
        self.assertEqual((self.line("07")["state"], self.line("07")["cell_v"]), ("full", [4.19, 4.18, 4.19]))
        go = self.asked("/api/run/go", {"model": "grebe", "pack": "07"})
        self.assertEqual(go["cells"], [4.19, 4.18, 4.19])
        self.asked("/api/keep/packs/09/checks", {"cells": "3.70 3.71 3.70"})
        plan = self.asked("/api/bench/plan", {"laid": [{"pack": "owned:09"}], "at": "2026-11-25T18:00:00"})
        self.assertEqual(plan["laid"][0]["cell_v"], [3.70, 3.71, 3.70])

    def test_typing_is_one_reading(self):
        """Kept again and again while somebody types; the last counts, once."""
        before = len(events("07", kind="reading"))
        for cells in ("3.7", "3.7 3.7", "3.7 3.7 3.7", "3.7 3.7 3.72", "3.71 3.70 3.72"):
            laid = [{"pack": "owned:07", "cells": cells}]
            reply = self.client.put("/api/bench", json.dumps({"laid": laid}), content_type="application/json")
            self.assertEqual(reply.status_code, 200)
        self.assertEqual(len(events("07", kind="reading")), before + 1)
        self.assertEqual(self.line("07")["cell_v"], [3.71, 3.70, 3.72])

    def test_a_condemned_pack(self):
        """03: in no plan, on no charger, in no model, nobody's; its tag says so, and so does each place."""
        plan = self.planned()
        line = next(x for x in plan["laid"] if x["tag"] == "03")
        self.assertEqual([f["outcome"] for f in line["findings"]], ["retire"])
        self.assertNotIn("slowly", str(line["findings"]))
        self.assertNotIn("03", str([b["tags"] for b in plan["batches"]]))
        tag = next(t for t in self.get("/api/keep/tags") if t["tag"] == "03")
        self.assertEqual(tag["charging"], ["Not to be charged or run"])
        found = self.asked("/api/match", {"job": self.job(), "pack": "owned:03", "charge": {}})
        self.assertFalse(found["charge"]["possible"])

    def test_a_new_tag_takes_its_life_along(self):
        """Its events are the pack's, not the tag's."""
        pack = OwnedPack.live.get(tag="07")
        cycles = self.page("07")["cycles"]
        body = {"tag": "A7"}
        self.client.patch(f"/api/gear/packs/{pack.pk}", json.dumps(body), content_type="application/json")
        self.assertEqual(self.page("A7")["cycles"], cycles)

    def test_nobody_looked_is_not_sound(self):
        """A pack laid out and read does not pass until somebody looked, felt, and said so; nor for long."""
        told("07", "reading", cell_v=[3.7, 3.7, 3.7])
        self.assertEqual(self.line("07")["may"]["charge"]["allowed"], False)
        said = self.asked("/api/keep/packs/07/looks", {"key": "look-0001", "at_room": True})
        self.assertTrue(self.line("07")["may"]["charge"]["allowed"])
        again = self.asked("/api/keep/packs/07/looks", {"key": "look-0001", "at_room": True})
        self.assertEqual(again["events"], said["events"])
        self.asked("/api/keep/take-back", {"events": said["events"]})
        self.assertFalse(self.line("07")["may"]["charge"]["allowed"])
        self.asked("/api/keep/bring-back", {"events": said["events"]})
        self.assertTrue(self.line("07")["may"]["charge"]["allowed"])
        self.assert_problem(
            self.post("/api/keep/packs/07/looks", {"signs": ["haunted"]}), 422, "signs", "haunted"
        )
        self.assert_problem(self.post("/api/keep/packs/99/looks", {}), 422, "pack", "no pack 99")

    def test_a_warm_pack_is_not_at_the_rooms_warmth(self):
        """Whatever is sent beside it."""
        self.asked("/api/keep/packs/07/looks", {"signs": ["warm"], "at_room": True})
        self.assertFalse(events("07", kind="inspection")[-1].at_room)

    def test_each_act_said_twice_is_done_once(self):
        """State, check, note, step of retiring: by the key of the press."""
        for n, (path, body, method) in enumerate(
            (
                ("/api/keep/left", {"packs": ["04", "15"], "state": "stored"}, "post"),
                ("/api/keep/packs/04/checks", {"cells": "3.8 3.8 3.8 3.8"}, "post"),
                ("/api/keep/packs/04/notes", {"text": "a scratch"}, "post"),
                ("/api/keep/packs/08/retirement", {"ticked": ["outside"]}, "put"),
            )
        ):
            with self.subTest(path):
                before = Event.objects.count()
                text = json.dumps({**body, "key": f"pressed-{n}"})
                for _ in range(3):
                    reply = getattr(self.client, method)(path, text, content_type="application/json")
                    self.assertEqual(reply.status_code, 200)
                self.assertEqual(Event.objects.count() - before, len(body.get("packs", "1")))
        reply = self.post("/api/keep/packs/07/notes", {"text": "another", "key": "pressed-2"})
        self.assert_problem(reply, 422, "key", "said of something else")

    def test_a_run_of_2090_freezes_nothing(self):
        """Out of a file: it is kept and named on the page; the shelf goes on. Who says so without a line is
        taken by the hour of this machine."""
        before = self.line("04")
        with transaction.atomic():
            self.log("04", at="2090-01-01T00:00:00Z", minutes=9)
            self.assertEqual(self.line("04")["state"], "cooling")
            transaction.set_rollback(True)
        told("04", "run", at=datetime(2090, 1, 1, tzinfo=UTC), said=timezone.now(), minutes=9)
        self.assertEqual(now_of(self.line("04")), now_of(before))
        first = self.page("04")["life"][0]
        self.assertEqual((first["kind"], first["mine"]), ("run", True))
        self.assertIn("Dated ahead", first["flag"])

    def test_a_clock_set_back(self):
        """A charge that ends by a clock an hour behind is after the run all the same."""
        from tests.clock import CLOCK

        self.log("04")
        with CLOCK.earlier(timedelta(hours=1)):
            self.asked("/api/keep/left", {"packs": ["04"], "state": "full"})
            self.assertEqual(self.line("04")["charge"], "full")
        self.assertEqual(self.line("04")["charge"], "full")

    def test_the_life_on_the_page(self):
        """Newest first, in sentences; what a person said can be taken back, what a charger told cannot."""
        self.asked("/api/keep/packs/07/checks", {"cells": "3.82 3.83 3.82", "temperature_c": 19})
        life = self.page("07")["life"]
        self.assertEqual(life[0]["sentence"], "Read: 3.820 3.830 3.820 V, 19 °C\u2060.")
        self.assertEqual([e["mine"] for e in life if e["kind"] == "charge"][:2], [False, False])
        self.assertEqual([e["at"] for e in life], sorted((e["at"] for e in life), reverse=True))
