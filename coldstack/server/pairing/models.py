"""Who may use the program from another machine: invitations, and the phones that took them."""

from __future__ import annotations

from typing import Literal

from django.db import models

Scope = Literal["look", "everything"]


class Invitation(models.Model):
    """A code that pairs one phone, once, until it ends. Only its hash is kept."""

    secret = models.CharField(max_length=200)
    scope = models.CharField(max_length=10)
    ends = models.DateTimeField()
    used = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.scope} until {self.ends:%H:%M}"


class Phone(models.Model):
    """A paired machine. One that was removed stays, so that the list can say when; it gets nothing more."""

    name = models.CharField(max_length=40)
    scope = models.CharField(max_length=10)
    paired = models.DateTimeField()
    seen = models.DateTimeField()
    removed = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return self.name
