"""Who serves a world: one process at a time, known by a lock that ends with it, and where it answers."""

from __future__ import annotations

import json
from pathlib import Path
from typing import IO

from django.core.files import locks

LOCK, ADDRESS = "serving.lock", "serving.json"


class Serving:
    """The right to serve a folder, held until the process ends."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._lock: IO[str] | None = None

    def take(self) -> bool:
        """True if nobody served this folder, and now this process does."""
        self.folder.mkdir(parents=True, exist_ok=True)
        file = (self.folder / LOCK).open("w")
        if not locks.lock(file, locks.LOCK_EX | locks.LOCK_NB):
            file.close()
            return False
        self._lock = file
        return True

    def tell(self, address: str, phones: str | None = None) -> None:
        """Where it answers, on this machine and to phones, for those who ask."""
        beside = self.folder / f"{ADDRESS}.new"
        beside.write_text(json.dumps({"address": address, "phones": phones}))
        beside.replace(self.folder / ADDRESS)

    def let_go(self) -> None:
        """Serve no more."""
        if self._lock is not None:
            (self.folder / ADDRESS).unlink(missing_ok=True)
            self._lock.close()
            self._lock = None


def served_at(folder: Path, *, to_phones: bool = False) -> str | None:
    """The address at which somebody serves this folder now; None if nobody does, or not to phones."""
    trial = Serving(folder)
    if not (folder / LOCK).exists():
        return None
    if trial.take():
        trial.let_go()
        return None
    try:
        told = json.loads((folder / ADDRESS).read_text())
        return told["phones" if to_phones else "address"] or None
    except (OSError, ValueError, KeyError):
        return None
