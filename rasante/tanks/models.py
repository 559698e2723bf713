"""Sites and tanks. A tank's shape is its tank file's document and nothing beside it."""

from __future__ import annotations

from functools import cached_property

import orjson
from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..core.quantities.once import once
from ..core.tanks.check import FORMAT
from ..core.tanks.ports import read_ports
from ..core.tanks.tank_file import TankFile, check_document
from ..seals.frozen import WrittenOnce


@once(1024)
def _checked(document: bytes) -> TankFile:
    return check_document(orjson.loads(document))


def checked(document: dict) -> TankFile:
    """Check a document and build its tank, or hand out the one that was built for the same document before."""
    return _checked(orjson.dumps(document))


class Site(models.Model):
    """A place with tanks."""

    name = models.CharField(max_length=120, unique=True)
    notes = models.TextField(blank=True, max_length=4000)
    revision = models.PositiveIntegerField(default=1)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class Profile(models.Model):
    """A tank's dimensions, kept to be applied to other tanks of the kind."""

    name = models.CharField(max_length=120, unique=True)
    #: Nominal, as on the data plate; two tanks of one capacity are told apart by the overall diameter.
    capacity_l = models.FloatField()
    overall_diameter_mm = models.FloatField()
    #: What a survey starts from: the fields as typed, and the part of the document they were understood as.
    entries = models.JSONField()
    document = models.JSONField()
    notes = models.TextField(blank=True, max_length=2000)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["capacity_l", "overall_diameter_mm", "name"]

    def __str__(self) -> str:
        return self.name

    @cached_property
    def file(self) -> TankFile:
        """The dimensions as a tank, for drawing and comparing."""
        return check_document({"format": FORMAT, "name": self.name, **self.document})

    def save(self, *args, **kwargs) -> None:
        """Keep the profile, if the core accepts it."""
        self.__dict__.pop("file", None)
        check_document({"format": FORMAT, "name": self.name, **self.document})
        super().save(*args, **kwargs)


class Tank(models.Model):
    """A tank: its document, what was typed for it, and the facts that are no part of its shape."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="tanks")
    document = models.JSONField()
    #: The survey's fields as they were typed, by path; the document is what they were understood as.
    entries = models.JSONField(default=dict)
    ports = models.JSONField(default=list, blank=True)
    #: The profile it was made from, and the revision that it had then; a later one changes nothing here.
    profile = models.ForeignKey(Profile, null=True, blank=True, on_delete=models.SET_NULL, related_name="tanks")
    profile_revision = models.PositiveIntegerField(null=True, blank=True)
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
        return checked(self.document)

    def clean(self) -> None:
        """Check the document and the openings with the core."""
        check_document(self.document)
        read_ports(self.ports)

    def save(self, *args, **kwargs) -> None:
        """Keep the tank, if the core accepts it."""
        self.clean()
        self.__dict__.pop("file", None)
        super().save(*args, **kwargs)


class IssuedTable(WrittenOnce):
    """A table as it was handed out: numbered, with the tank's document frozen in. It never changes."""

    NEVER = "an issued table never changes: issue a new revision"

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="issued_tables")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    step = models.CharField(max_length=40)
    #: The rows, as they were computed then: lists of ``innage_mm``, ``volume_l`` and ``u95_l`` (or null).
    rows = models.JSONField()
    capacity_l = models.FloatField()
    reference_height_mm = models.FloatField()
    why = models.CharField(max_length=400)
    issued_at = models.DateTimeField(auto_now_add=True)
    issued_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_table_a_number")]

    def __str__(self) -> str:
        return f"table {self.number} of {self.tank}"


class Chart(models.Model):
    """A maker's chart or another table of a tank, taken in from a file to be compared with."""

    tank = models.ForeignKey(Tank, on_delete=models.CASCADE, related_name="charts")
    name = models.CharField(max_length=120)
    #: Pairs of level [mm] and volume [L].
    points = models.JSONField()
    mapping = models.JSONField()
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"{self.name} of {self.tank}"
