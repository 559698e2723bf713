"""The forms of what the API takes and gives of proofs. Units stand in the names."""

from __future__ import annotations

from dataclasses import asdict
from functools import cached_property

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from ..accounts.models import name_of
from ..answer import described
from ..core.proving.places import APPLIED, CELLS, READ
from ..core.proving.proof import places
from ..core.proving.proof_entries import usual_points
from ..core.proving.result import VERDICTS
from ..core.quantities.errors import InputError, Problem
from ..core.quantities.units import SYSTEMS, System
from ..core.scaling.chain import Chain
from ..tanks.models import Tank
from . import services, sheets
from .models import Proof
from .record import result_document, with_words


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

    applied_as = serializers.CharField(max_length=20)
    read_as = serializers.CharField(max_length=20)
    tolerance = serializers.CharField(allow_blank=True)
    points = PointEntriesSerializer(many=True)
    dip = DipEntriesSerializer()
    control_in_manual = serializers.BooleanField()
    control_restored = serializers.BooleanField()
    remarks = serializers.CharField(allow_blank=True)


class SplitSerializer(serializers.Serializer):
    """Where a volume's difference from the tank's own comes from: the table, the device's points, the instrument."""

    table_l = serializers.FloatField()
    points_l = serializers.FloatField()
    instrument_l = serializers.FloatField()


class CellSerializer(serializers.Serializer):
    """A reading's error."""

    error_mm = serializers.FloatField()
    error_pct = serializers.FloatField()
    passes = serializers.BooleanField()
    split = SplitSerializer(allow_null=True, required=False)


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

    verdict = serializers.ChoiceField(list(VERDICTS))
    says = serializers.CharField(help_text="The verdict in words")
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
    verdict = serializers.ChoiceField(list(VERDICTS))
    says = serializers.CharField(help_text="The verdict in words")
    problems = described(Problem, many=True)
    missing = serializers.ListField(child=serializers.CharField())
    capacity_l = serializers.FloatField()


class PlacesSerializer(serializers.Serializer):
    """What may be applied, and what may be read, by their keys."""

    applied = serializers.DictField(child=serializers.CharField())
    read = serializers.DictField(child=serializers.CharField())
    #: What is usually applied at the five points, by what may be applied.
    usual = serializers.DictField(child=serializers.ListField(child=serializers.CharField()))


class Judged:
    """What the drafts of one tank are judged against, worked out once however many there are.

    Parameters
    ----------
    tank : Tank
        The tank.
    """

    def __init__(self, tank: Tank) -> None:
        self.tank = tank
        self._chains: dict[str, Chain | None] = {}

    @cached_property
    def basis(self) -> services.Basis:
        """Its revisions."""
        return services.basis_of(self.tank)

    def chain(self, system: System) -> Chain | None:
        """Return the chain that a draft is taken of; None where it has gone."""
        if system not in self._chains:
            try:
                self._chains[system] = services.proved_chain(self.tank, system)
            except InputError:
                self._chains[system] = None
        return self._chains[system]


class BasisSerializer(serializers.Serializer):
    """What a draft is judged against: revisions of tank, chain and wiring, and the number of the table."""

    tank = serializers.IntegerField()
    chain = serializers.IntegerField()
    wiring = serializers.IntegerField()
    table = serializers.IntegerField()


class ProofSerializer(serializers.ModelSerializer):
    """A proof with what was made of it."""

    entries = ProofEntriesSerializer()
    system = serializers.ChoiceField(SYSTEMS)
    state = serializers.ChoiceField(["draft", "signed"])
    kept = serializers.IntegerField(read_only=True)
    result = serializers.SerializerMethodField()
    applied = serializers.SerializerMethodField()
    read = serializers.SerializerMethodField()
    places = serializers.SerializerMethodField()
    made_by = serializers.SerializerMethodField()
    signed_by = serializers.SerializerMethodField()
    basis = serializers.SerializerMethodField()

    class Meta:
        model = Proof
        fields = [
            "id", "tank", "state", "entries", "system", "kept", "made_at", "made_by", "changed_at", "signed_at",
            "signed_by", "result", "applied", "read", "places", "basis",
        ]  # fmt: skip

    def to_representation(self, proof: Proof) -> dict:
        """Read the chain once for everything that is said of it."""
        self._judged = self.context.get("judged") or Judged(proof.tank)
        self._there = None if proof.record else self._judged.chain(proof.system)
        return super().to_representation(proof)

    def get_result(self, proof: Proof) -> ProofResultSerializer:
        """Give the result: of a signed proof as it was signed, of a draft as it stands."""
        if proof.record:
            return with_words(proof.record["result"])
        if self._there is None:
            return None
        result = services.result_of(proof, self._there, self._judged.tank)
        return with_words(result_document(result, self._judged.tank.file.tank))

    def get_applied(self, proof: Proof) -> str:
        """Say what is applied."""
        return APPLIED.get(proof.entries["applied_as"], "") if not proof.record else sheets.applied_words(proof)

    def get_read(self, proof: Proof) -> str:
        """Say what is read."""
        return READ.get(proof.entries["read_as"], "") if not proof.record else sheets.read_words(proof)

    def get_places(self, proof: Proof) -> PlacesSerializer:
        """Give what may be applied and read; nothing of a signed proof."""
        if self._there is None:
            return {"applied": {}, "read": {}, "usual": {}}
        applied, read = places(self._there)
        usual = {place: usual_points(self._there, place, proof.system) for place in applied}
        return {"applied": applied, "read": read, "usual": usual}

    @extend_schema_field(BasisSerializer(allow_null=True))
    def get_basis(self, proof: Proof) -> dict[str, int] | None:
        """Give what a draft is judged against; nothing of a signed proof, which holds its own."""
        return None if proof.record else asdict(self._judged.basis)

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
    """A signature: the signer's own name and password, typed, over what was looked at."""

    signature = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    kept = serializers.IntegerField()
    basis = BasisSerializer()
