"""Transmitters, scaling chains with their marks and sheets, and proofs.

A signed proof never changes: the model refuses, and so does the database itself.
"""

from __future__ import annotations

from functools import cached_property

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..core.errors import InputError
from ..core.scaling.proof_entries import check_entries
from ..core.scaling.transmitter import Transmitter as CoreTransmitter
from ..core.scaling.transmitter import check_transmitter
from ..gauges.models import Planned
from ..tanks.models import Tank

NEVER = "a signed proof never changes: make a new one"


class Transmitter(models.Model):
    """A tank's transmitter as it is scaled."""

    tank = models.OneToOneField(Tank, on_delete=models.CASCADE, related_name="transmitter")
    document = models.JSONField()
    #: The fields as they were typed; the document is what they were understood as.
    entries = models.JSONField(default=dict)
    serial = models.CharField(max_length=80, blank=True)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"transmitter of {self.tank}"

    @cached_property
    def scaled(self) -> CoreTransmitter:
        """The transmitter, for computing with."""
        return check_transmitter(self.document)

    def save(self, *args, **kwargs) -> None:
        """Keep the transmitter, if the core accepts it."""
        check_transmitter(self.document)
        self.__dict__.pop("scaled", None)
        super().save(*args, **kwargs)


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


class WetEnds(Planned):
    """The wet ends of a tank's capacitance probe, with fuel and temperature."""

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"wet ends of {self.tank}"


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

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


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


class ProofQuerySet(models.QuerySet):
    """Proofs; whole sets are changed only where none is signed."""

    def _refuse_signed(self) -> None:
        if self.filter(state=Proof.SIGNED).exists():
            raise InputError.at("", NEVER)

    def update(self, **kwargs) -> int:
        """Change drafts."""
        self._refuse_signed()
        return super().update(**kwargs)

    def delete(self):
        """Delete drafts."""
        self._refuse_signed()
        return super().delete()


class Proof(models.Model):
    """A five-point check of a tank's transmitter and receiver: a draft until it is signed."""

    DRAFT, SIGNED = "draft", "signed"

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="proofs")
    state = models.CharField(max_length=10, choices=[(DRAFT, "Draft"), (SIGNED, "Signed")], default=DRAFT)
    entries = models.JSONField()
    system = models.CharField(max_length=10, default="metric")
    #: Counts the times the draft was kept, so that two devices do not overwrite one another unseen.
    kept = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)
    signed_at = models.DateTimeField(null=True, blank=True)
    signed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )
    #: All that the signature covers, as it stood then: tank, transmitter, entries, results.
    record = models.JSONField(null=True, blank=True)

    objects = ProofQuerySet.as_manager()

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"{self.state} proof of {self.tank}"

    def _refuse_if_signed(self) -> None:
        if self.pk and Proof.objects.filter(pk=self.pk, state=self.SIGNED).exists():
            raise InputError.at("", NEVER)

    def save(self, *args, **kwargs) -> None:
        """Keep the proof, unless it is signed already."""
        self._refuse_if_signed()
        check_entries(self.entries)
        super().save(*args, **kwargs)

    def delete(self, *args, **kwargs):
        """Delete the proof, unless it is signed."""
        self._refuse_if_signed()
        return super().delete(*args, **kwargs)
