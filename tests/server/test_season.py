"""A household without a cell checker through half a year: a multimeter, and a charger that nobody links.

Each week the packs are read as a whole, looked at, charged by hand, run, landed and brought to storage. At no
step is there nothing that one may do next.
"""

import random
import uuid
from datetime import timedelta
from unittest.mock import patch

from django.utils import timezone

from coldstack.core.cells.open_circuit import resting_voltage
from tests.lives import events
from tests.server.test_owning import CHARGER, EmptyCase

WEEKS = 26
MODELS = (
    {
        "name": "Siskin",
        "kind": "multirotor",
        "mass_g": 410,
        "now": {"series": 4, "capacity_ah": 1.3, "label_c": 75},
        "usage": {"minutes": 4.5},
    },
    {
        "name": "Dunlin",
        "kind": "car",
        "mass_g": 1500,
        "now": {"chemistry": "nimh", "series": 6, "capacity_ah": 3.0},
        "usage": {"minutes": 12},
    },
)


class Season(EmptyCase):
    def setUp(self):
        super().setUp()
        self.clock = timezone.now() - timedelta(weeks=WEEKS + 1)
        self.enterContext(patch("django.utils.timezone.now", lambda: self.clock))
        self.draw = random.Random(8)
        self.slugs = [self.made(m, count=1, state="stored")["slug"] for m in MODELS]
        self.post("/api/gear/chargers", CHARGER)

    def later(self, **how_long):
        self.clock += timedelta(**how_long)

    def by_meter(self, tag, soc):
        """The whole pack, to a hundredth of a volt, with a decimal comma half of the time."""
        kind, series = ("lipo", 4) if tag == "01" else ("nimh", 6)
        volts = series * resting_voltage(kind, soc) + self.draw.gauss(0, 0.02)
        return f"{volts:.2f}".replace(".", self.draw.choice(".,"))

    def charged(self, tag, soc):
        """Looked at, read, planned on the charger that one has, and told when it is full."""
        self.post(f"/api/keep/packs/{tag}/looks", {"at_room": True})
        laid = [{"pack": f"owned:{tag}", "cells": self.by_meter(tag, soc)}]
        plan = self.post("/api/bench/plan", {"laid": laid}).json()
        (line,) = plan["laid"]
        self.assertEqual((line["problem"], line["outcome"]), ("", "pass"), line["findings"])
        self.assertEqual(plan["undone"], [])
        (slot,) = plan["slots"]
        most_c = 0.5 if tag == "01" else 1.0
        self.assertLessEqual(slot["current_a"], most_c * (1.3 if tag == "01" else 3.0) + 1e-9)
        self.later(minutes=plan["slots"][0]["end_min"] - plan["slots"][0]["start_min"])
        mah = 1000 * (1.3 if tag == "01" else 3.0) * (1 - soc) * self.draw.uniform(0.98, 1.02)
        told = {"packs": [tag], "put_in_mah": round(mah)} if self.draw.random() < 0.6 else {"packs": [tag]}
        self.assertEqual(self.post("/api/keep/charged", told).status_code, 200)

    def run_(self, slug, tag):
        """Read or taken as full, go or with care, logged with what the meter says after it."""
        cells = self.by_meter(tag, 1.0) if self.draw.random() < 0.7 else ""
        go = self.post("/api/run/go", {"model": slug, "pack": tag, "cells": cells})
        self.assertEqual(go.status_code, 200, go.content)
        found = go.json()
        self.assertNotEqual(found["verdict"], "no_go", found["reasons"])
        self.assertGreater(found["timer_s"], 0)
        self.later(seconds=found["timer_s"])
        run = {
            "key": str(uuid.uuid4()),
            "model": slug,
            "pack": tag,
            "at": self.clock.isoformat(),
            "minutes": round(found["timer_s"] / 60, 1),
            "cells": cells,
            "landed": self.by_meter(tag, 0.3),
        }
        reply = self.post("/api/runs", run)
        self.assertEqual(reply.status_code, 200, reply.content)
        self.assertIsNone(reply.json()["question"], reply.json())

    def test_no_dead_end(self):
        """Twenty-six weeks; in the end both are sound, known, and due for nothing that one cannot do."""
        for week in range(WEEKS):
            with self.subTest(week=week):
                for slug, tag in zip(self.slugs, ("01", "02"), strict=True):
                    self.charged(tag, 0.45 if week else 0.5)
                    self.later(minutes=40)
                    self.run_(slug, tag)
                    self.later(hours=2)
                    ways = self.client.get(
                        f"/api/keep/packs/{tag}/to-storage", {"cells": self.by_meter(tag, 0.3), "model": slug}
                    ).json()
                    self.assertTrue(ways["reckoned"], ways)
                self.post("/api/keep/left", {"packs": ["01"], "state": "stored"})
                self.later(days=6)
        for tag, slug in (("01", self.slugs[0]), ("02", self.slugs[1])):
            page = self.client.get(f"/api/keep/packs/{tag}").json()
            self.assertEqual((page["cycles"], page["run_count"]), (WEEKS, WEEKS))
            self.assertIn(page["line"]["level"], ("fine", "again"), page["line"]["sign"])
            self.assertEqual(page["line"]["bars"], "")
            learned = self.client.get("/api/runs", {"model": slug}).json()["learned"]
            # volts at rest tell of what a LiPo gave, and not of a NiMH
            self.assertEqual(learned is not None, tag == "01")
        self.assertEqual(len(events("01", kind="charge")), WEEKS)
        shelf = self.client.get("/api/keep/shelf").json()
        self.assertEqual(sum(len(g["packs"]) for g in shelf["groups"]), 2)
