"""What arrived for a tank, against what was planned for it; and the kit to take along."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..core.form import Form
from ..core.gauges.circuit_kinds import WiringForm
from ..core.gauges.model import check_model
from ..core.gauges.receiving import Check, judge_supply, kit_list, receiving_check
from ..core.judgement import Judgement
from ..core.units import System
from ..tanks.models import Tank
from . import services


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
    supply = None
    if sensor.kind != "contact":
        nominal = supplies[0].value("volt") if supplies else 24.0
        supply = judge_supply(form, sensor.value("lift_off_v"), sensor.value("volt_max"), nominal)
    gauge = services.gauge_of(tank)
    if gauge is None or not gauge.document.get("model"):
        return Received(form, [], supply, [])
    model = check_model(gauge.document["model"])
    plan = services.read_gauge(tank, gauge.entries, system)
    checks = receiving_check(
        form, model, gauge.document.get("output", ""), plan.cable.stock_m if plan.cable else None
    )
    joined = plan.probe is not None and len(plan.probe.pieces_m) > 1
    bore = gauge.entries.get("site.bore", "")
    return Received(form, checks, supply, kit_list(tank.product, model, wiring.circuit.kind, bore, joined))
