"""The slope of a tank's sensor over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from ..answer import described
from ..http import checked
from ..planned.api import PlannedView, planned_schema, tank_at
from ..planned.serializers import PlannedSerializer
from . import answers, present, slopes


@planned_schema("tank_slopes")
class SlopesView(PlannedView):
    """The slope of one tank's sensor."""

    planned_of, keep_planned = slopes.slopes_of, slopes.keep_slopes

    @extend_schema(request=PlannedSerializer, responses=described(answers.Slopes), operation_id="tank_slopes_check")
    def post(self, request, pk: int):
        """Work the slope out by every school, as far as it has been typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        found = slopes.read_tank_slopes(tank_at(pk), form["entries"], form["system"])
        return Response(present.slopes(found))
