"""The forms of what the API takes and gives of trouble."""

from __future__ import annotations

from rest_framework import serializers

from ..planned.serializers import FormFieldSerializer
from ..wiring.serializers import WiringDrawingSerializer


class SuspectSerializer(serializers.Serializer):
    """A part or setting, with how likely it is to be what is wrong."""

    part = serializers.CharField()
    says = serializers.CharField()
    share = serializers.FloatField()
    at = serializers.ListField(child=serializers.CharField(), help_text="Parts of the circuit that it is")
    hop = serializers.CharField(help_text="Station of the chain that it leads to")


class FaultChoiceSerializer(serializers.Serializer):
    """A test that may be done next."""

    test = serializers.CharField()
    do = serializers.CharField()
    place = serializers.CharField()
    set_up = serializers.CharField()
    minutes = serializers.FloatField(help_text="From where one stands")
    bits = serializers.FloatField(help_text="What it is expected to tell")
    worth = serializers.BooleanField(help_text="Whether that is worth its way")
    first = serializers.ListField(child=serializers.CharField())
    kit = serializers.ListField(child=serializers.CharField())
    dial = serializers.CharField()
    leads = serializers.ListField(child=serializers.CharField())
    put_in = serializers.CharField()
    outcomes = serializers.ListField(child=serializers.CharField())
    station = serializers.CharField(
        help_text="Of the chain, where it is read as it stands: a live value may be taken"
    )


class FaultMeaningSerializer(serializers.Serializer):
    """One thing that the advised test may find."""

    share = serializers.FloatField()
    reads = serializers.CharField()
    means = serializers.CharField()


class FaultTestSerializer(serializers.Serializer):
    """A test that can be done at this installation."""

    key = serializers.CharField()
    do = serializers.CharField()
    place = serializers.CharField()
    outcomes = serializers.ListField(child=serializers.CharField())


class FaultStepSerializer(serializers.Serializer):
    """One finding, with what it ruled out."""

    row = serializers.IntegerField()
    do = serializers.CharField()
    read = serializers.CharField()
    says = serializers.CharField()
    doubtful = serializers.BooleanField()


class SeriesLookSerializer(serializers.Serializer):
    """What some minutes of readings look like."""

    look = serializers.CharField()
    says = serializers.CharField()


class AlongSerializer(serializers.Serializer):
    """Something that was read along the chain and kept, as a finding of the case."""

    test = serializers.CharField()
    label = serializers.CharField(help_text="The station that was read")
    typed = serializers.CharField()
    says = serializers.CharField(help_text="The same with its unit")


class CaseReadingSerializer(serializers.Serializer):
    """A case of trouble as far as it has been typed."""

    fields_read = FormFieldSerializer(many=True)
    technologies = serializers.DictField(child=serializers.CharField())
    places = serializers.DictField(child=serializers.CharField())
    schools = serializers.DictField(child=serializers.CharField())
    school_minutes = serializers.DictField(child=serializers.IntegerField())
    kit = serializers.ListField(child=serializers.CharField())
    gates = serializers.DictField(child=serializers.CharField())
    at = serializers.CharField()
    verdict = serializers.ChoiceField(["go-on", "found", "nothing-fits", "cannot-tell"])
    because = serializers.CharField(help_text="Why the first test goes before others that tell more by the minute")
    says = serializers.ListField(
        child=serializers.CharField(), help_text="The verdict in words, then what to do about it"
    )
    parts = SuspectSerializer(many=True)
    fault_key = serializers.CharField()
    why = serializers.CharField()
    drawing = WiringDrawingSerializer(allow_null=True)
    choices = FaultChoiceSerializer(many=True)
    means = FaultMeaningSerializer(many=True)
    tests = FaultTestSerializer(many=True)
    terminals = serializers.DictField(child=serializers.CharField())
    stations = serializers.DictField(child=serializers.CharField())
    faults = serializers.DictField(child=serializers.CharField())
    steps = FaultStepSerializer(many=True)
    series = SeriesLookSerializer(allow_null=True, help_text="Those that were pasted")
    live = SeriesLookSerializer(allow_null=True, help_text="Those that arrive")
    along_at = serializers.DateTimeField(allow_null=True, help_text="When that was kept")
    along = AlongSerializer(many=True, help_text="What was read along the chain, and is no finding yet")
    minutes = serializers.FloatField()
    restore = serializers.BooleanField(help_text="Whether control has to be restored")


class FarBranchSerializer(serializers.Serializer):
    """What the test after the next may find."""

    reads = serializers.CharField()
    means = serializers.CharField()


class NearBranchSerializer(FarBranchSerializer):
    """What the next test may find, and what to do then."""

    verdict = serializers.CharField()
    then = serializers.CharField()
    minutes = serializers.FloatField()
    branches = FarBranchSerializer(many=True)


class BranchSerializer(NearBranchSerializer):
    """What the advised test may find, and what to do then."""

    branches = NearBranchSerializer(many=True)


class AheadSerializer(serializers.Serializer):
    """The next three tests, for whatever they find."""

    do = serializers.CharField()
    branches = BranchSerializer(many=True)


class CloseCaseSerializer(serializers.Serializer):
    """A case to be closed, with what was wrong."""

    fault = serializers.CharField(max_length=40)
    did = serializers.CharField(allow_blank=True, max_length=1000)
    restored = serializers.BooleanField()
    proven = serializers.BooleanField()
    system = serializers.ChoiceField(["metric", "us"])
    revision = serializers.IntegerField()


class TrailSerializer(serializers.Serializer):
    """One finding of a closed case."""

    did = serializers.CharField()
    read = serializers.CharField()
    says = serializers.CharField()


class FaultCaseSerializer(serializers.Serializer):
    """A closed case."""

    id = serializers.IntegerField()
    number = serializers.IntegerField()
    closed_at = serializers.DateTimeField()
    closed_by = serializers.CharField()
    was = serializers.CharField()
    part = serializers.CharField()
    did = serializers.CharField()
    minutes = serializers.FloatField()
    trail = TrailSerializer(many=True)
