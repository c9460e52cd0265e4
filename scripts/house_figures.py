"""The table of docs/model.md, made from the code: every constant of core that says it is a house figure.

``python scripts/house_figures.py`` writes it; with ``--check`` it says whether it is up to date.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
CORE, DOCS = ROOT / "coldstack" / "core", ROOT / "docs" / "model.md"
HEADING, MARK = "## House figures\n", "House figure"
INTRO = """
What we chose, where neither physics nor a source decides: made from the code by `make types`, and held by
tests of what follows. Rules that a person can set are not here: the page *House rules* has them.

| what it says | value | where |
|---|---|---|
"""


def main() -> int:
    """1 if the table was older than the code and only to be checked."""
    text = DOCS.read_text()
    start = text.index(HEADING) + len(HEADING)
    end = text.find("\n## ", start)
    fresh = text[:start] + INTRO + "".join(_rows()) + (text[end:] if end >= 0 else "")
    if "--check" in sys.argv:
        return int(fresh != text)
    DOCS.write_text(fresh)
    return 0


def _rows() -> Iterator[str]:
    for path in sorted(CORE.rglob("*.py")):
        module = ".".join(path.relative_to(CORE).with_suffix("").parts)
        for names, words in figures_of(path):
            for name in names:
                value = getattr(import_module(f"coldstack.core.{module}"), name)
                if _is_figure(value):
                    yield f"| {_first(words)} | {_written(value)} | `{module}.{name}` |\n"
                    words = "the same"


def figures_of(path: Path) -> Iterator[tuple[list[str], str]]:
    """Constants of a module that stand together, with what is said of them, where that is a house figure."""
    together: list[str] = []
    ended = 0
    for node in ast.parse(path.read_text()).body:
        if isinstance(node, (ast.Assign, ast.AnnAssign)):
            target = node.targets[0] if isinstance(node, ast.Assign) else node.target
            parts = target.elts if isinstance(target, ast.Tuple) else [target]
            if node.lineno != ended + 1:
                together = []
            ended = node.end_lineno or 0
            together += [p.id for p in parts if isinstance(p, ast.Name)]
            continue
        words = _said(node)
        if words and MARK in words and together:
            yield together, words
        together = []


def _said(node: ast.stmt) -> str:
    if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
        return str(node.value.value)
    return ""


def _first(words: str) -> str:
    """All that is said but where it comes from, on one line of a table."""
    text = " ".join(words.split()).replace("|", "\\|")
    text = re.sub(r"House figures?[.;:]?", "", text)
    return " ".join(text.split()).rstrip(".:; ") or "the same"


def _is_figure(value: Any) -> bool:
    """A number, or some that belong together."""
    parts = value.values() if isinstance(value, dict) else value if isinstance(value, tuple) else (value,)
    return all(isinstance(x, (int, float)) and not isinstance(x, bool) for x in parts)


def _written(value: Any) -> str:
    if isinstance(value, dict):
        return ", ".join(f"{k} {_written(v)}" for k, v in value.items())
    if isinstance(value, tuple):
        return ", ".join(_written(v) for v in value)
    return f"{value:g}"


if __name__ == "__main__":
    sys.exit(main())
