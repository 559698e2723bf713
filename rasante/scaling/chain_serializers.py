"""The forms of what the API takes and gives of scaling chains. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..core.scaling.chain import HOPS, STATIONS
from ..core.scaling.panel_meter import METER_UNITS
from ..gauges.serializers import FormFieldSerializer, PlannedSerializer
from ..tanks.serializers import JudgementSerializer
from .models import DeviceSheet, FoundSheet, Rescaling


class SettingSerializer(serializers.Serializer):
    """A setting of a chain: where it is typed, and what is taken where nothing is."""

    path = serializers.CharField()
    hop = serializers.ChoiceField(list(HOPS))
    label = serializers.CharField()
    kind = serializers.CharField()
    options = serializers.DictField(child=serializers.CharField())
    usual = serializers.CharField()
    follows = serializers.BooleanField(help_text="Whether it follows from the others where nothing is typed")


class ChainReadingSerializer(serializers.Serializer):
    """A chain as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    settings = SettingSerializer(many=True)
    hops = serializers.DictField(
        child=serializers.CharField(), help_text="Names of the hops by the station they lead to"
    )
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

    key = serializers.ChoiceField(list(HOPS))
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
    hops = serializers.ListField(child=serializers.ChoiceField(list(HOPS)))
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


class WetEndSerializer(serializers.Serializer):
    """One wet end."""

    end = serializers.ChoiceField(["full", "empty"])
    label = serializers.CharField()
    spread = serializers.FloatField(allow_null=True)
    still = serializers.BooleanField()
    counts = serializers.FloatField(allow_null=True)


class WetEndsSerializer(serializers.Serializer):
    """The wet ends of a probe."""

    fields_read = FormFieldSerializer(many=True)
    ends = WetEndSerializer(many=True)
    limit = serializers.FloatField()
    ready = serializers.BooleanField()
    judgements = JudgementSerializer(many=True)


class RescaleAskSerializer(PlannedSerializer):
    """What is changed of a kept chain: its entries by their paths, and the level that readings are told at."""

    innage_mm = serializers.FloatField(min_value=-1e6, max_value=1e6)


class ChangeSerializer(serializers.Serializer):
    """One setting that changes."""

    name = serializers.CharField()
    path = serializers.CharField()
    hop = serializers.CharField()
    label = serializers.CharField()
    old = serializers.CharField()
    new = serializers.CharField()
    chosen = serializers.BooleanField()
    forgotten = serializers.CharField()


class RescaleSerializer(serializers.Serializer):
    """What a change asks for."""

    changes = ChangeSerializer(many=True)
    level_mm = serializers.FloatField()
    right = serializers.CharField()
    forgotten = serializers.CharField()
    ratio = serializers.FloatField(allow_null=True)
    rounding_mm = serializers.FloatField()


class LinkSerializer(serializers.Serializer):
    """A link that may be changed, with the settings that go with it."""

    key = serializers.CharField()
    label = serializers.CharField()
    settings = SettingSerializer(many=True)


class RescaleReadingSerializer(serializers.Serializer):
    """A rescaling as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    links = LinkSerializer(many=True)
    rescale = RescaleSerializer(allow_null=True)


class RescaleTaskSerializer(ChangeSerializer):
    """One line of the check list."""

    done = serializers.BooleanField()


class RescalingSerializer(serializers.ModelSerializer):
    """A rescaling: a check list while it is open, then a record."""

    tasks = serializers.SerializerMethodField()
    made_by = serializers.SerializerMethodField()
    closed_by = serializers.SerializerMethodField()
    right = serializers.CharField(source="document.right")
    forgotten = serializers.CharField(source="document.forgotten")

    class Meta:
        model = Rescaling
        fields = ["id", "why", "tasks", "right", "forgotten", "kept", "made_at", "made_by", "closed_at", "closed_by"]
        read_only_fields = fields

    def get_tasks(self, rescaling) -> RescaleTaskSerializer(many=True):
        """Give the check list."""
        return rescaling.document["tasks"]

    def get_made_by(self, rescaling) -> str:
        """Name who began it."""
        return name_of(rescaling.made_by)

    def get_closed_by(self, rescaling) -> str:
        """Name who closed it."""
        return name_of(rescaling.closed_by)


class BeginRescaleSerializer(RescaleAskSerializer):
    """A change that is to be carried out, and why."""

    why = serializers.CharField(max_length=300, allow_blank=True)
    revision = serializers.IntegerField(help_text="The revision of the chain that the change began from")


class TickSerializer(serializers.Serializer):
    """One line ticked, or unticked."""

    index = serializers.IntegerField(min_value=0, max_value=99)
    done = serializers.BooleanField()
    kept = serializers.IntegerField()


class CloseRescaleSerializer(serializers.Serializer):
    """A rescaling that is done."""

    kept = serializers.IntegerField()


class ItemSerializer(serializers.Serializer):
    """One line of a device sheet."""

    section = serializers.CharField()
    key = serializers.CharField()
    label = serializers.CharField()
    value = serializers.CharField()
    unit = serializers.CharField()


class DeviceSheetSerializer(serializers.ModelSerializer):
    """A device sheet as it was written."""

    items = serializers.SerializerMethodField()
    made_by = serializers.SerializerMethodField()

    class Meta:
        model = DeviceSheet
        fields = ["id", "number", "note", "items", "made_at", "made_by"]
        read_only_fields = fields

    def get_items(self, sheet) -> ItemSerializer(many=True):
        """Give its lines."""
        return sheet.document["items"]

    def get_made_by(self, sheet) -> str:
        """Name who wrote it."""
        return name_of(sheet.made_by)


class WriteSheetSerializer(serializers.Serializer):
    """A sheet that is to be written."""

    system = serializers.ChoiceField(["metric", "us"], default="metric")
    note = serializers.CharField(max_length=300, allow_blank=True, default="")


class FoundTextSerializer(serializers.Serializer):
    """What was found in the devices: the sheet as CSV or JSON, with the values as found."""

    text = serializers.CharField(trim_whitespace=False, allow_blank=True)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")


class DifferenceSerializer(serializers.Serializer):
    """One line as it should be and as it was found."""

    key = serializers.CharField()
    label = serializers.CharField()
    section = serializers.CharField()
    wanted = serializers.CharField()
    found = serializers.CharField()
    state = serializers.ChoiceField(["same", "differs", "missing", "extra"])


class FoundSheetSerializer(serializers.ModelSerializer):
    """What was found in the devices, line by line against its sheet."""

    sheet_number = serializers.IntegerField(source="sheet.number")
    rows = serializers.SerializerMethodField()
    made_by = serializers.SerializerMethodField()

    class Meta:
        model = FoundSheet
        fields = ["id", "sheet_number", "note", "rows", "made_at", "made_by"]
        read_only_fields = fields

    def get_rows(self, found) -> DifferenceSerializer(many=True):
        """Compare it with its sheet."""
        from . import device_sheets

        return device_sheets.differences(found)

    def get_made_by(self, found) -> str:
        """Name who read it back."""
        return name_of(found.made_by)
