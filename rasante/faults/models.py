"""The case of trouble that is open at a tank, and the cases that are closed."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..planned.models import Planned
from ..seals.frozen import WrittenOnce
from ..tanks.models import Tank


class FaultPlan(Planned):
    """A case that is open: what was found so far."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"trouble at {self.tank}"


class FaultCase(WrittenOnce):
    """A case that was closed, with all its findings and what was wrong. It never changes."""

    NEVER = "a closed case never changes: open a new one"

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="fault_cases")
    number = models.PositiveIntegerField()
    #: Which kind of fault it was, by its key in the core; empty where it was none that is known.
    fault = models.CharField(max_length=40, blank=True)
    document = models.JSONField()
    closed_at = models.DateTimeField(auto_now_add=True)
    closed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_fault_case_a_number")]

    def __str__(self) -> str:
        return f"fault case {self.number} of {self.tank}"
