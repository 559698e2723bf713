"""Rescalings and device sheets over HTTP."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import mixins, viewsets
from rest_framework.decorators import action
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.devices.device_sheet import to_csv
from ..core.devices.rescale import LINKS
from ..http import PAGE_PARAMETERS, attachment, checked, paged, pages_of
from ..planned.api import tank_at
from ..planned.present import fields
from ..scaling import present as scaling
from . import answers, present, rescales, services, sheets
from . import serializers as forms
from .models import DeviceSheet, FoundSheet, Rescaling


class RescaleView(APIView):
    """What a change of one tank's chain asks for."""

    @extend_schema(
        request=forms.RescaleAskSerializer,
        responses=described(answers.RescaleReading),
        operation_id="tank_rescale_check",
    )
    def post(self, request, pk: int):
        """Work out every setting that must follow a change, as far as it has been typed; nothing is kept."""
        tank = tank_at(pk)
        form = checked(forms.RescaleAskSerializer, request)
        level = form["innage_mm"] / 1000
        found, asked = rescales.read_rescale(tank, form["entries"], level, form["system"])
        there = {setting.path: setting for setting in scaling.settings(found)}
        links = [
            answers.Link(key, label, [there[path] for path in paths if path in there])
            for key, (label, paths) in LINKS.items()
        ]
        return Response(
            answers.RescaleReading(
                fields_read=fields(found.form),
                links=[link for link in links if link.settings],
                rescale=None if asked is None else present.rescale(asked),
            )
        )


class TankRescalingsView(APIView):
    """The rescalings of one tank."""

    @extend_schema(
        parameters=PAGE_PARAMETERS, responses=pages_of(forms.RescalingSerializer), operation_id="tank_rescalings"
    )
    def get(self, request, pk: int):
        """Give the latest, the newest first."""
        found = tank_at(pk).rescalings.select_related("made_by", "closed_by", "dropped_by")
        return paged(request, found, forms.RescalingSerializer)

    @extend_schema(
        request=forms.BeginRescaleSerializer,
        responses={201: forms.RescalingSerializer},
        operation_id="tank_rescale_begin",
    )
    def post(self, request, pk: int):
        """Begin one: its check list is kept, the chain stays until it is done."""
        form = checked(forms.BeginRescaleSerializer, request)
        found = rescales.begin_rescale(
            tank_at(pk),
            form["entries"],
            form["innage_mm"] / 1000,
            form["system"],
            form["why"],
            request.user,
            form["revision"],
        )
        return Response(forms.RescalingSerializer(found).data, status=201)


class RescalingViewSet(viewsets.GenericViewSet):
    """Rescalings."""

    serializer_class = forms.RescalingSerializer
    pagination_class = None
    queryset = Rescaling.objects.select_related("tank__site", "made_by", "closed_by", "dropped_by")

    @extend_schema(request=forms.TickSerializer, responses=forms.RescalingSerializer)
    @action(detail=True, methods=["post"])
    def tick(self, request, pk=None):
        """Tick a line, or take its tick away."""
        form = checked(forms.TickSerializer, request)
        found = rescales.tick(self.get_object(), form["index"], form["done"], form["kept"])
        return Response(self.get_serializer(found).data)

    @extend_schema(request=forms.CloseRescaleSerializer, responses=forms.RescalingSerializer)
    @action(detail=True, methods=["post"])
    def close(self, request, pk=None):
        """Close one whose list is done: the chain is kept as it is set now."""
        form = checked(forms.CloseRescaleSerializer, request)
        return Response(
            self.get_serializer(rescales.close_rescale(self.get_object(), form["kept"], request.user)).data
        )

    @extend_schema(request=forms.CloseRescaleSerializer, responses=forms.RescalingSerializer)
    @action(detail=True, methods=["post"])
    def drop(self, request, pk=None):
        """Drop one that is open: nothing was changed by it."""
        form = checked(forms.CloseRescaleSerializer, request)
        found = rescales.drop_rescale(self.get_object(), form["kept"], request.user)
        return Response(self.get_serializer(found).data)

    @extend_schema(request=forms.CloseRescaleSerializer, responses=forms.RescalingSerializer)
    @action(detail=True, methods=["post"], url_path="take-up")
    def take_up(self, request, pk=None):
        """Take one up again that was dropped."""
        form = checked(forms.CloseRescaleSerializer, request)
        return Response(self.get_serializer(rescales.take_up_rescale(self.get_object(), form["kept"])).data)


class TankSheetsView(APIView):
    """The device sheets of one tank."""

    @extend_schema(
        parameters=PAGE_PARAMETERS, responses=pages_of(forms.DeviceSheetSerializer), operation_id="tank_device_sheets"
    )
    def get(self, request, pk: int):
        """Give the latest, the newest first."""
        found = tank_at(pk).device_sheets.select_related("made_by")
        return paged(request, found, forms.DeviceSheetSerializer)

    @extend_schema(
        request=forms.WriteSheetSerializer,
        responses={201: forms.DeviceSheetSerializer},
        operation_id="tank_device_sheet_write",
    )
    def post(self, request, pk: int):
        """Write one from the kept chain and marks."""
        form = checked(forms.WriteSheetSerializer, request)
        sheet = services.write_sheet(tank_at(pk), form["system"], form["note"], request.user)
        return Response(forms.DeviceSheetSerializer(sheet).data, status=201)


class DeviceSheetViewSet(mixins.RetrieveModelMixin, viewsets.GenericViewSet):
    """Device sheets."""

    serializer_class = forms.DeviceSheetSerializer
    pagination_class = None
    queryset = DeviceSheet.objects.select_related("tank__site", "made_by")

    def _name(self, sheet: DeviceSheet, ending: str) -> str:
        return f"{sheet.tank.name} device sheet {sheet.number}.{ending}"

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    @action(detail=True, url_path="sheet.pdf")
    def pdf(self, request, pk=None) -> HttpResponse:
        """Give it as a sheet to print."""
        sheet = self.get_object()
        return attachment(sheets.sheet_pdf(sheet), "application/pdf", self._name(sheet, "pdf"))

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    @action(detail=True, url_path="sheet.csv")
    def csv(self, request, pk=None) -> HttpResponse:
        """Give it as CSV."""
        sheet = self.get_object()
        return attachment(to_csv(sheet.document), "text/csv", self._name(sheet, "csv"))

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    @action(detail=True, url_path="sheet.json")
    def json(self, request, pk=None) -> HttpResponse:
        """Give it as JSON."""
        sheet = self.get_object()
        return attachment(services.to_json(sheet), "application/json", self._name(sheet, "json"))

    @extend_schema(
        methods=["get"],
        parameters=PAGE_PARAMETERS,
        responses=pages_of(forms.FoundSheetSerializer),
        operation_id="device_sheet_found",
    )
    @extend_schema(
        methods=["post"],
        request=forms.FoundTextSerializer,
        responses={201: forms.FoundSheetSerializer},
        operation_id="device_sheet_keep_found",
    )
    @action(detail=True, methods=["get", "post"])
    def found(self, request, pk=None):
        """Give what was found in the devices against this sheet, or keep what was."""
        sheet = self.get_object()
        if request.method == "POST":
            form = checked(forms.FoundTextSerializer, request)
            kept = services.keep_found(sheet, form["text"], form["note"], request.user)
            return Response(forms.FoundSheetSerializer(kept).data, status=201)
        found = FoundSheet.objects.filter(sheet=sheet).select_related("sheet", "made_by")
        return paged(request, found, forms.FoundSheetSerializer)
