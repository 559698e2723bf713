"""What a circuit starts from for the gauge that was chosen."""

from __future__ import annotations

from ..gauges.model import GaugeModel
from ..quantities.signals import link_of


def wiring_start(model: GaugeModel | None, output: str, flammable: bool) -> dict[str, str]:
    """What a circuit starts from for a chosen gauge, as text by the fields of `circuit_kinds.read_wiring`."""
    if model is None or not output:
        return {}
    found = {
        "kind": link_of(output),
        "sensor.lift_off": f"{model.lift_off_v:g} V",
        "sensor.most": f"{model.supply_max_v:g} V",
    }
    if found["kind"] == "three_wire":
        found["output"] = output.partition("V")[0]
    if found["kind"] == "two_wire" and flammable:
        found["barrier"] = "yes"
    return found
