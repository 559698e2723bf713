"""The forms of what the API takes and gives of visits."""

from __future__ import annotations

from rest_framework import serializers

from ..core.quantities.units import SYSTEMS
from .course import DID


class FactsField(serializers.DictField):
    """Facts as chosen."""

    child = serializers.CharField(max_length=40)


class PreviewFactsSerializer(serializers.Serializer):
    """Facts as chosen so far."""

    facts = FactsField()


class OpenVisitSerializer(serializers.Serializer):
    """What opens a visit."""

    tank = serializers.IntegerField(min_value=1)
    facts = FactsField()
    system = serializers.ChoiceField(SYSTEMS, default="metric")
    planned_at = serializers.DateTimeField(allow_null=True, default=None)


class ChangeFactsSerializer(serializers.Serializer):
    """What changes a visit's facts."""

    facts = FactsField()
    revision = serializers.IntegerField()


class RevisionSerializer(serializers.Serializer):
    """The revision that a change follows."""

    revision = serializers.IntegerField()


class EnterSerializer(serializers.Serializer):
    """What was done at a step."""

    uid = serializers.RegexField(r"^[A-Za-z0-9-]{8,40}$")
    step = serializers.CharField(max_length=40)
    did = serializers.ChoiceField(list(DID))
    values = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=1000), default=dict)
    reason = serializers.CharField(allow_blank=True, default="", max_length=400)
    at = serializers.DateTimeField()
    begun_at = serializers.DateTimeField(allow_null=True, default=None)
    system = serializers.ChoiceField(SYSTEMS, default="metric", help_text="What a bare number means")


class TypedStepSerializer(serializers.Serializer):
    """What is being typed at a step."""

    values = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=1000), default=dict)
    system = serializers.ChoiceField(SYSTEMS, default="metric")


class AddPhotoSerializer(serializers.Serializer):
    """A photograph to add."""

    uid = serializers.RegexField(r"^[A-Za-z0-9-]{8,40}$")
    step = serializers.CharField(max_length=40)
    picture = serializers.CharField(max_length=11_900_000, help_text="PNG, JPEG or WebP in Base64")
    note = serializers.CharField(allow_blank=True, default="", max_length=200)
    keep_place = serializers.BooleanField(default=False)
    at = serializers.DateTimeField()


class SignVisitSerializer(serializers.Serializer):
    """What signs a visit."""

    signature = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    seen = serializers.CharField(max_length=64, help_text="The digest of the record that was looked at")


class MakeLinkSerializer(serializers.Serializer):
    """What makes a link for a customer."""

    days = serializers.IntegerField(min_value=1, max_value=365, default=90)
    live = serializers.BooleanField(default=False)
    note = serializers.CharField(allow_blank=True, default="", max_length=120)


class MailSerializer(serializers.Serializer):
    """Whom to send a record to."""

    to = serializers.EmailField()
    note = serializers.CharField(allow_blank=True, default="", max_length=1000)


class OwnStepsSerializer(serializers.Serializer):
    """The shop's own steps, as a file."""

    text = serializers.CharField(max_length=400_000)
    revision = serializers.IntegerField()
