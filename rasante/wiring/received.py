"""What arrived for a tank, against what was planned for it; and the kit to take along."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..core.quantities.form import Form
from ..core.quantities.judgement import Judgement
from ..core.quantities.units import System
from ..core.wiring.circuit_kinds import WiringForm
from ..core.wiring.receiving import Check, judge_supply, kit_list, read_arrived, read_measured_supply, receiving_check
from ..gauges import services
from ..tanks.models import Tank


@dataclass(frozen=True)
class Received:
    """The receiving check of a tank.

    Parameters
    ----------
    form : Form
        Its fields.
    checks : list of Check
        Line by line; none before a gauge is planned.
    supply : Judgement or None
        The supply as it was measured, if it was.
    kit : list of str
        What to take along; empty before a gauge is planned.
    """

    form: Form
    checks: list[Check]
    supply: Judgement | None
    kit: list[str]


def read_received(tank: Tank, wiring: WiringForm, entries: Mapping[str, str], system: System) -> Received:
    """Read what arrived for a tank."""
    form = Form(entries, system)
    sensor = wiring.circuit.sensor
    supplies = wiring.circuit.of_kind("supply")
    supply, measured = None, read_measured_supply(form)
    if sensor.kind != "contact" and measured is not None:
        nominal = supplies[0].value("volt") if supplies else 24.0
        supply = judge_supply(measured, sensor.value("lift_off_v"), sensor.value("volt_max"), nominal)
    arrived, model, gauge = read_arrived(form), services.model_of(tank), services.gauge_of(tank)
    if model is None or gauge is None:
        return Received(form, [], supply, [])
    plan = services.read_gauge(tank, gauge.entries, system)
    checks = receiving_check(model, services.output_of(tank), plan.cable.stock_m if plan.cable else None, arrived)
    joined = plan.probe is not None and len(plan.probe.pieces_m) > 1
    bore = gauge.entries.get("site.bore", "")
    return Received(form, checks, supply, kit_list(tank.product, model, wiring.circuit.kind, bore, joined))
