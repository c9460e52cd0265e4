"""Migrate, load the demo world where it is served and empty, and serve."""

from __future__ import annotations

import logging
import os
import signal
import sqlite3
import sys
import threading
import time
import webbrowser
from pathlib import Path
from typing import Any

import segno
from cheroot.wsgi import Server
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError, close_old_connections
from django.utils import timezone

from coldstack.core.boards import rush
from coldstack.core.discharge import simulate
from coldstack.core.errors import DomainError
from coldstack.demo.load import load_if_empty
from coldstack.server.charges.watcher import start_watching
from coldstack.server.config.memory import give_back, keep_few_pools
from coldstack.server.config.paths import root_dir
from coldstack.server.life.kept import stale, tell_anew
from coldstack.server.life.now import standings
from coldstack.server.pairing.addresses import pairing_address
from coldstack.server.pairing.authority import certified
from coldstack.server.pairing.invitations import invite
from coldstack.server.worlds import tls_server
from coldstack.server.worlds.backup import made_by_newer
from coldstack.server.worlds.carry_over import carry_over
from coldstack.server.worlds.listening import Listening
from coldstack.server.worlds.plain_server import plain_server
from coldstack.server.worlds.serving import Serving, served_at
from coldstack.server.worlds.upgrades import copy_before_upgrade
from coldstack.standins.start import ensure_standins

THREADS = 8
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
            help=("an address of this machine, so that paired phones in the same network reach it too"),
        )
        parser.add_argument("--tls", action="store_true", help="phones come over an encrypted line")
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
        line = Listening(options["host"], options["port"], tls=settings.TLS)
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

        line.settle()
        settings.SERVED_HOST = line.host
        settings.ALLOWED_HOSTS += line.names
        settings.PHONE_ADDRESS = line.phones
        call_command("clearsessions")
        secure = self._serve_securely(application, line) if line.secured else []
        logging.getLogger("waitress.queue").setLevel(logging.ERROR)
        server = plain_server(application, listen=line.listen, threads=THREADS)
        try:
            serving.tell(line.address, line.phones)
            self._say(line.address)
            self._invite()
            _beside(line.address, and_open=options["open"], until_closed=options["until_closed"])
            server.run()
        except KeyboardInterrupt:
            server.close()
        finally:
            tls_server.stop(secure)
            serving.let_go()

    def _serve_securely(self, application: Any, line: Listening) -> list[Server]:
        try:
            made = certified(root_dir() / "tls", line.secured, now=timezone.now())
        except DomainError as error:
            raise CommandError(error.sentence) from None
        settings.AUTHORITY = made
        return tls_server.start(application, [(x, line.port) for x in line.secured], made)

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
        if copy := copy_before_upgrade(timezone.now()):
            self.stdout.write(f"Your data is brought up to date; as it was before, it is in {copy}")
        call_command("migrate", verbosity=0, interactive=False)
        if settings.WORLD == "demo":
            if load_if_empty():
                self.stdout.write("Loaded the Tarnside Model Club’s models and packs.")
            ensure_standins(Path(settings.DATA_DIR))

    def _invite(self) -> None:
        """The first phone's way in, where phones reach this program."""
        if settings.PHONE_ADDRESS is None:
            return
        address = pairing_address(invite("everything", now=timezone.now()).code)
        assert address is not None
        if self.stdout.isatty():
            segno.make(address, error="l", micro=False).terminal(compact=True)
        self.stdout.write(
            f"Pair a phone, once, within ten minutes: {address}\n"
            "More, and such that may look only: Find or do, Bring a phone. Without it nobody comes in."
        )
        self.stdout.flush()

    def _say(self, address: str) -> None:
        which = "The demo world" if settings.WORLD == "demo" else "Your own world"
        self.stdout.write(f"{which}: {settings.DATA_DIR}")
        if settings.WORLD == "own":
            self.stdout.write(
                "Back it up in Gear, Import, export; or with: cold-stack --backup my-packs.sqlite3"
            )
        self.stdout.write(f"Cold Stack is at {address}  (stop with Ctrl-C)")
        self.stdout.flush()


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
    tell_anew(stale())  # what an older program kept, or before the rules were changed
    standings()
    close_old_connections()
    give_back()


def _end_when_closed() -> None:
    """End when whoever started this closes its standard input, or is gone; what was acknowledged is on
    the disk."""
    while sys.stdin.read(1024):
        pass
    os.kill(os.getpid(), signal.SIGTERM)
