"""Volume correction of refined products to standard temperature.

References
----------
.. [1] API MPMS 11.1 / ASTM D1250 (1980), tables 53B/54B (15 °C) and 5B/6B (60 °F), generalized products; the
   constants below from memory.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp
from typing import Literal

from ..quantities.errors import InputError

Standard = Literal["15C", "60F"]
#: Standard temperatures as they are written [°C].
STANDARDS: dict[Standard, float] = {"15C": 15.0, "60F": (60.0 - 32.0) / 1.8}
STANDARD_NAMES: dict[Standard, str] = {"15C": "15 °C", "60F": "60 °F"}


@dataclass(frozen=True)
class _Range:
    """Constants of one group: α = K₀/ρ² + K₁/ρ + K₂, for densities up to `up_to` [kg/m³]."""

    up_to: float
    k0: float
    k1: float
    k2: float


#: By standard temperature, α per °C (ρ at 15 °C) and per °F (ρ at 60 °F), lightest first: gasoline, transition,
#: jet and kerosene, fuel oil.
_RANGES: dict[Standard, tuple[_Range, ...]] = {
    "15C": (
        _Range(770.0, 346.4228, 0.4388, 0.0),
        _Range(787.5, 2680.3206, 0.0, -0.00336312),
        _Range(838.5, 594.5418, 0.0, 0.0),
        _Range(1075.0, 186.9696, 0.4862, 0.0),
    ),
    "60F": (
        _Range(770.352, 192.4571, 0.2438, 0.0),
        _Range(787.5195, 1489.0670, 0.0, -0.00186840),
        _Range(838.3127, 330.3010, 0.0, 0.0),
        _Range(1075.0, 103.8720, 0.2701, 0.0),
    ),
}
LIGHTEST, HEAVIEST = 653.0, 1075.0
COLDEST_C, HOTTEST_C = -18.0, 150.0


def expansion(density: float, standard: Standard) -> float:
    """Thermal expansion of a refined product at standard temperature.

    Parameters
    ----------
    density : float
        Density at that temperature [kg/m³].
    standard : {"15C", "60F"}
        The standard temperature.

    Returns
    -------
    float
        α [1/°C] for 15 °C, [1/°F] for 60 °F.
    """
    found = next((r for r in _RANGES[standard] if density <= r.up_to), _RANGES[standard][-1])
    return found.k0 / density**2 + found.k1 / density + found.k2


def volume_correction(density: float, temperature_c: float, standard: Standard) -> float:
    """Volume correction factor of a refined product: standard volume by observed volume.

    Parameters
    ----------
    density : float
        Density at standard temperature [kg/m³].
    temperature_c : float
        Temperature of the liquid [°C].
    standard : {"15C", "60F"}
        The standard temperature.

    Returns
    -------
    float
        VCF = exp(−α ΔT (1 + 0.8 α ΔT)) [1].

    Raises
    ------
    InputError
        If density or temperature lie outside what the tables are made for.
    """
    if not LIGHTEST <= density <= HEAVIEST:
        raise InputError.at(
            "density",
            f"{density:.1f} kg/m³ at standard temperature is outside the tables' {LIGHTEST:g} to {HEAVIEST:g} kg/m³: "
            "check the product and the unit",
        )
    if not COLDEST_C <= temperature_c <= HOTTEST_C:
        raise InputError.at(
            "temperature", f"{temperature_c:.1f} °C is outside the tables' {COLDEST_C:g} to {HOTTEST_C:g} °C"
        )
    warmer = temperature_c - STANDARDS[standard]
    rise = expansion(density, standard) * (warmer * 1.8 if standard == "60F" else warmer)
    return exp(-rise * (1 + 0.8 * rise))


def standard_density(observed: float, temperature_c: float, standard: Standard) -> float:
    """Density at standard temperature of a product whose density was taken at another.

    Parameters
    ----------
    observed : float
        Density there [kg/m³], already corrected for the hydrometer's own glass.
    temperature_c : float
        Temperature there [°C].
    standard : {"15C", "60F"}
        The standard temperature.

    Returns
    -------
    float
        [kg/m³]

    Raises
    ------
    InputError
        As `volume_correction`.

    Notes
    -----
    ρ = ρ_observed / VCF(ρ), by repeated substitution; it closes in by a factor of 50 a round.
    """
    density = observed
    for _ in range(60):
        better = observed / volume_correction(density, temperature_c, standard)
        if abs(better - density) < 1e-9:
            break
        density = better
    return better
