"""Lists of gear as people keep them in spreadsheets: headers, units, values and signs in their habits."""

import csv
import io

from coldstack.server.gear.csv_cells import FORMULA, cell_back, cell_out
from coldstack.server.gear.file_reading import CSV_KINDS
from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import CataloguePack, OwnedPack
from tests.server.test_files import FileCase

PACK = {"series": 3, "capacity_ah": 2.2, "mass_g": 188, "label_c": 35, "plug": "xt60"}
# the same pack of 3S 2200 mAh, 188 g, 35C, XT60 in twenty habits; what differs is said beside it
HABITS = [
    ("own names", "name,chemistry,series,capacity_ah,mass_g,label_c,plug\nA,lipo,3,2.2,188,35,xt60\n", {}),
    ("capitals", "NAME,CHEMISTRY,SERIES,CAPACITY_AH,MASS_G,LABEL_C,PLUG\nA,LIPO,3,2.2,188,35,XT60\n", {}),
    (
        "words of the form",
        "Name,Chemistry,Cells in series,Capacity (mAh),Mass (g),Continuous C,Main "
        "plug\nA,LiPo,3,2200,188,35,XT60\n",
        {},
    ),
    ("short words", "Pack,Type,S,mAh,Weight,C,Connector\nA,LiPo,3,2200,188,35,XT-60\n", {}),
    (
        "units in the cells",
        "Name,Chemistry,Cells,Capacity,Weight,C rating,Plug\nA,Li-Po,3S,2200 mAh,188 g,35C,XT60\n",
        {},
    ),
    ("a bare capacity", "Name,Chemistry,Cells,Capacity,Weight,C,Plug\nA,LiPo,3,2200,188,35,XT60\n", {}),
    (
        "Ah with a decimal comma",
        "Name;Chemie;Zellen;Kapazität Ah;Gewicht;C;Stecker\nA;LiPo;3;2,2;188;35;XT60\n",
        {},
    ),
    (
        "tabs",
        "Name\tChemistry\tCells\tmAh\tg\tC\tPlug\nA\tlipo\t3\t2200\t188\t35\txt60\n",
        {"mass_g": "assumed"},
    ),
    ("kilograms", "Name,Chemistry,Cells,mAh,Weight (kg),C,Plug\nA,LiPo,3,2200,0.188,35,XT60\n", {}),
    (
        "ounces",
        "Name,Chemistry,Cells,mAh,Weight (oz),C,Plug\nA,LiPo,3,2200,6.63,35,XT60\n",
        {"mass_g": 187.957337},
    ),
    (
        "size in one column",
        "Name,Chemistry,Cells,mAh,Weight,C,Plug,Dimensions\nA,LiPo,3,2200,188,35,XT60,105 x 34 x 25 mm\n",
        {"length_mm": 105, "width_mm": 34, "height_mm": 25},
    ),
    (
        "size in centimetres",
        "Name,Chemistry,Cells,mAh,Weight,C,Plug,Length (cm)\nA,LiPo,3,2200,188,35,XT60,10.5\n",
        {"length_mm": 105},
    ),
    (
        "strings too",
        "Name,Chemistry,Config,mAh,Weight,C,Plug\nA,LiPo,3S2P,2200,188,35,XT60\n",
        {"parallel": 2},
    ),
    (
        "two rates in one",
        "Name,Chemistry,Cells,mAh,Weight,C,Plug\nA,LiPo,3,2200,188,35C/70C,XT60\n",
        {"label_burst_c": 70},
    ),
    (
        "prices with their currency",
        "Name,Chemistry,Cells,mAh,Weight,C,Plug,Price (€)\nA,LiPo,3,2200,188,35,XT60,€19.95\n",
        {"price": 19.95},
    ),
    (
        "columns of their own",
        "Name,Chemistry,Cells,mAh,Weight,C,Plug,Bought,Colour\nA,LiPo,3,2200,188,35,XT60,2024-05-01,red\n",
        {},
    ),
    (
        "empty cells in words",
        "Name,Chemistry,Cells,mAh,Weight,C,Plug,Price,IR\nA,LiPo,3,2200,188,35,XT60,-,n/a\n",
        {"price": None, "cell_mohm": None},
    ),
    ("short rows", "Name,Chemistry,Cells,mAh,Weight,C,Plug,Note,Price\nA,LiPo,3,2200,188,35,XT60\n", {}),
    (
        "a first line for the spreadsheet, CRLF",
        "sep=;\r\nName;Chemistry;Cells;mAh;Weight;C;Plug\r\nA;LiPo;3;2200;188;35;XT60\r\n",
        {},
    ),
    (
        "an old spreadsheet's letters",
        "Name;Chemistry;Cells;mAh;Weight;C;Plug;Note\nA;LiPo;3;2200;188;35;XT60;für die Größe\n".encode(
            "cp1252"
        ),
        {},
    ),
    (
        "a title above, volts instead of cells",
        "My packs\n\nPack #,Pack name,Voltage,Type,capacityMah,Weight in grams,Continuous "
        "discharge,Plug type\nX1,A,11.1V,LiPo,2200,188,35C,XT60 \n",
        {},
    ),
    (
        "two columns of names",
        "Name,Label,Chemistry,# cells,mAh,Weight,C,Plug\nA,mine,LiPo,3,2200,188,35,XT60\n",
        {},
    ),
    ("thousands grouped", 'Name,Chemistry,Cells,mAh,Weight,C,Plug\nA,LiPo,3,"2,200",188,35,XT60\n', {}),
    ("no mass", "Name,Chemistry,Cells,mAh,C,Plug\nA,LiPo,3,2200,35,XT60\n", {"mass_g": "assumed"}),
]  # each with what is otherwise than PACK


class Habits(FileCase):
    def test_twenty_lists_of_one_pack(self):
        """All read whole, for packs without a tag and for the catalogue."""
        self.assertGreaterEqual(len(HABITS), 20)
        for kind, table in (("packs", OwnedPack), ("catalogue", CataloguePack)):
            for name, text, other in HABITS:
                with self.subTest(kind=kind, habit=name):
                    report = self.send(text, kind=kind).json()
                    self.assertEqual((report.get("added"), report.get("problems")), (1, []), report)
                    row = table.live.get(name="A")
                    for field, value in {**PACK, **other}.items():
                        if value == "assumed":
                            self.assertIn(field, row.assumed)
                        else:
                            self.assertEqual(getattr(row, field), value, field)
                    self.client.post(f"/api/gear/changes/{report['change']['id']}/undo")

    def test_what_was_left_out_or_taken_is_told(self):
        """Columns that no field is called by, capacities without a unit."""
        notes = self.send(HABITS[15][1], address="preview").json()["notes"]
        self.assertIn("“Bought”, “Colour”", notes[0])
        notes = self.send(HABITS[5][1], address="preview").json()["notes"]
        self.assertEqual(notes, ["“Capacity” has no unit: figures such as 2200 are read as mAh."])

    def test_all_that_is_wrong_with_a_row_is_said_at_once(self):
        """Shape and figures, of every row."""
        text = (
            "Name,Chemistry,Cells,mAh,Weight,C,Plug,Price\n,lead,0,x,-4,9000,XT61,-1\nB,LiPo,99,2"
            "200,188,35,XT60,5\n"
        )
        report = self.send(text, address="preview").json()
        found = {(p["place"], p["field"]) for p in report["problems"]}
        first = {"name", "chemistry", "series", "capacity_ah", "mass_g", "label_c", "plug", "price"}
        self.assertEqual(found, {("line 2", f) for f in first} | {("line 3", "series")})

    def test_units_that_do_not_belong_stay_for_the_field_to_refuse(self):
        """188 V is no mass; a capacity of 2.2 with mAh above it is none."""
        grouped = 'Name,Chemistry,Cells,mAh,Weight\nHeavy,LiPo,6,16000,"1,950"\n'
        self.send(grouped)
        self.assertEqual(CataloguePack.live.get(name="Heavy").mass_g, 1950)
        for header, cell, field in (
            ("Weight", "188 V", "mass_g"),
            ("mAh", "2.2", "capacity_ah"),
            ("Cells", "4P", "series"),
        ):
            rows = {
                "Name": "A",
                "Chemistry": "LiPo",
                "Cells": "3",
                "mAh": "2200",
                "Weight": "188",
                header: cell,
            }
            text = ",".join(rows) + "\n" + ",".join(rows.values()) + "\n"
            with self.subTest(header):
                self.assertIn(
                    field, [p["field"] for p in self.send(text, address="preview").json()["problems"]]
                )

    def test_lists_of_the_rest(self):
        """Chargers, supplies, leads and plugs go out and come in as CSV too."""
        for kind in CSV_KINDS:
            with self.subTest(kind=kind):
                text, before = self.client.get(f"/api/files/{kind}.csv").content, self.everything()
                report = self.send(text, kind=kind).json()
                self.assertEqual((report["added"], report["changed"], report["problems"]), (0, 0, []))
                self.assertEqual(self.everything(), before)

    def test_json_in_peoples_words(self):
        """Keys in any case, words of lists in any spelling."""
        body = (
            '{"format": "cold-stack-gear", "version": 1, "packs": [{"Tag": "Z1", "Name": "A", '
            '"Chemistry": "LiPo", "Series": 3, "Capacity (mAh)": "2200", "Weight": "188 g", "Plug": "XT60"}]}'
        )
        self.assertEqual(self.send(body, "x.json").json()["problems"], [])
        row = OwnedPack.live.get(tag="Z1")
        self.assertEqual((row.capacity_ah, row.mass_g, row.plug), (2.2, 188, "xt60"))


class Templates(FileCase):
    def test_each_is_brought_in_as_it_is(self):
        """Every row of it, with nothing left out."""
        for kind in CSV_KINDS:
            with self.subTest(kind=kind):
                text = self.client.get(f"/api/files/templates/{kind}.csv").content
                report = self.send(text, kind=kind).json()
                self.assertEqual(report["problems"], [])
                self.assertEqual(report["notes"], [])
                self.assertEqual(report["added"], len(text.decode().strip().split("\n")) - 1)


class Formulas(FileCase):
    def test_no_cell_of_ours_is_a_formula_and_each_comes_back(self):
        """Names and notes that begin like one."""
        words = ["=1+1", "+39", "-x", "@me", "'tis", "'=a", "\ttab", "plain", "a=b"]
        for i, word in enumerate(words):
            OwnedPack.objects.create(
                tag=f"f{i}",
                name=word,
                note=word,
                chemistry="lipo",
                series=3,
                capacity_ah=1,
                mass_g=90,
                plug="xt60",
                lead_awg=14,
            )
        text = self.client.get("/api/files/packs.csv").content.decode()
        for row in csv.DictReader(io.StringIO(text)):
            for cell in (row["name"], row["note"]):
                self.assertFalse(cell and cell[0] in "=+-@\t\r", cell)
        report = self.send(text, kind="packs").json()
        self.assertEqual((report["changed"], report["added"], report["problems"]), (0, 0, []))

    def test_every_text_comes_back(self):
        """Whatever it begins with; numbers are not quoted."""
        for first in (*FORMULA, "a", "ä", "1"):
            for text in (first, first + "x", first + first + "=", first + "'"):
                self.assertEqual(cell_back(str(cell_out(text))), text)
        self.assertEqual(cell_out(-1.5), -1.5)

    def test_the_log_too(self):
        """Notes of runs."""
        self.assertEqual(cell_out("=HYPERLINK()"), "'=HYPERLINK()")
        self.assertIn("name", KINDS["packs"].fields)
