"""A scaling chain at the line: every value, what its step is worth, how far it may be off, and what a fault shows."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..quantities.units import UNITS
from ..tanks.table import table_at
from ..tanks.tank_file import TankFile
from .chain import Chain
from .screen import BY_VOLUME

_STEP_NAMES = {
    "counts": "steps of the card",
    "number": "places of the scaled number",
    "words": "steps of the register",
    "shown": "places of the screen",
}


@dataclass(frozen=True)
class Part:
    """One thing that makes the answer unsure: the station it comes in at, its name, its half-width (k = 2) [m]."""

    station: str
    name: str
    u95_m: float


@dataclass(frozen=True)
class Stop:
    """One station at the line.

    Parameters
    ----------
    station : str
        Of `chain.STATIONS`.
    value : float
        The value there, in the station's own unit.
    step_m, step_m3 : float or None
        What one step of it is worth [m], [m³]; None where it has none, or stands still.
    u95_m, u95_m3 : float
        What has been lost up to here, k = 2 [m], [m³].
    """

    station: str
    value: float
    step_m: float | None
    step_m3: float | None
    u95_m: float
    u95_m3: float


@dataclass(frozen=True)
class Trap:
    """What the screen has at a level, as it is set, and with level and distance confused.

    Parameters
    ----------
    level_m : float
        The level [m].
    right_m, wrong_m : float
        Innage that the screen has, as set, and with level and distance confused [m].
    """

    level_m: float
    right_m: float
    wrong_m: float


@dataclass(frozen=True)
class ChainLine:
    """A chain at one level.

    Parameters
    ----------
    level_m : float
        The level [m].
    stops : tuple of Stop
        Its stations, in order.
    parts : tuple of Part
        What makes the answer unsure, the largest first.
    u95_m, u95_m3 : float
        All of it together (k = 2) [m], [m³].
    trap : tuple of Trap
        Level and distance confused: at the line, empty, and full.
    fault : mapping of str to float
        Each station's value when the sensor has failed; empty where it holds its last.
    beyond : tuple of (float, float)
        The signal's limits while the sensor works, and what the screen shows there: level beyond the range.
    """

    level_m: float
    stops: tuple[Stop, ...]
    parts: tuple[Part, ...]
    u95_m: float
    u95_m3: float
    trap: tuple[Trap, ...]
    fault: dict[str, float]
    beyond: tuple[tuple[float, float], ...]


def readable(c: Chain) -> tuple[float, float]:
    """Lowest and highest innage that the signal tells apart [m]; equal if it tells none."""
    ends = sorted(c.level_from("sensed", end) for end in (c.sensor.range_low, c.sensor.range_high))
    reach = c.sensing.reach
    low, high = max(ends[0], reach[0], 0.0), min(ends[1], reach[1], c.top_m)
    return (low, high) if high > low else (0.0, 0.0)


def slopes_at(c: Chain, level: float) -> dict[str, float]:
    """How much every station's value moves by a metre of level, at a level, steps left out.

    Notes
    -----
    A central difference over 0.2 mm, one-sided at the tank's ends.
    """
    low, high = max(level - 1e-4, 0.0), min(level + 1e-4, c.top_m)
    values = c.run(np.array([low, high]), exact=False)
    return {station: float(value[1] - value[0]) / (high - low) for station, value in values.items()}


def steps_at(c: Chain, slopes: dict[str, float]) -> dict[str, float]:
    """What one step of each station that has steps is worth in level [m], where it moves at all.

    Parameters
    ----------
    c : Chain
        The chain.
    slopes : dict of str to float
        As `slopes_at` gives them.
    """
    found = {}
    for hop in c.hops:
        slope = abs(slopes[hop.station])
        if hop.step and slope * c.top_m > hop.step:
            found[hop.station] = hop.step / slope
    return found


def parts_at(c: Chain, level: float, table_m3: float | None) -> list[Part]:
    """What makes a chain's answer unsure at a level, each by itself as level.

    Parameters
    ----------
    c, level
        The chain, and the innage [m].
    table_m3 : float or None
        U of the table there (k = 2) [m³], if the tank states its tolerances.

    References
    ----------
    .. [1] JCGM 100:2008, 4.3.7: a step of width q is a rectangle with u = q / √12.
    """
    low, high = readable(c)
    # The middle of what is read tells what a hop's unit is worth: at its ends the signal stands still.
    middle = slopes_at(c.ideal, (low + high) / 2)
    values = c.ideal.run(np.array([level]), exact=False)
    parts = []
    for before, hop in zip(c.stations, c.hops, strict=False):
        slope = abs(middle[hop.station])
        if slope and math.isfinite(slope):
            parts += [
                Part(hop.station, one.name, float(np.max(one.half)) / slope) for one in hop.causes(values[before])
            ]
    coarsest = 0.0
    for station, step_m in steps_at(c, slopes_at(c, level)).items():
        # What has been brought to a step already loses nothing by a finer one.
        if step_m > 1.001 * coarsest:
            parts.append(Part(station, _STEP_NAMES[station], step_m / math.sqrt(3)))
        coarsest = max(coarsest, step_m)
    volumes = c.screen.volumes
    if c.screen.shows in BY_VOLUME and volumes is not None:
        at = np.array([level])
        surface = float(volumes.surface(at)[0])
        if surface > 1e-9:
            if table_m3:
                parts.append(Part("shown", "volume table", table_m3 / surface))
            parts.append(Part("shown", "the device's own points", abs(float(volumes.off(at)[0])) / surface))
    return sorted((part for part in parts if part.u95_m > 1e-9), key=lambda part: -part.u95_m)


def together(parts: list[Part], stations: tuple[str, ...]) -> float:
    """The uncertainty of some stations' parts together [m]."""
    return math.sqrt(sum(part.u95_m**2 for part in parts if part.station in stations))


def values_from(c: Chain, station: str, value: float) -> dict[str, float]:
    """Every value from a station on, when that one stands at a value."""
    found, x = {station: value}, np.array([value])
    for later in c.stations[c.stations.index(station) + 1 :]:
        x = c.over(later, x)
        found[later] = float(x[0])
    return found


def fault_values(c: Chain) -> dict[str, float] | None:
    """Every value from the input on when the sensor signals a fault; None where it holds its last or sends none."""
    if c.transmitter is None or c.transmitter.fault == "hold":
        return None
    return values_from(c, "arriving", c.transmitter.signal.fault(c.transmitter.fault))


def broken_values(c: Chain) -> dict[str, float] | None:
    """Every value from the input on when a wire is broken: the signal without a source; None where none is sent."""
    return None if c.signal is None else values_from(c, "arriving", c.signal.nothing)


def is_told(c: Chain, values: dict[str, float] | None) -> bool:
    """Whether the screen takes an arriving signal for a failed sensor's."""
    if values is None or c.screen.error == "none":
        return False
    return not c.screen.below < values["arriving"] < c.screen.above


def fault_is_told(c: Chain) -> bool:
    """Whether the screen takes the signal of a failed sensor for what it is."""
    return is_told(c, fault_values(c))


def _beyond(c: Chain) -> tuple[tuple[float, float], ...]:
    """What the screen shows when the signal stands at its limits, the level being beyond the sensor's range."""
    if c.signal is None:
        return ()
    limits = (c.signal.least, c.signal.most)
    return tuple((limit, values_from(c, "sent", limit)["shown"]) for limit in limits)


def read_chain_line(c: Chain, file: TankFile, level: float) -> ChainLine:
    """Read a chain at one level.

    Parameters
    ----------
    c, file
        The chain, and its tank.
    level : float
        Innage [m].
    """
    level = min(max(level, 0.0), c.top_m)
    values = c.at(level)
    row = table_at(file, np.array([level]))
    parts = parts_at(c, level, None if row.u95_m3 is None else float(row.u95_m3[0]))
    surface = float(file.tank.surface(level))
    steps = steps_at(c, slopes_at(c, level))
    stops = []
    for index, station in enumerate(c.stations):
        step_m, u95 = steps.get(station), together(parts, c.stations[: index + 1])
        step_m3 = None if step_m is None else step_m * surface
        stops.append(Stop(station, values[station], step_m, step_m3, u95, u95 * surface))
    u95 = together(parts, c.stations)
    fault = fault_values(c) or {}
    return ChainLine(level, tuple(stops), tuple(parts), u95, u95 * surface, _trap(c, level), fault, _beyond(c))


def _trap(c: Chain, level: float) -> tuple[Trap, ...]:
    if c.screen.takes not in ("level", "distance"):
        return ()
    levels = np.array([level, 0.0, c.top_m])
    before = c.stations[-2]
    numbers = c.run(levels)[before]
    right, taken = c.screen.innage(numbers), numbers * UNITS[c.screen.from_unit].si
    wrong = taken if c.screen.takes == "distance" else c.screen.reference_m - taken
    return tuple(Trap(float(at), float(r), float(w)) for at, r, w in zip(levels, right, wrong, strict=True))
