"""The forms of what the API takes and gives of pours. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..planned.serializers import FormFieldSerializer
from ..tanks.serializers import JudgementSerializer


class PointOfRunSerializer(serializers.Serializer):
    """A volume with its reading; row −1 is the start."""

    row = serializers.IntegerField()
    reading = serializers.FloatField()
    volume_l = serializers.FloatField()


class PourCurveSerializer(serializers.Serializer):
    """The curve through what was poured, with its ±."""

    reading = serializers.ListField(child=serializers.FloatField())
    volume_l = serializers.ListField(child=serializers.FloatField())
    half_l = serializers.ListField(child=serializers.FloatField())
    worst_l = serializers.FloatField()
    at = PointOfRunSerializer(many=True)


class PourAdviceSerializer(serializers.Serializer):
    """What to pour next; less than 0 to draw off."""

    amount_l = serializers.FloatField()
    to_volume_l = serializers.FloatField()
    to_reading = serializers.FloatField(allow_null=True)
    now_l = serializers.FloatField()
    then_l = serializers.FloatField()
    to_go = serializers.IntegerField()
    enough = serializers.BooleanField()
    minutes_to_go = serializers.FloatField(allow_null=True)
    cans = serializers.IntegerField(help_text="How many whole cans it is; 0 where it is none")
    can_l = serializers.FloatField()


class MisfitSerializer(serializers.Serializer):
    """The step that does not fit."""

    row = serializers.IntegerField()
    amount_l = serializers.FloatField()
    should_be_l = serializers.FloatField()
    half_l = serializers.FloatField()
    looks = serializers.ChoiceField(["left out", "twice", "other"])


class PourPatternSerializer(serializers.Serializer):
    """How far something is from what was surveyed."""

    label = serializers.CharField()
    value = serializers.FloatField()
    half = serializers.FloatField()
    unit = serializers.CharField()


class JoinedShapeSerializer(serializers.Serializer):
    """The shape that survey and pours tell together."""

    fits = serializers.BooleanField()
    worst_l = serializers.FloatField()
    moves = PourPatternSerializer(many=True)


class BesideShapeSerializer(serializers.Serializer):
    """Pours beside the survey."""

    agrees = serializers.BooleanField()
    worst_l = serializers.FloatField()
    patterns = PourPatternSerializer(many=True)
    joined = JoinedShapeSerializer(allow_null=True)


class RunReadingSerializer(serializers.Serializer):
    """A run of pours as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    ways = serializers.DictField(child=serializers.CharField())
    reads = serializers.DictField(child=serializers.CharField())
    does = serializers.DictField(child=serializers.CharField())
    meters = serializers.DictField(child=serializers.CharField())
    top_l = serializers.FloatField()
    target_l = serializers.FloatField()
    factor = serializers.FloatField(allow_null=True)
    pulses_per_l = serializers.FloatField(allow_null=True, help_text="To be set anew")
    pours = serializers.IntegerField()
    curve = PourCurveSerializer(allow_null=True)
    advice = PourAdviceSerializer(allow_null=True)
    misfit = MisfitSerializer(allow_null=True)
    shape = BesideShapeSerializer(allow_null=True)
    judgements = JudgementSerializer(many=True)


class SeenDeliverySerializer(serializers.Serializer):
    """A delivery as the tank's readings saw it; its amount by the table of now."""

    start = serializers.DateTimeField()
    volume_l = serializers.FloatField()
    before_mm = serializers.FloatField()
    after_mm = serializers.FloatField()


class IssueRunSerializer(serializers.Serializer):
    """A table to be issued of the run that is kept."""

    take = serializers.ChoiceField(["pours", "shape"])
    why = serializers.CharField(allow_blank=True, max_length=300)
    system = serializers.ChoiceField(["metric", "us"])
    revision = serializers.IntegerField()
    tank_revision = serializers.IntegerField()


class PourRecordSerializer(serializers.Serializer):
    """A run of which a table was issued."""

    id = serializers.IntegerField()
    number = serializers.IntegerField()
    table = serializers.IntegerField(allow_null=True)
    issued_at = serializers.DateTimeField()
    issued_by = serializers.CharField()
    why = serializers.CharField()
    take = serializers.ChoiceField(["pours", "shape"])
    reads = serializers.CharField()
    pours = serializers.IntegerField()
    worst_l = serializers.FloatField()


class PourFileSerializer(serializers.Serializer):
    """Other people's pours."""

    text = serializers.CharField(max_length=200_000, trim_whitespace=False)
    columns = serializers.DictField(child=serializers.IntegerField(min_value=0, max_value=60), required=False)


class PourFileReadSerializer(serializers.Serializer):
    """What was read of them: the columns as taken, and a run's entries to look at before they are kept."""

    columns = serializers.DictField(child=serializers.IntegerField())
    headings = serializers.ListField(child=serializers.CharField())
    entries = serializers.DictField(child=serializers.CharField())
