"""What the bench tells others, within the transaction in which it happened; the logbook keeps it."""

from __future__ import annotations

from django.dispatch import Signal

charge_ended = Signal()
"""A charge was closed: ``charge``."""
pack_read = Signal()
"""The checker read a pack at rest: ``reading``."""
