"""The load that is planned for a vessel, and the records of loads that are closed."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..planned.models import Planned
from ..seals.frozen import WrittenOnce
from ..tanks.models import Tank


class LoadPlan(Planned):
    """The load of a vessel that is under way: limits, density as confirmed, and how it is measured."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"load of {self.tank}"


class LoadRecord(WrittenOnce):
    """A load as it was closed. It never changes."""

    NEVER = "a closed load never changes: begin a new one"

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="loads")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    closed_at = models.DateTimeField(auto_now_add=True)
    closed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_load_a_number")]

    def __str__(self) -> str:
        return f"load {self.number} of {self.tank}"
