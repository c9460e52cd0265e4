"""What is stored of a pack's life: a record a charge or check, and the state it was left in."""

from __future__ import annotations

from django.db import models


class Standing(models.Manager["RunLog"]):
    """Runs that were not taken away."""

    def get_queryset(self) -> models.QuerySet[RunLog]:
        """Without those that were."""
        return super().get_queryset().filter(removed=None)


class RunLog(models.Model):
    """One run of a pack in a model. ``key`` is made by the page that logged it, so that a run sent twice is kept once.

    A run that was taken away keeps its key, so that it does not come back by being sent again.
    """

    key = models.CharField(max_length=40, unique=True)
    pack = models.ForeignKey("gear.OwnedPack", on_delete=models.CASCADE, related_name="runs")
    model_slug = models.CharField(max_length=60, db_index=True)
    at = models.DateTimeField()
    minutes = models.FloatField()
    put_back_mah = models.FloatField(null=True)
    landing_cell_v = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)
    removed = models.DateTimeField(null=True)

    objects = models.Manager()
    standing = Standing()

    class Meta:
        ordering = ("-at", "-id")

    def __str__(self) -> str:
        return f"{self.pack_id} in {self.model_slug}, {self.minutes:g} min"


class PackNote(models.Model):
    """A sentence about a pack on a day. A removed one can be brought back."""

    pack = models.ForeignKey("gear.OwnedPack", on_delete=models.CASCADE, related_name="notes")
    at = models.DateTimeField()
    text = models.CharField(max_length=300)
    removed = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-at", "-id")

    def __str__(self) -> str:
        return f"{self.pack_id}: {self.text[:40]}"


class Retirement(models.Model):
    """How far a pack is on its way out: the steps that were ticked, and when the last one was."""

    pack = models.OneToOneField("gear.OwnedPack", on_delete=models.CASCADE, related_name="retirement")
    ticked = models.JSONField(default=list)
    done = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.pack_id}: {len(self.ticked)} steps"


class PackRecord(models.Model):
    """One charge, check or change of state, as `core.keeping.Record` knows it; null where it was not measured.

    ``state`` is what the pack was left in: full, part, stored, spent, too_low, or empty where it says nothing of that.
    """

    pack = models.ForeignKey("gear.OwnedPack", on_delete=models.CASCADE, related_name="records")
    at = models.DateTimeField(db_index=True)
    cycle = models.PositiveIntegerField(default=0)
    temperature_c = models.FloatField(null=True)
    soc = models.FloatField(null=True)
    cell_mohm = models.JSONField(null=True)
    rest_cell_v = models.JSONField(null=True)
    capacity_ah = models.FloatField(null=True)
    balance_min = models.FloatField(null=True)
    run_minutes = models.FloatField(null=True)
    state = models.CharField(max_length=8, blank=True)
    source = models.CharField(max_length=10, default="charge")

    class Meta:
        ordering = ("at", "id")
        indexes = (models.Index(fields=("pack", "at")),)

    def __str__(self) -> str:
        return f"{self.pack_id} at {self.at:%Y-%m-%d}"
