"""The forms of what the API takes and gives of marks. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..core.scaling.marks import KINDS, MARKS
from ..planned.serializers import FormFieldSerializer, KeptPlanSerializer
from ..tanks.serializers import JudgementSerializer
from .models import MarkSet


class MarkSerializer(serializers.Serializer):
    """One mark, where it stands by the table."""

    key = serializers.ChoiceField(list(MARKS))
    label = serializers.CharField()
    kind = serializers.ChoiceField(list(KINDS))
    level_mm = serializers.FloatField()
    volume_l = serializers.FloatField()
    volume_pct = serializers.FloatField()
    signal = serializers.CharField()
    shown = serializers.CharField()


class MovedSerializer(serializers.Serializer):
    """One mark, as kept and as derived anew from a table that was revised."""

    key = serializers.CharField()
    label = serializers.CharField()
    old = serializers.CharField()
    new = serializers.CharField()
    level_mm = serializers.FloatField(allow_null=True)
    volume_l = serializers.FloatField(allow_null=True)
    problem = serializers.CharField()


class MarksSerializer(serializers.Serializer):
    """Marks as far as they have been typed."""

    fields_read = FormFieldSerializer(many=True)
    names = serializers.DictField(child=serializers.CharField())
    pumps = serializers.DictField(child=serializers.CharField())
    marks = MarkSerializer(many=True)
    to_brim_min = serializers.FloatField(allow_null=True)
    table_number = serializers.IntegerField(help_text="0 before a table is issued")
    moved = MovedSerializer(many=True)
    judgements = JudgementSerializer(many=True)


class KeptMarksSerializer(KeptPlanSerializer):
    """What is kept of a tank's marks, and where they stand."""

    table_number = serializers.IntegerField()
    marks = MarkSerializer(many=True)


class MarkSetSerializer(serializers.ModelSerializer):
    """A saved set of marks."""

    made_by = serializers.SerializerMethodField()
    entries = serializers.DictField(child=serializers.CharField())

    class Meta:
        model = MarkSet
        fields = ["id", "name", "entries", "made_at", "made_by", "revision"]
        read_only_fields = ["revision"]

    def get_made_by(self, saved) -> str:
        """Name who saved it."""
        return name_of(saved.made_by)


class SaveSetSerializer(serializers.Serializer):
    """Marks to be saved under a name."""

    name = serializers.CharField(max_length=80, allow_blank=True)
    entries = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=200))
    revision = serializers.IntegerField(default=0, help_text="The revision of the set that is saved over, if one is")


class UndoSetSerializer(serializers.Serializer):
    """A set that goes back to what was saved over."""

    revision = serializers.IntegerField()
