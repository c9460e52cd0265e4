"""What is stored of the day ahead."""

from __future__ import annotations

from django.db import models

from coldstack.server.api.stored import DocumentField, Stored
from coldstack.server.tomorrow.replies import TomorrowIn


class DayAhead(models.Model):
    """The one day that is planned: what was asked, from when to when it is, and the packs that it counts
    on."""

    document = DocumentField(stored=Stored(TomorrowIn, dict))
    start = models.DateTimeField()
    end = models.DateTimeField()
    packs = models.ManyToManyField("gear.OwnedPack", related_name="days_ahead")

    def __str__(self) -> str:
        return "the day ahead"
