"""The forms of what the API takes and gives of loads. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..planned.serializers import FormFieldSerializer
from ..readings.serializers import NowSerializer
from ..tanks.serializers import JudgementSerializer


class LoadTargetsSerializer(serializers.Serializer):
    """How much may be in the vessel."""

    by_weight_l = serializers.FloatField(allow_null=True)
    with_vapour_l = serializers.FloatField(allow_null=True)
    by_filling_l = serializers.FloatField()
    rule = serializers.ChoiceField(["weight", "filling"])
    target_l = serializers.FloatField()
    target_pct = serializers.FloatField()
    mass_kg = serializers.FloatField()
    vapour_kg = serializers.FloatField()
    full_at = serializers.CharField(help_text="Temperature at which it would be all liquid; empty beyond what is met")


class LoadProgressSerializer(serializers.Serializer):
    """How far the load has come."""

    volume_l = serializers.FloatField()
    volume_pct = serializers.FloatField()
    mass_kg = serializers.FloatField()
    left_l = serializers.FloatField()
    stop_l = serializers.FloatField()
    stop_pct = serializers.FloatField()
    to_stop_s = serializers.FloatField(allow_null=True)
    overshoot_l = serializers.FloatField()
    state = serializers.ChoiceField(["load", "stop", "over"])


class LoadReadingSerializer(serializers.Serializer):
    """A load as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    places = serializers.DictField(child=serializers.CharField())
    listed = serializers.CharField(help_text="What is listed for this mixture, in words")
    source = serializers.CharField(help_text="Where the filling limit comes from")
    filling_pct = serializers.FloatField()
    table_pct = serializers.FloatField(allow_null=True)
    capacity_l = serializers.FloatField()
    targets = LoadTargetsSerializer(allow_null=True)
    progress = LoadProgressSerializer(allow_null=True)
    loaded_l = serializers.FloatField(allow_null=True)
    float_short_l = serializers.ListField(child=serializers.FloatField())
    judgements = JudgementSerializer(many=True)
    live = NowSerializer(allow_null=True)


class CloseLoadSerializer(serializers.Serializer):
    """A load that is closed."""

    revision = serializers.IntegerField()
    system = serializers.ChoiceField(["metric", "us"], default="metric")


class LoadRecordSerializer(serializers.Serializer):
    """A load as it was closed."""

    id = serializers.IntegerField()
    number = serializers.IntegerField()
    closed_at = serializers.DateTimeField()
    closed_by = serializers.CharField()
    contents_l = serializers.FloatField()
    loaded_l = serializers.FloatField(allow_null=True)
    target_l = serializers.FloatField()
    rule = serializers.ChoiceField(["weight", "filling"])
