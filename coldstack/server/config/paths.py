"""Where the program keeps what belongs to its user, and which of its two worlds it is in.

One's own world lies in the data folder itself, the demo world in a folder of its own inside it:
neither ever sees the other's database.
"""

from __future__ import annotations

import os
import secrets
import sys
from pathlib import Path
from typing import Literal, get_args

World = Literal["own", "demo"]

PROJECT = Path(__file__).resolve().parents[3]
WEB_DIST = PROJECT / "coldstack" / "web_dist"
DATABASE_NAME = "cold-stack.sqlite3"


def world() -> World:
    """The world that this process serves: COLD_STACK_WORLD, or one's own."""
    chosen = os.environ.get("COLD_STACK_WORLD", "own")
    if chosen not in get_args(World):
        raise SystemExit(f"COLD_STACK_WORLD is own or demo, not “{chosen}”.")
    return chosen  # type: ignore[return-value]  # one of the two


def root_dir() -> Path:
    """The data folder of both worlds: COLD_STACK_DATA, or the system's place for a user's application
    data."""
    chosen = os.environ.get("COLD_STACK_DATA")
    if chosen:
        return Path(chosen).expanduser()
    if sys.platform == "darwin":
        return Path.home() / "Library" / "Application Support" / "cold-stack"
    if sys.platform == "win32":
        return Path(os.environ.get("LOCALAPPDATA", str(Path.home()))) / "cold-stack"
    return Path(os.environ.get("XDG_DATA_HOME", str(Path.home() / ".local" / "share"))) / "cold-stack"


def folder_of(which: World, root: Path) -> Path:
    """Where a world keeps its database."""
    return root if which == "own" else root / "demo"


def data_dir() -> Path:
    """The data folder of the world that this process serves."""
    return folder_of(world(), root_dir())


def secret_key(folder: Path) -> str:
    """The signing key of this installation, made once and readable by its user only."""
    path = folder / "secret-key"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(60))
    return path.read_text()
