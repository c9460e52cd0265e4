import csv
import io
import json
import threading

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from coldstack.server.config.paths import PROJECT
from coldstack.server.gear import imports, progress
from coldstack.server.gear.exports import json_schema
from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import CataloguePack, Change, OwnedPack
from tests.lives import forget
from tests.server.case import DemoCase

HEADER = "name,chemistry,series,capacity_ah,mass_g,plug,lead_awg,label_c"


def rows_csv(count, start=0):
    """A catalogue of made-up packs."""
    lines = [
        f"Skarn 4S no {i},lipo,4,{3 + (i % 40) / 10:.1f},{250 + i % 200},xt60,14,35"
        for i in range(start, start + count)
    ]
    return "\n".join([HEADER, *lines])


class FileCase(DemoCase):
    def send(self, content, name="file.csv", kind="catalogue", address="import", token="t"):
        data = content.encode() if isinstance(content, str) else content
        return self.client.post(
            f"/api/files/{address}", {"file": SimpleUploadedFile(name, data), "kind": kind, "token": token}
        )

    def refused(self, content, words, **how):
        """The whole file is refused, and nothing has changed."""
        before = self.everything()
        for address in ("preview", "import"):
            self.assert_problem(
                self.send(content, address=address, **how), 422, how.pop("field", "file"), words
            )
        self.assertEqual(self.everything(), before)

    def everything(self):
        body = json.loads(self.client.get("/api/files/gear.json").content)
        return {k: v for k, v in body.items() if k != "exported"}


class RoundTrip(FileCase):
    def test_json_into_an_empty_place_gives_the_same(self):
        """Every kind, field by field; and onto itself it changes nothing."""
        text, before = self.client.get("/api/files/gear.json").content, self.everything()
        same = self.send(text, "gear.json").json()
        self.assertEqual((same["added"], same["changed"]), (0, 0))
        self.assertGreater(same["same"], 150)
        for kind in KINDS.values():
            forget()
            kind.model.objects.all().delete()
        self.assertEqual(self.send(text, "gear.json").json()["added"], same["same"])
        self.assertEqual(self.everything(), before)

    def test_csv_of_each_kind(self):
        """Packs, catalogue, cells: out, all deleted, in, the same."""
        for kind in ("packs", "catalogue", "cells"):
            with self.subTest(kind=kind):
                text, before = self.client.get(f"/api/files/{kind}.csv").content, self.everything()
                self.assertEqual(self.send(text, kind=kind).json()["changed"], 0)
                forget()
                KINDS[kind].model.objects.all().delete()
                self.send(text, kind=kind)
                self.assertEqual(self.everything(), before)

    def test_the_export_keeps_to_its_schema(self):
        """Every field of every entry is described, and the committed schema is this program's."""
        schema = json_schema()
        self.assertEqual(
            json.loads((PROJECT / "docs" / "gear.schema.json").read_text()), json.loads(json.dumps(schema))
        )
        body = self.everything()
        self.assertLessEqual(set(body), set(schema["properties"]))
        for kind in KINDS.values():
            described = set(schema["$defs"][kind.schema.__name__]["properties"])
            for entry in body[kind.id]:
                self.assertEqual(set(entry), described)

    def test_other_spellings_of_csv(self):
        """Semicolons with decimal commas, tabs, a byte-order mark, UTF-16, Windows line ends."""
        for i, text in enumerate(
            (
                "name;chemistry;series;capacity_ah;mass_g\nA;lipo;4;3,7;309,5\n",
                "name\tchemistry\tseries\tcapacity_ah\tmass_g\nA\tlipo\t4\t3.7\t309.5\n",
                "\ufeffname,chemistry,series,capacity_ah,mass_g\r\nA,lipo,4,3.7,309.5\r\n",
                "name,chemistry,series,capacity_ah,mass_g\nA,lipo,4,3.7,309.5\n".encode("utf-16"),
            )
        ):
            with self.subTest(i=i):
                CataloguePack.objects.filter(name="A").delete()
                self.assertEqual(self.send(text).json()["added"], 1)
                row = CataloguePack.live.get(name="A")
                self.assertEqual((row.capacity_ah, row.mass_g, row.plug), (3.7, 309.5, "xt60"))

    def test_a_file_of_version_1(self):
        """There a cell's resistance had another name, in packs, what a log taught and models' jobs."""
        body, before = json.loads(self.client.get("/api/files/gear.json").content), self.everything()
        body["version"] = 1
        for rows in (body["packs"], body["catalogue"], [m["job"]["now"] or {} for m in body["models"]]):
            for row in rows:
                if "cell_mohm" in row:
                    row["cell_resistance_mohm"] = row.pop("cell_mohm")
                if row.get("learnt"):
                    row["learnt"]["resistance_mohm"] = row["learnt"].pop("cell_mohm")
        text = json.dumps(body)
        self.assertGreater(text.count('"cell_resistance_mohm": '), 50)
        for kind in KINDS.values():
            forget()
            kind.model.objects.all().delete()
        self.send(text, "gear.json")
        self.assertEqual(self.everything(), before)


class BadFiles(FileCase):
    def test_files_that_cannot_be_understood(self):
        """Each with what is wrong and what would be right; nothing is stored."""
        good = json.loads(self.client.get("/api/files/gear.json").content)
        self.refused("", "empty")
        self.refused(b"\x89PNG\x01\x02\x03\x04", "not text")
        self.refused('{"format": "cold-stack-gear", ', "not valid JSON at line 1", name="x.json")
        self.refused('{"format": "other"}', "“format” must be", name="x.json")
        self.refused(json.dumps({**good, "version": 3}), "reads versions 1 and 2", name="x.json")
        deep = f'{{"format": "cold-stack-gear", "version": 1, "packs": {"[" * 700}{"]" * 700}}}'
        self.refused(deep, "not valid JSON", name="x.json")
        self.refused(json.dumps({**good, "boats": []}), "no section “boats”", name="x.json")
        self.refused(json.dumps({**good, "packs": {}}), "must be a list", name="x.json")
        self.refused(
            "name,capactiy_ah\nA,3\n",
            "missing: chemistry, series, capacity_ah.* may be meant for capacity_ah",
        )
        self.refused("name,chemistry\nA,lipo\n", "missing: series, capacity_ah")
        self.refused("name,name\nA,B\n", "both mean name.*missing: chemistry")
        self.refused(HEADER + '\n"broken', "is not CSV")

    def test_a_csv_of_models_comes_as_json(self):
        """A model holds its whole job."""
        self.assert_problem(
            self.send("name\nx\n", kind="models"), 422, "kind", "everything else comes as JSON"
        )
        self.assert_problem(self.client.get("/api/files/models.csv"), 422, "kind", "goes out as JSON")
        self.assert_problem(
            self.client.get("/api/files/templates/models.csv"), 422, "kind", "There are templates for"
        )

    def test_one_bad_row_and_nothing_is_stored(self):
        """Each bad row is named with its line, field and reason; the good ones stay out too."""
        text = (
            rows_csv(3)
            + "\nBad,lipo,4,-1,300,xt60,14,35\nWorse,lead,4,x,300,xt60,14,35\nShort,lipo\n"
            + rows_csv(1).split("\n")[1]
        )
        for address in ("preview", "import"):
            report = self.send(text, address=address).json()
            found = {(p["place"], p["field"]) for p in report["problems"]}
            self.assertEqual(
                found,
                {
                    ("line 5", "capacity_ah"),
                    ("line 6", "chemistry"),
                    ("line 6", "capacity_ah"),
                    ("line 7", ""),
                    ("line 8", "name"),
                },
            )
            self.assertIsNone(report["change"])
        self.assertFalse(CataloguePack.objects.filter(name__startswith="Skarn").exists())
        words = " ".join(p["message"] for p in report["problems"])
        for part in (
            "from 0.01 to 200 Ah",
            "“x” is not a number",
            "2 cells in 8 columns",
            "twice: first at line 2",
        ):
            self.assertIn(part, words)

    def test_a_pack_without_a_tag_gets_the_next_one(self):
        """As in the form; brought in twice it is there once."""
        text = "name,chemistry,series,capacity_ah,mass_g\nA,lipo,3,2.2,180\nA,lipo,3,2.2,180\n"
        self.assertEqual(self.send(text, kind="packs").json()["samples"], ["new: 25 A", "new: 26 A"])
        again = self.send(text, kind="packs").json()
        self.assertEqual((again["added"], again["same"]), (0, 2))
        self.assertEqual(OwnedPack.live.filter(name="A").count(), 2)


class Importing(FileCase):
    def test_preview_stores_nothing(self):
        """It says what would be."""
        report = self.send(rows_csv(5), address="preview").json()
        self.assertEqual((report["added"], report["change"]), (5, None))
        self.assertEqual(report["samples"][0], "new: Skarn 4S no 0")
        self.assertFalse(CataloguePack.objects.filter(name__startswith="Skarn").exists())

    def test_what_looks_like_a_slip_is_told_before(self):
        """A tenfold mass and capacity: notes of the preview with what was meant; they are stored as they are
        said, and what stands there already is not asked about again."""
        head = "name,chemistry,series,capacity_ah,mass_g"
        file = "\n".join([head, "Skarn A,lipo,4,1.3,155", "Skarn B,lipo,4,1.3,1550", "Skarn C,lipo,4,13,155"])
        told = self.send(file, address="preview").json()
        self.assertEqual([n.split(":")[0] for n in told["notes"]], ["Skarn B", "Skarn C"])
        self.assertIn("Did you mean 155", told["notes"][0])
        self.assertIn("Did you mean 1300 mAh", told["notes"][1])
        self.assertEqual(self.send(file).json()["added"], 3)
        self.assertEqual(self.send(file, address="preview").json()["notes"], [])

    def test_new_changed_and_same_and_undone(self):
        """Rows are recognised by their tag; the undo brings back all of it."""
        before = self.everything()
        out = list(csv.DictReader(io.StringIO(self.client.get("/api/files/packs.csv").content.decode())))
        out[0]["note"] = "seen"
        out.append({**out[1], "tag": "40"})
        text = io.StringIO()
        writer = csv.DictWriter(text, out[0])
        writer.writeheader()
        writer.writerows(out)
        report = self.send(text.getvalue(), kind="packs").json()
        self.assertEqual((report["added"], report["changed"], report["same"]), (1, 1, 25))
        self.assertEqual(OwnedPack.live.get(tag="01").note, "seen")
        self.assertEqual(
            self.client.post(f"/api/gear/changes/{report['change']['id']}/undo").status_code, 200
        )
        self.assertEqual(self.everything(), before)

    def test_five_thousand_rows_and_size_uses_them(self):
        """In batches, not row by row; the plan then has them among its candidates; undone, they are gone."""
        before = len(self.plan(wants={"rpm": None})["field"]["ids"])
        report = self.send(rows_csv(5000)).json()
        self.assertEqual(report["added"], 5000)
        after = self.plan(wants={"rpm": None})["field"]["names"]
        self.assertGreater(sum(name.startswith("Skarn 4S no") for name in after), 1000)
        self.client.post(f"/api/gear/changes/{report['change']['id']}/undo")
        self.assertEqual(len(self.plan(wants={"rpm": None})["field"]["ids"]), before)
        self.assertEqual(CataloguePack.live.count(), 123)

    def test_progress_goes_through_its_phases(self):
        """Checking, then storing, up to the last row; an unknown token waits."""
        seen = []
        real = progress.Progress.at

        def watched(self, phase, done, total):
            seen.append((phase, done, total))
            real(self, phase, done, total)

        progress.Progress.at = watched
        try:
            self.send(rows_csv(600), token="watch")
        finally:
            progress.Progress.at = real
        self.assertEqual(next(s for s in seen if s[0] == "checking"), ("checking", 0, 600))
        self.assertGreater(len([s for s in seen if s[0] == "storing"]), 2)
        self.assertEqual(seen[-1], ("storing", 600, 600))
        self.assertEqual(
            self.client.get("/api/files/progress/watch").json(),
            {"phase": "storing", "done": 600, "total": 600},
        )
        self.assertEqual(self.client.get("/api/files/progress/other").json()["phase"], "waiting")

    def test_stopped_before_its_file_has_come(self):
        """The wish is kept: it ends at its first step; another import is not stopped by it, nor a later one
        by the same name."""
        self.client.post("/api/files/progress/early/stop", {}, content_type="application/json")
        self.assert_problem(self.send(rows_csv(6), token="early"), 422, "file", "stopped; nothing was stored")
        self.assertEqual(self.send(rows_csv(6), token="later").status_code, 200)
        self.assertEqual(self.send(rows_csv(6), token="early").status_code, 200)

    def test_a_stopped_import_stores_nothing(self):
        """The wish comes while it stores its second batch."""
        real = imports._create
        calls = []

        def stop_at_second(kind, rows):
            calls.append(len(rows))
            if len(calls) == 1:
                thread = threading.Thread(target=lambda: Client().post("/api/files/progress/stopme/stop"))
                thread.start()
                thread.join()
            return real(kind, rows)

        imports._create = stop_at_second
        try:
            reply = self.send(rows_csv(600), token="stopme")
        finally:
            imports._create = real
        self.assert_problem(reply, 422, "file", "stopped; nothing was stored")
        self.assertEqual(calls, [250])
        self.assertEqual((CataloguePack.objects.count(), Change.objects.count()), (123, 0))
