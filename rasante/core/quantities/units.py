"""Units: the one place for conversion factors, taken from SciPy's constants where it has them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from scipy import constants

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


#: A metre of water by convention: 1000 kg/m³ under standard gravity [Pa].
_WATER_COLUMN = 1000 * constants.g


def _written(unit: Unit) -> Unit:
    """The unit without the dust that a computed factor has in its last bit: a foot is 0.3048 m."""
    return replace(unit, si=float(f"{unit.si:.15g}"))


UNITS: dict[str, Unit] = {
    unit.key: _written(unit)
    for unit in (
        Unit("mm", "length", "mm", constants.milli, 1),
        Unit("cm", "length", "cm", constants.centi, 2),
        Unit("m", "length", "m", 1.0, 4),
        Unit("in", "length", "in", constants.inch, 2),
        Unit("ft", "length", "ft", constants.foot, 3),
        Unit("L", "volume", "l", constants.liter, 1),
        Unit("m³", "volume", "m3", 1.0, 4),
        Unit("US gal", "volume", "usgal", constants.gallon_US, 1),
        Unit("imp gal", "volume", "impgal", constants.gallon_imp, 1),
        Unit("m²", "area", "m2", 1.0, 3),
        Unit("ft²", "area", "ft2", constants.foot**2, 2),
        Unit("kg", "mass", "kg", 1.0, 0),
        Unit("lb", "mass", "lb", constants.pound, 0),
        Unit("mA", "current", "ma", constants.milli, 3),
        Unit("V", "voltage", "v", 1.0, 3),
        Unit("mV", "voltage", "mv", constants.milli, 1),
        Unit("Ω", "resistance", "ohm", 1.0, 2),
        Unit("kΩ", "resistance", "kohm", constants.kilo, 4),
        Unit("MΩ", "resistance", "megohm", constants.mega, 4),
        Unit("bar", "pressure", "bar", constants.bar, 3),
        Unit("kPa", "pressure", "kpa", constants.kilo, 1),
        Unit("psi", "pressure", "psi", constants.psi, 2),
        Unit("mbar", "pressure", "mbar", constants.bar / 1000, 1),
        Unit("mH₂O", "pressure", "mh2o", _WATER_COLUMN, 3),
        Unit("ftH₂O", "pressure", "fth2o", _WATER_COLUMN * constants.foot, 2),
        Unit("inH₂O", "pressure", "inh2o", _WATER_COLUMN * constants.inch, 1),
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
