"""The forms of what the board's API gives."""

from __future__ import annotations

from rest_framework import serializers

from ..tanks.serializers import FactsSerializer


class StationSerializer(serializers.Serializer):
    """A station of the work on a tank, and how far it has come."""

    key = serializers.ChoiceField(["survey", "table", "gauge", "wiring", "scale", "prove", "watch"])
    label = serializers.CharField()
    state = serializers.ChoiceField(["not started", "in hand", "done", "needs you"])
    words = serializers.CharField()


class DippedLevelSerializer(serializers.Serializer):
    """The level last read or dipped, with its age."""

    read = serializers.BooleanField(help_text="Whether it was read by a gauge that sends; else it was dipped")
    live = serializers.BooleanField(help_text="Whether it is no older than its source sends")

    innage_mm = serializers.FloatField()
    volume_l = serializers.FloatField()
    volume_pct = serializers.FloatField()
    at = serializers.DateTimeField()
    age_days = serializers.FloatField()


class CardSerializer(serializers.Serializer):
    """A tank on the board."""

    id = serializers.IntegerField()
    site_name = serializers.CharField()
    facts = FactsSerializer()
    stations = StationSerializer(many=True)
    level = DippedLevelSerializer(allow_null=True)


class AttentionSerializer(serializers.Serializer):
    """Something that needs a person."""

    tank = serializers.IntegerField()
    name = serializers.CharField()
    site_name = serializers.CharField()
    station = serializers.CharField()
    words = serializers.CharField()
    state = serializers.CharField()


class BackupSerializer(serializers.Serializer):
    """The last backup."""

    at = serializers.DateTimeField(allow_null=True)
    age_days = serializers.FloatField(allow_null=True)
    pressing = serializers.BooleanField()


class BoardSerializer(serializers.Serializer):
    """The board."""

    attention = AttentionSerializer(many=True)
    attention_count = serializers.IntegerField()
    calls_a_page = serializers.IntegerField()
    tanks_a_page = serializers.IntegerField()
    tanks = CardSerializer(many=True)
    tank_count = serializers.IntegerField()
    backup = BackupSerializer(allow_null=True, help_text="For leads alone")
