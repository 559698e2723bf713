"""Before it is connected: is what arrived what was ordered, is the supply right, and is the kit complete."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..gauges.model import GaugeModel
from ..products.registry import product_of
from ..quantities.form import Form
from ..quantities.judgement import Judgement, Phrase, good, phrase, stop, watch
from ..quantities.signals import OUTPUTS


@dataclass(frozen=True)
class Arrived:
    """What arrived, as far as its label was read.

    Parameters
    ----------
    range_m : float or None
        What it measures, of water or distance [m].
    output : str
        What it sends, of `signals.OUTPUTS`; empty where nobody looked.
    wires : int or None
        How many wires it has.
    supply_v : (float, float) or None
        The least and the most that it takes [V].
    cable_m : float or None
        Length of its cable [m].
    materials_alike : bool or None
        Whether its wetted materials are those ordered.
    """

    range_m: float | None = None
    output: str = ""
    wires: int | None = None
    supply_v: tuple[float, float] | None = None
    cable_m: float | None = None
    materials_alike: bool | None = None


@dataclass(frozen=True)
class Check:
    """One line of the receiving check: what was ordered, what arrived, and whether they agree (None: not looked)."""

    key: str
    label: str
    ordered: Phrase
    arrived: Phrase
    agrees: bool | None
    says: Phrase


def _check(key: str, label: str, ordered: Phrase, arrived: Phrase | None, agrees: bool | None, says: Phrase) -> Check:
    return Check(key, label, ordered, arrived or Phrase(), agrees, says if agrees is False else Phrase())


def _yes_or_no(answer: str) -> bool | None:
    return None if not answer else answer == "yes"


def read_arrived(form: Form) -> Arrived:
    """Read what arrived.

    Parameters
    ----------
    form : Form
        ``got.range``, ``got.output``, ``got.wires``, ``got.supply_least``, ``got.supply_most``, ``got.cable``,
        ``got.materials`` (yes where they are those ordered).
    """
    wires = form.number("got.wires", 1, 12)
    least = form.quantity("got.supply_least", "voltage", 0.0, 400.0)
    most = form.quantity("got.supply_most", "voltage", 0.0, 400.0)
    return Arrived(
        range_m=form.quantity("got.range", "length", 0.0, 1000.0),
        output=form.choice("got.output", {name: name for name in OUTPUTS}),
        wires=None if wires is None else round(wires),
        supply_v=None if least is None or most is None else (least, most),
        cable_m=form.quantity("got.cable", "length", 0.0, 5000.0),
        materials_alike=_yes_or_no(form.choice("got.materials", {"yes": "as ordered", "no": "others"})),
    )


def receiving_check(model: GaugeModel, output: str, cable_m: float | None, got: Arrived) -> list[Check]:
    """Compare what arrived with what was chosen.

    Parameters
    ----------
    model : GaugeModel
        What was ordered.
    output : str
        The output that was chosen, of `signals.OUTPUTS`; empty if it has none.
    cable_m : float or None
        The cable that was ordered [m]; None where it has none.
    got : Arrived
        What arrived.
    """
    checks = [_range(model, cable_m, got)]
    if output:
        agrees = None if not got.output else got.output == output
        says = phrase("It sends {got}: the input, the wiring and the scale are made for {output}.", got=got.output,
                      output=output)  # fmt: skip
        checks.append(_check("output", "Output", Phrase(output), Phrase(got.output), agrees, says))
        need = OUTPUTS[output].wires
        fits = None if got.wires is None else got.wires == need
        says = phrase("{output} takes {limit:d} wires: it may be another version of the same body.", output=output,
                      limit=need)  # fmt: skip
        there = None if got.wires is None else phrase("{value:d}", value=got.wires)
        checks.append(_check("wires", "Wires", phrase("{value:d}", value=need), there, fits, says))
    if model.supply_max_v:
        checks.append(_supply(model, got))
    if cable_m is not None:
        enough = None if got.cable_m is None else got.cable_m >= cable_m - 1e-6
        short = cable_m - (got.cable_m or 0.0)
        says = phrase("{value:run} too short: see Cut what it can read.", value=short)
        there = None if got.cable_m is None else phrase("{value:run}", value=got.cable_m)
        checks.append(_check("cable", "Cable length", phrase("{value:run}", value=cable_m), there, enough, says))
    if model.wetted:
        says = Phrase("Other materials: judge them against the product before it gets wet.")
        there = None if got.materials_alike is None else Phrase("yes" if got.materials_alike else "no")
        ordered = Phrase(", ".join(model.wetted))
        checks.append(_check("materials", "Wetted materials", ordered, there, got.materials_alike, says))
    return checks


def _range(model: GaugeModel, cable_m: float | None, got: Arrived) -> Check:
    ordered = phrase("{value:length}", value=model.range_m)
    if got.range_m is None:
        return _check("range", "Measuring range", ordered, None, None, Phrase())
    agrees = abs(got.range_m - model.range_m) <= 0.02 * model.range_m
    says = phrase(
        "Another range: the receiver is {value:.2f} times off until it is rescaled.",
        value=got.range_m / model.range_m,
    )
    if cable_m is not None and abs(got.range_m - cable_m) < 0.02 * cable_m:
        says = Phrase("That is the cable's length: the measuring range stands elsewhere on the label.")
    return _check("range", "Measuring range", ordered, phrase("{value:length}", value=got.range_m), agrees, says)


def _supply(model: GaugeModel, got: Arrived) -> Check:
    ordered = phrase("{low:g}–{high:g} V", low=model.lift_off_v, high=model.supply_max_v)
    if got.supply_v is None:
        return _check("supply", "Supply", ordered, None, None, Phrase())
    least, most = got.supply_v
    agrees = least <= model.lift_off_v + 1e-9 and most >= model.supply_max_v - 1e-9
    says = Phrase("Another supply range: work the loop's budget out again with it.")
    return _check("supply", "Supply", ordered, phrase("{low:g}–{high:g} V", low=least, high=most), agrees, says)


def read_measured_supply(form: Form) -> float | None:
    """Read the supply as it was measured before anything is connected (``got.measured``) [V]; None if it was not."""
    return form.quantity("got.measured", "voltage", -400.0, 400.0)


def judge_supply(measured_v: float, lift_off_v: float, most_v: float, nominal_v: float) -> Judgement:
    """Judge a supply as it was measured before anything is connected.

    Parameters
    ----------
    measured_v, lift_off_v, most_v, nominal_v : float
        What was measured; what the sensor needs and bears; what the supply should give [V].
    """
    if measured_v < 0:
        text = "{value:g} V: the leads or the supply's wires are swapped."
        return stop("supply-reversed", text, value=measured_v, limit=0.0)
    if measured_v > most_v:
        text = "{value:g} V measured and the sensor bears {limit:g} V: do not connect it. Is it AC, or unregulated?"
        return stop("supply-high", text, value=measured_v, limit=most_v)
    if measured_v < lift_off_v:
        text = "{value:g} V measured and the sensor needs {limit:g} V."
        return stop("supply-low", text, value=measured_v, limit=lift_off_v)
    if abs(measured_v - nominal_v) > 0.1 * nominal_v:
        text = "{value:g} V measured, more than a tenth off {limit:g} V: it works, find out why."
        return watch("supply-off", text, value=measured_v, limit=nominal_v)
    return good("supply-right", "{value:g} V measured: right to connect, with the power off again.", value=measured_v)


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
    known = product_of(product)
    hazards = {
        name
        for name, there in (
            ("flammable", known.flammable), ("potable", known.potable), ("pressurised", known.pressurised)
        )
        if there
    }  # fmt: skip
    found = [*model.kind.kit, *kit["mount"][model.kind.mount]]
    found = [f"{item}: {bore}" if bore and item.startswith("Adapter") else item for item in found]
    found += kit["link"].get(link, []) + (kit["joined"] if joined else []) + kit["always"]
    for fact in ("flammable", "potable", "pressurised"):
        if fact in hazards:
            found += kit[fact]
    return list(dict.fromkeys(found))
