"""The forms of the words and units that the screens are built from."""

from __future__ import annotations

from rest_framework import serializers


class DimensionSerializer(serializers.Serializer):
    """A number that a kind asks for."""

    key = serializers.CharField()
    label = serializers.CharField()
    hint = serializers.CharField()
    optional = serializers.BooleanField()
    signed = serializers.BooleanField()
    quantity = serializers.CharField()


class PartSerializer(serializers.Serializer):
    """A head or a section that a shape has, and the kinds it may be."""

    key = serializers.CharField()
    label = serializers.CharField()
    family = serializers.CharField()
    kinds = serializers.ListField(child=serializers.CharField())
    optional = serializers.BooleanField()


class RowsSerializer(serializers.Serializer):
    """A list that a kind asks for."""

    key = serializers.CharField()
    label = serializers.CharField()
    columns = DimensionSerializer(many=True)
    fewest = serializers.IntegerField()
    most = serializers.IntegerField()


class ChoiceSerializer(serializers.Serializer):
    """One of a few words."""

    key = serializers.CharField()
    label = serializers.CharField()
    options = serializers.DictField(child=serializers.CharField())


class KindSerializer(serializers.Serializer):
    """A kind of shape, head or section."""

    kind = serializers.CharField()
    label = serializers.CharField()
    dimensions = DimensionSerializer(many=True)
    parts = PartSerializer(many=True)
    rows = RowsSerializer(many=True)
    choices = ChoiceSerializer(many=True)
    sloping = serializers.BooleanField()


class MeasuredSerializer(serializers.Serializer):
    """One thing that a helper asks to be measured."""

    key = serializers.CharField()
    label = serializers.CharField()
    hint = serializers.CharField()
    quantity = serializers.CharField()
    optional = serializers.BooleanField()


class HelperSerializer(serializers.Serializer):
    """A way to work a dimension out."""

    key = serializers.CharField()
    label = serializers.CharField()
    fields_filled = serializers.ListField(child=serializers.CharField())
    measures = MeasuredSerializer(many=True)
    formula = serializers.CharField()
    method = serializers.CharField()


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

    shapes = KindSerializer(many=True)
    heads = KindSerializer(many=True)
    sections = KindSerializer(many=True)
    helpers = HelperSerializer(many=True)
    methods = serializers.DictField(child=serializers.CharField())
    dip_read = serializers.DictField(child=serializers.CharField())
    patterns = PatternSerializer(many=True)
    port_uses = serializers.DictField(child=serializers.CharField())
    products = serializers.ListField(child=serializers.CharField())
    standing_caution = serializers.CharField()
    units = UnitSerializer(many=True)
    bare_units = serializers.DictField(
        child=serializers.DictField(child=serializers.CharField()),
        help_text="The unit that a bare number of a quantity means, by system, where it is none of the units above",
    )
    systems = serializers.DictField(child=serializers.DictField(child=serializers.CharField()))
