"""Load the demo world into an empty database."""

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from coldstack.demo.load import load_if_empty


class Command(BaseCommand):
    """`manage.py load_demo`: does nothing if there is a model already."""

    help = "Load the Tarnside Model Club’s models and packs into an empty database."

    def handle(self, *args: Any, **options: Any) -> None:
        """Says what it did."""
        if settings.WORLD != "demo":
            raise CommandError(
                "The demo world is apart from your own data: set COLD_STACK_WORLD=demo, or run “make demo”."
            )
        self.stdout.write(
            "Loaded the demo world." if load_if_empty() else "There are models already; nothing was loaded."
        )
