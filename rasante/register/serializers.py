"""The forms of what the API takes and gives of the register."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from .models import Customer, Device, Fitting


class CustomerSerializer(serializers.ModelSerializer):
    """A customer."""

    sites = serializers.IntegerField(source="site_count", read_only=True, default=0)
    tanks = serializers.IntegerField(source="tank_count", read_only=True, default=0)
    email = serializers.CharField(read_only=True, help_text="Empty where none is noted")

    class Meta:
        model = Customer
        fields = ("id", "name", "branch", "contact", "telephone", "email", "notes", "revision", "sites", "tanks")
        read_only_fields = fields


class KeepCustomerSerializer(serializers.ModelSerializer):
    """What is noted of a customer."""

    revision = serializers.IntegerField(default=0)

    class Meta:
        model = Customer
        fields = ("name", "branch", "contact", "telephone", "email", "notes", "revision")


class KeepRegisterSerializer(serializers.Serializer):
    """What is to be noted of a tank and its site."""

    owner = serializers.ChoiceField(["", "own", "customer"])
    customer = serializers.IntegerField(allow_null=True, default=None)
    painted = serializers.CharField(allow_blank=True, max_length=60)
    revision = serializers.IntegerField()
    latitude = serializers.CharField(allow_blank=True, max_length=40, help_text="As typed, in degrees")
    longitude = serializers.CharField(allow_blank=True, max_length=40, help_text="As typed, in degrees")
    contact = serializers.CharField(allow_blank=True, max_length=120)
    telephone = serializers.CharField(allow_blank=True, max_length=40)


class FittingSerializer(serializers.ModelSerializer):
    """A device on a tank."""

    tank_name = serializers.SerializerMethodField()
    by = serializers.SerializerMethodField()

    class Meta:
        model = Fitting
        fields = ("tank", "tank_name", "since", "until", "why", "by")

    def get_tank_name(self, fitting: Fitting) -> str:
        """Site and tank."""
        return str(fitting.tank)

    def get_by(self, fitting: Fitting) -> str:
        """Who moved it."""
        return name_of(fitting.by)


class DeviceSerializer(serializers.ModelSerializer):
    """A device, and where it was."""

    tank_name = serializers.SerializerMethodField()
    fittings = FittingSerializer(many=True, read_only=True)
    heard_at = serializers.DateTimeField(read_only=True, allow_null=True, default=None)
    battery = serializers.CharField(read_only=True, default="")

    class Meta:
        model = Device
        fields = (
            "id", "part", "serial", "address", "state", "tank", "tank_name", "next_check", "notes", "revision",
            "fittings", "heard_at", "battery",
        )  # fmt: skip
        read_only_fields = fields

    def get_tank_name(self, device: Device) -> str:
        """Site and tank, empty on the shelf."""
        return str(device.tank) if device.tank is not None else ""


class KeepDeviceSerializer(serializers.ModelSerializer):
    """What is noted of a device."""

    revision = serializers.IntegerField(default=0)

    class Meta:
        model = Device
        fields = ("part", "serial", "address", "next_check", "notes", "revision")


class MoveDeviceSerializer(serializers.Serializer):
    """Where a device goes."""

    state = serializers.ChoiceField(Device.STATES)
    tank = serializers.IntegerField(allow_null=True, default=None)
    why = serializers.CharField(allow_blank=True, default="", max_length=200)
    revision = serializers.IntegerField()


class TankListSerializer(serializers.Serializer):
    """A customer's tanks as a file."""

    text = serializers.CharField(max_length=400_000)
