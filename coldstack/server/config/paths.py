"""Where the program keeps what belongs to its user."""

from __future__ import annotations

import os
import secrets
import sys
from pathlib import Path

PROJECT = Path(__file__).resolve().parents[3]
WEB_DIST = PROJECT / "coldstack" / "web_dist"


def data_dir() -> Path:
    """The data folder: COLD_STACK_DATA, or the system's place for a user's application data."""
    chosen = os.environ.get("COLD_STACK_DATA")
    if chosen:
        return Path(chosen).expanduser()
    if sys.platform == "darwin":
        return Path.home() / "Library" / "Application Support" / "cold-stack"
    if sys.platform == "win32":
        return Path(os.environ.get("LOCALAPPDATA", str(Path.home()))) / "cold-stack"
    return Path(os.environ.get("XDG_DATA_HOME", str(Path.home() / ".local" / "share"))) / "cold-stack"


def secret_key(folder: Path) -> str:
    """The signing key of this installation, made once and readable by its user only."""
    path = folder / "secret-key"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(60))
    return path.read_text()
