"""The line through one tank over HTTP: what reads at a level, and the curve that a screen follows it by."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.quantities.units import SYSTEMS
from ..core.scaling.chain import STATIONS
from ..core.scaling.line import MOVED_BY, find_line, read_line
from ..http import system_of
from . import answers, present
from .chains import kept_chain, tanks_with_basis

SYSTEM = OpenApiParameter("system", str, enum=SYSTEMS)
BY = (*MOVED_BY, *(station for station in STATIONS if station != "level"))


class LineView(APIView):
    """The line through one tank."""

    @extend_schema(
        parameters=[
            OpenApiParameter("by", str, enum=BY, description="Which reading is known"),
            OpenApiParameter("text", str, description="Its value as typed"),
            SYSTEM,
        ],
        responses=described(answers.Line),
        operation_id="tank_line",
    )
    def get(self, request, pk: int):
        """Give all that reads at the level at which one reading is what was typed."""
        tank, system = get_object_or_404(tanks_with_basis(), pk=pk), system_of(request)
        chain = kept_chain(tank, system)
        by, text = request.query_params.get("by", "innage"), request.query_params.get("text", "")
        innage = find_line(tank.file, chain, by, text, system)
        return Response(present.line(read_line(tank.file, chain, innage), chain, system))


class CurveView(APIView):
    """The nodes of one tank's curve."""

    @extend_schema(parameters=[SYSTEM], responses=described(answers.Curve), operation_id="tank_curve")
    def get(self, request, pk: int):
        """Give what a screen needs to follow the line without asking."""
        tank, system = get_object_or_404(tanks_with_basis(), pk=pk), system_of(request)
        return Response(present.curve(tank.file, kept_chain(tank, system), system))
