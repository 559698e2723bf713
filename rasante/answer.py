"""What the API answers: dataclasses, and the serializers that are made of them for its schema."""

from __future__ import annotations

from dataclasses import field
from typing import Any

from drf_spectacular.contrib.rest_framework_dataclasses import OpenApiDataclassSerializerExtensions
from rest_framework import serializers
from rest_framework_dataclasses.serializers import DataclassSerializer


def told(help_text: str) -> Any:
    """A field of an answer, with what its name does not say."""
    return field(metadata={"serializer_kwargs": {"help_text": help_text}})


def given(field_of_it: serializers.Field) -> Any:
    """A field of an answer that its type does not describe."""
    return field(metadata={"serializer_field": field_of_it})


def column() -> Any:
    """A field of an answer that is a column of numbers."""
    return given(serializers.ListField(child=serializers.FloatField()))


def column_or_none() -> Any:
    """A field of an answer that is a column of numbers, or null."""
    return given(serializers.ListField(child=serializers.FloatField(), allow_null=True))


def moment() -> Any:
    """A field of an answer that is a time, written already."""
    return given(serializers.DateTimeField())


def one_of(choices: Any, **options: Any) -> Any:
    """A field of an answer that is one of some words."""
    return given(serializers.ChoiceField(choices, **options))


class AnswerSerializer(DataclassSerializer[Any]):
    """Describes a dataclass that is answered as it is: all its fields are always there."""

    serializer_field_mapping = {**DataclassSerializer.serializer_field_mapping, Any: serializers.JSONField}

    @property
    def serializer_dataclass_field(self) -> type[DataclassSerializer[Any]]:
        """What describes the dataclasses in it."""
        return AnswerSerializer

    def build_typed_field(self, *args: Any) -> Any:
        """Describe a field by its type; one that has a default is there too."""
        made, options = super().build_typed_field(*args)
        options.pop("required", None)
        return made, options


def described(shape: type, **options: Any) -> AnswerSerializer:
    """The description of an answer, or of many, for the schema.

    Parameters
    ----------
    shape : type
        A dataclass.
    **options
        Of the serializer: ``many``, ``allow_null``, ``help_text``.
    """
    return AnswerSerializer(dataclass=shape, **options)


class AnswerDescribed(OpenApiDataclassSerializerExtensions):
    """Writes the first line of a dataclass's docstring into the schema."""

    target_class = f"{__name__}.{AnswerSerializer.__name__}"
    priority = 1

    def map_serializer(self, auto_schema: Any, direction: Any) -> Any:
        """Describe it as the library does, in its own words."""
        schema = auto_schema._map_serializer(self.target, direction, bypass_extensions=True)
        said = (self.target.dataclass_definition.dataclass_type.__doc__ or "").strip()
        return {**schema, "description": said.partition("\n")[0]}
