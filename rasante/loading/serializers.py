"""The forms of what the API takes and gives of loads. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers


class CloseLoadSerializer(serializers.Serializer):
    """A load that is closed."""

    revision = serializers.IntegerField()
    system = serializers.ChoiceField(["metric", "us"], default="metric")
