"""A liquid as it was observed: its density at any temperature, and how it expands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..quantities.errors import InputError
from ..quantities.typed import read_quantity
from ..quantities.units import System
from .correction import COLDEST_C, HOTTEST_C, STANDARDS, Standard, standard_density, volume_correction
from .registry import NOT_KNOWN, Product, product_of
from .saturation import liquid_density, vapour_pressure

_REFINED_ENDS = (COLDEST_C, HOTTEST_C)


def boiling_pressure(product: Product, temperature_c: float) -> float:
    """Vapour pressure of a pure liquid [Pa, absolute].

    Raises
    ------
    InputError
        If nothing is known of the product, or it is not liquid at that temperature.
    """
    if not product.fluid:
        raise InputError.at("product", f"the vapour pressure of {product.key or 'this product'} is not known")
    return vapour_pressure(product.fluid, temperature_c)


#: Temperature at which a product's density is listed [°C].
REFERENCE_C = 15.0


def density_at(product: Product, temperature_c: float) -> float:
    """Density that a product typically has at a temperature [kg/m³].

    Raises
    ------
    InputError
        If nothing is known of the product, or the temperature is outside what its tables or itself can be at.
    """
    if product.correction == "refined" and product.density_kg_m3 is not None:
        density = standard_density(product.density_kg_m3, REFERENCE_C, "15C")
        return density * volume_correction(density, temperature_c, "15C")
    if product.correction == "linear" and product.density_kg_m3 is not None:
        return product.density_kg_m3 + product.per_k * (temperature_c - REFERENCE_C)
    if product.correction == "boiling":
        # Water below freezing is ice: what is weighed is water at 0 °C.
        return liquid_density(product.fluid, max(temperature_c, 0.1) if product.fluid == "Water" else temperature_c)
    raise InputError.at("product", f"{NOT_KNOWN}: type its density")


def density_within(product: Product, temperature_c: float) -> tuple[float, bool]:
    """Density at a temperature, or at the nearest that the tables of refined products reach.

    Returns
    -------
    density : float
        [kg/m³]
    reached : bool
        Whether the tables reach so far.

    Raises
    ------
    InputError
        As `density_at`.
    """
    if product.correction == "refined":
        low, high = _REFINED_ENDS
        within = min(max(temperature_c, low), high)
        return density_at(product, within), within == temperature_c
    return density_at(product, temperature_c), True


@dataclass(frozen=True)
class Liquid:
    """A liquid as it was observed.

    Parameters
    ----------
    group : str
        Its group, as `registry.Product.group`.
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
    known = product_of(product)
    if not known.correction:
        named = f"“{product}”" if product else "a tank with no product"
        raise InputError.at("product", f"nothing is known of how {named} expands: name the product at Survey")

    def odd(key: str, quantity: str, otherwise: float) -> float:
        text = str(entries.get(key, ""))
        return read_quantity(text, quantity, system, key) if text.strip() else otherwise

    base = STANDARDS[standard]
    temperature = odd("temperature", "temperature", base)
    water = str(entries.get("water", ""))
    water_m = read_quantity(water, "length", system, "water") if water.strip() else 0.0
    if water_m < 0:
        raise InputError.at("water", "must not be below 0")
    observed_at = odd("density_at", "temperature", base)
    typed = bool(str(entries.get("density", "")).strip())
    assumed = ""
    if known.correction == "refined":
        typical = known.density_kg_m3
        assert typical is not None
        density = odd("density", "density", 0.0) if typed else typical
        if not typed:
            assumed, observed_at = (
                f"density not observed: {typical:g} kg/m³ at {REFERENCE_C:g} °C taken as typical",
                REFERENCE_C,
            )
        density = standard_density(density, observed_at, standard)
        correction = volume_correction(density, temperature, standard)
    else:
        pure = density_at(known, observed_at)
        ratio = odd("density", "density", pure) / pure
        if not 0.8 <= ratio <= 1.3:
            raise InputError.at(
                "density", f"is {ratio:.2f} times that of pure {known.key}: check the product and the unit"
            )
        assumed = "" if typed else f"density not observed: taken as pure {known.key}"
        density = density_at(known, base) * ratio
        correction = density_at(known, temperature) / density_at(known, base)
    return Liquid(known.group, standard, density, temperature, correction, water_m, assumed)
