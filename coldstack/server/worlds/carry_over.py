"""Data folders made before there were two worlds: carried over once, with nothing lost.

Such a folder holds one database. Where all its gear is the demo's, it becomes the demo world's; where
anything in it is its owner's, it stays and is their own world, the demo's things with it. A file
beside it remembers that this was decided.
"""

from __future__ import annotations

import csv
import json
import sqlite3
from importlib.resources import files
from pathlib import Path

from coldstack.server.config.paths import DATABASE_NAME, folder_of
from coldstack.server.worlds.backup import files_of

MARKER = "worlds.json"
NAMED = {
    "gear_rcmodel": "models",
    "gear_charger": "chargers",
    "gear_supply": "supplies",
    "gear_piece": "pieces",
}


def carry_over(root: Path) -> str:
    """Decide once what an older folder's database is; what was done in words, empty where there was
    nothing to do."""
    marker = root / MARKER
    if marker.exists():
        return ""
    root.mkdir(parents=True, exist_ok=True)
    said = _carry(root / DATABASE_NAME, folder_of("demo", root) / DATABASE_NAME)
    marker.write_text(json.dumps({"worlds": 1}) + "\n")
    return said


def _carry(old: Path, demo: Path) -> str:
    if not old.exists() or old.stat().st_size == 0:
        return ""
    if demo.exists() or not only_the_demo(old):
        return f"The database of before is your own world now: {old}."
    demo.parent.mkdir(parents=True, exist_ok=True)
    # the log first: a database that went without its log would be an older one
    for file, there in reversed(list(zip(files_of(old), files_of(demo), strict=True))):
        if file.exists():
            file.replace(there)
    return f"The database of before held the demo only: it is the demo world now, {demo}."


def only_the_demo(database: Path) -> bool:
    """Whether all gear in a database has the names of the demo's, removed pieces included."""
    link = sqlite3.connect(database)
    try:
        tables = {n for (n,) in link.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        if not {"gear_rcmodel", "gear_ownedpack"} <= tables:
            return False
        found = {
            # our own table names
            t: {n for (n,) in link.execute(f"SELECT name FROM {t}")}  # noqa: S608
            for t in NAMED
            if t in tables
        }
        packs = set(link.execute("SELECT tag, name FROM gear_ownedpack"))
    finally:
        # a connection that recovered a log leaves the database whole
        link.close()
    known = _demo_names()
    mine = any(names - known[NAMED[table]] for table, names in found.items())
    return not mine and bool(found["gear_rcmodel"]) and packs <= _demo_packs()


def _demo_names() -> dict[str, set[str]]:
    bench = json.loads(_demo("bench.json"))
    names = {kind: {row["name"] for row in rows} for kind, rows in bench.items()}
    names["models"] = {row["name"] for row in json.loads(_demo("models.json"))}
    return {kind: names.get(kind, set()) for kind in NAMED.values()}


def _demo_packs() -> set[tuple[str, str]]:
    return {(row["tag"], row["name"]) for row in csv.DictReader(_demo("owned.csv").splitlines())}


def _demo(name: str) -> str:
    return (files("coldstack.demo") / name).read_text(encoding="utf-8")
