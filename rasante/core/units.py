"""Units: the one place for conversion factors, and the reading of quantities as people type them.

Factors come from Pint's registry; nothing elsewhere in the project converts by a number of its own.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from typing import Literal

import pint

from .errors import InputError

System = Literal["metric", "us"]
SYSTEMS: tuple[System, ...] = ("metric", "us")


@dataclass(frozen=True)
class Unit:
    """A unit that quantities may be typed, shown and exported in.

    Parameters
    ----------
    name : str
        How it is written on the screen.
    quantity : str
        ``length``, ``volume``, ``area``, ``mass``, ``current``, ``voltage``, ``resistance``, ``pressure`` or
        ``ratio``.
    key : str
        How it ends a key or a column name (``innage_mm``).
    si : float
        How many SI units one of it is (m, m³, m², kg, A, V, Ω, Pa, 1).
    decimals : int
        How many places a reading is shown with.
    """

    name: str
    quantity: str
    key: str
    si: float
    decimals: int


@cache
def _registry() -> pint.UnitRegistry[float]:
    return pint.UnitRegistry()


def _unit(name: str, quantity: str, key: str, pint_name: str, base: str, decimals: int) -> Unit:
    factor = float(_registry().Quantity(1, pint_name).to(base).magnitude)
    return Unit(name, quantity, key, factor, decimals)


UNITS: dict[str, Unit] = {
    unit.key: unit
    for unit in (
        _unit("mm", "length", "mm", "millimeter", "meter", 1),
        _unit("cm", "length", "cm", "centimeter", "meter", 2),
        _unit("m", "length", "m", "meter", "meter", 4),
        _unit("in", "length", "in", "inch", "meter", 2),
        _unit("ft", "length", "ft", "foot", "meter", 3),
        _unit("L", "volume", "l", "liter", "meter**3", 1),
        _unit("m³", "volume", "m3", "meter**3", "meter**3", 4),
        _unit("US gal", "volume", "usgal", "gallon", "meter**3", 1),
        _unit("imp gal", "volume", "impgal", "imperial_gallon", "meter**3", 1),
        _unit("m²", "area", "m2", "meter**2", "meter**2", 3),
        _unit("ft²", "area", "ft2", "foot**2", "meter**2", 2),
        _unit("kg", "mass", "kg", "kilogram", "kilogram", 0),
        _unit("lb", "mass", "lb", "pound", "kilogram", 0),
        _unit("mA", "current", "ma", "milliampere", "ampere", 3),
        _unit("V", "voltage", "v", "volt", "volt", 3),
        _unit("mV", "voltage", "mv", "millivolt", "volt", 1),
        _unit("Ω", "resistance", "ohm", "ohm", "ohm", 2),
        _unit("kΩ", "resistance", "kohm", "kiloohm", "ohm", 4),
        _unit("MΩ", "resistance", "megohm", "megaohm", "ohm", 4),
        _unit("bar", "pressure", "bar", "bar", "pascal", 3),
        _unit("kPa", "pressure", "kpa", "kilopascal", "pascal", 1),
        _unit("psi", "pressure", "psi", "psi", "pascal", 2),
        _unit("mbar", "pressure", "mbar", "millibar", "pascal", 1),
        # Conventional columns of water: 1000 kg/m³ under standard gravity.
        _unit("mH₂O", "pressure", "mh2o", "meter_H2O", "pascal", 3),
        _unit("ftH₂O", "pressure", "fth2o", "foot_H2O", "pascal", 2),
        _unit("inH₂O", "pressure", "inh2o", "inch_H2O", "pascal", 1),
        Unit("%", "ratio", "pct", 0.01, 2),
    )
}

#: The unit of each quantity in each system.
_ELECTRIC = {"current": "ma", "voltage": "v", "resistance": "ohm", "ratio": "pct"}
SYSTEM_UNITS: dict[System, dict[str, str]] = {
    "metric": {"length": "mm", "volume": "l", "area": "m2", "mass": "kg", "pressure": "bar", **_ELECTRIC},
    "us": {"length": "in", "volume": "usgal", "area": "ft2", "mass": "lb", "pressure": "psi", **_ELECTRIC},
}

_SPELLINGS: dict[str, str] = {
    **dict.fromkeys(("mm", "millimeter", "millimetre", "millimeters", "millimetres"), "mm"),
    **dict.fromkeys(("cm", "centimeter", "centimetre", "centimeters", "centimetres"), "cm"),
    **dict.fromkeys(("m", "meter", "metre", "meters", "metres"), "m"),
    **dict.fromkeys(("in", "inch", "inches", '"', "''"), "in"),
    **dict.fromkeys(("ft", "foot", "feet", "'"), "ft"),
    **dict.fromkeys(("l", "liter", "litre", "liters", "litres", "ltr"), "l"),
    **dict.fromkeys(("m3", "m³", "cu m", "cubic metres", "cubic meters"), "m3"),
    **dict.fromkeys(("us gal", "usgal", "us gallon", "us gallons", "usg"), "usgal"),
    **dict.fromkeys(("imp gal", "impgal", "imperial gallon", "imperial gallons", "uk gal"), "impgal"),
    **dict.fromkeys(("ma", "milliamp", "milliamps"), "ma"),
    **dict.fromkeys(("v", "volt", "volts", "vdc", "v dc"), "v"),
    **dict.fromkeys(("mv", "millivolt", "millivolts"), "mv"),
    **dict.fromkeys(("ω", "ohm", "ohms", "r"), "ohm"),
    **dict.fromkeys(("kω", "kohm", "kilohm", "k"), "kohm"),
    **dict.fromkeys(("megohm", "megohms", "meg"), "megohm"),
    **dict.fromkeys(("bar", "barg", "bar g"), "bar"),
    **dict.fromkeys(("kpa", "kilopascal"), "kpa"),
    **dict.fromkeys(("psi", "psig"), "psi"),
    **dict.fromkeys(("mbar", "millibar", "hpa"), "mbar"),
    **dict.fromkeys(("mh₂o", "m h₂o", "mwc", "m wc"), "mh2o"),
    **dict.fromkeys(("fth₂o", "ft h₂o", "ftwc", "ft wc"), "fth2o"),
    **dict.fromkeys(("inh₂o", "in h₂o", "inwc", "in wc"), "inh2o"),
    **dict.fromkeys(("%", "pct", "percent", "per cent"), "pct"),
}
_GALLON = ("gal", "gallon", "gallons", "gals")
_BARE_GALLON = re.compile(r"((?:us|imp|imperial|uk)\s+)?(?:gallons?|gals?)\b", re.IGNORECASE)
_OVERSIZE = {"km": 1000.0, "mi": 1609.344, "mile": 1609.344, "miles": 1609.344}

_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_NUMBER_LETTERS = re.compile(f"[{''.join(_VULGAR)}]|(?<=\\d)[eE](?=[+-]?\\d)")
_TIDY = str.maketrans(
    {"’": "'", "′": "'", "”": '"', "″": '"', "“": '"', "−": "-", "\u00a0": " ", "\u202f": " ", "\u2009": " "}
)
_TOKEN = re.compile(
    r"(?P<fraction>\d+\s*/\s*\d+)"
    r"|(?P<number>(?:\d{1,3}(?:\s\d{3})+(?![\d/])(?:[.,]\d+)?|\d+(?:[.,]\d+)*|[.,]\d+)(?:[eE][+-]?\d+)?)"
    r"|(?P<unit>m3|''|[\"'%]|[^\W\d_]+[²³]?(?:\s+[^\W\d_]+)*\.?)"
    r"|(?P<gap>\s+|,\s*|-)"
)


def read_number(text: str) -> float:
    """Read a number with a decimal comma or point and optional thousands marks.

    Parameters
    ----------
    text : str
        For instance ``1600``, ``9,5``, ``1 600,5`` or ``12,345.6``.

    Returns
    -------
    float
        The number, finite.

    Raises
    ------
    InputError
        If it is no number, or if a single comma could be either mark (``1,600``).
    """
    bare = re.sub(r"\s", "", text.translate(_TIDY))
    commas, points = bare.count(","), bare.count(".")
    if commas and points:
        decimal = max(",", ".", key=bare.rfind)
        bare = bare.replace("." if decimal == "," else ",", "").replace(",", ".")
    elif commas == 1:
        head, tail = bare.split(",")
        if re.fullmatch(r"-?[1-9]\d{0,2}", head) and re.fullmatch(r"\d{3}", tail):
            raise InputError.at("", f"“{text.strip()}” can be read two ways: write {head}{tail}, or {head}.{tail}")
        bare = f"{head}.{tail}"
    elif commas > 1:
        bare = bare.replace(",", "")
    elif points > 1:
        bare = bare.replace(".", "")
    if not re.fullmatch(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?", bare):
        raise InputError.at("", f"“{_short(text)}” is not a number: write it in digits, for instance 1600 or 9.5")
    value = float(bare)
    if not math.isfinite(value):
        raise InputError.at("", f"“{_short(text)}” is too large to be a measurement")
    return value


def _short(text: str) -> str:
    text = text.strip()
    return text if len(text) <= 24 else text[:24] + "…"


def _find_unit(text: str, quantity: str, system: System) -> float:
    """Return the SI size of the unit called `text`."""
    # A small m would be a thousandth, a large one a million: only the large one is taken.
    text = text.replace("MΩ", "megohm") if quantity == "resistance" else text
    name = " ".join(text.lower().strip().rstrip(".").split())
    if quantity == "length" and name in _OVERSIZE:
        return _OVERSIZE[name]
    if name in _GALLON and quantity == "volume":
        if system == "us":
            return UNITS["usgal"].si
        raise InputError.at("", "“gal” can be two gallons: write US gal or imp gal")
    unit = UNITS.get(_SPELLINGS.get(name, ""))
    if unit is None or unit.quantity != quantity:
        known = ", ".join(u.name for u in UNITS.values() if u.quantity == quantity)
        raise InputError.at("", f"“{_short(text)}” is not a unit of {quantity}: use {known}")
    return unit.si


def read_quantity(text: str, quantity: str, system: System = "metric", where: str = "") -> float:
    """Read a quantity as people write it.

    Parameters
    ----------
    text : str
        For instance ``5' 3 1/4"``, ``63 in``, ``1600 mm``, ``1.6m``, ``9,5 mA``, ``3500 L``. A bare number is
        in the system's own unit of that quantity (mm or in, L or US gal, mA, %).
    quantity : {"length", "volume", "current", "voltage", "resistance", "pressure", "ratio"}
        What it must be.
    system : {"metric", "us"}
        Decides what a bare number and a bare ``gal`` mean.
    where : str
        The field, for the error.

    Returns
    -------
    float
        In SI [m, m³, A, V, Ω, Pa, 1].

    Raises
    ------
    InputError
        If it is empty, no such quantity, or can be read two ways.
    """
    tidy = re.sub(r"(?i)(?<=h)2(?=o\b)", "₂", text.translate(_TIDY)).strip()
    for sign, plain in _VULGAR.items():
        tidy = tidy.replace(sign, f" {plain}")
    tidy = tidy.strip()
    if not tidy:
        raise InputError.at(where, "nothing is typed here yet")
    if len(tidy) > 60:
        raise InputError.at(where, "this is too long for a measurement: write one number and its unit")
    negative, body = tidy.startswith("-"), tidy.lstrip("+-").strip()
    try:
        total = _sum_parts(_parts(body, text, quantity), text, quantity, system)
    except InputError as error:
        raise InputError.at(where, error.problems[0].what) from None
    return -total if negative else total


def _parts(body: str, text: str, quantity: str) -> list[tuple[float, str]]:
    """Split ``5 ft 3 1/4 in`` into its (value, unit as typed) parts."""
    parts: list[tuple[float, str]] = []
    value: float | None = None
    position = 0
    while position < len(body):
        match = _TOKEN.match(body, position)
        if match is None or (match["unit"] and value is None):
            raise InputError.at(
                "",
                f"“{_short(text)}” cannot be read: write a number and a unit, for instance {_EXAMPLES[quantity]}",
            )
        position = match.end()
        if match["number"]:
            if value is not None:
                raise InputError.at("", f"“{_short(text)}” has two numbers without a unit between them")
            value = read_number(match["number"])
        elif match["fraction"]:
            above, below = (int(part) for part in match["fraction"].split("/"))
            if below == 0:
                raise InputError.at("", "a fraction cannot have 0 below its line")
            value = (value or 0.0) + float(Fraction(above, below))
        elif match["unit"] and value is not None:
            parts.append((value, match["unit"]))
            value = None
    if value is not None:
        parts.append((value, ""))
    if not parts:
        raise InputError.at("", f"“{_short(text)}” has no number: write one, for instance {_EXAMPLES[quantity]}")
    return parts


def _sum_parts(parts: list[tuple[float, str]], text: str, quantity: str, system: System) -> float:
    total, last = 0.0, math.inf
    for index, (value, unit) in enumerate(parts):
        if unit:
            si = _find_unit(unit, quantity, system)
        elif index == 0:
            si = UNITS[SYSTEM_UNITS[system][quantity]].si
        elif last == UNITS["ft"].si:
            si = UNITS["in"].si
        else:
            raise InputError.at("", f"“{_short(text)}” has a number without its unit at the end")
        if si >= last:
            raise InputError.at("", f"“{_short(text)}” names its units in a strange order")
        total, last = total + value * si, si
    return total


_EXAMPLES = {"length": "1600 mm or 5' 3 1/4\"", "volume": "3500 L", "current": "12 mA", "ratio": "50 %"}
_EXAMPLES |= {"voltage": "24 V", "resistance": "250 Ω", "pressure": "7 bar or 100 psi"}


def with_unit(text: str, quantity: str, system: System) -> str:
    """Write the unit that was meant behind a bare number, and which gallon; other text stays as it is."""
    bare = text.strip()
    if quantity == "volume" and system == "us":
        text = _BARE_GALLON.sub(lambda found: found[0] if found[1] else "US gal", text)
    if not bare or re.search(r"[^\W\d_]|['\"%’′”″]", _NUMBER_LETTERS.sub("", bare)):
        return text
    return f"{bare} {UNITS[SYSTEM_UNITS[system][quantity]].name}"


def show(value: float, quantity: str, system: System) -> str:
    """Write an SI value in the system's unit, for messages and sheets."""
    return show_in(value, UNITS[SYSTEM_UNITS[system][quantity]])


def show_in(value: float, unit: Unit) -> str:
    """Write an SI value in `unit`, with trailing zeros dropped."""
    text = f"{value / unit.si:.{unit.decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return f"{'0' if text == '-0' else text} {unit.name}"


@dataclass(frozen=True)
class Words:
    """Writes SI values in one system's units, for sentences with several of them."""

    system: System

    def length(self, metres: float) -> str:
        """Write a length."""
        return show(metres, "length", self.system)

    def volume(self, m3: float) -> str:
        """Write a volume."""
        return show(m3, "volume", self.system)
