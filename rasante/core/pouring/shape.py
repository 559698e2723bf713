"""What was poured against the tank's geometry: the pattern of the difference, and the shape that both tell."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..tanks.build import LARGEST_MM, SMALLEST_MM
from ..tanks.measured import METHODS, OTHER_HALF_WIDTHS
from ..tanks.tank_file import check_document
from ..tanks.tolerances import Tolerance, moved, tolerances
from ..tanks.uncertainty import volume_of

#: A level's zero is told apart from every dimension: it is where the tape or the sensor stands [m].
DATUM = "datum"
#: How far a zero may be off before anything was poured, k = 2 [m]; common practice, no published source.
DATUM_HALF = 0.02
#: How far a dimension that nobody knows may be from what stands there, as a share of it [1].
_UNKNOWN = 10.0
#: A pattern is named where it leaves at most this of the squares of the differences [1].
_NAMED = 0.25
#: How far a thing is moved to see how the volume goes with it, by what it may be off by [1].
_STEP = 0.05
#: How often the dimensions are linearised anew, and how little they move by their own spread when that is enough [1].
_ROUNDS, _SETTLED = 12, 0.02
#: What a difference's largest share of its ± has to be before anything is to be named [1].
_APART = 1.0


@dataclass(frozen=True)
class Pattern:
    """One thing that would explain how pours and geometry differ.

    Parameters
    ----------
    key : str
        ``datum``, ``ratio``, or the key of a dimension.
    label, unit : str
        What it is, and its unit: ``mm``, ``%`` or ``mm/m``.
    value, half : float
        By how much, and what that may be off by, k = 2, in that unit.
    left : float
        Share of the squares of the differences that it leaves [1].
    """

    key: str
    label: str
    unit: str
    value: float
    half: float
    left: float


@dataclass(frozen=True)
class Against:
    """Pours beside a geometry.

    Parameters
    ----------
    difference : ndarray, shape (n,)
        Poured less geometry at each reading [m³].
    worst : float
        The largest by its own ± [1]; at most 1 where they agree.
    agrees : bool
        Whether nothing differs by more than it may.
    patterns : list of Pattern
        What explains the difference, the best first; empty where they agree or nothing does.
    """

    difference: Array
    worst: float
    agrees: bool
    patterns: list[Pattern]


@dataclass(frozen=True)
class Joined:
    """A shape as geometry and pours tell it together.

    Parameters
    ----------
    document : dict
        The tank with its dimensions as they come out.
    moves : list of Pattern
        How far each dimension went from what stood there; `left` is what it may still be off by, by what it might
        before [1].
    datum : float
        How far the readings' zero lies above the inside bottom [m].
    worst : float
        The largest difference that is left, by its own ± [1].
    level, volume, half : ndarray, shape (m,)
        The table of it [m], [m³], and what it may be off by, k = 2 [m³].
    """

    document: dict[str, Any]
    moves: list[Pattern]
    datum: float
    worst: float
    level: Array
    volume: Array
    half: Array


def _half_width(tolerance: Tolerance) -> float:
    """What a dimension may be off by, in its unit; by the roughest way of measuring where nobody said."""
    if tolerance.half_width is not None:
        return tolerance.half_width
    return OTHER_HALF_WIDTHS.get(tolerance.key, METHODS["data_plate"].half_width_mm(tolerance.nominal))


def against_shape(document: Mapping[str, Any], level: Array, volume: Array, half: Array) -> Against:
    """Set pours against the geometry of the tank, and name the pattern of the difference.

    Parameters
    ----------
    document : mapping
        A checked tank document that is no table of points.
    level, volume, half : ndarray, shape (n,)
        Readings [m], volumes [m³], and what they may be off by, k = 2 [m³].

    Notes
    -----
    Each of the zero, the ratio of volumes and every dimension alone is fitted by weighted least squares (Gauss–Newton
    along its slope); its ± comes from that slope, with what is left as the measure where it is more than the weights
    say.
    """
    difference = volume - volume_of(document, level)
    weight = 2.0 / np.maximum(half, 1e-12)
    worst = float(np.abs(difference * weight / 2).max())
    if worst <= _APART or len(level) < 3:
        return Against(difference, worst, worst <= _APART, [])
    total = float(np.sum((difference * weight) ** 2))
    found = []
    for key, label, unit, scale in _things(document):
        slope = (_with(document, key, _STEP * scale, level) - _with(document, key, -_STEP * scale, level)) / (
            2 * _STEP
        )
        slope = slope * weight
        curvature = float(slope @ slope)
        # What does not explain half of it by its slope alone does not explain it: nothing more is reckoned of it.
        if curvature <= 0 or 1 - float(slope @ (difference * weight)) ** 2 / (curvature * total) > 2 * _NAMED:
            continue
        x, squares = 0.0, total
        try:
            for _ in range(4):
                left = (volume - _with(document, key, x * scale, level)) * weight
                squares = float(left @ left)
                x += float(slope @ left) / curvature
        except InputError:
            continue
        if squares > _NAMED * total:
            continue
        spread = max(squares / max(len(level) - 1, 1), 1.0)
        value, off = x * scale, 2 * float(np.sqrt(spread / curvature)) * scale
        shown = 1000.0 if key == DATUM else 100.0 if key == "ratio" else 1.0
        found.append(Pattern(key, label, unit, value * shown, off * shown, squares / total))
    return Against(difference, worst, False, sorted(found, key=lambda one: one.left))


def _constant(slopes: Array, x: Array) -> Array:
    """The same Jacobian everywhere: within a round nothing is linearised anew."""
    return slopes


def _things(document: Mapping[str, Any]) -> list[tuple[str, str, str, float]]:
    """What may explain a difference: key, label, unit, and the scale on which it is looked for."""
    found = [(DATUM, "Zero of the readings", "mm", 0.01), ("ratio", "Meter, or all of the volume", "%", 0.01)]
    if document["shape"]["kind"] == "points":
        return found
    for tolerance in tolerances(document):
        if tolerance.unit in ("mm", "mm/m") and tolerance.key != "gauge_position_mm":
            found.append((tolerance.key, tolerance.label, tolerance.unit, max(_half_width(tolerance), 1e-6)))
    return found


def _with(document: Mapping[str, Any], key: str, by: float, level: Array) -> Array:
    if key == DATUM:
        return volume_of(document, level + by)
    if key == "ratio":
        return volume_of(document, level) * (1 + by)
    return volume_of(moved(document, key, by), level)


def join_shape(
    document: Mapping[str, Any],
    level: Array,
    volume: Array,
    random: Array,
    common: Array,
    unknown: Sequence[str] = (),
    datum_half: float = DATUM_HALF,
) -> Joined:
    """Put geometry and pours together: the dimensions that both make likeliest, and the table of them.

    Parameters
    ----------
    document : mapping
        A checked tank document that is no table of points; an unknown dimension stands there as a guess.
    level, volume : ndarray, shape (n,)
        Readings [m] and volumes [m³].
    random, common : ndarray, shape (n,)
        What each may be off by for itself and together, k = 2 [m³].
    unknown : sequence of str
        Keys of dimensions that nobody has measured.
    datum_half : float
        How far the readings' zero may lie from the inside bottom, k = 2 [m].

    Raises
    ------
    InputError
        If no shape near these dimensions holds what was poured.

    Notes
    -----
    Gauss–Newton (`scipy.optimize.least_squares`) on the pours by their ± and on every dimension, and the readings'
    zero, by what it may be off from what stands there; what all pours are off by together is one more unknown. The
    covariance (JᵀJ)⁻¹ gives each dimension's ± and, by the same Jacobian, the table's.

    References
    ----------
    .. [1] C. D. Rodgers, "Inverse Methods for Atmospheric Sounding" (2000), 5.3: prior and evidence joined.
    """
    known = [one for one in tolerances(document) if one.unit in ("mm", "mm/m") and one.key != "gauge_position_mm"]
    wanted = [one.key for one in known]
    lacking = [key for key in unknown if key not in wanted]
    if lacking:
        raise InputError.at(lacking[0], "is no dimension of this tank")
    scale = np.array(
        [_UNKNOWN * one.nominal / 2 if one.key in unknown else max(_half_width(one), 1e-6) / 2 for one in known]
        + [max(datum_half, 1e-9) / 2, 1.0]
    )
    sigma, together = np.maximum(random, 1e-9) / 2, common / 2

    def table(x: Array, at: Array) -> Array:
        whole: Mapping[str, Any] = document
        for one, by in zip(known, x[:-2] * scale[:-2], strict=True):
            least = SMALLEST_MM - one.nominal if one.unit == "mm" else -np.inf
            whole = moved(whole, one.key, float(np.clip(by, least, LARGEST_MM - one.nominal)))
        return volume_of(whole, at + x[-2] * scale[-2])

    def left(x: Array) -> Array:
        return np.concatenate([(volume - table(x, level) - x[-1] * together) / sigma, x])

    def slopes_at(x: Array, at: Array) -> Array:
        base, columns = table(x, at), []
        for one in range(len(scale) - 1):
            step = np.zeros(len(scale))
            step[one] = _STEP * min(
                1.0, 0.02 * max(known[one].nominal, 1.0) / scale[one] if one < len(known) else 1.0
            )
            columns.append((table(x + step, at) - base) / step[one])
        return np.array([*columns, np.zeros(len(at))]).T

    x = np.zeros(len(scale))
    try:
        for _ in range(_ROUNDS):
            own = slopes_at(x, level)
            own[:, -1] = together
            slopes = np.vstack([-own / sigma[:, None], np.eye(len(scale))])
            covariance = np.linalg.inv(slopes.T @ slopes)
            fit = scipy.optimize.least_squares(left, x, jac=partial(_constant, slopes), max_nfev=8)
            moves_by, x = np.abs(fit.x - x), fit.x
            if np.all(moves_by <= _SETTLED * np.sqrt(np.diag(covariance))):
                break
    except InputError as error:
        raise InputError.at("shape", f"no shape near these dimensions holds this: {error.problems[0].what}") from None
    values, spreads = x * scale, 2 * np.sqrt(np.diag(covariance)) * scale
    moves = [
        Pattern(one.key, one.label, one.unit, float(value), float(spread), float(spread / (2 * own)))
        for one, value, spread, own in zip(known, values, spreads, scale, strict=False)
    ]
    whole: Mapping[str, Any] = document
    for one, by in zip(known, values, strict=False):
        # To a thousandth of its unit: no tape carries more.
        whole = moved(whole, one.key, round(float(by), 3))
    tank = check_document(whole).tank
    rows = np.linspace(0.0, tank.inside_height, 41)
    base = np.asarray(tank.volume(rows))
    jacobian = slopes_at(x, rows - values[-2])
    half = 2 * np.sqrt(np.maximum(np.einsum("ij,jk,ik->i", jacobian, covariance, jacobian), 0.0))
    apart = np.abs(left(x)[: len(level)]) / 2
    return Joined(dict(whole), moves, float(values[-2]), float(apart.max()), rows, base, half)
