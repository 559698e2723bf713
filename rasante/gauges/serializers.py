"""The forms of what the gauges' API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..answer import described
from ..core.gauges.model import check_model
from ..core.gauges.model_figures import with_figures
from ..planned.serializers import KeptPlanSerializer
from . import answers
from .models import GaugeModel


class KeptGaugeSerializer(KeptPlanSerializer):
    """What is kept of a gauge, with how it is drawn; null before one is chosen."""

    drawn = described(answers.DrawnGauge, allow_null=True)


class GaugeModelSerializer(serializers.ModelSerializer):
    """A gauge model that people added."""

    document = serializers.JSONField()
    name = serializers.CharField(read_only=True)
    revision = serializers.IntegerField(read_only=True)
    changed_by = serializers.SerializerMethodField()

    class Meta:
        model = GaugeModel
        fields = ["id", "name", "document", "revision", "changed_at", "changed_by"]

    def get_changed_by(self, model: GaugeModel) -> str:
        """Name whoever changed it last."""
        return name_of(model.changed_by)


class GaugeDocumentSerializer(serializers.Serializer):
    """A gauge model's document, as its schema has it."""

    document = serializers.DictField()
    figures = serializers.DictField(
        child=serializers.CharField(allow_blank=True, max_length=200), default=dict, help_text="As they are typed"
    )

    def validate(self, form):
        """Put the figures into the document; refuse what the core refuses, at its keys."""
        document = with_figures(form["document"], form["figures"])
        check_model(document)
        return {**form, "document": document}


class ChangeGaugeModelSerializer(GaugeDocumentSerializer):
    """A gauge model that is to be changed."""

    revision = serializers.IntegerField()


class ModelsFileSerializer(serializers.Serializer):
    """The text of a file of gauge models."""

    text = serializers.CharField(trim_whitespace=False)
