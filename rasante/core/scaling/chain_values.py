"""The values along a scaling chain in words: written with their units, read as typed, and found as a level."""

from __future__ import annotations

import math

from ..errors import InputError
from ..units import UNITS, System, Words, read_number, read_quantity, show
from . import registers
from .chain import SIGNALS, STATIONS, Chain
from .chain_settings import sensed_text, signal_text
from .hops import level_from

_PERCENT = ("volume_pct", "linear_pct")


def places_text(value: float, decimals: int) -> str:
    """Write a number with at most so many places, none of them a trailing zero; a huge one by its power."""
    if not math.isfinite(value) or abs(value) >= 1e12 or (value != 0 and abs(value) < 10.0 ** -max(decimals, 6)):
        return f"{value:.6g}"
    text = f"{value:.{decimals}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


def value_text(c: Chain, station: str, value: float, system: System) -> str:
    """Write a station's value with its unit."""
    if station == "level":
        return Words(system).length(value)
    if station == "sensed":
        return sensed_text(c, value, system, 5)
    if station == "signal":
        return signal_text(c, value)
    if station == "shown":
        percent = c.shown_as in ("volume_pct", "linear_pct")
        return f"{places_text(value, c.shown_decimals)} {'%' if percent else UNITS[c.shown_unit].name}"
    if station in ("scaled", "read"):
        unit = c.scaled_unit if station == "scaled" else c.shown_from
        return f"{places_text(value, c.scaled_decimals if c.scaled_decimals >= 0 else 6)} {UNITS[unit].name}"
    return places_text(value, 0 if station == "counts" or not registers.is_float(c.register_type) else 6)


def read_value(c: Chain, station: str, typed: str, system: System) -> float:
    """Read a value as it is typed.

    Parameters
    ----------
    c : Chain
        The chain.
    station : str
        Of `STATIONS`.
    typed : str
        The value: bare in the station's own unit, or with one; a register's words (``0x420A 0x6666``) or its number.
    system : {"metric", "us"}
        What a bare level or pressure means.

    Returns
    -------
    float
        In SI, or in the station's own unit where its numbers have one.

    Raises
    ------
    InputError
        If it cannot be read.
    """
    quantity = {"level": "length", "signal": SIGNALS[c.signal_kind][1]}.get(station, "")
    if station == "sensed":
        quantity = {"pressure": "pressure", "counts": "", "time": ""}.get(c.sensor_quantity, "length")
    if quantity:
        return read_quantity(typed, quantity, system)
    if station == "register":
        return _register(c, typed)
    if station in ("scaled", "read", "shown"):
        return _number(c, station, typed, system)
    # An echo's time is in milliseconds, a bridge's signal in millivolts by volt.
    milli = station == "signal" or (station == "sensed" and c.sensor_quantity == "time")
    return read_number(typed.removesuffix("ms").removesuffix("mV/V")) / (1000 if milli else 1)


def _register(c: Chain, typed: str) -> float:
    words = registers.read_words(typed, c.register_type)
    value = read_number(typed) if words is None else registers.decode(words, c.register_type, c.register_order)
    if not registers.fits(c.register_type, value):
        least, most = registers.bounds(c.register_type)
        raise InputError.at("", f"{registers.TYPES[c.register_type][0]} holds {least:.6g} to {most:.6g}")
    return value


def _number(c: Chain, station: str, typed: str, system: System) -> float:
    """Read a number that has a unit of its own: bare in that unit, or in another that is named."""
    unit = {"scaled": c.scaled_unit, "read": c.shown_from}.get(station, c.shown_unit)
    unit = "pct" if station == "shown" and c.shown_as in _PERCENT else unit
    try:
        return read_number(typed)
    except InputError:
        return read_quantity(typed, UNITS[unit].quantity, system) / UNITS[unit].si


def find_level(c: Chain, station: str, typed: str, system: System) -> float:
    """Find the level at which one station reads what is typed, back along the chain.

    Returns
    -------
    float
        Innage [m], within the tank.

    Raises
    ------
    InputError
        If it cannot be read, or no level of this tank gives it.
    """
    if station not in c.stations:
        raise InputError.at("station", f"must be one of {', '.join(c.stations)}")
    try:
        level = level_from(c, station, read_value(c, station, typed, system))
    except InputError as error:
        raise InputError.at("text", error.problems[0].what) from None
    height = c.tank.inside_height
    if not -1e-6 <= level <= height + 1e-6:
        stands = show(level, "length", system) if abs(level) < 1e4 else f"{level:.3g} m"
        text = f"{STATIONS[station].lower()} {typed.strip()[:24]} stands for {stands} of innage"
        raise InputError.at("text", f"{text}; this tank has 0 to {show(height, 'length', system)}")
    return min(max(level, 0.0), height)
