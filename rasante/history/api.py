"""The history of a tank over HTTP."""

from __future__ import annotations

from dataclasses import asdict

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..http import checked, page_number
from ..planned.api import tank_at
from . import answers, services
from . import serializers as forms

PAGE = 20


class HistoryView(APIView):
    """What was changed on one tank."""

    @extend_schema(
        parameters=[OpenApiParameter("page", int, description="Which page, from 1")],
        responses=described(answers.History),
        operation_id="tank_history",
    )
    def get(self, request, pk: int):
        """Give a page of it, the newest first."""
        tank = tank_at(pk)
        start = (page_number(request) - 1) * PAGE
        index = services.index_of(tank)
        found = services.kept_at(tank, index[start : start + PAGE])
        kinds = {kind for _, kind, *_ in index}
        return Response(
            answers.History(
                count=len(index),
                results=[asdict(one) for one in found],
                revisions={kind: services.revision_now(tank, kind) for kind in kinds},
            )
        )

    @extend_schema(request=forms.RestoreSerializer, responses={204: None}, operation_id="tank_history_restore")
    def post(self, request, pk: int):
        """Go back to what was kept once, as a new revision."""
        form = checked(forms.RestoreSerializer, request)
        services.restore(tank_at(pk), form["kind"], form["id"], request.user, form["revision"])
        return Response(status=204)
