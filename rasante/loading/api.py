"""Loads over HTTP."""

from __future__ import annotations

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
from ..scaling.chains import table_tank
from . import answers, present, services, sheets
from . import serializers as forms
from .models import LoadRecord


@planned_schema("tank_load")
class LoadView(PlannedView):
    """The load of one vessel that is under way."""

    planned_of, keep_planned = services.plan_of, services.keep_load

    @extend_schema(
        request=PlannedSerializer, responses=described(answers.LoadReading), operation_id="tank_load_check"
    )
    def post(self, request, pk: int):
        """Work out how much may be in it, and how far it has come; nothing is kept."""
        form = checked(PlannedSerializer, request)
        tank = tank_at(pk)
        found, now = services.read_tank_load(tank, form["entries"], form["system"])
        return Response(present.load(found, now, tank, table_tank(tank).capacity, form["system"]))


class LoadsView(APIView):
    """The loads of one vessel that are closed."""

    @extend_schema(parameters=PAGE_PARAMETERS, responses=pages_of(answers.LoadRecord), operation_id="tank_loads")
    def get(self, request, pk: int):
        """Give the latest, the newest first."""
        pages = Pages()
        found = pages.paginate_queryset(tank_at(pk).loads.select_related("closed_by"), request)
        return pages.get_paginated_response([present.record(one) for one in found])

    @extend_schema(
        request=forms.CloseLoadSerializer,
        responses={201: described(answers.LoadRecord)},
        operation_id="tank_load_close",
    )
    def post(self, request, pk: int):
        """Close the load that is kept: a record is made of it."""
        form = checked(forms.CloseLoadSerializer, request)
        closed = services.close_load(tank_at(pk), form["system"], request.user, form["revision"])
        return Response(present.record(closed), status=201)


class LoadSheetView(APIView):
    """One load, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY}, operation_id="load_sheet")
    def get(self, request, pk: int) -> HttpResponse:
        """Give its record as a sheet to keep."""
        record = get_object_or_404(LoadRecord.objects.select_related("tank__site", "closed_by"), pk=pk)
        name = f"{record.document['tank']} load {record.number}.pdf"
        return attachment(sheets.load_pdf(record), "application/pdf", name)
