"""Fits the series of ``rasante/core/products/saturation.json`` to CoolProp's equations, and writes them."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import numpy as np
from CoolProp import __version__
from CoolProp.CoolProp import PropsSI
from numpy.polynomial import chebyshev

FILE = Path(__file__).resolve().parents[1] / "rasante" / "core" / "products" / "saturation.json"
#: How far a series may be from the equation, by the value itself [1].
WITHIN = 1e-11
DEGREE = 16
#: From freezing to just below the critical point [°C]; water boils at 99.97 °C under the atmosphere.
RANGES = {"Water": (0.05, 99.0, 373.8), "n-Propane": (-187.5, 96.6), "n-Butane": (-138.2, 151.9)}
Curve = Callable[[float], float]


def curves(fluid: str) -> dict[str, Curve]:
    """What is fitted of a liquid, by temperature [°C]."""

    def liquid(celsius: float) -> float:
        kelvin = celsius + 273.15
        if fluid == "Water" and celsius < 99:
            return float(PropsSI("D", "T", kelvin, "P", 101325, fluid))
        return float(PropsSI("D", "T", kelvin, "Q", 0, fluid))

    return {
        "liquid_kg_m3": liquid,
        "vapour_kg_m3": lambda celsius: float(PropsSI("D", "T", celsius + 273.15, "Q", 1, fluid)),
        "ln_pressure_pa": lambda celsius: math.log(PropsSI("P", "T", celsius + 273.15, "Q", 0, fluid)),
    }


def fitted(curve: Curve, low: float, high: float) -> list[tuple[float, list[float]]]:
    """Where each series ends, and its coefficients; parted until each is near enough."""
    nodes = chebyshev.chebpts1(DEGREE + 1)
    temperatures = (low + high) / 2 + (high - low) / 2 * nodes
    series = chebyshev.chebfit(nodes, [curve(float(at)) for at in temperatures], DEGREE)
    between = np.linspace(-0.99, 0.99, 23)
    wanted = np.array([curve(float((low + high) / 2 + (high - low) / 2 * at)) for at in between])
    off = np.max(np.abs(chebyshev.chebval(between, series) / wanted - 1))
    if off < WITHIN or high - low < 0.02:
        return [(high, [float(f"{one:.14g}") for one in series])]
    middle = (low + high) / 2
    return fitted(curve, low, middle) + fitted(curve, middle, high)


def document() -> dict[str, object]:
    """What the file holds."""
    fluids: dict[str, dict[str, object]] = {}
    for fluid, ends in RANGES.items():
        fluids[fluid] = {}
        for what, curve in curves(fluid).items():
            pieces = [one for low, high in pairwise(ends) for one in fitted(curve, low, high)]
            fluids[fluid][what] = {
                "ends_c": [ends[0], *(end for end, _ in pieces)], "series": [series for _, series in pieces],
            }  # fmt: skip
    return {"source": f"CoolProp {__version__}, fitted by tests/saturation.py", "fluids": fluids}


if __name__ == "__main__":
    FILE.write_text(json.dumps(document(), indent=None, separators=(",", ":")) + "\n", "utf-8")
