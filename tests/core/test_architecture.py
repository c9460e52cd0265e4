import ast
import re
from pathlib import Path

from django.test import SimpleTestCase

ROOT = Path(__file__).resolve().parents[2]
CORE = ROOT / "coldstack" / "core"
STAGES = ROOT / "web" / "src" / "stages"


class OneDirection(SimpleTestCase):
    def test_core_imports_neither_django_nor_server(self):
        """Only itself, NumPy and the standard library's pure parts: no clock, no files of its own, no network."""
        allowed = {"coldstack", "numpy", "__future__"}
        pure = {
            "dataclasses",
            "typing",
            "functools",
            "itertools",
            "math",
            "enum",
            "collections",
            "types",
            "importlib",
            "re",
            "statistics",
            "heapq",
            "csv",
            "io",
            "contextlib",
            "contextvars",
            "threading",
            "difflib",
            "unicodedata",
        }
        for path in CORE.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                names = (
                    [a.name for a in node.names]
                    if isinstance(node, ast.Import)
                    else [node.module or ""]
                    if isinstance(node, ast.ImportFrom)
                    else []
                )
                for name in names:
                    top = name.split(".")[0]
                    if top == "ortools" and path.name == "schedule_solver.py":
                        continue  # the one place that may ask a solver
                    self.assertIn(top, allowed | pure, f"{path.name} imports {name}")
                    if top == "coldstack":
                        self.assertTrue(name.startswith("coldstack.core"), f"{path.name} imports {name}")

    def test_stages_import_no_other_stage(self):
        """What two stages need lives in ui, charts or format."""
        for path in STAGES.rglob("*.ts*"):
            own = path.relative_to(STAGES).parts[0]
            for other in re.findall(r'from "@/stages/(\w+)', path.read_text()):
                self.assertEqual(other, own, path.name)

    def test_screens_hold_no_rules_of_the_job(self):
        """No chemistry's volts, no wire or heat constants in the front end: it shows what the API says."""
        for path in (ROOT / "web" / "src").rglob("*.ts*"):
            if path.name == "words.ts":
                continue  # the glossary tells, it does not compute
            text = path.read_text()
            for number in (
                r"\b4\.20?\b",
                r"\b4\.35\b",
                r"\b3\.7\b",
                r"\b6\.25\b",
                r"Math\.sqrt\(",
                r"Math\.exp\(",
            ):
                self.assertIsNone(re.search(number, text), f"{path.name} holds {number}")
