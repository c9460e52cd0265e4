"""Documents as older versions of the program wrote them, in today's words."""

from __future__ import annotations

from typing import Any

_RENAMED = {"cell_resistance_mohm": "cell_mohm"}
_RENAMED_IN_FINDINGS = {"resistance_mohm": "cell_mohm"}
"""Of a log, in a pack's ``learnt``; a plug's and a loose cell's resistance keep that name."""


def with_cell_mohm(found: Any) -> Any:
    """A document, or a part of one, in which a cell's resistance is called `cell_mohm`, and is so among what
    is assumed."""
    if isinstance(found, list):
        return [with_cell_mohm(x) for x in found]
    if not isinstance(found, dict):
        return found
    out = {_RENAMED.get(key, key): with_cell_mohm(value) for key, value in found.items()}
    if isinstance(out.get("learnt"), dict):
        out["learnt"] = {_RENAMED_IN_FINDINGS.get(key, key): value for key, value in out["learnt"].items()}
    if isinstance(out.get("assumed"), list):
        out["assumed"] = [_path(x) if isinstance(x, str) else x for x in out["assumed"]]
    return out


def _path(path: str) -> str:
    *before, name = path.split(".")
    return ".".join([*before, _RENAMED.get(name, name)])
