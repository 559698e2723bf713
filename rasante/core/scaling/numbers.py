"""Numbers: a count scaled to a number, written into a register, and read out of it at the far end."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ..quantities.arrays import Array
from ..quantities.units import UNITS
from . import registers
from .hop import Cause, Hop, line, setting
from .steps import stepped

ROUNDINGS: dict[str, str] = {"round": "rounded", "truncate": "cut off"}
_UNIT_KEYS = (
    "mm", "cm", "m", "in", "ft", "bar", "mbar", "kpa", "psi", "mh2o", "inh2o", "fth2o", "pct",
)  # fmt: skip
#: Units that a number may be scaled to, and taken for.
NUMBER_UNITS: dict[str, str] = {key: UNITS[key].name for key in _UNIT_KEYS}
_TYPES = {key: one.name for key, one in registers.TYPES.items()}


@dataclass(frozen=True)
class Scaling(Hop):
    """The straight line from raw values to a number with a unit.

    Parameters
    ----------
    raw_low, raw_high : float
        Raw values at its two ends.
    low, high : float
        What they stand for, in its unit.
    unit : str
        Of `NUMBER_UNITS`.
    decimals : int
        Places it keeps; −1 keeps all.
    rounding : {"round", "truncate"}
        How it is brought to them.
    digits : int
        Most digits it has; 0 for any.
    """

    station: ClassVar[str] = "number"
    name: ClassVar[str] = "Scaling"

    raw_low: float = setting("scaled.raw_low", "Raw, low end", "raw", follows=True, default=0.0)
    low: float = setting("scaled.low", "Low stands for", "number", follows=True, default=0.0)
    raw_high: float = setting("scaled.raw_high", "Raw, high end", "raw", follows=True, default=1.0)
    high: float = setting("scaled.high", "High stands for", "number", follows=True, default=1.0)
    unit: str = setting("scaled.unit", "In", "choice", options=NUMBER_UNITS, default="mm")
    decimals: int = setting("scaled.decimals", "Places it keeps", "whole", -1, 9, default=0)
    rounding: str = setting("scaled.rounding", "Brought to them", "choice", options=ROUNDINGS, default="round")
    digits: int = setting("scaled.digits", "Digits it has at most, 0 any", "whole", 0, 12, default=0)

    @property
    def most(self) -> float:
        """The largest number that its digits hold; infinite for any."""
        return (10.0**self.digits - 1) / 10.0 ** max(self.decimals, 0) if self.digits else float("inf")

    def forward(self, x: Array, exact: bool = True) -> Array:
        """The number, in its unit."""
        number = line(x, self.raw_low, self.raw_high, self.low, self.high)
        if exact:
            number = stepped(number, self.decimals, self.rounding)
        elif self.rounding == "truncate" and self.decimals >= 0:
            number = number - np.copysign(0.5 * 10.0**-self.decimals, number)
        return np.clip(number, -self.most, self.most)

    def backward(self, y: Array) -> Array:
        """The raw value."""
        return line(y, self.low, self.high, self.raw_low, self.raw_high)

    @property
    def step(self) -> float:
        """One of its last place."""
        return 10.0**-self.decimals if self.decimals >= 0 else 0.0


@dataclass(frozen=True)
class PanelMeter(Scaling):
    """A panel meter in the loop: its raw values are the signal itself."""

    name: ClassVar[str] = "Panel meter"


@dataclass(frozen=True)
class DigitalScaling(Scaling):
    """A digital sensor's own number: nothing is converted on the way to it.

    Parameters
    ----------
    range_low, range_high : float
        What it senses at the ends of its range.
    accuracy : float
        Half-width by its span (k = 2) [1].
    step_m : float
        The least step of its reading, as level [m].
    per_metre : float
        How much of what is sensed a metre is.
    """

    name: ClassVar[str] = "Sensor's own number"

    range_low: float = setting("sensor.low", "Range, low end", "sensed", default=0.0)
    range_high: float = setting("sensor.high", "Range, high end", "sensed", default=1.0)
    accuracy: float = setting("sensor.accuracy", "Accuracy, ± by span", "ratio", 0, 0.5, moves=False, default=0.0025)
    step_m: float = setting("sensor.step", "Least step", "length", 0, 1, moves=False, default=0.0)
    per_metre: float = 1.0

    def causes(self, x: Array) -> list[Cause]:
        """What it is sold to be off, and its least step."""
        span, slope = abs(self.high - self.low), abs((self.high - self.low) / (self.raw_high - self.raw_low))
        return [
            Cause("accuracy of the sensor", self.accuracy * span),
            Cause("step of the sensor", self.step_m * self.per_metre * slope / np.sqrt(3)),
        ]


@dataclass(frozen=True)
class Register(Hop):
    """A number written into a register: number × multiplier + offset, in its type.

    Parameters
    ----------
    type, order : str
        Of `registers.TYPES` and `registers.ORDERS`.
    multiplier, offset : float
        How the number is written.
    address : str
        Where it stands, as its device names it.
    """

    station: ClassVar[str] = "words"
    name: ClassVar[str] = "Register"

    type: str = setting("register.type", "Type", "choice", options=_TYPES, default="int16")
    order: str = setting("register.order", "Order", "choice", options=registers.ORDERS, default="ABCD")
    multiplier: float = setting("register.multiplier", "Multiplied by", "number", default=1.0)
    offset: float = setting("register.offset", "Then added", "number", default=0.0)
    address: str = setting("register.address", "Address, as its device names it", "label", moves=False, default="")

    def raw(self, number: Array) -> Array:
        """What is to be written, before its type is asked."""
        return number * self.multiplier + self.offset

    def forward(self, x: Array, exact: bool = True) -> Array:
        """The number that its words stand for; what does not fit wraps round."""
        raw = self.raw(x)
        if exact:
            return registers.wrapped(raw, self.type)
        least, most = registers.bounds(self.type)
        if np.min(raw) > least - 0.5 and np.max(raw) < most + 0.5:
            return raw
        return np.where(registers.fit(self.type, raw), raw, registers.wrapped(raw, self.type))

    def backward(self, y: Array) -> Array:
        """The number."""
        return (y - self.offset) / self.multiplier

    @property
    def step(self) -> float:
        """One, where it keeps whole numbers."""
        return 0.0 if registers.is_float(self.type) else 1.0


@dataclass(frozen=True)
class Link(Hop):
    """The far end reads words by its own map: taken for a type, less an offset, by a multiplier.

    Parameters
    ----------
    type, order : str
        What it takes the words for.
    multiplier, offset : float
        How it reads the number.
    written, written_order : str
        What the words were written as.
    """

    station: ClassVar[str] = "read"
    name: ClassVar[str] = "Link"

    type: str = setting("read.type", "Read as", "choice", options=_TYPES, follows=True, default="int16")
    order: str = setting("read.order", "Order", "choice", options=registers.ORDERS, follows=True, default="ABCD")
    multiplier: float = setting("read.multiplier", "Divided by", "number", follows=True, default=1.0)
    offset: float = setting("read.offset", "After taking off", "number", follows=True, default=0.0)
    written: str = "int16"
    written_order: str = "ABCD"

    @property
    def alike(self) -> bool:
        """Whether it takes the words for what they were written as."""
        return (self.type, self.order) == (self.written, self.written_order)

    def forward(self, x: Array, exact: bool = True) -> Array:
        """The number that is read."""
        raw = x if self.alike else _taken(x, self.written, self.written_order, self.type, self.order)
        return np.asarray((raw - self.offset) / self.multiplier, dtype=float)

    def backward(self, y: Array) -> Array:
        """The register's number; NaN where none gives what is read."""
        raw = y * self.multiplier + self.offset
        if self.alike:
            return raw
        fit = registers.fit(self.type, raw)
        found = _taken(np.where(fit, raw, 0.0), self.type, self.order, self.written, self.written_order)
        return np.asarray(np.where(fit, found, np.nan), dtype=float)


def _taken(numbers: Array, kind: str, order: str, as_kind: str, as_order: str) -> Array:
    """What words of one type are in another; a word that is not there is 0."""
    flat = np.atleast_1d(numbers).reshape(-1)
    words = registers.to_words(registers.wrapped(flat, kind), kind, order)
    count = registers.TYPES[as_kind].words
    padded = np.pad(words, ((0, 0), (0, count)))[:, :count]
    return registers.from_words(padded, as_kind, as_order).reshape(np.shape(numbers))
