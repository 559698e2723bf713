"""Customers, where sites are, whose each tank is, and devices: what, and on which tank since when."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..tanks.models import Site, Tank

PERSON = settings.AUTH_USER_MODEL


class Customer(models.Model):
    """Who owns tanks or buys what is in them; a branch is one of its own."""

    name = models.CharField(max_length=120)
    branch = models.CharField(max_length=120, blank=True)
    contact = models.CharField(max_length=120, blank=True)
    telephone = models.CharField(max_length=40, blank=True)
    email = models.EmailField(blank=True)
    notes = models.TextField(blank=True, max_length=4000)
    revision = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(PERSON, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["name", "branch", "id"]

    def __str__(self) -> str:
        return f"{self.name}, {self.branch}" if self.branch else self.name


class SiteFacts(models.Model):
    """Where a site is, whose, and whom to call there."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="facts")
    customer = models.ForeignKey(Customer, null=True, on_delete=models.PROTECT, related_name="sites")
    latitude = models.FloatField(null=True)
    longitude = models.FloatField(null=True)
    contact = models.CharField(max_length=120, blank=True)
    telephone = models.CharField(max_length=40, blank=True)
    revision = models.PositiveIntegerField(default=0)
    changed_by = models.ForeignKey(PERSON, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"facts of {self.site}"


class TankFacts(models.Model):
    """Whose a tank is, and what is painted on it."""

    OWNERS = (("own", "Own stock"), ("customer", "Customer's tank"))

    tank = models.OneToOneField(Tank, on_delete=models.CASCADE, related_name="facts")
    owner = models.CharField(max_length=10, choices=OWNERS, blank=True)
    customer = models.ForeignKey(Customer, null=True, on_delete=models.PROTECT, related_name="tanks")
    painted = models.CharField(max_length=60, blank=True)
    revision = models.PositiveIntegerField(default=0)
    changed_by = models.ForeignKey(PERSON, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"facts of {self.tank}"


class Device(models.Model):
    """A sensor, reader or radio unit, known by its part and serial."""

    SHELF, FITTED, OUT = "shelf", "fitted", "out"
    STATES = ((SHELF, "On the shelf"), (FITTED, "Fitted"), (OUT, "Out of use"))

    part = models.CharField(max_length=80)
    serial = models.CharField(max_length=60)
    address = models.CharField(max_length=60, blank=True)
    state = models.CharField(max_length=10, choices=STATES, default=SHELF)
    tank = models.ForeignKey(Tank, null=True, on_delete=models.PROTECT, related_name="devices")
    next_check = models.DateField(null=True)
    notes = models.TextField(blank=True, max_length=2000)
    revision = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(PERSON, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["part", "serial"]

    def __str__(self) -> str:
        return f"{self.part} {self.serial}"


class Fitting(models.Model):
    """A device on a tank: since when, and until when."""

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="fittings")
    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="fittings")
    since = models.DateTimeField()
    until = models.DateTimeField(null=True)
    why = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(PERSON, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ["-since", "-id"]

    def __str__(self) -> str:
        return f"{self.device} on {self.tank}"
