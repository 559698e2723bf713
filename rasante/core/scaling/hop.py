"""What every hop of a chain has: a way forward and back over arrays, its step, what it adds to ±, its settings."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import MISSING, dataclass, field, fields, replace
from typing import Any, ClassVar, Self

from ..quantities.arrays import Array

Value = float | int | str


@dataclass(frozen=True)
class Setting:
    """One setting of a hop.

    Parameters
    ----------
    path : str
        The entry that it is typed under: ``sensor.low``.
    label : str
        Its words.
    kind : str
        How it is typed: ``choice``, ``number``, ``whole``, ``length``, ``density``, ``ratio``, ``bridge`` (mV/V),
        ``label`` (words), ``sensed`` (by what is sensed), ``signal`` (by the signal) or ``raw`` (by what the scaling
        begins from).
    least, most : float
        Bounds, in SI.
    options : mapping of str to str
        Of a choice.
    follows : bool
        Whether it follows from the other settings where nobody typed it.
    moves : bool
        Whether it moves any reading: how sure a part is, how slow, or what it does on a fault, does not.
    """

    path: str
    label: str
    kind: str
    least: float = -1e9
    most: float = 1e9
    options: Mapping[str, str] = field(default_factory=dict)
    follows: bool = False
    moves: bool = True


def setting(
    path: str, label: str, kind: str, least: float = -1e9, most: float = 1e9, default: Any = MISSING, **more: Any
) -> Any:
    """Make a hop's field a setting."""
    return field(default=default, metadata={"setting": Setting(path, label, kind, least, most, **more)})


@dataclass(frozen=True)
class Cause:
    """One thing that makes a hop's output unsure: its name, and its half-width (k = 2) in the output's unit.

    The half-width is one for all values, or an array of the values' shape.
    """

    name: str
    half: Array | float


@dataclass(frozen=True)
class Hop(ABC):
    """A hop: a part of the chain that makes one value of another.

    All values are SI: pascals, metres, seconds, amperes, volts; counts and registers are plain numbers, a scaled
    number is in the unit that it is scaled to.
    """

    #: The station that it leads to, and its name.
    station: ClassVar[str] = ""
    name: ClassVar[str] = ""

    @abstractmethod
    def forward(self, x: Array, exact: bool = True) -> Array:
        """What becomes of values; without `exact`, what its steps are about."""

    @abstractmethod
    def backward(self, y: Array) -> Array:
        """What values came from: the inverse of `forward`, without its steps and limits; NaN where nothing does."""

    @property
    def step(self) -> float:
        """The step that its output is brought to, in its own unit; 0 where it has none."""
        return 0.0

    def causes(self, x: Array) -> list[Cause]:
        """What makes its output unsure at inputs, steps left out."""
        return []

    def uncertainty(self, x: Array) -> Array | float:
        """What it adds to the uncertainty (k = 2), in its output's unit: one for all, or of the shape of `x`."""
        squares: Array | float = 0.0
        for cause in self.causes(x):
            squares = squares + cause.half * cause.half
        return squares**0.5

    @classmethod
    def known(cls) -> dict[str, Setting]:
        """Its settings by their entries, in order."""
        return {one.path: one for one, _ in fields_of(cls)}

    def settings(self) -> dict[str, Value]:
        """What each of its settings is, by its entry."""
        return {one.path: getattr(self, name) for one, name in fields_of(type(self))}

    def unasked(self) -> frozenset[str]:
        """Entries of its settings that mean nothing as the others are."""
        return frozenset()

    def put(self, values: Mapping[str, Value]) -> Self:
        """The hop with other settings, by their entries; entries of other hops are left."""
        own = {name: values[one.path] for one, name in fields_of(type(self)) if one.path in values}
        return replace(self, **own) if own else self


_NAMED: dict[type, tuple[tuple[Setting, str], ...]] = {}


def fields_of(kind: type[Hop]) -> tuple[tuple[Setting, str], ...]:
    """The settings of a kind of hop, with the fields that hold them."""
    if kind not in _NAMED:
        there = (one for one in fields(kind) if "setting" in one.metadata)
        _NAMED[kind] = tuple((one.metadata["setting"], one.name) for one in there)
    return _NAMED[kind]


def line(x: Array, in_low: float, in_high: float, out_low: float, out_high: float) -> Array:
    """Values on the straight line through two points.

    Raises
    ------
    ZeroDivisionError
        If they stand above one another.
    """
    return out_low + (x - in_low) * ((out_high - out_low) / (in_high - in_low))
