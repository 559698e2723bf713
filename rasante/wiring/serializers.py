"""The forms of what the wirings' API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..answer import described
from ..core.quantities.form import FormField
from ..core.wiring.meter import SETTINGS
from ..planned.serializers import PlannedSerializer
from ..tanks import answers as tanks_answers
from . import answers


class CircuitFileSerializer(serializers.Serializer):
    """The text of a circuit's file, as it was handed out."""

    text = serializers.CharField(trim_whitespace=False, max_length=1_000_000)


class WireSerializer(serializers.Serializer):
    """A wire of the terminal-by-terminal list."""

    number = serializers.CharField()
    id = serializers.CharField()
    a = serializers.CharField()
    b = serializers.CharField()
    mark = serializers.CharField()

    def get_fields(self):
        """Add what Python keeps for itself: from and to."""
        return {**super().get_fields(), "from": serializers.CharField(), "to": serializers.CharField()}


class WiringReadingSerializer(serializers.Serializer):
    """A wiring as it was understood."""

    fields_read = described(FormField, many=True)
    sends = serializers.BooleanField(help_text="Whether the tank's gauge sends anything; true before one is kept")
    kind = serializers.CharField()
    drawing = described(answers.WiringDrawing)
    wires = WireSerializer(many=True)
    planned = described(answers.PlannedWire, many=True)
    terminals = serializers.DictField(child=serializers.CharField())
    parts = described(answers.CircuitPart, many=True)
    signals = serializers.ListField(child=serializers.CharField())
    cores = serializers.IntegerField()
    rules = described(tanks_answers.Judgement, many=True)
    budget = described(answers.LoopBudget, allow_null=True)
    voltage = described(answers.VoltageLink, allow_null=True)
    hottest_c = serializers.FloatField()
    received = described(answers.Received, many=True)
    supply = described(tanks_answers.Judgement, allow_null=True)
    kit = serializers.ListField(child=serializers.CharField())


class MeterSerializer(PlannedSerializer):
    """The meter's dial and leads, and what the circuit is in."""

    setting = serializers.ChoiceField(list(SETTINGS))
    red = serializers.CharField(max_length=120)
    black = serializers.CharField(max_length=120)
    power = serializers.BooleanField(default=True)
    current_ma = serializers.FloatField(
        allow_null=True, default=None, min_value=0.1, max_value=30.0, help_text="Of its own; null as at the line"
    )
    sent = serializers.CharField(
        allow_blank=True, default="", max_length=40, help_text="What the chain sends at the line, as it reads there"
    )
    share_pct = serializers.FloatField(default=50.0, min_value=0.0, max_value=100.0)
    closed = serializers.BooleanField(default=True)
    lifted = serializers.ListField(child=serializers.CharField(max_length=120), default=list, max_length=40)


class RingOutSerializer(serializers.Serializer):
    """A cable's ohms, pin by conductor, as typed."""

    pins = serializers.ListField(child=serializers.CharField(max_length=40), max_length=24)
    conductors = serializers.ListField(child=serializers.CharField(max_length=40), max_length=24)
    ohms = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(allow_blank=True, max_length=40), max_length=24),
        max_length=24,
    )
    drawn = serializers.ListField(
        child=serializers.CharField(allow_blank=True, max_length=40), default=list, max_length=24
    )
