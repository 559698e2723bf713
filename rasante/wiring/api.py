"""The wiring of a tank over HTTP: its circuit, the meter on it, and the cable rung out."""

from __future__ import annotations

import json

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from ..answer import described
from ..core.quantities.signals import OUTPUTS
from ..core.quantities.words import Words
from ..core.wiring.circuit import circuit_document, read_json
from ..core.wiring.circuit_choices import choices_of
from ..core.wiring.circuit_drawing import draw_circuit
from ..core.wiring.circuit_kinds import INPUT_MODES, LINKS, MOST_RUNS, PIN_NAMES, SHIELDS, VOLTAGES
from ..core.wiring.circuit_network import LOOP_CURRENTS, Condition
from ..core.wiring.circuit_svg import circuit_svg
from ..core.wiring.entity import BARRIER, SENSOR
from ..core.wiring.meter import SETTINGS, Leads, read_meter
from ..core.wiring.ring_out import ring_out
from ..http import attachment, checked, system_of
from ..planned.api import PlannedView, planned_schema, tank_at
from ..planned.present import fields
from ..planned.serializers import PlannedSerializer
from ..tanks.present import judgements
from . import answers, present, received, services, sheets
from . import serializers as forms


class WiringWordsView(APIView):
    """The words that the wiring's screens are built from."""

    @extend_schema(responses=described(answers.WiringWords), operation_id="wiring_words")
    def get(self, request):
        """Give them all; they do not change while the server runs."""
        return Response(
            answers.WiringWords(
                links=LINKS,
                input_modes=INPUT_MODES,
                voltages=list(VOLTAGES),
                entity=[
                    answers.EntityField(path=f"{part}.{field}", label=f"{label}, {symbol}", hint=what.capitalize())
                    for part, label, values in (("barrier", "Barrier", BARRIER), ("sensor", "Sensor", SENSOR))
                    for symbol, field, _, what in values.values()
                ],
                shields=SHIELDS,
                pins=PIN_NAMES,
                most_runs=MOST_RUNS,
                settings=SETTINGS,
                outputs={name: name for name in OUTPUTS},
            )
        )


@planned_schema("tank_wiring")
class WiringView(PlannedView):
    """The wiring of one tank."""

    planned_of, keep_planned = services.wiring_of, services.keep_wiring

    @extend_schema(
        request=PlannedSerializer, responses=forms.WiringReadingSerializer, operation_id="tank_wiring_check"
    )
    def post(self, request, pk: int):
        """Draw and judge it as far as it has been typed; nothing is kept."""
        tank = tank_at(pk)
        form = checked(PlannedSerializer, request)
        wiring = services.read_tank_wiring(tank, form["entries"], form["system"])
        got = received.read_received(tank, wiring, form["entries"], form["system"])
        rules, w = services.judge_wiring(tank, wiring), Words(form["system"])
        shown = present.wiring(wiring, tank.file.tank, rules)
        return Response(
            {
                **shown,
                "sends": services.sends(tank),
                "fields_read": shown["fields_read"] + fields(got.form),
                "received": [
                    answers.Received(
                        key=one.key,
                        label=one.label,
                        ordered=w.say(one.ordered),
                        arrived=w.say(one.arrived),
                        agrees=one.agrees,
                        says=w.say(one.says),
                    )
                    for one in got.checks
                ],
                "supply": judgements([got.supply], form["system"])[0] if got.supply else None,
                "kit": got.kit,
            }
        )


class MeterView(APIView):
    """The process meter on one tank's wiring."""

    @extend_schema(
        request=forms.MeterSerializer, responses=described(answers.MeterReading), operation_id="tank_wiring_meter"
    )
    def post(self, request, pk: int):
        """Read it."""
        form = checked(forms.MeterSerializer, request)
        circuit = services.read_tank_wiring(tank_at(pk), form["entries"], form["system"]).circuit
        current_a = services.meant_current(form["current_ma"], form["sent"], form["share_pct"] / 100)
        condition = Condition(
            current_a=current_a,
            share=form["share_pct"] / 100,
            closed=form["closed"],
            supply="volt" if form["power"] else "off",
            lifted=frozenset(form["lifted"]),
        )
        reading = read_meter(circuit, condition, Leads(form["setting"], form["red"], form["black"]))
        return Response(
            answers.MeterReading(
                shows=reading.shows,
                says=reading.says,
                caution=reading.caution,
                current_ma=current_a * 1000,
                least_ma=LOOP_CURRENTS[0] * 1000,
                most_ma=LOOP_CURRENTS[-1] * 1000,
            )
        )


class RingOutView(APIView):
    """A cable rung out."""

    @extend_schema(request=forms.RingOutSerializer, responses=described(answers.RungOut), operation_id="ring_out")
    def post(self, request):
        """Tell which conductor goes to which pin."""
        form = checked(forms.RingOutSerializer, request)
        return Response(ring_out(form["pins"], form["conductors"], form["ohms"], form["drawn"]))


class WiringSheetView(APIView):
    """The wiring sheet of one tank."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY}, operation_id="tank_wiring_sheet")
    def get(self, request, pk: int) -> HttpResponse:
        """Give it as a sheet."""
        tank = tank_at(pk)
        content = sheets.wiring_sheet(tank, system_of(request))
        return attachment(content, "application/pdf", f"{tank.name} wiring.pdf")


class DrawingFileView(APIView):
    """The wiring drawing of one tank as a file."""

    @extend_schema(responses={(200, "image/svg+xml"): OpenApiTypes.STR}, operation_id="tank_wiring_drawing")
    def get(self, request, pk: int) -> HttpResponse:
        """Give it as SVG."""
        tank = tank_at(pk)
        wiring = services.wiring_of(tank)
        found = services.read_tank_wiring(tank, wiring.entries if wiring else {}, system_of(request))
        drawing = draw_circuit(found.circuit, {wire.id: (wire.a, wire.b) for wire in found.planned})
        return attachment(circuit_svg(drawing, f"Wiring of {tank.name}"), "image/svg+xml", f"{tank.name} wiring.svg")


class CircuitChoicesView(APIView):
    """A circuit's file, taken in."""

    @extend_schema(
        request=forms.CircuitFileSerializer,
        responses=described(answers.CircuitChoices),
        operation_id="circuit_choices",
    )
    def post(self, request):
        """Give the fields that make the circuit of a file; nothing is kept."""
        form = checked(forms.CircuitFileSerializer, request)
        return Response(answers.CircuitChoices(entries=choices_of(read_json(form["text"]))))


class CircuitFileView(APIView):
    """The circuit of one tank as a file."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="tank_circuit_file")
    def get(self, request, pk: int) -> HttpResponse:
        """Give it as kept, or as it starts from before anything is kept."""
        tank = tank_at(pk)
        wiring = services.wiring_of(tank)
        found = services.read_tank_wiring(tank, wiring.entries if wiring else {}, "metric")
        content = json.dumps(circuit_document(found.circuit), indent=2, ensure_ascii=False) + "\n"
        return attachment(content, "application/json", f"{tank.name} circuit.json")
