"""Migrate, load the demo world where it is served and empty, and serve on loopback."""

from __future__ import annotations

import logging
import os
import signal
import socket
import sys
import threading
import webbrowser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from waitress.server import create_server

from coldstack.demo.load import load_if_empty
from coldstack.server.bench.watcher import start_watching
from coldstack.server.config.paths import root_dir
from coldstack.server.matching.assemble import grid_out
from coldstack.server.matching.schemas import GridIn
from coldstack.server.worlds.carry_over import carry_over
from coldstack.server.worlds.serving import Serving, served_at
from coldstack.standins.start import ensure_standins

THREADS = 8
PORTS_TO_TRY = 50


class Command(BaseCommand):
    """`manage.py serve [--port 8600] [--host ADDRESS] [--data FOLDER] [--demo]`."""

    help = "Serve Cold Stack on this machine."

    def add_arguments(self, parser: CommandParser) -> None:
        """Port and whether to load the demo world."""
        parser.add_argument("--port", type=int, default=8600, help="the next free one is used if it is taken")
        parser.add_argument(
            "--data", help="folder for the database; else COLD_STACK_DATA, else the user’s data folder"
        )
        parser.add_argument("--host", default="127.0.0.1", help="an address of this machine, so that phones in the same network reach it; anybody there can then use it")  # fmt: skip
        worlds = parser.add_mutually_exclusive_group()
        worlds.add_argument("--demo", action="store_true", help="the demo world, apart from one’s own data")
        worlds.add_argument(
            "--own", action="store_true", help="one’s own world; this is what is served if nothing is said"
        )
        parser.add_argument("--open", action="store_true", help="open it in the browser")
        parser.add_argument("--until-closed", action="store_true", help="end when standard input is closed")

    def handle(self, *args: Any, **options: Any) -> None:
        """Runs until interrupted; ends with exit code 0."""
        if said := carry_over(root_dir()):
            self.stdout.write(said)
        serving = Serving(Path(settings.DATA_DIR))
        if not serving.take():
            where = served_at(Path(settings.DATA_DIR)) or "another address"
            self.stdout.write(f"Cold Stack runs already with this data, at {where}")
            if options["open"] and where.startswith("http"):
                webbrowser.open(where)
            return
        call_command("migrate", verbosity=0, interactive=False)
        if settings.WORLD == "demo":
            if load_if_empty():
                self.stdout.write("Loaded the Tarnside Model Club’s models and packs.")
            ensure_standins(Path(settings.DATA_DIR))
        from coldstack.server.config.wsgi import application

        host = settings.SERVED_HOST = options["host"]
        if host != "127.0.0.1":
            settings.ALLOWED_HOSTS.append(host)
            self.stdout.write("Anybody in this network can use it now; there is no password.")
        port = free_port(options["port"], host)
        logging.getLogger("waitress.queue").setLevel(logging.ERROR)
        server = create_server(application, host=host, port=port, threads=THREADS, ident="Cold Stack")
        which = "The demo world" if settings.WORLD == "demo" else "Your own world"
        self.stdout.write(f"{which}: {settings.DATA_DIR}")
        if settings.WORLD == "own":
            self.stdout.write(
                "Back it up in Gear, Import, export; or with: cold-stack --backup my-packs.sqlite3"
            )
        address = f"http://{host}:{port}/"
        serving.tell(address)
        self.stdout.write(f"Cold Stack is at {address}  (stop with Ctrl-C)")
        self.stdout.flush()
        if options["until_closed"]:
            threading.Thread(target=_end_when_closed, daemon=True).start()
        if options["open"]:
            threading.Thread(target=webbrowser.open, args=(address,), daemon=True).start()
        start_watching()
        threading.Thread(target=_look_ahead, daemon=True).start()
        try:
            server.run()
        except KeyboardInterrupt:
            server.close()
        finally:
            serving.let_go()


def _end_when_closed() -> None:
    """End when whoever started this closes its standard input, or is gone; what was acknowledged is on
    the disk."""
    while sys.stdin.read(1024):
        pass
    os.kill(os.getpid(), signal.SIGTERM)


def _look_ahead() -> None:
    """Compute the grid once, so that the first look at Match finds it kept."""
    try:
        grid_out(GridIn())
    finally:
        connection.close()


def free_port(first: int, host: str = "127.0.0.1") -> int:
    """The first port from ``first`` on that nobody listens on.

    Raises
    ------
    CommandError
        If none of fifty is free.
    """
    for port in range(first, min(first + PORTS_TO_TRY, 65536)):
        with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
            if os.name == "posix":  # elsewhere it would let two listen on one port
                probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, port))
            except OSError:
                continue
            return port
    raise CommandError(f"No free port from {first} to {first + PORTS_TO_TRY - 1}.")
