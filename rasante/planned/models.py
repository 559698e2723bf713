"""What is planned for one tank, of whatever kind: each room's own kind is made from it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from ..tanks.models import Tank


class Planned(models.Model):
    """What is planned for one tank: the fields as typed, and what they were understood as."""

    tank = models.OneToOneField(Tank, on_delete=models.CASCADE, related_name="%(class)s")
    entries = models.JSONField(default=dict)
    document = models.JSONField(default=dict)
    #: How it stood when it was kept, in a line; and whether that asks for a person.
    summary = models.CharField(max_length=300, blank=True)
    pressing = models.BooleanField(default=False)
    #: The tank's revision that it was planned for.
    tank_revision = models.PositiveIntegerField(default=1)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        abstract = True
