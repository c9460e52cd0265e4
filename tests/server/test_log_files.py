"""The log out and in: nothing lost, nothing twice, all or nothing."""

import csv
import json

from django.core.files.uploadedfile import SimpleUploadedFile

from coldstack.server.gear.models import OwnedPack
from coldstack.server.keeping.log_files import EventFile
from coldstack.server.life.models import Event
from tests.lives import events, forget, told
from tests.server.case import DemoCase


class LogCase(DemoCase):
    def setUp(self):
        told("04", "run", key="run-0001", model="ptarmigan", minutes=9.5, mah=2100, text='wind, "gusts"')
        told("04", "note", text="Über die Wiese, naß")

    def log(self):
        return json.loads(self.client.get("/api/keep/log.json").getvalue())

    def take(self, log, store=True):
        data = log if isinstance(log, bytes) else json.dumps(log).encode()
        return self.client.post(
            "/api/keep/log", {"file": SimpleUploadedFile("log.json", data), "store": store}
        )

    def count(self):
        return Event.objects.count()

    def states(self):
        groups = self.client.get("/api/keep/shelf").json()["groups"]
        return {p["tag"]: (p["state"], p["level"], p["since"]) for g in groups for p in g["packs"]}


class RoundTrip(LogCase):
    def test_out_and_in_again(self):
        """From an emptied log back to the same one, and the same packs; a second time adds nothing."""
        log, before, states = self.log(), self.count(), self.states()
        first = list(Event.objects.order_by("key").values(*EventFile.model_fields, "pack_id"))
        forget()
        preview = self.take(log, store=False).json()
        self.assertEqual(preview, {"events": before, "same": 0, "stored": False})
        self.assertEqual(self.count(), 0)
        self.take(log)
        again = list(Event.objects.order_by("key").values(*EventFile.model_fields, "pack_id"))
        self.assertEqual(again, first)
        self.assertEqual({**self.log(), "exported": ""}, {**log, "exported": ""})
        self.assertEqual(self.states(), states)
        self.assertEqual(self.take(log).json()["same"], before)
        self.assertEqual(self.count(), before)

    def test_a_file_of_before(self):
        """Version 1, with records, runs and notes: each once however often it stands there or is brought,
        and the pack as it was."""
        at = "2026-11-24T10:00:00Z"
        record = {"at": at, "cycle": 40, "rest_cell_v": [3.7] * 4, "state": "full", "capacity_ah": 3.9}
        run = {"key": "run-0777", "model": "ptarmigan", "at": "2026-11-24T09:00:00Z", "minutes": 9}
        left = {"at": run["at"], "source": "run", "state": "spent", "run_minutes": 9, "cycle": 39}
        pack = {
            "tag": "04",
            "records": [record, record, left, record],
            "runs": [run, run],
            "notes": [{"at": at, "text": "a scratch"}],
        }
        old, before = {"format": "cold-stack-log", "version": 1, "packs": [pack]}, self.count()
        self.assertEqual(self.take(old).json(), {"events": 3, "same": 3, "stored": True})
        self.assertEqual(self.take(old).json()["events"], 0)
        self.assertEqual(self.count(), before + 3)
        (charge,) = events("04", key__startswith="record-")
        self.assertEqual((charge.kind, charge.ended, charge.cycle), ("charge", "done", 40))
        self.assertEqual(self.client.get("/api/keep/packs/04").json()["cycles"], 40)

    def test_csv(self):
        """A header and a line for each; commas and quotes survive."""
        runs = list(csv.DictReader(self.client.get("/api/keep/runs.csv").getvalue().decode().splitlines()))
        self.assertEqual(
            (runs[0]["pack"], runs[0]["minutes"], runs[0]["note"]), ("04", "9.5", 'wind, "gusts"')
        )
        life = list(csv.DictReader(self.client.get("/api/keep/life.csv").getvalue().decode().splitlines()))
        self.assertEqual(len(life), self.count())
        first = next(x for x in life if x["kind"] == "charge")
        self.assertEqual(len(first["cell_mohm"].split()), OwnedPack.live.get(tag=first["pack"]).series)


class Refused(LogCase):
    def test_bad_files(self):
        """Each with the place and why; nothing is stored."""
        good, before = self.log(), self.count()

        def with_record(**values):
            record = {"at": "2026-01-01T10:00:00Z", **values}
            return {**good, "packs": [{"tag": "04", "records": [record]}]}

        for log, words in (
            (b"{", "not valid JSON"),
            ([], "the file"),
            ({**good, "format": "other"}, "format: Choose one of"),
            ({**good, "version": 3}, "version: Choose one of"),
            ({**good, "extra": 1}, "extra: There is no such field"),
            (with_record(soc=1.4), r"packs\.0\.records\.0\.soc"),
            (with_record(cell_mohm=[2, 2, 2]), "3 cells were read, but the pack has 4"),
            (with_record(at="2026-01-01T10:00:00"), r"packs\.0\.records\.0\.at"),
            ({**good, "packs": [{"tag": "99"}]}, "no pack 99"),
        ):
            with self.subTest(words):
                self.assert_problem(self.take(log), 422, "file", words)
        self.assertEqual(self.count(), before)

    def test_what_no_file_says(self):
        """That a charge runs; signs and steps that there are not."""
        event = {"key": "event-0001", "at": "2026-01-01T10:00:00Z"}
        for more, words in (
            ({"kind": "charging"}, "only a charger says"),
            ({"kind": "inspection", "signs": ["haunted"]}, "“haunted”"),
            ({"kind": "retirement", "steps": ["burn"]}, "“burn”"),
        ):
            with self.subTest(words):
                log = {**self.log(), "packs": [{"tag": "04", "events": [event | more]}]}
                self.assert_problem(self.take(log), 422, "file", words)
