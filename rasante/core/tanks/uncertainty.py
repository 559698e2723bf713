"""Uncertainty of a table: from what each dimension may be off by to what every row may be off by."""

from __future__ import annotations

import json
import warnings
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..quantities.once import once
from .build import build_shape
from .measured import BEST, BEST_WITHOUT_STRAP, METHODS, OTHER_HALF_WIDTHS
from .tank import Deadwood, Tank
from .tank_file import TankFile, check_document
from .tolerances import Tolerance, moved, tolerances

#: Rows beyond which U is worked out at fewer levels and drawn through them.
_ALL_ROWS = 400
#: By how much differences over one and two standard uncertainties may disagree before the dimensions are drawn [1].
_STRAIGHT = 0.01
_DRAWS, _SEED = 128, 20


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


def volume_of(document: Mapping[str, Any], innage: Array) -> Array:
    """Volume of a tank with a dimension moved [m³]; a sloped one's surface may lie above its top at the gauge."""
    shape = build_shape(document["shape"], document.get("slope_mm_per_m", 0.0), document.get("gauge_position_mm"))
    below = (document.get("floor_heel_l", 0.0) + document.get("sump", {}).get("volume_l", 0.0)) / 1000
    inside = [
        Deadwood(part["from_mm"] / 1000, part["to_mm"] / 1000, part["volume_l"] / 1000).below(innage)
        for part in document.get("deadwood", ())
    ]
    return np.asarray(shape.volume(innage) + sum(inside, np.zeros_like(innage)) + below)


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
    return _contributions(file, innage, 1.0)


def _gone(tolerance: Tolerance, by: float) -> bool:
    """Whether a length would be moved to nothing or below: no tank has such."""
    return tolerance.unit == "mm" and tolerance.nominal > 0 and tolerance.nominal + by <= 0


def _contributions(file: TankFile, innage: Array, reach: float) -> list[Contribution]:
    """As `contributions`, with differences over `reach` standard uncertainties."""
    here = file.tank.volume(innage)
    found = []
    for tolerance in tolerances(file.document):
        if not tolerance.half_width:
            continue
        u = tolerance.half_width / 2
        sides = []
        for step in (reach * u, -reach * u):
            if _gone(tolerance, step):
                continue
            try:
                sides.append(volume_of(moved(file.document, tolerance.key, step), innage))
            except InputError:
                continue  # at the edge of what can be built: the other side alone
        if len(sides) == 2:
            first, second = (sides[0] - sides[1]) / 2, sides[0] + sides[1] - 2 * here
        elif sides:
            first, second = sides[0] - here, np.zeros_like(here)
        else:
            continue
        first, second = first / reach, second / reach**2
        found.append(Contribution(tolerance, 2 * np.sqrt(first**2 + second**2 / 2)))
    return found


def _together(parts: list[Contribution]) -> Array:
    return np.sqrt(np.sum([part.u95_m3**2 for part in parts], axis=0, dtype=np.float64))


def _propagated(file: TankFile, innage: Array) -> Array | None:
    """U at some levels [m³]: by differences, and by drawing where those do not hold; None if nothing is stated.

    Notes
    -----
    Where the volume has a kink within what the dimensions may be off (a brim, a floor that the liquid just covers),
    differences over one and over two standard uncertainties disagree. There the dimensions are drawn together,
    normal and independent: 128 points of a Sobol sequence, brought to mean 0 and unit covariance, so that whatever
    is straight in them comes out exact; where it bends, U is within some 4 in 100 of what many draws give.
    """
    parts = contributions(file, innage)
    if not parts:
        return None
    total = _together(parts)
    wider = _together(_contributions(file, innage, 2.0))
    bent = np.flatnonzero(np.abs(wider - total) > _STRAIGHT * np.maximum(total, wider))
    if len(bent):
        total[bent] = _drawn(file, innage[bent], [part.tolerance for part in parts])
    return total


def _drawn(file: TankFile, innage: Array, budget: list[Tolerance]) -> Array:
    """U at some levels by drawing the dimensions together [m³]."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", UserWarning)  # a Sobol sequence of a power of two is balanced
        points = scipy.stats.qmc.Sobol(len(budget), seed=_SEED).random(_DRAWS)
    z: Any = scipy.special.ndtri(np.clip(points, 1e-9, 1 - 1e-9))
    z -= z.mean(axis=0)
    z = np.linalg.solve(np.linalg.cholesky(np.atleast_2d(np.cov(z.T, bias=True))), z.T).T
    volumes = []
    for draw in z:
        document: Mapping[str, Any] = file.document
        for tolerance, number in zip(budget, draw, strict=True):
            by = float(number) * (tolerance.half_width or 0.0) / 2
            if not _gone(tolerance, by):
                document = moved(document, tolerance.key, by)
        try:
            volumes.append(volume_of(document, innage))
        except InputError:
            continue  # beyond what can be built
    return np.asarray(2 * np.std(volumes, axis=0)) if len(volumes) > 1 else np.zeros_like(innage)


def _levels(tank: Tank) -> Array:
    """Levels that U is worked out at where a table has many rows [m]: closer towards empty and full."""
    height = tank.inside_height
    even = height * (1 - np.cos(np.linspace(0, np.pi, 321))) / 2
    return np.unique(np.concatenate([even, tank.kinks]))


def volume_uncertainty(file: TankFile, innage: Array, every: bool = True) -> Array | None:
    """Expanded uncertainty (k = 2) of the volume at given innages, from the dimensions' half-widths.

    Parameters
    ----------
    file : TankFile
        The tank.
    innage : ndarray
        Levels [m], shape (rows,).
    every : bool
        Whether it is worked out at each of up to 400 rows; else between the levels that many rows take, which
        costs nothing more for a tank that is on the screen.

    Returns
    -------
    ndarray or None
        U [m³], shape (rows,); None if the file says nothing of any half-width.

    Notes
    -----
    As `contributions`, and drawn where differences do not hold. Beyond 400 rows it is worked out at some 321 levels
    and at the surface's kinks, and drawn straight between them: within 1 in 100 of itself.
    """
    levels = innage if every and len(innage) <= _ALL_ROWS else _levels(file.tank)
    total = _remembered(json.dumps(file.document, sort_keys=True), levels.tobytes())
    if total is None:
        return None
    return total.copy() if levels is innage else np.interp(innage, levels, total)


@once(64)
def _remembered(document: str, innage: bytes) -> Array | None:
    """U of a document at some levels: asked for at every keystroke of a page, and by several of its parts at once."""
    total = _propagated(check_document(json.loads(document)), np.frombuffer(innage))
    if total is not None:
        total.setflags(write=False)
    return total


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
    if tolerance.unit != "mm":
        return tolerance.half_width or 0.0, ""
    strap = "diameter" in tolerance.key or "circumference" in tolerance.key
    method = METHODS[BEST if strap else BEST_WITHOUT_STRAP]
    return method.half_width_mm(tolerance.nominal), method.label.lower()
