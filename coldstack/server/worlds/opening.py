"""From one world to the other: its server is found, or started beside this one and ends with it."""

from __future__ import annotations

import re
import subprocess
import sys
import threading
import time
from pathlib import Path

from django.conf import settings

from coldstack.core.errors import DomainError
from coldstack.server.config.paths import PROJECT, World, folder_of, root_dir
from coldstack.server.worlds.serving import served_at

PATIENCE_S = 60.0
FIRST_PORT = 8650
_started: list[subprocess.Popen[str]] = []
_one_at_a_time = threading.Lock()


def open_world(which: World, *, to_phone: bool = False) -> str:
    """The address of a world's server, which is started if nobody serves it.

    Raises
    ------
    DomainError
        If it does not start, or does not answer to phones.
    """
    root = root_dir()
    with _one_at_a_time:
        here = served_at(folder_of(which, root)) or _start(which, root)
    there = served_at(folder_of(which, root), to_phones=True) if to_phone else here
    if there is None:
        raise DomainError("world", "The other world answers at the computer only.")
    return there


def _start(which: World, root: Path) -> str:
    command = [
        sys.executable,
        "-m",
        "coldstack",
        "--demo" if which == "demo" else "--own",
        "--port",
        str(FIRST_PORT),
        "--data",
        str(root),
        "--host",
        settings.SERVED_HOST,
        "--no-browser",
        "--until-closed",
        *(["--tls"] if settings.TLS else []),
    ]
    # its standard input stays open as long as this process lives, which is how it knows when to end
    pipe = subprocess.PIPE
    # nothing of the command comes from outside
    process = subprocess.Popen(command, cwd=PROJECT, stdin=pipe, stdout=pipe, text=True)  # noqa: S603
    _started.append(process)
    said: list[str] = []
    found = threading.Event()
    threading.Thread(target=_listen, args=(process, said, found), daemon=True).start()
    until = time.monotonic() + PATIENCE_S
    while not found.wait(0.1) and time.monotonic() < until and process.poll() is None:
        pass
    address = _address(said)
    if address is None:
        process.kill()
        raise DomainError("world", "The other world did not start. Start it by hand: the README says how.")
    return address


def _listen(process: subprocess.Popen[str], said: list[str], found: threading.Event) -> None:
    assert process.stdout is not None
    for line in process.stdout:
        said.append(line)
        if _address(said) is not None:
            found.set()


def _address(said: list[str]) -> str | None:
    for line in said:
        if match := re.search(r"at (http://\S+/)", line):
            return match.group(1)
    return None
