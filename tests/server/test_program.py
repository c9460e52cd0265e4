import json
import os
import re
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import urllib.request
from contextlib import closing
from io import StringIO
from pathlib import Path
from unittest import mock

import schemathesis
from django.core.management import call_command
from django.test import Client, SimpleTestCase, TransactionTestCase, override_settings
from hypothesis import given, settings
from schemathesis.specs.openapi.checks import positive_data_acceptance

from coldstack.demo.load import load_if_empty
from coldstack.server.api.api import api
from coldstack.server.config.paths import PROJECT
from coldstack.server.config.settings import SQLITE_SETTINGS
from coldstack.server.config.wsgi import application
from coldstack.server.gear.models import CataloguePack, CellType, OwnedPack, RcModel
from tests.demo_world import demo_world
from tests.server.case import DemoCase
from tests.thorough import many


class Contract(DemoCase):
    def test_the_committed_document_is_what_the_api_says(self):
        """openapi.json is up to date."""
        out = StringIO()
        call_command(
            "export_openapi_schema", api="coldstack.server.api.api.api", sorted=True, indent=1, stdout=out
        )
        stored = (PROJECT / "coldstack/server/api/openapi.json").read_text()
        self.assertEqual(json.loads(out.getvalue()), json.loads(stored))

    def test_no_two_shapes_share_a_name(self):
        """In the document the second would stand for both."""
        seen = {}
        for _, router in api._routers:
            operations = (op for view in router.path_operations.values() for op in view.operations)
            for shape in (x for op in operations for x in op.response_models.values()):
                if hasattr(shape, "model_json_schema"):
                    parts = shape.model_json_schema(mode="serialization").get("$defs", {})
                    for name, part in parts.items():
                        self.assertEqual(seen.setdefault(name, part), part, name)

    def test_all_that_writes_is_for_our_own_page(self):
        """Without its token every route that is not open is refused, and reading needs none."""
        document = json.loads((PROJECT / "coldstack/server/api/openapi.json").read_text())
        strict = Client(enforce_csrf_checks=True)
        closed = [
            (method, re.sub(r"{[^}]+}", "1", path))
            for path, operations in document["paths"].items()
            for method, operation in operations.items()
            if "security" in operation
        ]
        self.assertGreater(len(closed), 40)
        self.assertEqual({method for method, _ in closed} & {"get"}, set())
        for method, path in closed:
            with self.subTest(path, method=method):
                reply = getattr(strict, method)(path, "{}", content_type="application/json")
                self.assertEqual(reply.status_code, 403)
        self.assertEqual(strict.get("/api/choices").status_code, 200)

    def test_health_needs_no_database(self):
        """And says the version."""
        with self.assertNumQueries(0):
            self.assertEqual(self.client.get("/api/health").json()["status"], "ok")

    def test_the_api_s_page_is_served_from_here(self):
        """Its scripts come from our own static files."""
        page = self.client.get("/api/docs").content.decode()
        self.assertNotIn("https://", page)

    def test_unknown_addresses_of_the_api_are_not_the_page(self):
        """A missing endpoint is a 404, not the application."""
        self.assertEqual(self.client.get("/api/nothing").status_code, 404)

    def test_choices_have_words_for_every_list(self):
        """Motions, chemistries, plugs, rules: all named, and the advice that makers' sheets come first."""
        body = self.client.get("/api/choices").json()
        self.assertEqual(len(body["house_rules"]), 3)
        self.assertIn("data sheets", body["advice"])
        for name in ("motions", "chemistries", "plugs", "label_trusts", "airflows", "aims"):
            self.assertTrue(all(c["name"] for c in body[name]), name)


FUZZ_EXAMPLES = int(os.environ.get("FUZZ_EXAMPLES", str(many(20, 8))))
"""For each operation; `make fuzz` asks for 150, some 13,000 requests."""
OPENING = "coldstack.server.worlds.routes.open_world"


def at_this_machine(environ, start_response):
    """The program as its own machine reaches it."""
    return application({**environ, "REMOTE_ADDR": "127.0.0.1"}, start_response)


class Fuzz(TransactionTestCase):
    def test_no_request_makes_a_server_error(self):
        """Requests made up from the document: valid and invalid ones, none answered with a 500 or outside
        the document."""
        demo_world()
        schema = schemathesis.openapi.from_wsgi("/api/openapi.json", at_this_machine)
        for result in schema.get_all_operations():
            operation = result.ok()

            @given(case=operation.as_strategy())
            @settings(max_examples=FUZZ_EXAMPLES, deadline=None)
            def check(case):
                # its client unpacks nothing
                plain = {"X-CSRFToken": "a" * 32, "Accept-Encoding": "identity"}
                reply = case.call(cookies={"csrftoken": "a" * 32}, headers=plain)
                case.validate_response(reply, excluded_checks=[positive_data_acceptance])

            # the other world would be a process on its user's own data
            with self.subTest(operation.label), mock.patch(OPENING, return_value="http://127.0.0.1:8600/"):
                check()


class Page(DemoCase):
    def test_the_page_has_a_strict_policy_and_its_nonce(self):
        """Scripts from here only; styles by nonce; nobody may frame it."""
        reply = self.client.get("/size/ptarmigan")
        policy = dict(
            p.strip().split(" ", 1) for p in reply["Content-Security-Policy"].split(";") if p.strip()
        )
        self.assertEqual(policy["script-src"], "'self'")
        self.assertNotIn("unsafe-inline", policy["style-src"])
        nonce = re.search(r"'nonce-([^']+)'", policy["style-src"]).group(1)
        self.assertIn(nonce, reply.content.decode())
        self.assertNotIn("__CSP_NONCE__", reply.content.decode())
        self.assertEqual(reply["X-Frame-Options"], "DENY")

    def test_no_script_stands_in_the_page_itself(self):
        """All scripts are files."""
        page = self.client.get("/").content.decode()
        self.assertEqual(re.findall(r"<script(?![^>]*src=)[^>]*>", page), [])

    def test_first_load_stays_under_300_kb_of_script(self):
        """Compressed, as it is sent."""
        page = self.client.get("/").content.decode()
        names = re.findall(r'(?:src|href)="/static/(assets/[^"]+\.js)"', page)
        total = sum((PROJECT / "coldstack/web_dist" / (name + ".gz")).stat().st_size for name in names)
        self.assertTrue(names)
        self.assertLess(total, 300_000)

    def test_hosts_other_than_loopback_are_refused(self):
        """A name in the hosts file of an attacker does not open it."""
        self.assertEqual(self.client.get("/api/health", headers={"host": "example.org"}).status_code, 400)


class DemoWorld(DemoCase):
    def test_it_is_as_large_as_promised(self):
        """Six models, 26 owned packs, about 120 to buy, 12 cell types; half of the catalogue measured."""
        counts = [m.objects.count() for m in (RcModel, OwnedPack, CellType)]
        self.assertEqual(counts, [6, 26, 12])
        catalogue = CataloguePack.objects.count()
        self.assertGreaterEqual(catalogue, 115)
        measured = CataloguePack.objects.filter(cell_mohm__isnull=False).count()
        self.assertAlmostEqual(measured / catalogue, 0.5, delta=0.05)

    def test_it_is_loaded_once(self):
        """A second start keeps what the user has."""
        RcModel.objects.filter(slug="grebe").delete()
        self.assertFalse(load_if_empty())
        self.assertFalse(RcModel.objects.filter(slug="grebe").exists())

    def test_every_pack_is_possible(self):
        """The core accepts each row."""
        from coldstack.core.packs.pack import check_pack
        from coldstack.server.life.packs import stock

        for pack in stock().packs:
            check_pack(pack)


class Serving(SimpleTestCase):
    databases = []

    def start(self, folder, *options):
        env = {**os.environ, "COLD_STACK_DATA": folder, "PYTHONUNBUFFERED": "1"}
        return subprocess.Popen(
            [sys.executable, "manage.py", "serve", "--demo", *options],
            cwd=PROJECT,
            env=env,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )

    def address(self, server):
        for line in server.stdout:
            if found := re.search(r"http://127\.0\.0\.1:\d+/", line):
                return found.group(0)
        self.fail("the server printed no address")
        return None

    def get(self, address, path):
        with urllib.request.urlopen(address + path, timeout=30) as reply:
            return json.loads(reply.read())

    def test_demo_from_nothing_then_killed_then_again(self):
        """A fresh folder gets the demo world; after SIGKILL what was acknowledged is there; a taken port
        moves on by one."""
        with tempfile.TemporaryDirectory() as folder, socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            server = self.start(folder, "--port", str(port))
            try:
                address = self.address(server)
                self.assertNotIn(f":{port}/", address)
                job = self.get(address, "api/models/stoat")["job"]
                job["draw"]["peak_a"] = 77.25
                self.put(address, job)
            finally:
                server.send_signal(signal.SIGKILL)
                server.wait()
                server.stdout.close()
            again = self.start(folder)
            try:
                address = self.address(again)
                self.assertEqual(self.get(address, "api/models/stoat")["job"]["draw"]["peak_a"], 77.25)
            finally:
                again.send_signal(signal.SIGINT)
                self.assertEqual(again.wait(timeout=20), 0)
                again.stdout.close()
            self.assertTrue((Path(folder) / "demo" / "cold-stack.sqlite3").exists())

    def put(self, address, job):
        with urllib.request.urlopen(address, timeout=30) as page:
            cookie = re.search(r"csrftoken=(\w+)", page.headers["Set-Cookie"]).group(1)
        request = urllib.request.Request(
            f"{address}api/models/stoat/job",
            json.dumps(job).encode(),
            method="PUT",
            headers={
                "Content-Type": "application/json",
                "X-CSRFToken": cookie,
                "Cookie": f"csrftoken={cookie}",
                "Origin": address.rstrip("/"),
            },
        )
        with urllib.request.urlopen(request, timeout=30) as reply:
            self.assertEqual(reply.status, 200)

    def test_deployment_checks_are_clean(self):
        """Django's own list, under the settings that serve."""
        out = StringIO()
        # what tests in a browser allow themselves is not for a server
        here = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"}
        with override_settings(DEBUG=False), mock.patch.dict(os.environ, here, clear=True):
            call_command("check", deploy=True, fail_level="WARNING", stdout=out, stderr=out)
        self.assertNotIn("WARNINGS", out.getvalue())


class Settings(DemoCase):
    def test_the_database_is_safe_against_crashes(self):
        """Write-ahead log, a busy timeout, immediate transactions, foreign keys."""
        from django.db import connection

        with connection.cursor() as cursor:
            self.assertEqual(cursor.execute("PRAGMA busy_timeout").fetchone()[0], 60_000)
        # the runner of the tests goes without waiting for the disk: so these on a connection of their own
        with tempfile.TemporaryDirectory() as folder, closing(sqlite3.connect(f"{folder}/x.sqlite3")) as link:
            link.executescript(SQLITE_SETTINGS)
            asked = ("journal_mode", "foreign_keys", "synchronous")
            values = {p: link.execute(f"PRAGMA {p}").fetchone()[0] for p in asked}
        self.assertEqual(values, {"journal_mode": "wal", "foreign_keys": 1, "synchronous": 2})
        self.assertEqual(connection.transaction_mode, "IMMEDIATE")
