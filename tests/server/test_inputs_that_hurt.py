"""What no schema forbids and nobody means: answered in one shape, with a sentence, and never by 5xx."""

import json
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile

from coldstack.server.gear.csv_words import column_of
from coldstack.server.gear.models import OwnedPack
from tests.server.case import DemoCase

YEARS = ("0001-01-01T00:00:00", "9999-12-31T23:59:00")


class Shape(DemoCase):
    def put(self, path, body):
        return self.client.put(path, json.dumps(body), content_type="application/json")

    def test_every_refusal_is_a_problem(self):
        """Unknown addresses under /api, methods that are not there, another host: problem+json, in words."""
        for reply, status in (
            (self.client.get("/api/nothing/here"), 404),
            (self.post("/api/nothing/here", {}), 404),
            (self.client.delete("/api/health"), 405),
            (self.client.get("/api/health", headers={"host": "elsewhere.example"}), 400),
        ):
            with self.subTest(status=status):
                self.assertEqual(reply.status_code, status)
                self.assertEqual(reply["Content-Type"], "application/problem+json")
                self.assertTrue(json.loads(reply.content)["detail"].endswith("."))

    def test_too_much(self):
        """Six megabytes of JSON: told so."""
        reply = self.client.post(
            "/api/bench/plan", b'{"laid":[' + b"0," * 3_000_000 + b"0]}", content_type="application/json"
        )
        self.assertEqual((reply.status_code, reply["Content-Type"]), (413, "application/problem+json"))

    def test_years_that_nobody_means(self):
        """The year 1 and 9999, at the field, wherever a moment is given; with a zone and without."""
        for year in YEARS:
            for field in ("at", "ready_by"):
                with self.subTest(field=field, year=year):
                    self.assert_problem(self.post("/api/bench/plan", {"laid": [], field: year}), 422, field)
            self.assert_problem(self.put("/api/bench", {"ready_by": year}), 422, "ready_by")
            run = {"key": "k" * 12, "model": "x", "pack": "x", "at": f"{year}Z", "minutes": 5}
            self.assert_problem(self.post("/api/runs", run), 422, "at")
            laid = [{"pack": "owned:x", "cells": "3.8", "read_at": f"{year}Z"}]
            self.assert_problem(self.post("/api/bench/plan", {"laid": laid}), 422, "laid.0.read_at")

    def test_a_zone_does_not_break_a_bench(self):
        """Ready by a time with Z: kept as the hands of the clock, and the bench opens."""
        self.assertEqual(self.put("/api/bench", {"ready_by": "2027-01-01T10:00:00Z"}).status_code, 200)
        self.assertEqual(self.client.get("/api/bench").status_code, 200)
        plan = self.post(
            "/api/bench/plan", {"at": "2027-01-01T08:00:00+02:00", "ready_by": "2027-01-01T10:00:00Z"}
        )
        self.assertEqual((plan.status_code, plan.json()["due_min"]), (200, 120))

    def test_numbers_without_end(self):
        """400 digits, in an address and in a body."""
        big = "9" * 400
        self.assertEqual(self.post(f"/api/charges/{big}/stop", {}).status_code, 404)
        for body in (
            f'{{"laid": [], "attended": {big}}}',
            f'{{"laid": [{{"pack": "x", "temperature_c": {big}}}]}}',
        ):
            reply = self.client.post("/api/bench/plan", body, content_type="application/json")
            self.assertEqual((reply.status_code, reply["Content-Type"]), (422, "application/problem+json"))
        for field in ("balance_a", "port_a"):
            row = {"name": "Tiny", "chemistries": ["lipo"], "series_max": 6, "port_a": 6, "port_w": 80}
            reply = self.post("/api/gear/chargers", {**row, "balance_families": ["xh"], field: 1e-300})
            self.assert_problem(reply, 422, field)


class Files(DemoCase):
    def test_static_files_are_for_this_host_and_this_page(self):
        """Another host gets none; no other page may read or frame them; the page itself has its policy."""
        self.assertEqual(
            self.client.get("/static/index.html", headers={"host": "elsewhere.example"}).status_code, 400
        )
        reply = self.client.get("/static/index.html")
        self.assertNotIn("Access-Control-Allow-Origin", reply)
        if reply.status_code == 200:
            self.assertIn("frame-ancestors 'none'", reply["Content-Security-Policy"])
            self.assertEqual(reply["X-Frame-Options"], "DENY")

    def test_a_header_of_equal_columns(self):
        """300,000 of them are refused in a moment."""
        with mock.patch("coldstack.server.gear.file_reading.column_of", side_effect=column_of) as looked:
            reply = self.preview(("a," * 300_000 + "a\n1\n").encode())
        self.assertEqual(reply.status_code, 422, reply.content[:200])
        self.assertLess(looked.call_count, 3000)

    def test_a_table_of_nothing_but_commas(self):
        """Told in words."""
        reply = self.preview(b",,,,,\n,,,,\n")
        self.assertEqual(reply.status_code, 422, reply.content[:200])

    def preview(self, content):
        return self.client.post(
            "/api/files/preview", {"file": SimpleUploadedFile("packs.csv", content), "kind": "packs"}
        )


class Tags(DemoCase):
    def test_a_slash_in_a_tag(self):
        """Its page, its notes and its checks, as any other's."""
        OwnedPack.live.filter(tag="04").update(tag="A/4")
        self.assertEqual(self.client.get("/api/keep/packs/A%2F4").status_code, 200)
        self.assertEqual(self.post("/api/keep/packs/A%2F4/notes", {"text": "From the club"}).status_code, 200)
        self.assertEqual(self.client.get("/api/keep/packs/A%2F4/typos?cells=3.8").status_code, 200)
