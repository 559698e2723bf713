"""The forms of what the API takes and gives of pours. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers


class IssueRunSerializer(serializers.Serializer):
    """A table to be issued of the run that is kept."""

    take = serializers.ChoiceField(["pours", "shape"])
    why = serializers.CharField(allow_blank=True, max_length=300)
    system = serializers.ChoiceField(["metric", "us"])
    revision = serializers.IntegerField()
    tank_revision = serializers.IntegerField()


class PourFileSerializer(serializers.Serializer):
    """Other people's pours."""

    text = serializers.CharField(max_length=200_000, trim_whitespace=False)
    columns = serializers.DictField(child=serializers.IntegerField(min_value=0, max_value=60), required=False)
