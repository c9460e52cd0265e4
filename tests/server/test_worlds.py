"""One's own world and the demo's: apart, both reached, and older data folders carried over with
nothing lost."""

import gzip
import json
import shutil
import sqlite3
import tempfile
from pathlib import Path

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import SimpleTestCase, TestCase, TransactionTestCase, override_settings

from coldstack.demo.load import load_if_empty
from coldstack.server.config.paths import PROJECT
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.worlds.carry_over import carry_over
from coldstack.server.worlds.serving import Serving, served_at
from tests.demo_world import demo_world
from tests.server.case import DemoCase
from tests.server.process import ServerProcess

DATA = PROJECT / "tests" / "data"


class OldFolder(SimpleTestCase):
    """A data folder as the program made it before there were two worlds."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        self.own, self.demo = self.root / "cold-stack.sqlite3", self.root / "demo" / "cold-stack.sqlite3"

    def old(self, name):
        """The database of a folder of before, as it was committed."""
        packed = DATA / f"before-two-worlds-{name}.sqlite3.gz"
        self.own.write_bytes(gzip.decompress(packed.read_bytes()))

    def rows(self, database, query):
        """What a query finds."""
        link = sqlite3.connect(database)
        try:
            return link.execute(query).fetchall()
        finally:
            link.close()

    def test_one_s_own_things_stay_one_s_own(self):
        """With the demo's that were among them: a model, a pack, its run, a charger, an edited figure."""
        self.old("mixed")
        self.assertIn("your own world now", carry_over(self.root))
        self.assertFalse(self.demo.exists())
        self.assertEqual(
            self.rows(self.own, "select name from gear_rcmodel where slug = 'wren'"), [("Wren",)]
        )
        runs = (
            "select count(*) from logbook_runlog r "
            "join gear_ownedpack p on p.id = r.pack_id where p.tag = 'W1'"
        )
        self.assertEqual(self.rows(self.own, runs), [(1,)])

    def test_a_folder_of_the_demo_alone_is_the_demo_s(self):
        """Nothing of it is lost: it is the demo world, and one's own is empty."""
        self.old("demo-only")
        before = self.own.read_bytes()
        self.assertIn("demo world now", carry_over(self.root))
        self.assertFalse(self.own.exists())
        self.assertEqual(self.demo.read_bytes(), before)

    def test_it_is_decided_once(self):
        """Who brings the demo's gear into an own world later keeps it there."""
        carry_over(self.root)
        self.old("demo-only")
        self.assertEqual(carry_over(self.root), "")
        self.assertTrue(self.own.exists())

    def test_a_log_that_was_not_folded_in_goes_along(self):
        """What was acknowledged stands in it."""
        self.old("demo-only")
        link = sqlite3.connect(self.own)
        link.execute("PRAGMA journal_mode=WAL")
        link.execute("UPDATE gear_ownedpack SET note = 'a scratch' WHERE tag = '01'")
        link.commit()
        kept = {p.name: p.read_bytes() for p in self.root.iterdir() if p.is_file()}
        link.close()
        for name, content in kept.items():
            (self.root / name).write_bytes(content)
        carry_over(self.root)
        self.assertEqual(
            self.rows(self.demo, "select note from gear_ownedpack where tag = '01'"), [("a scratch",)]
        )


class Serve(SimpleTestCase):
    def test_one_server_a_folder(self):
        """Who comes second is told where the first answers; let go, the folder is free."""
        with tempfile.TemporaryDirectory() as name:
            first, second = Serving(Path(name)), Serving(Path(name))
            self.assertIsNone(served_at(Path(name)))
            self.assertTrue(first.take())
            first.tell("http://127.0.0.1:8600/")
            self.assertFalse(second.take())
            self.assertEqual(served_at(Path(name)), "http://127.0.0.1:8600/")
            first.let_go()
            self.assertIsNone(served_at(Path(name)))
            self.assertTrue(second.take())
            second.let_go()


class BothWorlds(ServerProcess):
    world = "own"

    def test_started_gone_over_and_both_intact(self):
        """One's own is empty and keeps what is put there; the demo opens beside it; neither sees the
        other."""
        here = self.ask("api/world")
        self.assertEqual((here["world"], here["models"], here["empty"]), ("own", 0, True))
        mine = {
            "name": "Mine",
            "chemistry": "lipo",
            "series": 3,
            "capacity_ah": 2.2,
            "mass_g": 180,
            "tag": "01",
        }
        self.ask("api/gear/packs", json.dumps(mine).encode())
        own = self.address
        there = self.ask("api/world/open", b'{"world": "demo"}')["address"]
        self.assertNotEqual(there, own)
        self.assertEqual(self.ask("api/world/open", b'{"world": "demo"}')["address"], there)
        self.address = there
        self.assertEqual(self.ask("api/world")["world"], "demo")
        self.assertEqual((len(self.ask("api/models")), len(self.ask("api/gear/packs"))), (6, 26))
        self.assertEqual(self.ask("api/world/open", b'{"world": "own"}')["address"], own)
        self.address = own
        self.assertEqual([p["name"] for p in self.ask("api/gear/packs")], ["Mine"])

    def test_a_folder_of_before_is_served_with_everything(self):
        """Its own model and pack with the run, brought up to date; the demo is fresh."""
        self.kill()
        shutil.rmtree(self.folder.name)
        Path(self.folder.name).mkdir()
        packed = DATA / "before-two-worlds-mixed.sqlite3.gz"
        self.database.write_bytes(gzip.decompress(packed.read_bytes()))
        self.start()
        self.assertIn("wren", [m["slug"] for m in self.ask("api/models")])
        self.assertEqual([r["pack"] for r in self.ask("api/runs?model=wren")["runs"]], ["W1"])
        self.assertEqual(self.ask("api/models/ptarmigan")["job"]["draw"]["average_a"], 12.5)
        self.address = self.ask("api/world/open", b'{"world": "demo"}')["address"]
        self.assertEqual(self.ask("api/models/ptarmigan")["job"]["draw"]["average_a"], 13.2)
        self.assertEqual(len(self.ask("api/models")), 6)


class LoadingTheDemo(TestCase):
    def test_not_into_one_s_own_world(self):
        """The command says where the demo is instead."""
        with self.assertRaisesRegex(CommandError, "apart"):
            call_command("load_demo")

    def test_never_over_a_pack_of_one_s_own(self):
        """A database with one pack and no model is not empty."""
        OwnedPack.objects.create(
            tag="01",
            name="Mine",
            chemistry="lipo",
            series=3,
            capacity_ah=2.2,
            mass_g=180,
            plug="xt60",
            lead_awg=14,
        )
        self.assertFalse(load_if_empty())
        self.assertEqual(RcModel.objects.count(), 0)


class BringABackup(TransactionTestCase):
    def send(self, content):
        """A backup sent from the first page."""
        return self.client.post("/api/files/restore", {"file": SimpleUploadedFile("b.sqlite3", content)})

    def emptied(self):
        """The demo's backup, and then nothing."""
        demo_world()
        content = self.client.get("/api/files/backup.sqlite3").content
        call_command("flush", verbosity=0, interactive=False)
        return content

    def test_into_an_empty_program(self):
        """Everything is there; a second time it is refused, and nothing changes."""
        content = self.emptied()
        self.assertTrue(self.client.get("/api/world").json()["empty"])
        self.assertEqual(self.send(content).json(), {"models": 6})
        self.assertEqual(OwnedPack.live.count(), 26)
        again = self.send(content)
        self.assertEqual(again.status_code, 422)
        self.assertIn("empty program only", again.json()["errors"][0]["message"])

    def test_an_older_one_is_brought_up_to_date(self):
        """From before there were two worlds."""
        self.emptied()
        packed = DATA / "before-two-worlds-mixed.sqlite3.gz"
        self.assertEqual(self.send(gzip.decompress(packed.read_bytes())).json(), {"models": 7})
        self.assertEqual(OwnedPack.live.get(tag="W1").assumed, [])

    def test_what_is_none_or_of_a_newer_program(self):
        """Said, and nothing is touched."""
        content = self.emptied()
        self.assertEqual(self.send(b"my packs").status_code, 422)
        with tempfile.TemporaryDirectory() as name:
            newer = Path(name) / "newer.sqlite3"
            newer.write_bytes(content)
            with sqlite3.connect(newer) as link:
                link.execute(
                    "insert into django_migrations (app, name, applied) "
                    "values ('gear', '9999_next', '2027-01-01')"
                )
            reply = self.send(newer.read_bytes())
        self.assertIn("newer Cold Stack", reply.json()["errors"][0]["message"])
        self.assertTrue(self.client.get("/api/world").json()["empty"])


class WhichWorld(DemoCase):
    def test_it_says_so(self):
        """The demo knows that it is one."""
        with override_settings(WORLD="demo"):
            self.assertEqual(
                self.client.get("/api/world").json(),
                {"world": "demo", "models": 6, "empty": False, "hands": "here"},
            )
