"""One word for one thing: names that the project has left behind do not come again; lines of docs are short.

What each thing is called stands in docs/words.md. Fails with the places, one a line.
"""

from __future__ import annotations

import ast
import json
import re
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
LEFT_BEHIND = {
    "Told": "PackHistory",
    "Goes": "UsageAnswers",
    "Takes": "LimitAnswers",
    "Wish": "GoalAnswers",
    "Fed": "ChargerInUse",
    "Laid": "BenchPack",
    "Looked": "VisualCheck",
    "Known": "RunContext",
    "May": "Permission",
    "Seen": "LabelFinding or Observation",
    "Learnt": "LogFindings",
    "Learned": "RunFindings",
    "Taught": "LogFit",
    "Slip": "ChargerSettings",
    "Slips": "Typos",
}
"""Names of classes, with what the thing is called now; also with In or Out behind them in the API."""
FIELDS = {
    "cell_resistance_mohm": "cell_mohm",
    "goes": "usage",
    "takes": "limits",
    "wish": "goals",
    "slip": "settings",
}
"""Fields of the API."""
COMPILED = "coldstack/core/discharge/kernel.py"
"""Names of the compiled loop stay: machine code that an older version left on the disk holds them."""
DIGITS = re.compile(r"\b(?:toFixed|toPrecision|toLocale\w*String|DateTimeFormat|NumberFormat)\b")
DOCS_WIDTH, SCREENS_WIDTH = 120, 110


def main() -> int:
    """1 if anything was found."""
    found = [*_classes(), *_twice(), *_fields(), *_digits(), *_long_lines()]
    print("\n".join(found), file=sys.stderr)
    return int(bool(found))


def _digits() -> list[str]:
    """Digits and dates are settled in one place, by what a number is."""
    return [
        f"{path.relative_to(ROOT)}:{n}: {found[0]} belongs to web/src/format"
        for path in sorted((ROOT / "web/src").rglob("*.ts*"))
        if "format" not in path.parts
        for n, line in enumerate(path.read_text().splitlines(), 1)
        if (found := DIGITS.search(line))
    ]


def _defined() -> list[tuple[str, str]]:
    """Every class of the program, with the place where it stands."""
    return [
        (node.name, f"{path.relative_to(ROOT)}:{node.lineno}")
        for path in sorted((ROOT / "coldstack").rglob("*.py"))
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.ClassDef)
    ]


def _classes() -> list[str]:
    return [
        f"{place}: it is called {LEFT_BEHIND[bare]}, not {name}"
        for name, place in _defined()
        if (bare := name.removesuffix("In").removesuffix("Out")) in LEFT_BEHIND
    ]


def _twice() -> list[str]:
    """Two classes of core with one name."""
    core: dict[str, list[str]] = {}
    for name, place in _defined():
        if place.startswith("coldstack/core") and not place.startswith(COMPILED) and name[0] != "_":
            core.setdefault(name, []).append(place)
    return [f"{', '.join(places)}: two are called {name}" for name, places in core.items() if len(places) > 1]


def _fields() -> list[str]:
    document = json.loads((ROOT / "coldstack" / "server" / "api" / "openapi.json").read_text())
    return [
        f"openapi.json: {shape}.{field} is called {FIELDS[field]}"
        for shape, schema in document["components"]["schemas"].items()
        for field in schema.get("properties", {})
        if field in FIELDS
    ]


def _long_lines() -> list[str]:
    """Lines of docs that are no table and no address, and of the screens: what their formatter leaves."""
    screens = ROOT / "web" / "src"
    made = {screens / "api" / name for name in ("schema.d.ts", "fields.ts")}
    return [
        f"{path.relative_to(ROOT)}:{k}: {len(line)} letters, {SCREENS_WIDTH} are the most"
        for path in sorted({*screens.rglob("*.ts"), *screens.rglob("*.tsx")} - made)
        for k, line in enumerate(path.read_text().splitlines(), 1)
        if len(line) > SCREENS_WIDTH
    ] + [
        f"{path.relative_to(ROOT)}:{k}: {len(line)} letters, {DOCS_WIDTH} are the most"
        for path in (*sorted((ROOT / "docs").glob("*.md")), ROOT / "README.md", ROOT / "CHANGELOG.md")
        for k, line in enumerate(path.read_text().splitlines(), 1)
        if len(line) > DOCS_WIDTH and not line.startswith(("|", "http", "!["))
    ]


if __name__ == "__main__":
    sys.exit(main())
