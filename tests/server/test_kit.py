"""The field kit beside the check itself: what the screen reads in it, on random packs, cells and warmth."""

import json
import random
import subprocess
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.utils import timezone

from coldstack.server.config.paths import PROJECT
from coldstack.server.gear.models import OwnedPack, OwnPlug, Piece, RcModel
from coldstack.server.gear.plugs import read_own_plugs
from coldstack.server.running import kits
from tests.clock import CLOCK
from tests.lives import told
from tests.server.test_run import RunCase
from tests.thorough import many

WEB = PROJECT / "web"
ASK = """
import { readFileSync } from "node:fs";
const { byKit } = await import(process.argv[1]);
const { kits, cases, now } = JSON.parse(readFileSync(process.argv[2]));
const since = { now: Date.parse(now), said: [], changed: false, other: false };
const ask = (c) => {
  const of = { got: Date.parse(kits[c.kit].made), told: 0, ...kits[c.kit] };
  return byKit(of, c.cells, c.temperature, { ...since, ...c.since });
};
const said = cases.map(ask);
process.stdout.write(JSON.stringify(said));
"""
ORDER = ["go", "careful", "no_go"]


def by_kit(kits, cases):
    """What the screen says of each case: its own source, bundled, asked by Node."""
    with tempfile.TemporaryDirectory() as folder:
        script, asked = Path(folder, "kit.mjs"), Path(folder, "cases.json")
        rolldown = WEB / "node_modules" / ".bin" / "rolldown"
        bundle = [str(rolldown), "src/stages/run/kit.ts", "--file", str(script)]
        subprocess.run(bundle, cwd=WEB, check=True, capture_output=True, timeout=120)
        asked.write_text(json.dumps({"kits": kits, "cases": cases, "now": timezone.now().isoformat()}))
        node = ["node", "--input-type=module", "-e", ASK, str(script), str(asked)]
        done = subprocess.run(node, check=True, capture_output=True, text=True, timeout=120)
        return json.loads(done.stdout)


CASES = many(500, 120)


class KitCase(RunCase):
    def kit(self, pack="04", model="ptarmigan"):
        return self.client.get("/api/run/kit", {"model": model, "pack": pack}).json()["kits"][0]

    def packs_of(self, model):
        return self.client.get("/api/run/packs", {"model": model}).json()


class BesideTheCheck(KitCase):
    def random_cases(self, count):
        """Models with packs of as many cells, cells near one another, some far, some low; warmth or none."""
        draw, kits, cases = random.Random(17), {}, []
        packs = {p.tag: p for p in OwnedPack.live.all()}
        models = [m.slug for m in RcModel.live.all()]
        fitting = [(m, p["tag"]) for m in models for p in self.packs_of(m) if p["runs"]]
        fitting = draw.sample(fitting, many(len(fitting), 8))
        others = draw.sample([(m, t) for m in models for t in sorted(packs)], many(8, 3))
        while len(cases) < count:
            slug, tag = draw.choice(fitting if draw.random() < 0.9 else others)
            kits.setdefault(f"{slug}/{tag}", None)
            full = {"lipo": 4.2, "lihv": 4.35, "liion": 4.2, "lifepo4": 3.6, "nimh": 1.45}
            top = full[packs[tag].chemistry] - draw.choice([0.0, 0.01, 0.02, draw.uniform(0, 0.6)])
            spread = draw.choice([0.0, 0.01, 0.02, 0.03, 0.05, draw.uniform(0, 0.2)])
            volts = [top - spread * draw.random() for _ in range(packs[tag].series)]
            digits = draw.choice([2, 2, 2, 3])
            if draw.random() < 0.25:
                volts = [sum(volts)]  # the whole pack by a multimeter
            # as people type them: with a point, a comma, or without either
            sign = draw.choice([".", ".", ",", ""])
            cells = " ".join(f"{v:.{digits}f}" for v in volts).replace(".", sign)
            warmth = draw.choice([None, None, draw.randint(-5, 39), round(draw.uniform(0, 39.9), 1)])
            cases.append({"kit": f"{slug}/{tag}", "cells": cells, "temperature": warmth})
        for name in kits:
            slug, tag = name.split("/", 1)
            kits[name] = self.kit(tag, slug)
        return kits, cases

    def test_never_more_lenient(self):
        """Random cases: verdict never better, timer and mAh never more, alarm the same; and as a rule
        they are the same to the digit."""
        kits, cases = self.random_cases(CASES)
        timers, apart = [], []
        for case, kit in zip(cases, by_kit(kits, cases), strict=True):
            slug, tag = case["kit"].split("/", 1)
            reply = self.go(tag, case["cells"], model=slug, temperature_c=case["temperature"])
            with self.subTest(case):
                answers = reply.status_code == 200
                self.assertEqual(kit["said"] == "verdict", answers, (kit, reply.content))
                if not answers:
                    continue
                here = reply.json()
                self.assertGreaterEqual(ORDER.index(kit["verdict"]), ORDER.index(here["verdict"]))
                self.assertEqual(kit["alarm_v"], here["alarm_v"])
                if kit["verdict"] != here["verdict"]:
                    apart.append((case, kit["reasons"], here["reasons"]))
                if here["verdict"] != "no_go":
                    self.assertLessEqual(kit["timer_s"], here["timer_s"])
                    self.assertLessEqual(kit["budget_mah"], here["budget_mah"])
                    share = kit["timer_s"] / here["timer_s"]
                    # where its warmth was read, rows share an answer: the next below
                    plain = case["temperature"] is None
                    self.assertGreater(share, 0.85 if plain else 0.6)
                    # what only the whole tells lies between two rows of the kit
                    if here["cells"] and plain:
                        timers.append(share)
        self.assertLessEqual(len(apart), max(1, CASES // 100), apart)
        self.assertGreater(len(timers), 0.2 * CASES)
        self.assertGreater(sum(t == 1.0 for t in timers) / len(timers), 0.8)


class WhatItSays(KitCase):
    FULL = "4.19 4.18 4.19 4.19"

    def said(self, cells=FULL, temperature=None, since=None, kit=None):
        case = {"kit": "one", "cells": cells, "temperature": temperature, "since": since or {}}
        return by_kit({"one": kit or self.kit()}, [case])[0]

    def test_nothing_of_what_it_cannot_know(self):
        """Something taken back, a changed job, an hour too old or not yet come, a warm pack, odd cells."""
        later = timezone.now() + timedelta(hours=12.1)
        before = timezone.now() - timedelta(hours=2)
        for case, words in (
            ({"since": {"other": True}}, "taken back or changed"),
            ({"since": {"changed": True}}, "changed since"),
            ({"since": {"now": later.timestamp() * 1000}}, "older than the 12 h"),
            ({"since": {"now": before.timestamp() * 1000}}, "older than"),
            ({"temperature": 41}, "0 to 40 °C"),
            ({"cells": "4.19 4.18"}, "2 readings were given"),
            ({"cells": "4.19 4.18 4.19 apple"}, "is no voltage"),
            ({"cells": "4.19 4.18 4.19 4.95"}, "does not read 4.95 V"),
            ({"cells": ""}, "0 readings were given"),
        ):
            with self.subTest(case):
                said = self.said(**case)
                self.assertEqual(said["said"], "nothing")
                self.assertIn(words, said["why"])

    def test_too_hot(self):
        """Beyond what it knows it says nothing, but above the house rules' limit no go, as the check does."""
        for temperature, said in ((45.0, None), (45.1, "no_go"), (62.0, "no_go")):
            kit, here = self.said(temperature=temperature), self.go(temperature_c=temperature).json()
            self.assertEqual(kit.get("verdict"), said, temperature)
            self.assertEqual(here["verdict"] == "no_go", said == "no_go", here["reasons"])
            if said:
                self.assertIn("hot", [r["id"] for r in kit["reasons"]])

    def test_the_house_rules_age(self):
        """Trusted for longer where the rules say so."""
        self.assertEqual(self.kit()["kit"]["good_h"], 12)
        changed = self.client.put(
            "/api/rules/sets/steady", {"values": {"kit_h": 30}}, content_type="application/json"
        )
        self.assertEqual(changed.status_code, 200, changed.content)
        later = timezone.now() + timedelta(hours=29)
        said = self.said(since={"now": later.timestamp() * 1000})
        self.assertEqual((self.kit()["kit"]["good_h"], said["said"]), (30, "verdict"))

    def test_what_makes_a_kit_old(self):
        """Its job, the house's rules, an adapter, a plug of one's own, the pack, anything said of it, another
        hour; not what is said of another pack, nor the minutes of one hour."""
        seen = [self.kit()["fingerprint"]]
        told("05", "note", text="windy")
        with CLOCK.earlier(timedelta(minutes=-1)):
            self.assertEqual(self.kit()["fingerprint"], seen[0])
        for change in (self.draws_more, self.other_rules, self.an_adapter, self.a_plug, self.smaller):
            change()
            seen.append(self.kit()["fingerprint"])
        told("04", "note", text="windy")
        seen.append(self.kit()["fingerprint"])
        with CLOCK.earlier(timedelta(hours=-1)):
            seen.append(self.kit()["fingerprint"])
        self.assertEqual(len(set(seen)), 8)

    def draws_more(self):
        row = RcModel.live.get(slug="ptarmigan")
        row.job["draw"]["average_a"] += 1
        row.save()

    def other_rules(self):
        url = "/api/rules/sets/steady"
        self.client.put(url, {"values": {"kit_h": 30}}, content_type="application/json")

    def an_adapter(self):
        Piece.objects.create(name="Made up", pack_plug="xt60", device_plug="ec3")

    def a_plug(self):
        OwnPlug.objects.create(name="Made up", code="own:made_up", continuous_a=20)
        read_own_plugs()

    def smaller(self):
        pack = OwnedPack.live.get(tag="04")
        pack.capacity_ah -= 0.1
        pack.save()

    def test_it_is_of_its_hour(self):
        """Asked again it is as old as it says."""
        first = self.kit()
        with CLOCK.earlier(timedelta(minutes=-1)):
            self.assertLess(first["made"], self.kit()["made"])

    def test_which_hold(self):
        """The marks are those of the kits, of packs that fit, the readiest first; and never of more than
        thirty."""
        marks = self.client.get("/api/run/kits", {"model": "ptarmigan"}).json()
        fitting = [p["tag"] for p in self.packs_of("ptarmigan") if p["runs"]]
        self.assertEqual([m["tag"] for m in marks["kits"]], fitting)
        for mark in marks["kits"]:
            kit = self.kit(mark["tag"])
            self.assertEqual((kit["fingerprint"], kit["job"]), (mark["fingerprint"], marks["job"]))
        with mock.patch("coldstack.server.running.kits.KITS_AT_ONCE", 2):
            some = self.client.get("/api/run/kits", {"model": "ptarmigan"}).json()
        self.assertEqual([m["tag"] for m in some["kits"]], fitting[:2])

    def test_a_pack_that_may_not_be_run(self):
        """Whatever it reads: the club's lazy one is no go by the kit too."""
        said = self.said(kit=self.kit("03"))
        self.assertEqual((said["verdict"], said["reasons"][0]["id"]), ("no_go", "pack.unfit"))

    def test_what_is_not_there(self):
        """Packs and models."""
        for pack, model, status in (("99", "ptarmigan", 422), ("04", "albatross", 404)):
            reply = self.client.get("/api/run/kit", {"model": model, "pack": pack})
            self.assertEqual(reply.status_code, status)


class AskedAgain(KitCase):
    def made(self):
        with mock.patch.object(kits, "said_since", wraps=kits.said_since) as asked:
            tags = [k["tag"] for k in self.client.get("/api/run/kits", {"model": "ptarmigan"}).json()["kits"]]
            self.assertEqual(asked.call_count, 0)  # which of them hold, a stamp tells
            found = self.client.get("/api/run/kit", {"model": "ptarmigan", "pack": tags}).json()["kits"]
        self.assertEqual([k["tag"] for k in found], tags)
        return len(tags), asked.call_count

    def test_only_what_changed_is_made(self):
        """While nothing is said no kit is made again; then that of one; after an hour all."""
        kits.forget_kits()
        count, made = self.made()
        self.assertEqual(made, count)
        self.assertEqual(self.made()[1], 0)
        told("04", "note", text="a little wind")
        self.assertEqual(self.made()[1], 1)
        with CLOCK.earlier(timedelta(hours=-1)):
            self.assertEqual(self.made()[1], count)

    def test_some_at_once(self):
        """As each alone; one that is not there is left out; none of more than thirty."""
        reply = self.client.get("/api/run/kit", {"model": "ptarmigan", "pack": ["05", "99", "04"]}).json()
        pairs = zip(("05", "04"), reply["kits"], strict=True)
        alone = [{**self.kit(tag), "made": kit["made"]} for tag, kit in pairs]
        self.assertEqual(reply["kits"], alone)
        many_kits = self.client.get("/api/run/kit", {"model": "ptarmigan", "pack": ["04"] * 31})
        self.assertEqual(many_kits.status_code, 422)
