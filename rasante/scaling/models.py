"""Scaling chains, slopes, readings along a chain, and marks."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..planned.models import Planned


class SlopeStudy(Planned):
    """What was read and measured to find a sensor's slope, the school that was chosen, and all the others."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"slope of {self.tank}"


class ScalingChain(Planned):
    """The scaling chain of a tank, from the sensor to the screen."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"scaling chain of {self.tank}"


class ChainReadings(Planned):
    """What was read along a tank's chain, to find where truth and reading part."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"readings along the chain of {self.tank}"


class Marks(Planned):
    """The marks of a tank, as they were derived from one revision of its table."""

    #: Number of the issued table; 0 where none was issued yet.
    table_number = models.PositiveIntegerField(default=0)
    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"marks of {self.tank}"


class MarkSet(models.Model):
    """Marks kept under a name, to be applied to other tanks of the kind."""

    name = models.CharField(max_length=80, unique=True)
    entries = models.JSONField()
    made_at = models.DateTimeField(auto_now=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    revision = models.PositiveIntegerField(default=1)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name
