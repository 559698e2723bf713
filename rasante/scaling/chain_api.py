"""Scaling chains over HTTP: as they are typed, at the line, and where truth and reading part."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.quantities.errors import InputError
from ..core.scaling.chain_line import read_chain_line
from ..core.scaling.chain_values import find_level
from ..core.scaling.panel_meter import meter_ends
from ..http import checked
from ..planned.api import PlannedView, planned_schema
from ..planned.present import fields
from ..planned.serializers import PlannedSerializer
from ..tanks.present import judgements
from . import answers, chains, marking, present
from . import serializers as forms


@planned_schema("tank_chain")
class ChainView(PlannedView):
    """The scaling chain of one tank."""

    planned_of, keep_planned = chains.chain_of, chains.keep_chain

    @extend_schema(
        request=PlannedSerializer, responses=described(answers.ChainReading), operation_id="tank_chain_check"
    )
    def post(self, request, pk: int):
        """Read and judge a chain as far as it has been typed; nothing is kept."""
        tank = get_object_or_404(chains.tanks_with_basis(), pk=pk)
        form = checked(PlannedSerializer, request)
        found = chains.read_tank_chain(tank, form["entries"], form["system"])
        judged = chains.judge_tank_chain(tank, found.chain, form["system"]) if found.chain is not None else []
        return Response(
            answers.ChainReading(
                fields_read=fields(found.form),
                settings=present.settings(found),
                hops=present.hop_names(found),
                table_number=marking.table_number(tank),
                judgements=judgements(judged, form["system"]),
            )
        )


class ChainLineView(APIView):
    """The scaling chain of one tank at one level."""

    @extend_schema(
        request=forms.ChainAtSerializer, responses=described(answers.ChainAtLine), operation_id="tank_chain_line"
    )
    def post(self, request, pk: int):
        """Give every value along a chain at a level, as far as the chain has been typed; nothing is kept."""
        tank = get_object_or_404(chains.tanks_with_basis(), pk=pk)
        form = checked(forms.ChainAtSerializer, request)
        system = form["system"]
        found = chains.read_tank_chain(tank, form["entries"], system)
        if found.chain is None:
            return Response(answers.ChainAtLine(line=None))
        read = read_chain_line(found.chain, tank.file, form["innage_mm"] / 1000)
        meter, problem = None, ""
        try:
            ends = meter_ends(found.chain, form["meter_unit"], form["meter_digits"])
            meter = present.meter(found.chain, ends, system)
        except InputError as error:
            problem = error.problems[0].what
        line = present.chain_line(found.chain, read, meter, problem, system)
        return Response(answers.ChainAtLine(line=line))


class ChainFindView(APIView):
    """The level at which one tank's chain reads something."""

    @extend_schema(
        request=forms.ChainFindSerializer, responses=described(answers.FoundLevel), operation_id="tank_chain_find"
    )
    def post(self, request, pk: int):
        """Give the level at which one station of a chain reads what is typed."""
        tank = get_object_or_404(chains.tanks_with_basis(), pk=pk)
        form = checked(forms.ChainFindSerializer, request)
        found = chains.read_tank_chain(tank, form["entries"], form["system"])
        found.form.require()
        assert found.chain is not None
        level = find_level(found.chain, form["station"], form["text"], form["system"])
        return Response(answers.FoundLevel(innage_mm=level * 1000))


@planned_schema("tank_parting")
class PartingView(PlannedView):
    """Readings along one tank's chain."""

    planned_of, keep_planned = chains.readings_of, chains.keep_readings

    @extend_schema(request=PlannedSerializer, responses=described(answers.Parting), operation_id="tank_parting_check")
    def post(self, request, pk: int):
        """Find where truth and reading part along the kept chain; nothing is kept."""
        tank = get_object_or_404(chains.tanks_with_basis(), pk=pk)
        form = checked(PlannedSerializer, request)
        chain, found = chains.part_chain(tank, form["entries"], form["system"])
        return Response(present.parting(chain, found, form["system"]))
