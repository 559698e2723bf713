"""What is planned for a tank, over HTTP: every kind of it is given and kept alike."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema, extend_schema_view
from rest_framework.response import Response
from rest_framework.views import APIView

from ..accounts.models import name_of
from ..http import checked
from ..tanks.models import Tank
from .models import Planned
from .serializers import KeepPlannedSerializer, KeptPlanSerializer


def tank_at(pk: int) -> Tank:
    """Return a tank, or refuse its address."""
    return get_object_or_404(Tank.objects.select_related("site"), pk=pk)


def kept_plan(planned: Planned | None, tank: Tank) -> dict[str, Any]:
    """Write what is kept of a gauge, a wiring, or another plan of a tank."""
    if planned is None:
        return {"entries": {}, "revision": 0, "changed_at": None, "changed_by": "", "stale": False}
    return {
        "entries": planned.entries,
        "revision": planned.revision,
        "changed_at": planned.changed_at,
        "changed_by": name_of(planned.changed_by),
        "stale": planned.tank_revision != tank.revision,
    }


class PlannedView(APIView):
    """One kind of plan of one tank: its fields as they are kept, and the keeping of them."""

    #: The service that gives what is kept of a tank, and the one that keeps it.
    planned_of: ClassVar[Callable[[Tank], Planned | None]]
    keep_planned: ClassVar[Callable[..., Planned]]

    def answer(self, planned: Any, tank: Tank) -> dict[str, Any]:
        """Write what is kept."""
        return kept_plan(planned, tank)

    def get(self, request, pk: int):
        """Give its fields as they are kept."""
        tank = tank_at(pk)
        return Response(self.answer(type(self).planned_of(tank), tank))

    def put(self, request, pk: int):
        """Keep its fields."""
        tank = tank_at(pk)
        form = checked(KeepPlannedSerializer, request)
        kept = type(self).keep_planned(tank, form["entries"], form["system"], request.user, form["revision"])
        return Response(self.answer(kept, tank))


def planned_schema(name: str, kept: type = KeptPlanSerializer) -> Callable[[type], type]:
    """Name the operations of a `PlannedView`, and what they give."""
    return extend_schema_view(
        get=extend_schema(responses=kept, operation_id=f"{name}_read"),
        put=extend_schema(request=KeepPlannedSerializer, responses=kept, operation_id=f"{name}_keep"),
    )
