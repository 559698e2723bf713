"""Tables over HTTP: made, handed out in files, issued, compared, and cut down for devices."""

from __future__ import annotations

import json

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.products.correction import STANDARDS
from ..core.products.liquid import Liquid, read_liquid
from ..core.quantities.errors import InputError
from ..core.quantities.typed import read_number, read_quantity
from ..core.quantities.units import SYSTEMS, UNITS
from ..core.tanks.contents import contents_at
from ..core.tanks.device_points import fit_device
from ..core.tanks.table import Table, worst_linear_gauge
from ..core.tanks.uncertainty import budget_at
from ..http import attachment, checked, system_of
from . import answers, files, issued, present, services, sheets
from . import table_serializers as forms
from .columns import LITRE, MM, rounded, table_columns
from .models import IssuedTable, Tank

SYSTEM = OpenApiParameter("system", str, enum=SYSTEMS)
LIQUID = [
    OpenApiParameter("density", str, description="Observed, for instance 840 kg/m³; typical if left out"),
    OpenApiParameter("density_at", str, description="The temperature it was observed at"),
    OpenApiParameter("temperature", str, description="Of the liquid in the tank"),
    OpenApiParameter("water", str, description="Innage of the water under the product"),
    OpenApiParameter("standard", str, enum=tuple(STANDARDS)),
    SYSTEM,
]
ORDER = [
    OpenApiParameter("step", str, description="Step, for instance 10 or 1/8"),
    OpenApiParameter("step_unit", str, enum=services.STEP_UNITS),
    OpenApiParameter("start", str, description="Innage that the table starts at"),
    OpenApiParameter("end", str, description="Innage that it ends at"),
    OpenApiParameter("by", str, enum=("innage", "ullage")),
    OpenApiParameter("issued", int, description="The number of an issued table, instead of the tank as it stands"),
    *LIQUID,
]
FILE = [*ORDER, OpenApiParameter("volume_unit", str, enum=services.VOLUME_UNITS)]
POINTS = [
    OpenApiParameter("count", int, description="Points that the device holds"),
    OpenApiParameter(
        "level_resolution", str, description="What its levels are multiples of; as fine as may be if empty"
    ),
    OpenApiParameter("volume_resolution", str, description="What its volumes are multiples of"),
    OpenApiParameter("fixed_ends", bool),
    SYSTEM,
]
_LIQUID_KEYS = ("density", "density_at", "temperature", "water")


def tank_at(pk: int) -> Tank:
    """Return a tank with what its answers need, or 404."""
    return get_object_or_404(Tank.objects.select_related("site", "changed_by", "profile"), pk=pk)


def _liquid(request, tank: Tank) -> Liquid:
    standard = request.query_params.get("standard", "15C")
    if standard not in STANDARDS:
        raise InputError.at("standard", f"must be one of {', '.join(STANDARDS)}")
    entries = {key: request.query_params.get(key, "") for key in _LIQUID_KEYS}
    return read_liquid(tank.product, entries, standard, system_of(request))


def _order(request) -> services.TableOrder:
    query = request.query_params
    step = services.read_step(query.get("step", "10"), query.get("step_unit", "mm"))
    system = system_of(request)
    start, end = query.get("start", ""), query.get("end", "")
    by = query.get("by", "innage")
    if by not in ("innage", "ullage"):
        raise InputError.at("by", "must be innage or ullage")
    return services.TableOrder(
        step,
        read_quantity(start, "length", system, "start") if start.strip() else 0.0,
        read_quantity(end, "length", system, "end") if end.strip() else None,
        by,
    )


def _issued(tank: Tank, request) -> IssuedTable | None:
    number = request.query_params.get("issued", "")
    if not number:
        return None
    found = tank.issued_tables.filter(number=int(number)).first() if number.isdecimal() and len(number) < 9 else None
    if found is None:
        raise InputError.at("issued", f"this tank has no issued table {number[:20]}")
    return found


class _TableView(APIView):
    """What all answers about one table begin with."""

    def made(self, request, pk: int, printed: bool = False) -> files.MadeTable:
        """Make the table that is asked for, wide enough to be printed, or give the one that was issued."""
        tank = tank_at(pk)
        asked = _order(request)
        length = UNITS[request.query_params.get("step_unit", "mm")]
        order = sheets.printed_order(tank, asked, length) if printed else asked
        old = _issued(tank, request)
        table = services.table_of(tank.file, order) if old is None else issued.table_as_issued(old)
        liquid = None
        if any(request.query_params.get(key, "").strip() for key in (*_LIQUID_KEYS, "standard")):
            liquid = _liquid(request, tank)
        volume = services.read_volume_unit(request.query_params.get("volume_unit", "l"))
        widened = round(order.step.metres / asked.step.metres)
        return files.MadeTable(tank, table, old, order, liquid, length, volume, widened)


class TableView(_TableView):
    """The table."""

    @extend_schema(parameters=ORDER, responses=described(answers.Table), operation_id="tank_table")
    def get(self, request, pk: int):
        """Give the volume table by columns."""
        made = self.made(request, pk)
        table: Table = made.table
        worst = worst_linear_gauge(table)
        columns = table_columns(table, MM, LITRE)
        extra = files.liquid_columns(made, LITRE)
        return Response(
            answers.Table(
                step=made.step_text,
                issued=made.issued.number if made.issued else None,
                **columns,
                gap_pct=np.round((table.linear_ratio - table.volume_ratio) * 100, 9) + 0.0,
                standard_l=extra.get("standard_l"),
                mass_kg=extra.get("mass_kg"),
                worst_gauge=answers.WorstGauge(
                    innage_mm=worst.innage_m * 1000, difference_pct=worst.difference * 100
                ),
                liquid=None if made.liquid is None else present.liquid(made.liquid, system_of(request)),
            )
        )


class TableFileView(_TableView):
    """The table as a file."""

    #: csv, xlsx, json or pdf, by the address.
    ending = ""

    @extend_schema(parameters=FILE, responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request, pk: int) -> HttpResponse:
        """Give the table as CSV, XLSX, JSON or a PDF sheet, in the units asked for."""
        made = self.made(request, pk, printed=self.ending == "pdf")
        content_type, write = {**files.WRITERS, "pdf": ("application/pdf", sheets.table_sheet)}[self.ending]
        number = f" {made.issued.number}" if made.issued else ""
        return attachment(write(made), content_type, f"{made.tank.name} table{number}.{self.ending}")


class BudgetView(APIView):
    """Where the uncertainty at a level comes from."""

    @extend_schema(
        parameters=[OpenApiParameter("innage_mm", float)],
        responses=described(answers.Budget),
        operation_id="tank_budget",
    )
    def get(self, request, pk: int):
        """Give what each dimension adds, and what measuring the largest again would bring."""
        tank = tank_at(pk)
        innage = _innage(request, tank)
        budget = budget_at(tank.file, innage)
        return Response(
            answers.Budget(
                innage_mm=innage * 1000,
                u95_l=None if budget.u95_m3 is None else budget.u95_m3 * 1000,
                shares=[
                    answers.Share(
                        label=t.label,
                        half_width=t.half_width,
                        unit=t.unit,
                        stated=t.stated,
                        method=t.method,
                        share_pct=share * 100,
                    )
                    for t, share in budget.shares
                ],
                unstated=[t.label for t in budget.unstated],
                better_half_width=budget.better_mm,
                better_by=budget.better_by,
                better_u95_l=None if budget.better_u95_m3 is None else budget.better_u95_m3 * 1000,
            )
        )


def _innage(request, tank: Tank) -> float:
    text = request.query_params.get("innage_mm", "0")
    try:
        value = read_number(text) / 1000
    except InputError as error:
        raise InputError.at("innage_mm", error.problems[0].what) from None
    return float(np.clip(value, 0, tank.file.tank.inside_height))


class ContentsView(APIView):
    """What a tank holds at a level."""

    @extend_schema(
        parameters=[OpenApiParameter("innage_mm", float), *LIQUID],
        responses=described(answers.Contents),
        operation_id="tank_contents",
    )
    def get(self, request, pk: int):
        """Give gross and standard volume, mass, and the water under the product."""
        tank = tank_at(pk)
        innage = _innage(request, tank)
        liquid = _liquid(request, tank)
        found = contents_at(tank.file.tank, liquid, innage)
        return Response(
            answers.Contents(
                innage_mm=innage * 1000,
                gross_l=found.gross_m3 * 1000,
                water_l=found.water_m3 * 1000,
                standard_l=found.standard_m3 * 1000,
                mass_kg=found.mass_kg,
                liquid=present.liquid(liquid, system_of(request)),
            )
        )


def _fitted(request, tank: Tank) -> answers.Fitted:
    query = request.query_params
    system = system_of(request)
    count = query.get("count", "20")
    if not count.isdecimal() or len(count) > 6:
        raise InputError.at("count", f"“{count[:20]}” is not a count of points")
    resolutions = []
    for key, quantity in (("level_resolution", "length"), ("volume_resolution", "volume")):
        text = query.get(key, "")
        resolutions.append(read_quantity(text, quantity, system, key) if text.strip() else 0.0)
    fixed = query.get("fixed_ends", "true").lower() != "false"
    fitted = fit_device(tank.file.tank, int(count), *resolutions, fixed)
    return answers.Fitted(
        **{
            name: present.device_points(getattr(fitted, name), tank.file.tank)
            for name in ("even", "on_curve", "free")
        }
    )


class PointsView(APIView):
    """The table cut down for a device."""

    @extend_schema(parameters=POINTS, responses=described(answers.Fitted), operation_id="tank_points")
    def get(self, request, pk: int):
        """Give three ways of choosing the points, each with its worst error."""
        return Response(_fitted(request, tank_at(pk)))


class PointsFileView(APIView):
    """The points as a file."""

    #: csv or json, by the address.
    ending = ""

    @extend_schema(
        parameters=[*POINTS, OpenApiParameter("which", str, enum=("even", "on_curve", "free"))],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY},
    )
    def get(self, request, pk: int) -> HttpResponse:
        """Give the points as CSV or JSON, for whatever device."""
        tank = tank_at(pk)
        which = request.query_params.get("which", "on_curve")
        if which not in ("even", "on_curve", "free"):
            raise InputError.at("which", "must be even, on_curve or free")
        points = getattr(_fitted(request, tank), which)
        name = f"{tank.name} {len(points.level_mm)} points.{self.ending}"
        if self.ending == "json":
            return attachment(json.dumps(files.points_json(tank, which, vars(points))), "application/json", name)
        return attachment(files.points_csv(vars(points)), "text/csv; charset=utf-8", name)


class IssuedTablesView(generics.ListAPIView):
    """A tank's issued tables."""

    serializer_class = forms.IssuedTableSerializer

    def get_queryset(self):
        """Find them, the newest first."""
        if getattr(self, "swagger_fake_view", False):
            return IssuedTable.objects.none()
        return IssuedTable.objects.filter(tank=tank_at(self.kwargs["pk"])).select_related("issued_by")

    @extend_schema(request=forms.IssueSerializer, responses={201: forms.IssuedTableSerializer})
    def post(self, request, pk: int):
        """Issue the tank's table under the next number; it never changes from then on."""
        form = checked(forms.IssueSerializer, request)
        order = services.TableOrder(services.read_step(form["step"], form["step_unit"]))
        found = issued.issue_table(tank_at(pk), order, form["why"], request.user, form["revision"])
        return Response(forms.IssuedTableSerializer(found).data, status=201)


class CompareView(APIView):
    """Two tables side by side."""

    @extend_schema(
        parameters=[
            OpenApiParameter("first", str, description="current, table-3 or chart-7"),
            OpenApiParameter("second", str, description="current, table-3 or chart-7"),
        ],
        responses=described(answers.Comparison),
        operation_id="tank_compare",
    )
    def get(self, request, pk: int):
        """Give the second less the first at every level, and where they are farthest apart."""
        query = request.query_params
        one, other, found = issued.compare_tables(
            tank_at(pk), query.get("first", issued.CURRENT), query.get("second", issued.CURRENT)
        )
        return Response(
            answers.Comparison(
                first=one.label,
                second=other.label,
                innage_mm=rounded(found.innage_m, MM),
                first_l=rounded(found.first_m3, LITRE),
                second_l=rounded(found.second_m3, LITRE),
                difference_l=rounded(found.difference_m3, LITRE),
                worst_level_mm=found.worst_level_m * 1000,
                worst_l=found.worst_m3 * 1000,
                worst_pct=found.worst_ratio * 100,
                mean_l=found.mean_m3 * 1000,
            )
        )
