"""The signal: what a transmitter sends, what its circuit lets arrive, and the counts that a card makes of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np

from ..quantities.arrays import Array
from ..quantities.signals import SIGNALS, Signal
from ..wiring.circuit import Circuit
from ..wiring.transfer import Transfer, transfer
from .hop import Cause, Hop, line, setting
from .steps import stepped

FAULTS: dict[str, str] = {"low": "goes low", "high": "goes high", "hold": "holds its last value"}
OVER: dict[str, str] = {
    "clip": "stop at the card's own ends",
    "ends": "stop at the scaled ends",
    "wrap": "wrap round",
}


@dataclass(frozen=True)
class Transmitter(Hop):
    """The straight line from what is sensed to a signal, held where the signal ends.

    Parameters
    ----------
    kind : str
        Of `signals.SIGNALS`.
    range_low, range_high : float
        What it senses at the signal's two ends.
    ratio : float
        Of a bridge: what it gives at its high end [V by V].
    accuracy : float
        Half-width by its span (k = 2) [1].
    step_m : float
        The least step of its reading, as level [m].
    fault : {"low", "high", "hold"}
        What it does when it fails.
    per_metre : float
        How much of what is sensed a metre is.
    """

    station: ClassVar[str] = "sent"
    name: ClassVar[str] = "Transmitter"

    kind: str = setting(
        "signal.kind", "Signal", "choice", options={key: one.name for key, one in SIGNALS.items()}, default="ma4"
    )
    range_low: float = setting("sensor.low", "Range, low end", "sensed", default=0.0)
    range_high: float = setting("sensor.high", "Range, high end", "sensed", default=1.0)
    ratio: float = setting("signal.ratio", "mV/V at the high end", "bridge", 1e-4, 1, default=0.010)
    accuracy: float = setting("sensor.accuracy", "Accuracy, ± by span", "ratio", 0, 0.5, moves=False, default=0.0025)
    step_m: float = setting("sensor.step", "Least step", "length", 0, 1, moves=False, default=0.0)
    fault: str = setting("signal.fault", "On a fault it", "choice", options=FAULTS, moves=False, default="low")
    per_metre: float = 1.0

    @cached_property
    def signal(self) -> Signal:
        """What it sends, with its ends and limits."""
        kind = SIGNALS[self.kind]
        return kind.by(self.ratio) if kind.quantity == "bridge" else kind

    def forward(self, x: Array, exact: bool = True) -> Array:
        """What it sends [A or V]."""
        signal = self.signal
        sent = line(x, self.range_low, self.range_high, signal.low, signal.high)
        return np.clip(sent, signal.least, signal.most)

    def backward(self, y: Array) -> Array:
        """What is sensed."""
        return line(y, self.signal.low, self.signal.high, self.range_low, self.range_high)

    def causes(self, x: Array) -> list[Cause]:
        """What it is sold to be off, and its least step."""
        slope = abs(self.signal.span / (self.range_high - self.range_low))
        by_step = self.step_m * self.per_metre * slope / np.sqrt(3)
        return [
            Cause("accuracy of the sensor", self.accuracy * abs(self.signal.span)),
            Cause("step of the sensor", by_step),
        ]

    def unasked(self) -> frozenset[str]:
        """The ratio is a bridge's."""
        return frozenset() if SIGNALS[self.kind].quantity == "bridge" else frozenset(("signal.ratio",))


@dataclass(frozen=True)
class Wires(Hop):
    """The circuit between sensor and input, as it is wired: what is sent arrives, unless the network says otherwise.

    Parameters
    ----------
    signal : Signal
        What is sent.
    circuit : Circuit or None
        The circuit; None where none is kept: what is sent arrives.
    """

    station: ClassVar[str] = "arriving"
    name: ClassVar[str] = "Circuit"

    signal: Signal = SIGNALS["ma4"]
    circuit: Circuit | None = None

    @cached_property
    def transfer(self) -> Transfer | None:
        """What arrives by what is sent; None where all of it does."""
        return None if self.circuit is None else transfer(self.circuit, self.signal)

    def forward(self, x: Array, exact: bool = True) -> Array:
        """What arrives [A or V]."""
        return x if self.transfer is None else self.transfer.forward(x)

    def backward(self, y: Array) -> Array:
        """What was sent [A or V]."""
        return y if self.transfer is None else self.transfer.backward(y)


@dataclass(frozen=True)
class InputCard(Hop):
    """The straight line from a signal to whole counts.

    Parameters
    ----------
    at_low, at_high : float
        The signal at its two ends [A or V].
    low, high : float
        Counts there.
    bits : int
        How many bits it has.
    over : {"clip", "ends", "wrap"}
        What becomes of counts beyond.
    accuracy : float
        Half-width by its span (k = 2) [1].
    """

    station: ClassVar[str] = "counts"
    name: ClassVar[str] = "Input card"

    at_low: float = setting("counts.at_low", "Signal, low", "signal", follows=True, default=0.004)
    low: float = setting("counts.low", "Counts, low", "number", default=0.0)
    at_high: float = setting("counts.at_high", "Signal, high", "signal", follows=True, default=0.020)
    high: float = setting("counts.high", "Counts, high", "number", default=32767.0)
    bits: int = setting("counts.bits", "Bits of the card", "whole", 6, 32, default=15)
    over: str = setting("counts.over", "Beyond them they", "choice", options=OVER, default="clip")
    accuracy: float = setting("counts.accuracy", "Accuracy, ± by span", "ratio", 0, 0.5, moves=False, default=0.001)

    @property
    def most(self) -> float:
        """All that its bits hold."""
        return 2.0**self.bits - 1

    def forward(self, x: Array, exact: bool = True) -> Array:
        """Counts."""
        raw = line(x, self.at_low, self.at_high, self.low, self.high)
        raw = stepped(raw, 0) if exact else raw
        if self.over == "wrap":
            return np.mod(raw, self.most + 1)
        ends = sorted((self.low, self.high)) if self.over == "ends" else [0.0, self.most]
        return np.clip(raw, ends[0], ends[1])

    def backward(self, y: Array) -> Array:
        """The signal [A or V]."""
        return line(y, self.low, self.high, self.at_low, self.at_high)

    @property
    def step(self) -> float:
        """One count."""
        return 1.0

    def causes(self, x: Array) -> list[Cause]:
        """What it is sold to be off."""
        return [Cause("accuracy of the card", self.accuracy * abs(self.high - self.low))]


def raw_ends(signal: Signal, bits: int) -> tuple[float, float]:
    """Counts of a card that takes the signal from nothing up: 15 bits give 6553 and 32767 for 4–20 mA."""
    most = 2.0**bits - 1
    # A fifth of 4095 is 819, whatever a floating point makes of it.
    return float(np.floor(round(most * signal.low / signal.high, 6))), most
