"""Sources of readings, their channels, the readings with what was made of them, their roll-ups, and events."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from ..tanks.models import Tank


class Source(models.Model):
    """A source of readings: how it is reached, as typed and as understood."""

    name = models.CharField(max_length=80, unique=True)
    kind = models.CharField(max_length=10)
    entries = models.JSONField(default=dict)
    host = models.CharField(max_length=255, blank=True)
    port = models.PositiveIntegerField(default=0)
    unit = models.PositiveSmallIntegerField(default=0)
    period_s = models.FloatField(default=0)
    timeout_s = models.FloatField(default=0)
    #: Whether it is listened to.
    on = models.BooleanField(default=True)
    #: SHA-256 of the token by which a unit that sends by itself is known, and its last letters; empty: revoked.
    token_hash = models.CharField(max_length=64, blank=True, db_index=True)
    token_end = models.CharField(max_length=4, blank=True)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    history = HistoricalRecords(excluded_fields=["token_hash"])

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class SourceState(models.Model):
    """How a source does: what nobody types, and nobody needs the history of."""

    source = models.OneToOneField(Source, on_delete=models.CASCADE, related_name="state", primary_key=True)
    heard_at = models.DateTimeField(null=True)
    failed_at = models.DateTimeField(null=True)
    #: What went wrong when it was last asked, in words; empty once it answers again.
    problem = models.CharField(max_length=300, blank=True)
    failures = models.PositiveIntegerField(default=0)

    def __str__(self) -> str:
        return f"state of {self.source}"


class Channel(models.Model):
    """One value of a source: where it lies there, and what it is here."""

    source = models.ForeignKey(Source, on_delete=models.PROTECT, related_name="channels")
    name = models.CharField(max_length=60)
    tank = models.ForeignKey(Tank, null=True, on_delete=models.PROTECT, related_name="channels")
    kind = models.CharField(max_length=12)
    unit = models.CharField(max_length=10)
    #: A Modbus register or an MQTT topic, as `core.readings.source_form.Address`.
    address = models.JSONField(default=dict)
    #: Whether its source still has it; one that has readings is put away, not deleted.
    on = models.BooleanField(default=True)

    class Meta:
        ordering = ["source", "id"]
        constraints = [models.UniqueConstraint(fields=["source", "name"], name="one_channel_a_name")]

    def __str__(self) -> str:
        return f"{self.source}: {self.name}"


class Reading(models.Model):
    """One reading as it came, and the level and volume that it was taken for then. It is never read anew."""

    channel = models.ForeignKey(Channel, on_delete=models.PROTECT, related_name="readings", db_index=False)
    #: When it was read, by its source, and when it arrived [ms since 1970-01-01 UTC].
    at = models.BigIntegerField()
    arrived = models.BigIntegerField()
    #: As it came, in the channel's unit; null for a fault without a value.
    raw = models.FloatField(null=True)
    #: Innage [m] and volume [m³] by the chain and the table of then; of what is no level, its value in SI.
    value = models.FloatField(null=True)
    volume = models.FloatField(null=True)
    quality = models.PositiveSmallIntegerField(default=0)
    #: Revision of the chain, and number of the table, that it was read through.
    chain = models.PositiveIntegerField(default=0)
    table = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["channel", "at"], name="one_reading_a_moment")]

    def __str__(self) -> str:
        return f"{self.channel} at {self.at}"


class Rollup(models.Model):
    """What the readings of a minute, an hour or a day come to."""

    channel = models.ForeignKey(Channel, on_delete=models.PROTECT, related_name="+", db_index=False)
    #: 60, 3600 or 86400 seconds, and when it begins [s since 1970-01-01 UTC].
    size = models.PositiveIntegerField()
    start = models.BigIntegerField()
    count = models.PositiveIntegerField()
    worst = models.PositiveSmallIntegerField()
    first = models.FloatField(null=True)
    last = models.FloatField(null=True)
    least = models.FloatField(null=True)
    most = models.FloatField(null=True)
    mean = models.FloatField(null=True)
    volume_first = models.FloatField(null=True)
    volume_last = models.FloatField(null=True)
    volume_least = models.FloatField(null=True)
    volume_most = models.FloatField(null=True)
    volume_mean = models.FloatField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["channel", "size", "start"], name="one_rollup_a_span")]

    def __str__(self) -> str:
        return f"{self.channel} over {self.size} s from {self.start}"


class Newest(models.Model):
    """The newest reading of a channel, and how its marks stand."""

    channel = models.OneToOneField(Channel, on_delete=models.CASCADE, related_name="newest", primary_key=True)
    at = models.BigIntegerField()
    arrived = models.BigIntegerField()
    raw = models.FloatField(null=True)
    value = models.FloatField(null=True)
    volume = models.FloatField(null=True)
    quality = models.PositiveSmallIntegerField(default=0)
    chain = models.PositiveIntegerField(default=0)
    table = models.PositiveIntegerField(default=0)
    #: Of each watched mark: since when it is passed, and whether that was told.
    standings = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"newest of {self.channel}"


class Event(models.Model):
    """Something that readings tell of: it closes by itself when it is over, and is acknowledged by a person."""

    tank = models.ForeignKey(Tank, null=True, on_delete=models.CASCADE, related_name="events")
    channel = models.ForeignKey(Channel, null=True, on_delete=models.CASCADE, related_name="events")
    source = models.ForeignKey(Source, null=True, on_delete=models.CASCADE, related_name="events")
    #: Of `core.readings.alarms.EVENTS`; and which mark, or what else tells two of a kind apart.
    kind = models.CharField(max_length=10)
    key = models.CharField(max_length=40, blank=True)
    #: What was found and what it was held against, in SI.
    value = models.FloatField(null=True)
    limit = models.FloatField(null=True)
    #: Whether it asks for a person, or only says.
    pressing = models.BooleanField(default=True)
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True)
    acknowledged_at = models.DateTimeField(null=True)
    acknowledged_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    word = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-opened_at", "-id"]
        indexes = [models.Index(fields=["closed_at", "kind"]), models.Index(fields=["tank", "-opened_at"])]

    def __str__(self) -> str:
        return f"{self.kind} {self.key} of {self.tank or self.source}"
