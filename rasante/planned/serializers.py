"""The forms of what is planned, as the API takes and gives it."""

from __future__ import annotations

from rest_framework import serializers

from ..core.quantities.units import SYSTEMS

_MOST_FIELDS = 400


class PlannedSerializer(serializers.Serializer):
    """Fields as far as they have been typed."""

    entries = serializers.DictField(
        child=serializers.CharField(allow_blank=True, trim_whitespace=False, max_length=1000)
    )
    system = serializers.ChoiceField(SYSTEMS, default="metric")

    def validate_entries(self, entries):
        """Refuse more fields than any plan has."""
        if len(entries) > _MOST_FIELDS or any(len(path) > 80 for path in entries):
            raise serializers.ValidationError("has more fields than any plan, or longer names")
        return entries


class KeepPlannedSerializer(PlannedSerializer):
    """Fields that are to be kept."""

    revision = serializers.IntegerField(help_text="The revision that the change began from; 0 for the first")


class KeptPlanSerializer(serializers.Serializer):
    """What is kept of a gauge or of a wiring."""

    entries = serializers.DictField(child=serializers.CharField())
    revision = serializers.IntegerField(help_text="0 before anything is kept")
    changed_at = serializers.DateTimeField(allow_null=True)
    changed_by = serializers.CharField()
    stale = serializers.BooleanField(help_text="Whether the tank was surveyed again since")
