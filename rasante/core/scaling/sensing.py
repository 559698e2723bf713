"""The first hop: what a sensor senses of a level, one class a quantity."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np

from ..quantities.arrays import Array
from ..quantities.units import GRAVITY
from .hop import Cause, Hop, line, setting

LOOKS: dict[str, str] = {"down": "down from the top", "up": "up from below"}


@dataclass(frozen=True)
class Sensing(Hop):
    """What all sensing has in common.

    Parameters
    ----------
    zero_m : float
        Height of its zero above the inside bottom; of its face above the reference point where it looks down [m].
    mounting_m : float
        Half-width of that height (k = 2) [m].
    reference_m : float
        Height of the reference point above the inside bottom [m].
    """

    station: ClassVar[str] = "sensed"
    name: ClassVar[str] = "Sensing"
    kind: ClassVar[str] = ""
    label: ClassVar[str] = ""
    #: Its quantity in `units`; empty for plain numbers.
    quantity: ClassVar[str] = "length"

    zero_m: float = setting("sensor.zero", "Height of its zero", "length", -100, 100, default=0.0)
    mounting_m: float = setting("sensor.mounting", "That height, ±", "length", 0, 1, moves=False, default=0.003)
    reference_m: float = 0.0

    @property
    def looks_down(self) -> bool:
        """Whether what it senses falls as the tank fills."""
        return False

    def gone(self, level: Array) -> Array:
        """How far the liquid is from its zero or its face [m]."""
        return (self.reference_m + self.zero_m - level) if self.looks_down else (level - self.zero_m)

    def level(self, gone: Array) -> Array:
        """The level of a distance from its zero or its face [m]; the inverse of `gone`."""
        return (self.reference_m + self.zero_m - gone) if self.looks_down else (gone + self.zero_m)

    @property
    def reach(self) -> tuple[float, float]:
        """The lowest and the highest level that it can feel [m]."""
        return -float("inf"), float("inf")

    @cached_property
    def per_metre(self) -> float:
        """How much of what is sensed a metre is."""
        ends = self.forward(self.level(np.array([0.25, 0.75])), exact=False)
        return abs(float(ends[1] - ends[0])) * 2

    def full(self, height_m: float) -> float:
        """What is sensed of a height of liquid over its zero, or of such a distance."""
        return float(self.forward(self.level(np.array([height_m])))[0])

    def causes(self, x: Array) -> list[Cause]:
        """The height at which it was mounted."""
        return [Cause("height of the sensor's zero", self.mounting_m * self.per_metre)]


@dataclass(frozen=True)
class LevelSensing(Sensing):
    """Level above its zero."""

    kind: ClassVar[str] = "level"
    label: ClassVar[str] = "Level above its zero"

    def forward(self, x: Array, exact: bool = True) -> Array:
        """Level above its zero [m]."""
        return self.gone(x)

    def backward(self, y: Array) -> Array:
        """The level [m]."""
        return self.level(y)


@dataclass(frozen=True)
class DistanceSensing(Sensing):
    """Distance down to the surface."""

    kind: ClassVar[str] = "distance"
    label: ClassVar[str] = "Distance down to the surface"

    @property
    def looks_down(self) -> bool:
        """Always."""
        return True

    def forward(self, x: Array, exact: bool = True) -> Array:
        """Distance from its face [m]."""
        return self.gone(x)

    def backward(self, y: Array) -> Array:
        """The level [m]."""
        return self.level(y)


@dataclass(frozen=True)
class PressureSensing(Sensing):
    """Pressure of the liquid above it: ρ g h, and nothing while it hangs above the liquid.

    Parameters
    ----------
    density : float
        Of the liquid as it is [kg/m³].
    tolerance : float
        Half-width of the density (k = 2), by its size [1].
    """

    kind: ClassVar[str] = "pressure"
    label: ClassVar[str] = "Pressure of the liquid"
    quantity: ClassVar[str] = "pressure"

    density: float = setting("liquid.density", "Density of the liquid", "density", 100, 20000, default=1000.0)
    tolerance: float = setting("liquid.tolerance", "Density, ±", "ratio", 0, 0.2, moves=False, default=0.005)

    @property
    def reach(self) -> tuple[float, float]:
        """From where it hangs upwards."""
        return self.zero_m, float("inf")

    def forward(self, x: Array, exact: bool = True) -> Array:
        """Pressure over it [Pa]."""
        return np.asarray(self.density * GRAVITY * np.maximum(self.gone(x), 0.0))

    def backward(self, y: Array) -> Array:
        """The level [m]."""
        return self.level(y / (self.density * GRAVITY))

    def causes(self, x: Array) -> list[Cause]:
        """Where it hangs, and what the liquid weighs."""
        weighed = self.density * GRAVITY * self.tolerance * np.abs(self.gone(x))
        return [*super().causes(x), Cause("density", weighed)]


@dataclass(frozen=True)
class CountsSensing(Sensing):
    """Counts of a capacitance probe, between its wet ends.

    Parameters
    ----------
    length_m : float
        How far apart its wet ends are [m].
    empty, full_counts : float
        Counts there [1].
    """

    kind: ClassVar[str] = "counts"
    label: ClassVar[str] = "Capacitance counts, between its wet ends"
    quantity: ClassVar[str] = ""

    length_m: float = setting("sensor.length", "Between the wet ends", "length", 0.01, 20, default=1.0)
    empty: float = setting("sensor.empty", "Counts, empty", "number", 0, 1e9, default=4000.0)
    full_counts: float = setting("sensor.full", "Counts, full", "number", 0, 1e9, default=40000.0)

    @property
    def reach(self) -> tuple[float, float]:
        """Its own length."""
        return self.zero_m, self.zero_m + self.length_m

    def forward(self, x: Array, exact: bool = True) -> Array:
        """Counts; a probe that is dry or covered stands at its end."""
        wet = np.clip(self.gone(x), 0.0, self.length_m)
        return line(wet, 0.0, self.length_m, self.empty, self.full_counts)

    def backward(self, y: Array) -> Array:
        """The level [m]."""
        return self.level(line(y, self.empty, self.full_counts, 0.0, self.length_m))

    @cached_property
    def per_metre(self) -> float:
        """Counts by metre."""
        return abs(self.full_counts - self.empty) / self.length_m


@dataclass(frozen=True)
class EchoSensing(Sensing):
    """Time of an echo, there and back.

    Parameters
    ----------
    looks : {"down", "up"}
        Which way it looks.
    speed : float
        Speed of sound or light that its echo travels with [m/s].
    medium : float
        Half-width of that speed (k = 2), by its size [1].
    """

    kind: ClassVar[str] = "time"
    label: ClassVar[str] = "Echo time, there and back"
    quantity: ClassVar[str] = "time"

    looks: str = setting("sensor.looks", "Looks", "choice", options=LOOKS, default="down")
    speed: float = setting("sensor.sound", "Speed of its echo, m/s", "number", 50, 3e8, default=343.2)
    medium: float = setting("sensor.medium", "That speed, ±", "ratio", 0, 0.2, moves=False, default=0.01)

    @property
    def looks_down(self) -> bool:
        """As it was mounted."""
        return self.looks == "down"

    def forward(self, x: Array, exact: bool = True) -> Array:
        """Time there and back [s]."""
        return self.gone(x) * (2 / self.speed)

    def backward(self, y: Array) -> Array:
        """The level [m]."""
        return self.level(y * (self.speed / 2))

    def causes(self, x: Array) -> list[Cause]:
        """Where it is mounted, and how fast its echo is."""
        return [*super().causes(x), Cause("speed of the echo", self.medium * np.abs(self.forward(x)))]


#: Every quantity that can be sensed, by its key: the one list of them.
SENSING: dict[str, type[Sensing]] = {
    kind.kind: kind for kind in (PressureSensing, LevelSensing, DistanceSensing, CountsSensing, EchoSensing)
}
