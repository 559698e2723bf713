"""The scaling chain: a tuple of typed hops from the liquid's level to what a screen shows, and back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from types import MappingProxyType
from typing import Any, TypeVar, cast

import numpy as np

from ..quantities.arrays import Array
from ..quantities.signals import Signal
from .hop import Hop, Setting, Value
from .numbers import DigitalScaling, Link, Register, Scaling
from .places import Places, places
from .screen import Screen
from .sending import InputCard, Transmitter, Wires
from .sensing import SENSING, Sensing

#: Every station that a chain may have, in order; the first is the liquid's own level.
STATIONS: dict[str, str] = {
    "level": "Level",
    "sensed": "At the sensor",
    "sent": "Sent",
    "arriving": "Arriving",
    "counts": "Counts",
    "number": "Scaled number",
    "words": "Register",
    "read": "Read from it",
    "shown": "Shown",
}
#: How far a chain goes: what reads the signal.
READERS: dict[str, str] = {
    "register": "an input card, its number sent on by registers",
    "card": "an input card that shows it itself",
    "meter": "a panel meter in the loop",
}
QUANTITY = Setting("sensor.quantity", "Senses", "choice", options={key: one.label for key, one in SENSING.items()})
READER = Setting("chain.reader", "Read by", "choice", options=READERS)
KIND = Transmitter.known()["signal.kind"]

H = TypeVar("H", bound=Hop)


@dataclass(frozen=True)
class Stick:
    """A station that stands at one value whatever comes before it."""

    station: str
    value: float


@dataclass(frozen=True)
class Clip:
    """A station that goes no lower or higher than this."""

    station: str
    low: float
    high: float


@dataclass(frozen=True)
class Dead:
    """A station that stands at one value until it should be above another: an input dead in its lower range."""

    station: str
    until: float
    at: float


@dataclass(frozen=True)
class Gain:
    """A station whose values are so many times what they should be."""

    station: str
    k: float


@dataclass(frozen=True)
class Offset:
    """A station whose values are off by this."""

    station: str
    x: float


@dataclass(frozen=True)
class Noise:
    """A station that is unsteady, by a standard deviation in its own unit."""

    station: str
    sd: float


@dataclass(frozen=True)
class Delay:
    """A station that lags [s]."""

    station: str
    s: float


StationEdit = Stick | Clip | Dead | Gain | Offset | Noise | Delay


def altered(edit: StationEdit, values: Array) -> Array:
    """What an edit makes of a station's values; noise and delay are of time, and leave a still value as it is."""
    if isinstance(edit, Stick):
        return np.full_like(values, edit.value)
    if isinstance(edit, Clip):
        return np.clip(values, edit.low, edit.high)
    if isinstance(edit, Dead):
        return np.where(values < edit.until, edit.at, values)
    if isinstance(edit, Gain):
        return values * edit.k
    return values + edit.x if isinstance(edit, Offset) else values


@dataclass(frozen=True)
class Chain:
    """A scaling chain. It ends where it ends: what is not there is no hop.

    Parameters
    ----------
    hops : tuple of Hop
        From the sensor to the screen, each leading to a station of its own.
    top_m : float
        The highest level there is: the tank's inside height [m].
    edits : tuple of StationEdit
        What is wrong at its stations, in order.
    """

    hops: tuple[Hop, ...]
    top_m: float
    edits: tuple[StationEdit, ...] = ()
    _places: Places = field(init=False, repr=False, compare=False)

    @classmethod
    def of(cls, hops: Sequence[Hop], top_m: float) -> Chain:
        """Make a chain, each hop knowing what it has to of the one before it."""
        return cls(tuple(hops), top_m)._joined()

    def __post_init__(self) -> None:
        object.__setattr__(self, "_places", places(tuple(map(type, self.hops))))

    def _joined(self) -> Chain:
        """What a hop has of another is that one's: a register's type, a signal, how much a metre is."""
        per_metre, transmitter, register = self.sensing.per_metre, self.transmitter, self.find(Register)
        c = self._knowing(Transmitter, per_metre=per_metre)._knowing(DigitalScaling, per_metre=per_metre)
        if transmitter is not None:
            c = c._knowing(Wires, signal=transmitter.signal)
        if register is not None:
            c = c._knowing(Link, written=register.type, written_order=register.order)
        return c

    def _knowing(self, kind: type[Hop], **of_others: Any) -> Chain:
        """The chain whose hop of a kind, if it has one, knows this of others."""
        at = self._places.of(kind)
        if at is None or all(getattr(self.hops[at], name) == known for name, known in of_others.items()):
            return self
        return self._with({at: replace(self.hops[at], **of_others)})

    def _with(self, others: Mapping[int, Hop]) -> Chain:
        """The chain with other hops at some places."""
        hops = tuple(others.get(at, hop) for at, hop in enumerate(self.hops))
        return Chain(hops, self.top_m, self.edits)

    def find(self, kind: type[H]) -> H | None:
        """Its hop of a kind; None where it has none."""
        at = self._places.of(kind)
        # What is there of a kind is of that kind.
        return None if at is None else cast("H", self.hops[at])

    def _need(self, kind: type[H]) -> H:
        found = self.find(kind)
        assert found is not None, f"a chain has a {kind.name or kind.__name__}"
        return found

    @property
    def sensing(self) -> Sensing:
        """Its first hop."""
        return self._need(Sensing)  # type: ignore[type-abstract]

    @property
    def scaling(self) -> Scaling:
        """The hop that gives its number."""
        return self._need(Scaling)

    @property
    def screen(self) -> Screen:
        """Its last hop."""
        return self._need(Screen)

    @property
    def transmitter(self) -> Transmitter | None:
        """What sends its signal, if it has one."""
        return self.find(Transmitter)

    @property
    def card(self) -> InputCard | None:
        """Its input card, if it has one."""
        return self.find(InputCard)

    @property
    def signal(self) -> Signal | None:
        """The signal that it sends, if it sends one."""
        return self.transmitter.signal if self.transmitter is not None else None

    @property
    def sensor(self) -> Transmitter | DigitalScaling:
        """The hop that has the sensor's range, accuracy and step."""
        if self.transmitter is not None:
            return self.transmitter
        return self._need(DigitalScaling)

    @property
    def reader(self) -> str:
        """What reads it, of `READERS`."""
        if self.find(Register) is not None:
            return "register"
        return "meter" if self.transmitter is not None and self.card is None else "card"

    @property
    def stations(self) -> tuple[str, ...]:
        """Its stations, in order."""
        return self._places.stations

    def hop(self, station: str) -> Hop:
        """The hop that leads to a station."""
        return self.hops[self._places.leading[station]]

    @cached_property
    def ideal(self) -> Chain:
        """The same as it is meant to be: its circuit lets all arrive, and nothing is wrong at its stations."""
        wires = self.find(Wires)
        if not self.edits and (wires is None or wires.circuit is None):
            return self
        hops = (replace(hop, circuit=None) if isinstance(hop, Wires) else hop for hop in self.hops)
        return replace(self, hops=tuple(hops), edits=())

    def over(self, station: str, x: Array, exact: bool = True) -> Array:
        """Take values over the hop that leads to a station, with what is wrong there."""
        y = self.hop(station).forward(x, exact)
        for edit in self.edits:
            if edit.station == station:
                y = altered(edit, y)
        return y

    def forward(self, start: str, end: str, x: Array, exact: bool = True) -> Array:
        """Take values from one station on to a later one."""
        stations = self.stations
        for station in stations[stations.index(start) + 1 : stations.index(end) + 1]:
            x = self.over(station, x, exact)
        return x

    def backward(self, end: str, start: str, y: Array) -> Array:
        """Take values from one station back to an earlier one; NaN where nothing leads there.

        Steps and limits are left out, and what is wrong at a station is not undone.
        """
        stations = self.stations
        for station in reversed(stations[stations.index(start) + 1 : stations.index(end) + 1]):
            y = self.hop(station).backward(y)
        return y

    def run(self, level: Array, exact: bool = True) -> dict[str, Array]:
        """Every value along the chain, by stations, at levels.

        Parameters
        ----------
        level : ndarray
            Innages [m].
        exact : bool
            Whether values are brought to the hops' steps.
        """
        values = {"level": level}
        for station in self.stations[1:]:
            level = self.over(station, level, exact)
            values[station] = level
        return values

    def at(self, level: float, exact: bool = True) -> dict[str, float]:
        """Every value along the chain at one level."""
        return {station: float(value[0]) for station, value in self.run(np.array([level]), exact).items()}

    def level_from(self, station: str, value: float) -> float:
        """Innage that a value at one station stands for [m], back along the chain; NaN where none does."""
        return float(self.backward(station, "level", np.array([float(value)]))[0])

    @cached_property
    def _settings(self) -> dict[str, Value]:
        found: dict[str, Value] = {QUANTITY.path: self.sensing.kind}
        for hop in self.hops:
            found |= hop.settings()
        kind = self.transmitter.kind if self.transmitter is not None else "digital"
        return found | {KIND.path: kind, READER.path: self.reader}

    def settings(self) -> Mapping[str, Value]:
        """Every setting of every hop, by its entry, in order."""
        return MappingProxyType(self._settings)

    def known(self) -> dict[str, tuple[str, Setting]]:
        """Its settings with the stations that they belong to, those that mean nothing left out, by their entries."""
        found: dict[str, tuple[str, Setting]] = {QUANTITY.path: ("sensed", QUANTITY)}
        for hop in self.hops:
            out = hop.unasked()
            found |= {path: (hop.station, one) for path, one in hop.known().items() if path not in out}
        found.setdefault(KIND.path, ("sent", KIND))
        found.setdefault(READER.path, ("number", READER))
        return found

    def put(self, values: Mapping[str, Value]) -> Chain:
        """The chain with other settings, by their entries; what follows from them is left as it is."""
        own: dict[int, dict[str, Any]] = {}
        for path, value in values.items():
            for at, name in self._places.settings.get(path, ()):
                own.setdefault(at, {})[name] = value
        if not own:
            return self
        return self._with({at: replace(self.hops[at], **named) for at, named in own.items()})._joined()


def all_settings() -> dict[str, tuple[str, Setting]]:
    """Every setting that any chain may have, with its station, by its entry."""
    found: dict[str, tuple[str, Setting]] = {QUANTITY.path: ("sensed", QUANTITY)}
    kinds: list[type[Hop]] = [
        *SENSING.values(),
        Transmitter,
        DigitalScaling,
        InputCard,
        Scaling,
        Register,
        Link,
        Screen,
    ]
    for hop in kinds:
        found |= {path: (hop.station, one) for path, one in hop.known().items() if path not in found}
    return found | {READER.path: ("number", READER)}
