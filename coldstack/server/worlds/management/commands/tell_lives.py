"""Tell the packs' lives anew from all of their events, and say whether what was kept was the same."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from coldstack.server.life.kept import tell_anew, unlike


class Command(BaseCommand):
    """Proves what is kept of each life by all of its events, and keeps that."""

    help = "Tell every pack's life anew from all of its events; say which were kept otherwise."

    def handle(self, *args: Any, **options: Any) -> None:
        """1 if one was kept otherwise; it is put right all the same."""
        wrong = unlike()
        count = tell_anew()
        if wrong:
            raise CommandError(f"{', '.join(wrong)}: kept otherwise than their events tell. Put right.")
        self.stdout.write(f"{count} lives, each as its events tell.")
