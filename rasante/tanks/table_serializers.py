"""The forms of what the tables' API takes and gives. Lengths in mm, volumes in litres, as the names say."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from ..accounts.models import name_of
from ..answer import described
from ..core.quantities.errors import Problem
from ..core.tanks.chart_mapping import LENGTH_UNITS, VOLUME_UNITS
from . import answers
from .models import Chart, IssuedTable, Profile, Site, Tank


class IssueSerializer(serializers.Serializer):
    """What a table is issued for."""

    step = serializers.CharField(max_length=20, default="10")
    step_unit = serializers.CharField(max_length=4, default="mm")
    why = serializers.CharField(max_length=400, allow_blank=True)
    revision = serializers.IntegerField(help_text="The tank's revision that was looked at")


class IssuedTableSerializer(serializers.ModelSerializer):
    """An issued table, without its rows."""

    issued_by = serializers.SerializerMethodField()
    row_count = serializers.SerializerMethodField()

    class Meta:
        model = IssuedTable
        fields = ["id", "number", "step", "capacity_l", "why", "issued_at", "issued_by", "row_count"]

    def get_issued_by(self, issued: IssuedTable) -> str:
        """Name whoever issued it."""
        return name_of(issued.issued_by)

    def get_row_count(self, issued: IssuedTable) -> int:
        """Count its rows."""
        return len(issued.rows["innage_mm"])


class MappingSerializer(serializers.Serializer):
    """Which columns of a file mean what."""

    header = serializers.BooleanField()
    level_column = serializers.IntegerField(min_value=0, max_value=200)
    volume_column = serializers.IntegerField(min_value=0, max_value=200)
    level_unit = serializers.ChoiceField(LENGTH_UNITS, allow_blank=True, help_text="Empty while nobody has said")
    volume_unit = serializers.ChoiceField(VOLUME_UNITS, allow_blank=True, help_text="Empty while nobody has said")
    measured = serializers.ChoiceField(["innage", "ullage"])
    decimal = serializers.ChoiceField([".", ","], allow_blank=True, help_text="Empty while nobody has said")


class ChartFileSerializer(serializers.Serializer):
    """A file with a chart: the text of a CSV, or a workbook in Base64; what its columns mean, if that is known."""

    text = serializers.CharField(allow_blank=True, trim_whitespace=False, default="")
    workbook = serializers.CharField(allow_blank=True, default="")
    mapping = MappingSerializer(allow_null=True, default=None)
    reference_height_mm = serializers.FloatField(allow_null=True, default=None, min_value=1, max_value=100_000)


class ChartPreviewSerializer(serializers.Serializer):
    """A file as it would be read; nothing is kept."""

    head = serializers.ListField(child=serializers.ListField(child=serializers.CharField(allow_blank=True)))
    row_count = serializers.IntegerField()
    mapping = MappingSerializer()
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()), allow_null=True)
    skipped = serializers.IntegerField()
    problems = described(Problem, many=True)


class ChartTankSerializer(ChartFileSerializer):
    """A file that a tank is to be made of."""

    site = serializers.PrimaryKeyRelatedField(queryset=Site.objects.all())
    name = serializers.CharField(max_length=120)
    product = serializers.CharField(max_length=60, allow_blank=True, default="")
    mapping = MappingSerializer()


class KeepChartSerializer(ChartFileSerializer):
    """A file that is to be kept beside a tank."""

    name = serializers.CharField(max_length=120, allow_blank=True)
    mapping = MappingSerializer()


class ChartSerializer(serializers.ModelSerializer):
    """A chart kept beside a tank."""

    made_by = serializers.SerializerMethodField()
    point_count = serializers.SerializerMethodField()

    class Meta:
        model = Chart
        fields = ["id", "name", "made_at", "made_by", "point_count"]

    def get_made_by(self, chart: Chart) -> str:
        """Name whoever took it in."""
        return name_of(chart.made_by)

    def get_point_count(self, chart: Chart) -> int:
        """Count its points."""
        return len(chart.points)


class ProfileSerializer(serializers.ModelSerializer):
    """A profile with the tanks that use it."""

    entries = serializers.DictField(child=serializers.CharField())
    facts = serializers.SerializerMethodField()
    used_by = serializers.SerializerMethodField()
    changed_by = serializers.SerializerMethodField()

    class Meta:
        model = Profile
        fields = [
            "id", "name", "capacity_l", "overall_diameter_mm", "notes", "revision", "changed_at", "changed_by",
            "entries", "facts", "used_by",
        ]  # fmt: skip

    @extend_schema_field(described(answers.Facts))
    def get_facts(self, profile: Profile) -> Any:
        """Write what it is like as a tank."""
        from .present import facts

        return facts(profile.file)

    @extend_schema_field(described(answers.ProfileUser, many=True))
    def get_used_by(self, profile: Profile) -> list[answers.ProfileUser]:
        """List the tanks that use it, and how they stand to it."""
        from .profiles import standing

        return [
            answers.ProfileUser(
                id=tank.pk,
                name=tank.name,
                site_name=tank.site.name,
                revision=tank.profile_revision,
                standing=standing(tank),
            )
            for tank in profile.tanks.all()
        ]

    def get_changed_by(self, profile: Profile) -> str:
        """Name whoever changed it last."""
        return name_of(profile.changed_by)


class NewProfileSerializer(serializers.Serializer):
    """A tank whose dimensions are to be a profile."""

    tank = serializers.PrimaryKeyRelatedField(queryset=Tank.objects.select_related("site"))
    capacity = serializers.CharField(max_length=60, allow_blank=True)
    overall_diameter = serializers.CharField(max_length=60, allow_blank=True)
    notes = serializers.CharField(max_length=2000, allow_blank=True, default="")
    system = serializers.ChoiceField(["metric", "us"], default="metric")


class ChangeProfileSerializer(serializers.Serializer):
    """A tank that a profile is to be brought up to date from."""

    tank = serializers.PrimaryKeyRelatedField(queryset=Tank.objects.select_related("site"))
    revision = serializers.IntegerField(help_text="The profile's revision that was looked at")
