"""Sites and tanks. A tank's shape is its tank file's document and nothing beside it."""

from __future__ import annotations

from functools import cached_property

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..core.tanks.ports import read_ports
from ..core.tanks.tank_file import TankFile, check_document


class Site(models.Model):
    """A place with tanks."""

    name = models.CharField(max_length=120, unique=True)
    notes = models.TextField(blank=True, max_length=4000)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class Tank(models.Model):
    """A tank: its document, what was typed for it, and the facts that are no part of its shape."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="tanks")
    document = models.JSONField()
    #: The survey's fields as they were typed, by path; the document is what they were understood as.
    entries = models.JSONField(default=dict)
    ports = models.JSONField(default=list, blank=True)
    notes = models.TextField(blank=True, max_length=8000)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["site__name", "document__name", "id"]

    def __str__(self) -> str:
        return f"{self.site}: {self.name}"

    @property
    def name(self) -> str:
        """The name in its document."""
        return str(self.document.get("name", ""))

    @property
    def product(self) -> str:
        """The product in its document."""
        return str(self.document.get("product", ""))

    @cached_property
    def file(self) -> TankFile:
        """The checked document, for computing with."""
        return check_document(self.document)

    def clean(self) -> None:
        """Check the document and the openings with the core."""
        check_document(self.document)
        read_ports(self.ports)

    def save(self, *args, **kwargs) -> None:
        """Keep the tank, if the core accepts it."""
        self.clean()
        self.__dict__.pop("file", None)
        super().save(*args, **kwargs)
