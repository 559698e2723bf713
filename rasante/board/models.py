"""Where each tank's work stands, kept until something it rests on changes: a thousand tanks show at once."""

from __future__ import annotations

from django.db import models

from ..tanks.models import Tank


class Standing(models.Model):
    """How far the work on one tank has come, and the level last dipped in it."""

    tank = models.OneToOneField(Tank, on_delete=models.CASCADE, related_name="standing")
    #: The code that it was worked out by; another one works it out anew.
    stamp = models.CharField(max_length=16, db_index=True)
    stations = models.JSONField()
    level = models.JSONField(null=True)
    #: How pressing its most pressing station is; 0 needs a person.
    rank = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["rank", "tank_id"]
        indexes = [models.Index(fields=["rank", "tank"])]

    def __str__(self) -> str:
        return f"standing of {self.tank}"


class Call(models.Model):
    """A station of a tank that calls for a person."""

    standing = models.ForeignKey(Standing, on_delete=models.CASCADE, related_name="calls")
    rank = models.PositiveSmallIntegerField()
    station = models.CharField(max_length=20)
    words = models.CharField(max_length=400)
    state = models.CharField(max_length=20)

    class Meta:
        ordering = ["rank", "id"]
        indexes = [models.Index(fields=["rank", "id"])]

    def __str__(self) -> str:
        return f"{self.station}: {self.words}"
