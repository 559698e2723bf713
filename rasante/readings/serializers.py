"""The forms of what the API takes and gives of sources, readings and events. Units stand in the names."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_serializer
from rest_framework import serializers

from ..answer import described
from ..core.quantities.errors import Problem
from ..planned.serializers import KeepPlannedSerializer
from . import answers


@extend_schema_serializer(many=False)
class SourceListSerializer(serializers.Serializer):
    """All sources, and the ways in which one may be reached."""

    sources = described(answers.Source, many=True)
    kinds = serializers.DictField(child=serializers.CharField())
    channel_kinds = serializers.DictField(child=serializers.CharField())
    functions = serializers.DictField(child=serializers.CharField())
    types = serializers.DictField(child=serializers.CharField())
    orders = serializers.DictField(child=serializers.CharField())
    units = serializers.DictField(child=serializers.CharField())


class KeepSourceSerializer(KeepPlannedSerializer):
    """A source that is to be kept."""


class SwitchSerializer(serializers.Serializer):
    """A source switched on or off."""

    on = serializers.BooleanField()
    revision = serializers.IntegerField()


class LogMappingSerializer(serializers.Serializer):
    """How a logger's file is read."""

    header = serializers.BooleanField()
    time_column = serializers.IntegerField(min_value=0, max_value=99)
    columns = serializers.DictField(child=serializers.IntegerField(min_value=0, max_value=99))
    order = serializers.ChoiceField(["dmy", "mdy", "ymd", ""], allow_blank=True)
    decimal = serializers.ChoiceField([".", ",", ""], allow_blank=True)
    offset_min = serializers.IntegerField(min_value=-900, max_value=900, default=0)


class LogFileSerializer(serializers.Serializer):
    """A logger's file, and how it is to be read."""

    text = serializers.CharField(allow_blank=True, trim_whitespace=False, default="")
    workbook = serializers.CharField(allow_blank=True, default="")
    mapping = LogMappingSerializer(allow_null=True, default=None)


class LogPreviewSerializer(serializers.Serializer):
    """A logger's file, looked at."""

    head = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
    row_count = serializers.IntegerField()
    mapping = LogMappingSerializer()
    channels = serializers.ListField(child=serializers.CharField())
    count = serializers.IntegerField()
    first_at = serializers.IntegerField(allow_null=True, help_text="Milliseconds since 1970-01-01 UTC")
    last_at = serializers.IntegerField(allow_null=True)
    problems = described(Problem, many=True)


class PushedSerializer(serializers.Serializer):
    """One reading as a unit sends it."""

    channel = serializers.CharField()
    at = serializers.CharField(required=False, help_text="ISO 8601 with a zone, or seconds since 1970-01-01 UTC")
    value = serializers.FloatField(allow_null=True)
    fault = serializers.BooleanField(required=False)


class PushSerializer(serializers.Serializer):
    """Readings as a unit sends them."""

    readings = PushedSerializer(many=True)


class TypedReadingSerializer(serializers.Serializer):
    """A dip, or what a display shows."""

    what = serializers.ChoiceField(["level", "shown"])
    text = serializers.CharField(max_length=60, allow_blank=True)
    at = serializers.CharField(max_length=40, allow_blank=True, default="")
    system = serializers.ChoiceField(["metric", "us"], default="metric")


class AcknowledgeSerializer(serializers.Serializer):
    """An event acknowledged with a word."""

    word = serializers.CharField(max_length=300, allow_blank=True)
