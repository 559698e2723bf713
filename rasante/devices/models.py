"""Rescalings, device sheets, and what was found in the devices."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from ..core.quantities.errors import InputError
from ..seals.frozen import WrittenOnce
from ..tanks.models import Tank

CLOSED = "a closed rescaling never changes: begin a new one"


class RescalingQuerySet(models.QuerySet):
    """Rescalings; whole sets are changed only where none is closed."""

    def _refuse_kept(self) -> None:
        if self.filter(closed_at__isnull=False).exists():
            raise InputError.at("", CLOSED)

    def update(self, **kwargs) -> int:
        """Change those that may be changed."""
        self._refuse_kept()
        return super().update(**kwargs)

    def bulk_update(self, objs, fields, batch_size=None) -> int:
        """Change those that may be changed."""
        self.filter(pk__in=[one.pk for one in objs])._refuse_kept()
        return super().bulk_update(objs, fields, batch_size)

    def delete(self):
        """Delete those that may be deleted."""
        self._refuse_kept()
        return super().delete()


class Rescaling(models.Model):
    """A change of one link, with everything that must follow it: a check list while it is open, then a record."""

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="rescalings")
    #: What was changed, in words; the chain's entries before and after; and the list, with what is ticked.
    why = models.CharField(max_length=300)
    before = models.JSONField()
    after = models.JSONField()
    document = models.JSONField()
    kept = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    closed_at = models.DateTimeField(null=True, blank=True)
    closed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )
    #: Dropped instead of closed: nothing was changed by it, and it can be taken up again.
    dropped_at = models.DateTimeField(null=True, blank=True)
    dropped_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )

    objects = RescalingQuerySet.as_manager()
    frozen_when = models.Q(closed_at__isnull=False)

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"rescaling of {self.tank}"

    @property
    def is_open(self) -> bool:
        """Whether it is under way."""
        return self.closed_at is None and self.dropped_at is None

    def _refuse_if_closed(self) -> None:
        if self.pk and Rescaling.objects.filter(pk=self.pk, closed_at__isnull=False).exists():
            raise InputError.at("", CLOSED)

    def save(self, *args, **kwargs) -> None:
        """Keep it, unless it is closed already."""
        self._refuse_if_closed()
        super().save(*args, **kwargs)

    def delete(self, *args, **kwargs):
        """Drop it, unless it is closed."""
        self._refuse_if_closed()
        return super().delete(*args, **kwargs)


class Written(WrittenOnce):
    """What somebody wrote once."""

    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True


class DeviceSheet(Written):
    """A device sheet as it was written: numbered, with every value that was to be typed in."""

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="device_sheets")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_sheet_a_number")]

    def __str__(self) -> str:
        return f"device sheet {self.number} of {self.tank}"


class FoundSheet(Written):
    """What was found in the devices, read back against a sheet."""

    sheet = models.ForeignKey(DeviceSheet, on_delete=models.PROTECT, related_name="found")
    values = models.JSONField()
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"as found against {self.sheet}"
