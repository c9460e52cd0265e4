"""What is stored of house rules: sets made here, starting sets that were changed, and what the house goes
by."""

from __future__ import annotations

from django.db import models


class RuleSet(models.Model):
    """A set: a starting set (``slug`` is its id) or one's own, as what it has otherwise than its ``base``."""

    slug = models.CharField(max_length=60, unique=True)
    name = models.CharField(max_length=40)
    base = models.CharField(max_length=20)
    note = models.CharField(max_length=200, blank=True)
    values = models.JSONField(default=dict)
    removed = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class Household(models.Model):
    """One row: the rules by which the shelf is kept, where the packs lie, and whether typical packs
    stand in for a catalogue."""

    house_rules = models.CharField(max_length=60, default="steady")
    place = models.CharField(max_length=60, blank=True)
    place_c = models.FloatField(null=True)
    place_hottest_c = models.FloatField(null=True)
    container = models.CharField(max_length=10, blank=True)
    typical_packs = models.BooleanField(default=True)

    def __str__(self) -> str:
        return "the house"
