"""The forms of what the wirings' API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..core.wiring.meter import SETTINGS
from ..gauges.serializers import numbers
from ..planned.serializers import FormFieldSerializer, PlannedSerializer
from ..tanks.serializers import JudgementSerializer


class EntityFieldSerializer(serializers.Serializer):
    """A value of a certificate: its field, its symbol with the part, and what it is."""

    path = serializers.CharField()
    label = serializers.CharField()
    hint = serializers.CharField()


class WiringWordsSerializer(serializers.Serializer):
    """The words that the wiring's screens are built from."""

    links = serializers.DictField(child=serializers.CharField())
    input_modes = serializers.DictField(child=serializers.CharField())
    voltages = serializers.ListField(child=serializers.CharField())
    shields = serializers.DictField(child=serializers.CharField())
    settings = serializers.DictField(child=serializers.CharField())
    outputs = serializers.DictField(child=serializers.CharField(), help_text="What a sensor may send")
    entity = EntityFieldSerializer(many=True)
    pins = serializers.DictField(child=serializers.CharField())
    most_runs = serializers.IntegerField()


class CircuitFileSerializer(serializers.Serializer):
    """The text of a circuit's file, as it was handed out."""

    text = serializers.CharField(trim_whitespace=False, max_length=1_000_000)


class CircuitChoicesSerializer(serializers.Serializer):
    """The fields that a circuit is made from."""

    entries = serializers.DictField(child=serializers.CharField())


class BoxSerializer(serializers.Serializer):
    """A part as it is drawn."""

    id = serializers.CharField()
    kind = serializers.CharField()
    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()
    height = serializers.FloatField()
    name = serializers.CharField()
    detail = serializers.CharField()


class SpotSerializer(serializers.Serializer):
    """A terminal as it is drawn."""

    point = serializers.CharField()
    x = serializers.FloatField()
    y = serializers.FloatField()
    label = serializers.CharField()
    side = serializers.CharField()
    name = serializers.CharField()


class WireLineSerializer(serializers.Serializer):
    """A wire as it is drawn."""

    id = serializers.CharField()
    number = serializers.IntegerField()
    points = serializers.ListField(child=numbers())
    mark = serializers.CharField()
    planned = serializers.BooleanField()
    number_at = numbers(help_text="Where its number stands")


class WiringDrawingSerializer(serializers.Serializer):
    """A wiring drawing."""

    width = serializers.FloatField()
    height = serializers.FloatField()
    boxes = BoxSerializer(many=True)
    spots = SpotSerializer(many=True)
    lines = WireLineSerializer(many=True)


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


class PlannedWireSerializer(serializers.Serializer):
    """A wire with the ends that it should have."""

    id = serializers.CharField()
    a = serializers.CharField()
    b = serializers.CharField()


class CircuitPartSerializer(serializers.Serializer):
    """A part of the circuit."""

    id = serializers.CharField()
    kind = serializers.CharField()
    name = serializers.CharField()
    label = serializers.CharField()


class VoltsAtSerializer(serializers.Serializer):
    """What a two-wire transmitter has at one current."""

    current_ma = serializers.FloatField()
    flows_ma = serializers.FloatField()
    volts = serializers.FloatField()
    margin_v = serializers.FloatField()


class ShareOfVoltsSerializer(serializers.Serializer):
    """What one part takes."""

    name = serializers.CharField()
    volts = serializers.FloatField()


class CableForSerializer(serializers.Serializer):
    """How long the run may be in one wire size; null where it carries no loop at all."""

    name = serializers.CharField()
    longest_m = serializers.FloatField(allow_null=True)


class LoopBudgetSerializer(serializers.Serializer):
    """A loop's budget."""

    at = VoltsAtSerializer(many=True)
    lift_off_v = serializers.FloatField()
    shares = ShareOfVoltsSerializer(many=True)
    cables = CableForSerializer(many=True)
    smallest = serializers.CharField(allow_null=True)
    run_m = serializers.FloatField()
    burden_margin_v = serializers.FloatField()
    most_v = serializers.FloatField()
    judgements = JudgementSerializer(many=True)


class VoltageAtSerializer(serializers.Serializer):
    """A three-wire link at one output; millimetres and litres as for a scale over the whole tank."""

    share = serializers.FloatField()
    meant_v = serializers.FloatField()
    read_v = serializers.FloatField()
    lift_v = serializers.FloatField()
    loading_v = serializers.FloatField()
    error_share = serializers.FloatField()
    error_mm = serializers.FloatField()
    error_l = serializers.FloatField()


class VoltageLinkSerializer(serializers.Serializer):
    """A three-wire link."""

    at = VoltageAtSerializer(many=True)
    sensor_v = serializers.FloatField()
    lift_off_v = serializers.FloatField()
    judgements = JudgementSerializer(many=True)


class ReceivedSerializer(serializers.Serializer):
    """One line of the receiving check; ``agrees`` is null before it is typed."""

    key = serializers.CharField()
    label = serializers.CharField()
    ordered = serializers.CharField()
    arrived = serializers.CharField()
    agrees = serializers.BooleanField(allow_null=True)
    says = serializers.CharField()


class WiringReadingSerializer(serializers.Serializer):
    """A wiring as it was understood."""

    fields_read = FormFieldSerializer(many=True)
    sends = serializers.BooleanField(help_text="Whether the tank's gauge sends anything; true before one is kept")
    kind = serializers.CharField()
    drawing = WiringDrawingSerializer()
    wires = WireSerializer(many=True)
    planned = PlannedWireSerializer(many=True)
    terminals = serializers.DictField(child=serializers.CharField())
    parts = CircuitPartSerializer(many=True)
    signals = serializers.ListField(child=serializers.CharField())
    cores = serializers.IntegerField()
    rules = JudgementSerializer(many=True)
    budget = LoopBudgetSerializer(allow_null=True)
    voltage = VoltageLinkSerializer(allow_null=True)
    hottest_c = serializers.FloatField()
    received = ReceivedSerializer(many=True)
    supply = JudgementSerializer(allow_null=True)
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


class MeterReadingSerializer(serializers.Serializer):
    """What the meter shows, and what to mind."""

    shows = serializers.CharField()
    says = serializers.CharField()
    caution = serializers.BooleanField()
    current_ma = serializers.FloatField(help_text="What the sensor meant to send")
    least_ma = serializers.FloatField()
    most_ma = serializers.FloatField()


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


class FindingSerializer(serializers.Serializer):
    """What one pin is."""

    pin = serializers.CharField()
    state = serializers.ChoiceField(["joined", "open", "short", "doubtful", "unread"])
    conductors = serializers.ListField(child=serializers.CharField())
    says = serializers.CharField()


class RungOutSerializer(serializers.Serializer):
    """A cable rung out."""

    findings = FindingSerializer(many=True)
    swapped = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
    unused = serializers.ListField(child=serializers.CharField())
