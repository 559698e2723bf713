"""Quantities whose units are no plain multiples of one another: slopes, temperatures, densities, angles, wires."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

from .errors import InputError
from .units import UNITS, System, read_number

#: Density of water at 60 °F that API gravity and relative density are counted from [kg/m³], from memory of
#: API MPMS 11.5.
WATER_AT_60F = 999.016
_POUND_PER_US_GALLON = 0.45359237 / UNITS["usgal"].si

_SPLIT = re.compile(r"^\s*(?P<number>[-−+]?[\d.,\s]+?)\s*(?P<unit>[^\d\s.,].*)?$")
_RATIO = re.compile(r"^\s*(?P<sign>[-−])?\s*1\s*(?::|in)\s*(?P<run>[\d.,]+)\s*$", re.IGNORECASE)


@dataclass(frozen=True)
class OddQuantity:
    """How one such quantity is read.

    Parameters
    ----------
    name : str
        What it is, for errors.
    units : dict of str to callable
        From a number in that unit to the value kept, by every spelling of the unit.
    bare : dict of System to str
        The unit that a bare number has.
    example : str
        How it may be typed.
    """

    name: str
    units: dict[str, Callable[[float], float]]
    bare: dict[System, str]
    example: str


def _times(factor: float) -> Callable[[float], float]:
    return lambda value: value * factor


ODD: dict[str, OddQuantity] = {
    "slope": OddQuantity(
        "slope",
        {
            **dict.fromkeys(("mm/m", "mm per m", "‰", "mm/metre", "mm/meter"), _times(1.0)),
            **dict.fromkeys(("in/ft", "in per ft", '"/ft', "inch/foot", "\"/'"), _times(1000 / 12)),
            **dict.fromkeys(("%", "pct", "cm/m"), _times(10.0)),
            **dict.fromkeys(("°", "deg", "degrees"), lambda value: 1000 * math.tan(math.radians(value))),
        },
        {"metric": "mm/m", "us": "in/ft"},
        "5 mm/m, 1/16 in/ft, 0.5 % or 1:200",
    ),
    "temperature": OddQuantity(
        "temperature",
        {
            **dict.fromkeys(("°c", "c", "degc", "deg c"), _times(1.0)),
            **dict.fromkeys(("°f", "f", "degf", "deg f"), lambda value: (value - 32) / 1.8),
        },
        {"metric": "°C", "us": "°F"},
        "15 °C or 60 °F",
    ),
    "density": OddQuantity(
        "density",
        {
            **dict.fromkeys(("kg/m3", "kg/m³", "g/l"), _times(1.0)),
            **dict.fromkeys(("kg/l", "kg/dm3", "g/cm3", "g/cm³", "g/ml"), _times(1000.0)),
            **dict.fromkeys(("lb/gal", "lb/us gal", "ppg"), _times(_POUND_PER_US_GALLON)),
            **dict.fromkeys(("sg", "rd"), _times(WATER_AT_60F)),
            **dict.fromkeys(("°api", "api", "deg api"), lambda value: 141.5 / (131.5 + value) * WATER_AT_60F),
        },
        {"metric": "kg/m³", "us": "lb/gal"},
        "840 kg/m³, 0.84 kg/L, 7.0 lb/gal or 36 °API",
    ),
    "angle": OddQuantity(
        "angle",
        {
            **dict.fromkeys(("°", "deg", "degrees", "degree"), _times(1.0)),
            **dict.fromkeys(("%", "pct"), lambda value: math.degrees(math.atan(value / 100))),
        },
        {"metric": "°", "us": "°"},
        "3° or 5 %",
    ),
    "wire": OddQuantity(
        "wire size",
        {
            **dict.fromkeys(("mm2", "mm²", "sq mm", "sqmm"), _times(1.0)),
            "awg": lambda number: math.pi / 4 * (0.127 * 92 ** ((36 - number) / 39)) ** 2,
        },
        {"metric": "mm²", "us": "AWG"},
        "0.5 mm² or 18 AWG",
    ),
}


def read_odd(text: str, quantity: str, system: System, where: str = "") -> float:
    """Read a slope, a temperature, a density, an angle or a wire size as people write it.

    Parameters
    ----------
    text : str
        For instance ``5 mm/m``, ``1:200``, ``60 °F``, ``36 API``, ``3°``, ``18 AWG``.
    quantity : {"slope", "temperature", "density"}
        What it must be.
    system : {"metric", "us"}
        What a bare number means.
    where : str
        The field, for the error.

    Returns
    -------
    float
        In mm/m, °C, kg/m³, degrees or mm².

    Raises
    ------
    InputError
        If it cannot be read.
    """
    odd = ODD[quantity]
    ratio = _RATIO.match(text) if quantity == "slope" else None
    try:
        if ratio:
            run = read_number(ratio["run"])
            if run == 0:
                raise InputError.at("", "a slope of 1 in 0 stands upright")
            return (-1000 if ratio["sign"] else 1000) / run
        match = _SPLIT.match(text.replace("\u00a0", " ").replace("−", "-"))
        fraction = re.match(r"^\s*(-?\d+)\s*/\s*(\d+)\s*(\D.*)$", text) if quantity == "slope" else None
        if fraction and int(fraction[2]):
            number, unit = int(fraction[1]) / int(fraction[2]), fraction[3]
        elif match:
            number, unit = read_number(match["number"]), match["unit"] or odd.bare[system]
        else:
            raise InputError.at("", f"“{text.strip()[:24]}” is no {odd.name}: write it as {odd.example}")
        convert = odd.units.get(" ".join(unit.lower().split()))
        if convert is None:
            raise InputError.at("", f"“{unit.strip()[:24]}” is not a unit of {odd.name}: write it as {odd.example}")
        value = convert(number)
    except ZeroDivisionError:
        raise InputError.at(where, f"“{text.strip()[:24]}” is no {odd.name}") from None
    except InputError as error:
        raise InputError.at(where, error.problems[0].what) from None
    if not math.isfinite(value):
        raise InputError.at(where, f"“{text.strip()[:24]}” is too large to be measured")
    return value


def with_odd_unit(text: str, quantity: str, system: System) -> str:
    """Write the unit that was meant behind a bare number; other text stays as it is."""
    if re.fullmatch(r"\s*[-−+]?[\d.,\s]*\d[\d.,\s]*", text):
        return f"{text.strip()} {ODD[quantity].bare[system]}"
    return text


def awg_of(area_mm2: float) -> float:
    """Gauge number of a wire by its area [mm²]; the diameter is 0.127 mm × 92^((36 − n) / 39) (ASTM B258)."""
    return 36 - 39 * math.log(math.sqrt(4 * area_mm2 / math.pi) / 0.127, 92)


def show_slope(mm_per_m: float) -> str:
    """Write a slope both ways, with its angle."""
    return f"{mm_per_m:.4g} mm/m, {mm_per_m * 12 / 1000:.3g} in/ft ({math.degrees(math.atan(mm_per_m / 1000)):.2f}°)"


def show_temperature(celsius: float, system: System) -> str:
    """Write a temperature."""
    return f"{celsius:.1f} °C" if system == "metric" else f"{celsius * 1.8 + 32:.1f} °F"


def show_density(kg_m3: float, system: System) -> str:
    """Write a density."""
    return f"{kg_m3:.1f} kg/m³" if system == "metric" else f"{kg_m3 / _POUND_PER_US_GALLON:.3f} lb/gal"
