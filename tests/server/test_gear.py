import json

from django.test import Client

from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import Change, OwnedPack, RcModel
from tests.lives import forget
from tests.server.case import DemoCase

PACK = {"name": "Hollin 3S 2200 35C", "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "mass_g": 180}
CHARGER = {
    "name": "Bench two",
    "chemistries": ["lipo", "lihv"],
    "series_max": 6,
    "port_a": 8,
    "port_w": 120,
    "mains_w": 150,
}


class GearCase(DemoCase):
    def put(self, path, body):
        return self.client.put(path, json.dumps(body), content_type="application/json")

    def add(self, kind, body):
        reply = self.post(f"/api/gear/{kind}", body)
        self.assertEqual(reply.status_code, 201, reply.content[:300])
        return reply.json()

    def rows(self, kind):
        return self.client.get(f"/api/gear/{kind}").json()

    def undo(self, change):
        return self.client.post(f"/api/gear/changes/{change['id']}/undo")

    def redo(self, change):
        return self.client.post(f"/api/gear/changes/{change['id']}/redo")


class EveryKind(GearCase):
    def test_lists_take_one_query_each(self):
        """However many rows there are."""
        for kind in KINDS:
            with self.subTest(kind=kind), self.assertNumQueries(1):
                self.assertGreater(len(self.rows(kind)), 0)

    def test_copy_change_delete_and_undo_each(self):
        """For each kind: a copy under another name, a new name, gone, back again, all undone, all done
        again, and undone once more."""
        for kind in KINDS:
            with self.subTest(kind=kind):
                before = self.rows(kind)
                made = self.client.post(f"/api/gear/{kind}/{before[0]['id']}/copy").json()
                row = made["row"]
                self.assertNotEqual(row["id"], before[0]["id"])
                body = {k: v for k, v in row.items() if k not in ("id", "version")} | {"name": "renamed"}
                changed = self.put(f"/api/gear/{kind}/{row['id']}", body)
                self.assertEqual(changed.status_code, 200, changed.content[:300])
                gone = self.client.delete(f"/api/gear/{kind}/{row['id']}").json()
                self.assertEqual(len(self.rows(kind)), len(before))
                self.assertEqual(self.undo(gone["change"]).status_code, 200)
                self.assertIn("renamed", [r["name"] for r in self.rows(kind)])
                for change in (changed.json()["change"], made["change"]):
                    self.assertEqual(self.undo(change).status_code, 200)
                self.assertEqual(self.rows(kind), before)
                for change in (made["change"], changed.json()["change"]):
                    self.assertEqual(self.redo(change).status_code, 200)
                self.assertEqual(
                    [r for r in self.rows(kind) if r["id"] == row["id"]], [changed.json()["row"]], kind
                )
                self.assertEqual(self.redo(gone["change"]).status_code, 200)
                self.assertEqual(self.rows(kind), before)
                for change in (gone["change"], changed.json()["change"], made["change"]):
                    self.assertEqual(self.undo(change).status_code, 200)
                self.assertEqual(self.rows(kind), before)

    def test_writing_needs_the_token(self):
        """For adding, changing, copying, deleting, undoing."""
        strict = Client(enforce_csrf_checks=True)
        for method, path in (
            ("post", "/api/gear/packs"),
            ("put", "/api/gear/packs/1"),
            ("post", "/api/gear/packs/1/copy"),
            ("delete", "/api/gear/packs/1"),
            ("post", "/api/gear/changes/1/undo"),
            ("post", "/api/gear/changes/1/redo"),
        ):
            reply = getattr(strict, method)(path, json.dumps(PACK), content_type="application/json")
            self.assert_problem(reply, 403, words="Reload")

    def test_what_is_not_there(self):
        """404, not a crash."""
        for reply in (
            self.put("/api/gear/packs/999", PACK),
            self.client.delete("/api/gear/packs/999"),
            self.client.post("/api/gear/packs/999/copy"),
            self.client.post("/api/gear/changes/999/undo"),
        ):
            self.assert_problem(reply, 404)


class Packs(GearCase):
    def test_a_new_pack_gets_the_next_tag(self):
        """01 to 24 are taken, 31 and 32: 25; with a gap, the gap."""
        self.assertEqual(self.add("packs", PACK)["row"]["tag"], "25")
        forget()
        OwnedPack.objects.filter(tag="07").delete()
        self.assertEqual(self.add("packs", PACK)["row"]["tag"], "07")

    def test_a_tag_is_given_once(self):
        """The field is named; a deleted pack's tag is free again, and its undo then says why it cannot."""
        self.assert_problem(
            self.post("/api/gear/packs", {**PACK, "tag": "03"}), 422, "tag", "Another pack is “03”"
        )
        third = OwnedPack.live.get(tag="03")
        gone = self.client.delete(f"/api/gear/packs/{third.pk}").json()
        self.add("packs", {**PACK, "tag": "03"})
        self.assert_problem(self.undo(gone["change"]), 422, "tag", "Another pack bears this tag now")
        self.assertEqual(OwnedPack.live.get(tag="03").name, PACK["name"])

    def test_impossible_figures_name_their_field(self):
        """From the shape and from the core; nothing is stored."""
        for part, field, words in (
            ({"capacity_ah": -1}, "capacity_ah", "from 0.01 to 200 Ah"),
            ({"series": "x"}, "series", "“x” is not a number"),
            ({"plug": "xt61"}, "plug", "must be one of"),
            ({"mass_g": 0}, "mass_g", "from 0.5 to 50000 g"),
            ({"volts": 3}, "volts", "no such field"),
            ({"name": ""}, "name", "needed"),
        ):
            self.assert_problem(self.post("/api/gear/packs", {**PACK, **part}), 422, field, words)
        self.assertEqual(OwnedPack.objects.count(), 26)
        self.assertEqual(Change.objects.count(), 0)

    def test_sizing_sees_a_new_pack_at_once(self):
        """Added, changed, unfit, deleted: the plan follows."""

        def owned():
            field = self.plan(wants={"rpm": None})["field"]
            return [n for n, k in zip(field["names"], field["kinds"], strict=True) if k == "owned"]

        row = self.add(
            "packs",
            {
                **PACK,
                "name": "Wonder 4S",
                "series": 4,
                "capacity_ah": 6.0,
                "mass_g": 300,
                "label_c": 60,
                "cell_mohm": 1.0,
            },
        )["row"]
        self.assertIn("Wonder 4S", owned())
        body = {k: v for k, v in row.items() if k not in ("id", "version")}
        self.put(f"/api/gear/packs/{row['id']}", {**body, "name": "Marvel 4S"})
        self.assertIn("Marvel 4S", owned())
        self.put(f"/api/gear/packs/{row['id']}", {**body, "fit": False})
        self.assertNotIn("Wonder 4S", owned())
        self.put(f"/api/gear/packs/{row['id']}", body)
        self.client.delete(f"/api/gear/packs/{row['id']}")
        self.assertNotIn("Wonder 4S", owned())


class Undoing(GearCase):
    def test_a_newer_change_of_the_same_row_comes_first(self):
        """It is named."""
        row = OwnedPack.live.get(tag="01")
        body = {k: v for k, v in self.rows("packs")[0].items() if k not in ("id", "version")}
        first = self.put(f"/api/gear/packs/{row.pk}", {**body, "note": "one"}).json()["change"]
        second = self.put(f"/api/gear/packs/{row.pk}", {**body, "note": "two"}).json()["change"]
        self.assert_problem(self.undo(first), 422, "id", "Newer than this.*Changed pack 01")
        self.assertEqual(self.undo(second).status_code, 200)
        self.assertEqual(self.undo(first).status_code, 200)
        self.assertEqual(OwnedPack.live.get(tag="01").note, "")
        self.assert_problem(self.undo(first), 422, "id", "undone before")

    def test_what_is_done_again_waits_for_what_came_since(self):
        """Once, and only what was undone; not over a newer change, nor where the tag was given away."""
        row = OwnedPack.live.get(tag="01")
        body = {k: v for k, v in self.rows("packs")[0].items() if k not in ("id", "version")}
        first = self.put(f"/api/gear/packs/{row.pk}", {**body, "note": "one"}).json()["change"]
        self.assert_problem(self.redo(first), 422, "id", "not undone")
        self.undo(first)
        second = self.put(f"/api/gear/packs/{row.pk}", {**body, "note": "two"}).json()["change"]
        self.assert_problem(self.redo(first), 422, "id", "Newer than this.*Changed pack 01")
        self.undo(second)
        self.assertEqual(self.redo(first).status_code, 200)
        self.assertEqual(OwnedPack.live.get(tag="01").note, "one")
        self.assert_problem(self.redo(first), 422, "id", "not undone")
        added = self.add("packs", {**PACK, "tag": "77"})["change"]
        self.undo(added)
        self.add("packs", {**PACK, "tag": "77"})
        self.assert_problem(self.redo(added), 422, "tag", "Another pack bears this tag now")

    def test_changes_are_listed_newest_first(self):
        """Undone ones are not."""
        a, b = self.add("packs", PACK)["change"], self.add("packs", PACK)["change"]
        self.undo(b)
        self.assertEqual([c["id"] for c in self.client.get("/api/gear/changes").json()], [a["id"]])


class Models(GearCase):
    def test_a_new_model_from_a_few_answers(self):
        """For several kinds: it is added, has an address, sizes, and can be deleted."""
        for kind in ("plane", "multirotor", "car", "tracked", "boat"):
            answers = {
                "name": "Heron",
                "kind": kind,
                "mass_g": 1500,
                "now": {"series": 3, "capacity_ah": 3.3},
            }
            job = self.post("/api/describe-model", answers).json()["job"]
            row = self.add("models", {"name": "Heron", "job": job})["row"]
            self.assertTrue(row["slug"].startswith("heron"))
            self.assertEqual(self.client.get(f"/api/models/{row['slug']}").json()["name"], "Heron")
            plan = self.post("/api/sizing/plan", {"job": row["job"]}).json()
            self.assertGreater(plan["feasible_count"], 0, kind)
        self.assertEqual(RcModel.live.count(), 11)
        self.assertEqual(len(set(RcModel.live.values_list("slug", flat=True))), 11)

    def test_renaming_keeps_address_and_job(self):
        """The stages' links go on working."""
        row = next(r for r in self.rows("models") if r["slug"] == "stoat")
        body = {k: v for k, v in row.items() if k not in ("id", "version")}
        changed = self.put(
            f"/api/gear/models/{row['id']}", {**body, "name": "Weasel", "slug": "weasel"}
        ).json()
        self.assertEqual((changed["row"]["name"], changed["row"]["slug"]), ("Weasel", "stoat"))
        self.assertEqual(self.client.get("/api/models/stoat").json()["job"], row["job"])

    def test_the_last_model_can_go_too(self):
        """The first page is there for who has none; undone, it is back."""
        for row in self.rows("models"):
            last = self.client.delete(f"/api/gear/models/{row['id']}").json()["change"]["id"]
        self.assertEqual(self.client.get("/api/world").json()["models"], 0)
        self.post(f"/api/gear/changes/{last}/undo", {})
        self.assertEqual(self.client.get("/api/world").json()["models"], 1)


class Others(GearCase):
    def test_chargers_and_pieces_are_judged_by_the_core(self):
        """No input; no plug; a balance adapter without families."""
        self.add("chargers", CHARGER)
        self.assert_problem(
            self.post("/api/gear/chargers", {**CHARGER, "mains_w": 0}), 422, "mains_w", "from 0.5"
        )
        self.assert_problem(
            self.post("/api/gear/pieces", {"name": "x", "pack_plug": "xt60"}),
            422,
            "device_plug",
            "Choose the plug",
        )
        self.assert_problem(
            self.post("/api/gear/pieces", {"name": "x", "kind": "balance"}),
            422,
            "balance_from",
            "needs the family",
        )
        self.assert_problem(
            self.post(
                "/api/gear/pieces",
                {"name": "x", "kind": "balance", "balance_from": ["eh"], "balance_out": "xh"},
            ),
            422,
            "balance_cells",
            "how many cells",
        )
        self.assert_problem(
            self.post("/api/gear/supplies", {"name": "x", "voltage_v": 12, "power_w": -4}),
            422,
            "power_w",
            "from 1 to 5000 W",
        )


class Labels(GearCase):
    def test_a_label_over_the_api(self):
        """Values, contradictions, guesses, what is missing."""
        reply = self.post("/api/labels/read", {"line": "Hollin 3S 14.8V 2200mAh 25C"}).json()
        self.assertEqual(reply["values"]["series"], 3)
        self.assertRegex(reply["contradictions"][0], "make 11.1 V, not 14.8 V")
        self.assertIn("mass_g", reply["guesses"])
        self.assertIn("scale", " ".join(reply["missing"]))

    def test_wires(self):
        """Fill the cells; one wire is refused at its field."""
        self.assertEqual(
            self.post("/api/labels/read", {"line": "2200mAh", "balance_wires": 4}).json()["values"]["series"],
            3,
        )
        self.assert_problem(
            self.post("/api/labels/read", {"line": "", "balance_wires": 1}),
            422,
            "balance_wires",
            "at least 2",
        )
