"""What is stored of gear: models with their job, owned packs, the catalogue, cell types."""

from __future__ import annotations

from django.db import models


class RcModel(models.Model):
    """A radio-controlled model and its job. The job is a document in the shape of the API's `JobIn`."""

    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=80)
    description = models.CharField(max_length=200, blank=True)
    position = models.PositiveIntegerField(default=0)
    job = models.JSONField()
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("position", "name")

    def __str__(self) -> str:
        return self.name


class PackFigures(models.Model):
    """The figures of a pack as `core.packs.Pack` knows them; null where not known."""

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
    cell_resistance_mohm = models.FloatField(null=True, blank=True)
    plug = models.CharField(max_length=20)
    lead_awg = models.FloatField()
    lead_length_mm = models.FloatField(default=100)
    price = models.FloatField(null=True, blank=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        abstract = True


class CataloguePack(PackFigures):
    """A pack that can be bought."""

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class OwnedPack(PackFigures):
    """A pack in the box, with its tag ("07"). Retired or unfit ones are kept, and not offered."""

    tag = models.CharField(max_length=12, unique=True)
    fit = models.BooleanField(default=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("tag",)

    def __str__(self) -> str:
        return f"{self.tag} {self.name}"


class CellType(models.Model):
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
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name
