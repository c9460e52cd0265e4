"""What a pack's page says of it in one line: how it stands, and what may be done with it now."""

from __future__ import annotations

from coldstack.core.keeping.storage import Due
from coldstack.core.life.now import PackNow
from coldstack.core.packs.health import Level

_BY_LEVEL: dict[Level, str] = {
    "fine": "Sound",
    "again": "Read it again, now",
    "watch": "Watch it",
    "light": "Light duty only, nothing that flies",
    "retire": "Retire it",
}


def verdict_words(p: PackNow, due: Due) -> str:
    """The verdict on a pack, with why it cannot be run now; never an invitation to what is refused."""
    if p.state == "retired":
        return "Retired"
    if p.state == "quarantined" and p.level != "retire":
        return "Set apart: look at it first"
    if p.state == "charging":
        return "Charging"
    if p.told.unknown_past and p.level == "fine":
        return "Its past is unknown: read each cell, charge it gently, run it short"
    if not p.told.evidence[0] and p.level == "fine":
        return "Not known yet: read its cells"
    words, run = _BY_LEVEL[p.level], p.may["run"]
    if p.level == "retire":
        return words
    if not run.allowed:
        return f"{words}. {run.why.rstrip('.')}"
    if p.level != "fine":
        return words
    return "Sound: run it, or bring it to storage" if due.doing == "storage" else "Sound: run it"
