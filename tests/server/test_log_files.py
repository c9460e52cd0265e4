"""The log out and in: nothing lost, nothing twice, all or nothing."""

import csv
import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.models import PackNote, PackRecord, RunLog
from tests.server.case import DemoCase


class LogCase(DemoCase):
    def setUp(self):
        pack = OwnedPack.live.get(tag="04")
        RunLog.objects.create(key="run-0001", pack=pack, model_slug="ptarmigan", at=timezone.now(), minutes=9.5, put_back_mah=2100, note="wind, \"gusts\"")  # fmt: skip
        PackNote.objects.create(pack=pack, at=timezone.now(), text="Über die Wiese, naß")

    def log(self):
        return json.loads(self.client.get("/api/keep/log.json").content)

    def take(self, log, store=True):
        data = log if isinstance(log, bytes) else json.dumps(log).encode()
        return self.client.post("/api/keep/log", {"file": SimpleUploadedFile("log.json", data), "store": store})  # fmt: skip

    def counts(self):
        return PackRecord.objects.count(), RunLog.objects.count(), PackNote.objects.count()


class RoundTrip(LogCase):
    def test_out_and_in_again(self):
        """From an emptied log back to the same one; a second time adds nothing."""
        log, before = self.log(), self.counts()
        first = PackRecord.objects.filter(pack__tag="07").first()
        for model in (PackRecord, RunLog, PackNote):
            model.objects.all().delete()
        preview = self.take(log, store=False).json()
        self.assertEqual((preview["records"], preview["runs"], preview["notes"], preview["stored"]), (*before, False))  # fmt: skip
        self.assertEqual(self.counts(), (0, 0, 0))
        self.take(log)
        self.assertEqual(self.counts(), before)
        again = PackRecord.objects.filter(pack__tag="07").first()
        for name in ("at", "cycle", "temperature_c", "cell_mohm", "rest_cell_v", "capacity_ah", "state", "source"):  # fmt: skip
            self.assertEqual(getattr(again, name), getattr(first, name), name)
        self.assertEqual({**self.log(), "exported": ""}, {**log, "exported": ""})
        self.assertEqual(self.take(log).json()["same"], sum(before))
        self.assertEqual(self.counts(), before)

    def test_csv(self):
        """A header and a line for each; commas and quotes survive."""
        runs = list(csv.DictReader(self.client.get("/api/keep/runs.csv").content.decode().splitlines()))
        self.assertEqual((runs[0]["pack"], runs[0]["minutes"], runs[0]["note"]), ("04", "9.5", 'wind, "gusts"'))  # fmt: skip
        records = list(csv.DictReader(self.client.get("/api/keep/records.csv").content.decode().splitlines()))
        self.assertEqual(len(records), PackRecord.objects.count())
        self.assertEqual(len(records[0]["cell_mohm"].split()), OwnedPack.live.get(tag=records[0]["pack"]).series)  # fmt: skip


class Refused(LogCase):
    def test_bad_files(self):
        """Each with the place and why; nothing is stored."""
        good, before = self.log(), self.counts()

        def with_record(**values):
            record = {"at": "2026-01-01T10:00:00Z", **values}
            return {**good, "packs": [{"tag": "04", "records": [record]}]}

        for log, words in (
            (b"{", "not valid JSON"),
            ([], "the file"),
            ({**good, "format": "other"}, "format: Choose one of"),
            ({**good, "version": 2}, "version: Choose one of"),
            ({**good, "extra": 1}, "extra: There is no such field"),
            (with_record(soc=1.4), r"packs\.0\.records\.0\.soc"),
            (with_record(cell_mohm=[2, 2, 2]), "3 cells were read, but the pack has 4"),
            (with_record(at="2026-01-01T10:00:00"), r"packs\.0\.records\.0\.at"),
            ({**good, "packs": [{"tag": "99"}]}, "no pack 99"),
        ):
            with self.subTest(words):
                self.assert_problem(self.take(log), 422, "file", words)
        self.assertEqual(self.counts(), before)

    def test_a_key_twice(self):
        """Two new runs of one key are a mistake."""
        run = {"key": "run-9999", "model": "ptarmigan", "at": "2026-01-01T10:00:00Z", "minutes": 9}
        self.assert_problem(self.take({**self.log(), "packs": [{"tag": "04", "runs": [run, run]}]}), 422, "file", "same key")  # fmt: skip
