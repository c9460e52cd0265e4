"""What is stored of the bench: its layout, charges with their samples and alarms."""

from __future__ import annotations

from django.db import models

from coldstack.core.packs.keys import owned_key
from coldstack.server.api.stored import DocumentField, Stored
from coldstack.server.bench.schemas import BenchIn


class Layout(models.Model):
    """The one bench as it is laid out, a document in the shape of the API's `BenchIn`."""

    document = DocumentField(stored=Stored(BenchIn, dict))
    updated = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return "the bench"


ACTIVE = ("starting", "charging", "stopping")
"""Of a charge: the charger is about to be told, was told, or is to stop; its port and its packs are held."""


class Charge(models.Model):
    """One charge of one pack or batch by a linked charger: about to begin, running or ended.

    ``key`` is of the press that began it: pressed again, it is the same charge, and the charger knows it by
    that. ``label`` says the tags as they were when it began.

    ``settings`` is what the charger was set to, ``expected`` what `core.watching.watch` watches it by.
    ``time_s`` and ``looked_s`` are in the charge's own time. ``summary`` is what goes into the log when it
    has ended. ``stop_why`` is why it is to be stopped, ``stop_outcome`` what came of that
    (`core.watching.stopping.Outcome`): until it is confirmed the charge is *stopping*.
    """

    members = models.ManyToManyField("gear.OwnedPack", related_name="charges")
    label = models.CharField(max_length=200)
    charger_name = models.CharField(max_length=80)
    port = models.PositiveSmallIntegerField()
    key = models.CharField(max_length=64, unique=True)
    run = models.CharField(max_length=64)
    settings = models.JSONField()
    expected = models.JSONField()
    state = models.CharField(max_length=10, default="starting")
    started = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)
    ended_why = models.CharField(max_length=300, blank=True)
    stop_why = models.CharField(max_length=300, blank=True, default="")
    stop_outcome = models.CharField(max_length=10, blank=True, default="")
    last_seq = models.PositiveIntegerField(default=0)
    time_s = models.FloatField(default=0)
    looked_s = models.FloatField(default=0)
    summary = models.JSONField(default=dict)

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.UniqueConstraint(
                fields=("charger_name", "port"),
                condition=models.Q(state__in=ACTIVE),
                name="one_charge_a_port",
            ),
        )

    def __str__(self) -> str:
        return f"{self.label} on {self.charger_name}, port {self.port}"

    @property
    def packs(self) -> list[str]:
        """Ids of its packs, by the tags they bear now."""
        return [owned_key(p.tag) for p in self.members.all()]


class SupplyLevel(models.Model):
    """What somebody told that a field battery holds, at a moment; ``key`` is of the act."""

    supply = models.ForeignKey("gear.Supply", on_delete=models.CASCADE, related_name="levels")
    key = models.CharField(max_length=64, unique=True)
    at = models.DateTimeField()
    left_wh = models.FloatField()
    by_volts = models.BooleanField(default=False)
    withdrawn = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.left_wh:g} Wh in {self.supply_id}"


class OnCharger(models.Model):
    """A pack that is on a charger: while this row is there no other charge can have it."""

    pack = models.OneToOneField("gear.OwnedPack", on_delete=models.PROTECT, related_name="on_charger")
    charge = models.ForeignKey(Charge, on_delete=models.CASCADE, related_name="held")

    def __str__(self) -> str:
        return f"{self.pack_id} in charge {self.charge_id}"


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
    """Something that went wrong in a charge, and what was ``done`` about it.

    ``over`` once it no longer holds, ``confirmed`` once a person has said that they saw to it. Without a
    charge it is about one that nobody here began: ``where`` says on which charger and port.
    """

    charge = models.ForeignKey(Charge, null=True, on_delete=models.CASCADE, related_name="alarms")
    where = models.CharField(max_length=120, blank=True, default="")
    kind = models.CharField(max_length=20)
    level = models.CharField(max_length=6)
    time_s = models.FloatField()
    sentence = models.CharField(max_length=300)
    cell = models.PositiveSmallIntegerField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    over = models.BooleanField(default=False)
    done = models.CharField(max_length=200, blank=True, default="")
    confirmed = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.sentence
