"""The forms of what the scaling API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..core.scaling.chain import STATIONS
from ..core.scaling.panel_meter import METER_UNITS
from ..planned.serializers import PlannedSerializer
from ..tanks.models import Site, Tank


class ChainAtSerializer(PlannedSerializer):
    """A chain as far as it has been typed, and a level."""

    innage_mm = serializers.FloatField(min_value=-1e6, max_value=1e6)
    meter_unit = serializers.ChoiceField(METER_UNITS, default="mm")
    meter_digits = serializers.IntegerField(min_value=3, max_value=6, default=4)


class ChainFindSerializer(PlannedSerializer):
    """A chain as far as it has been typed, and what one of its stations reads, as typed."""

    station = serializers.ChoiceField(list(STATIONS))
    text = serializers.CharField(max_length=100, allow_blank=True)


class BareTankSerializer(PlannedSerializer):
    """A line that a tank is to be made of."""

    site = serializers.PrimaryKeyRelatedField(queryset=Site.objects.all())
    name = serializers.CharField(max_length=120, allow_blank=True)


class BareFindingSerializer(PlannedSerializer):
    """A line whose values were read at a tank that is known."""

    tank = serializers.PrimaryKeyRelatedField(queryset=Tank.objects.select_related("site"))
