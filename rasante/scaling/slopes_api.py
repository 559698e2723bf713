"""The slope of a tank's sensor over HTTP."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..gauges.api import kept_plan
from ..gauges.serializers import KeepPlannedSerializer, KeptPlanSerializer, PlannedSerializer
from ..http import checked
from ..tanks.models import Tank
from . import slopes
from .serializers import SlopesSerializer


def _tank(pk: int) -> Tank:
    return get_object_or_404(Tank.objects.select_related("site"), pk=pk)


class SlopesView(APIView):
    """The slope of one tank's sensor."""

    @extend_schema(responses=KeptPlanSerializer, operation_id="tank_slopes_read")
    def get(self, request, pk: int):
        """Give its readings as they are kept."""
        tank = _tank(pk)
        return Response(kept_plan(slopes.slopes_of(tank), tank))

    @extend_schema(request=KeepPlannedSerializer, responses=KeptPlanSerializer, operation_id="tank_slopes_keep")
    def put(self, request, pk: int):
        """Keep its readings and the school that was chosen."""
        tank = _tank(pk)
        form = checked(KeepPlannedSerializer, request)
        kept = slopes.keep_slopes(tank, form["entries"], form["system"], request.user, form["revision"])
        return Response(kept_plan(kept, tank))

    @extend_schema(request=PlannedSerializer, responses=SlopesSerializer, operation_id="tank_slopes_check")
    def post(self, request, pk: int):
        """Work the slope out by every school, as far as it has been typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        found = slopes.read_tank_slopes(_tank(pk), form["entries"], form["system"])
        return Response(slopes.present_slopes(found))
