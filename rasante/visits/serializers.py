"""The forms of what the API takes and gives of visits."""

from __future__ import annotations

from rest_framework import serializers

from ..core.procedures.step import KINDS, QUANTITIES
from ..core.quantities.units import SYSTEMS
from ..tanks.serializers import JudgementSerializer, ProblemSerializer
from .course import DID
from .models import Visit


class FactOptionSerializer(serializers.Serializer):
    """Something to choose."""

    key = serializers.CharField()
    label = serializers.CharField()


class FactSerializer(serializers.Serializer):
    """A fact, and what it may be."""

    key = serializers.CharField()
    title = serializers.CharField()
    options = FactOptionSerializer(many=True)


class ProposedVisitSerializer(serializers.Serializer):
    """What a visit to a tank may be opened with."""

    jobs = FactOptionSerializer(many=True)
    methods = FactOptionSerializer(many=True)
    facts = FactSerializer(many=True)
    proposed = serializers.DictField(child=serializers.CharField())


class FactsField(serializers.DictField):
    """Facts as chosen."""

    child = serializers.CharField(max_length=40)


class PreviewFactsSerializer(serializers.Serializer):
    """Facts as chosen so far."""

    facts = FactsField()


class PreviewSerializer(serializers.Serializer):
    """What a visit would be."""

    matters = serializers.ListField(child=serializers.CharField(), help_text="Facts by which steps come or go")
    against = ProblemSerializer(many=True)
    steps = serializers.IntegerField()
    minutes = serializers.FloatField(allow_null=True)
    in_a_row = serializers.FloatField(allow_null=True)


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


class VisitInListSerializer(serializers.Serializer):
    """A visit in a list."""

    id = serializers.IntegerField()
    number = serializers.IntegerField()
    tank = serializers.IntegerField()
    tank_name = serializers.CharField()
    site_name = serializers.CharField()
    job = serializers.CharField()
    state = serializers.ChoiceField(Visit.STATES)
    planned_at = serializers.DateTimeField(allow_null=True)
    opened_at = serializers.DateTimeField()
    opened_by = serializers.CharField()
    changed_at = serializers.DateTimeField()


class StepFieldSerializer(serializers.Serializer):
    """A field of a step."""

    to = serializers.CharField()
    label = serializers.CharField()
    quantity = serializers.ChoiceField(QUANTITIES)
    optional = serializers.BooleanField()
    limit_words = serializers.CharField()


class PhotoSerializer(serializers.Serializer):
    """A photograph."""

    id = serializers.IntegerField()
    step = serializers.CharField()
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    note = serializers.CharField()
    place = serializers.ListField(
        child=serializers.FloatField(), allow_null=True, help_text="Latitude, longitude [°]"
    )
    at = serializers.DateTimeField()
    by = serializers.CharField()


class StepSerializer(serializers.Serializer):
    """A step as it stands."""

    key = serializers.CharField()
    phase = serializers.CharField()
    title = serializers.CharField()
    instruction = serializers.CharField()
    why = serializers.CharField()
    hazard = serializers.CharField()
    who = serializers.CharField()
    kind = serializers.ChoiceField(KINDS)
    minutes = serializers.ListField(child=serializers.FloatField(), help_text="Least, likely, most")
    fields = StepFieldSerializer(many=True)
    options = FactOptionSerializer(many=True)
    shows = serializers.BooleanField()
    needs = serializers.ListField(child=serializers.CharField(), help_text="Gates that do not hold yet")
    gives = serializers.ListField(child=serializers.CharField())
    before = serializers.ListField(child=serializers.CharField(), help_text="Steps that come first and are open")
    state = serializers.ChoiceField(["open", "running", "done", "skip", "override"])
    by = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)
    began = serializers.DateTimeField(allow_null=True)
    ends = serializers.DateTimeField(allow_null=True)
    reason = serializers.CharField()
    took = serializers.FloatField(allow_null=True, help_text="min")
    values = serializers.DictField(child=serializers.CharField())
    photos = PhotoSerializer(many=True)


class GateSerializer(serializers.Serializer):
    """A gate."""

    title = serializers.CharField()
    hold = serializers.CharField()
    holds = serializers.BooleanField()
    by = serializers.CharField()
    reason = serializers.CharField()


class PlannedStepSerializer(serializers.Serializer):
    """When a step is likely to begin and end, from now [min]."""

    key = serializers.CharField()
    begin = serializers.FloatField()
    end = serializers.FloatField()
    waits = serializers.BooleanField()


class MinutesSerializer(serializers.Serializer):
    """How long is left [min]."""

    least = serializers.FloatField()
    likely = serializers.FloatField()
    most = serializers.FloatField()
    in_a_row = serializers.FloatField()
    critical = serializers.FloatField()


class VisitSerializer(VisitInListSerializer):
    """A visit as it stands."""

    facts = serializers.DictField(child=serializers.CharField())
    system = serializers.ChoiceField(SYSTEMS)
    revision = serializers.IntegerField()
    entered = serializers.IntegerField(help_text="How many entries and photographs it has")
    steps = StepSerializer(many=True)
    gates = GateSerializer(many=True)
    schedule = PlannedStepSerializer(many=True)
    minutes = MinutesSerializer()
    record = serializers.BooleanField(help_text="Whether it is signed")


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


class ReadFieldSerializer(serializers.Serializer):
    """What was made of a field of a step."""

    to = serializers.CharField()
    state = serializers.ChoiceField(["empty", "read", "wrong"])
    says = serializers.CharField()
    problem = serializers.CharField()


class FigureInputSerializer(serializers.Serializer):
    """A name and a value."""

    label = serializers.CharField()
    text = serializers.CharField()


class FigureSerializer(FigureInputSerializer):
    """A figure with its working."""

    formula = serializers.CharField()
    inputs = FigureInputSerializer(many=True)
    source = serializers.CharField()
    take = serializers.CharField(help_text="The start of the name of the field that it may be taken into")


class ShownSerializer(serializers.Serializer):
    """What a step shows."""

    fields = ReadFieldSerializer(many=True)
    lines = FigureSerializer(many=True)
    judgements = JudgementSerializer(many=True)
    station = serializers.CharField(help_text="The station of the tank's page where it is worked out")


class RecordedFigureSerializer(serializers.Serializer):
    """A figure as it was signed."""

    label = serializers.CharField()
    text = serializers.CharField()
    formula = serializers.CharField()
    inputs = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
    source = serializers.CharField()


class RecordedJudgementSerializer(serializers.Serializer):
    """A judgement as it was signed."""

    weight = serializers.ChoiceField(["stop", "watch", "good"])
    text = serializers.CharField()


class RecordedValueSerializer(serializers.Serializer):
    """A value as it was signed."""

    label = serializers.CharField()
    text = serializers.CharField()


class RecordedStepSerializer(serializers.Serializer):
    """A step as it was signed."""

    key = serializers.CharField()
    title = serializers.CharField()
    state = serializers.ChoiceField(["open", "running", "done", "skip", "override"])
    by = serializers.CharField()
    at = serializers.CharField()
    minutes = serializers.FloatField(allow_null=True)
    planned_minutes = serializers.ListField(child=serializers.FloatField())
    reason = serializers.CharField()
    values = RecordedValueSerializer(many=True)
    figures = RecordedFigureSerializer(many=True)
    minded = RecordedJudgementSerializer(many=True)


class RecordedGateSerializer(serializers.Serializer):
    """What had to hold."""

    title = serializers.CharField()
    by = serializers.CharField()
    reason = serializers.CharField()


class RecordedPaperSerializer(serializers.Serializer):
    """A table, device sheet or proof that came about at the visit."""

    kind = serializers.CharField()
    number = serializers.CharField()
    says = serializers.CharField()


class RecordedSerializer(serializers.Serializer):
    """What a visit's record holds."""

    steps = RecordedStepSerializer(many=True)
    gates = RecordedGateSerializer(many=True)
    papers = RecordedPaperSerializer(many=True)
    office = serializers.ListField(child=serializers.CharField(), help_text="To read to the office")
    seen = serializers.CharField(help_text="Its digest, without who signs and when")


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


class CustomerLinkSerializer(serializers.Serializer):
    """A link for a customer."""

    id = serializers.IntegerField()
    note = serializers.CharField()
    live = serializers.BooleanField()
    openings = serializers.IntegerField()
    opened_at = serializers.DateTimeField(allow_null=True)
    expires_at = serializers.DateTimeField()
    withdrawn_at = serializers.DateTimeField(allow_null=True)
    made_by = serializers.CharField()
    path = serializers.CharField(help_text="What to send; only when it was just made")


class MailSerializer(serializers.Serializer):
    """Whom to send a record to."""

    to = serializers.EmailField()
    note = serializers.CharField(allow_blank=True, default="", max_length=1000)


class OwnStepsSerializer(serializers.Serializer):
    """The shop's own steps, as a file."""

    text = serializers.CharField(max_length=400_000)
    revision = serializers.IntegerField()


class SentMailSerializer(serializers.Serializer):
    """A message that was written into a file."""

    to = serializers.CharField()
    subject = serializers.CharField()
    date = serializers.CharField()
    text = serializers.CharField()
    attached = serializers.ListField(child=serializers.CharField())
