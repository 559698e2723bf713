"""The hops of a scaling chain, each a small map with its inverse, its limits and its steps.

All values are SI floats; a signal is in amperes, volts or volts by volt, counts and registers are plain numbers, a
scaled number is in the unit that it is scaled to.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from scipy.constants import g as GRAVITY

from ..errors import InputError
from ..units import UNITS
from . import registers
from .chain import Chain


def line(x: float, in_low: float, in_high: float, out_low: float, out_high: float) -> float:
    """Return the straight line through two points, at `x`."""
    return out_low + (x - in_low) / (in_high - in_low) * (out_high - out_low)


def unit_size(unit: str) -> float:
    """Size of a unit in SI; of a per cent 0.01."""
    return UNITS[unit].si


def stepped(value: float, decimals: int, rounding: str = "round") -> float:
    """Bring a number to its places: rounded half away from zero, or cut off; −1 keeps them all."""
    if decimals < 0 or not math.isfinite(value):
        return value
    scale = 10.0**decimals
    if abs(value) * scale > 2**52:
        return value
    # What lies within the last digits of a step is that step, so that 0.29 × 100 is 29.
    grown = value * scale
    near = round(grown)
    if abs(grown - near) < 1e-9 * max(1.0, abs(grown)):
        return near / scale
    whole = math.trunc(grown) if rounding == "truncate" else math.copysign(math.floor(abs(grown) + 0.5), grown)
    return whole / scale


# What is sensed -----------------------------------------------------------------------------------------------------


def _face(c: Chain) -> float:
    """Height of a downward-looking face above the inside bottom [m]."""
    return c.tank.reference_height_m + c.sensor_zero


def looks_down(c: Chain) -> bool:
    """Whether what it senses falls as the tank fills."""
    return c.sensor_quantity == "distance" or (c.sensor_quantity == "time" and c.sensor_looks == "down")


def sensed(c: Chain, level: float) -> float:
    """What is sensed at a level: pressure by ρ g h, distance, level, counts, or 2 × distance by the speed."""
    gone = _face(c) - level if looks_down(c) else level - c.sensor_zero
    if c.sensor_quantity == "pressure":
        return c.liquid_density * GRAVITY * gone
    if c.sensor_quantity == "time":
        return 2 * gone / c.sensor_sound
    if c.sensor_quantity == "counts":
        return line(gone, 0.0, c.sensor_length, c.sensor_empty, c.sensor_full)
    return gone


def level_of(c: Chain, value: float) -> float:
    """Level at which a value is sensed [m]; the inverse of `sensed`."""
    if c.sensor_quantity == "pressure":
        gone = value / (c.liquid_density * GRAVITY)
    elif c.sensor_quantity == "time":
        gone = value * c.sensor_sound / 2
    elif c.sensor_quantity == "counts":
        gone = line(value, c.sensor_empty, c.sensor_full, 0.0, c.sensor_length)
    else:
        gone = value
    return _face(c) - gone if looks_down(c) else gone + c.sensor_zero


# What the far end makes of a number ---------------------------------------------------------------------------------


def innage_taken(c: Chain, number: float) -> float:
    """Innage that the far end takes a number for [m]."""
    value = number * unit_size(c.shown_from)
    if c.shown_takes == "distance":
        return c.shown_zero - value
    if c.shown_takes == "pressure":
        return value / (c.shown_density * GRAVITY) + c.shown_zero
    if c.shown_takes == "percent":
        return value * c.shown_height + c.shown_zero
    return value + c.shown_zero


def number_for(c: Chain, innage: float) -> float:
    """Number that the far end takes for an innage [m]; the inverse of `innage_taken`."""
    value = innage - c.shown_zero
    if c.shown_takes == "distance":
        value = -value
    elif c.shown_takes == "pressure":
        value *= c.shown_density * GRAVITY
    elif c.shown_takes == "percent":
        value /= c.shown_height
    return value / unit_size(c.shown_from)


def _show(c: Chain, number: float) -> float:
    innage = innage_taken(c, number)
    if c.shown_as == "volume":
        return c.volumes.volume(innage) / unit_size(c.shown_unit)
    if c.shown_as == "volume_pct":
        return c.volumes.volume(innage) / c.volumes.tank.capacity * 100
    if c.shown_as == "linear_pct":
        return innage / c.volumes.tank.inside_height * 100
    if c.shown_as == "ullage":
        return (c.volumes.tank.reference_height_m - innage) / unit_size(c.shown_unit)
    return innage / unit_size(c.shown_unit)


def _from_shown(c: Chain, value: float) -> float:
    if c.shown_as == "volume":
        innage = c.volumes.level(value * unit_size(c.shown_unit))
    elif c.shown_as == "volume_pct":
        innage = c.volumes.level(value / 100 * c.volumes.tank.capacity)
    elif c.shown_as == "linear_pct":
        innage = value / 100 * c.volumes.tank.inside_height
    elif c.shown_as == "ullage":
        innage = c.volumes.tank.reference_height_m - value * unit_size(c.shown_unit)
    else:
        innage = value * unit_size(c.shown_unit)
    return number_for(c, innage)


# Registers ----------------------------------------------------------------------------------------------------------


def words_of(c: Chain, register: float) -> tuple[int, ...]:
    """The words that a register's value lies in."""
    return registers.encode(registers.wrapped(register, c.register_type), c.register_type, c.register_order)


def _alike(c: Chain) -> bool:
    return c.read_type == c.register_type and c.read_order == c.register_order


def read_from(c: Chain, register: float) -> float:
    """The number that the far end reads from a register's value."""
    raw = register if _alike(c) else _reinterpreted(c, register)
    return (raw - c.read_offset) / c.read_multiplier


def _reinterpreted(c: Chain, register: float) -> float:
    """What the words of a register's value are in the far end's type and order; a word that is not there is 0."""
    count = registers.TYPES[c.read_type][1]
    words = (*words_of(c, register), 0, 0)[:count]
    return registers.decode(words, c.read_type, c.read_order)


def register_for(c: Chain, number: float) -> float:
    """The register's value from which the far end reads a number; the inverse of `read_from`."""
    raw = number * c.read_multiplier + c.read_offset
    if _alike(c):
        return raw
    if not registers.fits(c.read_type, raw):
        raise InputError.at("read", f"{raw:g} does not fit {registers.TYPES[c.read_type][0]}")
    words = (*registers.encode(raw, c.read_type, c.read_order), 0)[: registers.TYPES[c.register_type][1]]
    return registers.decode(words, c.register_type, c.register_order)


# The hops -----------------------------------------------------------------------------------------------------------


def _count(c: Chain, raw: float) -> float:
    most = 2.0**c.counts_bits - 1
    if c.counts_over == "wrap":
        return raw % (most + 1)
    if c.counts_over == "ends":
        low, high = sorted((c.counts_low, c.counts_high))
        return min(max(raw, low), high)
    return min(max(raw, 0.0), most)


def _send(c: Chain, value: float, _: bool) -> float:
    least, most = c.signal_limits
    return min(max(line(value, c.sensor_low, c.sensor_high, *c.signal_ends), least), most)


def _convert(c: Chain, value: float, exact: bool) -> float:
    raw = line(value, c.counts_at_low, c.counts_at_high, c.counts_low, c.counts_high)
    return _count(c, stepped(raw, 0) if exact else raw)


def _scale(c: Chain, value: float, exact: bool) -> float:
    number = line(value, c.scaled_raw_low, c.scaled_raw_high, c.scaled_low, c.scaled_high)
    if exact:
        number = stepped(number, c.scaled_decimals, c.scaled_rounding)
    elif c.scaled_rounding == "truncate" and c.scaled_decimals >= 0:
        number -= math.copysign(0.5 * 10.0**-c.scaled_decimals, number)
    if c.scaled_digits:
        most = (10.0**c.scaled_digits - 1) / 10.0 ** max(c.scaled_decimals, 0)
        number = min(max(number, -most), most)
    return number


def _store(c: Chain, value: float, exact: bool) -> float:
    raw = value * c.register_multiplier + c.register_offset
    return registers.wrapped(raw, c.register_type) if exact or not registers.fits(c.register_type, raw) else raw


def _screen(c: Chain, value: float, exact: bool) -> float:
    shown = _show(c, value)
    return stepped(shown, c.shown_decimals) if exact else shown


_FORWARD: dict[str, Callable[[Chain, float, bool], float]] = {
    "sensed": lambda c, value, _: sensed(c, value),
    "signal": _send,
    "counts": _convert,
    "scaled": _scale,
    "register": _store,
    "read": lambda c, value, _: read_from(c, value),
    "shown": _screen,
}
_BACKWARD: dict[str, Callable[[Chain, float], float]] = {
    "sensed": level_of,
    "signal": lambda c, value: line(value, *c.signal_ends, c.sensor_low, c.sensor_high),
    "counts": lambda c, value: line(value, c.counts_low, c.counts_high, c.counts_at_low, c.counts_at_high),
    "scaled": lambda c, value: line(value, c.scaled_low, c.scaled_high, c.scaled_raw_low, c.scaled_raw_high),
    "register": lambda c, value: (value - c.register_offset) / c.register_multiplier,
    "read": register_for,
    "shown": _from_shown,
}


def forward(c: Chain, station: str, value: float, exact: bool = True) -> float:
    """Take a value over one hop.

    Parameters
    ----------
    c : Chain
        The chain.
    station : str
        Where the hop leads to, a key of `HOPS`.
    value : float
        The value at the station before it.
    exact : bool
        Whether the value is brought to the hop's steps; without, it is what the steps are about, and a wrap-round
        in whole numbers is as the device does it all the same.
    """
    return _FORWARD[station](c, value, exact)


def backward(c: Chain, station: str, value: float) -> float:
    """Take a value back over the hop that led to it: the inverse of `forward`, without its steps and limits.

    Raises
    ------
    InputError
        If no register gives what is read.
    """
    return _BACKWARD[station](c, value)


def step_of(c: Chain, station: str) -> float:
    """The step that a hop's value is brought to, in its own unit; 0 where it has none."""
    if station == "counts":
        return 1.0
    if station == "scaled" and c.scaled_decimals >= 0:
        return float(10.0**-c.scaled_decimals)
    if station == "register" and not registers.is_float(c.register_type):
        return 1.0
    if station == "shown":
        return float(10.0**-c.shown_decimals)
    return 0.0


def run(c: Chain, level: float, exact: bool = True) -> dict[str, float]:
    """Every value along the chain at a level.

    Parameters
    ----------
    c : Chain
        The chain.
    level : float
        Innage [m].
    exact : bool
        As in `forward`.
    """
    values = {"level": level}
    value = level
    for station in c.stations[1:]:
        value = forward(c, station, value, exact)
        values[station] = value
    return values


def level_from(c: Chain, station: str, value: float) -> float:
    """Innage that a value at one station stands for [m], back along the chain."""
    stations = c.stations
    for at in reversed(stations[1 : stations.index(station) + 1]):
        value = backward(c, at, value)
    return value
