"""Copper conductors: their sizes and their resistance."""

from __future__ import annotations

from math import pi

from ..quantities.odd_units import awg_of

#: Resistivity of annealed copper at 20 °C [Ω·m] and its coefficient of mass temperature [1/K].
#: IEC 60028 (the International Annealed Copper Standard), from memory.
COPPER_20 = 1.7241e-8
COPPER_ALPHA = 0.00393

#: Sizes that signal cable is sold in, metric by area [mm²] and by American gauge, thin to thick.
METRIC_SIZES = (0.22, 0.34, 0.5, 0.75, 1.0, 1.5, 2.5)
AWG_SIZES = (24, 22, 20, 18, 16, 14, 12)


def awg_area(number: float) -> float:
    """Area of a wire by its American gauge [mm²].

    References
    ----------
    .. [1] ASTM B258: d = 0.127 mm × 92^((36 − n) / 39); from memory.
    """
    return float(pi / 4 * (0.127 * 92 ** ((36 - number) / 39)) ** 2)


def size_name(area_mm2: float) -> str:
    """Write a wire's size as it is sold: by gauge where the area is a gauge's, else in mm²."""
    number = awg_of(area_mm2)
    if abs(number - round(number)) < 0.01 and not any(abs(area_mm2 - size) < 1e-9 for size in METRIC_SIZES):
        return f"{round(number)} AWG"
    return f"{area_mm2:.3g} mm²"


def resistance(length_m: float, area_mm2: float, temperature_c: float = 20.0) -> float:
    """Resistance of one copper conductor [Ω].

    Parameters
    ----------
    length_m : float
        Its length, one way [m].
    area_mm2 : float
        Its area [mm²].
    temperature_c : float
        Its temperature [°C].

    Notes
    -----
    R = ρ₂₀ L / A × (1 + α (T − 20 °C)).

    References
    ----------
    .. [1] IEC 60028:1925, "International standard of resistance for copper".
    """
    return COPPER_20 * length_m / (area_mm2 * 1e-6) * (1 + COPPER_ALPHA * (temperature_c - 20))
