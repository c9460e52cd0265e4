"""``check_backup FILE``: prove a backup by restoring it into an empty place, and count what is in it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError

from coldstack.core.errors import DomainError
from coldstack.server.charges.models import Charge
from coldstack.server.gear.kinds import KINDS
from coldstack.server.life.models import Event
from coldstack.server.worlds.backup import made_by_newer, restore


class Command(BaseCommand):
    """The data folder must be a new, empty one: `cold-stack --check` gives it one and throws it away."""

    help = "Restore a backup aside and count what is in it."

    def add_arguments(self, parser: CommandParser) -> None:
        """The file."""
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        """Says what is in it, or why it is none."""
        source = Path(options["file"])
        try:
            restore(source)
            if made_by_newer():
                raise CommandError(f"{source} was made by a newer Cold Stack: use that, or a newer one.")
            call_command("migrate", verbosity=0, interactive=False)
            counts = [(k.one, k.many, k.model.live.count()) for k in KINDS.values()]
            counts += [
                ("event", "events", Event.objects.count()),
                ("charge", "charges", Charge.objects.count()),
            ]
        except DomainError as error:
            raise CommandError(error.sentence) from None
        except (OSError, DatabaseError) as error:
            raise CommandError(f"{source} could not be restored: {error}") from None
        words = ", ".join(f"{n} {one if n == 1 else many}" for one, many, n in counts if n)
        self.stdout.write(f"{source} is whole, and can be restored: {words or 'nothing is in it yet'}.")
