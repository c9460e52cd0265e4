"""What the server tests share: the demo world, a client, and one way to look at problems."""

from __future__ import annotations

import copy
import json

from django.test import TestCase

from coldstack.server.gear.models import RcModel
from tests.demo_world import demo_world


class DemoCase(TestCase):
    """A test in the demo world."""

    @classmethod
    def setUpTestData(cls):
        demo_world()

    def job(self, slug="ptarmigan", **parts):
        """A model's job with some parts changed: ``draw={"peak_a": 50}``."""
        job = copy.deepcopy(RcModel.objects.get(slug=slug).job)
        for key, value in parts.items():
            job[key] = {**job[key], **value} if isinstance(value, dict) else value
        return job

    def post(self, path, body):
        """POST of JSON; a string is sent as it is."""
        text = body if isinstance(body, str) else json.dumps(body)
        return self.client.post(path, text, content_type="application/json")

    def plan(self, slug="ptarmigan", aim="all_round", **parts):
        """A plan for a demo model."""
        reply = self.post("/api/sizing/plan", {"job": self.job(slug, **parts), "aim": aim})
        self.assertEqual(reply.status_code, 200, reply.content[:400])
        return reply.json()

    def details(self, slug, ids, **parts):
        """Candidates in full."""
        reply = self.post("/api/sizing/details", {"job": self.job(slug, **parts), "ids": ids})
        self.assertEqual(reply.status_code, 200, reply.content[:400])
        return reply.json()

    def assert_problem(self, reply, status, field=None, words=""):
        """A problem+json with this status, that names the field and says the words."""
        self.assertEqual(reply.status_code, status, reply.content[:400])
        self.assertEqual(reply["Content-Type"], "application/problem+json")
        body = reply.json()
        self.assertEqual(body["status"], status)
        if field is not None:
            messages = {e["field"]: e["message"] for e in body["errors"]}
            self.assertIn(field, messages)
            self.assertRegex(messages[field], words or ".")
        else:
            self.assertRegex(body["detail"], words or ".")
