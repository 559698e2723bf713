"""Gauge models and the gauge of a tank over HTTP."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.gauges.model import file_schema, technologies
from ..core.gauges.placement import OBSTACLES
from ..core.gauges.probes import SCHOOLS
from ..core.gauges.rods import CONTACTS, RODS
from ..core.gauges.situation import AMOUNTS, WALLS, ZONE_NAMES
from ..core.gauges.suit import VERDICTS
from ..core.gauges.tilt import read_tilt, tilt_map
from ..core.gauges.wet_ends import ENDS as WET_ENDS
from ..core.products.registry import materials
from ..core.quantities.form import Form
from ..core.quantities.signals import OUTPUTS
from ..http import attachment, checked, system_of
from ..planned.api import PlannedView, kept_plan, planned_schema, tank_at
from ..planned.present import fields
from ..planned.serializers import PlannedSerializer
from ..tanks.models import Tank
from ..tanks.present import judgements
from . import answers, present, services, sheets, wet_ends
from . import serializers as forms
from .models import GaugeModel, GaugePlan


class GaugeWordsView(APIView):
    """The words that the gauges' screens are built from."""

    @extend_schema(responses=described(answers.GaugeWords), operation_id="gauge_words")
    def get(self, request):
        """Give them all; they do not change while the server runs."""
        return Response(
            answers.GaugeWords(
                technologies=[
                    answers.Technology(one.key, one.name, one.mount, one.senses, one.works, one.caution)
                    for one in technologies().values()
                ],
                verdicts=VERDICTS,
                zones=ZONE_NAMES,
                amounts=AMOUNTS,
                walls=WALLS,
                obstacles={key: label for key, (label, _) in OBSTACLES.items()},
                schools={school.key: school.label for school in SCHOOLS.values()},
                rods=RODS,
                contacts=CONTACTS,
                outputs=list(OUTPUTS),
                materials={key: material["name"] for key, material in materials().items()},
            )
        )


class GaugeModelViewSet(mixins.DestroyModelMixin, viewsets.GenericViewSet):
    """Gauge models: the generic ones, and those that people added."""

    serializer_class = forms.GaugeModelSerializer
    queryset = GaugeModel.objects.select_related("changed_by")
    pagination_class = None

    @extend_schema(responses=described(answers.LibraryEntry, many=True))
    def list(self, request):
        """Give them all."""
        own = {f"own-{model.pk}": model for model in GaugeModel.objects.all()}
        entries = [
            answers.LibraryEntry(
                key=key,
                id=own[key].pk if key in own else None,
                revision=own[key].revision if key in own else None,
                document=document,
            )
            for key, document in services.library().items()
        ]
        return Response(entries)

    @extend_schema(request=forms.GaugeDocumentSerializer, responses={201: forms.GaugeModelSerializer})
    def create(self, request):
        """Add a model."""
        form = checked(forms.GaugeDocumentSerializer, request)
        model = services.add_model(form["document"], request.user)
        return Response(self.get_serializer(model).data, status=201)

    @extend_schema(request=forms.ChangeGaugeModelSerializer, responses=forms.GaugeModelSerializer)
    def update(self, request, pk=None):
        """Change a model; gauges planned with it keep it as it was."""
        form = checked(forms.ChangeGaugeModelSerializer, request)
        model = services.change_model(self.get_object(), form["document"], form["revision"], request.user)
        return Response(self.get_serializer(model).data)

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    @action(detail=False, url_path="file")
    def export_file(self, request) -> HttpResponse:
        """Give all models as a file."""
        return attachment(services.export_models(), "application/json", "gauge models.json")

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    @action(detail=False, url_path="schema")
    def file_schema(self, request):
        """Give the JSON Schema of such a file."""
        return Response(file_schema())

    @extend_schema(request=forms.ModelsFileSerializer, responses=described(answers.ImportedModels))
    @action(detail=False, methods=["post"], url_path="import")
    def import_file(self, request):
        """Add the models of a file; one whose name is known is brought up to date."""
        added, changed = services.import_models(checked(forms.ModelsFileSerializer, request)["text"], request.user)
        return Response(answers.ImportedModels(added=added, changed=changed))


@planned_schema("tank_gauge", forms.KeptGaugeSerializer)
class GaugeView(PlannedView):
    """The gauge of one tank."""

    planned_of, keep_planned = services.gauge_of, services.keep_gauge

    def answer(self, planned: GaugePlan | None, tank: Tank) -> dict:
        """Write what is kept, and how it stands in the section."""
        return {**kept_plan(planned, tank), "drawn": planned.document.get("drawn") if planned else None}

    @extend_schema(
        request=PlannedSerializer, responses=described(answers.GaugeReading), operation_id="tank_gauge_check"
    )
    def post(self, request, pk: int):
        """Judge its fields as far as they have been typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        return Response(present.gauge_plan(services.read_gauge(tank_at(pk), form["entries"], form["system"])))


class TiltView(APIView):
    """The tilt map of one tank."""

    @extend_schema(request=PlannedSerializer, responses=described(answers.Tilt), operation_id="tank_gauge_tilt")
    def post(self, request, pk: int):
        """Map the error over its plan."""
        tank = tank_at(pk)
        sent = checked(PlannedSerializer, request)
        form = Form(sent["entries"], sent["system"])
        pitch, roll, fills = read_tilt(form)
        return Response(present.tilt(tilt_map(tank.file.tank, pitch, roll, fills), pitch, roll, fills, form))


class CutSheetView(APIView):
    """The cut sheet of one tank's gauge."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY}, operation_id="tank_cut_sheet")
    def get(self, request, pk: int) -> HttpResponse:
        """Give it as a sheet."""
        tank = tank_at(pk)
        content = sheets.cut_sheet(tank, system_of(request))
        return attachment(content, "application/pdf", f"{tank.name} cut sheet.pdf")


@planned_schema("tank_wet_ends")
class WetEndsView(PlannedView):
    """The wet ends of one tank's probe."""

    planned_of, keep_planned = wet_ends.wet_ends_of, wet_ends.keep_wet_ends

    @extend_schema(
        request=PlannedSerializer, responses=described(answers.WetEnds), operation_id="tank_wet_ends_check"
    )
    def post(self, request, pk: int):
        """Read them as far as they have been typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        found = wet_ends.read_tank_wet_ends(tank_at(pk), form["entries"], form["system"])
        return Response(
            answers.WetEnds(
                fields_read=fields(found.form),
                ends=[
                    answers.WetEnd(
                        end=end,
                        label=label,
                        spread=found.ends[end].spread,
                        still=found.ends[end].still,
                        counts=found.ends[end].counts,
                    )
                    for end, label in WET_ENDS.items()
                ],
                limit=found.limit,
                ready=found.ready,
                judgements=judgements(found.judgements, form["system"]),
            )
        )
