"""Visits. What was done is only ever added to; a signed visit is a record that never changes."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..core.procedures.step import with_own
from ..seals.frozen import WrittenOnce
from ..tanks.models import Tank

PERSON = settings.AUTH_USER_MODEL


class OwnSteps(models.Model):
    """The steps that this shop adds to Rasante's own: one row, with its history."""

    steps = models.JSONField(default=list)
    revision = models.PositiveIntegerField(default=0)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(PERSON, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"{len(self.steps)} steps of our own"

    def save(self, *args, **kwargs) -> None:
        """Keep them, if the core accepts them."""
        with_own(self.steps)
        super().save(*args, **kwargs)


class Visit(models.Model):
    """One visit to one tank: its facts, from which its steps are composed."""

    OPEN, SIGNED, DROPPED = "open", "signed", "dropped"
    STATES = ((OPEN, "Open"), (SIGNED, "Signed"), (DROPPED, "Dropped"))

    tank = models.ForeignKey(Tank, on_delete=models.PROTECT, related_name="visits")
    number = models.PositiveIntegerField()
    #: What was chosen, by fact.
    facts = models.JSONField()
    #: The shop's own steps as they were when it was opened.
    own = models.JSONField(default=list)
    system = models.CharField(max_length=10, default="metric")
    state = models.CharField(max_length=10, choices=STATES, default=OPEN)
    revision = models.PositiveIntegerField(default=1)
    #: The tank, its table and its plans as they were found: what the record tells the work from.
    found = models.JSONField(default=dict)
    planned_at = models.DateTimeField(null=True, blank=True)
    opened_at = models.DateTimeField(auto_now_add=True)
    opened_by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-opened_at", "-id"]
        constraints = [models.UniqueConstraint(fields=["tank", "number"], name="one_visit_a_number")]

    def __str__(self) -> str:
        return f"visit {self.number} to {self.tank}"


class Entry(WrittenOnce):
    """One thing that was done at a step. It is never changed: what was wrong is taken back by another."""

    NEVER = "what was done at a visit is only added to: take it back by another entry"
    #: Sealed with the visit's record, which holds them all.
    frozen_when = None

    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="entries")
    #: Made where it was typed, so that sending it twice changes nothing.
    uid = models.CharField(max_length=40)
    step = models.CharField(max_length=40)
    did = models.CharField(max_length=10)
    values = models.JSONField(default=dict)
    #: What the stations said of it then: the record prints this, not what they say later.
    shown = models.JSONField(default=dict)
    reason = models.CharField(max_length=400, blank=True)
    begun_at = models.DateTimeField(null=True)
    at = models.DateTimeField()
    arrived_at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["visit", "uid"], name="one_entry_a_uid")]

    def __str__(self) -> str:
        return f"{self.did} {self.step} of {self.visit}"


class Photo(WrittenOnce):
    """A photograph of a step: made small and upright; where it was taken is left out unless kept on purpose."""

    NEVER = "a photograph is only added: take another"
    frozen_when = None

    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="photos")
    uid = models.CharField(max_length=40)
    step = models.CharField(max_length=40)
    jpeg = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    note = models.CharField(max_length=200, blank=True)
    #: Latitude and longitude [°], if kept on purpose.
    place = models.JSONField(null=True)
    at = models.DateTimeField()
    by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["visit", "uid"], name="one_photo_a_uid")]

    def __str__(self) -> str:
        return f"photo of {self.step}, {self.visit}"


class VisitRecord(WrittenOnce):
    """A visit as it was signed: all that the signature covers. It never changes."""

    NEVER = "a signed visit never changes: a newer visit follows"

    visit = models.OneToOneField(Visit, on_delete=models.PROTECT, related_name="record")
    document = models.JSONField()
    signed_at = models.DateTimeField(auto_now_add=True)
    signed_by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-signed_at"]

    def __str__(self) -> str:
        return f"record of {self.visit}"


class CustomerLink(models.Model):
    """A link by which a customer reads one record, and nothing else."""

    record = models.ForeignKey(VisitRecord, on_delete=models.PROTECT, related_name="links")
    #: SHA-256 of what stands in the link, which is shown once.
    token = models.CharField(max_length=64, unique=True)
    note = models.CharField(max_length=120, blank=True)
    live = models.BooleanField(default=False)
    openings = models.PositiveIntegerField(default=0)
    opened_at = models.DateTimeField(null=True)
    expires_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(PERSON, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-made_at", "-id"]

    def __str__(self) -> str:
        return f"link to {self.record}"
