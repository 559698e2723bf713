"""What arrives at the input for whatever the sensor sends: the solved network as one line with its kinks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..quantities.once import once
from ..quantities.signals import OUTPUTS, SIGNALS, Signal
from .circuit import Circuit
from .circuit_network import Condition, elements, joined
from .network import solve

#: How near two sent values are brought around a kink, and how far what arrives may be off a straight line between two
#: [both by the signal's span].
_NEAR, _STRAIGHT = 1e-6, 1e-9


@dataclass(frozen=True)
class Transfer:
    """What arrives by what is sent, straight between its knots.

    Parameters
    ----------
    sent, arriving : ndarray
        Both in the signal's own unit [A or V], shape (knots,), `sent` rising.
    """

    sent: Array
    arriving: Array

    def forward(self, sent: Array) -> Array:
        """What arrives; beyond the knots as at the last of them."""
        return np.asarray(np.interp(sent, self.sent, self.arriving), dtype=float)

    def backward(self, arriving: Array) -> Array:
        """What was sent, along the stretch on which what arrives rises with it."""
        rising = np.flatnonzero(np.diff(self.arriving) > 1e-6 * np.diff(self.sent))
        if not len(rising):
            return np.full_like(arriving, np.nan)
        low, high = int(rising[0]), int(rising[-1]) + 1
        x, y = self.arriving[low : high + 1], self.sent[low : high + 1]
        found = np.interp(arriving, x, y)
        # Beyond its ends the line goes on: the inverse knows no limits.
        found = np.where(arriving < x[0], y[0] + (arriving - x[0]) * (y[1] - y[0]) / (x[1] - x[0]), found)
        return np.asarray(
            np.where(arriving > x[-1], y[-1] + (arriving - x[-1]) * (y[-1] - y[-2]) / (x[-1] - x[-2]), found),
            dtype=float,
        )


def carried(circuit: Circuit) -> tuple[str, ...]:
    """The signals that a circuit's sensor may send, by their keys: the usual one first, none of one that switches."""
    kind, sensor = circuit.sensor.kind, circuit.sensor
    found = [SIGNALS[one.signal] for one in OUTPUTS.values() if one.link == kind and one.signal]
    if kind == "three_wire":
        ends = (sensor.value("out_low_v"), sensor.value("out_high_v"))
        found = [signal for signal in found if np.allclose((signal.low, signal.high), ends)]
    if kind == "four_wire":
        # It feeds itself: nothing keeps its current from going down to nothing.
        found += [one for one in SIGNALS.values() if one.quantity == "current" and one not in found]
    return tuple(signal.key for signal in found)


def arriving(circuit: Circuit, signal: Signal, condition: Condition) -> float:
    """What the input sees of a circuit in a condition [A or V].

    Raises
    ------
    InputError
        If outputs drive one another, so that there is no answer.
    """
    found = solve(elements(circuit, condition))
    if signal.quantity == "current":
        return found.current.get("input", 0.0)
    node = joined(circuit, condition.lifted)
    return found.volts(node["input.+"], node["input.−"]) or 0.0


@once(256)
def transfer(circuit: Circuit, signal: Signal, condition: Condition | None = None) -> Transfer | None:
    """Work out what arrives for everything that a sensor may mean to send.

    Parameters
    ----------
    circuit : Circuit
        The circuit as it is wired.
    signal : Signal
        What its sensor sends.
    condition : Condition, optional
        Supply and temperature; as usual where nothing is said.

    Returns
    -------
    Transfer or None
        None where the circuit carries no such signal, or has no answer.

    Notes
    -----
    The network is straight between the points at which one of its parts changes state (a transmitter starves, a fuse
    blows): those kinks are closed in on, and two knots put around each.
    """
    carries = {"current": ("two_wire", "four_wire"), "voltage": ("three_wire",)}.get(signal.quantity, ())
    if circuit.sensor.kind not in carries:
        return None
    at = condition or Condition()
    low, high = min(0.0, signal.fault_low), signal.fault_high * 1.1

    def read(sent: float) -> float:
        share = (sent - circuit.sensor.value("out_low_v")) / _out_span(circuit) if carries[0] == "three_wire" else 0.5
        # A transmitter that draws nothing is no element: the least stands for it.
        return arriving(circuit, signal, replace(at, current_a=max(sent, 1e-7), share=share))

    try:
        knots = {float(x): read(float(x)) for x in np.linspace(low, high, 9)}
        knots |= {x: read(x) for x in (signal.low, signal.high)}
        edges = sorted(knots)
        for left, right in pairwise(edges):
            _close_in(read, knots, left, right, signal.span)
    except InputError:
        return None
    sent = np.array(sorted(knots))
    return Transfer(sent, np.array([knots[float(x)] for x in sent]))


def _out_span(circuit: Circuit) -> float:
    return (circuit.sensor.value("out_high_v") - circuit.sensor.value("out_low_v")) or 1.0


def _close_in(
    read: Callable[[float], float], knots: dict[float, float], left: float, right: float, span: float
) -> None:
    """Add knots around the kinks between two."""
    middle = (left + right) / 2
    knots[middle] = read(middle)
    straight = (knots[left] + knots[right]) / 2
    quarter = (3 * left + right) / 4
    between = read(quarter)
    bends = max(abs(knots[middle] - straight), abs(between - (3 * knots[left] + knots[right]) / 4)) / span
    if bends <= _STRAIGHT or right - left <= _NEAR * span:
        return
    _close_in(read, knots, left, middle, span)
    _close_in(read, knots, middle, right, span)
