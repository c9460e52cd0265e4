"""Start the stand-ins beside the server, or find those that run already: they outlive it, like real
devices."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

from coldstack.server.devices.line_protocol import asked

CHARGER_NAME = "Skerry Four"
DEMO_SPEED = 10.0


def ensure_standins(folder: Path, *, speed: float = DEMO_SPEED) -> dict[str, Any]:
    """Running stand-ins, their addresses kept in ``devices.json`` of the data folder; devices that somebody
    else put there stay.

    The environment variable COLD_STACK_SPEED sets how fast a new charger's time runs; COLD_STACK_STANDINS=0
    starts none.
    """
    if os.environ.get("COLD_STACK_STANDINS") == "0":
        return {}
    file = folder / "devices.json"
    try:
        known = json.loads(file.read_text())
    except (OSError, ValueError):
        known = {}
    chargers = dict(known.get("chargers") or {})
    speed = float(os.environ.get("COLD_STACK_SPEED", speed))
    if not _answers(chargers.get(CHARGER_NAME)):
        chargers[CHARGER_NAME] = _started("charger", "--name", CHARGER_NAME, "--speed", str(speed))
    checker = known.get("checker")
    if not _answers(checker):
        checker = _started("checker")
    found = {**known, "chargers": chargers, "checker": checker}
    beside = file.with_suffix(".new")
    beside.write_text(json.dumps(found, indent=1))
    beside.replace(file)
    return found


def _answers(address: str | None) -> bool:
    return bool(address) and asked(str(address), {"do": "hello"}) is not None


def _started(module: str, *arguments: str) -> str:
    """Start one in a session of its own; its address, as it says it."""
    process = subprocess.Popen(  # noqa: S603  (our own modules)
        [sys.executable, "-m", f"coldstack.standins.{module}", "--port", "0", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        stdin=subprocess.DEVNULL,
        text=True,
        start_new_session=True,
        cwd=Path(__file__).resolve().parents[2],
    )
    assert process.stdout is not None
    return process.stdout.readline().rsplit(" ", 1)[-1].strip()
