"""The forms of what the API takes and gives of rescalings and device sheets. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers
from rest_framework_dataclasses.serializers import DataclassSerializer

from ..accounts.models import name_of
from ..core.devices.device_sheet import Difference, Item
from ..core.devices.rescale import Change
from ..planned.serializers import PlannedSerializer
from . import services
from .models import DeviceSheet, FoundSheet, Rescaling


class ChangeSerializer(DataclassSerializer):
    """One setting that changes."""

    class Meta:
        dataclass = Change


class ItemSerializer(DataclassSerializer):
    """One line of a device sheet."""

    class Meta:
        dataclass = Item


class DifferenceSerializer(DataclassSerializer):
    """One line as it should be and as it was found."""

    state = serializers.ChoiceField(["same", "differs", "missing", "extra"])

    class Meta:
        dataclass = Difference


class RescaleAskSerializer(PlannedSerializer):
    """What is changed of a kept chain: its entries by their paths, and the level that readings are told at."""

    innage_mm = serializers.FloatField(min_value=-1e6, max_value=1e6)


class RescaleTaskSerializer(ChangeSerializer):
    """One line of the check list."""

    done = serializers.BooleanField()


class RescalingSerializer(serializers.ModelSerializer):
    """A rescaling: a check list while it is open, then a record."""

    tasks = serializers.SerializerMethodField()
    made_by = serializers.SerializerMethodField()
    closed_by = serializers.SerializerMethodField()
    dropped_by = serializers.SerializerMethodField()
    right = serializers.CharField(source="document.right")
    forgotten = serializers.CharField(source="document.forgotten")

    class Meta:
        model = Rescaling
        fields = ["id", "why", "tasks", "right", "forgotten", "kept", "made_at", "made_by", "closed_at", "closed_by",
                  "dropped_at", "dropped_by"]  # fmt: skip
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

    def get_dropped_by(self, rescaling) -> str:
        """Name who dropped it."""
        return name_of(rescaling.dropped_by)


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
        return services.differences(found)

    def get_made_by(self, found) -> str:
        """Name who read it back."""
        return name_of(found.made_by)
