"""A circuit as a network: what each part is made of, electrically, in a given condition."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..quantities.signals import SIGNALS
from .circuit import Circuit, Part
from .network import BLOCKED_OHM, Drive, Element, Fuse, Output, Resistor, Sink, Source
from .wires import resistance

_LOOP = SIGNALS["ma4"]
#: Currents that a loop is looked at with [A]: the signal's fault low, empty, middle, full, and the most that
#: transmitters are built to draw (22.5 mA: common practice, no published source).
LOOP_CURRENTS = (_LOOP.fault_low, _LOOP.low, (_LOOP.low + _LOOP.high) / 2, _LOOP.high, 0.0225)
WORST_CURRENT = LOOP_CURRENTS[-1]


def loop_current(share: float) -> float:
    """What a 4–20 mA sensor means to send at a share of its span [A]."""
    return _LOOP.low + share * (_LOOP.high - _LOOP.low)


def within_loop(current_a: float) -> float:
    """The current [A], held to what a loop is looked at with."""
    return min(max(current_a, LOOP_CURRENTS[0]), WORST_CURRENT)


#: No resistance is taken as less [Ω], and no lift-off voltage [V].
_LEAST_OHM, _LEAST_V = 1e-3, 0.1
_EARTH_OHM = 0.5
#: What a broken core has between its ends [Ω].
OPEN_CORE_OHM = 1e9

At = Mapping[str, str]


@dataclass(frozen=True)
class Condition:
    """What a circuit is looked at in.

    Parameters
    ----------
    current_a : float
        What the sensor means to send, where it sends a current [A].
    share : float
        What it means to send, where it sends a voltage: share of its output's span [1].
    closed : bool
        Whether its contact is closed.
    supply : str
        ``volt_min``, ``volt``, ``volt_max``, or ``off``.
    hottest_c : float or None
        Temperature of every cable, where it is not its own [°C].
    lifted : frozenset of str
        Wires lifted off their first terminal, by their tags.
    """

    current_a: float = 0.012
    share: float = 0.5
    closed: bool = True
    supply: str = "volt"
    hottest_c: float | None = None
    lifted: frozenset[str] = frozenset()


def joined(circuit: Circuit, lifted: frozenset[str] = frozenset()) -> dict[str, str]:
    """Return for every terminal the node that it belongs to; a wire with a resistance joins none."""
    parent = {point: point for point in circuit.points}

    def root(point: str) -> str:
        while parent[point] != point:
            point = parent[point]
        return point

    for wire in circuit.wires:
        if wire.id not in lifted and not wire.ohm:
            parent[root(wire.b)] = root(wire.a)
    return {point: root(point) for point in parent}


def elements(circuit: Circuit, condition: Condition) -> list[Element]:
    """Write a circuit as a network.

    Parameters
    ----------
    circuit : Circuit
        The circuit.
    condition : Condition
        What it is looked at in.

    Returns
    -------
    list of Element
        Named ``part`` or ``part.what``; nodes are terminals, as `joined` gives them. Earth is one node.
    """
    node = joined(circuit, condition.lifted)
    found: list[Element] = []
    earth = [f"{part.id}.e" for part in circuit.of_kind("earth")]
    for part in circuit.parts:
        make = _ELEMENTS.get(part.kind)
        if make is not None:
            found += make(part, {t: node[f"{part.id}.{t}"] for t in part.terminals}, condition)
    for wire in circuit.wires:
        if wire.ohm and wire.id not in condition.lifted:
            found.append(Resistor(f"{wire.id}~wire", node[wire.a], node[wire.b], max(wire.ohm, _LEAST_OHM)))
    for index, leak in enumerate(circuit.leaks):
        found.append(Resistor(f"{index}~leak", node[leak.a], node[leak.b], max(leak.ohm, _LEAST_OHM)))
    for other in earth[1:]:
        found.append(Resistor(f"{other}~earth", node[earth[0]], node[other], _EARTH_OHM))
    return [element for element in found if not _shorted(element)]


def _shorted(element: Element) -> bool:
    """Whether both ends are one node: only a source notices, and what is shorted carries nothing."""
    if isinstance(element, Resistor | Fuse):
        return element.a == element.b
    return element.plus == element.minus and not (isinstance(element, Source | Output) and element.ohm > 0)


def _ohm(part: Part, key: str = "ohm") -> float:
    return max(part.value(key), _LEAST_OHM)


def _supply(part: Part, at: At, condition: Condition) -> list[Element]:
    # Off, it is taken as open.
    if condition.supply == "off":
        return []
    return [Source(part.id, at["+"], at["−"], part.value(condition.supply), _ohm(part))]


def _fuse(part: Part, at: At, condition: Condition) -> list[Element]:
    return [Fuse(part.id, at["1"], at["2"], _ohm(part), part.value("rating_a"))]


def _barrier(part: Part, at: At, condition: Condition) -> list[Element]:
    return [
        Resistor(part.id, at["1"], at["3"], _ohm(part)),
        Resistor(f"{part.id}.return", at["2"], at["4"], _ohm(part, "return_ohm")),
    ]


def core_key(core: str) -> str:
    """Under which of its values a cable has the resistance of one core, where that is not the others'."""
    return f"core {core}"


def _cable(part: Part, at: At, condition: Condition) -> list[Element]:
    celsius = part.value("temperature_c") if condition.hottest_c is None else condition.hottest_c
    ohm = max(resistance(part.value("length_m"), part.value("area_mm2"), celsius), 1e-6)
    cores = (*part.cores, "S") if part.shielded else part.cores
    ohms = {core: part.values.get(core_key(core), ohm) for core in cores}
    return [Resistor(f"{part.id}.{core}", at[f"{core}a"], at[f"{core}b"], ohms[core]) for core in cores]


def _two_wire(part: Part, at: At, condition: Condition) -> list[Element]:
    if condition.supply == "off":
        return [Resistor(part.id, at["+"], at["−"], BLOCKED_OHM)]
    return [Sink(part.id, at["+"], at["−"], condition.current_a, max(part.value("lift_off_v"), _LEAST_V))]


def _draw(part: Part, at: At, condition: Condition) -> Element:
    if condition.supply == "off":
        return Resistor(f"{part.id}.draw", at["V+"], at["V−"], BLOCKED_OHM)
    return Sink(f"{part.id}.draw", at["V+"], at["V−"], part.value("draw_a"), max(part.value("lift_off_v"), _LEAST_V))


def _three_wire(part: Part, at: At, condition: Condition) -> list[Element]:
    if condition.supply == "off":
        return [_draw(part, at, condition)]
    low, high = part.value("out_low_v"), part.value("out_high_v")
    volt = low + condition.share * (high - low)
    draw = _draw(part, at, condition)
    ohm = _ohm(part, "out_ohm")
    return [draw, Output(part.id, at["out"], at["V−"], volt, ohm, draw.name, at["V+"], at["V−"])]


def _four_wire(part: Part, at: At, condition: Condition) -> list[Element]:
    if condition.supply == "off":
        return [_draw(part, at, condition)]
    draw = _draw(part, at, condition)
    drive = Drive(part.id, at["out+"], at["out−"], condition.current_a, part.value("drive_v"), draw.name)
    return [draw, drive]


def _calibrator(part: Part, at: At, condition: Condition) -> list[Element]:
    """A calibrator left in the loop: it draws its current as a transmitter does."""
    lift_off = max(part.value("lift_off_v"), _LEAST_V)
    return [Sink(part.id, at["+"], at["−"], max(part.value("amp"), 1e-6), lift_off)]


def _sourcing_calibrator(part: Part, at: At, condition: Condition) -> list[Element]:
    """A calibrator that drives its current into whatever lies across it, by its own battery."""
    return [Drive(part.id, at["+"], at["−"], max(part.value("amp"), 1e-6), part.value("drive_v"))]


def _digital(part: Part, at: At, condition: Condition) -> list[Element]:
    return [_draw(part, at, condition)]


def _contact(part: Part, at: At, condition: Condition) -> list[Element]:
    return [Resistor(part.id, at["c"], at["no"], _ohm(part, "closed_ohm"))] if condition.closed else []


def _current_input(part: Part, at: At, condition: Condition) -> list[Element]:
    volt = part.value("supplies_v")
    if not volt:
        return [Resistor(part.id, at["+"], at["−"], _ohm(part))]
    # An active input drives its + terminal; what comes back through − crosses its own resistor.
    common = f"{part.id}~common"
    sense = Resistor(part.id, at["−"], common, _ohm(part))
    return [sense] if condition.supply == "off" else [Source(f"{part.id}.supply", at["+"], common, volt, 1.0), sense]


def _across(a: str, b: str) -> Callable[[Part, At, Condition], list[Element]]:
    return lambda part, at, condition: [Resistor(part.id, at[a], at[b], _ohm(part))]


#: How each kind of part is written; terminals and earth bars are nodes and nothing else.
_ELEMENTS: dict[str, Callable[[Part, At, Condition], list[Element]]] = {
    "supply": _supply,
    "fuse": _fuse,
    "barrier": _barrier,
    "cable": _cable,
    "two_wire": _two_wire,
    "three_wire": _three_wire,
    "four_wire": _four_wire,
    "digital": _digital,
    "contact": _contact,
    "current_input": _current_input,
    "voltage_input": _across("+", "−"),
    "contact_input": _across("+", "−"),
    "digital_input": _across("A", "B"),
    "meter": _across("+", "−"),
    "calibrator": _calibrator,
    "sourcing_calibrator": _sourcing_calibrator,
    "burden": _across("1", "2"),
}
