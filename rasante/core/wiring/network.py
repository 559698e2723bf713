"""A small DC network, solved by nodal analysis: every voltage and current of a loop as it is wired.

Nodal analysis with the currents kept as unknowns beside the voltages: one equation a node (currents sum to zero)
and one an element, so that a milliohm beside a megohm costs no digits. What is not linear, such as a two-wire
transmitter that lacks voltage, or a fuse, has a handful of states, each of them linear; the network is solved until
every state agrees with its own voltages and currents.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite

import numpy as np
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError

#: What a part that blocks still lets through [Ω]: a protected transmitter wired the wrong way round.
BLOCKED_OHM = 1e7
#: What an output that has no power leaves between its terminals [Ω].
OFF_OHM = 1e9
_MOST_ROUNDS = 80


@dataclass(frozen=True)
class Resistor:
    """A resistance between two nodes [Ω], above 0."""

    name: str
    a: str
    b: str
    ohm: float


@dataclass(frozen=True)
class Source:
    """A voltage source [V] with a resistance of its own [Ω], 0 for an ideal one."""

    name: str
    plus: str
    minus: str
    volt: float
    ohm: float = 0.0


@dataclass(frozen=True)
class Sink:
    """A two-wire transmitter: it draws its current while it has its lift-off voltage.

    Parameters
    ----------
    name, plus, minus : str
        Its name and nodes.
    amp : float
        The current that it means to draw [A].
    lift_off_v : float
        The least voltage that it works from [V]. Below, it draws in proportion to what it has; the wrong way round
        its protecting diode blocks.
    """

    name: str
    plus: str
    minus: str
    amp: float
    lift_off_v: float


@dataclass(frozen=True)
class Drive:
    """An active current output: it drives its current [A] with at most so many volts [V].

    `feed` is the name of the sink that powers it: without that it drives nothing. Empty for one with a battery.
    """

    name: str
    plus: str
    minus: str
    amp: float
    volt: float
    feed: str = ""


@dataclass(frozen=True)
class Output:
    """A voltage output: it gives its voltage [V] behind a resistance [Ω], while it is powered.

    Parameters
    ----------
    name, plus, minus : str
        Its name and nodes.
    volt, ohm : float
        What it means to give [V], and the resistance of its output [Ω].
    feed, feed_plus, feed_minus : str
        The sink that powers it, and that one's nodes: it never gives more than it is fed with.
    """

    name: str
    plus: str
    minus: str
    volt: float
    ohm: float
    feed: str
    feed_plus: str
    feed_minus: str


@dataclass(frozen=True)
class Fuse:
    """A fuse: a small resistance [Ω] until more than its rating [A] flows."""

    name: str
    a: str
    b: str
    ohm: float
    rating_a: float


Element = Resistor | Source | Sink | Drive | Output | Fuse


@dataclass(frozen=True)
class Solution:
    """A solved network.

    Parameters
    ----------
    potential : mapping of str to float
        Voltage of every node against an arbitrary node of its own part of the network [V].
    current : mapping of str to float
        Current through every element [A]: from a to b, out of a source's plus, into a sink's plus.
    island : mapping of str to int
        Which part of the network each node hangs together with.
    state : mapping of str to str
        ``regulating``, ``starved`` or ``blocked`` of sinks; ``regulating``, ``saturated`` or ``off`` of drives;
        ``sending``, ``limited`` or ``off`` of outputs; ``sound`` or ``blown`` of fuses.
    residual : float
        Largest sum of currents at a node, by the largest current [1].
    """

    potential: Mapping[str, float]
    current: Mapping[str, float]
    island: Mapping[str, int]
    state: Mapping[str, str]
    residual: float

    def volts(self, a: str, b: str) -> float | None:
        """Voltage from b to a [V]; None between parts that nothing joins."""
        if a == b:
            return 0.0
        if a not in self.potential or b not in self.potential or self.island[a] != self.island[b]:
            return None
        return self.potential[a] - self.potential[b]


def _ends(element: Element) -> tuple[str, str]:
    return (element.a, element.b) if isinstance(element, Resistor | Fuse) else (element.plus, element.minus)


class _Nodes:
    """A network's elements with their nodes by number: what all its states have in common."""

    def __init__(self, elements: Sequence[Element]) -> None:
        self.elements = elements
        self.number: dict[str, int] = {}
        self.ends = [(self._of(a), self._of(b)) for a, b in map(_ends, elements)]
        self._islands: dict[frozenset[str], list[int]] = {}

    def _of(self, node: str) -> int:
        return self.number.setdefault(node, len(self.number))

    def islands(self, open_names: frozenset[str]) -> list[int]:
        """Number the parts of the network that hang together, for every node; what is open joins nothing."""
        if open_names not in self._islands:
            self._islands[open_names] = self._hanging_together(open_names)
        return self._islands[open_names]

    def _hanging_together(self, open_names: frozenset[str]) -> list[int]:
        parent = list(range(len(self.number)))

        def root(node: int) -> int:
            while parent[node] != node:
                parent[node] = parent[parent[node]]
                node = parent[node]
            return node

        for element, (a, b) in zip(self.elements, self.ends, strict=True):
            if element.name not in open_names:
                parent[root(a)] = root(b)
        numbers: dict[int, int] = {}
        return [numbers.setdefault(root(node), len(numbers)) for node in range(len(parent))]


_FIRST = {Sink: "starved", Drive: "saturated", Output: "off", Fuse: "sound"}


def solve(elements: Sequence[Element]) -> Solution:
    """Solve a network.

    Parameters
    ----------
    elements : sequence of Element
        Its elements, of different names. Nodes come to be by being named.

    Raises
    ------
    InputError
        If ideal sources contradict one another, or a figure is not finite.

    Notes
    -----
    Of several devices that each want their own current through one loop the least flows and the others starve: one
    at a time begins to regulate, the least first, so that those after it are met as they are then.

    References
    ----------
    .. [1] G. D. Hachtel, R. K. Brayton, F. G. Gustavson, "The sparse tableau approach to network analysis and
       design", IEEE Transactions on Circuit Theory 18 (1971) 101–113.
    """
    for element in elements:
        if isinstance(element, Resistor | Fuse) and not element.ohm > 0:
            raise InputError.at(element.name, "a resistance must be above 0 Ω: join its ends instead")
    _check_finite(elements)
    nodes = _Nodes(elements)
    first = {e.name: _FIRST[type(e)] for e in elements if type(e) in _FIRST}
    state: dict[str, str] = dict(first)
    met: set[tuple[tuple[str, str], ...]] = set()
    held: set[str] = set()
    for _ in range(_MOST_ROUNDS):
        solution = _linear(nodes, state)
        asked = _states(elements, solution)
        changes = {name: value for name, value in asked.items() if value != state[name] and name not in held}
        if not changes:
            return solution
        others = {name: value for name, value in changes.items() if value != "blown"}
        if not others:
            # With a fuse gone all else begins anew: what regulated may have nothing left to regulate.
            gone = {name: value for name, value in state.items() if value == "blown"}
            state, met = {**first, **gone, **changes}, set()
            continue
        state = {**state, **_next(elements, others)}
        key = tuple(sorted(state.items()))
        if key in met:
            # At the very edge of two states either holds: what goes to and fro stays without what it means to send.
            held |= set(others)
            state = {**state, **{name: first[name] for name in others if first[name] != "sound"}}
        met.add(key)
    return solution


def _check_finite(elements: Sequence[Element]) -> None:
    """Refuse what no meter and no plate can say: an infinite resistance, a voltage that is no number."""
    for element in elements:
        numbers = (getattr(element, name, 0.0) for name in ("ohm", "volt", "amp", "lift_off_v", "rating_a"))
        if not all(isfinite(number) for number in numbers):
            raise InputError.at(element.name, "its ohms, volts and amperes must be finite: leave open what is open")


def _next(elements: Sequence[Element], changes: Mapping[str, str]) -> dict[str, str]:
    """Which of the changes come first: whatever lets go, then the one that wants the least current."""
    letting_go = {name: value for name, value in changes.items() if value != "regulating"}
    if letting_go:
        return letting_go
    wanted = {e.name: e.amp for e in elements if isinstance(e, Sink | Drive) and e.name in changes}
    return {min(wanted, key=lambda name: wanted[name]): "regulating"}


def _states(elements: Sequence[Element], found: Solution) -> dict[str, str]:
    """What state each element's own voltage and current ask for."""
    asked: dict[str, str] = {}
    for element in elements:
        state = found.state.get(element.name, "")
        if isinstance(element, Sink):
            asked[element.name] = _sink_state(element, state, found)
        elif isinstance(element, Drive):
            asked[element.name] = _drive_state(element, state, found)
        elif isinstance(element, Output):
            fed = found.volts(element.feed_plus, element.feed_minus) or 0.0
            powered = found.state.get(element.feed) == "regulating"
            asked[element.name] = "off" if not powered else "limited" if element.volt > fed else "sending"
        elif isinstance(element, Fuse):
            blows = abs(found.current[element.name]) > element.rating_a and state == "sound"
            asked[element.name] = "blown" if blows else state
    return asked


def _sink_state(element: Sink, state: str, found: Solution) -> str:
    volts = found.volts(element.plus, element.minus) or 0.0
    if volts < -1e-9:
        return "blocked"
    if state == "blocked":
        return "starved" if volts > 1e-9 else "blocked"
    if state == "regulating":
        return "regulating" if volts >= element.lift_off_v - 1e-9 else "starved"
    # What stands at its lift-off to the last digit draws its current already.
    return "regulating" if volts > element.lift_off_v * (1 + 1e-7) else "starved"


def _drive_state(element: Drive, state: str, found: Solution) -> str:
    if element.feed and found.state.get(element.feed) != "regulating":
        return "off"
    if state == "regulating":
        volts = found.volts(element.plus, element.minus) or 0.0
        return "saturated" if volts > element.volt * (1 + 1e-9) else "regulating"
    if state == "off":
        return "saturated"
    return "regulating" if found.current[element.name] > element.amp * (1 + 1e-7) else "saturated"


def _linear(nodes: _Nodes, state: Mapping[str, str]) -> Solution:
    """Solve the network with every element held in its state."""
    elements = nodes.elements
    island = nodes.islands(frozenset(name for name, value in state.items() if value == "blown"))
    count, size = len(island), len(island) + len(elements)
    matrix, right = np.zeros((size, size)), np.zeros(size)
    for row, (element, (a, b)) in enumerate(zip(elements, nodes.ends, strict=True), count):
        # The unknown is the current through the element from its first end to its second.
        matrix[a, row] += 1
        matrix[b, row] -= 1
        volt, ohm, amp = _relation(element, state)
        if isinstance(element, Output) and state[element.name] == "limited":
            # No more than it is fed with: the voltage of its own supply takes the place of what it means to give.
            scale, fed = max(ohm, 1.0), (nodes.number[element.feed_plus], nodes.number[element.feed_minus])
            matrix[row, a] += 1 / scale
            matrix[row, b] -= 1 / scale
            matrix[row, fed[0]] -= 1 / scale
            matrix[row, fed[1]] += 1 / scale
            matrix[row, row] = -ohm / scale
        elif amp is None:
            # Large resistances as conductances: rows of one size keep the balance of currents to its last digit.
            scale = max(ohm, 1.0)
            matrix[row, a], matrix[row, b], matrix[row, row] = 1 / scale, -1 / scale, -ohm / scale
            right[row] = volt / scale
        else:
            matrix[row, row], right[row] = 1, amp
    balance = matrix[:count].copy()
    first: dict[int, int] = {}
    for node, number in enumerate(island):
        first.setdefault(number, node)
    for row in first.values():
        # One node of every part is 0 V; its equation follows from the others.
        matrix[row] = 0
        matrix[row, row] = 1
    found = _solved(matrix, right)
    through = found[count:]
    largest = float(np.max(np.abs(through), initial=0.0))
    residual = float(np.max(np.abs(balance @ found), initial=0.0)) / largest if largest else 0.0
    values = found.tolist()
    current = {
        element.name: -flow if isinstance(element, Source | Drive | Output) else flow
        for element, flow in zip(elements, values[count:], strict=True)
    }
    potential = dict(zip(nodes.number, values, strict=False))
    return Solution(potential, current, dict(zip(nodes.number, island, strict=True)), dict(state), residual)


def _solved(matrix: Array, right: Array) -> Array:
    """Solve linear equations, the error of the first answer taken off it.

    Raises
    ------
    InputError
        If they contradict one another.
    """
    lapack = scipy.linalg.lapack
    factors, pivots, singular = lapack.dgetrf(matrix)
    if singular:
        raise InputError.at("", "sources are joined straight to one another: their voltages contradict")
    found = lapack.dgetrs(factors, pivots, right)[0]
    return np.asarray(found + lapack.dgetrs(factors, pivots, right - matrix @ found)[0], dtype=float)


def _relation(element: Element, state: Mapping[str, str]) -> tuple[float, float, float | None]:
    """What an element asks: volts across it = volt + ohm × current, or that its current is so much [A]."""
    if isinstance(element, Resistor):
        return 0.0, element.ohm, None
    if isinstance(element, Source):
        return element.volt, element.ohm, None
    held = state[element.name]
    if isinstance(element, Fuse):
        return 0.0, element.ohm, 0.0 if held == "blown" else None
    if isinstance(element, Output):
        return (0.0, OFF_OHM, None) if held == "off" else (element.volt, element.ohm, None)
    if isinstance(element, Drive):
        if held == "off":
            return 0.0, OFF_OHM, None
        return (0.0, 0.0, -element.amp) if held == "regulating" else (element.volt, 1.0, None)
    if held == "regulating":
        return 0.0, 0.0, element.amp
    # One that wants next to nothing, or nothing, is starved by whatever lets no more through than a blocked one.
    least = element.lift_off_v / BLOCKED_OHM
    return 0.0, BLOCKED_OHM if held == "blocked" else element.lift_off_v / max(element.amp, least), None
