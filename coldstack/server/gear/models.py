"""What is stored of gear: models with their job, packs, cells, chargers and what goes between them; and what
was changed."""

from __future__ import annotations

from typing import Generic, TypeVar

from django.db import models
from django.db.models import Q

from coldstack.server.api.stored import DocumentField
from coldstack.server.gear.changes import StampField
from coldstack.server.sizing.stored import STORED_JOB

_G = TypeVar("_G", bound="Gear", covariant=True)


class Live(models.Manager[_G], Generic[_G]):
    """Gear that was not removed."""

    def get_queryset(self) -> models.QuerySet[_G]:
        """Rows without a time of removal."""
        return super().get_queryset().filter(removed=None)


class Gear(models.Model):
    """Anything a person keeps.

    A removed piece stays in the table, so that removing can be undone and a log keeps its pack.
    """

    updated = StampField(auto_now=True)
    removed = models.DateTimeField(null=True, blank=True)

    objects = models.Manager()
    live = Live()

    class Meta:
        abstract = True


class RcModel(Gear):
    """A radio-controlled model and its job. The job is a document in the shape of the API's `JobIn`."""

    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=80)
    description = models.CharField(max_length=200, blank=True)
    position = models.PositiveIntegerField(default=0)
    job = DocumentField(stored=STORED_JOB)

    class Meta:
        ordering = ("position", "name")

    def __str__(self) -> str:
        return self.name


class PackFigures(Gear):
    """The figures of a pack as `core.packs.Pack` knows them; null where not known, empty where the usual
    holds."""

    name = models.CharField(max_length=120)
    chemistry = models.CharField(max_length=12)
    series = models.PositiveSmallIntegerField()
    parallel = models.PositiveSmallIntegerField(default=1)
    capacity_ah = models.FloatField()
    mass_g = models.FloatField()
    length_mm = models.FloatField(null=True, blank=True)
    width_mm = models.FloatField(null=True, blank=True)
    height_mm = models.FloatField(null=True, blank=True)
    label_c = models.FloatField(null=True, blank=True)
    label_burst_c = models.FloatField(null=True, blank=True)
    charge_c = models.FloatField(null=True, blank=True)
    cell_mohm = models.FloatField(null=True, blank=True)
    plug = models.CharField(max_length=20)
    lead_awg = models.FloatField()
    lead_length_mm = models.FloatField(default=100)
    price = models.FloatField(null=True, blank=True)
    plug_half = models.CharField(max_length=8, default="pack")
    balance_plug = models.CharField(max_length=12, blank=True, default="")
    hard_case = models.BooleanField(default=False)
    assumed = models.JSONField(default=list, blank=True)

    class Meta:
        abstract = True


class CataloguePack(PackFigures):
    """A pack that can be bought. An offer was pasted from a shop, and is thrown out when it is decided on."""

    offer = models.BooleanField(default=False)
    shop = models.CharField(max_length=60, blank=True, default="")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class OwnedPack(PackFigures):
    """A pack in the box, with its tag ("07"). Retired or unfit ones are kept, and not offered."""

    tag = models.CharField(max_length=12)
    fit = models.BooleanField(default=True)
    unknown_past = models.BooleanField(default=False)
    note = models.CharField(max_length=200, blank=True)
    learnt = models.JSONField(null=True, blank=True)
    """What a log taught of it, in the shape of `core.packs.pack.LogFindings`."""

    class Meta:
        ordering = ("tag",)
        constraints = (
            models.UniqueConstraint(fields=("tag",), condition=Q(removed=None), name="one_pack_a_tag"),
        )

    def __str__(self) -> str:
        return f"{self.tag} {self.name}"


class CellType(Gear):
    """A cylindrical cell by its data sheet."""

    name = models.CharField(max_length=80)
    chemistry = models.CharField(max_length=12)
    capacity_ah = models.FloatField()
    mass_g = models.FloatField()
    diameter_mm = models.FloatField()
    length_mm = models.FloatField()
    continuous_a = models.FloatField()
    burst_a = models.FloatField(null=True, blank=True)
    resistance_mohm = models.FloatField(null=True, blank=True)
    price = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class Charger(Gear):
    """A charger as `core.charging.Charger` knows it."""

    name = models.CharField(max_length=80)
    chemistries = models.JSONField()
    series_min = models.PositiveSmallIntegerField(default=1)
    series_max = models.PositiveSmallIntegerField()
    nimh_cells_max = models.PositiveSmallIntegerField(default=0)
    ports = models.PositiveSmallIntegerField(default=1)
    port_a = models.FloatField()
    port_w = models.FloatField()
    step_a = models.FloatField(default=0.1)
    mains_w = models.FloatField(null=True, blank=True)
    dc_w = models.FloatField(null=True, blank=True)
    dc_min_v = models.FloatField(null=True, blank=True)
    dc_max_v = models.FloatField(null=True, blank=True)
    balance_families = models.JSONField(default=list)
    balance_a = models.FloatField(default=0.3)
    output_plug = models.CharField(max_length=20, default="banana_4")
    by_balance = models.BooleanField(default=False)
    discharge_w = models.FloatField(null=True, blank=True)
    storage_cap_a = models.FloatField(null=True, blank=True)
    assumed = models.JSONField(default=list, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class Supply(Gear):
    """What stands behind a DC charger."""

    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=8, default="mains")
    voltage_v = models.FloatField()
    power_w = models.FloatField()
    energy_wh = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class Piece(Gear):
    """What goes between plugs: an adapter, a charge lead, a parallel board, a splitter, or a balance
    adapter."""

    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, default="adapter")
    pack_plug = models.CharField(max_length=20, blank=True, default="")
    pack_half = models.CharField(max_length=8, default="device")
    device_plug = models.CharField(max_length=20, blank=True, default="")
    device_half = models.CharField(max_length=8, default="pack")
    awg = models.FloatField(default=14)
    length_mm = models.FloatField(default=60)
    continuous_a = models.FloatField(null=True, blank=True)
    balance_from = models.JSONField(default=list)
    balance_out = models.CharField(max_length=12, blank=True, default="")
    balance_cells = models.PositiveSmallIntegerField(default=0)
    assumed = models.JSONField(default=list, blank=True)
    sockets = models.PositiveSmallIntegerField(default=1)
    count = models.PositiveSmallIntegerField(null=True, blank=True)

    class Meta:
        ordering = ("kind", "name")

    def __str__(self) -> str:
        return self.name


class OwnPlug(Gear):
    """A plug family of one's own. ``code`` is its id in packs, pieces and files: it stays when the name
    changes."""

    code = models.CharField(max_length=20)
    name = models.CharField(max_length=40)
    continuous_a = models.FloatField()
    burst_a = models.FloatField(null=True, blank=True)
    resistance_mohm = models.FloatField(null=True, blank=True)
    keyed = models.BooleanField(default=True)
    wired_either_way = models.BooleanField(default=False)
    alike = models.BooleanField(default=False)
    spark_guard = models.BooleanField(default=False)
    mates_with = models.JSONField(default=list)
    mistaken_for = models.JSONField(default=list)
    contact_shape = models.CharField(max_length=8, blank=True, default="")
    contact_mm = models.FloatField(null=True, blank=True)
    apart_mm = models.FloatField(null=True, blank=True)
    shell_width_mm = models.FloatField(null=True, blank=True)
    shell_height_mm = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("name",)
        constraints = (
            models.UniqueConstraint(fields=("code",), condition=Q(removed=None), name="one_plug_a_code"),
        )

    def __str__(self) -> str:
        return self.name


class Change(models.Model):
    """One change of gear, with what is needed to undo it.

    ``entries`` lists the rows it touched: ``{"kind", "id", "before"}``, where ``before`` holds the values
    of the fields that changed, or null for a row that did not exist. ``hands`` are whose it was. One that was
    undone keeps in ``after`` what stood there then, so that it can be done again. ``key`` is of an act that
    may be said twice, and is done once.
    """

    at = models.DateTimeField(auto_now_add=True)
    label = models.CharField(max_length=200)
    entries = models.JSONField()
    undone = models.BooleanField(default=False)
    after = models.JSONField(null=True, default=None)
    hands = models.CharField(max_length=40, blank=True, default="")
    key = models.CharField(max_length=60, null=True, blank=True, default=None, unique=True)

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return self.label
