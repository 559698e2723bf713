"""The forms of what the gauges' API takes and gives. Units stand in the names."""

from __future__ import annotations

from rest_framework import serializers

from ..accounts.models import name_of
from ..core.gauges.model import check_model
from ..core.gauges.model_figures import with_figures
from ..planned.serializers import FormFieldSerializer, KeptPlanSerializer
from ..tanks.serializers import JudgementSerializer
from .models import GaugeModel


def numbers(**options) -> serializers.ListField:
    """A list of numbers."""
    return serializers.ListField(child=serializers.FloatField(), **options)


class UncertainPartSerializer(serializers.Serializer):
    """What one cause adds to a level's uncertainty."""

    name = serializers.CharField()
    u95_mm = serializers.FloatField()


class VerdictSerializer(serializers.Serializer):
    """A gauge model judged for a tank; the uncertainty is null for one that tells no level."""

    key = serializers.CharField()
    name = serializers.CharField()
    technology = serializers.CharField()
    verdict = serializers.ChoiceField(["fits", "fits_if", "no"])
    words = serializers.CharField()
    reasons = JudgementSerializer(many=True)
    outputs = serializers.ListField(child=serializers.CharField())
    install_min = serializers.FloatField()
    u95_l = serializers.FloatField(allow_null=True)
    u95_pct = serializers.FloatField(allow_null=True)
    u95_at_mm = serializers.FloatField(allow_null=True)
    u95_level_mm = serializers.FloatField(allow_null=True)
    table_u95_l = serializers.FloatField(allow_null=True)
    parts = UncertainPartSerializer(many=True)


class SituationSerializer(serializers.Serializer):
    """What a gauge meets, and what was taken as usual of it."""

    lowest_mm = serializers.FloatField()
    highest_mm = serializers.FloatField()
    temperature_c = numbers()
    pressure_bar = serializers.FloatField()
    density_kg_m3 = numbers()
    zone = serializers.CharField()
    vapour = serializers.CharField()
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()
    face_mm = serializers.FloatField()
    depth_mm = serializers.FloatField()
    assumed = serializers.ListField(child=serializers.CharField())


class PlanViewSerializer(serializers.Serializer):
    """A tank seen from above."""

    outline_mm = serializers.ListField(child=numbers())
    low_mm = numbers()
    high_mm = numbers()


class ObstacleSerializer(serializers.Serializer):
    """Something that stands in the tank."""

    kind = serializers.CharField()
    name = serializers.CharField()
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()
    radius_mm = serializers.FloatField()


class SchoolSerializer(serializers.Serializer):
    """A probe's length by one school of gap; null where the tank is too deep for it."""

    key = serializers.CharField()
    label = serializers.CharField()
    cut_mm = serializers.FloatField(allow_null=True)


class ProbeSerializer(serializers.Serializer):
    """A probe's cut."""

    school = serializers.CharField()
    depth_mm = serializers.FloatField()
    gap_mm = serializers.FloatField()
    cut_mm = serializers.FloatField()
    pieces_mm = numbers()
    schools = SchoolSerializer(many=True)
    wet_l = serializers.FloatField(allow_null=True)
    steps = serializers.ListField(child=serializers.CharField())
    judgements = JudgementSerializer(many=True)


class CableSerializer(serializers.Serializer):
    """A submersible sensor's cable."""

    down_mm = serializers.FloatField()
    run_mm = serializers.FloatField()
    loop_mm = serializers.FloatField()
    need_mm = serializers.FloatField()
    off_floor_mm = serializers.FloatField()
    stock_mm = serializers.FloatField(allow_null=True)
    have_mm = serializers.FloatField(allow_null=True)
    range_mm = serializers.FloatField()
    judgements = JudgementSerializer(many=True)


class RodSerializer(serializers.Serializer):
    """A rod."""

    key = serializers.CharField()
    name = serializers.CharField()
    tip_mm = serializers.FloatField()
    length_mm = serializers.FloatField()
    sheath_mm = serializers.FloatField()
    pieces_mm = numbers()
    couplings = serializers.IntegerField()


class RelayStateSerializer(serializers.Serializer):
    """What the relays do."""

    fill = serializers.BooleanField()
    cutout = serializers.BooleanField()
    pump = serializers.BooleanField()
    booster = serializers.BooleanField()


class BandSerializer(serializers.Serializer):
    """A band of levels, and what holds in it while the level rises and while it falls."""

    from_mm = serializers.FloatField()
    to_mm = serializers.FloatField()
    wet = serializers.ListField(child=serializers.CharField())
    rising = RelayStateSerializer()
    falling = RelayStateSerializer()
    filling = RelayStateSerializer(help_text="After a fill relay that was energised")
    resting = RelayStateSerializer(help_text="After one that was not")


class RodSetSerializer(serializers.Serializer):
    """Rods and their relays."""

    rods = RodSerializer(many=True)
    spacer_mm = serializers.FloatField()
    engaged_mm = serializers.FloatField(help_text="How far each rod goes into its coupling")
    pump_on = serializers.CharField()
    booster_on = serializers.CharField()
    terminals = serializers.ListField(child=serializers.CharField())
    bands = BandSerializer(many=True)
    judgements = JudgementSerializer(many=True)


class DrawnGaugeSerializer(serializers.Serializer):
    """A kept gauge in the long section: heights above the lowest inside point; foot null for what does not hang."""

    mount = serializers.CharField()
    x_mm = serializers.FloatField()
    face_mm = serializers.FloatField()
    floor_mm = serializers.FloatField()
    foot_mm = serializers.FloatField(allow_null=True)
    blanking_mm = serializers.FloatField()


class GaugeReadingSerializer(serializers.Serializer):
    """A gauge's plan as it was understood."""

    fields_read = FormFieldSerializer(many=True)
    situation = SituationSerializer()
    verdicts = VerdictSerializer(many=True)
    chosen = VerdictSerializer(allow_null=True)
    output = serializers.CharField()
    drawn = DrawnGaugeSerializer(allow_null=True)
    beam_reach_mm = serializers.FloatField(help_text="Half the beam's width at the floor; 0 without a beam")
    plan = PlanViewSerializer(allow_null=True)
    obstacles = ObstacleSerializer(many=True)
    pad_tilt_deg = serializers.FloatField()
    placement = JudgementSerializer(many=True)
    probe = ProbeSerializer(allow_null=True)
    cable = CableSerializer(allow_null=True)
    rods = RodSetSerializer(allow_null=True)


class KeptGaugeSerializer(KeptPlanSerializer):
    """What is kept of a gauge, with how it is drawn; null before one is chosen."""

    drawn = DrawnGaugeSerializer(allow_null=True)


class TiltSerializer(serializers.Serializer):
    """The error of a level sensor over a tilting tank's plan; null beside the tank."""

    fields_read = FormFieldSerializer(many=True)
    pitch_deg = serializers.FloatField()
    roll_deg = serializers.FloatField()
    fills_pct = numbers()
    x_mm = numbers()
    y_mm = numbers()
    worst_l = serializers.ListField(child=serializers.ListField(child=serializers.FloatField(allow_null=True)))
    best_mm = numbers()
    best_l = serializers.FloatField()
    middle_l = serializers.FloatField()
    along_l = serializers.FloatField()
    across_l = serializers.FloatField()
    along_off_mm = serializers.FloatField()
    across_off_mm = serializers.FloatField()


class TechnologySerializer(serializers.Serializer):
    """A way of measuring."""

    key = serializers.CharField()
    name = serializers.CharField()
    mount = serializers.CharField()
    senses = serializers.CharField()
    works = serializers.CharField()
    caution = serializers.CharField()


class GaugeWordsSerializer(serializers.Serializer):
    """The words that the gauges' screens are built from."""

    technologies = TechnologySerializer(many=True)
    verdicts = serializers.DictField(child=serializers.CharField())
    zones = serializers.DictField(child=serializers.CharField())
    amounts = serializers.DictField(child=serializers.CharField())
    walls = serializers.DictField(child=serializers.CharField())
    obstacles = serializers.DictField(child=serializers.CharField())
    schools = serializers.DictField(child=serializers.CharField())
    rods = serializers.DictField(child=serializers.CharField())
    contacts = serializers.DictField(child=serializers.CharField())
    outputs = serializers.ListField(child=serializers.CharField())
    materials = serializers.DictField(child=serializers.CharField())


class GaugeModelSerializer(serializers.ModelSerializer):
    """A gauge model that people added."""

    document = serializers.JSONField()
    name = serializers.CharField(read_only=True)
    revision = serializers.IntegerField(read_only=True)
    changed_by = serializers.SerializerMethodField()

    class Meta:
        model = GaugeModel
        fields = ["id", "name", "document", "revision", "changed_at", "changed_by"]

    def get_changed_by(self, model: GaugeModel) -> str:
        """Name whoever changed it last."""
        return name_of(model.changed_by)


class GaugeDocumentSerializer(serializers.Serializer):
    """A gauge model's document, as its schema has it."""

    document = serializers.DictField()
    figures = serializers.DictField(
        child=serializers.CharField(allow_blank=True, max_length=200), default=dict, help_text="As they are typed"
    )

    def validate(self, form):
        """Put the figures into the document; refuse what the core refuses, at its keys."""
        document = with_figures(form["document"], form["figures"])
        check_model(document)
        return {**form, "document": document}


class ChangeGaugeModelSerializer(GaugeDocumentSerializer):
    """A gauge model that is to be changed."""

    revision = serializers.IntegerField()


class LibraryEntrySerializer(serializers.Serializer):
    """A gauge model of the library; ``id`` is null for a generic one."""

    key = serializers.CharField()
    id = serializers.IntegerField(allow_null=True)
    revision = serializers.IntegerField(allow_null=True)
    document = serializers.DictField()


class ModelsFileSerializer(serializers.Serializer):
    """The text of a file of gauge models."""

    text = serializers.CharField(trim_whitespace=False)


class ImportedModelsSerializer(serializers.Serializer):
    """What an import did."""

    added = serializers.IntegerField()
    changed = serializers.IntegerField()


class WetEndSerializer(serializers.Serializer):
    """One wet end."""

    end = serializers.ChoiceField(["full", "empty"])
    label = serializers.CharField()
    spread = serializers.FloatField(allow_null=True)
    still = serializers.BooleanField()
    counts = serializers.FloatField(allow_null=True)


class WetEndsSerializer(serializers.Serializer):
    """The wet ends of a probe."""

    fields_read = FormFieldSerializer(many=True)
    ends = WetEndSerializer(many=True)
    limit = serializers.FloatField()
    ready = serializers.BooleanField()
    judgements = JudgementSerializer(many=True)
