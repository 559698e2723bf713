"""Pours over HTTP."""

from __future__ import annotations

import csv
import io
import json
import time

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.pouring.run_file import device_rows, read_csv
from ..core.quantities.errors import InputError
from ..http import PAGE_PARAMETERS, Pages, attachment, checked, pages_of
from ..planned.api import PlannedView, planned_schema, tank_at
from ..planned.serializers import PlannedSerializer
from . import answers, present, services
from . import serializers as forms
from .models import PourRecord


@planned_schema("tank_pours")
class RunView(PlannedView):
    """The run of pours of one tank that is under way."""

    planned_of, keep_planned = services.plan_of, services.keep_run

    @extend_schema(
        request=PlannedSerializer, responses=described(answers.RunReading), operation_id="tank_pours_check"
    )
    def post(self, request, pk: int):
        """Work out the curve, what does not fit, and what to pour next; nothing is kept."""
        form = checked(PlannedSerializer, request)
        found = services.read_tank_run(tank_at(pk), form["entries"], form["system"])
        return Response(present.run(found, form["system"]))


class PourFileView(APIView):
    """Other people's pours."""

    @extend_schema(
        request=forms.PourFileSerializer, responses=described(answers.PourFileRead), operation_id="tank_pours_file"
    )
    def post(self, request, pk: int):
        """Read a CSV of amounts and readings; nothing is kept."""
        tank_at(pk)
        form = checked(forms.PourFileSerializer, request)
        columns, headings, entries = read_csv(form["text"], form.get("columns"))
        return Response(answers.PourFileRead(columns=columns, headings=headings, entries=entries))


class SeenDeliveriesView(APIView):
    """Deliveries that Watch saw: each an unplanned pour."""

    @extend_schema(responses=described(answers.SeenDelivery, many=True), operation_id="tank_pours_seen")
    def get(self, request, pk: int):
        """Give those of the last 60 days, the newest first, with the level before and after each."""
        return Response(present.seen(services.seen_deliveries(tank_at(pk), time.time())))


class PourRecordsView(APIView):
    """The runs of one tank of which a table was issued."""

    @extend_schema(
        parameters=PAGE_PARAMETERS, responses=pages_of(answers.PourRecord), operation_id="tank_pour_records"
    )
    def get(self, request, pk: int):
        """Give the latest, the newest first."""
        pages = Pages()
        found = pages.paginate_queryset(tank_at(pk).pour_records.all(), request)
        return pages.get_paginated_response([present.record(one) for one in found])

    @extend_schema(
        request=forms.IssueRunSerializer,
        responses={201: described(answers.PourRecord)},
        operation_id="tank_pours_issue",
    )
    def post(self, request, pk: int):
        """Issue the table of the run that is kept; all its pours are frozen with it."""
        form = checked(forms.IssueRunSerializer, request)
        issued = services.issue_run(
            tank_at(pk), form["take"], form["why"], form["system"], request.user, form["revision"],
            form["tank_revision"],
        )  # fmt: skip
        return Response(present.record(issued), status=201)


class PourRecordView(APIView):
    """One run of which a table was issued, as a file."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="pour_record_file")
    def get(self, request, pk: int) -> HttpResponse:
        """Give it as rasante.pours/1, as it was frozen."""
        record = get_object_or_404(PourRecord, pk=pk)
        text = json.dumps(record.document, indent=1, ensure_ascii=False)
        return attachment(text.encode(), "application/json", f"{record.document['tank']} pours {record.number}.json")


class DeviceTableView(APIView):
    """The table for a device, from its own reading to litres."""

    @extend_schema(
        parameters=[OpenApiParameter("points", int, description="How many the device takes (20)")],
        responses={(200, "text/csv"): OpenApiTypes.STR},
        operation_id="pour_record_table",
    )
    def get(self, request, pk: int) -> HttpResponse:
        """Give the readings and litres whose straight lines come closest to the curve."""
        record = get_object_or_404(PourRecord, pk=pk)
        asked = request.query_params.get("points", "20")
        if not asked.isdecimal() or len(asked) > 4:
            raise InputError.at("points", "must be a number of points")
        curve, reads = record.document["curve"], record.document["reads"]
        unit = {"level": "mm", "sent": "mA", "number": "as shown"}[reads]
        out = io.StringIO()
        rows = csv.writer(out)
        rows.writerow([f"reading, {unit}", "volume, L"])
        for reading, volume in device_rows(curve["reading"], curve["volume_l"], int(asked)):
            rows.writerow([f"{reading:.3f}" if reads == "sent" else f"{reading:.1f}", f"{volume:.1f}"])
        name = f"{record.document['tank']} pours {record.number}.csv"
        return attachment(out.getvalue().encode(), "text/csv", name)
