"""What can be done with the wiring of a tank."""

from __future__ import annotations

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.db import transaction

from ..core.products.registry import product_of
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import Judgement, by_weight, stop, stops
from ..core.quantities.signals import link_of
from ..core.quantities.typed import read_quantity
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.wiring.circuit import Circuit, check_circuit, circuit_document
from ..core.wiring.circuit_kinds import LINKS, WiringForm, read_wiring
from ..core.wiring.circuit_network import loop_current, within_loop
from ..core.wiring.circuit_rules import judge_circuit
from ..core.wiring.loop_budget import loop_budget
from ..core.wiring.start import wiring_start
from ..gauges.services import gauge_of, model_of, output_of
from ..planned.services import keep_planned, kept_entries, planned_of, remembered, renew
from ..tanks.models import Tank
from .models import Wiring

_circuit = remembered(check_circuit)


def wiring_of(tank: Tank) -> Wiring | None:
    """Return the wiring planned for a tank, or None before there is one."""
    return planned_of(Wiring, tank)


def start_of(tank: Tank) -> dict[str, str]:
    """What the gauge of a tank says of its wiring, by the wiring's fields."""
    return wiring_start(model_of(tank), output_of(tank), product_of(tank.product).flammable)


def circuit_of(tank: Tank) -> Circuit | None:
    """The circuit that is kept of a tank, or None before one is."""
    wiring = planned_of(Wiring, tank)
    return None if wiring is None else _circuit(wiring.document)


def sends(tank: Tank) -> bool:
    """Whether the gauge of a tank sends anything to be wired; True before one is kept."""
    gauge = gauge_of(tank)
    return gauge is None or not gauge.document.get("model") or bool(gauge.document.get("output"))


def meant_current(current_ma: float | None, sent: str, share: float) -> float:
    """What the sensor of a loop means to send [A]: as asked for, as its chain sends, or by its share of the span."""
    if current_ma is not None:
        return within_loop(current_ma / 1000)
    try:
        return within_loop(read_quantity(sent, "current", "metric", "sent"))
    except InputError:
        # The chain sends something else, or there is none.
        return within_loop(loop_current(share))


def judge_wiring(tank: Tank, wiring: WiringForm) -> list[Judgement]:
    """Judge a tank's wiring by the rules, and by what its gauge sends; the heaviest first."""
    found = judge_circuit(wiring.circuit, product_of(tank.product).flammable)
    output = output_of(tank)
    if output and link_of(output) != wiring.circuit.kind:
        text = "The gauge of this tank sends {output}; this circuit is for {link}."
        other = stop("other-link", text, output=output, link=LINKS[wiring.circuit.kind])
        found = [other, *[judgement for judgement in found if judgement.code != "wired"]]
    return by_weight(found)


def read_tank_wiring(tank: Tank, entries: Mapping[str, str], system: System) -> WiringForm:
    """Read a tank's wiring as far as it has been typed."""
    return read_wiring(entries, system, start_of(tank))


@transaction.atomic
def keep_wiring(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> Wiring:
    """Keep a tank's wiring, right or wrong as it may be wired; its fields must be readable.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept another meanwhile.
    """
    wiring = read_tank_wiring(tank, entries, system)
    wiring.form.require()
    planned = renew(Wiring, tank, revision)
    kept = kept_entries(entries, {path: text for path, text in wiring.form.kept.items() if entries.get(path)})
    return keep_planned(planned, tank, kept, circuit_document(wiring.circuit), _wiring_standing(tank, wiring), person)


def _wiring_standing(tank: Tank, wiring: WiringForm) -> tuple[str, bool]:
    """Say in a line how a wiring stands, and whether that asks for a person."""
    budget = loop_budget(wiring.circuit, wiring.hottest_c)
    found = [*judge_wiring(tank, wiring), *(budget.judgements if budget else ())]
    worst = next(iter(stops(found)), None)
    if worst:
        return Words(wiring.form.system).say(worst), True
    name = LINKS[wiring.circuit.kind]
    return (f"{name}, margin {budget.at[-1].margin_v:.1f} V" if budget else name), False
