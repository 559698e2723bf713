"""Uncertainty of a table: from what each dimension may be off by to what every row may be off by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .build import build_shape
from .measured import BEST, BEST_WITHOUT_STRAP, METHODS, OTHER_HALF_WIDTHS
from .tank import Tank
from .tank_file import TankFile
from .tolerances import Tolerance, moved, tolerances

#: Rows beyond which U is worked out at fewer levels and drawn through them.
_ALL_ROWS = 400


@dataclass(frozen=True)
class Contribution:
    """What one dimension adds to the uncertainty.

    Parameters
    ----------
    tolerance : Tolerance
        The dimension.
    u95_m3 : ndarray
        Its own expanded uncertainty of the volume, k = 2 [m³], shape (levels,).
    """

    tolerance: Tolerance
    u95_m3: Array


def _tank_of(document: Mapping[str, Any], like: Tank) -> Tank:
    shape = build_shape(document["shape"], document.get("slope_mm_per_m", 0.0), document.get("gauge_position_mm"))
    return Tank(shape, like.reference_height_m, like.deadwood, like.floor_heel_m3, like.sump)


def contributions(file: TankFile, innage: Array) -> list[Contribution]:
    """Work out what each dimension adds to the uncertainty of the volume.

    Parameters
    ----------
    file : TankFile
        A tank whose file may state half-widths (k = 2) or how it was measured.
    innage : ndarray
        Levels [m], shape (levels,).

    Returns
    -------
    list of Contribution
        One for each dimension with a half-width above 0.

    Notes
    -----
    For a standard uncertainty u, the variance is (f′ u)² + (f″ u²)² / 2, with f′ and f″ by central difference
    over ± u through the model; dimensions are taken as independent and normal. The second term matters where
    the first vanishes, as for a slope under a gauge in the middle.

    References
    ----------
    .. [1] JCGM 100:2008, "Guide to the expression of uncertainty in measurement", 5.1.2 and its note.
    """
    here = file.tank.volume(innage)
    found = []
    for tolerance in tolerances(file.document):
        if not tolerance.half_width:
            continue
        u = tolerance.half_width / 2
        sides = []
        for step in (u, -u):
            try:
                sides.append(_tank_of(moved(file.document, tolerance.key, step), file.tank).volume(innage))
            except InputError:
                continue  # at the edge of what can be built: the other side alone
        if len(sides) == 2:
            first, second = (sides[0] - sides[1]) / 2, sides[0] + sides[1] - 2 * here
        elif sides:
            first, second = sides[0] - here, np.zeros_like(here)
        else:
            continue
        found.append(Contribution(tolerance, 2 * np.sqrt(first**2 + second**2 / 2)))
    return found


def _levels(tank: Tank) -> Array:
    """Levels that U is worked out at where a table has many rows [m]: closer towards empty and full."""
    height = tank.inside_height
    even = height * (1 - np.cos(np.linspace(0, np.pi, 161))) / 2
    return np.unique(np.concatenate([even, tank.kinks]))


def volume_uncertainty(file: TankFile, innage: Array) -> Array | None:
    """Expanded uncertainty (k = 2) of the volume at given innages, from the dimensions' half-widths.

    Parameters
    ----------
    file : TankFile
        The tank.
    innage : ndarray
        Levels [m], shape (rows,).

    Returns
    -------
    ndarray or None
        U [m³], shape (rows,); None if the file says nothing of any half-width.

    Notes
    -----
    As `contributions`. Beyond 400 rows it is worked out at some 161 levels and at the surface's kinks, and
    drawn straight between them: within 1 in 1000 of itself, far inside what an uncertainty means.
    """
    levels = innage if len(innage) <= _ALL_ROWS else _levels(file.tank)
    parts = contributions(file, levels)
    if not parts:
        return None
    total = np.sqrt(sum((part.u95_m3**2 for part in parts), np.zeros_like(levels)))
    return total if levels is innage else np.interp(innage, levels, total)


@dataclass(frozen=True)
class Budget:
    """The uncertainty at one level, and what would better it.

    Parameters
    ----------
    u95_m3 : float or None
        U there, k = 2 [m³].
    shares : tuple of (Tolerance, float)
        What each dimension adds to the variance [1], the largest first.
    unstated : tuple of Tolerance
        Dimensions that nothing was said of: they count as exact.
    better_mm : float or None
        Half-width that the largest one would have if it were measured the best way it can be, in its unit.
    better_by : str
        That way's name.
    better_u95_m3 : float or None
        What U would then be [m³].
    """

    u95_m3: float | None
    shares: tuple[tuple[Tolerance, float], ...]
    unstated: tuple[Tolerance, ...]
    better_mm: float | None
    better_by: str
    better_u95_m3: float | None


def budget_at(file: TankFile, innage: float) -> Budget:
    """Break the uncertainty at one level down, and tell what measuring the largest part again would bring."""
    parts = contributions(file, np.array([innage]))
    unstated = tuple(t for t in tolerances(file.document) if t.half_width is None)
    variances = {part.tolerance.key: float(part.u95_m3[0]) ** 2 for part in parts}
    total = sum(variances.values())
    if total <= 0:
        return Budget(None if not parts else 0.0, (), unstated, None, "", None)
    shares = sorted(((p.tolerance, variances[p.tolerance.key] / total) for p in parts), key=lambda s: -s[1])
    worst = shares[0][0]
    best, by = _best_half_width(worst)
    if worst.half_width is None or best >= worst.half_width * 0.99:
        return Budget(float(np.sqrt(total)), tuple(shares), unstated, None, "", None)
    document = {
        **file.document,
        "uncertainty": {**file.document.get("uncertainty", {}), worst.key: best},
    }
    again = contributions(TankFile(document, file.tank), np.array([innage]))
    better = float(np.sqrt(sum(float(p.u95_m3[0]) ** 2 for p in again)))
    return Budget(float(np.sqrt(total)), tuple(shares), unstated, best, by, better)


def _best_half_width(tolerance: Tolerance) -> tuple[float, str]:
    """The least half-width that a dimension can be had to, and by which way."""
    if tolerance.key == "slope_mm_per_m":
        return OTHER_HALF_WIDTHS["slope_mm_per_m"] / 2, "a water level over the whole length"
    if tolerance.key in OTHER_HALF_WIDTHS:
        return OTHER_HALF_WIDTHS[tolerance.key] / 2, "a proven meter and a still surface"
    strap = "diameter" in tolerance.key or "circumference" in tolerance.key
    method = METHODS[BEST if strap else BEST_WITHOUT_STRAP]
    return method.half_width_mm(tolerance.nominal), method.label.lower()
