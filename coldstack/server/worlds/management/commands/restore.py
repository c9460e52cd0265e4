"""`manage.py restore FILE [--data FOLDER]`: a backup into an empty place."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from coldstack.core.errors import DomainError
from coldstack.server.worlds.backup import restore


class Command(BaseCommand):
    """Restores a backup; refuses where there is a database."""

    help = "Put a backup into an empty data folder."

    def add_arguments(self, parser: CommandParser) -> None:
        """The file, and the folder as for `serve`."""
        parser.add_argument("file")
        parser.add_argument("--data", help="data folder; else COLD_STACK_DATA, else the user’s data folder")

    def handle(self, *args: Any, **options: Any) -> None:
        """Says what it did, or why not."""
        try:
            restore(Path(options["file"]))
        except (DomainError, OSError) as error:
            raise CommandError(error.sentence if isinstance(error, DomainError) else str(error)) from None
        self.stdout.write("Restored. Start the program to use it.")
