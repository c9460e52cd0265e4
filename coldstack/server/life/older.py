"""Records, runs and notes as they were kept before there was one life per pack, as events: for databases and
log files of then.

Plain values in and out, so that migrations can use it whatever becomes of the models.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any

Old = Mapping[str, Any]
_MEASURED = ("temperature_c", "soc", "cell_mohm", "capacity_ah", "balance_min")


def events_of(
    tag: str, records: Iterable[Old], runs: Iterable[Old], notes: Iterable[Old]
) -> list[dict[str, Any]]:
    """All of one pack as events. A record that only told what a run left its pack in goes with the run."""
    runs, out, cycle = list(runs), [], 0
    ran = {run["at"] for run in runs}
    for record in sorted(records, key=lambda r: r["at"]):
        if record["source"] != "run" or record["at"] not in ran:
            out.append(_record(tag, record, cycle))
        cycle = record["cycle"]
    return [*out, *map(_run, runs), *(_note(tag, n) for n in notes)]


def _record(tag: str, r: Old, cycle_before: int) -> dict[str, Any]:
    source, state = r["source"], r["state"]
    charged = source == "charge" or (
        source == "by hand" and bool(r["rest_cell_v"]) and state == "full" and r["cycle"] > cycle_before
    )
    kind = "charge" if charged else "run" if source == "run" else "reading"
    if kind == "reading" and not r["rest_cell_v"] and not r["cell_mohm"]:
        kind = "state"
    ended = {"full": "done", "part": "stopped"}.get(state, "") if charged else ""
    return {
        "key": _key("record", tag, r["at"], source),
        "at": r["at"],
        "kind": kind,
        "by": {"charge": "file", "reading": "checker"}.get(source, "hand"),
        **{name: r[name] for name in _MEASURED},
        "cell_v": r["rest_cell_v"],
        "minutes": r["run_minutes"],
        "state": state if kind in ("state", "run") else "",
        "ended": ended,
        "cycle": r["cycle"] if charged else None,
    }


def _run(r: Old) -> dict[str, Any]:
    return {
        "key": r["key"],
        "at": r["at"],
        "kind": "run",
        "minutes": r["minutes"],
        "mah": r["put_back_mah"],
        "landing_cell_v": r["landing_cell_v"],
        "model": r["model"],
        "text": r["note"],
        "withdrawn": r.get("removed"),
    }


def _note(tag: str, n: Old) -> dict[str, Any]:
    return {
        "key": _key("note", tag, n["at"], n["text"]),
        "at": n["at"],
        "kind": "note",
        "text": n["text"],
        "withdrawn": n.get("removed"),
    }


def _key(what: str, tag: str, at: datetime, more: str) -> str:
    """The same for the same thing, whether it comes out of a database or out of a file made from it."""
    said = f"{tag}|{at.astimezone(UTC).isoformat()}|{more}"
    return f"{what}-{sha256(said.encode()).hexdigest()[:24]}"
