"""Sites and tanks over HTTP: words, surveys, tank files."""

from __future__ import annotations

from dataclasses import asdict

from django.db.models import Count, Q
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_view
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.products import cautions
from ..core.products.registry import product_names
from ..core.quantities.odd_units import ODD
from ..core.quantities.units import SYSTEM_UNITS, UNITS
from ..core.tanks import kinds
from ..core.tanks.helpers import DIP_READ, HELPERS
from ..core.tanks.label import write_label
from ..core.tanks.measured import METHODS
from ..core.tanks.ports import USES, judge_ports, read_ports, read_position
from ..core.tanks.survey import judge_reference, read_survey
from ..core.tanks.tank_file import write_tank_file
from ..core.tanks.tolerances import tolerances
from ..http import attachment, checked
from . import answers, labels, present, services, sites
from . import serializers as forms
from .models import Site, Tank


def _dimension(dimension: kinds.Dimension) -> answers.Dimension:
    return answers.Dimension(**asdict(dimension), quantity=dimension.quantity)


def _kind(kind: kinds.Kind) -> answers.Kind:
    return answers.Kind(
        kind=kind.kind,
        label=kind.label,
        dimensions=[_dimension(dimension) for dimension in kind.dimensions],
        parts=[
            answers.Part(key=p.key, label=p.label, family=p.family, kinds=p.allowed, optional=p.optional)
            for p in kind.parts
        ],
        rows=[
            answers.Rows(
                key=rows.key,
                label=rows.label,
                columns=[_dimension(column) for column in rows.columns],
                fewest=rows.fewest,
                most=rows.most,
            )
            for rows in kind.rows
        ],
        choices=[answers.Choice(key=c.key, label=c.label, options=dict(c.options)) for c in kind.choices],
        sloping=kind.sloping,
    )


class WordsView(APIView):
    """The words and units that the screens are built from."""

    @extend_schema(responses=described(answers.Words), operation_id="words")
    def get(self, request):
        """Give them all; they do not change while the server runs."""
        words = answers.Words(
            shapes=[_kind(kind) for kind in kinds.SHAPES.values()],
            heads=[_kind(kind) for kind in kinds.HEADS.values()],
            sections=[_kind(kind) for kind in kinds.SECTIONS.values()],
            patterns=[
                answers.Pattern(label=label, kind=kind, entries=dict(entries))
                for label, kind, entries in kinds.HEAD_PATTERNS
            ],
            helpers=[
                answers.Helper(
                    key=helper.key,
                    label=helper.label,
                    fields_filled=helper.fields,
                    measures=list(helper.measures),
                    formula=helper.formula,
                    method=helper.method,
                )
                for helper in HELPERS.values()
            ],
            methods={method.key: method.label for method in METHODS.values()},
            dip_read=DIP_READ,
            port_uses=USES,
            products=product_names(),
            standing_caution=cautions.standing_caution(),
            units=list(UNITS.values()),
            bare_units={name: dict(odd.bare) for name, odd in ODD.items()},
            systems=SYSTEM_UNITS,
        )
        return Response(words)


class SiteViewSet(
    mixins.ListModelMixin, mixins.RetrieveModelMixin, mixins.DestroyModelMixin, viewsets.GenericViewSet
):
    """Sites."""

    serializer_class = forms.SiteSerializer
    queryset = Site.objects.annotate(tank_count=Count("tanks")).order_by("name")

    @extend_schema(request=forms.NewSiteSerializer, responses={201: forms.SiteSerializer})
    def create(self, request):
        """Make a site."""
        form = checked(forms.NewSiteSerializer, request)
        return self._answer(sites.make_site(form["name"], form["notes"]), 201)

    @extend_schema(request=forms.ChangeSiteSerializer, responses=forms.SiteSerializer)
    def partial_update(self, request, pk=None):
        """Rename a site or change its notes."""
        return self._answer(sites.change_site(self.get_object(), **checked(forms.ChangeSiteSerializer, request)))

    def _answer(self, site: Site, status: int = 200) -> Response:
        return Response(self.get_serializer(self.get_queryset().get(pk=site.pk)).data, status=status)


LENGTH_UNIT = OpenApiParameter("length_unit", str, enum=services.STEP_UNITS)
VOLUME_UNIT = OpenApiParameter("volume_unit", str, enum=services.VOLUME_UNITS)
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


@extend_schema_view(list=extend_schema(parameters=[SEARCH, ORDER], responses=described(answers.TankRow, many=True)))
class TankViewSet(mixins.RetrieveModelMixin, viewsets.GenericViewSet):
    """Tanks."""

    serializer_class = forms.TankSerializer
    queryset = Tank.objects.select_related("site", "changed_by", "profile")

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

    def list(self, request):
        """Give a page of tanks, each with what its row shows."""
        page = self.paginate_queryset(
            self.get_queryset()
            .select_related(None)
            .select_related("site")
            .only("document", "changed_at", "site__name")
        )
        rows = [
            answers.TankRow(tank.pk, tank.site.name, tank.changed_at, present.written_facts(tank.document))
            for tank in page
        ]
        return self.get_paginated_response(rows)

    @extend_schema(request=forms.NewTankSerializer, responses={201: forms.TankSerializer})
    def create(self, request):
        """Make a tank from a survey."""
        form = checked(forms.NewTankSerializer, request)
        tank = services.survey_tank(
            form["site"], form["entries"], form["system"], request.user, _facts(form), form["profile"]
        )
        return Response(self.get_serializer(tank).data, status=201)

    @extend_schema(request=forms.ResurveySerializer, responses=forms.TankSerializer)
    def update(self, request, pk=None):
        """Change a tank to a new survey."""
        form = checked(forms.ResurveySerializer, request)
        tank = services.resurvey_tank(
            self.get_object(),
            form["entries"],
            form["system"],
            request.user,
            _facts(form),
            form["revision"],
            form["profile"],
        )
        return Response(self.get_serializer(tank).data)

    @extend_schema(responses={204: None})
    def destroy(self, request, pk=None):
        """Delete a tank that no signed record refers to."""
        services.delete_tank(self.get_object(), request.user)
        return Response(status=204)

    @extend_schema(request=forms.KeptSurveySerializer, responses=described(answers.SurveyReading))
    @action(detail=False, methods=["post"])
    def survey(self, request):
        """Read a survey as far as it has been typed; nothing is kept."""
        form = checked(forms.KeptSurveySerializer, request)
        survey = read_survey(form["entries"], form["system"])
        ports = [port for port in form["ports"] if port["uses"]]
        judgements = judge_ports(read_ports(ports))
        if survey.drawn:
            judgements += judge_reference(survey.drawn.tank)
        dip = survey.dip
        return Response(
            answers.SurveyReading(
                solution=None if survey.solution is None else present.solution(survey.solution),
                dip=None if dip is None or survey.drawn is None else present.dip(dip, survey.drawn.tank),
                crossing_mm=present.crossing(survey.document),
                tolerances=tolerances(survey.drawn.document) if survey.drawn else [],
                fields_read=list(survey.fields.values()),
                facts=present.facts(survey.drawn) if survey.drawn else None,
                complete=survey.file is not None,
                judgements=present.judgements(judgements, form["system"]),
                port_positions_mm=[read_position(port["position"], form["system"])[0] for port in form["ports"]],
            )
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

    @extend_schema(responses={(200, "image/svg+xml"): OpenApiTypes.BINARY})
    @action(detail=True, url_path="label.svg")
    def label_svg(self, request, pk=None):
        """Give the code of the tank's label as a picture."""
        return HttpResponse(labels.label_svg(self.get_object()), content_type="image/svg+xml")

    @extend_schema(parameters=[LENGTH_UNIT, VOLUME_UNIT], responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    @action(detail=True, url_path="label.pdf")
    def label_pdf(self, request, pk=None):
        """Give the tank's label as a sheet."""
        tank = self.get_object()
        length = services.read_length_unit(request.query_params.get("length_unit", "mm"))
        volume = services.read_volume_unit(request.query_params.get("volume_unit", "l"))
        return attachment(labels.label_sheet(tank, length, volume), "application/pdf", f"{tank.name} label.pdf")

    @extend_schema(responses=described(answers.Label))
    @action(detail=True)
    def label(self, request, pk=None):
        """Give the text of the tank's label."""
        return Response(answers.Label(text=write_label(self.get_object().document)))

    @extend_schema(request=forms.PictureSerializer, responses=described(answers.Label))
    @action(detail=False, methods=["post"], url_path="read-picture")
    def read_picture(self, request):
        """Read the tank file from a picture of a label; nothing is kept."""
        return Response(answers.Label(text=labels.read_picture(checked(forms.PictureSerializer, request)["picture"])))


def _facts(form: dict) -> dict:
    ports = [{**port, "position": read_position(port["position"], form["system"])[1]} for port in form["ports"]]
    return {"notes": form["notes"], "ports": ports}
