"""Proofs. A signed one never changes: the model refuses, and so does the database itself."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from ..core.proving.proof_entries import check_entries
from ..core.quantities.errors import InputError
from ..tanks.models import Tank

NEVER = "a signed proof never changes: make a new one"


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
    frozen_when = models.Q(state=SIGNED)

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
