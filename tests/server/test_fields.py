"""One table of fields: what core says of a field is what shapes, files and screens know of it."""

import json
import subprocess
from io import StringIO

from django.core.management import call_command

from coldstack.core.fields.quantity import Quantity
from coldstack.core.fields.table import fields_of
from coldstack.core.packs.pack import Pack
from coldstack.server.api.shapes import asked_in
from coldstack.server.config.paths import PROJECT
from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import OwnedPack
from coldstack.server.gear.screen_fields import screen_fields, start_of
from tests.server.case import DemoCase

PACK = {"name": "Kestrel 3S", "chemistry": "lipo", "series": 3, "capacity_ah": 1.3, "mass_g": 120}


class NewField(DemoCase):
    """A field that was put into core's pack and its table alone: a hard case."""

    def test_through_the_api_and_files(self):
        """It is kept, changed, exported, imported under people's word for it, and a twin shares it."""
        made = self.post("/api/gear/packs", {**PACK, "tag": "H1", "hard_case": True}).json()
        row = made["row"]["id"]
        self.assertTrue(OwnedPack.objects.get(pk=row).hard_case)
        self.assertTrue(self.client.get(f"/api/gear/packs/{row}/twin").json()["row"]["hard_case"])
        header, *lines = self.client.get("/api/files/packs.csv").content.decode().splitlines()
        place = header.split(",").index("hard_case")
        self.assertIn("1", [line.split(",")[place] for line in lines if "H1" in line.split(",")])
        file = StringIO("tag,name,chemistry,cells,mAh,weight,Hardcase\nH2,Kite 2S,LiPo,2,1300 mAh,90 g,yes\n")
        file.name = "packs.csv"
        reply = self.client.post("/api/files/import", {"file": file, "kind": "packs"})
        self.assertEqual(reply.status_code, 200, reply.content)
        self.assertTrue(OwnedPack.objects.get(tag="H2").hard_case)

    def test_on_the_screen(self):
        """The form has it by its name, and begins without."""
        self.assertEqual(screen_fields(KINDS["packs"])["hard_case"], {"label": "Hard case", "as": "flag"})
        self.assertIs(start_of(KINDS["packs"])["hard_case"], False)


class Shapes(DemoCase):
    """The API's shapes follow core's fields."""

    def test_every_figure_of_a_pack(self):
        """Each quantity of core's pack is asked by the shape of a pack in the box, and told once."""
        asked = {n: f.asked for n, f in fields_of(Pack).items() if isinstance(f.asked, Quantity)}
        self.assertGreater(len(asked), 12)
        for name, quantity in asked.items():
            self.assertIs(asked_in(KINDS["packs"].schema, name), quantity)

    def test_a_closed_list_and_a_length(self):
        """A chemistry that nobody sells and a name of a page are refused at their fields."""
        self.assert_problem(self.post("/api/gear/packs", {**PACK, "chemistry": "lead"}), 422, "chemistry")
        self.assert_problem(self.post("/api/gear/packs", {**PACK, "name": "x" * 121}), 422, "name")
        self.assert_problem(self.post("/api/gear/packs", {**PACK, "name": ""}), 422, "name")

    def test_the_schema_of_files_says_bounds_and_names(self):
        """Whoever writes a file reads there what can be."""
        schema = self.client.get("/api/files/gear.schema.json").json()["$defs"]["PackIn"]["properties"]
        self.assertEqual(schema["capacity_ah"]["description"], "0.01 to 200 Ah")
        self.assertEqual(schema["cell_mohm"]["title"], "Resistance of a cell")

    def test_the_table_of_the_screens_is_typescript(self):
        """What is generated is a module that node reads, with every kind and field."""
        out = StringIO()
        call_command("export_fields", stdout=out)
        self.assertEqual(out.getvalue(), (PROJECT / "web" / "src" / "api" / "fields.ts").read_text())
        script = out.getvalue().replace(" as const", "").replace("export const", "const")
        told = subprocess.run(
            ["node", "-e", f"{script}; console.log(JSON.stringify(FIELD_TABLE))"],
            capture_output=True,
            text=True,
            check=True,
        )
        self.assertEqual(set(json.loads(told.stdout)), set(KINDS))
