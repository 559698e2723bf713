"""Boiling liquids: density, vapour's density and vapour pressure, by series that were fitted to CoolProp's equations.

CoolProp itself takes seconds to be read, and all that is asked of it here are three curves of three liquids. The
series hold them to a part in ten thousand million; ``python -m tests.saturation`` fits them anew.
"""

from __future__ import annotations

import json
from functools import cache, lru_cache
from importlib.resources import files

import numpy as np
from numpy.polynomial.chebyshev import chebval
from numpy.typing import NDArray

from ..quantities.errors import InputError


class _Curve:
    """Chebyshev series, one after the other.

    Parameters
    ----------
    ends : list of float
        Where they begin, and where the last one ends [°C].
    series : list of list of float
        The coefficients of each, of what is between its ends.
    """

    def __init__(self, ends: list[float], series: list[list[float]]) -> None:
        self.ends: NDArray[np.float64] = np.array(ends)
        self.series = [np.array(one) for one in series]

    def at(self, temperature_c: float) -> float | None:
        """What it is at a temperature [°C]; None outside."""
        if not self.ends[0] <= temperature_c <= self.ends[-1]:
            return None
        piece = min(int(np.searchsorted(self.ends, temperature_c, "right")) - 1, len(self.series) - 1)
        low, high = self.ends[piece], self.ends[piece + 1]
        return float(chebval((2 * temperature_c - low - high) / (high - low), self.series[piece]))


@cache
def _curves() -> dict[str, dict[str, _Curve]]:
    kept = json.loads((files(__package__) / "saturation.json").read_text("utf-8"))
    return {
        fluid: {what: _Curve(one["ends_c"], one["series"]) for what, one in curves.items()}
        for fluid, curves in kept["fluids"].items()
    }


@lru_cache(maxsize=4096)
def _value(fluid: str, what: str, temperature_c: float) -> float:
    found = _curves()[fluid][what].at(temperature_c)
    if found is None:
        raise InputError.at(
            "temperature",
            f"{temperature_c:.1f} °C is outside what liquid {fluid.removeprefix('n-').lower()} can be at",
        )
    return found


def liquid_density(fluid: str, temperature_c: float) -> float:
    """Density of a pure liquid at its own vapour pressure; of water below 99 °C at atmospheric pressure [kg/m³].

    Parameters
    ----------
    fluid : str
        By CoolProp's name: ``Water``, ``n-Propane``, ``n-Butane``.
    temperature_c : float
        [°C]

    Raises
    ------
    InputError
        Where it is no liquid at that temperature.

    References
    ----------
    Water: IAPWS-95; propane: Lemmon, McLinden, Wagner (2009); n-butane: Buecker, Wagner (2006); all by CoolProp.
    """
    return _value(fluid, "liquid_kg_m3", temperature_c)


def vapour_density(fluid: str, temperature_c: float) -> float:
    """Density of the vapour above a boiling liquid [kg/m³]; parameters, errors and sources as `liquid_density`."""
    return _value(fluid, "vapour_kg_m3", temperature_c)


def vapour_pressure(fluid: str, temperature_c: float) -> float:
    """Vapour pressure of a liquid [Pa, absolute]; parameters, errors and sources as `liquid_density`."""
    return float(np.exp(_value(fluid, "ln_pressure_pa", temperature_c)))
