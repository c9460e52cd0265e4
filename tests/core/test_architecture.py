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
    "bisect",
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
        """What sets one apart is a field of it."""
        for path in (ROOT / "coldstack").rglob("*.py"):
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
            ".".join(p.relative_to(ROOT).with_suffix("").parts).removesuffix(".__init__"): p
            for p in (ROOT / "coldstack").rglob("*.py")
        }
        graph = {name: imported(path) & set(paths) for name, path in paths.items()}
        TopologicalSorter(graph).prepare()  # it raises CycleError, naming the circle

    def test_no_file_of_the_screens_needs_itself(self):
        """Types included: a part that needs its screen cannot be used without it."""
        source = ROOT / "web" / "src"
        files = {
            p.relative_to(source).with_suffix("").as_posix(): p
            for p in source.rglob("*.ts*")
            if ".test" not in p.name and not p.name.endswith(".d.ts")
        }
        graph = {}
        for name, path in files.items():
            asked = re.findall(r'(?:from|import\()\s*"@/([^"]+)"', path.read_text())
            graph[name] = {n for a in asked for n in (a, f"{a}/index") if n in files}
        self.assertGreater(sum(map(len, graph.values())), 500)
        TopologicalSorter(graph).prepare()


class OneDirection(SimpleTestCase):
    ALONE = {
        "schedule_solver.py": ("ortools",),  # the bench and
        "flight_solver.py": ("ortools",),  # the day ahead and
        "served_solver.py": ("ortools",),  # the box: the three that ask a solver
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


class OneHome(SimpleTestCase):
    """What is decided once is written once."""

    def sources(self, *folders):
        for folder in folders or ("coldstack",):
            for path in (ROOT / folder).rglob("*.py"):
                if "migrations" not in path.parts:
                    yield path.relative_to(ROOT).as_posix(), ast.parse(path.read_text())

    def strings(self, tree):
        """Constants of a module without its docstrings."""
        told = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
        return [
            n.value
            for n in ast.walk(tree)
            if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in told
        ]

    def test_keys_are_made_and_taken_apart_at_the_door(self):
        """A pack is its key; "owned:07" is read in one place."""
        for path, tree in self.sources():
            if path != "coldstack/core/packs/keys.py":
                self.assertFalse([x for x in self.strings(tree) if x.startswith("owned:")], path)

    def test_the_verdict_and_its_words(self):
        """A pack in a model: judged and worded in core/fit. A charger's verdict beside it in the grid has the
        same three marks."""
        for path, tree in self.sources():
            found = self.strings(tree)
            if not path.startswith("coldstack/core/fit/"):
                words = ("Will not do", "Goes, with care", "Does the job")
                self.assertFalse([x for x in found if x.startswith(words)], path)
            if not path.startswith(("coldstack/core/fit/", "coldstack/core/matching/grid.py")):
                compared = {
                    k.value
                    for n in ast.walk(tree)
                    if isinstance(n, ast.Compare)
                    for k in (n.left, *n.comparators)
                    if isinstance(k, ast.Constant)
                }
                self.assertNotIn("wont", compared, path)

    def test_who_judges_a_pack_in_a_model(self):
        """The checks' columns are read by the trial, by fit and by Size, which shows them one by one; every
        other room asks for the fit."""
        may = ("coldstack/core/trial/", "coldstack/core/fit/", "coldstack/core/sizing/")
        shown = ("coldstack/core/matching/drive.py",)
        for path, tree in self.sources():
            if path.startswith((*may, *shown)):
                continue
            taken = {
                n.module
                for n in ast.walk(tree)
                if isinstance(n, ast.ImportFrom)
                and n.module
                and n.module.startswith("coldstack.core.trial.checks")
            }
            self.assertEqual(taken, set(), path)

    def test_limits_of_readings_are_compared_at_home(self):
        """Full, over full, damaged, apart: asked of readings, and compared nowhere else but where something
        else is asked."""
        else_asked = {
            "coldstack/core/boards/exchange.py": "whether joined packs have come to the end of their charge",
            "coldstack/core/matching/refusals.py": "for which other cells a charger's end volts are",
            "coldstack/core/trial/now.py": "whether a draw was told for about so many cells",
            "coldstack/core/logs/learning.py": "whether a log begins with a full pack",
            "coldstack/core/sizing/builds.py": "how many cells are worth trying",
            "coldstack/core/labels/checks.py": "what printed volts can mean",
        }
        names = {"OVER_FULL_V", "TOUCHED_V", "TOUCHED_MM", "LEAST_SHARE", "full_v", "damage_v"}
        home = ("coldstack/core/readings/", "coldstack/core/cells/", "coldstack/core/rules/")
        for path, tree in self.sources("coldstack/core"):
            if path.startswith(home) or path in else_asked:
                continue
            for n in ast.walk(tree):
                if isinstance(n, ast.Compare):
                    asked = {k.id for k in ast.walk(n) if isinstance(k, ast.Name)}
                    asked |= {k.attr for k in ast.walk(n) if isinstance(k, ast.Attribute)}
                    self.assertEqual(asked & names, set(), f"{path}:{n.lineno}")

    def test_cell_counts_have_bounds_in_one_place(self):
        """As a bound 28 and 14 cells are written once."""
        bounds = {"ge", "le", "gt", "lt", "low", "high", "max_length", "min_length"}
        for path, tree in self.sources():
            if path == "coldstack/core/cells/counts.py" or "standins" in path:
                continue  # a stand-in's own limits are those of a device
            for n in ast.walk(tree):
                if isinstance(n, ast.keyword) and n.arg in bounds:
                    sides = [n.value]
                else:
                    sides = [n.left, *n.comparators] if isinstance(n, ast.Compare) else []
                for k in sides:
                    self.assertFalse(
                        isinstance(k, ast.Constant) and k.value in (14, 28), f"{path}:{k.lineno}"
                    )

    def test_screens_judge_nothing(self):
        """No screen compares a loading, a limit, a charge or a level with a number or another, and none words
        a verdict but the mark."""
        names = "loading|limit|soc|level|volts|cell_v"
        judged = re.compile(rf"\.({names})\b(?!\.length)[^=\n]{{0,12}}(<|>|<=|>=) *[\w.]")
        for path in (ROOT / "web" / "src").rglob("*.ts*"):
            if path.name.endswith(".test.ts"):
                continue
            text = path.read_text()
            if path.name != "Stack.tsx":  # a bar that breaks out of its frame draws the number
                self.assertIsNone(judged.search(text), path.name)
            if path.name != "FitMark.tsx":
                self.assertIsNone(
                    re.search(r"[\"'`>](Will not do|Goes, with care|Does the job as)", text), path.name
                )


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
