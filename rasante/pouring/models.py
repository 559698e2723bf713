"""The run of pours that is under way for a tank, and the records of those of which a table was issued."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..planned.models import Planned
from ..seals.frozen import WrittenOnce
from ..tanks.models import IssuedTable, Tank


class PourPlan(Planned):
    """A run of pours under way: meter, start, and every amount with its reading."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"pours of {self.tank}"


class PourRecord(WrittenOnce):
    """A run as a table was issued of it, with all its pours. It never changes."""

    NEVER = "pours of which a table was issued never change: begin a new run"

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="pour_records")
    number = models.PositiveIntegerField()
    #: The tank's table that was issued of it; none where it was read by something else than level.
    table = models.ForeignKey(IssuedTable, null=True, on_delete=models.PROTECT, related_name="+")
    document = models.JSONField()
    issued_at = models.DateTimeField(auto_now_add=True)
    issued_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_pour_record_a_number")]

    def __str__(self) -> str:
        return f"pours {self.number} of {self.tank}"
