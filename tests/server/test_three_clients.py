"""Two tabs and a phone with a bad line do many random acts on job, bench, gear and runs: nothing that was
acknowledged is lost or doubled, and nobody overwrites what he has not seen without being asked."""

import copy
import json
import random
import uuid

from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.server.case import DemoCase
from tests.thorough import many

ACTS = many(2000, 500)
ANSWER_LOST, LINE_DOWN = 0.15, 0.15
FIELDS = {
    "job": (("draw", "average_a"), ("draw", "peak_a"), ("mass_g",), ("bay", "air_c"), ("now", "mass_g")),
    "bench": (("board",), ("ready_by",), ("label_trust",)),
    "gear": (("note",), ("mass_g",), ("label_c",)),
}


def at(document, path):
    for name in path:
        document = document[name]
    return document


def put_at(document, path, value):
    for name in path[:-1]:
        document = document[name]
    document[path[-1]] = value


class Lost(Exception):
    """No answer came."""


class Person:
    """One of the three: what he has read of each document, and runs that wait to be sent."""

    def __init__(self, case, name, bad_line):
        self.case, self.name, self.bad_line = case, name, bad_line
        self.read = {kind: case.fetch(kind) for kind in case.kinds}
        self.waiting = []

    def ask(self, send):
        """A request by his line: it may not get there, or its answer may not come back."""
        luck = self.case.luck.random() if self.bad_line else 1
        if luck < LINE_DOWN:
            raise Lost
        reply = send()
        if luck < LINE_DOWN + ANSWER_LOST:
            raise Lost
        return reply

    def look(self, kind):
        try:
            self.read[kind] = self.ask(lambda: self.case.fetch(kind))
        except Lost:
            return

    def change(self, kind, path, value):
        """Merges what others did in other fields; asked about the same one he takes his own or theirs."""
        for _ in range(4):
            document, version = self.read[kind]
            seen = at(document, path)
            mine = copy.deepcopy(document)
            put_at(mine, path, value)
            try:
                status = self.ask(lambda m=mine, v=version: self.case.write(kind, path, m, v, self))
            except Lost:
                return  # sent again when he looks again
            if status == 200:
                self.case.acknowledged(kind, path, value)
                self.read[kind] = self.case.fetch(kind)
                return
            self.case.assertEqual(status, 412)
            self.read[kind] = self.case.fetch(kind)
            if at(self.read[kind][0], path) != seen and self.case.luck.random() < 0.5:
                return  # he was asked, and let theirs stand

    def run(self):
        self.waiting.append(str(uuid.UUID(int=self.case.luck.getrandbits(128))))

    def send(self):
        for key in list(self.waiting):
            run = {"key": key, "model": "ptarmigan", "pack": "04", "minutes": 7}
            body = {**run, "at": "2026-11-25T12:00:00Z"}
            try:
                reply = self.ask(lambda b=body: self.case.post("/api/runs", b))
            except Lost:
                return
            self.case.assertEqual(reply.status_code, 200)
            self.waiting.remove(key)
            self.case.runs.add(key)


class ThreeClients(DemoCase):
    kinds = ("job", "bench", "gear")

    def setUp(self):
        super().setUp()
        self.luck, self.runs, self.truth = random.Random(3), set(), {}
        self.pack = OwnedPack.live.get(tag="04").pk
        self.paths = {
            kind: [p for p in FIELDS[kind] if self.has(self.fetch(kind)[0], p)] for kind in self.kinds
        }

    @staticmethod
    def has(document, path):
        try:
            value = at(document, path)
        except (KeyError, TypeError):
            return False
        return value is None or isinstance(value, (int, float, str))

    def fetch(self, kind):
        """A document and its version."""
        if kind == "job":
            model = self.client.get("/api/models/ptarmigan").json()
            return model["job"], model["version"]
        if kind == "bench":
            kept = self.client.get("/api/bench").json()
            return kept["bench"], kept["version"]
        row = next(r for r in self.client.get("/api/gear/packs").json() if r["id"] == self.pack)
        version = row.pop("version")
        return row, version

    def write(self, kind, path, document, version, who):
        """As the screens do: whole documents, of gear what was changed; the server's own word is kept."""
        address, body, send = {
            "job": ("/api/models/ptarmigan/job", document, self.client.put),
            "bench": ("/api/bench", document, self.client.put),
            "gear": (f"/api/gear/packs/{self.pack}", {path[0]: at(document, path)}, self.client.patch),
        }[kind]
        reply = send(
            address, json.dumps(body), content_type="application/json", headers={"If-Match": version}
        )
        self.assertIn(reply.status_code, (200, 412), reply.content[:300])
        if reply.status_code == 200:
            # what stands now, whether he hears of it or not
            self.truth[(kind, path)] = (at(document, path), who.name)
        return reply.status_code

    def acknowledged(self, kind, path, value):
        """It stands at this moment."""
        self.assertEqual(at(self.fetch(kind)[0], path), value)

    def value(self, kind, path):
        if path[-1] == "note":
            return f"note {self.luck.randrange(10**6)}"
        if path[-1] == "average_a":
            return round(self.luck.uniform(12, 20), 1)
        if path[-1] == "peak_a":
            return round(self.luck.uniform(25, 40), 1)
        if path[-1] == "air_c":
            return self.luck.randrange(5, 30)
        if path[-1] == "board":
            return self.luck.choice(["", None])
        if path[-1] == "ready_by":
            return f"2026-11-26T{self.luck.randrange(10, 24)}:00:00"
        if path[-1] == "label_trust":
            return self.luck.choice(["cautious", "as_printed"])
        return self.luck.randrange(20, 90) if path[-1] == "label_c" else self.luck.randrange(300, 600)

    def test_two_tabs_and_a_phone(self):
        """At the end everybody who looks sees the server's truth; each field is as it was last written by
        somebody who had seen what was there; each run is in the log once."""
        people = [Person(self, "tab", False), Person(self, "other tab", False), Person(self, "phone", True)]
        self.assertGreaterEqual(min(len(p) for p in self.paths.values()), 1, self.paths)
        for _ in range(ACTS):
            who = self.luck.choice(people)
            act = self.luck.random()
            if act < 0.2:
                who.look(self.luck.choice(self.kinds))
            elif act < 0.35:
                who.run()
            elif act < 0.5:
                who.send()
            else:
                kind = self.luck.choice(self.kinds)
                path = self.luck.choice(self.paths[kind])
                who.change(kind, path, self.value(kind, path))
        for who in people:
            who.bad_line = False
            who.send()
            self.assertEqual(who.waiting, [])
            for kind in self.kinds:
                who.look(kind)
                self.assertEqual(who.read[kind], self.fetch(kind))
        for (kind, path), (value, name) in self.truth.items():
            self.assertEqual(at(self.fetch(kind)[0], path), value, f"{kind} {path} as {name} left it")
        logged = Event.standing.filter(kind="run", key__in=self.runs)
        self.assertEqual(logged.count(), len(self.runs))
        self.assertGreater(len(self.runs), ACTS / 10)
