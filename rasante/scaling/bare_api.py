"""The line without a tank over HTTP: read as far as it is typed, made into a tank, or kept with one's readings."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.scaling.bare import read_bare
from ..http import checked
from ..planned.api import kept_plan
from ..planned.serializers import KeptPlanSerializer, PlannedSerializer
from ..tanks.serializers import TankSerializer
from . import answers, bare, present
from . import serializers as forms


class BareLineView(APIView):
    """The line without a tank."""

    @extend_schema(request=PlannedSerializer, responses=described(answers.BareLine), operation_id="bare_line")
    def post(self, request):
        """Give all values at the one that is typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        return Response(present.bare_line(read_bare(form["entries"], form["system"]), form["system"]))


class BareTankView(APIView):
    """A tank made of a line."""

    @extend_schema(request=forms.BareTankSerializer, responses={201: TankSerializer}, operation_id="bare_line_tank")
    def post(self, request):
        """Make a tank of a line, with everything that was typed."""
        form = checked(forms.BareTankSerializer, request)
        tank = bare.tank_of_line(form["site"], form["name"], form["entries"], form["system"], request.user)
        return Response(TankSerializer(tank).data, status=201)


class BareFindingView(APIView):
    """A line's values as a finding on a tank."""

    @extend_schema(
        request=forms.BareFindingSerializer, responses=KeptPlanSerializer, operation_id="bare_line_finding"
    )
    def post(self, request):
        """Put a line's values with a tank's readings."""
        form = checked(forms.BareFindingSerializer, request)
        kept = bare.finding_on(form["tank"], form["entries"], form["system"], request.user)
        return Response(kept_plan(kept, form["tank"]))
