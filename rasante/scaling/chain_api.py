"""Scaling chains over HTTP: the chain, its line, its readings, and the wet ends of a probe."""

from __future__ import annotations

from dataclasses import asdict

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..core.errors import InputError
from ..core.scaling.chain import HOPS
from ..core.scaling.chain_line import read_chain_line
from ..core.scaling.panel_meter import meter_ends
from ..core.scaling.wet_ends import ENDS as WET_ENDS
from ..gauges.api import kept_plan
from ..gauges.present import fields, judgements
from ..gauges.serializers import KeepPlannedSerializer, KeptPlanSerializer, PlannedSerializer
from ..http import checked
from ..tanks.models import Tank
from . import chain_present as present
from . import chain_serializers as forms
from . import chains, marking


def tank_at(pk: int) -> Tank:
    """Return a tank, or refuse its address."""
    return get_object_or_404(Tank.objects.select_related("site"), pk=pk)


class ChainView(APIView):
    """The scaling chain of one tank."""

    @extend_schema(responses=KeptPlanSerializer, operation_id="tank_chain_read")
    def get(self, request, pk: int):
        """Give its entries as they are kept."""
        tank = tank_at(pk)
        return Response(kept_plan(chains.chain_of(tank), tank))

    @extend_schema(request=KeepPlannedSerializer, responses=KeptPlanSerializer, operation_id="tank_chain_keep")
    def put(self, request, pk: int):
        """Keep it."""
        tank = tank_at(pk)
        form = checked(KeepPlannedSerializer, request)
        kept = chains.keep_chain(tank, form["entries"], form["system"], request.user, form["revision"])
        return Response(kept_plan(kept, tank))

    @extend_schema(request=PlannedSerializer, responses=forms.ChainReadingSerializer, operation_id="tank_chain_check")
    def post(self, request, pk: int):
        """Read and judge a chain as far as it has been typed; nothing is kept."""
        tank = tank_at(pk)
        form = checked(PlannedSerializer, request)
        found = chains.read_tank_chain(tank, form["entries"], form["system"])
        judged = chains.judge_tank_chain(tank, found.chain, form["system"]) if found.chain is not None else []
        return Response(
            {
                "fields_read": fields(found.form),
                "settings": present.settings(found),
                "hops": HOPS,
                "table_number": marking.table_number(tank),
                "judgements": judgements(judged),
            }
        )


class ChainLineView(APIView):
    """The scaling chain of one tank at one level."""

    @extend_schema(
        request=forms.ChainAtSerializer, responses=forms.ChainAtLineSerializer, operation_id="tank_chain_line"
    )
    def post(self, request, pk: int):
        """Give every value along a chain at a level, as far as the chain has been typed; nothing is kept."""
        tank = tank_at(pk)
        form = checked(forms.ChainAtSerializer, request)
        system = form["system"]
        found = chains.read_tank_chain(tank, form["entries"], system)
        if found.chain is None:
            return Response({"line": None})
        line = present.line(read_chain_line(found.chain, tank.file, form["innage_mm"] / 1000, system))
        meter, problem = None, ""
        try:
            ends = meter_ends(found.chain, form["meter_unit"], form["meter_digits"])
            meter = present.meter(found.chain, ends, system)
        except InputError as error:
            problem = error.problems[0].what
        return Response({"line": {**line, "meter": meter, "meter_problem": problem}})


class PartingView(APIView):
    """Readings along one tank's chain."""

    @extend_schema(responses=KeptPlanSerializer, operation_id="tank_parting_read")
    def get(self, request, pk: int):
        """Give the readings as they are kept."""
        tank = tank_at(pk)
        return Response(kept_plan(chains.readings_of(tank), tank))

    @extend_schema(request=KeepPlannedSerializer, responses=KeptPlanSerializer, operation_id="tank_parting_keep")
    def put(self, request, pk: int):
        """Keep the readings, with what was made of them."""
        tank = tank_at(pk)
        form = checked(KeepPlannedSerializer, request)
        kept = chains.keep_readings(tank, form["entries"], form["system"], request.user, form["revision"])
        return Response(kept_plan(kept, tank))

    @extend_schema(request=PlannedSerializer, responses=forms.PartingSerializer, operation_id="tank_parting_check")
    def post(self, request, pk: int):
        """Find where truth and reading part along the kept chain; nothing is kept."""
        tank = tank_at(pk)
        form = checked(PlannedSerializer, request)
        chain, found = chains.part_chain(tank, form["entries"], form["system"])
        return Response(present.parting(chain, found, form["system"]))


class WetEndsView(APIView):
    """The wet ends of one tank's probe."""

    @extend_schema(responses=KeptPlanSerializer, operation_id="tank_wet_ends_read")
    def get(self, request, pk: int):
        """Give them as they are kept."""
        tank = tank_at(pk)
        return Response(kept_plan(chains.wet_ends_of(tank), tank))

    @extend_schema(request=KeepPlannedSerializer, responses=KeptPlanSerializer, operation_id="tank_wet_ends_keep")
    def put(self, request, pk: int):
        """Keep them, with fuel and temperature."""
        tank = tank_at(pk)
        form = checked(KeepPlannedSerializer, request)
        kept = chains.keep_wet_ends(tank, form["entries"], form["system"], request.user, form["revision"])
        return Response(kept_plan(kept, tank))

    @extend_schema(request=PlannedSerializer, responses=forms.WetEndsSerializer, operation_id="tank_wet_ends_check")
    def post(self, request, pk: int):
        """Read them as far as they have been typed; nothing is kept."""
        form = checked(PlannedSerializer, request)
        found = chains.read_tank_wet_ends(tank_at(pk), form["entries"], form["system"])
        return Response(
            {
                "fields_read": fields(found.form),
                "ends": [
                    {
                        "end": end,
                        "label": label,
                        "spread": found.ends[end].spread,
                        "still": found.ends[end].still,
                        "counts": found.ends[end].counts,
                    }
                    for end, label in WET_ENDS.items()
                ],
                "limit": found.limit,
                "ready": found.ready,
                "judgements": [asdict(judgement) for judgement in found.judgements],
            }
        )
