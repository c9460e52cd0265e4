"""The encrypted line: what a phone that trusts this machine's authority trusts, and what it gets there."""

import contextlib
import http.client
import ipaddress
import os
import socket
import ssl
import stat
import subprocess
import sys
import tempfile
import threading
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from cryptography import x509
from cryptography.hazmat.primitives import serialization
from django.core.management.base import CommandError
from django.core.wsgi import get_wsgi_application
from django.test import RequestFactory, SimpleTestCase, TransactionTestCase, override_settings

from coldstack.core.errors import DomainError
from coldstack.server.config.paths import PROJECT
from coldstack.server.pairing import authority as made
from coldstack.server.pairing.authority import LEAF_DAYS, certified
from coldstack.server.pairing.cookies import PlainOnLoopback
from coldstack.server.worlds import tls_server
from coldstack.server.worlds.listening import Listening

NOW = datetime(2026, 11, 25, 14, tzinfo=UTC)
HERE = ["127.0.0.1", "192.168.1.5"]


class Folder(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name, "tls")

    def leaf(self, addresses=HERE, now=NOW):
        files = certified(self.folder, addresses, now=now)
        return files, x509.load_pem_x509_certificate(files.certificate.read_bytes())


class Certificates(Folder):
    def test_made_once(self):
        """The same until it is too old or an address is new; the authority stays all the while."""
        files, first = self.leaf()
        self.assertEqual(self.leaf(now=NOW + timedelta(days=300))[1], first)
        again, renewed = self.leaf(now=NOW + timedelta(days=LEAF_DAYS - 20))
        self.assertNotEqual(renewed, first)
        moved = self.leaf([*HERE, "10.0.0.7"])[1]
        names = moved.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        self.assertIn(ipaddress.ip_address("10.0.0.7"), names.get_values_for_type(x509.IPAddress))
        self.assertEqual(files.fingerprint, again.fingerprint)
        good_for = first.not_valid_after_utc - first.not_valid_before_utc
        self.assertLess(good_for, timedelta(days=398))

    def test_keys_are_its_users_alone(self):
        """Nobody else on this machine reads them."""
        self.leaf()
        for name in ("authority.key", "server.key"):
            self.assertEqual(stat.S_IMODE(os.stat(self.folder / name).st_mode), 0o600)

    def test_half_written(self):
        """A key without its certificate, one that is not its own, rubbish: made anew."""
        files, first = self.leaf()
        for spoil in (
            lambda: files.certificate.unlink(),
            lambda: files.certificate.write_text("rubbish"),
            lambda: files.key.write_bytes((self.folder / "authority.key").read_bytes()),
        ):
            spoil()
            _, leaf = self.leaf()
            key = serialization.load_pem_private_key(files.key.read_bytes(), None)
            self.assertEqual(key.public_key(), leaf.public_key())
            self.assertNotEqual(leaf, first)

    def test_bound_to_this_machine(self):
        """An address that is neither private nor was this machine's is refused, with the way out."""
        self.leaf()
        with self.assertRaisesRegex(DomainError, "made for other addresses.*Remove that folder"):
            self.leaf(["8.8.8.8"])


class Trust(Folder):
    def handshake(self, leaf, key, name):
        """A phone that trusts the authority, at this name."""
        server = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        server.load_cert_chain(leaf, key)
        phone = ssl.create_default_context(cafile=self.folder / "authority.crt")
        ours, theirs = ssl.MemoryBIO(), ssl.MemoryBIO()
        a = server.wrap_bio(ours, theirs, server_side=True)
        b = phone.wrap_bio(theirs, ours, server_hostname=name)
        for _ in range(6):
            for side in (b, a):
                with contextlib.suppress(ssl.SSLWantReadError):
                    side.do_handshake()

    def test_what_it_may_vouch_for(self):
        """This machine, yes; another site, even with its own key in wrong hands, no."""
        files, _ = self.leaf(HERE, now=datetime.now(UTC))
        self.handshake(files.certificate, files.key, "192.168.1.5")
        for name in ("192.168.1.6", "example.org"):
            with self.subTest(name), self.assertRaises(ssl.SSLCertVerificationError):
                self.handshake(files.certificate, files.key, name)
        issuer = x509.load_pem_x509_certificate(files.authority.read_bytes())
        signer = serialization.load_pem_private_key((self.folder / "authority.key").read_bytes(), None)
        names = [x509.DNSName("example.org")]
        key, forged = made._new_leaf(names, issuer, signer, datetime.now(UTC))
        made._write(self.folder / "f.key", self.folder / "f.crt", key, forged)
        with self.assertRaisesRegex(ssl.SSLCertVerificationError, "permitted subtree"):
            self.handshake(self.folder / "f.crt", self.folder / "f.key", "example.org")


class Served(TransactionTestCase):
    def test_over_the_line(self):
        """The program answers there as to a secure request; a plain one is not understood."""
        with tempfile.TemporaryDirectory() as folder:
            files = certified(Path(folder), ["127.0.0.1"], now=datetime.now(UTC))
            with socket.socket() as probe:
                probe.bind(("127.0.0.1", 0))
                port = probe.getsockname()[1]
            with override_settings(AUTHORITY=files):
                application = get_wsgi_application()
                [server] = tls_server.start(application, [("127.0.0.1", port)], files)
                self.addCleanup(server.stop)
                phone = ssl.create_default_context(cafile=files.authority)
                base = f"https://127.0.0.1:{port}"
                with urllib.request.urlopen(f"{base}/api/health", context=phone, timeout=30) as reply:
                    self.assertEqual(reply.status, 200)
                with urllib.request.urlopen(f"{base}/pair/authority.crt", context=phone, timeout=30) as reply:
                    self.assertEqual(reply.read(), files.authority.read_bytes())
                with self.assertRaises((urllib.error.URLError, ConnectionError)):
                    urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=30)

    def test_it_ends(self):
        """Also while a phone keeps its line open: no thread of it holds the process."""
        with tempfile.TemporaryDirectory() as folder:
            files = certified(Path(folder), ["127.0.0.1"], now=datetime.now(UTC))
            with socket.socket() as probe:
                probe.bind(("127.0.0.1", 0))
                port = probe.getsockname()[1]
            before = set(threading.enumerate())
            servers = tls_server.start(get_wsgi_application(), [("127.0.0.1", port)], files)
            phone = ssl.create_default_context(cafile=files.authority)
            line = http.client.HTTPSConnection("127.0.0.1", port, context=phone, timeout=30)
            line.request("GET", "/api/health")
            self.assertEqual(line.getresponse().read()[:10], b'{"status":')
            tls_server.stop(servers)
            line.close()
            for thread in set(threading.enumerate()) - before:
                thread.join(30)
                self.assertFalse(thread.is_alive(), thread)

    def test_no_authority_without_it(self):
        """There is nothing to fetch."""
        self.assertEqual(self.client.get("/pair/authority.crt").status_code, 404)


class Lines(SimpleTestCase):
    def test_where_it_listens(self):
        """With TLS the plain line is loopback's alone."""
        with mock.patch("coldstack.server.worlds.listening.own_addresses", return_value=["192.168.1.5"]):
            plain, secure = Listening("0.0.0.0", 8600), Listening("0.0.0.0", 8600, tls=True)
        self.assertEqual(
            (plain.phones, secure.phones), ("http://192.168.1.5:8600/", "https://192.168.1.5:8600/")
        )
        self.assertEqual((plain.listen, plain.secured), ("0.0.0.0:8600", []))
        self.assertEqual((secure.listen, secure.secured), ("127.0.0.1:8600", ["192.168.1.5"]))
        self.assertEqual(secure.address, "http://127.0.0.1:8600/")
        with self.assertRaisesRegex(CommandError, "say --host"):
            Listening("127.0.0.1", 8600, tls=True)

    def test_cookies_by_their_line(self):
        """Marked Secure but on the plain line of loopback."""

        def reply(request):
            from django.http import HttpResponse

            made = HttpResponse()
            made.set_cookie("csrftoken", "x", secure=True)
            return made

        for secure in (True, False):
            request = RequestFactory().get("/", secure=secure)
            cookie = PlainOnLoopback(reply)(request).cookies["csrftoken"]
            self.assertIs(bool(cookie["secure"]), secure)

    def test_djangos_own_check(self):
        """Clean as it is served with TLS; nothing about cookies is silenced there."""
        environment = {**os.environ, "COLD_STACK_TLS": "1"}
        environment.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)  # the browser's tests set it
        code = (
            "from django.conf import settings as s; print(s.SILENCED_SYSTEM_CHECKS, s.SESSION_COOKIE_SECURE)"
        )
        for command, words in (
            (["check", "--deploy", "--fail-level", "WARNING"], "no issues"),
            (["shell", "-c", code], "['security.W004', 'security.W008'] True"),
        ):
            done = subprocess.run(
                [sys.executable, "manage.py", *command],
                cwd=PROJECT,
                env=environment,
                capture_output=True,
                text=True,
                timeout=120,
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            self.assertIn(words, done.stdout)
