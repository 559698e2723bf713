"""Typed text, read in one way: numbers, and quantities with the units and spellings that people use."""

from __future__ import annotations

import math
import re
from fractions import Fraction

from .errors import InputError
from .odd_units import ODD, OddQuantity
from .units import SYSTEM_UNITS, UNITS, System

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
    **dict.fromkeys(("kg", "kgs", "kilo", "kilos", "kilogram", "kilograms"), "kg"),
    **dict.fromkeys(("lb", "lbs", "pound", "pounds"), "lb"),
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


#: Numbers as people write them: plain, with a decimal comma or point; and in groups of three digits.
_PLAIN = re.compile(r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?")
_SPACED = re.compile(r"[+-]?\d{1,3}(?: \d{3})+(?:[.,]\d+)?")
_BY_COMMA = re.compile(r"[+-]?\d{1,3}(?:,\d{3}){2,}(?:\.\d+)?|[+-]?\d{1,3},\d{3}\.\d+")
_BY_POINT = re.compile(r"[+-]?\d{1,3}(?:\.\d{3}){2,}(?:,\d+)?|[+-]?\d{1,3}\.\d{3},\d+")
_EITHER = re.compile(r"-?[1-9]\d{0,2},\d{3}")


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
        If it is no number, if its thousands marks do not part it by threes, or if a single comma could be either
        mark (``1,600``).
    """
    bare = " ".join(text.translate(_TIDY).split())
    bare = re.sub(r"(?<=^[+-]) ", "", bare)
    if _EITHER.fullmatch(bare):
        head, tail = bare.split(",")
        raise InputError.at("", f"“{text.strip()}” can be read two ways: write {head}{tail}, or {head}.{tail}")
    if _BY_COMMA.fullmatch(bare):
        bare = bare.replace(",", "")
    elif _BY_POINT.fullmatch(bare):
        bare = bare.replace(".", "").replace(",", ".")
    elif _SPACED.fullmatch(bare):
        bare = bare.replace(" ", "").replace(",", ".")
    elif _PLAIN.fullmatch(bare):
        bare = bare.replace(",", ".")
    else:
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
    quantity : str
        What it must be: a quantity of `units.UNITS`, or one of `odd_units.ODD`; empty for a plain number.
    system : {"metric", "us"}
        Decides what a bare number and a bare ``gal`` mean.
    where : str
        The field, for the error.

    Returns
    -------
    float
        In SI [m, m³, A, V, Ω, Pa, 1]; an odd quantity in its own unit [mm/m, °C, kg/m³, °, mm², s].

    Raises
    ------
    InputError
        If it is empty, no such quantity, or can be read two ways.
    """
    if len(text.strip()) > 60:
        raise InputError.at(where, "this is too long for a measurement: write one number and its unit")
    if quantity in ODD or not quantity:
        try:
            return read_number(text) if not quantity else _odd(text, ODD[quantity], system)
        except InputError as error:
            raise InputError.at(where, error.problems[0].what) from None
    tidy = re.sub(r"(?i)(?<=h)2(?=o\b)", "₂", text.translate(_TIDY)).strip()
    for sign, plain in _VULGAR.items():
        tidy = tidy.replace(sign, f" {plain}")
    tidy = tidy.strip()
    if not tidy:
        raise InputError.at(where, "nothing is typed here yet")
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


#: So many inches are a foot.
_INCHES = 12


def _asked_inches(text: str, feet: float, inches: float, system: System) -> str:
    """What is asked where a foot's inches are a foot or more: a mark of thousands, or a slip."""
    groups = re.fullmatch(r"[+-]?(\d{1,3})'(\d{3})", text.translate(_TIDY).strip())
    if groups:
        unit = UNITS[SYSTEM_UNITS[system]["length"]].name
        thousands = f"{groups[1]}{groups[2]} {unit}"
        return f"“{_short(text)}” can be read two ways: write {thousands}, or feet and inches with their marks"
    whole, left = divmod(inches, _INCHES)
    return (
        f"“{_short(text)}” has {inches:g} inches after feet, and twelve are a foot: write {feet + whole:g}' "
        f'{left:g}" if that is meant'
    )


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
        if last == UNITS["ft"].si and si == UNITS["in"].si and value >= _INCHES:
            raise InputError.at("", _asked_inches(text, parts[0][0], value, system))
        total, last = total + value * si, si
    return total


_EXAMPLES = {"length": "1600 mm or 5' 3 1/4\"", "volume": "3500 L", "current": "12 mA", "ratio": "50 %"}
_EXAMPLES |= {"voltage": "24 V", "resistance": "250 Ω", "pressure": "7 bar or 100 psi"}
_EXAMPLES |= {"mass": "1200 kg or 2600 lb", "area": "12 m2"}


_SPLIT = re.compile(r"^\s*(?P<number>[-+]?[\d.,\s]+?)\s*(?P<unit>[^\d\s.,].*)?$")
_RUN = re.compile(r"^\s*(?P<sign>-)?\s*1\s*(?::|in)\s*(?P<run>[\d.,]+)\s*$", re.IGNORECASE)
_SHARE = re.compile(r"^\s*(?P<above>-?\d+)\s*/\s*(?P<below>\d+)\s*(?P<unit>\D.*)$")


def _odd(text: str, odd: OddQuantity, system: System) -> float:
    """Read one number and its unit, where units are no plain multiples of one another."""
    tidy = text.translate(_TIDY)
    short = f"“{_short(text)}”"
    number, unit = 0.0, ""
    run = _RUN.match(tidy) if odd is ODD["slope"] else None
    share = _SHARE.match(tidy) if odd is ODD["slope"] else None
    match = _SPLIT.match(tidy)
    if run:
        length = read_number(run["run"])
        if length == 0:
            raise InputError.at("", "a slope of 1 in 0 stands upright")
        return (-1000 if run["sign"] else 1000) / length
    if share and int(share["below"]):
        number, unit = int(share["above"]) / int(share["below"]), share["unit"]
    elif match:
        number, unit = read_number(match["number"]), match["unit"] or odd.bare[system]
    else:
        raise InputError.at("", f"{short} is no {odd.name}: write it as {odd.example}")
    convert = odd.units.get(" ".join(unit.lower().split()))
    if convert is None:
        raise InputError.at("", f"“{_short(unit)}” is not a unit of {odd.name}: write it as {odd.example}")
    try:
        value = convert(number)
    except (ZeroDivisionError, OverflowError):
        raise InputError.at("", f"{short} is no {odd.name}") from None
    if not math.isfinite(value):
        raise InputError.at("", f"{short} is too large to be measured")
    return value


def with_unit(text: str, quantity: str, system: System) -> str:
    """Write the unit that was meant behind a bare number, and which gallon; other text stays as it is."""
    bare = text.strip()
    if not quantity:
        return text
    if quantity in ODD:
        bare_number = re.fullmatch(r"\s*[-−+]?[\d.,\s]*\d[\d.,\s]*", text)
        return f"{bare} {ODD[quantity].bare[system]}" if bare_number else text
    if quantity == "volume" and system == "us":
        text = _BARE_GALLON.sub(lambda found: found[0] if found[1] else "US gal", text)
    if not bare or re.search(r"[^\W\d_]|['\"%’′”″]", _NUMBER_LETTERS.sub("", bare)):
        return text
    return f"{bare} {UNITS[SYSTEM_UNITS[system][quantity]].name}"
