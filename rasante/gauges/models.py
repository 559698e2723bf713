"""Gauge models that people added, the gauge planned for a tank, and the wet ends of a probe."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..core.gauges.model import check_model
from ..planned.models import Planned


class GaugeModel(models.Model):
    """A gauge model that people added to the generic ones."""

    name = models.CharField(max_length=120, unique=True)
    document = models.JSONField()
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    def save(self, *args, **kwargs) -> None:
        """Keep the model, if the core accepts it; its name is its document's."""
        self.name = check_model(self.document).name
        super().save(*args, **kwargs)


class GaugePlan(Planned):
    """The gauge planned for a tank: the model as it was when it was chosen, the verdict, and what is to be cut."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"gauge of {self.tank}"

    def save(self, *args, **kwargs) -> None:
        """Keep the plan; a model in it is one that the core accepts."""
        if self.document.get("model"):
            check_model(self.document["model"])
        super().save(*args, **kwargs)


class WetEnds(Planned):
    """The wet ends of a tank's capacitance probe, with fuel and temperature."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"wet ends of {self.tank}"
