"""Before it is connected: is what arrived what was ordered, is the supply right, and is the kit complete."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..cautions import product_facts
from ..form import Form
from ..judgement import Judgement
from ..units import Words
from .model import OUTPUTS, GaugeModel

#: Output by the number of wires that it takes.
WIRES = {"two-wire": 2, "three-wire": 3, "four-wire": 4, "contact": 2, "RS-485": 4}


@dataclass(frozen=True)
class Check:
    """One line of the receiving check: what was ordered, what arrived, and whether they agree (None: not typed)."""

    key: str
    label: str
    ordered: str
    arrived: str
    agrees: bool | None
    says: str


def wires_of(output: str) -> int:
    """How many wires an output takes."""
    return next((count for name, count in WIRES.items() if output.endswith(name)), 2)


def receiving_check(form: Form, model: GaugeModel, output: str, cable_m: float | None) -> list[Check]:
    """Compare what arrived with what was chosen.

    Parameters
    ----------
    form : Form
        ``got.range``, ``got.output``, ``got.wires``, ``got.supply_least``, ``got.supply_most``, ``got.cable``,
        ``got.materials`` (yes where they are those ordered).
    model : GaugeModel
        What was ordered.
    output : str
        The output that was chosen, of `OUTPUTS`; empty if it has none.
    cable_m : float or None
        The cable that was ordered [m]; None where it has none.
    """
    w = Words(form.system)
    checks = [_range(form, model, cable_m, w)]
    if output:
        got = form.choice("got.output", {name: name for name in OUTPUTS})
        agrees = None if not got else got == output
        says = (
            ""
            if agrees is not False
            else f"It sends {got}: the input, the wiring and the scale are made for {output}."
        )
        checks.append(Check("output", "Output", output, got, agrees, says))
        wires = form.number("got.wires", 1, 12)
        need = wires_of(output)
        fits = None if wires is None else wires == need
        says = (
            "" if fits is not False else f"{output} takes {need} wires: it may be another version of the same body."
        )
        checks.append(Check("wires", "Wires", str(need), "" if wires is None else f"{wires:g}", fits, says))
    if model.supply_max_v:
        checks.append(_supply(form, model))
    if cable_m is not None:
        got_cable = form.quantity("got.cable", "length", 0.0, 5000.0)
        enough = None if got_cable is None else got_cable >= cable_m - 1e-6
        says = (
            ""
            if enough is not False
            else f"{w.length(cable_m - (got_cable or 0.0))} too short: see Cut what it can read."
        )
        shown = "" if got_cable is None else w.length(got_cable)
        checks.append(Check("cable", "Cable length", w.length(cable_m), shown, enough, says))
    if model.wetted:
        same = form.choice("got.materials", {"yes": "as ordered", "no": "others"})
        agrees = None if not same else same == "yes"
        says = "" if agrees is not False else "Other materials: judge them against the product before it gets wet."
        checks.append(Check("materials", "Wetted materials", ", ".join(model.wetted), same, agrees, says))
    return checks


def _range(form: Form, model: GaugeModel, cable_m: float | None, w: Words) -> Check:
    got = form.quantity("got.range", "length", 0.0, 1000.0)
    if got is None:
        return Check("range", "Measuring range", w.length(model.range_m), "", None, "")
    agrees = abs(got - model.range_m) <= 0.02 * model.range_m
    says = ""
    if not agrees:
        says = f"Another range: the receiver is {got / model.range_m:.2f} times off until it is rescaled."
        if cable_m is not None and abs(got - cable_m) < 0.02 * cable_m:
            says = "That is the cable's length: the measuring range stands elsewhere on the label."
    return Check("range", "Measuring range", w.length(model.range_m), w.length(got), agrees, says)


def _supply(form: Form, model: GaugeModel) -> Check:
    least = form.quantity("got.supply_least", "voltage", 0.0, 400.0)
    most = form.quantity("got.supply_most", "voltage", 0.0, 400.0)
    ordered = f"{model.lift_off_v:g}–{model.supply_max_v:g} V"
    if least is None or most is None:
        return Check("supply", "Supply", ordered, "", None, "")
    agrees = least <= model.lift_off_v + 1e-9 and most >= model.supply_max_v - 1e-9
    says = "" if agrees else "Another supply range: work the loop's budget out again with it."
    return Check("supply", "Supply", ordered, f"{least:g}–{most:g} V", agrees, says)


def judge_supply(form: Form, lift_off_v: float, most_v: float, nominal_v: float) -> Judgement | None:
    """Judge the supply as it was measured before anything is connected (``got.measured``); None if it was not."""
    volts = form.quantity("got.measured", "voltage", -400.0, 400.0)
    if volts is None:
        return None
    if volts < 0:
        return Judgement("stop", "supply-reversed", f"{volts:g} V: the leads or the supply's wires are swapped.")
    if volts > most_v:
        text = f"{volts:g} V measured and the sensor bears {most_v:g} V: do not connect it. Is it AC, or unregulated?"
        return Judgement("stop", "supply-high", text)
    if volts < lift_off_v:
        return Judgement("stop", "supply-low", f"{volts:g} V measured and the sensor needs {lift_off_v:g} V.")
    if abs(volts - nominal_v) > 0.1 * nominal_v:
        text = f"{volts:g} V measured, more than a tenth off {nominal_v:g} V: it works, find out why."
        return Judgement("watch", "supply-off", text)
    return Judgement("good", "supply-right", f"{volts:g} V measured: right to connect, with the power off again.")


@cache
def _kit() -> Any:
    return json.loads(resources.files(__package__).joinpath("kit.json").read_text("utf-8"))


def kit_list(product: str, model: GaugeModel, link: str, bore: str, joined: bool) -> list[str]:
    """List what to take along: by product, method, link and opening, each thing once.

    Notes
    -----
    Common practice, no published source; the list is data, ``kit.json``.
    """
    kit: Mapping[str, Any] = _kit()
    facts = product_facts(product)
    found = [*kit["technology"][model.technology], *kit["mount"][model.kind.mount]]
    found = [f"{item}: {bore}" if bore and item.startswith("Adapter") else item for item in found]
    found += kit["link"].get(link, []) + (kit["joined"] if joined else []) + kit["always"]
    for fact in ("flammable", "potable", "pressurised"):
        if facts.get(fact):
            found += kit[fact]
    return list(dict.fromkeys(found))
