"""The forms of what the history's API takes and gives."""

from __future__ import annotations

from rest_framework import serializers

from .services import KINDS


class RestoreSerializer(serializers.Serializer):
    """What to go back to, and the revision that stands now."""

    kind = serializers.ChoiceField(list(KINDS))
    id = serializers.IntegerField()
    revision = serializers.IntegerField()
