"""What is kept of logs: not the logs, but what their columns are, for files that look alike."""

from __future__ import annotations

from django.db import models


class LogShape(models.Model):
    """A kind of log by its shape, and what a person chose for its columns (in the shape of `ChosenIn`)."""

    shape = models.CharField(max_length=500, unique=True)
    chosen = models.JSONField()
    updated = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return self.shape
