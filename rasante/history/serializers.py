"""The forms of what the history's API takes and gives."""

from __future__ import annotations

from rest_framework import serializers

from .services import KINDS


class FieldChangeSerializer(serializers.Serializer):
    """A field as it was and as it became."""

    path = serializers.CharField()
    old = serializers.JSONField(allow_null=True)
    new = serializers.JSONField(allow_null=True)


class KeepingSerializer(serializers.Serializer):
    """One keeping."""

    kind = serializers.ChoiceField(list(KINDS))
    label = serializers.CharField()
    id = serializers.IntegerField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    why = serializers.CharField()
    revision = serializers.IntegerField()
    current = serializers.BooleanField()
    changes = FieldChangeSerializer(many=True)


class HistorySerializer(serializers.Serializer):
    """A page of a tank's history, and the revisions that stand now."""

    count = serializers.IntegerField()
    results = KeepingSerializer(many=True)
    revisions = serializers.DictField(child=serializers.IntegerField())


class RestoreSerializer(serializers.Serializer):
    """What to go back to, and the revision that stands now."""

    kind = serializers.ChoiceField(list(KINDS))
    id = serializers.IntegerField()
    revision = serializers.IntegerField()
