"""One chemistry more is three files: its entry, its resting volts, its typical pack. Tried on a copy of the
core, in a Python of its own."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path
from tempfile import TemporaryDirectory

from django.test import SimpleTestCase

import coldstack.core

CORE = Path(coldstack.core.__file__).parent
ENTRY = """        Chemistry(
            "sodium",
            "Na-ion",
            nominal_v=3.10,
            full_v=3.95,
            empty_rest_v=2.40,
            damage_v=1.50,
            storage_v=(2.90, 3.10),
            charge_method="cc_cv",
            pack_wh_per_kg=(110, 140),
            pouch=True,
            typical_label_c=10,
            words=r"\\bna[\\s-]*ion\\b|\\bsodium\\b",
            printed_v=(3.10,),
        ),
"""
TRIED = """
import json
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.fit.fit import fit_of
from coldstack.core.labels.reader import read_label
from coldstack.core.packs.typical import typical_packs
from coldstack.core.readings.tolerance import over_full
from coldstack.core.rules.house_rules import STEADY, for_chemistry
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import RunsOn

(typical,) = [p for p in typical_packs() if p.chemistry == "sodium"]
now = RunsOn("sodium", 3, 2.0, 160.0)
told = Answers("tub", "boat", 900.0, now, now_mass_told=True, usage=UsageAnswers(minutes=12.0),
    limits=LimitAnswers(max_v=13.0), goals=GoalAnswers(minutes=8.0, chemistry="sodium"))
job = described_job(told, STEADY).job
e = evaluate(job, job_candidates(job, [typical]))
print(json.dumps({
    "label": read_label("Sodium 3S 2000mAh 10C").values["chemistry"],
    "by_volts": read_label("2000mAh 9.3V").values["chemistry"],
    "half": soc_at_rest("sodium", 3.1),
    "full_v": for_chemistry(STEADY, "sodium").full_v,
    "over": over_full("sodium", 4.02),
    "fit": fit_of(e, 0).verdict,
    "minutes": float(e.minutes[0]),
    "typical": typical.name,
}))
"""


class Seventh(SimpleTestCase):
    def test_three_files(self):
        """A label names it, volts tell its charge, the rules stand at its heights, a model runs on it."""
        with TemporaryDirectory() as folder:
            core = Path(folder) / "coldstack" / "core"
            shutil.copytree(CORE, core, ignore=shutil.ignore_patterns("__pycache__"))
            (core.parent / "__init__.py").touch()
            self.add_entry(core / "cells" / "chemistry.py")
            self.add_curve(core / "data" / "ocv.csv")
            with (core / "data" / "typical_packs.csv").open("a") as packs:
                packs.write("sodium|3|2000|10|\n")
            env = {**os.environ, "PYTHONPATH": folder, "NUMBA_DISABLE_JIT": "1"}
            done = subprocess.run(
                [sys.executable, "-c", TRIED], env=env, cwd=folder, capture_output=True, text=True
            )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        found = json.loads(done.stdout)
        self.assertEqual((found["label"], found["by_volts"]), ("sodium", "sodium"))
        self.assertAlmostEqual(found["half"], (3.1 - 1.5) / 2.45, places=4)
        self.assertAlmostEqual(found["full_v"], 3.95)
        self.assertTrue(found["over"])
        self.assertEqual(found["typical"], "typical 3S 2000 Na-ion 10C")
        self.assertIn(found["fit"], ("does", "care"))
        self.assertGreater(found["minutes"], 8)

    def add_entry(self, path):
        source = path.read_text()
        last = source.rindex("    )\n}\n")
        source = source[:last] + ENTRY + source[last:]
        path.write_text(source.replace('"nimh"]', '"nimh", "sodium"]', 1))

    def add_curve(self, path):
        lines, row = [], 0
        for line in path.read_text().splitlines():
            if line.startswith("#"):
                lines.append(line)
            elif line.startswith("soc"):
                lines.append(f"{line},sodium")
            else:
                lines.append(f"{line},{1.5 + 2.45 * (row / 100):.4f}")
                row += 1
        path.write_text("\n".join(lines) + "\n")
