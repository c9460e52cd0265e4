"""What is kept of each pack's life: told on with each event, as all of them tell it, read instead of them."""

import json
import random
import threading
from datetime import timedelta
from io import StringIO
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from coldstack.core.life.events import Event as EventValue
from coldstack.core.life.told import told as life_told
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life import kept, now
from coldstack.server.life.kept import stale, tell_anew, unlike
from coldstack.server.life.models import Event, KeptLife
from coldstack.server.life.now import standing_with, standings
from coldstack.server.life.values import event_values
from tests.lives import told
from tests.server.test_run import RunCase
from tests.thorough import many


def forgotten():
    """As after a restart."""
    now._kept.lives.clear()


class Kept(RunCase):
    def setUp(self):
        forgotten()
        tell_anew()

    def said(self):
        """Each pack as it is, by whatever is kept."""
        forgotten()
        shelf = self.client.get("/api/keep/shelf").json()
        passing = ("in_h", "due")  # told in minutes that pass
        packs = [p for g in shelf["groups"] for p in g["packs"]]
        return {p["tag"]: {k: v for k, v in p.items() if k not in passing} for p in packs}

    def told_from_all(self):
        with mock.patch.object(now, "kept_lives", return_value={}):
            return self.said()

    def act(self, draw, tag, at):
        """One act, at its hour or told late; at times one before is taken back, brought back or mended."""
        kind = draw.choice(["run", "run", "look", "check", "left", "charged", "note", "back", "mend"])
        packs, hour = (
            f"/api/keep/packs/{tag}",
            (at - timedelta(minutes=draw.choice([0, 0, 0, 500]))).isoformat(),
        )
        pack = OwnedPack.live.get(tag=tag)
        cells = " ".join(f"{draw.uniform(3.6, 4.2):.3f}" for _ in range(pack.series))
        if kind == "run":
            self.log(pack=tag, minutes=draw.uniform(2, 12), at=hour)
        elif kind == "look":
            signs = draw.choice([[], [], ["leads"], ["warm"], ["swollen"]])
            self.post(f"{packs}/looks", {"signs": signs, "at_room": True, "at": hour})
        elif kind == "check":
            put_in = draw.choice([None, 900 * pack.capacity_ah])
            self.post(f"{packs}/checks", {"cells": cells, "put_in_mah": put_in, "at": hour})
        elif kind == "left":
            self.post(
                "/api/keep/left", {"packs": [tag], "state": draw.choice(["full", "stored"]), "at": hour}
            )
        elif kind == "charged":
            self.post("/api/keep/charged", {"packs": [tag], "at": hour})
        elif kind == "note":
            self.post(f"{packs}/notes", {"text": "windy"})
        else:
            own = list(Event.objects.filter(pack__tag=tag, by="hand").order_by("-id")[:5])
            if kind == "back" and own:
                way = draw.choice(["take-back", "bring-back"])
                self.post(f"/api/keep/{way}", {"events": [draw.choice(own).pk]})
            elif runs := [e for e in own if e.kind == "run" and e.withdrawn is None]:
                self.mend(draw.choice(runs).pk, minutes=draw.uniform(2, 12))

    def test_random_acts(self):
        """Told on from what was kept, it is as all events tell it; and kept again, the same."""
        draw, tags = random.Random(60), ["04", "05", "01", "02"]
        at = timezone.now() - timedelta(days=3)
        with mock.patch("coldstack.core.life.kept.LATEST", 3):
            for k in range(many(500, 80)):
                at += timedelta(minutes=draw.randint(1, 50))
                self.act(draw, draw.choice(tags), min(at, timezone.now()))
                if k % 10 == 9:
                    self.assertEqual(self.said(), self.told_from_all())
                if k % 30 == 29:
                    tell_anew(stale())
                    self.assertEqual(unlike(), [])

    def test_asked_with_more_after_something_was_said(self):
        """A pack whose kept life is behind, as if more had been said of it: nothing of its life is lost."""
        for k in range(60):
            told("04", "run", days_ago=50 - k / 2, minutes=8.0, landing_cell_v=3.75)
        tell_anew()
        told("04", "note", text="windy")
        at = timezone.now()
        more = [EventValue("more", at.timestamp(), "charge", at.timestamp(), ended="done", mah=1500)]
        for _ in range(2):  # from what was kept; then from what is at hand
            found = standing_with(standings(tags=["04"])[0], more, now=at).now.told
            pack = OwnedPack.live.get(tag="04")
            whole = life_told(
                found.pack, [*event_values([pack.pk])[pack.pk], *more], rules=found.rules, now=at.timestamp()
            )
            self.assertEqual((found.cycles, len(found.records)), (whole.cycles, len(whole.records)))
            self.assertEqual((found.today, found.socs), (whole.today, whole.socs))
        forgotten()
        found = standing_with(standings(tags=["04"])[0], more, now=at).now.told
        self.assertEqual((found.cycles, found.records), (whole.cycles, whole.records))

    def test_read_instead_of_events(self):
        """After a restart the shelf reads no event, and takes as many queries as with a few."""
        forgotten()
        with CaptureQueriesContext(
            connection,
        ) as asked:
            standings()
        self.assertEqual([q for q in asked.captured_queries if '"life_event"."key"' in q["sql"]], [])
        self.assertLessEqual(len(asked), 5)

    def test_what_holds_no_more(self):
        """Written behind its back, a changed pack, changed rules: told anew, not from what was kept."""
        told("04", "state", state="full")
        self.assertEqual(self.said()["04"]["charge"], "full")
        row = OwnedPack.live.get(tag="05")
        row.capacity_ah, row.note = 2.0, "smaller"
        row.save()
        self.client.put(
            "/api/rules/sets/steady", {"values": {"cool_min": 90}}, content_type="application/json"
        )
        self.assertEqual(self.said(), self.told_from_all())
        self.assertEqual(len(stale()), OwnedPack.live.count())
        tell_anew(stale())
        self.assertEqual((stale(), unlike()), ([], []))
        self.assertEqual(self.said(), self.told_from_all())

    def test_the_command(self):
        """It proves what is kept, names what is not as its events tell, and puts it right."""
        out = StringIO()
        call_command("tell_lives", stdout=out)
        self.assertIn("each as its events tell", out.getvalue())
        row = KeptLife.objects.get(pack__tag="04")
        wrong = json.loads(row.now)
        wrong["state"]["cycles"] = 999
        row.now = json.dumps(wrong)
        row.save()
        with self.assertRaisesRegex(CommandError, "^04: kept otherwise"):
            call_command("tell_lives")
        self.assertEqual(unlike(), [])

    def test_one_computation(self):
        """However many ask at once, what is not at hand is told once."""
        forgotten()
        counted = mock.Mock(side_effect=kept.kept_lives)
        lives = [None] * 6
        first = standings()
        forgotten()
        with mock.patch.object(now, "kept_lives", counted):
            known = {s.pk: s.now.told for s in first}
            counted.side_effect = lambda missing, rules, at: {pk: known[pk] for _, pk, _ in missing}
            packs = [(None, s.pk, s.pack) for s in first]
            threads = [threading.Thread(target=self.tell, args=(packs, lives, k)) for k in range(6)]
            for t in threads:
                t.start()
            for t in threads:
                t.join()
        self.assertEqual((counted.call_count, lives.count(len(packs))), (1, 6))

    def tell(self, packs, lives, k):
        rules = next(iter(now._kept.lives), (0, None))[1]
        now.told_once(packs, rules, 0.0)
        lives[k] = len(now._kept.lives)


class Files(RunCase):
    def read(self, name):
        reply = self.client.get(f"/api/keep/{name}")
        return b"".join(reply.streaming_content).decode()

    def test_in_parts(self):
        """No part holds more than some hundred events, however many there are; all of them are there."""
        for k in range(1300):
            told("04", "note" if k % 2 else "state", days_ago=1 + k / 1000, state="" if k % 2 else "stored")
        reply = self.client.get("/api/keep/log.json")
        parts = list(reply.streaming_content)
        self.assertLess(max(map(len, parts)), sum(map(len, parts)) / 2)
        log = json.loads(b"".join(parts))
        count = Event.standing.exclude(kind="charging").count()
        self.assertEqual(sum(len(p.get("events", ())) for p in log["packs"]), count)
        self.assertEqual(
            [p["tag"] for p in log["packs"]], sorted(OwnedPack.live.values_list("tag", flat=True))
        )
        self.assertEqual(self.read("life.csv").count("\n"), Event.standing.count() + 1)

    def test_what_is_taken_in_again(self):
        """What came out goes in, and nothing is new."""
        told("04", "note", text="Líne\nwith “quotes”, commas; and a tab\t.")
        text = self.read("log.json")
        file = SimpleUploadedFile("log.json", text.encode(), content_type="application/json")
        found = self.client.post("/api/keep/log", {"file": file, "store": "false"}).json()
        self.assertEqual((found["events"], found["same"] > 100), (0, True))
