"""Migrate, load the demo world where it is served and empty, and serve on loopback."""

from __future__ import annotations

import logging
import os
import signal
import socket
import sqlite3
import sys
import threading
import time
import webbrowser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError, close_old_connections
from waitress.server import create_server

from coldstack.core.charging import rush
from coldstack.core.discharge import simulate
from coldstack.demo.load import load_if_empty
from coldstack.server.charging.watcher import start_watching
from coldstack.server.config.memory import give_back, keep_few_pools
from coldstack.server.config.paths import root_dir
from coldstack.server.life.now import standings
from coldstack.server.worlds.backup import made_by_newer
from coldstack.server.worlds.carry_over import carry_over
from coldstack.server.worlds.serving import Serving, served_at
from coldstack.standins.start import ensure_standins

THREADS = 8
PORTS_TO_TRY = 50
LAST_PORT = 65535
STANDINS_EVERY_S = 20.0


class Command(BaseCommand):
    """`manage.py serve [--port 8600] [--host ADDRESS] [--data FOLDER] [--demo]`."""

    help = "Serve Cold Stack on this machine."

    def add_arguments(self, parser: CommandParser) -> None:
        """Port and whether to load the demo world."""
        parser.add_argument("--port", type=int, default=8600, help="the next free one is used if it is taken")
        parser.add_argument(
            "--data", help="folder for the database; else COLD_STACK_DATA, else the user’s data folder"
        )
        parser.add_argument(
            "--host",
            default="127.0.0.1",
            help=(
                "an address of this machine, so that phones in the same network reach it; anybody "
                "there can then use it"
            ),
        )
        worlds = parser.add_mutually_exclusive_group()
        worlds.add_argument("--demo", action="store_true", help="the demo world, apart from one’s own data")
        worlds.add_argument(
            "--own", action="store_true", help="one’s own world; this is what is served if nothing is said"
        )
        parser.add_argument("--open", action="store_true", help="open it in the browser")
        parser.add_argument("--until-closed", action="store_true", help="end when standard input is closed")

    def handle(self, *args: Any, **options: Any) -> None:
        """Runs until interrupted; ends with exit code 0."""
        keep_few_pools()
        # what of the command line cannot be is said before anything is made
        host, shown = _host(options["host"])
        if not 1 <= options["port"] <= LAST_PORT:
            raise CommandError(f"A port is a number from 1 to {LAST_PORT}, not {options['port']}.")
        signal.signal(signal.SIGTERM, _as_interrupted)
        try:
            if said := carry_over(root_dir()):
                self.stdout.write(said)
            serving = Serving(Path(settings.DATA_DIR))
            if not serving.take():
                self._point_to_the_other(and_open=options["open"])
                return
            self._prepare()
        except KeyboardInterrupt:
            return
        except (OSError, DatabaseError, sqlite3.Error) as error:
            raise CommandError(_in_words(error)) from None
        from coldstack.server.config.wsgi import application

        settings.SERVED_HOST = host
        if host != "127.0.0.1":
            settings.ALLOWED_HOSTS.append(shown)
            self.stdout.write("Anybody in this network can use it now; there is no password.")
        port = free_port(options["port"], host)
        logging.getLogger("waitress.queue").setLevel(logging.ERROR)
        server = create_server(application, host=host, port=port, threads=THREADS, ident="Cold Stack")
        address = f"http://{shown}:{port}/"
        try:
            serving.tell(address)
            self._say(address)
            _beside(address, and_open=options["open"], until_closed=options["until_closed"])
            server.run()
        except KeyboardInterrupt:
            server.close()
        finally:
            serving.let_go()

    def _point_to_the_other(self, *, and_open: bool) -> None:
        where = served_at(Path(settings.DATA_DIR)) or "another address"
        self.stdout.write(f"Cold Stack runs already with this data, at {where}")
        if and_open and where.startswith("http"):
            webbrowser.open(where)

    def _prepare(self) -> None:
        if made_by_newer():
            raise CommandError(
                f"The database in {settings.DATA_DIR} was made by a newer Cold Stack. Use that, or a newer "
                "one, to open it; nothing was changed."
            )
        call_command("migrate", verbosity=0, interactive=False)
        if settings.WORLD == "demo":
            if load_if_empty():
                self.stdout.write("Loaded the Tarnside Model Club’s models and packs.")
            ensure_standins(Path(settings.DATA_DIR))

    def _say(self, address: str) -> None:
        which = "The demo world" if settings.WORLD == "demo" else "Your own world"
        self.stdout.write(f"{which}: {settings.DATA_DIR}")
        if settings.WORLD == "own":
            self.stdout.write(
                "Back it up in Gear, Import, export; or with: cold-stack --backup my-packs.sqlite3"
            )
        self.stdout.write(f"Cold Stack is at {address}  (stop with Ctrl-C)")
        self.stdout.flush()


def _host(asked: str) -> tuple[str, str]:
    """The address to listen on, and as it stands in an address of the browser.

    Raises
    ------
    CommandError
        If it is no address of this machine.
    """
    try:
        family, _, _, _, place = socket.getaddrinfo(asked, None, type=socket.SOCK_STREAM)[0]
        with socket.socket(family, socket.SOCK_STREAM) as probe:
            probe.bind((place[0], 0))
    except OSError:
        raise CommandError(f"“{asked}” is no address of this machine.") from None
    return str(place[0]), f"[{place[0]}]" if family == socket.AF_INET6 else asked


def _as_interrupted(number: int, frame: object) -> None:
    """Asked to end: as by Ctrl-C, so that what runs is put away and the exit is clean."""
    raise KeyboardInterrupt


def _in_words(error: Exception) -> str:
    """Why there is no working in this folder."""
    folder = settings.DATA_DIR
    if isinstance(error, OSError):
        return f"The folder {folder} cannot be used: {(error.strerror or str(error)).lower()}."
    if "not a database" in str(error) or "malformed" in str(error):
        return (
            f"The database in {folder} is damaged. Move it away and put a backup in its place: "
            "cold-stack --restore my-packs.sqlite3"
        )
    return f"The database in {folder} cannot be written: is the folder read-only, or the disk full? ({error})"


def _beside(address: str, *, and_open: bool, until_closed: bool) -> None:
    """What runs beside the server: the watch over charges, and what makes the first plan quick."""
    # the first plan finds it ready; the page itself does not wait for it
    threading.Thread(target=_make_ready, daemon=True).start()
    if until_closed:
        threading.Thread(target=_end_when_closed, daemon=True).start()
    if and_open:
        threading.Thread(target=webbrowser.open, args=(address,), daemon=True).start()
    start_watching()
    if settings.WORLD == "demo":
        threading.Thread(target=_keep_standins, daemon=True).start()


def _keep_standins() -> None:
    """The stand-ins stay as long as this server does: asked now and then, and started again if one has
    gone."""
    while True:
        time.sleep(STANDINS_EVERY_S)
        ensure_standins(Path(settings.DATA_DIR))


def _make_ready() -> None:
    simulate.warm_up()
    rush.warm_up()
    standings()  # every pack's life is told once
    close_old_connections()
    give_back()


def _end_when_closed() -> None:
    """End when whoever started this closes its standard input, or is gone; what was acknowledged is on
    the disk."""
    while sys.stdin.read(1024):
        pass
    os.kill(os.getpid(), signal.SIGTERM)


def free_port(first: int, host: str = "127.0.0.1") -> int:
    """The first port from ``first`` on that nobody listens on.

    Raises
    ------
    CommandError
        If none of fifty is free.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    for port in range(first, min(first + PORTS_TO_TRY, LAST_PORT + 1)):
        with socket.socket(family, socket.SOCK_STREAM) as probe:
            if os.name == "posix":  # elsewhere it would let two listen on one port
                probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, port))
            except OSError:
                continue
            return port
    raise CommandError(f"No free port from {first} to {first + PORTS_TO_TRY - 1}.")
