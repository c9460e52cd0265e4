"""``manage.py export_fields``: what the screens know of each field of gear, as TypeScript; with
``--schema`` the JSON schema of gear files, with ``--units`` how units may be typed."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from coldstack.server.gear.exports import json_schema
from coldstack.server.gear.screen_fields import typescript, units_typescript


class Command(BaseCommand):
    """Prints the table; ``make types`` keeps it."""

    help = "Print the table of fields as TypeScript, or the JSON schema of gear files."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--schema", action="store_true", help="the JSON schema instead")
        parser.add_argument("--units", action="store_true", help="how units may be typed instead")

    def handle(self, *args: Any, **options: Any) -> None:
        schema = json.dumps(json_schema(), ensure_ascii=False, indent=1) + "\n"
        table = units_typescript() if options["units"] else typescript()
        self.stdout.write(schema if options["schema"] else table, ending="")
