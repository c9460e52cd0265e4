"""What was said without a line: kept as of when it was said, once, and never as something to come."""

from datetime import timedelta

from django.utils import timezone

from coldstack.server.life.models import Event
from tests.server.case import DemoCase

ACTS = (
    ("/api/keep/packs/04/notes", {"text": "Dropped on its corner."}),
    ("/api/keep/packs/04/checks", {"cells": "3.80 3.81 3.80 3.80"}),
    ("/api/keep/packs/04/looks", {"signs": [], "at_room": True}),
    ("/api/keep/left", {"packs": ["04"], "state": "stored"}),
)


class SaidLater(DemoCase):
    def test_as_of_then(self):
        """Each kind, with the hour it was said at; sent twice it is once."""
        at = timezone.now() - timedelta(hours=3)
        for k, (path, body) in enumerate(ACTS):
            before = Event.objects.count()
            for _ in range(2):
                reply = self.post(path, {**body, "key": f"said-later-{k}", "at": at.isoformat()})
                self.assertEqual(reply.status_code, 200, reply.content)
            self.assertEqual(Event.objects.count(), before + 1)
            self.assertEqual(Event.objects.latest("id").at, at)

    def test_a_clock_that_is_ahead(self):
        """It is now, not tomorrow."""
        tomorrow = timezone.now() + timedelta(days=1)
        for k, (path, body) in enumerate(ACTS):
            self.post(path, {**body, "key": f"said-ahead-{k}", "at": tomorrow.isoformat()})
            self.assertLessEqual(Event.objects.latest("id").at, timezone.now())

    def test_a_reading_from_before_a_run(self):
        """Sent after the run that followed it, it says nothing of the pack now."""
        now = timezone.now()
        run = {"key": "run-after-reading", "model": "ptarmigan", "pack": "04", "minutes": 9}
        self.post("/api/runs", {**run, "at": now.isoformat()})
        at = (now - timedelta(hours=1)).isoformat()
        cells = {"cells": "4.19 4.19 4.19 4.19", "key": "reading-before-run", "at": at}
        self.assertEqual(self.post("/api/keep/packs/04/checks", cells).status_code, 200)
        line = self.client.get("/api/keep/packs/04").json()["line"]
        self.assertIn(line["state"], ("cooling", "spent"))

    def test_years_that_nobody_means(self):
        """Refused at its field."""
        reply = self.post("/api/keep/packs/04/notes", {"text": "x", "at": "9999-12-31T23:59:59Z"})
        self.assertEqual((reply.status_code, reply.json()["errors"][0]["field"]), (422, "at"))
