"""A station's value as it is read beside the section: in the unit that a person reads there."""

from __future__ import annotations

import numpy as np

from ..quantities.units import UNITS, System
from .chain import Chain
from .numbers import Register
from .screen import PERCENT


def station_unit(chain: Chain, station: str, system: System) -> tuple[str, float, int]:
    """The unit that a station's values are drawn in while the line moves: its name, its size, and its places."""
    if station in ("sent", "arriving") and chain.signal is not None:
        key = {"current": "ma", "voltage": "v"}.get(chain.signal.quantity)
        return ("mV/V", 1e-3, 4) if key is None else (UNITS[key].name, UNITS[key].si, UNITS[key].decimals)
    if station == "sensed" and chain.sensing.quantity in ("length", "pressure"):
        keys = {"length": ("mm", "in"), "pressure": ("bar", "psi")}[chain.sensing.quantity]
        unit = UNITS[keys[0] if system == "metric" else keys[1]]
        return unit.name, unit.si, unit.decimals
    if station == "sensed":
        return ("ms", 1e-3, 4) if chain.sensing.quantity == "time" else ("", 1.0, 0)
    if station == "shown":
        unit_name = "%" if chain.screen.shows in PERCENT else UNITS[chain.screen.unit].name
        return unit_name, 1.0, chain.screen.decimals
    if station in ("number", "read"):
        key = chain.scaling.unit if station == "number" else chain.screen.from_unit
        return UNITS[key].name, 1.0, max(chain.scaling.decimals, 0)
    register = chain.find(Register)
    return "", 1.0, 0 if station == "counts" or register is None or register.type != "float32" else 3


def read_out(chain: Chain, station: str, value: float, system: System) -> str:
    """Write a station's value beside the section: no more places than its unit is read to."""
    unit, size, decimals = station_unit(chain, station, system)
    if not np.isfinite(value):
        return "nothing"
    digits = f"{value / size:.{decimals}f}"
    if station != "shown" and "." in digits:
        digits = digits.rstrip("0").rstrip(".")
    return f"{digits} {unit}".strip()
