"""Charts over HTTP: looked at, kept beside a tank, or made into one."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.response import Response
from rest_framework.views import APIView

from ..core.tanks.chart_mapping import Mapping
from ..http import checked
from . import charts
from . import table_serializers as forms
from .models import Chart
from .serializers import TankSerializer
from .table_api import tank_at


def _mapping(form: dict) -> Mapping | None:
    return None if form["mapping"] is None else Mapping(**form["mapping"])


def _reference(form: dict) -> float | None:
    value = form["reference_height_mm"]
    return None if value is None else value / 1000


class ChartPreviewView(APIView):
    """A file with a chart, looked at."""

    @extend_schema(
        request=forms.ChartFileSerializer, responses=forms.ChartPreviewSerializer, operation_id="chart_preview"
    )
    def post(self, request):
        """Tell what a file seems to hold; nothing is kept."""
        form = checked(forms.ChartFileSerializer, request)
        return Response(
            charts.preview(charts.grid_of(form["text"], form["workbook"]), _mapping(form), _reference(form))
        )


class ChartTankView(APIView):
    """A tank known by a chart only."""

    @extend_schema(request=forms.ChartTankSerializer, responses={201: TankSerializer}, operation_id="tank_of_chart")
    def post(self, request):
        """Make a tank of a chart."""
        form = checked(forms.ChartTankSerializer, request)
        tank = charts.tank_of_chart(
            form["site"],
            form["name"],
            form["product"],
            charts.grid_of(form["text"], form["workbook"]),
            Mapping(**form["mapping"]),
            _reference(form),
            request.user,
        )
        return Response(TankSerializer(tank).data, status=201)


class ChartView(generics.DestroyAPIView):
    """One chart."""

    serializer_class = forms.ChartSerializer
    queryset = Chart.objects.all()


class ChartsView(generics.ListAPIView):
    """The charts kept beside a tank."""

    serializer_class = forms.ChartSerializer

    def get_queryset(self):
        """Find them, the newest first."""
        if getattr(self, "swagger_fake_view", False):
            return Chart.objects.none()
        return Chart.objects.filter(tank=tank_at(self.kwargs["pk"])).select_related("made_by")

    @extend_schema(request=forms.KeepChartSerializer, responses={201: forms.ChartSerializer})
    def post(self, request, pk: int):
        """Keep a chart beside the tank."""
        form = checked(forms.KeepChartSerializer, request)
        chart = charts.keep_chart(
            tank_at(pk),
            form["name"],
            charts.grid_of(form["text"], form["workbook"]),
            Mapping(**form["mapping"]),
            _reference(form),
            request.user,
        )
        return Response(forms.ChartSerializer(chart).data, status=201)
