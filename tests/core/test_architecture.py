import ast
import re
from graphlib import TopologicalSorter
from importlib import import_module
from pathlib import Path

from django.test import SimpleTestCase

from coldstack.core.cells.chemistry import CHEMISTRY_IDS

ROOT = Path(__file__).resolve().parents[2]
CORE = ROOT / "coldstack" / "core"
STAGES = ROOT / "web" / "src" / "stages"


OURS = ("coldstack", "tests", "bench")
MAY_IMPORT = {
    "coldstack",
    "numpy",
    "__future__",
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
    "hashlib",
    "heapq",
    "csv",
    "io",
    "contextlib",
    "contextvars",
    "threading",
    "difflib",
    "unicodedata",
}
"""Itself, NumPy and the standard library's pure parts."""


class Behaviour(SimpleTestCase):
    def test_no_chemistry_is_known_by_its_name(self):
        """What sets one apart is a field of it; only the cells' own curves go by name."""
        for path in (ROOT / "coldstack").rglob("*.py"):
            if path.parent.name == "cells":
                continue
            compares = (n for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Compare))
            asked = {
                k.value
                for compare in compares
                for side in (compare.left, *compare.comparators)
                for k in ast.walk(side)
                if isinstance(k, ast.Constant)
            }
            self.assertEqual(asked & set(CHEMISTRY_IDS), set(), path)


def imported(path: Path) -> set[str]:
    """Modules of ours that a module needs when it is imported; those imported within functions come later."""
    names = set()
    for node in ast.parse(path.read_text()).body:
        if isinstance(node, ast.ImportFrom) and node.module:
            names |= {node.module, *(f"{node.module}.{a.name}" for a in node.names)}
    return {n for n in names if n.startswith("coldstack.")}


class Circles(SimpleTestCase):
    def test_no_module_needs_itself(self):
        """Not through others either: each can be read after what it stands on."""
        paths = {
            ".".join(p.relative_to(ROOT).with_suffix("").parts): p for p in (ROOT / "coldstack").rglob("*.py")
        }
        graph = {name: imported(path) & set(paths) for name, path in paths.items()}
        TopologicalSorter(graph).prepare()  # it raises CycleError, naming the circle


class OneDirection(SimpleTestCase):
    ALONE = {
        "schedule_solver.py": ("ortools",),  # the one place that may ask a solver
        "compiling.py": ("numba",),  # the one that compiles
        "simulate.py": ("os", "concurrent"),  # as many threads as there are cores
    }

    def test_core_imports_neither_django_nor_server(self):
        """Only itself, NumPy and the standard library's pure parts: no clock, no files of its own, no
        network."""
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
                    if top in self.ALONE.get(path.name, ()):
                        continue
                    self.assertIn(top, MAY_IMPORT, f"{path.name} imports {name}")
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
            if path.name == "words.ts" or path.name.endswith(".test.ts"):
                continue  # the glossary and the tests tell, they do not compute
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


class Beside(SimpleTestCase):
    def test_what_benchmarks_and_scripts_import_is_there(self):
        """Nobody runs them each day: a name that has moved would be noticed late."""
        for path in sorted([*(ROOT / "bench").glob("*.py"), *(ROOT / "scripts").glob("*.py")]):
            for node in ast.walk(ast.parse(path.read_text())):
                if not isinstance(node, ast.ImportFrom) or not (node.module or "").startswith(OURS):
                    continue
                module = import_module(str(node.module))
                for alias in node.names:
                    with self.subTest(path.name, name=alias.name):
                        if not hasattr(module, alias.name):
                            import_module(f"{node.module}.{alias.name}")
