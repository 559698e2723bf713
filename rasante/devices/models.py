"""Rescalings, device sheets, and what was found in the devices."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from ..core.quantities.errors import InputError
from ..tanks.models import Tank


class Rescaling(models.Model):
    """A change of one link, with everything that must follow it: a check list while it is open, then a record."""

    tank = models.ForeignKey(Tank, on_delete=models.CASCADE, related_name="rescalings")
    #: What was changed, in words; the chain's entries before and after; and the list, with what is ticked.
    why = models.CharField(max_length=300)
    before = models.JSONField()
    after = models.JSONField()
    document = models.JSONField()
    kept = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    closed_at = models.DateTimeField(null=True, blank=True)
    closed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.SET_NULL, related_name="+"
    )

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"rescaling of {self.tank}"

    def _refuse_if_closed(self) -> None:
        if self.pk and Rescaling.objects.filter(pk=self.pk, closed_at__isnull=False).exists():
            raise InputError.at("", "a closed rescaling never changes: begin a new one")

    def save(self, *args, **kwargs) -> None:
        """Keep it, unless it is closed already."""
        self._refuse_if_closed()
        super().save(*args, **kwargs)


class NeverChanges(models.Model):
    """What is written once."""

    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        abstract = True

    def save(self, *args, **kwargs) -> None:
        """Keep a new one; refuse to change one."""
        if self.pk:
            raise InputError.at("", "this was written down once and never changes: make a new one")
        super().save(*args, **kwargs)


class DeviceSheet(NeverChanges):
    """A device sheet as it was written: numbered, with every value that was to be typed in."""

    tank = models.ForeignKey(Tank, on_delete=models.CASCADE, related_name="device_sheets")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_sheet_a_number")]

    def __str__(self) -> str:
        return f"device sheet {self.number} of {self.tank}"


class FoundSheet(NeverChanges):
    """What was found in the devices, read back against a sheet."""

    sheet = models.ForeignKey(DeviceSheet, on_delete=models.CASCADE, related_name="found")
    values = models.JSONField()
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"as found against {self.sheet}"
