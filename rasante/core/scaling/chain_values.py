"""The values along a scaling chain in words: written with their units, read as typed, and found as a level."""

from __future__ import annotations

import math

from ..quantities.errors import InputError
from ..quantities.typed import read_number, read_quantity
from ..quantities.units import UNITS, System, show
from ..quantities.words import Words
from . import registers
from .chain import STATIONS, Chain
from .chain_line import fault_is_told, fault_values
from .chain_settings import sensed_text, signal_text
from .numbers import Register
from .screen import ERRORS, PERCENT


def places_text(value: float, decimals: int) -> str:
    """Write a number with at most so many places, none of them a trailing zero; a huge one by its power."""
    if not math.isfinite(value) or abs(value) >= 1e12 or (value != 0 and abs(value) < 10.0 ** -max(decimals, 6)):
        return f"{value:.6g}"
    text = f"{value:.{decimals}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


def value_text(c: Chain, station: str, value: float, system: System) -> str:
    """Write a station's value with its unit."""
    if not math.isfinite(value):
        return "nothing"
    if station == "level":
        return Words(system).length(value)
    if station == "sensed":
        return sensed_text(c.sensing, value, system, 5)
    if station in ("sent", "arriving"):
        return signal_text(c.signal.quantity if c.signal is not None else "", value)
    if station == "shown":
        unit = "%" if c.screen.shows in PERCENT else UNITS[c.screen.unit].name
        return f"{places_text(value, c.screen.decimals)} {unit}"
    if station in ("number", "read"):
        unit = UNITS[c.scaling.unit if station == "number" else c.screen.from_unit].name
        return f"{places_text(value, c.scaling.decimals if c.scaling.decimals >= 0 else 6)} {unit}"
    register = c.find(Register)
    whole = station == "counts" or register is None or not registers.is_float(register.type)
    return places_text(value, 0 if whole else 6)


def quantity_at(c: Chain, station: str) -> str:
    """The quantity that a station's value is typed in; empty for a number of the station's own."""
    if station in ("sent", "arriving"):
        return c.signal.quantity if c.signal is not None else ""
    return {"level": "length", "sensed": c.sensing.quantity}.get(station, "")


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
    quantity = quantity_at(c, station)
    if quantity:
        return read_quantity(typed, quantity, system)
    if station == "words":
        return _register(c, typed)
    if station in ("number", "read", "shown"):
        return _number(c, station, typed, system)
    return read_number(typed)


def _register(c: Chain, typed: str) -> float:
    register = c.find(Register) or Register()
    words = registers.read_words(typed, register.type)
    value = read_number(typed) if words is None else registers.decode(words, register.type, register.order)
    if not registers.fits(register.type, value):
        least, most = registers.bounds(register.type)
        raise InputError.at("", f"{registers.TYPES[register.type].name} holds {least:.6g} to {most:.6g}")
    return value


def _number(c: Chain, station: str, typed: str, system: System) -> float:
    """Read a number that has a unit of its own: bare in that unit, or in another that is named."""
    unit = {"number": c.scaling.unit, "read": c.screen.from_unit}.get(station, c.screen.unit)
    unit = "pct" if station == "shown" and c.screen.shows in PERCENT else unit
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
        level = c.level_from(station, read_value(c, station, typed, system))
    except InputError as error:
        raise InputError.at("text", error.problems[0].what) from None
    text = f"{STATIONS[station].lower()} {typed.strip()[:24]}"
    if math.isnan(level):
        raise InputError.at("text", f"no level gives {text}")
    if not -1e-6 <= level <= c.top_m + 1e-6:
        stands = show(level, "length", system) if abs(level) < 1e4 else f"{level:.3g} m"
        raise InputError.at(
            "text", f"{text} stands for {stands} of innage; this tank has 0 to {show(c.top_m, 'length', system)}"
        )
    return min(max(level, 0.0), c.top_m)


def words_at(c: Chain, value: float) -> str:
    """Write the words that a register's value lies in; empty for a chain without one."""
    register = c.find(Register)
    return "" if register is None else registers.words_text(value, register.type, register.order)


def fault_texts(c: Chain, system: System) -> list[tuple[str, str]]:
    """Every value from the input on when the sensor has failed, in words; none where it holds its last."""
    values = fault_values(c)
    if values is None:
        return []
    texts = [(station, value_text(c, station, value, system)) for station, value in values.items()]
    return [*texts[:-1], ("shown", ERRORS[c.screen.error].removeprefix("shows "))] if fault_is_told(c) else texts
