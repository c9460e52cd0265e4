"""What is stored of the bench: its layout, readings, charges with their samples and alarms."""

from __future__ import annotations

from django.db import models


class Layout(models.Model):
    """The one bench as it is laid out, a document in the shape of the API's `BenchIn`."""

    document = models.JSONField()
    updated = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return "the bench"


class Charge(models.Model):
    """One charge of one pack or batch by a linked charger, running or ended. ``packs`` are ids like "owned:07".

    ``settings`` is what the charger was set to, ``expected`` what `core.charging.watch` watches it by. ``time_s`` and
    ``looked_s`` are in the charge's own time. ``summary`` is what goes into the log when it has ended.
    """

    packs = models.JSONField()
    label = models.CharField(max_length=200)
    charger_name = models.CharField(max_length=80)
    port = models.PositiveSmallIntegerField()
    run = models.CharField(max_length=64)
    settings = models.JSONField()
    expected = models.JSONField()
    state = models.CharField(max_length=10, default="charging")
    started = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)
    ended_why = models.CharField(max_length=300, blank=True)
    last_seq = models.PositiveIntegerField(default=0)
    time_s = models.FloatField(default=0)
    looked_s = models.FloatField(default=0)
    summary = models.JSONField(default=dict)

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.UniqueConstraint(
                fields=("charger_name", "port"),
                condition=models.Q(state="charging"),
                name="one_charge_a_port",
            ),
        )

    def __str__(self) -> str:
        return f"{self.label} on {self.charger_name}, port {self.port}"


class Sample(models.Model):
    """One report of a charger; the pair of charge and number is there once."""

    charge = models.ForeignKey(Charge, on_delete=models.CASCADE, related_name="samples")
    seq = models.PositiveIntegerField()
    time_s = models.FloatField()
    cell_v = models.JSONField()
    current_a = models.FloatField()
    temperature_c = models.FloatField(null=True)
    mah = models.FloatField()
    supply_v = models.FloatField(null=True)
    cell_mohm = models.JSONField(null=True)

    class Meta:
        ordering = ("seq",)
        constraints = (models.UniqueConstraint(fields=("charge", "seq"), name="one_sample_a_number"),)

    def __str__(self) -> str:
        return f"sample {self.seq}"


class Alarm(models.Model):
    """Something that went wrong in a charge; ``over`` once it no longer holds."""

    charge = models.ForeignKey(Charge, on_delete=models.CASCADE, related_name="alarms")
    kind = models.CharField(max_length=20)
    level = models.CharField(max_length=6)
    time_s = models.FloatField()
    sentence = models.CharField(max_length=300)
    at = models.DateTimeField(auto_now_add=True)
    over = models.BooleanField(default=False)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.sentence


class Reading(models.Model):
    """A pack's cells read at rest, typed or by the checker."""

    pack = models.ForeignKey("gear.OwnedPack", on_delete=models.CASCADE, related_name="readings")
    at = models.DateTimeField(auto_now_add=True)
    cell_v = models.JSONField()
    temperature_c = models.FloatField(null=True)
    source = models.CharField(max_length=10, default="typed")

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return " ".join(f"{v:.3f}" for v in self.cell_v)
