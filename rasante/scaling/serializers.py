"""The forms of what the scaling API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..core.scaling.proof import CELLS
from ..core.units import SYSTEMS
from ..gauges.serializers import FormFieldSerializer
from ..tanks.serializers import FactsSerializer, JudgementSerializer, ProblemSerializer
from . import present, services
from .models import Proof, Transmitter

Numbers = serializers.ListField


class LineSerializer(serializers.Serializer):
    """All that reads at one level."""

    innage_mm = serializers.FloatField()
    ullage_mm = serializers.FloatField()
    volume_l = serializers.FloatField()
    u95_l = serializers.FloatField(allow_null=True)
    volume_pct = serializers.FloatField()
    linear_pct = serializers.FloatField()
    surface_m2 = serializers.FloatField()
    sensed_mm = serializers.FloatField(allow_null=True)
    current_ma = serializers.FloatField(allow_null=True)
    signal_ma = serializers.FloatField(allow_null=True)


class CurveSerializer(serializers.Serializer):
    """Nodes for cubic Hermite interpolation of the volume; the rest is straight between them."""

    innage_mm = Numbers(child=serializers.FloatField())
    volume_l = Numbers(child=serializers.FloatField())
    slope_l_per_mm = Numbers(child=serializers.FloatField())
    u95_l = Numbers(child=serializers.FloatField(), allow_null=True)
    sensed_mm = Numbers(child=serializers.FloatField(), allow_null=True)
    current_ma = Numbers(child=serializers.FloatField(), allow_null=True)
    measuring_ma = Numbers(child=serializers.FloatField())
    inside_height_mm = serializers.FloatField()
    reference_height_mm = serializers.FloatField()
    capacity_l = serializers.FloatField()


class TransmitterEntriesSerializer(serializers.Serializer):
    """A transmitter's fields as typed."""

    reports = serializers.CharField(allow_blank=True, default="")
    value_at_4ma_mm = serializers.CharField(allow_blank=True, default="", max_length=100)
    value_at_20ma_mm = serializers.CharField(allow_blank=True, default="", max_length=100)
    datum_offset_mm = serializers.CharField(allow_blank=True, default="", max_length=100)


class TransmitterCheckSerializer(serializers.Serializer):
    """A transmitter as far as it has been typed."""

    entries = TransmitterEntriesSerializer()
    system = serializers.ChoiceField(SYSTEMS, default="metric")


class TransmitterInputSerializer(TransmitterCheckSerializer):
    """A transmitter that is to be kept."""

    serial = serializers.CharField(max_length=80, allow_blank=True, default="")
    revision = serializers.IntegerField(help_text="The revision that the change began from; 0 for the first")


class TransmitterSerializer(serializers.ModelSerializer):
    """A tank's transmitter."""

    entries = TransmitterEntriesSerializer()
    serial = serializers.CharField(read_only=True)
    revision = serializers.IntegerField(read_only=True)
    changed_by = serializers.SerializerMethodField()

    class Meta:
        model = Transmitter
        fields = ["entries", "serial", "revision", "changed_at", "changed_by"]

    def get_changed_by(self, transmitter: Transmitter) -> str:
        """Name whoever changed it last."""
        return name_of(transmitter.changed_by)


class ScaleMarkSerializer(serializers.Serializer):
    """A current, and the level that it stands for, in the tank or outside it."""

    current_ma = serializers.FloatField()
    innage_mm = serializers.FloatField()


class ScaleSerializer(serializers.Serializer):
    """The scale of a tank: its transmitter, if any, how it fits, and what the five usual currents stand for."""

    transmitter = TransmitterSerializer(allow_null=True)
    marks = ScaleMarkSerializer(many=True)
    judgements = JudgementSerializer(many=True)


class UnderstoodSerializer(serializers.Serializer):
    """A transmitter's values as they were understood."""

    value_at_4ma_mm = serializers.FloatField()
    value_at_20ma_mm = serializers.FloatField()
    datum_offset_mm = serializers.FloatField()


class ScaleReadingSerializer(serializers.Serializer):
    """A transmitter as it was understood, and how it would fit."""

    understood = UnderstoodSerializer(allow_null=True)
    problems = ProblemSerializer(many=True)
    judgements = JudgementSerializer(many=True)


class SlopeSerializer(serializers.Serializer):
    """One school's line; standard errors and the correlation are of a fit alone."""

    school = serializers.CharField()
    label = serializers.CharField()
    zero_mm = serializers.FloatField()
    full_mm = serializers.FloatField()
    per_unit_mm = serializers.FloatField()
    residuals_mm = Numbers(child=serializers.FloatField())
    worst_mm = serializers.FloatField()
    zero_se_mm = serializers.FloatField(allow_null=True)
    per_unit_se_mm = serializers.FloatField(allow_null=True)
    r = serializers.FloatField(allow_null=True)
    says = serializers.CharField()


class SlopesSerializer(serializers.Serializer):
    """A sensor's slope by every school; a reading is its signal and its level in millimetres."""

    fields_read = FormFieldSerializer(many=True)
    signal = serializers.CharField()
    signals = serializers.DictField(child=serializers.CharField())
    schools = serializers.DictField(child=serializers.CharField())
    zero = serializers.FloatField()
    full = serializers.FloatField()
    readings = serializers.ListField(child=Numbers(child=serializers.FloatField()))
    outlier = serializers.IntegerField(allow_null=True)
    slopes = SlopeSerializer(many=True)
    judgements = JudgementSerializer(many=True)


class PointEntriesSerializer(serializers.Serializer):
    """A point's fields as typed."""

    applied = serializers.CharField(allow_blank=True, required=False)
    found_up = serializers.CharField(allow_blank=True, required=False)
    found_down = serializers.CharField(allow_blank=True, required=False)
    left_up = serializers.CharField(allow_blank=True, required=False)
    left_down = serializers.CharField(allow_blank=True, required=False)


class DipEntriesSerializer(serializers.Serializer):
    """A dip's fields as typed."""

    kind = serializers.ChoiceField(["innage", "ullage"])
    measured = serializers.CharField(allow_blank=True)
    indicated = serializers.CharField(allow_blank=True)
    tolerance = serializers.CharField(allow_blank=True)


class ProofEntriesSerializer(serializers.Serializer):
    """A proof's fields as typed."""

    applied_as = serializers.ChoiceField(["current", "innage", "sensed"])
    read_as = serializers.ChoiceField(["innage", "sensed", "span_pct", "volume", "volume_pct", "current"])
    tolerance = serializers.CharField(allow_blank=True)
    points = PointEntriesSerializer(many=True)
    dip = DipEntriesSerializer()
    control_in_manual = serializers.BooleanField()
    control_restored = serializers.BooleanField()
    remarks = serializers.CharField(allow_blank=True)


class CellSerializer(serializers.Serializer):
    """A reading's error."""

    error_mm = serializers.FloatField()
    error_pct = serializers.FloatField()
    passes = serializers.BooleanField()


class CellsSerializer(serializers.Serializer):
    """The readings of a point that are there."""

    def get_fields(self):
        """One for each run and direction."""
        return {name: CellSerializer(required=False) for name in CELLS}


class PointResultSerializer(serializers.Serializer):
    """What was made of a point."""

    should_read = serializers.CharField()
    innage_mm = serializers.FloatField(allow_null=True)
    cells = CellsSerializer()


class WorstSerializer(serializers.Serializer):
    """The largest of something, and at which point (1 to 5)."""

    point = serializers.IntegerField()
    direction = serializers.CharField()
    value_mm = serializers.FloatField()
    value_pct = serializers.FloatField()


class RunResultSerializer(serializers.Serializer):
    """What was made of a run."""

    verdict = serializers.ChoiceField(["pass", "fail", "incomplete"])
    worst = WorstSerializer(allow_null=True)
    hysteresis = WorstSerializer(allow_null=True)
    zero_mm = serializers.FloatField(allow_null=True)
    full_mm = serializers.FloatField(allow_null=True)
    rest_mm = serializers.FloatField(allow_null=True)


class RunsSerializer(serializers.Serializer):
    """The runs of which something was read."""

    found = RunResultSerializer(required=False)
    left = RunResultSerializer(required=False)


class DipResultSerializer(serializers.Serializer):
    """A dip beside the indication."""

    dipped_mm = serializers.FloatField()
    indicated_mm = serializers.FloatField()
    difference_mm = serializers.FloatField()
    difference_l = serializers.FloatField()
    difference_pct = serializers.FloatField()
    passes = serializers.BooleanField()


class ProofResultSerializer(serializers.Serializer):
    """What was made of a proof."""

    tolerance_mm = serializers.FloatField(allow_null=True)
    tolerance_pct = serializers.FloatField(allow_null=True)
    span_mm = serializers.FloatField()
    points = PointResultSerializer(many=True)
    runs = RunsSerializer()
    dip = DipResultSerializer(allow_null=True)
    verdict = serializers.ChoiceField(["pass", "fail", "incomplete"])
    problems = ProblemSerializer(many=True)
    missing = serializers.ListField(child=serializers.CharField())
    capacity_l = serializers.FloatField()


class ProofSerializer(serializers.ModelSerializer):
    """A proof with what was made of it."""

    entries = ProofEntriesSerializer()
    system = serializers.ChoiceField(SYSTEMS)
    state = serializers.ChoiceField(["draft", "signed"])
    kept = serializers.IntegerField(read_only=True)
    result = serializers.SerializerMethodField()
    made_by = serializers.SerializerMethodField()
    signed_by = serializers.SerializerMethodField()

    class Meta:
        model = Proof
        fields = [
            "id", "tank", "state", "entries", "system", "kept", "made_at", "made_by", "changed_at", "signed_at",
            "signed_by", "result",
        ]  # fmt: skip

    def get_result(self, proof: Proof) -> ProofResultSerializer:
        """Give the result: of a signed proof as it was signed, of a draft as it stands."""
        if proof.record:
            return proof.record["result"]
        transmitter = services.transmitter_of(proof.tank)
        if transmitter is None:
            return None
        return present.proof_result(
            services.result_of(proof), proof.entries, proof.tank.file.tank, transmitter.scaled, proof.system
        )

    def get_made_by(self, proof: Proof) -> str:
        """Name whoever began it."""
        return name_of(proof.made_by)

    def get_signed_by(self, proof: Proof) -> str:
        """Name whoever signed it."""
        return proof.record["signed_by"] if proof.record else ""


class BeginProofSerializer(serializers.Serializer):
    """A proof to begin."""

    system = serializers.ChoiceField(SYSTEMS, default="metric")


class KeepDraftSerializer(serializers.Serializer):
    """What has been typed into a draft."""

    entries = ProofEntriesSerializer()
    kept = serializers.IntegerField()


class ImportReadingsSerializer(serializers.Serializer):
    """Readings from a CSV file."""

    text = serializers.CharField(trim_whitespace=False, allow_blank=True)
    kept = serializers.IntegerField()


class SignProofSerializer(serializers.Serializer):
    """A signature: the signer's own name, typed."""

    signature = serializers.CharField(max_length=150)
    kept = serializers.IntegerField()


class StationSerializer(serializers.Serializer):
    """A station of the work on a tank, and how far it has come."""

    key = serializers.ChoiceField(["survey", "table", "gauge", "wiring", "scale", "prove"])
    label = serializers.CharField()
    state = serializers.ChoiceField(["not started", "in hand", "done", "needs you"])
    words = serializers.CharField()


class DippedLevelSerializer(serializers.Serializer):
    """The level last dipped, with its age."""

    innage_mm = serializers.FloatField()
    volume_l = serializers.FloatField()
    volume_pct = serializers.FloatField()
    at = serializers.DateTimeField()
    age_days = serializers.FloatField()


class CardSerializer(serializers.Serializer):
    """A tank on the board."""

    id = serializers.IntegerField()
    site_name = serializers.CharField()
    facts = FactsSerializer()
    stations = StationSerializer(many=True)
    level = DippedLevelSerializer(allow_null=True)


class AttentionSerializer(serializers.Serializer):
    """Something that needs a person."""

    tank = serializers.IntegerField()
    name = serializers.CharField()
    site_name = serializers.CharField()
    station = serializers.CharField()
    words = serializers.CharField()
    state = serializers.CharField()


class BoardSerializer(serializers.Serializer):
    """The board."""

    attention = AttentionSerializer(many=True)
    attention_count = serializers.IntegerField()
    tanks = CardSerializer(many=True)
    tank_count = serializers.IntegerField()
