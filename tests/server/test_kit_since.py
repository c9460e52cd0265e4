"""What is said without a line counts in the kit's verdict at once: random histories of acts on a phone, asked
there, beside the same acts sent and asked at the computer."""

import random
import uuid
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.clock import CLOCK
from tests.lives import told
from tests.server.test_kit import ORDER, KitCase, by_kit
from tests.thorough import many

HISTORIES = many(2000, 160)
SIGNS = ("swollen", "dented", "punctured", "leads", "crashed", "low_cell", "warm")
TOP = {"lipo": 4.2, "lihv": 4.35, "liion": 4.2, "lifepo4": 3.6, "nimh": 1.45}


class Aside(Exception):
    """What was said is not kept."""


class Acts(KitCase):
    """Acts of a phone, and how each is sent."""

    def sent(self, act, at):
        """As the phone sends it; the status of the answer."""
        body, at = act["body"], at.isoformat()
        if act["kind"] == "run":
            return self.post("/api/runs", body).status_code
        if act["kind"] in ("left", "charged"):
            return self.post(f"/api/keep/{act['kind']}", {**body, "key": act["key"], "at": at}).status_code
        path = {"look": "looks", "check": "checks"}[act["kind"]]
        tag = body["tag"]
        told = {**{k: v for k, v in body.items() if k != "tag"}, "key": act["key"], "at": at}
        return self.post(f"/api/keep/packs/{tag}/{path}", told).status_code

    def cells(self, draw, pack, *, low=0.0):
        """As somebody reads them: near one another mostly, the whole at times."""
        top = TOP[pack.chemistry] - low
        spread = draw.choice([0.0, 0.01, 0.02, 0.02, draw.uniform(0, 0.15)])
        volts = [max(top - spread * draw.random(), 0.6) for _ in range(pack.series)]
        if draw.random() < 0.2:
            volts = [sum(volts)]
        return " ".join(f"{v:.2f}" for v in volts)

    def act(self, draw, pack, slug, at):
        """One act of a pack, as a phone keeps it."""
        kind = draw.choice(["run", "run", "run", "look", "check", "left", "charged", "charged"])
        held, warm = pack.capacity_ah * 1000, draw.choice([None, None, draw.randint(5, 60)])
        landed = self.cells(draw, pack, low=draw.uniform(0.35, 0.6))
        body = {
            "run": lambda: {
                "key": str(uuid.UUID(int=draw.getrandbits(128))),
                "model": slug,
                "pack": pack.tag,
                "at": at.isoformat(),
                "minutes": draw.choice([8.0, 9.5, 6.0, draw.uniform(0.5, 14)]),
                "landed": draw.choice(["", "", landed]),
                "cells": draw.choice(["", self.cells(draw, pack)]),
                "signs": draw.choice([[], [], [], [draw.choice(SIGNS)]]),
                "temperature_c": warm,
            },
            "look": lambda: {
                "tag": pack.tag,
                "signs": draw.choice([[], [], draw.sample(SIGNS, draw.choice([1, 2]))]),
                "at_room": draw.random() < 0.5,
                "temperature_c": warm,
            },
            "check": lambda: {
                "tag": pack.tag,
                "cells": draw.choice([landed, self.cells(draw, pack)]),
                "mohm": " ".join(["3.1"] * pack.series) if draw.random() < 0.1 else "",
                "temperature_c": warm,
                "put_in_mah": draw.choice([None, None, held * draw.uniform(0.4, 1.0)]),
                "balance_min": draw.choice([None, None, None, 25.0]),
            },
            "left": lambda: {"packs": [pack.tag], "state": draw.choice(["full", "stored", "spent"])},
            "charged": lambda: {
                "packs": [pack.tag],
                "put_in_mah": draw.choice([None, None, held * draw.uniform(0.4, 1.0)]),
            },
        }[kind]()
        key = body.get("key", f"act-{draw.getrandbits(64):016x}")
        return {"kind": kind, "key": key, "at": at.timestamp() * 1000, "body": body, "sent": None}

    def past(self, draw, pack):
        """Something of its past, so that its health stands near a limit at times."""
        what = draw.choice(["apart", "lay", "short", "little", "none", "none"])
        cells, top = pack.series, TOP[pack.chemistry] - 0.1
        days = draw.uniform(4, 20)
        if what == "apart" and cells > 1:
            for k in (2, 1):
                told(
                    pack, "reading", days_ago=k * 0.5, cell_v=[top, *[top - 0.05] * (cells - 1)], by="checker"
                )
        elif what == "lay":
            told(pack, "charge", days_ago=days, ended="done", end_cell_v=[top + 0.09] * cells, by="charger")
            told(pack, "reading", days_ago=days - 0.3, cell_v=[top + 0.09] * cells, by="checker")
        elif what == "short":
            for k in range(8):
                told(pack, "run", days_ago=30 - 3 * k, minutes=9.0 if k < 6 else 5.5, model="ptarmigan")
        elif what == "little":
            for k in range(6):
                ah = pack.capacity_ah * (0.95 if k < 4 else 0.8)
                told(pack, "charge", days_ago=30 - 3 * k, ended="done", capacity_ah=ah, mah=900 * ah)


class NeverMoreLenient(Acts):
    def test_what_waits_counts_at_once(self):
        """Random histories: the verdict is never better than with all of it sent, timer and mAh never more;
        and mostly there is one."""
        draw, packs = random.Random(30), list(OwnedPack.live.order_by("tag"))
        for pack in draw.sample(packs, len(packs) // 2):
            self.past(draw, pack)
        models = [m.slug for m in RcModel.live.all()]
        fitting = [(m, p["tag"]) for m in models for p in self.packs_of(m) if p["runs"]]
        fitting = draw.sample(fitting, many(len(fitting), 10))
        by_tag = {p.tag: p for p in packs}
        kits = {f"{m}/{t}": self.kit(t, m) for m, t in fitting}
        start, cases = timezone.now(), []
        for _ in range(HISTORIES):
            slug, tag = draw.choice(fitting)
            at, acts = start, []
            for _ in range(draw.choice([1, 1, 2, 3, 5])):
                at += timedelta(minutes=draw.choice([1, 5, 20, 45]))
                acts.append(self.act(draw, by_tag[tag], draw.choice([slug, slug, slug, *models]), at))
            asked_at = at + timedelta(minutes=draw.choice([1, 10, 40]))
            low = draw.choice([0.0, 0.01, 0.02, draw.uniform(0, 0.3)])
            cells = self.cells(draw, by_tag[tag], low=low)
            warmth = draw.choice([None, None, draw.randint(1, 39)])
            since = {"said": acts, "now": asked_at.timestamp() * 1000}
            cases.append({"kit": f"{slug}/{tag}", "cells": cells, "temperature": warmth, "since": since})
        verdicts, lenient = [], []
        for case, kit in zip(cases, by_kit(kits, cases), strict=True):
            here = self.online(case)
            if here is None:
                continue  # the server refuses some of it
            verdicts.append(kit.get("verdict", "nothing"))
            if kit["said"] == "nothing":
                continue
            worse = ORDER.index(kit["verdict"]) < ORDER.index(here["verdict"])
            goes = here["verdict"] != "no_go" and kit["verdict"] != "no_go"
            longer = goes and (kit["timer_s"] > here["timer_s"] or kit["budget_mah"] > here["budget_mah"])
            if worse or longer:
                lenient.append((case, kit, here))
        self.assertEqual([self.told_briefly(*x) for x in lenient], [])
        counts = {v: verdicts.count(v) / len(verdicts) for v in set(verdicts)}
        self.assertGreater(len(verdicts), 0.9 * len(cases))
        self.assertLess(counts["nothing"], 0.45)
        self.assertGreater(counts["go"] + counts["careful"], 0.15)

    def online(self, case):
        """The server's verdict with all of it said, each at its hour; all is forgotten afterwards."""
        found = None
        slug, tag = case["kit"].split("/", 1)
        try:
            with transaction.atomic():
                for act in case["since"]["said"]:
                    ahead = act["at"] / 1000 - timezone.now().timestamp()
                    with CLOCK.earlier(timedelta(seconds=-ahead - 1)):
                        if self.sent(act, timezone.now()) != 200:
                            raise Aside
                ahead = case["since"]["now"] / 1000 - timezone.now().timestamp()
                with CLOCK.earlier(timedelta(seconds=-ahead)):
                    reply = self.go(tag, case["cells"], model=slug, temperature_c=case["temperature"])
                found = reply.json() if reply.status_code == 200 else None
                raise Aside
        except Aside:
            return found

    def told_briefly(self, case, kit, here):
        acts = [(a["kind"], round(a["at"] / 60000) % 10000, a["body"]) for a in case["since"]["said"]]
        both = [
            (x["verdict"], x["timer_s"], x["budget_mah"], [r["id"] for r in x["reasons"]])
            for x in (kit, here)
        ]
        return case["kit"], case["cells"], case["temperature"], acts, both, here["reasons"][:1]
