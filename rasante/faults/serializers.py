"""The forms of what the API takes and gives of trouble."""

from __future__ import annotations

from rest_framework import serializers


class CloseCaseSerializer(serializers.Serializer):
    """A case to be closed, with what was wrong."""

    fault = serializers.CharField(max_length=40)
    did = serializers.CharField(allow_blank=True, max_length=1000)
    restored = serializers.BooleanField()
    proven = serializers.BooleanField()
    system = serializers.ChoiceField(["metric", "us"])
    revision = serializers.IntegerField()
