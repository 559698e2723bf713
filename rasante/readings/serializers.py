"""The forms of what the API takes and gives of sources, readings and events. Units stand in the names."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_serializer
from rest_framework import serializers

from ..core.readings.condition import CONDITIONS
from ..core.readings.source_form import SOURCES
from ..planned.serializers import FormFieldSerializer, KeepPlannedSerializer
from ..tanks.serializers import ProblemSerializer


class ChannelSerializer(serializers.Serializer):
    """A channel, and what it is."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.CharField()
    label = serializers.CharField()
    source = serializers.CharField()
    source_kind = serializers.ChoiceField(list(SOURCES))
    period_s = serializers.FloatField()


class SourceChannelSerializer(ChannelSerializer):
    """A channel of a source, with its tank."""

    on = serializers.BooleanField()
    tank = serializers.IntegerField(allow_null=True)
    tank_name = serializers.CharField()


class SourceStateSerializer(serializers.Serializer):
    """How a source does."""

    key = serializers.ChoiceField(["off", "failing", "late", "waiting", "heard"])
    words = serializers.CharField()


class SourceSerializer(serializers.Serializer):
    """A source of readings."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(list(SOURCES))
    entries = serializers.DictField(child=serializers.CharField())
    on = serializers.BooleanField()
    revision = serializers.IntegerField()
    changed_at = serializers.DateTimeField()
    changed_by = serializers.CharField()
    token_end = serializers.CharField(help_text="The last letters of its token; empty where it has none")
    heard_at = serializers.DateTimeField(allow_null=True)
    state = SourceStateSerializer()
    channels = SourceChannelSerializer(many=True)


@extend_schema_serializer(many=False)
class SourceListSerializer(serializers.Serializer):
    """All sources, and the ways in which one may be reached."""

    sources = SourceSerializer(many=True)
    kinds = serializers.DictField(child=serializers.CharField())
    channel_kinds = serializers.DictField(child=serializers.CharField())
    functions = serializers.DictField(child=serializers.CharField())
    types = serializers.DictField(child=serializers.CharField())
    orders = serializers.DictField(child=serializers.CharField())
    units = serializers.DictField(child=serializers.CharField())


class KeepSourceSerializer(KeepPlannedSerializer):
    """A source that is to be kept."""


class SourceFormSerializer(serializers.Serializer):
    """A source as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    units = serializers.DictField(
        child=serializers.ListField(child=serializers.CharField()), help_text="What each channel may come in, by path"
    )


class SwitchSerializer(serializers.Serializer):
    """A source switched on or off."""

    on = serializers.BooleanField()
    revision = serializers.IntegerField()


class TokenSerializer(serializers.Serializer):
    """A token, shown once."""

    token = serializers.CharField()
    source = SourceSerializer()


class HopSerializer(serializers.Serializer):
    """What a value comes to at one station."""

    station = serializers.CharField()
    label = serializers.CharField()
    text = serializers.CharField()


class TriedSerializer(serializers.Serializer):
    """One value read on trial."""

    channel = serializers.CharField()
    words = serializers.CharField()
    value = serializers.CharField()
    problem = serializers.CharField()
    hops = HopSerializer(many=True)


class TrialSerializer(serializers.Serializer):
    """What a source gave when it was tried."""

    problem = serializers.CharField()
    values = TriedSerializer(many=True)


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
    problems = ProblemSerializer(many=True)


class ToldSerializer(serializers.Serializer):
    """What became of readings that were sent."""

    new = serializers.IntegerField()
    again = serializers.IntegerField(help_text="There already: they change nothing")
    refused = serializers.ListField(child=serializers.CharField())


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


class RateSerializer(serializers.Serializer):
    """How fast contents change."""

    l_min = serializers.FloatField()
    u95_l_min = serializers.FloatField()
    over_s = serializers.IntegerField()
    moves = serializers.BooleanField(help_text="Whether it is told from standing still")


class ReachedSerializer(serializers.Serializer):
    """When a mark is reached if it goes on so."""

    key = serializers.CharField()
    label = serializers.CharField()
    in_s = serializers.IntegerField()
    soonest_s = serializers.IntegerField()
    latest_s = serializers.IntegerField(allow_null=True)


class StillnessSerializer(serializers.Serializer):
    """Whether the newest readings stand still, and how long it takes yet."""

    state = serializers.ChoiceField(["still", "moving", "unsteady", "too few"])
    to_go_s = serializers.FloatField(allow_null=True)


class NowSerializer(serializers.Serializer):
    """What a tank has now, by its newest reading."""

    channel = ChannelSerializer()
    at = serializers.DateTimeField()
    arrived = serializers.DateTimeField()
    age_s = serializers.FloatField()
    age = serializers.CharField()
    condition = serializers.ChoiceField(list(CONDITIONS))
    words = serializers.CharField()
    live = serializers.BooleanField()
    sound = serializers.BooleanField()
    quality = serializers.CharField()
    raw = serializers.CharField()
    level_mm = serializers.FloatField(allow_null=True)
    level_u95_mm = serializers.FloatField(allow_null=True)
    volume_l = serializers.FloatField(allow_null=True)
    volume_u95_l = serializers.FloatField(allow_null=True)
    volume_pct = serializers.FloatField(allow_null=True)
    rate = RateSerializer(allow_null=True)
    reached = ReachedSerializer(many=True)
    stillness = StillnessSerializer(allow_null=True)


class NowAnswerSerializer(serializers.Serializer):
    """What a tank has now; null where nothing brings its level."""

    now = NowSerializer(allow_null=True)


class TakeSerializer(serializers.Serializer):
    """A live value that can be taken instead of being typed."""

    station = serializers.CharField()
    channel = serializers.IntegerField()
    source = serializers.CharField()
    text = serializers.CharField(help_text="As it would be typed at its station")
    at = serializers.DateTimeField()
    age = serializers.CharField()
    still = serializers.BooleanField()
    live = serializers.BooleanField()
    words = serializers.CharField(help_text="Why not, and how long yet")


class TakesSerializer(serializers.Serializer):
    """The live values of one tank."""

    takes = TakeSerializer(many=True)


class SeriesSerializer(serializers.Serializer):
    """Readings over time, in columns of equal length."""

    channel = ChannelSerializer()
    unit = serializers.CharField()
    size_s = serializers.IntegerField(help_text="Span of one point; 0 for the readings themselves")
    at = serializers.ListField(child=serializers.FloatField(), help_text="Seconds since 1970-01-01 UTC")
    value = serializers.ListField(child=serializers.FloatField(allow_null=True))
    least = serializers.ListField(child=serializers.FloatField(allow_null=True))
    most = serializers.ListField(child=serializers.FloatField(allow_null=True))
    volume_l = serializers.ListField(child=serializers.FloatField(allow_null=True))
    volume_least_l = serializers.ListField(child=serializers.FloatField(allow_null=True))
    volume_most_l = serializers.ListField(child=serializers.FloatField(allow_null=True))
    worst = serializers.ListField(child=serializers.IntegerField())


class MoveSerializer(serializers.Serializer):
    """A delivery or a draw."""

    start = serializers.DateTimeField()
    end = serializers.DateTimeField()
    volume_l = serializers.FloatField()
    u95_l = serializers.FloatField()


class MovesSerializer(serializers.Serializer):
    """What came and went."""

    deliveries = MoveSerializer(many=True)
    draws = MoveSerializer(many=True)
    words = serializers.CharField(help_text="What is said where there are none: that, or why it cannot be told")


class TransferSerializer(serializers.Serializer):
    """What went from one tank to another."""

    source = serializers.CharField()
    target = serializers.CharField()
    start = serializers.DateTimeField()
    left_l = serializers.FloatField()
    came_l = serializers.FloatField()
    differs_l = serializers.FloatField()
    u95_l = serializers.FloatField()


class AsNowSerializer(serializers.Serializer):
    """Older readings as today's chain and table would have them."""

    at = serializers.ListField(child=serializers.FloatField())
    level_mm = serializers.ListField(child=serializers.FloatField(allow_null=True))
    volume_l = serializers.ListField(child=serializers.FloatField(allow_null=True))


class EventSerializer(serializers.Serializer):
    """Something that readings tell of."""

    id = serializers.IntegerField()
    kind = serializers.CharField()
    words = serializers.CharField()
    pressing = serializers.BooleanField()
    tank = serializers.IntegerField(allow_null=True)
    tank_name = serializers.CharField()
    site_name = serializers.CharField()
    source = serializers.CharField()
    opened_at = serializers.DateTimeField()
    closed_at = serializers.DateTimeField(allow_null=True)
    acknowledged_at = serializers.DateTimeField(allow_null=True)
    acknowledged_by = serializers.CharField()
    word = serializers.CharField()


class WatchMarkSerializer(serializers.Serializer):
    """A mark drawn as a line."""

    key = serializers.CharField()
    label = serializers.CharField()
    level_mm = serializers.FloatField()
    volume_l = serializers.FloatField()


class WatchSerializer(serializers.Serializer):
    """What a tank's readings show over a span."""

    begin = serializers.DateTimeField()
    end = serializers.DateTimeField()
    series = SeriesSerializer(many=True)
    as_now = AsNowSerializer(allow_null=True)
    moves = MovesSerializer()
    transfers = TransferSerializer(many=True)
    marks = WatchMarkSerializer(many=True)
    events = EventSerializer(many=True)
    now = NowSerializer(allow_null=True)


class AcknowledgeSerializer(serializers.Serializer):
    """An event acknowledged with a word."""

    word = serializers.CharField(max_length=300, allow_blank=True)


class EventListSerializer(serializers.Serializer):
    """The events that ask for a person, or are not over."""

    events = EventSerializer(many=True)
