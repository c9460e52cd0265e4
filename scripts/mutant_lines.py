"""Lines of core to change, taken by chance: one operator turned, or one figure moved by a quarter."""

from __future__ import annotations

import ast
import random
from collections.abc import Iterator
from pathlib import Path

TURNED: dict[type[ast.cmpop] | type[ast.operator] | type[ast.boolop], str] = {
    ast.Lt: ">=",
    ast.LtE: ">",
    ast.Gt: "<=",
    ast.GtE: "<",
    ast.Eq: "!=",
    ast.NotEq: "==",
    ast.Add: "-",
    ast.Sub: "+",
    ast.Mult: "/",
    ast.Div: "*",
    ast.And: "or",
    ast.Or: "and",
}
WORDS = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!="}
WORDS |= {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.And: "and", ast.Or: "or"}
MOVED = 1.25
"""A figure is so many times what it was."""


def sampled(core: Path, count: int, seed: int) -> list[dict[str, str]]:
    """So many mutants, at most one a line, of lines that stand once in their file."""
    found = [mutant for path in sorted(core.rglob("*.py")) for mutant in _of(core, path)]
    return sorted(random.Random(seed).sample(found, min(count, len(found))), key=lambda m: m["file"])


def _of(core: Path, path: Path) -> Iterator[dict[str, str]]:
    source = path.read_text()
    lines = source.splitlines()
    seen: set[int] = set()
    for node in ast.walk(ast.parse(source)):
        for row, start, end, new in _changes(node, lines):
            line = lines[row]
            plain = line.isascii() and '"' not in line and "'" not in line
            if row in seen or not plain or source.count(line.strip()) != 1:
                continue
            seen.add(row)
            changed = line[:start] + new + line[end:]
            yield {
                "file": path.relative_to(core).as_posix(),
                "line": line.strip(),
                "becomes": changed.strip(),
            }


def _changes(node: ast.AST, lines: list[str]) -> Iterator[tuple[int, int, int, str]]:
    """Row, first and last column, and what stands there then; on one line only."""
    pairs: list[tuple[ast.expr, type, ast.expr]] = []
    if isinstance(node, ast.Compare):
        pairs = list(
            zip([node.left, *node.comparators], [type(op) for op in node.ops], node.comparators, strict=False)
        )
    elif isinstance(node, ast.BinOp):
        pairs = [(node.left, type(node.op), node.right)]
    elif isinstance(node, ast.BoolOp):
        pairs = [(a, type(node.op), b) for a, b in zip(node.values, node.values[1:], strict=False)]
    elif isinstance(node, ast.Constant) and type(node.value) in (int, float) and node.value not in (0, 1):
        assert isinstance(node.value, (int, float))
        yield node.lineno - 1, node.col_offset, node.end_col_offset or 0, f"{node.value * MOVED:g}"
    for left, op, right in pairs:
        if op not in TURNED or left.end_lineno != right.lineno:
            continue
        row, start, end = right.lineno - 1, left.end_col_offset or 0, right.col_offset
        at = lines[row].find(WORDS[op], start, end)
        if at >= 0:
            yield row, at, at + len(WORDS[op]), TURNED[op]
