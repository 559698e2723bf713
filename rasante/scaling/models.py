"""Transmitters and proofs. A signed proof never changes: the model refuses, and so does the database itself."""

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
