"""The forms of what the tanks' API takes and gives. Lengths in mm, volumes in litres, as the names say."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from ..accounts.models import name_of
from ..answer import described
from ..core.quantities.units import SYSTEMS
from ..core.tanks.ports import read_position
from . import answers, present, profiles
from .models import Profile, Site, Tank


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

    @extend_schema_field(described(answers.Facts))
    def get_facts(self, tank: Tank) -> Any:
        """Write what is true of the whole tank."""
        return present.facts(tank.file)

    @extend_schema_field(described(answers.Followed, allow_null=True))
    def get_profile(self, tank: Tank) -> answers.Followed | None:
        """Tell which profile it was made from, and how it stands to it."""
        if tank.profile is None:
            return None
        return answers.Followed(
            id=tank.profile.pk,
            name=tank.profile.name,
            revision=tank.profile_revision,
            profile_revision=tank.profile.revision,
            standing=profiles.standing(tank),
        )

    def get_port_positions_mm(self, tank: Tank) -> list[float | None]:
        """Tell where along the tank each opening is, where that is a length."""
        return [read_position(port.get("position", ""), "metric")[0] for port in tank.ports]

    def get_changed_by(self, tank: Tank) -> str:
        """Name whoever changed it last."""
        return name_of(tank.changed_by)


class PictureSerializer(serializers.Serializer):
    """A picture of a label, in Base64."""

    picture = serializers.CharField(trim_whitespace=False)
