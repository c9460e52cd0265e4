"""Who comes in from another machine: nobody but paired phones, and those only as far as they may."""

import json
import re
import sqlite3
import tempfile
import threading
from datetime import timedelta
from pathlib import Path
from unittest import mock
from urllib.parse import urlencode

from django.conf import settings
from django.contrib.sessions.models import Session
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client, SimpleTestCase, TestCase, TransactionTestCase, override_settings
from django.utils import timezone
from waitress.adjustments import Adjustments
from waitress.parser import HTTPRequestParser

from coldstack.server.api.api import api
from coldstack.server.pairing import invitations, page
from coldstack.server.pairing.gate import is_loopback
from coldstack.server.pairing.known import came_in
from coldstack.server.pairing.models import Phone
from coldstack.server.pairing.throttle import FROM_ALL, FROM_ONE, WINDOW_S, Throttle
from coldstack.server.worlds.backup import backup_bytes
from coldstack.server.worlds.plain_server import WaryChannel
from coldstack.server.worlds.tls_server import LARGEST_BODY
from tests.demo_world import demo_world

PHONE, OTHER = "192.168.1.77", "192.168.1.78"
COMPUTES_ONLY = {
    "/api/drawings/bay",
    "/api/drawings/bench",
    "/api/drawings/which-plug",
    "/api/drawings/wiring",
    "/api/bench/curves",
    "/api/bench/order",
    "/api/bench/plan",
    "/api/bench/sharing",
    "/api/bench/storage",
    "/api/describe-equipment",
    "/api/describe-model",
    "/api/draw/log",
    "/api/draw/log/teach",
    "/api/files/preview",
    "/api/gear/questions",
    "/api/labels/read",
    "/api/match",
    "/api/match/grid",
    "/api/offers/read",
    "/api/practice/answer",
    "/api/practice/sheet",
    "/api/practice/task",
    "/api/run/day",
    "/api/run/go",
    "/api/sizing/details",
    "/api/sizing/estimate",
    "/api/sizing/plan",
    "/api/tomorrow/plan",
}
"""Asked by POST, since the question is long; they store nothing."""


def phone_at(address=PHONE, **more):
    """A browser on another machine."""
    return Client(REMOTE_ADDR=address, **more)


def said(phone, **fields):
    """The pairing page's form, as a browser sends it."""
    return phone.post("/pair", urlencode(fields), content_type="application/x-www-form-urlencoded")


def paired(scope="everything", address=PHONE):
    """A browser of a phone that was paired."""
    phone = phone_at(address)
    code = invitations.invite(scope, now=timezone.now()).code
    reply = said(phone, code=code, name=f"Phone that may {scope}")
    assert reply.status_code == 302, reply.content
    return phone


def unsafe(phone, method, path, body=None, token=True):
    """A request of our page, with its token."""
    phone.get("/")
    csrf = phone.cookies["csrftoken"].value
    headers = {"X-CSRFToken": csrf} if token else {}
    return phone.generic(
        method, path, json.dumps(body or {}), content_type="application/json", headers=headers
    )


def operations():
    """Method, address with something in its gaps, and the operation, of the whole API."""
    for path, item in api.get_openapi_schema()["paths"].items():
        for method, operation in item.items():
            yield method.upper(), re.sub(r"\{[^}]*\}", "1", path), operation


class Strangers(TestCase):
    @classmethod
    def setUpTestData(cls):
        demo_world()

    def test_nothing_but_the_pairing_page(self):
        """Every address of the API, the screens, their files, the documentation."""
        phone = phone_at()
        for method, path, _ in operations():
            with self.subTest(f"{method} {path}"):
                reply = phone.generic(method, path, "{}", content_type="application/json")
                self.assertEqual(reply.status_code, 401)
                self.assertEqual(reply["Content-Type"], "application/problem+json")
        for path in (
            "/",
            "/run/fieldfare",
            "/api/docs",
            "/static/index.html",
            "/static/assets/x.js",
            "/pair/x",
        ):
            with self.subTest(path):
                reply = phone.get(path)
                self.assertIn((reply.status_code, reply.get("Location")), [(302, "/pair"), (401, None)])
        reply = phone.get("/pair")
        self.assertContains(reply, "Pair this device")
        self.assertNotContains(reply, "Tarnside")
        self.assertIn("no-store", reply["Cache-Control"])

    def test_whatever_it_says_of_itself(self):
        """Only the socket's address counts, and a session that was made up is none."""
        said = {"X-Forwarded-For": "127.0.0.1", "X-Real-IP": "127.0.0.1", "Forwarded": "for=127.0.0.1"}
        phone = phone_at(headers=said)
        phone.cookies["cold-stack-own"] = "a" * 32
        self.assertEqual(phone.get("/api/gear/packs").status_code, 401)

    def test_loopback_needs_nothing(self):
        """Also where its kind of address is written in the newer way."""
        for address in ("127.0.0.1", "::1", "::ffff:127.0.0.1"):
            with self.subTest(address):
                self.assertEqual(phone_at(address).get("/api/gear/packs").status_code, 200)
        self.assertRedirects(phone_at("127.0.0.1").get("/pair"), "/", fetch_redirect_response=False)


class Addresses(SimpleTestCase):
    def test_which_are_this_machine(self):
        """What is no address is not."""
        for address, here in (
            ("127.9.9.9", True),
            ("::1", True),
            ("::ffff:127.0.0.1", True),
            ("192.168.1.5", False),
            ("::ffff:192.168.1.5", False),
            ("fe80::1%eth0", False),
            ("", False),
            ("localhost", False),
        ):
            with self.subTest(address):
                self.assertIs(is_loopback(address), here)


class Codes(TestCase):
    def setUp(self):
        page.throttle = Throttle()

    def tried(self, code, phone=None):
        """The status of a try."""
        return said(phone or phone_at(), code=code, name="Mine").status_code

    def test_once(self):
        """It pairs one phone; the same press again leads in, another machine is refused."""
        code = invitations.invite("look", now=timezone.now()).code
        phone = phone_at()
        self.assertContains(phone.get(f"/pair?code={code}"), code)
        self.assertEqual(self.tried(code, phone), 302)
        self.assertEqual(self.tried(code, phone), 302)
        self.assertEqual(self.tried(code, phone_at(OTHER)), 422)
        self.assertEqual([p.name for p in Phone.objects.all()], ["Mine"])
        self.assertEqual(phone.get("/api/world").json()["hands"], "look")

    def test_as_it_is_typed(self):
        """Small letters, blanks and the stroke make no difference."""
        code = invitations.invite("look", now=timezone.now()).code
        self.assertEqual(self.tried(f"  {code.lower().replace('-', ' ')} "), 302)

    def test_ten_minutes(self):
        """Good until then, not after; a new one takes the place of the one before."""
        now = timezone.now()
        code = invitations.invite("look", now=now).code
        self.assertIsNone(invitations.take(code, "x", now=now + timedelta(minutes=10)))
        self.assertIsNotNone(invitations.take(code, "x", now=now + timedelta(minutes=9.9)))
        first = invitations.invite("look", now=now).code
        second = invitations.invite("everything", now=now).code
        self.assertIsNone(invitations.take(first, "x", now=now))
        self.assertEqual(invitations.take(second, "x", now=now).scope, "everything")

    def test_the_time_tells_nothing(self):
        """A code is hashed as long whether one is open or not."""
        for open_ in (False, True):
            if open_:
                invitations.invite("look", now=timezone.now())
            with mock.patch.object(
                invitations, "check_password", wraps=invitations.check_password
            ) as checked:
                self.assertEqual(self.tried("AAAAA-AAAAA"), 422)
            self.assertEqual(checked.call_count, 1)

    def test_only_so_many_tries(self):
        """Then also the right code is refused from there, and still good elsewhere."""
        code = invitations.invite("look", now=timezone.now()).code
        with mock.patch.object(invitations, "check_password", return_value=False):
            for _ in range(FROM_ONE):
                self.assertEqual(self.tried("AAAAA-AAAAA"), 422)
        self.assertEqual(self.tried(code), 429)
        self.assertEqual(self.tried(code, phone_at(OTHER)), 302)

    def test_what_cannot_be_a_code_is_not_hashed(self):
        """Too short, too long, none: turned away before a thread is busy with it."""
        invitations.invite("look", now=timezone.now())
        with mock.patch.object(invitations, "check_password") as checked:
            for code in ("", "AAAAA-AAAA", "A" * 40, "0O1I" * 3):
                self.assertEqual(self.tried(code), 422)
        checked.assert_not_called()

    def test_one_at_a_time(self):
        """While a code is looked at nobody else's keeps a thread busy."""
        code = invitations.invite("look", now=timezone.now()).code
        with invitations._hashing:
            self.assertEqual(self.tried(code), 429)
        self.assertEqual(self.tried(code), 302)

    def test_no_file_and_nothing_large(self):
        """A machine that is not paired sends a code or nothing: what it sends is not even read."""
        file = SimpleUploadedFile("x.bin", b"x" * 100_000)
        never = mock.patch("django.http.request.HttpRequest._load_post_and_files", side_effect=AssertionError)
        form = "application/x-www-form-urlencoded"
        with never:
            for reply in (
                phone_at().post("/pair", {"code": "AAAAA-AAAAA", "file": file}),
                phone_at().post("/pair", "code=" + "A" * 5000, content_type=form),
                phone_at().post("/pair", "{}", content_type="application/json"),
                phone_at().post("/pair/authority.crt", {"file": file}),
            ):
                self.assertEqual(reply.status_code, 413)
                self.assertIn("not paired", reply.content.decode())

    def test_a_form_from_elsewhere(self):
        """Without its token a code is not even looked at."""
        code = invitations.invite("look", now=timezone.now()).code
        strict = Client(enforce_csrf_checks=True, REMOTE_ADDR=PHONE)
        self.assertEqual(self.tried(code, strict), 403)
        self.assertFalse(Phone.objects.exists())


class Tries(SimpleTestCase):
    def test_the_window(self):
        """From one, from all; after ten minutes they count no more."""
        throttle = Throttle()
        self.assertEqual(
            [throttle.take("a", 0.0) for _ in range(FROM_ONE + 2)], [True] * FROM_ONE + [False] * 2
        )
        others = [throttle.take(f"b{k}", 1.0) for k in range(FROM_ALL)]
        self.assertEqual(sum(others), FROM_ALL - FROM_ONE)
        self.assertFalse(throttle.take("a", WINDOW_S - 0.1))
        self.assertTrue(throttle.take("a", WINDOW_S + 0.1))

    def test_slips_are_forgiven(self):
        """Who got it right begins anew."""
        throttle = Throttle()
        for _ in range(FROM_ONE):
            throttle.take("a", 0.0)
        throttle.forgive("a")
        self.assertTrue(throttle.take("a", 1.0))


class Stored(TransactionTestCase):
    def test_a_backup_opens_no_door(self):
        """It holds neither phones nor sessions nor codes, whoever gets hold of it."""
        demo_world()
        paired()
        invitations.invite("look", now=timezone.now())
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "copy.sqlite3")
            file.write_bytes(backup_bytes())
            link = sqlite3.connect(file)
            for table in ("django_session", "pairing_phone", "pairing_invitation"):
                self.assertEqual(link.execute(f"SELECT count(*) FROM {table}").fetchone()[0], 0, table)
            self.assertGreater(link.execute("SELECT count(*) FROM gear_ownedpack").fetchone()[0], 0)
            link.close()
        self.assertEqual(Phone.objects.count(), 1)

    def test_two_with_one_code(self):
        """Six press at the same moment: one is paired."""
        page.throttle = Throttle()
        code = invitations.invite("everything", now=timezone.now()).code
        gate, got = threading.Barrier(6), []

        def press(k):
            gate.wait()
            got.append(said(phone_at(f"192.168.1.{k}"), code=code).status_code)
            connection.close()

        threads = [threading.Thread(target=press, args=(k,)) for k in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        # while one is looked at the others are asked to wait, or come too late
        self.assertEqual((sorted(got)[0], Phone.objects.count()), (302, 1))
        self.assertTrue(set(got[1:]) <= {302, 422, 429} and got.count(302) == 1, got)


class Hands(TestCase):
    @classmethod
    def setUpTestData(cls):
        demo_world()

    def setUp(self):
        page.throttle = Throttle()

    def test_look_only(self):
        """It reads and reckons; whatever would keep or start something is refused in words. No route that
        writes is forgotten: each asks for the token or is one that computes only."""
        phone = paired("look")
        self.assertEqual(phone.get("/api/gear/packs").status_code, 200)
        asked = {"model": "fieldfare", "pack": "01", "cells": "4.19 4.19 4.19"}
        self.assertIn(unsafe(phone, "POST", "/api/run/go", asked).status_code, (200, 422))
        for method, path, operation in operations():
            if method == "GET" or "security" not in operation or path.startswith("/api/phones/1"):
                continue
            with self.subTest(f"{method} {path}"):
                reply = unsafe(phone, method, path)
                self.assertEqual(reply.status_code, 403)
                self.assertIn("look only", reply.json()["detail"] + " look only" * ("invite" in path))
        self.assertEqual(phone.get("/api/files/backup.sqlite3").status_code, 403)

    def test_what_computes_only_is_known_by_name(self):
        """A route without the token is on this list, or it is a hole."""
        free = {p for m, p, o in operations() if m not in ("GET", "HEAD") and "security" not in o}
        self.assertEqual(free, COMPUTES_ONLY)

    def test_everything(self):
        """As at the computer, but for bringing other phones and removing them."""
        phone, other = paired("everything"), paired("look", OTHER)
        with mock.patch("coldstack.server.gear.file_routes.backup_bytes", return_value=b"all"):
            self.assertEqual(phone.get("/api/files/backup.sqlite3").content, b"all")
        kept = unsafe(phone, "PUT", "/api/keep/place", {"place": "Shed"})
        self.assertEqual(kept.status_code, 200)
        self.assertEqual(unsafe(phone, "POST", "/api/phones/invite", {"scope": "look"}).status_code, 403)
        self.assertEqual([x["here"] for x in phone.get("/api/phones").json()["phones"]], [True])
        theirs = other.get("/api/phones").json()["phones"][0]["id"]
        self.assertEqual(unsafe(phone, "DELETE", f"/api/phones/{theirs}").status_code, 403)
        self.assertEqual(other.get("/api/world").status_code, 200)

    def test_its_token_is_asked_for(self):
        """A page elsewhere that a paired phone opens can write nothing."""
        phone = Client(enforce_csrf_checks=True, REMOTE_ADDR=PHONE)
        code = invitations.invite("everything", now=timezone.now()).code
        phone.get("/pair")
        token = phone.cookies["csrftoken"].value
        said(phone, code=code, csrfmiddlewaretoken=token)
        self.assertEqual(phone.get("/api/world").json()["hands"], "everything")
        self.assertEqual(
            unsafe(phone, "PUT", "/api/keep/place", {"place": "x"}, token=False).status_code, 403
        )

    def test_removed(self):
        """From its next request on; its session is gone. A phone may leave by itself."""
        phone, here = paired("everything"), Client()
        pk = here.get("/api/phones").json()["phones"][0]["id"]
        self.assertEqual(unsafe(here, "DELETE", f"/api/phones/{pk}").status_code, 204)
        self.assertEqual(phone.get("/api/world").status_code, 401)
        self.assertEqual(Session.objects.count(), 0)
        self.assertEqual(unsafe(here, "DELETE", f"/api/phones/{pk}").status_code, 404)
        leaving = paired("look")
        pk = leaving.get("/api/phones").json()["phones"][0]["id"]
        self.assertEqual(unsafe(leaving, "DELETE", f"/api/phones/{pk}").status_code, 204)
        self.assertEqual(leaving.get("/api/world").status_code, 401)

    def test_brought_at_the_computer(self):
        """A code with its picture where phones reach the program; else what to start."""
        here = Client()
        told = here.get("/api/phones").json()
        self.assertIsNone(told["address"])
        self.assertIn("cold-stack --host ", told["command"])
        self.assertEqual(unsafe(here, "POST", "/api/phones/invite", {"scope": "look"}).status_code, 422)
        with override_settings(PHONE_ADDRESS="http://192.168.1.5:8600/"):
            made = unsafe(here, "POST", "/api/phones/invite", {"scope": "look"}).json()
            self.assertEqual(made["address"], f"http://192.168.1.5:8600/pair?code={made['code']}")
            self.assertTrue(made["picture"].startswith("data:image/svg+xml"))
            self.assertIsNone(here.get("/api/phones").json()["command"])

    def test_its_cookie(self):
        """No script reads it, and it is not the other world's."""
        cookie = paired().cookies["cold-stack-own"]
        self.assertTrue(cookie["httponly"])
        self.assertEqual(cookie["samesite"], "Lax")


class Wary(SimpleTestCase):
    """The plain line takes a whole request before the program sees it: not of a stranger."""

    def read(self, head, address=PHONE):
        server = mock.Mock()
        channel = WaryChannel.__new__(WaryChannel)
        with mock.patch("waitress.channel.HTTPChannel.__init__", return_value=None):
            channel.__init__(server, None, (address, 1), Adjustments())
        parser = getattr(channel, "parser_class", HTTPRequestParser)(
            Adjustments(max_request_body_size=LARGEST_BODY)
        )
        parser.received(head.encode())
        return parser

    def head(self, length, cookie=""):
        more = f"Cookie: {settings.SESSION_COOKIE_NAME}={cookie}\r\n" if cookie else ""
        return f"POST /pair HTTP/1.1\r\nHost: x\r\n{more}Content-Length: {length}\r\n\r\n"

    def test_by_its_head(self):
        """5 MB: refused of a stranger, whatever session it names; taken of a phone that came in, and here."""
        large = 5 * 1024 * 1024
        self.assertIn("exceeds", str(self.read(self.head(large)).error.body))
        self.assertIsNotNone(self.read(self.head(large, "made-up")).error)
        self.assertIsNone(self.read(self.head(200)).error)
        self.assertIsNone(self.read(self.head(large), "127.0.0.1").error)
        with mock.patch("coldstack.server.pairing.known._known", {"came-in"}):
            self.assertIsNone(self.read(self.head(large, "came-in")).error)
        self.assertFalse(came_in("=;;=\x00"))
