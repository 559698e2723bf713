"""Units: the one place for conversion factors.

They are the exact ones of NIST Special Publication 811 (2008), appendix B; the tests hold them against SciPy's.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

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


#: Standard gravity [m/s²], and a metre of water by convention: 1000 kg/m³ under it [Pa].
GRAVITY = 9.80665
_WATER_COLUMN = 1000 * GRAVITY
#: Exact by agreement: yard and pound of 1959, the wine gallon of 231 in³, the imperial gallon of 1985.
_INCH, _FOOT, _POUND = 0.0254, 0.3048, 0.45359237
_LITRE, _US_GALLON, _IMPERIAL_GALLON = 1e-3, 231 * _INCH**3, 4.54609e-3
_BAR = 1e5


def _written(unit: Unit) -> Unit:
    """The unit without the dust that a computed factor has in its last bit: a foot is 0.3048 m."""
    return replace(unit, si=float(f"{unit.si:.15g}"))


UNITS: dict[str, Unit] = {
    unit.key: _written(unit)
    for unit in (
        Unit("mm", "length", "mm", 1e-3, 1),
        Unit("cm", "length", "cm", 1e-2, 2),
        Unit("m", "length", "m", 1.0, 4),
        Unit("in", "length", "in", _INCH, 2),
        Unit("ft", "length", "ft", _FOOT, 3),
        Unit("L", "volume", "l", _LITRE, 1),
        Unit("m³", "volume", "m3", 1.0, 4),
        Unit("US gal", "volume", "usgal", _US_GALLON, 1),
        Unit("imp gal", "volume", "impgal", _IMPERIAL_GALLON, 1),
        Unit("m²", "area", "m2", 1.0, 3),
        Unit("ft²", "area", "ft2", _FOOT**2, 2),
        Unit("kg", "mass", "kg", 1.0, 0),
        Unit("lb", "mass", "lb", _POUND, 0),
        Unit("mA", "current", "ma", 1e-3, 3),
        Unit("V", "voltage", "v", 1.0, 3),
        Unit("mV", "voltage", "mv", 1e-3, 1),
        Unit("Ω", "resistance", "ohm", 1.0, 2),
        Unit("kΩ", "resistance", "kohm", 1e3, 4),
        Unit("MΩ", "resistance", "megohm", 1e6, 4),
        Unit("bar", "pressure", "bar", _BAR, 3),
        Unit("kPa", "pressure", "kpa", 1e3, 1),
        Unit("psi", "pressure", "psi", _POUND * GRAVITY / _INCH**2, 2),
        Unit("mbar", "pressure", "mbar", _BAR / 1000, 1),
        Unit("mH₂O", "pressure", "mh2o", _WATER_COLUMN, 3),
        Unit("ftH₂O", "pressure", "fth2o", _WATER_COLUMN * _FOOT, 2),
        Unit("inH₂O", "pressure", "inh2o", _WATER_COLUMN * _INCH, 1),
        Unit("%", "ratio", "pct", 0.01, 2),
    )
}

#: The unit of each quantity in each system.
_ELECTRIC = {"current": "ma", "voltage": "v", "resistance": "ohm", "ratio": "pct"}
SYSTEM_UNITS: dict[System, dict[str, str]] = {
    "metric": {"length": "mm", "volume": "l", "area": "m2", "mass": "kg", "pressure": "bar", **_ELECTRIC},
    "us": {"length": "in", "volume": "usgal", "area": "ft2", "mass": "lb", "pressure": "psi", **_ELECTRIC},
}


def show(value: float, quantity: str, system: System) -> str:
    """Write an SI value in the system's unit, for messages and sheets."""
    return show_in(value, UNITS[SYSTEM_UNITS[system][quantity]])


def show_in(value: float, unit: Unit) -> str:
    """Write an SI value in `unit`, with trailing zeros dropped."""
    text = f"{value / unit.si:.{unit.decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return f"{'0' if text == '-0' else text} {unit.name}"
