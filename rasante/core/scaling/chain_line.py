"""A scaling chain at the line: every value, what its step is worth, how far it may be off, and what a fault shows."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..tanks.table import table_at
from ..tanks.tank_file import TankFile
from ..units import System
from . import registers
from .chain import ERRORS, HOPS, STATIONS, Chain
from .chain_values import value_text
from .hops import forward, innage_taken, level_from, run, sensed, step_of, unit_size, words_of

#: What a transmitter sends on a fault [A]: NAMUR NE 43, from memory.
FAULT_CURRENTS = {"low": 0.0036, "high": 0.0210}


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
    station, label, hop : str
        Its key, its name, and the name of the hop that leads to it.
    value : float
        The value there, in the station's own unit.
    text : str
        The same with its unit.
    words : str
        Of a register, its words in hexadecimal.
    step_m, step_m3 : float or None
        What one step of it is worth [m], [m³]; None where it has none, or stands still.
    u95_m, u95_m3 : float
        What has been lost up to here, k = 2 [m], [m³].
    """

    station: str
    label: str
    hop: str
    value: float
    text: str
    words: str
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
    stops : tuple of Stop
        Its stations, in order.
    parts : tuple of Part
        What makes the answer unsure, the largest first.
    u95_m, u95_m3 : float
        All of it together (k = 2) [m], [m³].
    trap : tuple of Trap
        Level and distance confused: at the line, empty, and full.
    fault : tuple of (str, str)
        Each station's value when the sensor has lost its echo or failed, label and text.
    beyond : tuple of (str, str)
        The signal's limits while the sensor works, and what the screen shows there: level beyond the range.
    """

    stops: tuple[Stop, ...]
    parts: tuple[Part, ...]
    u95_m: float
    u95_m3: float
    trap: tuple[Trap, ...]
    fault: tuple[tuple[str, str], ...]
    beyond: tuple[tuple[str, str], ...]


def slopes_at(c: Chain, level: float) -> dict[str, float]:
    """How much every station's value moves by a metre of level, at a level, steps left out.

    Notes
    -----
    A central difference over 0.2 mm, one-sided at the tank's ends.
    """
    height = c.tank.inside_height
    low, high = max(level - 1e-4, 0.0), min(level + 1e-4, height)
    below, above = run(c, low, exact=False), run(c, high, exact=False)
    return {station: (above[station] - below[station]) / (high - low) for station in c.stations}


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
    for station in c.stations:
        step, slope = step_of(c, station), abs(slopes[station])
        if step and slope * c.tank.inside_height > step:
            found[station] = step / slope
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
    parts = [Part("sensed", "height of the sensor's zero", c.sensor_mounting)]
    gone = abs(level - c.sensor_zero)
    if c.sensor_quantity == "pressure":
        parts.append(Part("sensed", "density", c.liquid_tolerance * gone))
    if c.sensor_quantity == "time":
        parts.append(
            Part("sensed", "speed of the echo", c.sensor_medium * abs(sensed(c, level)) * c.sensor_sound / 2)
        )
    span = abs(level_from(c, "sensed", c.sensor_high) - level_from(c, "sensed", c.sensor_low))
    at = "scaled" if c.digital else "signal"
    parts.append(Part(at, "accuracy of the sensor", c.sensor_accuracy * span))
    parts.append(Part(at, "step of the sensor", c.sensor_step / math.sqrt(3)))
    if not c.digital:
        per_signal = abs(span / (c.signal_ends[1] - c.signal_ends[0]))
        card = c.counts_accuracy * abs(c.counts_at_high - c.counts_at_low)
        parts.append(Part("counts", "accuracy of the card", card * per_signal))
    names = {
        "counts": "steps of the card",
        "scaled": "places of the scaled number",
        "register": "steps of the register",
        "shown": "places of the screen",
    }
    coarsest = 0.0
    for station, step_m in steps_at(c, slopes_at(c, level)).items():
        # What has been brought to a step already loses nothing by a finer one.
        if step_m > 1.001 * coarsest:
            parts.append(Part(station, names[station], step_m / math.sqrt(3)))
        coarsest = max(coarsest, step_m)
    if c.shown_as in ("volume", "volume_pct"):
        surface = c.volumes.surface(level)
        if surface > 1e-9:
            if table_m3:
                parts.append(Part("shown", "volume table", table_m3 / surface))
            parts.append(Part("shown", "the device's own points", abs(c.volumes.off(level)) / surface))
    return sorted((part for part in parts if part.u95_m > 1e-9), key=lambda part: -part.u95_m)


def _together(parts: list[Part], stations: tuple[str, ...]) -> float:
    return math.sqrt(sum(part.u95_m**2 for part in parts if part.station in stations))


def fault_values(c: Chain) -> dict[str, float] | None:
    """Every value from the signal on when the sensor signals a fault; None where it holds its last value."""
    if c.signal_fault == "hold" or c.digital:
        return None
    current = FAULT_CURRENTS[c.signal_fault]
    low, high = c.signal_ends
    value = current if c.signal_kind in ("ma4", "ma0") else (low if c.signal_fault == "low" else high * 1.05)
    values = {"signal": value}
    for station in c.stations[c.stations.index("signal") + 1 :]:
        value = forward(c, station, value)
        values[station] = value
    return values


def fault_is_told(c: Chain) -> bool:
    """Whether the screen takes the signal of a failed sensor for what it is."""
    fault = fault_values(c)
    if fault is None or c.shown_error == "none":
        return False
    return not c.shown_below < fault["signal"] < c.shown_above


def fault_texts(c: Chain, system: System) -> list[tuple[str, str]]:
    """Every value from the signal on when the sensor has failed, in words; none where it holds its last."""
    values = fault_values(c)
    if values is None:
        return []
    texts = [(station, value_text(c, station, value, system)) for station, value in values.items()]
    return [*texts[:-1], ("shown", ERRORS[c.shown_error].removeprefix("shows "))] if fault_is_told(c) else texts


def _beyond(c: Chain, system: System) -> tuple[tuple[str, str], ...]:
    """What the screen shows when the signal stands at its limits, the level being beyond the sensor's range."""
    if c.digital:
        return ()
    found = []
    for limit in c.signal_limits:
        value = limit
        for station in c.stations[c.stations.index("signal") + 1 :]:
            value = forward(c, station, value)
        found.append((value_text(c, "signal", limit, system), value_text(c, "shown", value, system)))
    return tuple(found)


def read_chain_line(c: Chain, file: TankFile, level: float, system: System) -> ChainLine:
    """Read a chain at one level.

    Parameters
    ----------
    c, file
        The chain, and its tank.
    level : float
        Innage [m].
    system : {"metric", "us"}
        The units of the words.
    """
    level = min(max(level, 0.0), c.tank.inside_height)
    values, slopes = run(c, level), slopes_at(c, level)
    row = table_at(file, np.array([level]))
    table_m3 = None if row.u95_m3 is None else float(row.u95_m3[0])
    parts = parts_at(c, level, table_m3)
    surface = float(file.tank.surface(level))
    steps = steps_at(c, slopes)
    stops = []
    for index, station in enumerate(c.stations):
        step_m = steps.get(station)
        u95 = _together(parts, c.stations[: index + 1])
        stops.append(
            Stop(
                station,
                STATIONS[station],
                HOPS.get(station, ""),
                values[station],
                value_text(c, station, values[station], system),
                registers.show_words(words_of(c, values["register"])) if station == "register" else "",
                step_m,
                None if step_m is None else step_m * surface,
                u95,
                u95 * surface,
            )
        )
    u95 = _together(parts, c.stations)
    return ChainLine(
        tuple(stops),
        tuple(parts),
        u95,
        u95 * surface,
        _trap(c, level),
        tuple((STATIONS[station], text) for station, text in fault_texts(c, system)),
        _beyond(c, system),
    )


def _trap(c: Chain, level: float) -> tuple[Trap, ...]:
    if c.shown_takes not in ("level", "distance"):
        return ()
    found = []
    for at in (level, 0.0, c.tank.inside_height):
        number = run(c, at)["read"]
        value, right = number * unit_size(c.shown_from), innage_taken(c, number)
        wrong = value if c.shown_takes == "distance" else c.tank.reference_height_m - value
        found.append(Trap(at, right, wrong))
    return tuple(found)
