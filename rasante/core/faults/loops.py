"""What a circuit lets arrive, and what a meter reads of it, by the network, quick enough for hundreds of faults."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..quantities.signals import SIGNALS, Signal
from ..wiring.circuit import Circuit, Part, Wire
from ..wiring.circuit_network import Condition, elements, joined
from ..wiring.meter import VOLT_OHM, Leads, measure
from ..wiring.network import Resistor, Solution, solve
from .installation import conductors, points

#: A meter's ohms end here [Ω]: what is more is open.
OPEN_OHM = 4e7
#: What two lines of a bus may have between their ends [Ω], and what may stand between them, before nothing answers.
_LINE_OHM, _ACROSS_OHM = 500.0, 20.0


def _knots(signal: Signal) -> Array:
    """What the sensor may mean to send, at which the network is solved [A or V]."""
    low, high = min(0.0, signal.fault_low), signal.fault_high * 1.05
    return np.unique(np.concatenate([np.linspace(low, high, 7), [signal.low, signal.high]]))


def _at(circuit: Circuit, sent: float) -> Condition:
    sensor = circuit.sensor
    if sensor.kind != "three_wire":
        return Condition(current_a=max(sent, 1e-7))
    low, high = sensor.value("out_low_v"), sensor.value("out_high_v")
    return Condition(share=(sent - low) / ((high - low) or 1.0))


@lru_cache(maxsize=4096)
def _solved(circuit: Circuit, sent: float) -> Solution | None:
    try:
        return solve(elements(circuit, _at(circuit, sent)))
    except InputError:
        return None


#: How a circuit is solved where the sensor means to send so much.
Solve = Callable[[float], Solution | None]


def _sweep(solved: Solve, signal: Signal) -> tuple[tuple[float, Solution | None], ...]:
    """Solve a circuit for what its sensor may mean to send; straight lines lie between what is returned.

    Notes
    -----
    Where every part is in the same state at two values, it is at all between: the network is linear then, and what
    asks for another state are inequalities. So only where a state changes are the knots between solved as well; and
    where a sensor starves, as what it draws then is not linear in what it means to send.
    """
    knots = [float(one) for one in _knots(signal)]
    # At nothing a least current stands for none: what lies beyond is not straight to it.
    first, last = min(1, len(knots) - 1), len(knots) - 1
    found = {at: solved(knots[at]) for at in (0, first, last)}
    open_ends = [(first, last)]
    while open_ends:
        left, right = open_ends.pop()
        one, other = found[left], found[right]
        if right - left < 2 or _straight(one, other):
            continue
        middle = (left + right) // 2
        found[middle] = solved(knots[middle])
        open_ends += [(left, middle), (middle, right)]
    return tuple((knots[at], found[at]) for at in sorted(found))


def _straight(one: Solution | None, other: Solution | None) -> bool:
    """Whether all lies on a straight line between two solutions of one circuit."""
    if one is None or other is None:
        return False
    return one.state == other.state and "starved" not in one.state.values()


@lru_cache(maxsize=4096)
def _swept(circuit: Circuit, signal: Signal) -> tuple[tuple[float, Solution | None], ...]:
    return _sweep(partial(_solved, circuit), signal)


@lru_cache(maxsize=4096)
def _line(circuit: Circuit, signal: Signal) -> tuple[Array, Array]:
    """What arrives at the input by what is sent; nothing where the network has no answer."""
    swept, found = _swept(circuit, signal), []
    node = joined(circuit)
    for _, solution in swept:
        if solution is None:
            found.append(signal.nothing)
        elif signal.quantity == "current":
            found.append(solution.current.get("input", 0.0))
        else:
            found.append(solution.volts(node["input.+"], node["input.−"]) or 0.0)
    return np.array([sent for sent, _ in swept]), np.array(found)


def arriving(circuit: Circuit, signal: Signal, sent: Array) -> Array:
    """What arrives for what is sent [A or V], between solved points by straight lines."""
    return np.asarray(np.interp(sent, *_line(circuit, signal)), dtype=float)


@lru_cache(maxsize=4096)
def _starved_line(circuit: Circuit, signal: Signal) -> tuple[Array, Array]:
    """Whether the sensor lacks voltage, by what it means to send."""
    swept, name = _swept(circuit, signal), circuit.sensor.id
    lacks = [solution is not None and solution.state.get(name) == "starved" for _, solution in swept]
    return np.array([sent for sent, _ in swept]), np.array(lacks, dtype=float)


def starved(circuit: Circuit, signal: Signal, sent: Array) -> NDArray[np.bool_]:
    """Whether a two-wire sensor lacks voltage for what it means to send [A]: then nobody knows what it draws."""
    if circuit.sensor.kind != "two_wire":
        return np.zeros(sent.shape, dtype=bool)
    return np.asarray(np.interp(sent, *_starved_line(circuit, signal)) > 0)


@lru_cache(maxsize=8192)
def _volts_line(circuit: Circuit, signal: Signal, red: str, black: str) -> tuple[Array, Array]:
    swept, node = _swept(circuit, signal), joined(circuit)
    first, second = node[red], node[black]
    if any(solution is not None and solution.volts(first, second) is None for _, solution in swept):
        # Nothing joins the two but the meter itself.
        swept = _sweep(partial(_bridged, circuit, first, second), signal)
    found = [(solution.volts(first, second) or 0.0) if solution is not None else 0.0 for _, solution in swept]
    return np.array([sent for sent, _ in swept]), np.array(found)


def _bridged(circuit: Circuit, first: str, second: str, sent: float) -> Solution | None:
    """The circuit solved with a meter for volts between two nodes of it."""
    try:
        return solve([*elements(circuit, _at(circuit, sent)), Resistor("meter~", first, second, VOLT_OHM)])
    except InputError:
        return None


def volts(plan: Circuit, circuit: Circuit, signal: Signal | None, red: str, black: str, sent: Array) -> Array:
    """Volts between two points for what is sent [V].

    Parameters
    ----------
    plan, circuit : Circuit
        As it should be, and as it is wired.
    signal : Signal or None
        What the sensor sends; None of a digital one.
    red, black : str
        By the names of `installation.points`, or terminals.
    sent : ndarray
        What it means to send [A or V].
    """
    named = points(plan)
    kind = signal if signal is not None else SIGNALS["ma4"]
    return np.asarray(np.interp(sent, *_volts_line(circuit, kind, named.get(red, red), named.get(black, black))))


def can_be_met(plan: Circuit, pair: Sequence[str], far: str = "") -> bool:
    """Whether a circuit, as it is kept, has both points, and conductors from there to whatever is done at `far`."""
    named = points(plan)
    found = [named.get(one, one) for one in pair]
    if not set(found) <= set(plan.points):
        return False
    rows = [row for row in conductors(plan).values() if row[0].b in found]
    if far == "joined":
        return len(rows) == 2
    return far != "box" or (len(rows) == 2 and all(any(w.b.startswith("box") for w in row) for row in rows))


@lru_cache(maxsize=4096)
def ohms(
    plan: Circuit, circuit: Circuit, red: str, black: str, far: str = "", begin: str = "", apart: bool = True
) -> float:
    """Ohms between two points with the power off [Ω], at most `OPEN_OHM`.

    Parameters
    ----------
    plan, circuit : Circuit
        As it should be, and as it is wired.
    red, black : str
        By the names of `installation.points`, or terminals.
    far : {"", "free", "joined", "box"}
        What is done at the far end: the sensor stays on, is taken off, is taken off and the pair joined there, or
        the cable's own ends are joined as they come into the box.
    begin : {"", "box", "beyond"}
        Whether only what lies beyond the box is left on; with the box, or without.
    apart : bool
        Whether the panel's wires are taken off first.
    """
    named, rows = points(plan), conductors(plan)
    first, second = named.get(red, red), named.get(black, black)
    lifted = {row[0].id for row in rows.values()} if apart else set()
    if apart and first.startswith("fuse"):
        lifted |= {wire.id for wire in plan.wires if wire.a.startswith("fuse") or wire.b.startswith("fuse")}
    if begin == "box":
        lifted |= {w.id for row in rows.values() for w in row if w.b.startswith("box")}
    elif begin == "beyond":
        lifted |= {w.id for row in rows.values() for w in row if w.a.startswith("box")}
    extra: list[Wire] = []
    if far in ("free", "joined"):
        lifted |= {row[-1].id for row in rows.values()}
    both = [row for row in rows.values() if row[0].b in (first, second)]
    if far == "joined":
        extra = [Wire("jumper", both[0][-1].a, both[1][-1].a)]
    elif far == "box":
        lifted |= {w.id for row in rows.values() for w in row if w.b.startswith("box")}
        ends = [next(w.a for w in row if w.b.startswith("box")) for row in both]
        extra = [Wire("jumper", ends[0], ends[1])]
    changed = replace(circuit, wires=(*(w for w in circuit.wires if _whose(w) not in lifted), *extra))
    try:
        found = measure(changed, Condition(supply="off"), Leads("Ω", first, second))
    except InputError:
        return OPEN_OHM
    return min(max(found, 0.1), OPEN_OHM)


def _whose(wire: Wire) -> str:
    """The tag of the wire that it is, or was before something was let into it."""
    return wire.id.partition("~")[0]


@lru_cache(maxsize=4096)
def alone(plan: Circuit, circuit: Circuit, place: str) -> Circuit:
    """The sensor off the input, on a meter with its own supply, from a place on.

    Parameters
    ----------
    plan, circuit : Circuit
        As it should be, and as it is wired.
    place : {"panel", "box", "sensor"}
        Where the meter's leads are: what lies beyond comes with it.
    """
    sensor, rows = circuit.sensor, conductors(plan)
    begins = {terminal: f"{sensor.id}.{terminal}" for terminal in sensor.terminals}
    kept = {sensor.id}
    if place != "sensor":
        for terminal, row in rows.items():
            at = next((i for i, w in enumerate(row) if place == "panel" or w.b.startswith("box")), None)
            if at is not None:
                begins[terminal] = row[at].b
                kept |= {wire.b.partition(".")[0] for wire in row[at:]}
    meter = [Part("supply", "supply", "Meter", "panel", {"ohm": 0.1}), _meter_input(circuit)]
    parts = (*(part for part in circuit.parts if part.id in kept), *meter)
    wires = (w for w in circuit.wires if w.a.partition(".")[0] in kept and w.b.partition(".")[0] in kept)
    there = {f"{part.id}.{terminal}" for part in parts for terminal in part.terminals}
    leaks = tuple(leak for leak in circuit.leaks if leak.a in there and leak.b in there)
    return Circuit(circuit.kind, parts, (*wires, *_meter_wires(circuit, begins)), leaks)


def _meter_input(circuit: Circuit) -> Part:
    if circuit.sensor.kind == "three_wire":
        return Part("input", "voltage_input", "Meter", "panel", {"ohm": VOLT_OHM})
    return Part("input", "current_input", "Meter", "panel", {"ohm": 50.0})


def _meter_wires(circuit: Circuit, begins: Mapping[str, str]) -> list[Wire]:
    kind = circuit.sensor.kind
    if kind == "two_wire":
        ends = [("supply.+", begins["+"]), (begins["−"], "input.+"), ("input.−", "supply.−")]
    else:
        out, back = ("out", "V−") if kind == "three_wire" else ("out+", "out−")
        ends = [
            ("supply.+", begins["V+"]),
            ("supply.−", begins["V−"]),
            (begins[out], "input.+"),
            ("input.−", begins[back]),
        ]
    return [Wire(f"meter{index}", a, b) for index, (a, b) in enumerate(ends)]


@lru_cache(maxsize=1024)
def answers(plan: Circuit, circuit: Circuit) -> bool:
    """Whether a digital sensor answers: it is powered, and both lines reach it, apart and the right way round."""
    solution = _solved(circuit, 0.012)
    sensor = circuit.sensor.id
    if solution is None or solution.state.get(f"{sensor}.draw") != "regulating":
        return False
    # Without the port's own resistor only a line itself joins its two ends.
    bare = Circuit(circuit.kind, tuple(p for p in circuit.parts if p.id != "input"), _off_the_port(circuit))
    off, rows = Condition(supply="off"), conductors(plan)
    if not {"A", "B"} <= set(rows):
        return False
    begins = {line: rows[line][0].b for line in ("A", "B")}
    through = (measure(bare, off, Leads("Ω", begins[line], f"{sensor}.{line}")) for line in ("A", "B"))
    on = all(any(w.id == rows[line][0].id for w in circuit.wires) for line in ("A", "B"))
    across = measure(circuit, off, Leads("Ω", f"{sensor}.A", f"{sensor}.B"))
    return on and all(ohm < _LINE_OHM for ohm in through) and across > _ACROSS_OHM


def _off_the_port(circuit: Circuit) -> tuple[Wire, ...]:
    return tuple(w for w in circuit.wires if not w.a.startswith("input.") and not w.b.startswith("input."))
