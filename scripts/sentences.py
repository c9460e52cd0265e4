"""Every sentence of core as a template with named values, in gettext's format: a second language is a file.

``make sentences`` writes ``sentences.pot``. A template is a string of the source that says something, each
expression in it a ``{name}``; units that a screen rewrites stand in it with their mark.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po

from coldstack.core import units

ROOT = Path(__file__).resolve().parents[1]
ROOMS = ("coldstack/core", "coldstack/server")
SAYS = re.compile(r"[^\W\d_]{2,},? \(?(?:[a-z]{2,}|\{)|\} [a-z]{2,}")
"""Two words at least, or a value and a word."""
UNITS = {"GRAMS": units.GRAMS, "MM": units.MM, "DEG": units.DEG, "WARMER": units.WARMER}
ELSEWHERE = {"compile", "get_logger", "getLogger", "import_module", "execute"}
"""What is handed to these says nothing to anybody."""


def extract(
    file: IO[bytes], _keywords: object = (), _tags: object = (), _options: object = None
) -> Iterator[tuple[int, str, str, list[str]]]:
    """The templates of one source, as Babel's extractors give them: line, function, message, comments."""
    tree = ast.parse(file.read())
    silent = set(_silent(tree))
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr | ast.Constant) and id(node) not in silent:
            template = _template(node)
            if template and SAYS.search(template):
                yield node.lineno, "", template, []


def _silent(tree: ast.AST) -> Iterator[int]:
    """Docstrings, parts of a longer string, patterns and names: not said as they stand."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            yield id(node.value)
        if isinstance(node, ast.JoinedStr):
            yield from (id(part) for part in node.values if isinstance(part, ast.Constant))
        if isinstance(node, ast.FormattedValue) and node.format_spec is not None:
            yield from (id(part) for part in ast.walk(node.format_spec))
        if isinstance(node, ast.Call) and _called(node) in ELSEWHERE:
            yield from (id(part) for argument in node.args for part in ast.walk(argument))


def _called(node: ast.Call) -> str:
    return node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")


def _template(node: ast.JoinedStr | ast.Constant) -> str | None:
    if isinstance(node, ast.Constant):
        return node.value if isinstance(node.value, str) else None
    taken: set[str] = set()
    return "".join(_part(part, taken) for part in node.values)


def _part(part: ast.expr, taken: set[str]) -> str:
    if isinstance(part, ast.Constant):
        return str(part.value).replace("{", "{{").replace("}", "}}")
    assert isinstance(part, ast.FormattedValue)
    if isinstance(part.value, ast.Name) and part.value.id in UNITS:
        return UNITS[part.value.id]
    stem = _name(part.value)
    name = next(n for n in (stem, *(f"{stem}_{k}" for k in range(2, 99))) if n not in taken)
    taken.add(name)
    return f"{{{name}}}"


def _name(value: ast.expr) -> str:
    """What a value is called: the last name of what is written, through the functions that write it."""
    while isinstance(value, ast.Call) and value.args and not isinstance(value.func, ast.Attribute):
        value = value.args[0]
    names = [x.attr for x in ast.walk(value) if isinstance(x, ast.Attribute)]
    names += [x.id for x in ast.walk(value) if isinstance(x, ast.Name)]
    return names[0].strip("_").lower() if names else "value"


def catalog() -> Catalog:
    """All of them, each once, with the places where it is said."""
    found = Catalog(project="Cold Stack", charset="utf-8")
    for room in ROOMS:
        for path in sorted((ROOT / room).rglob("*.py")):
            if "migrations" in path.parts:
                continue
            with path.open("rb") as file:
                for line, _, message, comments in extract(file):
                    place = (str(path.relative_to(ROOT)), line)
                    found.add(message, locations=[place], auto_comments=comments)
    return found


def main(to: Path) -> None:
    """Writes them."""
    with to.open("wb") as file:
        write_po(file, found := catalog(), width=0, omit_header=False)
    print(f"{len(found)} sentences and words of core and server: {to}")


if __name__ == "__main__":
    main(Path(sys.argv[1] if len(sys.argv) > 1 else "sentences.pot"))
