"""How wirings are written for the API: volts, milliamperes and millimetres from SI."""

from __future__ import annotations

from typing import Any

from ..core.quantities.judgement import Judgement
from ..core.quantities.units import System
from ..core.tanks.tank import Tank
from ..core.wiring.circuit import PART_KINDS, Circuit
from ..core.wiring.circuit_drawing import draw_circuit, terminal_list
from ..core.wiring.circuit_kinds import NOWHERE, WiringForm
from ..core.wiring.loop_budget import LoopBudget, loop_budget
from ..core.wiring.voltage_link import VoltageLink, voltage_link
from ..planned.present import fields
from ..tanks.present import judgements
from . import answers


def _budget(found: LoopBudget | None, system: System) -> answers.LoopBudget | None:
    if found is None:
        return None
    return answers.LoopBudget(
        at=[
            answers.VoltsAt(
                current_ma=at.current_a * 1000, flows_ma=at.flows_a * 1000, volts=at.volts, margin_v=at.margin_v
            )
            for at in found.at
        ],
        lift_off_v=found.lift_off_v,
        shares=[answers.ShareOfVolts(name=name, volts=volts) for name, volts in found.shares],
        cables=[answers.CableFor(name=cable.name, longest_m=cable.longest_m) for cable in found.cables],
        smallest=found.smallest.name if found.smallest else None,
        run_m=found.run_m,
        burden_margin_v=found.burden_margin_v,
        most_v=found.most_v,
        judgements=judgements(found.judgements, system),
    )


def _voltage(found: VoltageLink | None, tank: Tank, system: System) -> answers.VoltageLink | None:
    if found is None:
        return None
    at = []
    for one in found.at:
        level = one.share * tank.inside_height
        off = one.error_share * tank.inside_height
        shown = float(tank.volume(level + off)) - float(tank.volume(level))
        at.append(answers.VoltageAt(**vars(one), error_mm=off * 1000, error_l=shown * 1000))
    return answers.VoltageLink(
        at=at, sensor_v=found.sensor_v, lift_off_v=found.lift_off_v, judgements=judgements(found.judgements, system)
    )


def drawing(circuit: Circuit, planned: dict[str, tuple[str, str]]) -> answers.WiringDrawing:
    """Write a wiring drawing."""
    found = draw_circuit(circuit, planned)
    return answers.WiringDrawing(
        width=found.width,
        height=found.height,
        boxes=list(found.boxes),
        spots=[answers.Spot(**vars(spot), name=circuit.name(spot.point)) for spot in found.spots],
        lines=[answers.WireLine(**vars(line)) for line in found.lines],
    )


def wiring(found: WiringForm, tank: Tank, rules: list[Judgement]) -> dict[str, Any]:
    """Write a wiring: its drawing, its list, what the rules and the budget say."""
    circuit, system = found.circuit, found.form.system
    planned = {wire.id: (wire.a, wire.b) for wire in found.planned}
    return {
        "fields_read": fields(found.form),
        "kind": circuit.kind,
        "drawing": drawing(circuit, planned),
        "wires": terminal_list(circuit),
        "planned": [answers.PlannedWire(wire.id, wire.a, wire.b) for wire in found.planned],
        "terminals": {point: circuit.name(point) for point in circuit.points} | {NOWHERE: "not connected"},
        "parts": [answers.CircuitPart(p.id, p.kind, p.name, PART_KINDS[p.kind].label) for p in circuit.parts],
        "signals": list(circuit.sensor.terminals),
        "cores": sum(len(part.cores) for part in circuit.of_kind("cable")[:1]),
        "rules": judgements(rules, system),
        "budget": _budget(loop_budget(circuit, found.hottest_c, system == "us"), system),
        "voltage": _voltage(voltage_link(circuit, found.hottest_c), tank, system),
        "hottest_c": found.hottest_c,
    }
