"""The forms of what the tanks' API takes and gives. Lengths in mm, volumes in litres, as the names say."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..core.tanks.ports import read_position
from ..core.units import SYSTEMS
from . import present
from .models import Site, Tank


class CautionSerializer(serializers.Serializer):
    """A caution, and the station it stands at."""

    code = serializers.CharField()
    station = serializers.CharField()
    text = serializers.CharField()


class JudgementSerializer(serializers.Serializer):
    """A judgement with its number."""

    weight = serializers.ChoiceField(["good", "watch", "stop"])
    code = serializers.CharField()
    text = serializers.CharField()


class ProblemSerializer(serializers.Serializer):
    """What is wrong, and where."""

    where = serializers.CharField()
    what = serializers.CharField()


class DrawingSerializer(serializers.Serializer):
    """The tank's sections, to be drawn to scale."""

    kind = serializers.CharField()
    along_mm = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    across_mm = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    seams_mm = serializers.ListField(child=serializers.FloatField())
    inside_height_mm = serializers.FloatField()
    reference_height_mm = serializers.FloatField()
    gauge_position_mm = serializers.FloatField()


class FactsSerializer(serializers.Serializer):
    """What is true of a whole tank."""

    name = serializers.CharField()
    product = serializers.CharField()
    pattern = serializers.CharField()
    capacity_l = serializers.FloatField()
    inside_height_mm = serializers.FloatField()
    drawing = DrawingSerializer()
    cautions = CautionSerializer(many=True)


class PortSerializer(serializers.Serializer):
    """An opening in the tank's top."""

    name = serializers.CharField(max_length=200, allow_blank=True)
    uses = serializers.ListField(child=serializers.CharField(max_length=20), max_length=8)
    size = serializers.CharField(max_length=200, allow_blank=True, default="")
    position = serializers.CharField(max_length=200, allow_blank=True, default="")
    note = serializers.CharField(max_length=200, allow_blank=True, default="")


class SiteSerializer(serializers.ModelSerializer):
    """A site."""

    tank_count = serializers.IntegerField(source="tanks.count", read_only=True)

    class Meta:
        model = Site
        fields = ["id", "name", "notes", "tank_count"]


class SurveySerializer(serializers.Serializer):
    """A survey as far as it has been typed."""

    entries = serializers.DictField(
        child=serializers.CharField(allow_blank=True, trim_whitespace=False, max_length=400)
    )
    system = serializers.ChoiceField(SYSTEMS, default="metric")

    def validate_entries(self, entries):
        """Refuse more fields than any tank has."""
        if len(entries) > 1000:
            raise serializers.ValidationError("has more fields than any tank")
        return entries


class KeptSurveySerializer(SurveySerializer):
    """A survey that is to be kept, with the facts beside the shape."""

    ports = PortSerializer(many=True, required=False, default=list)
    notes = serializers.CharField(max_length=8000, allow_blank=True, default="")


class NewTankSerializer(KeptSurveySerializer):
    """A survey of a new tank."""

    site = serializers.PrimaryKeyRelatedField(queryset=Site.objects.all())


class ResurveySerializer(KeptSurveySerializer):
    """A survey of a tank that is there already."""

    revision = serializers.IntegerField(help_text="The revision that the survey began from")


class ImportSerializer(serializers.Serializer):
    """A tank file to be kept."""

    site = serializers.PrimaryKeyRelatedField(queryset=Site.objects.all())
    text = serializers.CharField(trim_whitespace=False, allow_blank=True)


class FieldSerializer(serializers.Serializer):
    """A field as it was understood."""

    path = serializers.CharField()
    state = serializers.ChoiceField(["empty", "read", "wrong"])
    value_mm = serializers.FloatField(allow_null=True)
    kept = serializers.CharField()
    problem = serializers.CharField()


class SurveyReadingSerializer(serializers.Serializer):
    """A survey as it was understood; the facts are there once it can be drawn, named or not."""

    fields_read = FieldSerializer(many=True)
    complete = serializers.BooleanField()
    facts = FactsSerializer(allow_null=True)
    judgements = JudgementSerializer(many=True)
    port_positions_mm = serializers.ListField(child=serializers.FloatField(allow_null=True))


class TankSerializer(serializers.ModelSerializer):
    """A tank with everything its page starts from."""

    site_name = serializers.CharField(source="site.name", read_only=True)
    facts = serializers.SerializerMethodField()
    changed_by = serializers.SerializerMethodField()
    entries = serializers.DictField(child=serializers.CharField())
    ports = PortSerializer(many=True)
    port_positions_mm = serializers.SerializerMethodField()
    notes = serializers.CharField(read_only=True)
    revision = serializers.IntegerField(read_only=True)

    class Meta:
        model = Tank
        fields = [
            "id", "site", "site_name", "revision", "changed_at", "changed_by", "entries", "ports",
            "port_positions_mm", "notes", "facts",
        ]  # fmt: skip

    def get_facts(self, tank: Tank) -> FactsSerializer:
        """Write what is true of the whole tank."""
        return present.facts(tank.file)

    def get_port_positions_mm(self, tank: Tank) -> list[float | None]:
        """Tell where along the tank each opening is, where that is a length."""
        return [read_position(port.get("position", ""), "metric")[0] for port in tank.ports]

    def get_changed_by(self, tank: Tank) -> str:
        """Name whoever changed it last."""
        return name_of(tank.changed_by)


class TableSerializer(serializers.Serializer):
    """A volume table by columns, every list with one entry a row."""

    step = serializers.CharField()
    innage_mm = serializers.ListField(child=serializers.FloatField())
    volume_l = serializers.ListField(child=serializers.FloatField())
    u95_l = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    ullage_mm = serializers.ListField(child=serializers.FloatField())
    volume_pct = serializers.ListField(child=serializers.FloatField())
    linear_pct = serializers.ListField(child=serializers.FloatField())


class DimensionSerializer(serializers.Serializer):
    """A length that a kind asks for."""

    key = serializers.CharField()
    label = serializers.CharField()
    hint = serializers.CharField()
    optional = serializers.BooleanField()


class HeadKindSerializer(serializers.Serializer):
    """A kind of head."""

    kind = serializers.CharField()
    label = serializers.CharField()
    dimensions = DimensionSerializer(many=True)


class HeadPlaceSerializer(serializers.Serializer):
    """A head that a shape has, and the kinds it may be."""

    key = serializers.CharField()
    label = serializers.CharField()
    kinds = serializers.ListField(child=serializers.CharField())


class ShapeKindSerializer(HeadKindSerializer):
    """A kind of shape."""

    heads = HeadPlaceSerializer(many=True)


class PatternSerializer(serializers.Serializer):
    """A named head and what its fields are filled with."""

    label = serializers.CharField()
    kind = serializers.CharField()
    entries = serializers.DictField(child=serializers.CharField())


class UnitSerializer(serializers.Serializer):
    """A unit: how many SI units one is, and the places it is shown with."""

    key = serializers.CharField()
    name = serializers.CharField()
    quantity = serializers.CharField()
    si = serializers.FloatField()
    decimals = serializers.IntegerField()


class WordsSerializer(serializers.Serializer):
    """The words and units that the screens are built from."""

    shapes = ShapeKindSerializer(many=True)
    heads = HeadKindSerializer(many=True)
    patterns = PatternSerializer(many=True)
    port_uses = serializers.DictField(child=serializers.CharField())
    products = serializers.ListField(child=serializers.CharField())
    standing_caution = serializers.CharField()
    units = UnitSerializer(many=True)
    systems = serializers.DictField(child=serializers.DictField(child=serializers.CharField()))
