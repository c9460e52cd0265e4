"""Landed, told in seconds: what was seen goes with the run, what is known later is added to it, its own hour
orders it, and an hour that cannot be is asked back; by whatever clock."""

from __future__ import annotations

import random
import uuid
from datetime import timedelta

from django.db import transaction
from django.test import SimpleTestCase
from django.utils import timezone

from coldstack.core.asking.hours import CHARGED_AFTER, ON_THE_CHARGER, TO_COME, odd_hour
from coldstack.core.life.events import Event as EventValue
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.clock import CLOCK
from tests.lives import events, told
from tests.server.test_run import RunCase
from tests.thorough import many

FULL = "4.19 4.18 4.19 4.18"


class HowItEnded(RunCase):
    def test_each_landing(self):
        """What each tells of the pack, and what to do. Two hours later, charged: who was puffed or crashed is
        no go by whatever cells; a low cell is answered by reading each."""
        found = {}
        for landing in self.client.get("/api/run/landings").json():
            self.assertEqual(bool(landing["todo"]), landing["id"] != "fine")
            with transaction.atomic():
                self.log(signs=landing["signs"])
                self.assertEqual({s["id"] for s in self.pack_now()["signs"]}, set(landing["signs"]))
                told("04", "charge", at=timezone.now() + timedelta(seconds=1), ended="done")
                with CLOCK.earlier(timedelta(hours=-2)):
                    run = self.pack_now()["may"]["run"]["allowed"]
                    found[landing["id"]] = (run, self.go(cells=FULL).json()["verdict"])
                transaction.set_rollback(True)
        wanted = {"fine": (True, "go"), "hot": (True, "go"), "low": (False, "go")}
        wanted |= {"puffed": (False, "no_go"), "crashed": (False, "no_go")}
        self.assertEqual(found, wanted)

    def test_a_crash_is_over_when_somebody_looked(self):
        """Through the night, and a charge that somebody noted; not by time alone."""
        self.log(signs=["crashed"])
        with CLOCK.earlier(timedelta(hours=-30)):
            self.assertFalse(self.pack_now()["may"]["run"]["allowed"])
            self.post("/api/keep/packs/04/looks", {"signs": [], "at_room": True})
            told("04", "charge", ended="done")
            self.assertTrue(self.pack_now()["may"]["run"]["allowed"])

    def test_an_unknown_sign(self):
        """Refused at its field; nothing is kept."""
        self.assert_problem(self.log(signs=["blue"]), 422, "signs", "blue")
        self.assertEqual(events("04", kind="run"), [])

    def test_taken_back_with_all_that_it_told(self):
        """And brought back with it."""
        key = str(uuid.uuid4())
        self.log(key=key, signs=["swollen"], temperature_c=48)
        self.post(f"/api/runs/{key}/more", {"temperature_c": 30})
        before = len(events("04"))
        self.client.delete(f"/api/runs/{key}")
        self.assertEqual((len(events("04")), self.pack_now()["signs"]), (before - 3, []))
        self.post(f"/api/runs/{key}/back", {})
        self.assertEqual([s["id"] for s in self.pack_now()["signs"]], ["swollen"])


def owned_values(row):
    """The figures of a pack, for another like it."""
    return {f.name: getattr(row, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")}


class KnownLater(RunCase):
    def add(self, key, **more):
        return self.post(f"/api/runs/{key}/more", more)

    def test_each_figure(self):
        """Minutes, volts, mAh, warmth, a note: the run tells them, and what was told before stays; twice is
        once."""
        key = str(uuid.uuid4())
        self.log(key=key, cells=FULL, note="windy")
        for _ in range(2):
            reply = self.add(key, minutes=8.5, landed="15.1", put_back_mah=2100, temperature_c=44, note="")
            self.assertEqual(reply.status_code, 200, reply.content)
        (run,) = events("04", kind="run")
        self.assertEqual((run.minutes, run.mah, run.text, run.cell_v[0]), (8.5, 2100, "windy", 4.19))
        self.assertAlmostEqual(run.landing_cell_v, 15.1 / 4)
        self.assertEqual([e.temperature_c for e in events("04", kind="reading") if e.at > run.at], [44])

    def test_warmth_goes_with_its_run(self):
        """Told again it is the later one; another hour of the run is another hour of its warmth."""
        key, now = str(uuid.uuid4()), timezone.now()
        self.log(key=key)
        self.add(key, temperature_c=44)
        self.add(key, temperature_c=52)
        hour = now - timedelta(minutes=30)
        self.add(key, at=hour.isoformat(), sure=True)
        (run,), (warm,) = events("04", key=key), events("04", kind="reading", key__startswith=key)
        self.assertEqual(warm.temperature_c, 52)
        self.assertEqual(run.at, hour)
        self.assertLess(timedelta(), warm.at - run.at)
        self.assertLess(warm.at - run.at, timedelta(seconds=1))

    def test_of_two_in_series(self):
        """Both have it."""
        key = str(uuid.uuid4())
        first = OwnedPack.live.get(tag="04")
        OwnedPack.objects.create(**{**owned_values(first), "tag": "04B"})
        self.assertEqual(self.log(key=key, pack="04+04B").status_code, 200)
        self.add(key, minutes=6.5, landed="3.75", temperature_c=41)
        for tag in ("04", "04B"):
            (run,) = events(tag, kind="run")
            self.assertEqual((run.minutes, run.landing_cell_v), (6.5, 3.75))
            self.assertEqual([e.temperature_c for e in events(tag, kind="reading") if e.at > run.at], [41])

    def test_bad_input(self):
        """Volts that no cell has, a run that is not there."""
        key = str(uuid.uuid4())
        self.log(key=key)
        self.assert_problem(self.add(key, landed="apple"), 422, "landed")
        self.assert_problem(self.add("no-such-run-at-all"), 404)

    def test_its_hour_orders_its_life(self):
        """Told in the evening: flown at three, brought to storage at five; it is stored."""
        key, now = str(uuid.uuid4()), timezone.now()
        told("04", "state", at=now - timedelta(minutes=4), state="stored")
        self.log(key=key, at=(now - timedelta(minutes=8)).isoformat(), hour_told=True, sure=True)
        self.assertEqual(self.pack_now()["charge"], "stored")
        self.add(key, at=(now - timedelta(minutes=1)).isoformat(), sure=True)
        self.assertEqual(self.pack_now()["charge"], "spent")

    def test_an_hour_that_cannot_be(self):
        """Asked at its field, kept once somebody is sure; what is said without an hour is never asked."""
        key, now = str(uuid.uuid4()), timezone.now()
        told("04", "charge", at=now - timedelta(hours=1), ended="done")
        early = {"at": (now - timedelta(hours=2)).isoformat(), "hour_told": True}
        self.assert_problem(self.log(key=key, **early), 422, "at", "charge of this pack ended after that")
        self.assertEqual(self.log(key=key, **early, sure=True).status_code, 200)
        self.assert_problem(
            self.add(key, at=(now + timedelta(hours=1)).isoformat()), 422, "at", "still to come"
        )
        self.assertEqual(self.log(at=(now - timedelta(hours=2)).isoformat()).status_code, 200)


class OddHours(SimpleTestCase):
    def test_what_is_asked(self):
        """Still to come; on the charger; before the last charge; else nothing."""
        life = [
            EventValue("a", 100.0, "charging"),
            EventValue("b", 200.0, "charge", ended="done"),
            EventValue("c", 300.0, "run"),
            EventValue("d", 400.0, "charging"),
        ]
        for at, of, asked in (
            (5000.0, life[:3], TO_COME),
            (1299.0, life[:3], ""),
            (150.0, life[:3], ON_THE_CHARGER),
            (50.0, life[:3], CHARGED_AFTER),
            (250.0, life[:3], ""),
            (450.0, life, ON_THE_CHARGER),
            (50.0, [], ""),
        ):
            with self.subTest(at):
                self.assertEqual(odd_hour(of, at, now=1000.0), asked)


class OtherClocks(RunCase):
    def said(self, kind, at, clock, tag="04"):
        """As a phone says it later, whose clock shows ``clock`` then."""
        headers = {"X-Clock": str(int(clock.timestamp() * 1000))}
        body, key = {"at": at.isoformat()}, str(uuid.uuid4())
        if kind == "run":
            body |= {"key": key, "model": "ptarmigan", "pack": tag, "minutes": 9}
            path = "/api/runs"
        else:
            body |= {"key": key, "packs": [tag]}
            path = "/api/keep/charged"
        reply = self.client.post(path, body, content_type="application/json", headers=headers)
        self.assertEqual(reply.status_code, 200, reply.content)

    def test_hours_ahead_or_behind(self):
        """Kept at the hour at which it was, by this machine's clock; seconds are no matter."""
        now = timezone.now()
        for ahead_h in (2.0, -3.0, 26.0, 0.0):
            with self.subTest(ahead_h), transaction.atomic():
                clock = now + timedelta(hours=ahead_h)
                self.said("run", clock - timedelta(minutes=40), clock)
                (run,) = events("04", kind="run")
                self.assertLess(abs(run.at - (now - timedelta(minutes=40))), timedelta(seconds=6))
                transaction.set_rollback(True)

    def test_a_clock_that_says_nothing(self):
        """What is no clock is left out, never an error; and nothing is kept of what is still to come."""
        later = timezone.now() + timedelta(hours=2)
        for said in ("", "soon", "9" * 40, "-5", "٣٣٣", "1"):
            with self.subTest(said), transaction.atomic():
                run = {"model": "ptarmigan", "pack": "04", "minutes": 9, "at": later.isoformat()}
                body = {**run, "key": str(uuid.uuid4())}
                headers = {"X-Clock": said.encode("ascii", "ignore").decode()}
                reply = self.client.post("/api/runs", body, content_type="application/json", headers=headers)
                self.assertEqual(reply.status_code, 200, reply.content)
                self.assertLess(events("04", kind="run")[-1].at, timezone.now())
                transaction.set_rollback(True)

    def test_lived_in_that_order(self):
        """Two phones and a computer, their clocks hours apart, acts that wait for hours and are sent in any
        order: the life of every pack is in the order in which it was lived."""
        draw, start, tags = random.Random(7), timezone.now(), ("04", "05", "01")
        ahead = {
            "one phone": timedelta(hours=2.5),
            "other phone": timedelta(hours=-4),
            "computer": timedelta(),
        }
        lived = {tag: [] for tag in tags}
        waiting, sent, at = [], 0, start
        while sent < many(2000, 300):
            at += timedelta(seconds=draw.randint(30, 900))
            who, tag, kind = draw.choice(list(ahead)), draw.choice(tags), draw.choice(["run", "charged"])
            lived[tag].append("run" if kind == "run" else "charge")
            waiting.append((who, kind, tag, at))
            if draw.random() < 0.4:
                # whoever has a line sends all that waits there, in its order
                of = "computer" if draw.random() < 0.3 else draw.choice(list(ahead))
                with CLOCK.earlier(start - at):
                    for act in [x for x in waiting if x[0] == of]:
                        self.said(act[1], act[3] + ahead[of], timezone.now() + ahead[of], act[2])
                        waiting.remove(act)
                        sent += 1
        with CLOCK.earlier(start - at):
            for who, kind, tag, when in waiting:
                self.said(kind, when + ahead[who], timezone.now() + ahead[who], tag)
        found = {t: list(self.since(t, start)) for t in tags}
        self.assertEqual(found, lived)

    def since(self, tag, start):
        of = Event.standing.filter(pack__tag=tag, at__gt=start, kind__in=("run", "charge"))
        return of.order_by("at", "id").values_list("kind", flat=True)
