"""`manage.py backup FILE`: everything into one file, also while the program is in use."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from coldstack.server.worlds.backup import backup_bytes


class Command(BaseCommand):
    """Writes a backup beside itself first, so that a file of before is whole until the new one is."""

    help = "Write everything into one file."

    def add_arguments(self, parser: CommandParser) -> None:
        """The file."""
        parser.add_argument("file")
        parser.add_argument("--data", help="data folder; else COLD_STACK_DATA, else the user’s data folder")

    def handle(self, *args: Any, **options: Any) -> None:
        """Says what it did, or why not."""
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        if not database.exists():
            raise CommandError(f"There is nothing to back up yet: no database at {database}.")
        target = Path(options["file"])
        if target.is_dir():
            raise CommandError(
                f"{target} is a folder: name the file in it, such as {target / 'packs.sqlite3'}"
            )
        beside = target.with_name(target.name + ".new")
        try:
            beside.write_bytes(backup_bytes())
            beside.replace(target)
        except OSError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"Everything is in {target}. Put it back with: cold-stack --restore {target}")
