"""Seals. Each holds the hash of one frozen record and of the seal before it."""

from __future__ import annotations

from django.db import models

from .frozen import WrittenOnce


class Seal(WrittenOnce):
    """The seal over one record, as it was when it was frozen."""

    NEVER = "a seal never changes"
    #: It is what seals; nothing seals it but the next one.
    frozen_when = None

    #: The record's model and key, and the fields that the seal covers.
    model = models.CharField(max_length=80)
    record = models.BigIntegerField()
    fields = models.JSONField()
    #: SHA-256 of those fields; and of everything here with the seal before.
    digest = models.CharField(max_length=64)
    link = models.CharField(max_length=64)
    sealed_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["model", "record"], name="one_seal_a_record")]

    def __str__(self) -> str:
        return f"seal {self.pk} of {self.model} {self.record}"
