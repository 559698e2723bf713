"""Sites, tanks and their tables over HTTP."""

from __future__ import annotations

from dataclasses import asdict

from django.db.models import Q
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_view
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..core import cautions
from ..core.tanks import kinds
from ..core.tanks.ports import USES, judge_ports, read_ports, read_position
from ..core.tanks.survey import judge_reference, read_survey
from ..core.tanks.tank_file import write_tank_file
from ..core.units import SYSTEM_UNITS, UNITS
from ..http import attachment, checked
from . import present, services, sheets
from . import serializers as forms
from .models import Site, Tank

STEP = [
    OpenApiParameter("step", str, description="Step of innage, for instance 10 or 1/8"),
    OpenApiParameter("step_unit", str, enum=services.STEP_UNITS),
]
FILE_UNITS = [*STEP, OpenApiParameter("volume_unit", str, enum=services.VOLUME_UNITS)]


class WordsView(APIView):
    """The words and units that the screens are built from."""

    @extend_schema(responses=forms.WordsSerializer, operation_id="words")
    def get(self, request):
        """Give them all; they do not change while the server runs."""
        words = {
            "shapes": [
                {
                    "kind": kind.kind,
                    "label": kind.label,
                    "dimensions": [asdict(dimension) for dimension in kind.dimensions],
                    "heads": [
                        {"key": key, "label": label, "kinds": kinds.heads_allowed(kind.kind)}
                        for key, label in kind.heads
                    ],
                }
                for kind in kinds.SHAPES.values()
            ],
            "heads": [
                {"kind": k.kind, "label": k.label, "dimensions": [asdict(d) for d in k.dimensions]}
                for k in kinds.HEADS.values()
            ],
            "patterns": [
                {"label": label, "kind": kind, "entries": dict(entries)}
                for label, kind, entries in kinds.HEAD_PATTERNS
            ],
            "port_uses": USES,
            "products": cautions.product_names(),
            "standing_caution": cautions.standing_caution(),
            "units": [asdict(unit) for unit in UNITS.values()],
            "systems": SYSTEM_UNITS,
        }
        return Response(words)


class SiteViewSet(viewsets.ModelViewSet):
    """Sites."""

    serializer_class = forms.SiteSerializer
    queryset = Site.objects.prefetch_related("tanks").order_by("name")
    http_method_names = ["get", "post", "patch", "delete"]


SEARCH = OpenApiParameter("search", str, description="Part of a tank's, a product's or a site's name")
ORDER = OpenApiParameter(
    "order", str, enum=[minus + name for name in ("name", "site", "product", "changed") for minus in ("", "-")]
)
_ORDERS = {
    "name": "document__name",
    "site": "site__name",
    "product": "document__product",
    "changed": "changed_at",
}


@extend_schema_view(list=extend_schema(parameters=[SEARCH, ORDER]))
class TankViewSet(mixins.ListModelMixin, mixins.RetrieveModelMixin, viewsets.GenericViewSet):
    """Tanks."""

    serializer_class = forms.TankSerializer
    queryset = Tank.objects.select_related("site", "changed_by")

    def get_queryset(self):
        """Find tanks by a part of their name, product or site; in the order asked for."""
        tanks = super().get_queryset()
        search = self.request.query_params.get("search", "").strip()[:100]
        if search:
            tanks = tanks.filter(
                Q(document__name__icontains=search)
                | Q(document__product__icontains=search)
                | Q(site__name__icontains=search)
            )
        order = self.request.query_params.get("order", "")
        if order.lstrip("-") in _ORDERS:
            minus = "-" if order.startswith("-") else ""
            tanks = tanks.order_by(minus + _ORDERS[order.lstrip("-")], "id")
        return tanks

    @extend_schema(request=forms.NewTankSerializer, responses={201: forms.TankSerializer})
    def create(self, request):
        """Make a tank from a survey."""
        form = checked(forms.NewTankSerializer, request)
        tank = services.survey_tank(form["site"], form["entries"], form["system"], request.user, _facts(form))
        return Response(self.get_serializer(tank).data, status=201)

    @extend_schema(request=forms.ResurveySerializer, responses=forms.TankSerializer)
    def update(self, request, pk=None):
        """Change a tank to a new survey."""
        form = checked(forms.ResurveySerializer, request)
        tank = services.resurvey_tank(
            self.get_object(), form["entries"], form["system"], request.user, _facts(form), form["revision"]
        )
        return Response(self.get_serializer(tank).data)

    @extend_schema(responses={204: None})
    def destroy(self, request, pk=None):
        """Delete a tank that no signed record refers to."""
        services.delete_tank(self.get_object(), request.user)
        return Response(status=204)

    @extend_schema(request=forms.KeptSurveySerializer, responses=forms.SurveyReadingSerializer)
    @action(detail=False, methods=["post"])
    def survey(self, request):
        """Read a survey as far as it has been typed; nothing is kept."""
        form = checked(forms.KeptSurveySerializer, request)
        survey = read_survey(form["entries"], form["system"])
        ports = [port for port in form["ports"] if port["uses"]]
        judgements = judge_ports(read_ports(ports))
        if survey.drawn:
            judgements += judge_reference(survey.drawn.tank, form["system"])
        return Response(
            {
                "fields_read": [asdict(field) for field in survey.fields.values()],
                "facts": present.facts(survey.drawn) if survey.drawn else None,
                "complete": survey.file is not None,
                "judgements": [asdict(found) for found in judgements],
                "port_positions_mm": [read_position(port["position"], form["system"])[0] for port in form["ports"]],
            }
        )

    @extend_schema(request=forms.ImportSerializer, responses={201: forms.TankSerializer})
    @action(detail=False, methods=["post"], url_path="import")
    def import_file(self, request):
        """Make a tank from the text of a tank file."""
        form = checked(forms.ImportSerializer, request)
        tank = services.import_tank(form["site"], form["text"], request.user)
        return Response(self.get_serializer(tank).data, status=201)

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    @action(detail=True)
    def file(self, request, pk=None):
        """Give the tank file to keep."""
        tank = self.get_object()
        return attachment(write_tank_file(tank.document), "application/json", f"{tank.name}.json")

    @extend_schema(parameters=STEP, responses=forms.TableSerializer)
    @action(detail=True)
    def table(self, request, pk=None):
        """Give the volume table by columns."""
        tank = self.get_object()
        step = _step(request)
        table = services.table_of(tank.file, step.metres)
        return Response({"step": step.text, **present.table_columns(table, UNITS["mm"], UNITS["l"])})

    @extend_schema(parameters=FILE_UNITS, responses={(200, "text/csv"): OpenApiTypes.BINARY})
    @action(detail=True, url_path="table.csv")
    def table_csv(self, request, pk=None) -> HttpResponse:
        """Give the volume table as CSV, in the units asked for."""
        tank = self.get_object()
        step = _step(request)
        volume = services.read_volume_unit(request.query_params.get("volume_unit", "l"))
        length = UNITS[request.query_params.get("step_unit", "mm")]
        text = present.table_csv(services.table_of(tank.file, step.metres), length, volume)
        return attachment(text, "text/csv; charset=utf-8", f"{tank.name} table.csv")

    @extend_schema(parameters=FILE_UNITS, responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    @action(detail=True, url_path="table.pdf")
    def table_pdf(self, request, pk=None) -> HttpResponse:
        """Give the volume table as a sheet of one or two pages."""
        tank = self.get_object()
        step = _step(request)
        volume = services.read_volume_unit(request.query_params.get("volume_unit", "l"))
        length = UNITS[request.query_params.get("step_unit", "mm")]
        return attachment(sheets.table_sheet(tank, step, length, volume), "application/pdf", f"{tank.name} table.pdf")


def _step(request) -> services.Step:
    return services.read_step(request.query_params.get("step", "10"), request.query_params.get("step_unit", "mm"))


def _facts(form: dict) -> dict:
    ports = [{**port, "position": read_position(port["position"], form["system"])[1]} for port in form["ports"]]
    return {"notes": form["notes"], "ports": ports}
