"""The forms of what the tanks' API takes and gives. Lengths in mm, volumes in litres, as the names say."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..core.quantities.units import SYSTEMS
from ..core.tanks.ports import read_position
from . import present, profiles
from .models import Profile, Site, Tank


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
    value = serializers.FloatField(allow_null=True, help_text="What was judged, in SI")
    limit = serializers.FloatField(allow_null=True, help_text="What it was judged by, in SI")


class ProblemSerializer(serializers.Serializer):
    """What is wrong, and where."""

    where = serializers.CharField()
    what = serializers.CharField()


class DrawingSerializer(serializers.Serializer):
    """The tank's sections, to be drawn to scale."""

    kind = serializers.CharField()
    along_mm = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    across_mm = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    seams_mm = serializers.ListField(
        child=serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    )
    inside_height_mm = serializers.FloatField()
    reference_height_mm = serializers.FloatField()
    gauge_position_mm = serializers.FloatField()
    slope_mm_per_m = serializers.FloatField()
    upright = serializers.BooleanField()
    deadwood_mm = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class LimitsSerializer(serializers.Serializer):
    """Levels and volumes that bound a tank's use."""

    brim_level_mm = serializers.FloatField()
    brim_l = serializers.FloatField()
    safe_level_mm = serializers.FloatField()
    safe_l = serializers.FloatField()
    filling_level_mm = serializers.FloatField(allow_null=True)
    filling_l = serializers.FloatField(allow_null=True)
    outlet_level_mm = serializers.FloatField(allow_null=True)
    unpumpable_l = serializers.FloatField()
    usable_l = serializers.FloatField()
    below_gauge_l = serializers.FloatField()
    above_gauge_l = serializers.FloatField()


class FactsSerializer(serializers.Serializer):
    """What is true of a whole tank."""

    name = serializers.CharField()
    product = serializers.CharField()
    pattern = serializers.CharField()
    capacity_l = serializers.FloatField()
    inside_height_mm = serializers.FloatField()
    limits = LimitsSerializer()
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

    tank_count = serializers.IntegerField(read_only=True)

    class Meta:
        model = Site
        fields = ["id", "name", "notes", "revision", "tank_count"]
        read_only_fields = ["revision"]


class NewSiteSerializer(serializers.Serializer):
    """A site that is to be made."""

    name = serializers.CharField(max_length=120, allow_blank=True)
    notes = serializers.CharField(max_length=4000, allow_blank=True, default="")


class ChangeSiteSerializer(serializers.Serializer):
    """What is to be changed of a site; what is not sent stays."""

    revision = serializers.IntegerField(help_text="The revision that the change began from")
    name = serializers.CharField(max_length=120, required=False, allow_blank=True)
    notes = serializers.CharField(max_length=4000, required=False, allow_blank=True)


class SurveySerializer(serializers.Serializer):
    """A survey as far as it has been typed."""

    entries = serializers.DictField(
        child=serializers.CharField(allow_blank=True, trim_whitespace=False, max_length=400)
    )
    system = serializers.ChoiceField(SYSTEMS, default="metric")

    def validate_entries(self, entries):
        """Refuse more fields than any tank has."""
        if len(entries) > 6000:
            raise serializers.ValidationError("has more fields than any tank")
        return entries


class KeptSurveySerializer(SurveySerializer):
    """A survey that is to be kept, with the facts beside the shape."""

    ports = PortSerializer(many=True, required=False, default=list)
    notes = serializers.CharField(max_length=8000, allow_blank=True, default="")
    profile = serializers.PrimaryKeyRelatedField(
        queryset=Profile.objects.all(), allow_null=True, default=None, help_text="The profile it takes over, if any"
    )


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
    says = serializers.CharField(help_text="What was understood, where it is no length")


class MovementSerializer(serializers.Serializer):
    """How far a solved dimension moves with one input; null where there is no answer at its ends."""

    label = serializers.CharField()
    half_width = serializers.FloatField()
    unit = serializers.CharField()
    moves_mm = serializers.FloatField(allow_null=True)


class SolutionSerializer(serializers.Serializer):
    """A dimension found from the capacity."""

    path = serializers.CharField()
    label = serializers.CharField()
    value_mm = serializers.FloatField()
    half_width_mm = serializers.FloatField(allow_null=True)
    movements = MovementSerializer(many=True)


class ToleranceSerializer(serializers.Serializer):
    """A dimension and its half-width: null where nothing is said of it, and it counts as exact."""

    key = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField()
    nominal = serializers.FloatField()
    half_width = serializers.FloatField(allow_null=True)
    stated = serializers.BooleanField()
    method = serializers.CharField()


class DipSerializer(serializers.Serializer):
    """A dip by tape and paste, with what it stands for."""

    level_mm = serializers.FloatField()
    water_mm = serializers.FloatField()
    total_l = serializers.FloatField()
    water_l = serializers.FloatField()
    product_l = serializers.FloatField()


class SurveyReadingSerializer(serializers.Serializer):
    """A survey as it was understood; the facts are there once it can be drawn, named or not."""

    fields_read = FieldSerializer(many=True)
    complete = serializers.BooleanField()
    facts = FactsSerializer(allow_null=True)
    solution = SolutionSerializer(allow_null=True)
    dip = DipSerializer(allow_null=True)
    tolerances = ToleranceSerializer(many=True)
    crossing_mm = serializers.ListField(
        child=serializers.FloatField(), allow_null=True, help_text="Where a traced section crosses itself, if it does"
    )
    judgements = JudgementSerializer(many=True)
    port_positions_mm = serializers.ListField(child=serializers.FloatField(allow_null=True))


class FollowedSerializer(serializers.Serializer):
    """The profile of a tank, and how the tank stands to it."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    revision = serializers.IntegerField(help_text="The revision that the tank took over")
    profile_revision = serializers.IntegerField(help_text="The revision that the profile is at")
    standing = serializers.ChoiceField(["same", "newer", "own"])


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
    profile = serializers.SerializerMethodField()

    class Meta:
        model = Tank
        fields = [
            "id", "site", "site_name", "revision", "changed_at", "changed_by", "entries", "ports",
            "port_positions_mm", "notes", "profile", "facts",
        ]  # fmt: skip

    def get_facts(self, tank: Tank) -> FactsSerializer:
        """Write what is true of the whole tank."""
        return present.facts(tank.file)

    def get_profile(self, tank: Tank) -> FollowedSerializer(allow_null=True):
        """Tell which profile it was made from, and how it stands to it."""
        if tank.profile is None:
            return None
        return {
            "id": tank.profile.pk,
            "name": tank.profile.name,
            "revision": tank.profile_revision,
            "profile_revision": tank.profile.revision,
            "standing": profiles.standing(tank),
        }

    def get_port_positions_mm(self, tank: Tank) -> list[float | None]:
        """Tell where along the tank each opening is, where that is a length."""
        return [read_position(port.get("position", ""), "metric")[0] for port in tank.ports]

    def get_changed_by(self, tank: Tank) -> str:
        """Name whoever changed it last."""
        return name_of(tank.changed_by)


class TankRowSerializer(serializers.Serializer):
    """A tank in the list of all."""

    id = serializers.IntegerField()
    site_name = serializers.CharField()
    changed_at = serializers.DateTimeField()
    facts = FactsSerializer()


class LabelSerializer(serializers.Serializer):
    """The text of a label, or the tank file that one holds."""

    text = serializers.CharField()


class PictureSerializer(serializers.Serializer):
    """A picture of a label, in Base64."""

    picture = serializers.CharField(trim_whitespace=False)
