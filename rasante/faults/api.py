"""Trouble at a tank over HTTP."""

from __future__ import annotations

import json

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..http import PAGE_PARAMETERS, Pages, attachment, checked, pages_of
from ..planned.api import PlannedView, planned_schema, tank_at
from ..planned.serializers import PlannedSerializer
from . import answers, present, services
from . import serializers as forms
from .models import FaultCase


@planned_schema("tank_trouble")
class CaseView(PlannedView):
    """The case of trouble of one tank that is open."""

    planned_of, keep_planned = services.plan_of, services.keep_case

    @extend_schema(
        request=PlannedSerializer, responses=described(answers.CaseReading), operation_id="tank_trouble_check"
    )
    def post(self, request, pk: int):
        """Work out what is likely, and what to do next; nothing is kept."""
        form = checked(PlannedSerializer, request)
        tank = tank_at(pk)
        found = services.read_tank_case(tank, form["entries"], form["system"])
        along = services.along_the_chain(tank, found, form["system"])
        return Response(present.case(found, services.live_look(tank), along, form["system"]))


class AheadView(APIView):
    """The next tests, for where there is no network."""

    @extend_schema(request=PlannedSerializer, responses=described(answers.Ahead), operation_id="tank_trouble_ahead")
    def post(self, request, pk: int):
        """Work out the next three tests for whatever they find; nothing is kept."""
        form = checked(PlannedSerializer, request)
        found = services.read_tank_case(tank_at(pk), form["entries"], form["system"])
        return Response(present.ahead(found, form["system"]))


class FaultCasesView(APIView):
    """The closed cases of one tank."""

    @extend_schema(parameters=PAGE_PARAMETERS, responses=pages_of(answers.FaultCase), operation_id="tank_fault_cases")
    def get(self, request, pk: int):
        """Give the latest, the newest first."""
        pages = Pages()
        found = pages.paginate_queryset(tank_at(pk).fault_cases.all(), request)
        return pages.get_paginated_response([present.record(one) for one in found])

    @extend_schema(
        request=forms.CloseCaseSerializer,
        responses={201: described(answers.FaultCase)},
        operation_id="tank_trouble_close",
    )
    def post(self, request, pk: int):
        """Close the case that is kept; all its findings are frozen with it."""
        form = checked(forms.CloseCaseSerializer, request)
        closed = services.close_case(tank_at(pk), form, form["system"], request.user, form["revision"])
        return Response(present.record(closed), status=201)


class FaultCaseView(APIView):
    """One closed case, as a file."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="fault_case_file")
    def get(self, request, pk: int) -> HttpResponse:
        """Give it as it was frozen."""
        record = get_object_or_404(FaultCase, pk=pk)
        text = json.dumps(record.document, indent=1, ensure_ascii=False)
        return attachment(text.encode(), "application/json", f"{record.document['tank']} case {record.number}.json")
