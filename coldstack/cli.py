"""The command `cold-stack`: serve one's own world or the demo, back it up, put a backup back; on any
system that has Python."""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
from pathlib import Path

from coldstack import __version__

LICENCES = Path(__file__).parent / "web_dist" / "licences.txt"
"""The licences of the fonts and scripts that the screens are made with; written when they are built."""


def main(arguments: list[str] | None = None) -> None:
    """Read the command line, choose world and folder, and go. Exits with 2 for a command that is not
    understood."""
    try:
        _go(_parser().parse_args(arguments))
    except KeyboardInterrupt:
        sys.exit(130)  # stopped before it served: nothing to say


def _go(said: argparse.Namespace) -> None:
    if said.check:
        with tempfile.TemporaryDirectory(prefix="cold-stack-") as aside:
            said.data = aside
            _in_world(said)
        return
    _in_world(said)


def _in_world(said: argparse.Namespace) -> None:
    # folder, world and line must be known before the settings are read
    if said.data:
        os.environ["COLD_STACK_DATA"] = said.data
    os.environ["COLD_STACK_WORLD"] = "demo" if said.demo else "own"
    if said.tls:
        os.environ["COLD_STACK_TLS"] = "1"
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")
    if said.licences:
        print(
            LICENCES.read_text(encoding="utf-8") if LICENCES.is_file() else "The screens are not built yet."
        )
        return
    import django
    from django.core.management import call_command
    from django.core.management.base import CommandError

    django.setup()
    try:
        if said.backup:
            call_command("backup", said.backup)
        elif said.check:
            call_command("check_backup", said.check)
        elif said.restore:
            call_command("restore", said.restore)
        else:
            call_command(
                "serve",
                port=said.port,
                host=said.host,
                open=not said.no_browser,
                until_closed=said.until_closed,
            )
    except CommandError as error:
        sys.exit(f"cold-stack: {error}")


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="cold-stack",
        description="Choosing, charging and keeping battery packs for radio-controlled models. "
        "Serves the program on this machine and opens it in the browser.",
    )
    parser.add_argument("--version", action="version", version=f"Cold Stack {__version__}")
    worlds = parser.add_mutually_exclusive_group()
    worlds.add_argument("--demo", action="store_true", help="the demo world, apart from your own data")
    worlds.add_argument(
        "--own", action="store_true", help="your own world; this is served if nothing is said"
    )
    parser.add_argument(
        "--data", metavar="FOLDER", help="where your data lies; else your system’s place for it"
    )
    parser.add_argument("--port", type=int, default=8600, help="the next free one is used if it is taken")
    parser.add_argument(
        "--host",
        default="127.0.0.1",
        help="an address of this machine, so that paired phones in the same network reach it too",
    )
    parser.add_argument("--tls", action="store_true", help="phones come over an encrypted line")
    parser.add_argument("--no-browser", action="store_true", help="do not open the browser")
    parser.add_argument("--until-closed", action="store_true", help=argparse.SUPPRESS)
    other = parser.add_mutually_exclusive_group()
    other.add_argument(
        "--backup", metavar="FILE", help="write everything, the log too, into one file; then end"
    )
    other.add_argument("--restore", metavar="FILE", help="put a backup into an empty folder; then end")
    other.add_argument(
        "--check", metavar="FILE", help="restore a backup aside and count what is in it; then end"
    )
    other.add_argument(
        "--licences", action="store_true", help="print the licences of what is in it; then end"
    )
    return parser
