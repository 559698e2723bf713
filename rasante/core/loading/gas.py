"""A liquefied gas: propane and n-butane in any share, at its own vapour pressure."""

from __future__ import annotations

from dataclasses import dataclass

import scipy

from ..products.saturation import liquid_density, vapour_density, vapour_pressure
from ..quantities.errors import InputError
from ..quantities.odd_units import WATER_AT_60F

#: 60 °F, to which relative densities and volume corrections are counted [°C].
SIXTY_F = (60.0 - 32.0) / 1.8
#: Temperatures within which anybody loads or stores it [°C].
COLDEST_C, HOTTEST_C = -45.0, 90.0
_FLUIDS = ("n-Propane", "n-Butane")


@dataclass(frozen=True)
class Gas:
    """A liquefied gas.

    Parameters
    ----------
    butane : float
        Share of n-butane by weight [1]; the rest is propane.
    ratio : float
        Its density by that of the pure components [1]: what was confirmed at the load, by what is listed.
    """

    butane: float = 0.0
    ratio: float = 1.0

    def __post_init__(self) -> None:
        if not 0 <= self.butane <= 1:
            raise InputError.at("butane", "is a share from 0 to 100 %")

    def _within(self, temperature_c: float) -> float:
        if not COLDEST_C <= temperature_c <= HOTTEST_C:
            raise InputError.at(
                "temperature", f"{temperature_c:.1f} °C is outside {COLDEST_C:g} to {HOTTEST_C:g} °C: check the unit"
            )
        return round(temperature_c, 9)

    def density(self, temperature_c: float) -> float:
        """Density of the liquid at its own vapour pressure [kg/m³].

        Notes
        -----
        The volumes of the pure liquids added up (Amagat); within a hundredth for propane and butane.
        """
        at = self._within(temperature_c)
        shares = zip((1 - self.butane, self.butane), _FLUIDS, strict=True)
        return self.ratio / sum(share / liquid_density(fluid, at) for share, fluid in shares if share)

    def vapour_density(self, temperature_c: float) -> float:
        """Density of the vapour above it [kg/m³]; what each component adds by its part of the pressure (Raoult)."""
        at = self._within(temperature_c)
        moles = [(1 - self.butane) / 44.0956, self.butane / 58.1222]
        shares = [one / sum(moles) for one in moles]
        return sum(share * vapour_density(fluid, at) for share, fluid in zip(shares, _FLUIDS, strict=True) if share)

    def pressure(self, temperature_c: float) -> float:
        """Vapour pressure [Pa, absolute], by Raoult's law."""
        at = self._within(temperature_c)
        moles = [(1 - self.butane) / 44.0956, self.butane / 58.1222]
        return sum(m / sum(moles) * vapour_pressure(fluid, at) for m, fluid in zip(moles, _FLUIDS, strict=True) if m)

    @property
    def relative_density(self) -> float:
        """Density at 60 °F by that of water at 60 °F [1]."""
        return self.density(SIXTY_F) / WATER_AT_60F

    def correction(self, temperature_c: float) -> float:
        """Volume correction factor: its volume at 60 °F by that at a temperature [1]."""
        return self.density(temperature_c) / self.density(SIXTY_F)

    def liquid_full_at(self, mass_kg: float, capacity_m3: float) -> float | None:
        """Temperature at which a mass fills a vessel with liquid [°C]; None where it does so at none that is met.

        Parameters
        ----------
        mass_kg : float
            Liquid and vapour together [kg].
        capacity_m3 : float
            All that the vessel holds [m³].
        """
        wanted = mass_kg / capacity_m3
        if wanted <= self.density(HOTTEST_C):
            return None
        if wanted >= self.density(COLDEST_C):
            return COLDEST_C
        return float(scipy.optimize.brentq(lambda at: self.density(at) - wanted, COLDEST_C, HOTTEST_C, xtol=1e-6))
