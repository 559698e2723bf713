"""Seals. Each holds the hash of one frozen record and of the seal before it."""

from __future__ import annotations

from django.db import models

from ..core.quantities.errors import InputError

NEVER = "a seal never changes"


class SealQuerySet(models.QuerySet):
    """Seals; whole sets of them do not change either."""

    def update(self, **kwargs) -> int:
        """Refuse."""
        raise InputError.at("", NEVER)

    def delete(self):
        """Refuse."""
        raise InputError.at("", NEVER)


class Seal(models.Model):
    """The seal over one record, as it was when it was frozen."""

    #: The record's model and key, and the fields that the seal covers.
    model = models.CharField(max_length=80)
    record = models.BigIntegerField()
    fields = models.JSONField()
    #: SHA-256 of those fields; and of everything here with the seal before.
    digest = models.CharField(max_length=64)
    link = models.CharField(max_length=64)
    sealed_at = models.DateTimeField()

    objects = SealQuerySet.as_manager()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["model", "record"], name="one_seal_a_record")]

    def __str__(self) -> str:
        return f"seal {self.pk} of {self.model} {self.record}"

    def save(self, *args, **kwargs) -> None:
        """Keep a new one; refuse to change one."""
        if self.pk:
            raise InputError.at("", NEVER)
        super().save(*args, **kwargs)

    def delete(self, *args, **kwargs):
        """Refuse."""
        raise InputError.at("", NEVER)
