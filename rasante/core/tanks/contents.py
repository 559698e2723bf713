"""What a tank holds at a level: volume, standard volume and mass of its liquid, the water under it taken off."""

from __future__ import annotations

from dataclasses import dataclass

from ..products.liquid import Liquid
from .tank import Tank


@dataclass(frozen=True)
class Contents:
    """What a tank holds at a level.

    Parameters
    ----------
    gross_m3, water_m3 : float
        Product as it lies in the tank, and water under it [m³].
    standard_m3 : float
        The product at standard temperature [m³].
    mass_kg : float
        The product's mass [kg].
    """

    gross_m3: float
    water_m3: float
    standard_m3: float
    mass_kg: float


def contents_at(tank: Tank, liquid: Liquid, innage_m: float) -> Contents:
    """Work out what a tank holds.

    Parameters
    ----------
    tank : Tank
        The tank.
    liquid : Liquid
        What is in it.
    innage_m : float
        Level of the liquid [m].
    """
    total = float(tank.volume(innage_m))
    water = float(tank.volume(min(liquid.water_m, innage_m))) if liquid.water_m > 0 else 0.0
    gross = total - water
    standard = gross * liquid.correction
    return Contents(gross, water, standard, standard * liquid.density)
