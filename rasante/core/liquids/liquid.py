"""A liquid in a tank as it was observed: its density at any temperature, and volumes, standard volumes and mass."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..errors import InputError
from ..odd_units import read_odd
from ..tanks.tank import Tank
from ..units import System, read_quantity
from .correction import STANDARDS, Standard, standard_density, volume_correction

#: CoolProp's names of the pure fluids.
_FLUIDS = {"propane": "n-Propane", "butane": "n-Butane", "water": "Water"}
_REFINED = ("fuel_oil", "gasoline", "jet")


@cache
def _products() -> list[dict[str, Any]]:
    text = resources.files(__package__).joinpath("products.json").read_text("utf-8")
    found: list[dict[str, Any]] = json.loads(text)
    return found


def group_of(product: str) -> tuple[str, float | None]:
    """Return a product's group and its typical density at 15 °C [kg/m³]; an empty group if it is not known."""
    name = product.strip().lower()
    for entry in _products():
        if name in entry["names"] or any(known in name.split() for known in entry["names"]):
            return entry["group"], entry.get("typical_kg_m3")
    return "", None


@cache
def _boiling_density(group: str, temperature_c: float) -> float:
    """Density of a pure liquid at its own vapour pressure [kg/m³]; of water at atmospheric pressure."""
    from CoolProp.CoolProp import PropsSI

    kelvin = temperature_c + 273.15
    try:
        if group == "water" and temperature_c < 99:
            return float(PropsSI("D", "T", kelvin, "P", 101325, _FLUIDS[group]))
        return float(PropsSI("D", "T", kelvin, "Q", 0, _FLUIDS[group]))
    except ValueError:
        raise InputError.at(
            "temperature", f"{temperature_c:.1f} °C is outside what liquid {group} can be at"
        ) from None


def boiling_pressure(group: str, temperature_c: float) -> float:
    """Vapour pressure of a pure liquid [Pa, absolute].

    Raises
    ------
    InputError
        If nothing is known of the group, or it is not liquid at that temperature.
    """
    from CoolProp.CoolProp import PropsSI

    if group not in _FLUIDS:
        raise InputError.at("product", f"the vapour pressure of {group or 'this product'} is not known")
    try:
        return float(PropsSI("P", "T", temperature_c + 273.15, "Q", 0, _FLUIDS[group]))
    except ValueError:
        raise InputError.at(
            "temperature", f"{temperature_c:.1f} °C is outside what liquid {group} can be at"
        ) from None


def density_at(product: str, temperature_c: float) -> float:
    """Density that a product typically has at a temperature [kg/m³].

    Raises
    ------
    InputError
        If nothing is known of the product.
    """
    group, typical = group_of(product)
    if typical is not None:
        density = standard_density(typical, 15.0, "15C")
        return density * volume_correction(density, temperature_c, "15C")
    if group in _FLUIDS:
        # Water below freezing is ice: what is weighed is water at 0 °C.
        return _boiling_density(group, max(temperature_c, 0.1) if group == "water" else temperature_c)
    raise InputError.at("product", f"nothing is known of the density of “{product}”: type it")


@dataclass(frozen=True)
class Liquid:
    """A liquid as it was observed.

    Parameters
    ----------
    group : str
        Its group: ``fuel_oil``, ``gasoline``, ``jet``, ``propane``, ``butane`` or ``water``.
    standard : {"15C", "60F"}
        The temperature that standard volumes are for.
    density : float
        Density at that temperature [kg/m³].
    temperature_c : float
        Temperature in the tank [°C].
    correction : float
        Standard volume by gross volume [1].
    water_m : float
        Innage of the water under it [m].
    assumed : str
        What was not observed and was taken as typical, in words; empty if nothing was.
    """

    group: str
    standard: Standard
    density: float
    temperature_c: float
    correction: float
    water_m: float
    assumed: str = ""

    @property
    def density_in_tank(self) -> float:
        """Density at the tank's temperature [kg/m³]."""
        return self.density * self.correction


def read_liquid(product: str, entries: Mapping[str, str], standard: Standard, system: System) -> Liquid:
    """Read a liquid as it is typed.

    Parameters
    ----------
    product : str
        What the tank holds, by its name.
    entries : mapping of str to str
        ``density`` observed and ``density_at`` what temperature (both may be empty: typical), ``temperature`` in
        the tank (empty: standard), ``water`` its innage (empty: none).
    standard : {"15C", "60F"}
        The temperature that standard volumes are for.
    system : {"metric", "us"}
        What a bare number means.

    Raises
    ------
    InputError
        At the field that cannot be read, or if nothing is known of the product.
    """
    group, typical = group_of(product)
    if not group:
        named = f"“{product}”" if product else "a tank with no product"
        raise InputError.at("product", f"nothing is known of how {named} expands: name the product at Survey")

    def odd(key: str, quantity: str, otherwise: float) -> float:
        text = str(entries.get(key, ""))
        return read_odd(text, quantity, system, key) if text.strip() else otherwise

    base = STANDARDS[standard]
    temperature = odd("temperature", "temperature", base)
    water = str(entries.get("water", ""))
    water_m = read_quantity(water, "length", system, "water") if water.strip() else 0.0
    if water_m < 0:
        raise InputError.at("water", "must not be below 0")
    observed_at = odd("density_at", "temperature", base)
    typed = bool(str(entries.get("density", "")).strip())
    assumed = ""
    if group in _REFINED:
        assert typical is not None
        density = odd("density", "density", 0.0) if typed else typical
        if not typed:
            assumed, observed_at = f"density not observed: {typical:g} kg/m³ at 15 °C taken as typical", 15.0
        density = standard_density(density, observed_at, standard)
        correction = volume_correction(density, temperature, standard)
    else:
        pure = _boiling_density(group, observed_at)
        ratio = odd("density", "density", pure) / pure
        if not 0.8 <= ratio <= 1.3:
            raise InputError.at(
                "density", f"is {ratio:.2f} times that of pure {group}: check the product and the unit"
            )
        assumed = "" if typed else f"density not observed: taken as pure {group}"
        density = _boiling_density(group, base) * ratio
        correction = _boiling_density(group, temperature) / _boiling_density(group, base)
    return Liquid(group, standard, density, temperature, correction, water_m, assumed)


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
