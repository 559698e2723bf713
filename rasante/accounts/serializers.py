"""The forms of what the accounts' API takes and gives."""

from __future__ import annotations

from rest_framework import serializers

from .models import ROLES, name_of, role_of


class SignInSerializer(serializers.Serializer):
    """What is asked at the door."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class OwnPasswordSerializer(serializers.Serializer):
    """One's own password, old and new."""

    password = serializers.CharField(max_length=200, trim_whitespace=False)
    new = serializers.CharField(max_length=200, trim_whitespace=False)


class SignInPlaceSerializer(serializers.Serializer):
    """A device on which one is signed in."""

    id = serializers.IntegerField()
    agent = serializers.CharField()
    address = serializers.CharField(allow_null=True)
    begun_at = serializers.DateTimeField()
    here = serializers.SerializerMethodField()

    def get_here(self, place) -> bool:
        """Tell whether it is the one that asks."""
        return place.session == self.context["here"]


class PersonRowSerializer(serializers.Serializer):
    """A person who may sign in."""

    id = serializers.IntegerField()
    username = serializers.CharField()
    name = serializers.SerializerMethodField()
    role = serializers.SerializerMethodField()
    active = serializers.BooleanField(source="is_active")
    last_login = serializers.DateTimeField(allow_null=True)

    def get_name(self, person) -> str:
        """Name them as they stand on records."""
        return name_of(person)

    def get_role(self, person) -> serializers.ChoiceField(ROLES):
        """Tell what they may do."""
        return role_of(person)


class NewPersonSerializer(serializers.Serializer):
    """A person who is to be added."""

    username = serializers.CharField(max_length=150)
    name = serializers.CharField(max_length=200)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    role = serializers.ChoiceField(ROLES, default=ROLES[0])


class PersonStandingSerializer(serializers.Serializer):
    """What a lead may change of a person."""

    name = serializers.CharField(max_length=200, allow_blank=True)
    role = serializers.ChoiceField(ROLES)
    active = serializers.BooleanField()


class ChangePersonSerializer(serializers.Serializer):
    """What is to stand of a person, and what stood when it was looked at."""

    wanted = PersonStandingSerializer()
    was = PersonStandingSerializer()


class ResetPasswordSerializer(serializers.Serializer):
    """A person's new password."""

    password = serializers.CharField(max_length=200, trim_whitespace=False)
