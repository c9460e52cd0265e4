"""Twenty and fifty who write at once: none is told that the database is locked, and nothing is lost."""

import json
import threading

from django.db import connection
from django.test import Client, TransactionTestCase

from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.demo_world import demo_world

ACTS = 6


class ManyWriters(TransactionTestCase):
    def setUp(self):
        demo_world()
        self.tags = sorted(OwnedPack.live.values_list("tag", flat=True))

    def acts(self, k):
        """What one of them does: notes, runs, readings by hand, a change of gear; each with its key."""
        tag = self.tags[k % len(self.tags)]
        for n in range(ACTS):
            key = f"writer-{k:02d}-{n:02d}"
            yield "POST", f"/api/keep/packs/{tag}/notes", {"text": f"note {key}", "key": key}
            run = {"key": f"{key}-run", "model": "ptarmigan", "pack": tag, "minutes": 5 + n}
            yield "POST", "/api/runs", {**run, "at": "2026-11-25T13:00:00Z"}
            left = {"packs": [tag], "state": "stored", "key": f"{key}-left"}
            yield "POST", "/api/keep/left", left
            pk = OwnedPack.live.get(tag=tag).pk
            yield "PATCH", f"/api/gear/packs/{pk}", {"note": key}

    def write(self, k, gate, got):
        client = Client()
        gate.wait()
        for method, path, body in self.acts(k):
            reply = client.generic(method, path, json.dumps(body), content_type="application/json")
            got.append((reply.status_code, reply.content[:200] if reply.status_code != 200 else b""))
        connection.close()

    def test_all_at_once(self):
        """Every act is answered, and in the log once."""
        for many in (20, 50):
            with self.subTest(many):
                gate, got = threading.Barrier(many), []
                threads = [threading.Thread(target=self.write, args=(k, gate, got)) for k in range(many)]
                for thread in threads:
                    thread.start()
                for thread in threads:
                    thread.join()
                self.assertEqual([g for g in got if g[0] != 200], [])
                self.assertEqual(len(got), many * ACTS * 4)
                # those of the first twenty are said again by the fifty, and are once
                self.assertEqual(Event.objects.filter(key__startswith="writer-").count(), many * ACTS * 3)
