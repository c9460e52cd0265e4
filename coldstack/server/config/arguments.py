"""What of the command line must be known before the settings are read: folder, world, TLS."""

from __future__ import annotations

import argparse
import os
from collections.abc import Sequence


def choose_by(arguments: Sequence[str]) -> None:
    """Folder, world and TLS into the environment, where the command line says them; the rest is Django's."""
    parser = argparse.ArgumentParser(add_help=False, allow_abbrev=False, exit_on_error=False)
    parser.add_argument("--data")
    parser.add_argument("--tls", action="store_true")
    worlds = ("demo", "own") if "serve" in arguments else ()
    for world in worlds:
        parser.add_argument(f"--{world}", dest="world", action="store_const", const=world)
    try:
        said, _ = parser.parse_known_args(arguments)
    except argparse.ArgumentError:
        return  # Django's own parser tells it in full
    if said.data:
        os.environ["COLD_STACK_DATA"] = said.data
    if worlds and said.tls:
        os.environ["COLD_STACK_TLS"] = "1"
    if worlds and said.world:
        os.environ["COLD_STACK_WORLD"] = said.world
