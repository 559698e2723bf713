"""The forms of what the API takes and gives of marks. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..answer import described
from ..planned.serializers import KeptPlanSerializer
from . import answers
from .models import MarkSet


class KeptMarksSerializer(KeptPlanSerializer):
    """What is kept of a tank's marks, and where they stand."""

    table_number = serializers.IntegerField()
    marks = described(answers.Mark, many=True)


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
