"""The forms of what the scaling API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..core.scaling.chain import STATIONS
from ..core.scaling.panel_meter import METER_UNITS
from ..planned.serializers import FormFieldSerializer, PlannedSerializer
from ..tanks.models import Site, Tank
from ..tanks.serializers import JudgementSerializer

Numbers = serializers.ListField
HOPS = [station for station in STATIONS if station != "level"]


class StationTextSerializer(serializers.Serializer):
    """A station of the chain, and what it reads."""

    key = serializers.ChoiceField(HOPS)
    label = serializers.CharField()
    text = serializers.CharField()


class LineSerializer(serializers.Serializer):
    """All that reads at one level."""

    innage_mm = serializers.FloatField()
    ullage_mm = serializers.FloatField()
    volume_l = serializers.FloatField()
    u95_l = serializers.FloatField(allow_null=True)
    volume_pct = serializers.FloatField()
    linear_pct = serializers.FloatField()
    surface_m2 = serializers.FloatField()
    stations = StationTextSerializer(many=True)


class StationCurveSerializer(serializers.Serializer):
    """A station's values at the nodes, in its own unit."""

    key = serializers.ChoiceField(HOPS)
    label = serializers.CharField()
    unit = serializers.CharField()
    decimals = serializers.IntegerField()
    values = Numbers(child=serializers.FloatField())


class SignalMarkSerializer(serializers.Serializer):
    """A value of the signal, and the level that it stands for, in the tank or outside it."""

    text = serializers.CharField()
    innage_mm = serializers.FloatField()


class CurveSerializer(serializers.Serializer):
    """Nodes for cubic Hermite interpolation of the volume; the rest is straight between them."""

    innage_mm = Numbers(child=serializers.FloatField())
    volume_l = Numbers(child=serializers.FloatField())
    slope_l_per_mm = Numbers(child=serializers.FloatField())
    u95_l = Numbers(child=serializers.FloatField(), allow_null=True)
    stations = StationCurveSerializer(many=True)
    signal_marks = SignalMarkSerializer(many=True)
    inside_height_mm = serializers.FloatField()
    reference_height_mm = serializers.FloatField()
    capacity_l = serializers.FloatField()


class SlopeSerializer(serializers.Serializer):
    """One school's line; standard errors and the correlation are of a fit alone."""

    school = serializers.CharField()
    label = serializers.CharField()
    zero_mm = serializers.FloatField()
    full_mm = serializers.FloatField()
    per_unit_mm = serializers.FloatField()
    residuals_mm = Numbers(child=serializers.FloatField())
    worst_mm = serializers.FloatField()
    zero_se_mm = serializers.FloatField(allow_null=True)
    per_unit_se_mm = serializers.FloatField(allow_null=True)
    r = serializers.FloatField(allow_null=True)
    says = serializers.CharField()


class SlopesSerializer(serializers.Serializer):
    """A sensor's slope by every school; a reading is its signal and its level in millimetres."""

    fields_read = FormFieldSerializer(many=True)
    signal = serializers.CharField()
    signals = serializers.DictField(child=serializers.CharField())
    schools = serializers.DictField(child=serializers.CharField())
    zero = serializers.FloatField()
    full = serializers.FloatField()
    readings = serializers.ListField(child=Numbers(child=serializers.FloatField()))
    outlier = serializers.IntegerField(allow_null=True)
    slopes = SlopeSerializer(many=True)
    judgements = JudgementSerializer(many=True)


class SettingSerializer(serializers.Serializer):
    """A setting of a chain: where it is typed, and what is taken where nothing is."""

    path = serializers.CharField()
    hop = serializers.ChoiceField(HOPS)
    label = serializers.CharField()
    kind = serializers.CharField()
    options = serializers.DictField(child=serializers.CharField())
    usual = serializers.CharField()
    follows = serializers.BooleanField(help_text="Whether it follows from the others where nothing is typed")


class HopNameSerializer(serializers.Serializer):
    """A hop by the station that it leads to, and its name."""

    key = serializers.ChoiceField(HOPS)
    label = serializers.CharField()


class ChainReadingSerializer(serializers.Serializer):
    """A chain as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    settings = SettingSerializer(many=True)
    hops = HopNameSerializer(many=True, help_text="By the stations they lead to, in order")
    table_number = serializers.IntegerField(help_text="The issued table that volumes come from; 0 for the survey")
    judgements = JudgementSerializer(many=True)


class ChainAtSerializer(PlannedSerializer):
    """A chain as far as it has been typed, and a level."""

    innage_mm = serializers.FloatField(min_value=-1e6, max_value=1e6)
    meter_unit = serializers.ChoiceField(METER_UNITS, default="mm")
    meter_digits = serializers.IntegerField(min_value=3, max_value=6, default=4)


class ChainFindSerializer(PlannedSerializer):
    """A chain as far as it has been typed, and what one of its stations reads, as typed."""

    station = serializers.ChoiceField(list(STATIONS))
    text = serializers.CharField(max_length=100, allow_blank=True)


class FoundLevelSerializer(serializers.Serializer):
    """A level."""

    innage_mm = serializers.FloatField()


class StopSerializer(serializers.Serializer):
    """A station of the chain at the line."""

    station = serializers.ChoiceField(list(STATIONS))
    label = serializers.CharField()
    hop = serializers.CharField()
    text = serializers.CharField()
    words = serializers.CharField()
    step_mm = serializers.FloatField(allow_null=True)
    step_l = serializers.FloatField(allow_null=True)
    u95_mm = serializers.FloatField()
    u95_l = serializers.FloatField()


class UnsurePartSerializer(serializers.Serializer):
    """One thing that makes the answer unsure."""

    station = serializers.CharField()
    name = serializers.CharField()
    u95_mm = serializers.FloatField()


class TrapSerializer(serializers.Serializer):
    """What the screen has at a level, right, and with level and distance confused."""

    level_mm = serializers.FloatField()
    right_mm = serializers.FloatField()
    wrong_mm = serializers.FloatField()


class LabelledSerializer(serializers.Serializer):
    """A value with its name."""

    label = serializers.CharField()
    text = serializers.CharField()


class MeterEndsSerializer(serializers.Serializer):
    """What a panel meter shows at the signal's ends."""

    signal_low = serializers.CharField()
    signal_high = serializers.CharField()
    low = serializers.CharField()
    high = serializers.CharField()
    decimals = serializers.IntegerField()
    error_mm = serializers.FloatField()
    falls = serializers.BooleanField()


class ChainLineSerializer(serializers.Serializer):
    """A chain at one level; null while something that is typed is wrong."""

    stops = StopSerializer(many=True)
    parts = UnsurePartSerializer(many=True)
    u95_mm = serializers.FloatField()
    u95_l = serializers.FloatField()
    trap = TrapSerializer(many=True)
    fault = LabelledSerializer(many=True)
    beyond = LabelledSerializer(many=True)
    meter = MeterEndsSerializer(allow_null=True)
    meter_problem = serializers.CharField()


class ChainAtLineSerializer(serializers.Serializer):
    """The answer to a chain and a level."""

    line = ChainLineSerializer(allow_null=True)


class JudgedHopSerializer(serializers.Serializer):
    """A hop, and what the readings say of it."""

    key = serializers.ChoiceField(HOPS)
    label = serializers.CharField()
    state = serializers.ChoiceField(["agrees", "parts", "after", "unread"])
    accused = serializers.BooleanField()


class StationNameSerializer(serializers.Serializer):
    """A station of the chain, and its name."""

    key = serializers.ChoiceField(list(STATIONS))
    label = serializers.CharField()


class StretchSerializer(serializers.Serializer):
    """Two neighbouring readings of a row."""

    row = serializers.IntegerField()
    start = serializers.ChoiceField(list(STATIONS))
    end = serializers.ChoiceField(list(STATIONS))
    expected = serializers.CharField()
    read = serializers.CharField()
    off = serializers.FloatField(help_text="In standard deviations")


class ExplanationSerializer(serializers.Serializer):
    """Settings that would explain the readings; several where no reading tells them apart."""

    texts = serializers.ListField(child=serializers.CharField())
    hops = serializers.ListField(child=serializers.ChoiceField(HOPS))
    off = serializers.FloatField()


class TellingSerializer(serializers.Serializer):
    """The reading that would tell the first explanation from another."""

    other = serializers.IntegerField(help_text="Which explanation, counted from 0")

    station = serializers.CharField()
    level = serializers.CharField()
    first = serializers.CharField()
    second = serializers.CharField()


class PartingSerializer(serializers.Serializer):
    """Where truth and reading part."""

    fields_read = FormFieldSerializer(many=True)
    stations = StationNameSerializer(many=True)
    hops = JudgedHopSerializer(many=True)
    says = serializers.CharField()
    stretches = StretchSerializer(many=True)
    explanations = ExplanationSerializer(many=True)
    telling = TellingSerializer(allow_null=True)


class BareStopSerializer(serializers.Serializer):
    """One value of a line without a tank: what stands there, and whether it is the one that was taken."""

    key = serializers.CharField()
    label = serializers.CharField()
    text = serializers.CharField(help_text="Empty while no value is typed")
    words = serializers.CharField(help_text="Of a register: its words")
    taken = serializers.BooleanField()


class MeaningSerializer(serializers.Serializer):
    """What the value stands for if one thing that nobody typed is otherwise."""

    unless = serializers.CharField()
    level = serializers.CharField()


class BareLineSerializer(serializers.Serializer):
    """A line without a tank, as far as it is typed."""

    fields_read = FormFieldSerializer(many=True)
    settings = SettingSerializer(many=True)
    height_mm = serializers.FloatField()
    level_mm = serializers.FloatField(allow_null=True)
    stops = BareStopSerializer(many=True)
    signal_marks = SignalMarkSerializer(many=True)
    says = serializers.CharField()
    meanings = MeaningSerializer(many=True)
    judgements = JudgementSerializer(many=True)
    parting = PartingSerializer(allow_null=True)


class BareTankSerializer(PlannedSerializer):
    """A line that a tank is to be made of."""

    site = serializers.PrimaryKeyRelatedField(queryset=Site.objects.all())
    name = serializers.CharField(max_length=120, allow_blank=True)


class BareFindingSerializer(PlannedSerializer):
    """A line whose values were read at a tank that is known."""

    tank = serializers.PrimaryKeyRelatedField(queryset=Tank.objects.select_related("site"))
