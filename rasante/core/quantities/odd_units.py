"""Quantities whose units are no plain multiples of one another: slopes, temperatures, densities, angles, wires."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from .units import UNITS, System

#: Density of water at 60 °F that API gravity and relative density are counted from [kg/m³], from memory of
#: API MPMS 11.5.
WATER_AT_60F = 999.016
_POUND_PER_US_GALLON = 0.45359237 / UNITS["usgal"].si


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
    "time": OddQuantity(
        "time",
        {
            **dict.fromkeys(("ms", "msec", "millisecond", "milliseconds"), _times(1e-3)),
            **dict.fromkeys(("s", "sec", "second", "seconds"), _times(1.0)),
            **dict.fromkeys(("µs", "us", "microseconds"), _times(1e-6)),
        },
        {"metric": "ms", "us": "ms"},
        "14 ms",
    ),
    "power": OddQuantity(
        "power",
        {
            **dict.fromkeys(("mw", "milliwatt", "milliwatts"), _times(1e-3)),
            **dict.fromkeys(("w", "watt"), _times(1.0)),
        },
        {"metric": "mW", "us": "mW"},
        "650 mW or 0.65 W",
    ),
    "capacitance": OddQuantity(
        "capacitance",
        {"nf": _times(1e-9), "pf": _times(1e-12), **dict.fromkeys(("µf", "uf", "μf"), _times(1e-6))},
        {"metric": "nF", "us": "nF"},
        "83 nF or 0.083 µF",
    ),
    "inductance": OddQuantity(
        "inductance",
        {"mh": _times(1e-3), **dict.fromkeys(("µh", "uh", "μh"), _times(1e-6))},
        {"metric": "mH", "us": "mH"},
        "4.2 mH or 240 µH",
    ),
    "bridge": OddQuantity(
        "bridge signal",
        dict.fromkeys(("mv/v", "mv per v"), _times(1e-3)),
        {"metric": "mV/V", "us": "mV/V"},
        "10 mV/V",
    ),
}


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
