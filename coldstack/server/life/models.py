"""What is stored of a pack's life: events, written once; withdrawn perhaps, never changed, never deleted."""

from __future__ import annotations

from typing import Any, NoReturn

from django.db import models

from coldstack.server.gear.changes import StampField


class Kept(models.QuerySet["Event"]):
    """Events cannot be deleted, whoever tries."""

    def delete(self) -> NoReturn:
        """Refused."""
        raise models.ProtectedError("An event of a pack's life is withdrawn, never deleted.", set(self))


class Standing(models.Manager["Event"]):
    """Events that were not withdrawn."""

    def get_queryset(self) -> models.QuerySet[Event]:
        """Without those that were."""
        return Kept(self.model, using=self._db).filter(withdrawn=None)


class Event(models.Model):
    """One event, as `core.life.events.Event` knows it; null or empty where it was not measured or said.

    ``key`` comes from who says it (a page makes it with its form), so that the same thing said twice is kept
    once. ``changed`` rises with each writing of a row. ``charge`` is the number of the bench's charge.
    ``hands`` are whose it came from: this computer's, a phone's by its name; empty where nobody's, or not
    known.
    """

    key = models.CharField(max_length=80, unique=True)
    pack = models.ForeignKey("gear.OwnedPack", on_delete=models.PROTECT, related_name="events")
    at = models.DateTimeField()
    said = models.DateTimeField()
    kind = models.CharField(max_length=12)
    by = models.CharField(max_length=10, default="hand")
    cell_v = models.JSONField(null=True)
    pack_v = models.FloatField(null=True)
    end_cell_v = models.JSONField(null=True)
    cell_mohm = models.JSONField(null=True)
    temperature_c = models.FloatField(null=True)
    at_room = models.BooleanField(default=False)
    soc = models.FloatField(null=True)
    capacity_ah = models.FloatField(null=True)
    mah = models.FloatField(null=True)
    minutes = models.FloatField(null=True)
    balance_min = models.FloatField(null=True)
    landing_cell_v = models.FloatField(null=True)
    state = models.CharField(max_length=8, blank=True, default="")
    ended = models.CharField(max_length=8, blank=True, default="")
    signs = models.JSONField(default=list, blank=True)
    steps = models.JSONField(default=list, blank=True)
    charge = models.PositiveBigIntegerField(null=True)
    model = models.CharField(max_length=60, blank=True, default="", db_index=True)
    text = models.CharField(max_length=300, blank=True, default="")
    cycle = models.PositiveIntegerField(null=True)
    sure = models.BooleanField(default=False)
    hands = models.CharField(max_length=40, blank=True, default="")
    withdrawn = models.DateTimeField(null=True)
    changed = StampField(auto_now=True)

    objects = models.Manager.from_queryset(Kept)()
    standing = Standing()

    class Meta:
        ordering = ("at", "id")
        indexes = (models.Index(fields=("pack", "changed"), name="life_changed"),)

    def __str__(self) -> str:
        return f"{self.pack_id}: {self.kind} at {self.at:%Y-%m-%d}"

    def delete(self, *args: Any, **options: Any) -> NoReturn:
        """Refused."""
        raise models.ProtectedError("An event of a pack's life is withdrawn, never deleted.", {self})


class KeptLife(models.Model):
    """What a pack's events tell, kept so that nobody tells them all again: as `core.life.kept` has it, as
    JSON.

    It holds while ``changed`` is the stamp of the pack's latest event, ``updated`` that of its row, and
    ``made`` that of the house's rules and of how this program tells a life. What holds no more is told anew.
    """

    pack = models.OneToOneField(
        "gear.OwnedPack", on_delete=models.CASCADE, primary_key=True, related_name="kept_life"
    )
    made = models.CharField(max_length=64)
    changed = models.DateTimeField(null=True)
    updated = models.DateTimeField()
    now = models.TextField()
    tail = models.TextField()
    measured = models.TextField()

    def __str__(self) -> str:
        return f"{self.pack_id} as of {self.changed}"
