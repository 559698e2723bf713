"""The unknown dimension: worked out from the capacity on the data plate and everything else that is known."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy

from ..quantities.errors import InputError
from ..quantities.units import show
from .build import LARGEST_MM, SMALLEST_MM, build_shape
from .kinds import SHAPES
from .measured import METHODS
from .tolerances import tolerances, value_at, with_value


@dataclass(frozen=True)
class Movement:
    """How far the answer moves with one input.

    Parameters
    ----------
    label : str
        The input.
    half_width : float
        Its half-width, in its unit.
    unit : str
        That unit.
    moves_mm : float
        Half the distance between the answers at either end of it [mm]; infinite if there is no answer there.
    """

    label: str
    half_width: float
    unit: str
    moves_mm: float


@dataclass(frozen=True)
class Solution:
    """A dimension found from the capacity.

    Parameters
    ----------
    path : str
        The dimension's key in the shape.
    label : str
        Its name.
    value_mm : float
        The answer [mm].
    half_width_mm : float
        What it may be off by, k = 2 [mm].
    movements : tuple of Movement
        Where that comes from, the largest first.
    """

    path: str
    label: str
    value_mm: float
    half_width_mm: float
    movements: tuple[Movement, ...]


def _placed(
    document: Mapping[str, Any], path: str, value: float, shares: Mapping[str, float] | None = None
) -> dict[str, Any]:
    shape = with_value(document["shape"], path, value)
    for key, share in (shares or {}).items():
        shape = with_value(shape, key, share * value)
    return {**document, "shape": shape}


def _capacity(document: Mapping[str, Any]) -> float:
    shape = build_shape(document["shape"], document.get("slope_mm_per_m", 0.0))
    return shape.capacity


def _find(
    document: Mapping[str, Any], path: str, capacity_m3: float, shares: Mapping[str, float] | None = None
) -> float:
    """Return the dimension [mm] at which the tank holds a capacity [m³]; raise if there is none, or several."""
    grid = np.geomspace(SMALLEST_MM, LARGEST_MM, 241)
    held: list[tuple[float, float]] = []
    for value in grid:
        try:
            held.append((float(value), _capacity(_placed(document, path, float(value), shares))))
        except InputError:
            continue
    if len(held) < 2:
        raise InputError.at(path, "no value of it goes with the other dimensions: check them first")
    volumes = np.array([volume for _, volume in held])
    if np.ptp(volumes) <= 1e-12 * volumes.max():
        raise InputError.at(path, "the capacity does not depend on it: measure it")
    ways = np.sign(np.diff(volumes))
    if np.any(ways[ways != 0] != ways[ways != 0][0]):
        raise InputError.at(path, "more than one value of it gives that capacity: measure it")
    low, high = volumes.min(), volumes.max()
    if not low <= capacity_m3 <= high:
        raise InputError.at(
            path,
            f"no value of it gives {show(capacity_m3, 'volume', 'metric')}: with the other dimensions the tank holds "
            f"{show(low, 'volume', 'metric')} to {show(high, 'volume', 'metric')}; check the capacity and its unit",
        )
    index = int(np.flatnonzero((volumes[:-1] - capacity_m3) * (volumes[1:] - capacity_m3) <= 0)[0])
    return float(
        scipy.optimize.brentq(
            lambda value: _capacity(_placed(document, path, value, shares)) - capacity_m3,
            held[index][0],
            held[index + 1][0],
            xtol=1e-9,
        )
    )


def solve_dimension(
    document: Mapping[str, Any],
    path: str,
    capacity_m3: float,
    capacity_half_width_m3: float,
    shares: Mapping[str, float] | None = None,
) -> Solution:
    """Find the one dimension that was not measured.

    Parameters
    ----------
    document : mapping
        A document, checked but for that one dimension of its shape, which may be missing.
    path : str
        The dimension's key in the shape (``shell_length_mm``, ``left_head.depth_mm``).
    capacity_m3 : float
        Nominal capacity on the data plate [m³].
    capacity_half_width_m3 : float
        What that may be off by [m³].
    shares : mapping of str to float, optional
        Other dimensions of the shape that go with it, as its multiples [1]: a head of 0.25 D.

    Raises
    ------
    InputError
        If the kind has no such dimension, no value of it gives that capacity, or several do.

    Notes
    -----
    Brent's method on the model between the two values of a geometric grid that enclose the answer. How far it
    moves with an input: the answer found anew at either end of the input's half-width; combined as the root of
    the sum of squares.
    """
    kind = SHAPES[document["shape"]["kind"]]
    if not capacity_m3 > 0:
        raise InputError.at("capacity", "must be more than 0")
    value = _find(document, path, capacity_m3, shares)
    whole = _placed(document, path, value, shares)
    movements = []

    def moved_by(label: str, half: float, unit: str, answers: list[float]) -> None:
        reach = abs(answers[0] - answers[1]) / 2 if len(answers) == 2 else float("inf")
        movements.append(Movement(label, half, unit, reach))

    answers = []
    for side in (1, -1):
        try:
            answers.append(_find(document, path, capacity_m3 + side * capacity_half_width_m3, shares))
        except InputError:
            break
    moved_by("Nominal capacity", capacity_half_width_m3 * 1000, "L", answers)
    for tolerance in tolerances(whole):
        nominal = value_at(whole["shape"], tolerance.key)
        if tolerance.key == path or tolerance.key in (shares or {}) or nominal is None or tolerance.unit != "mm":
            continue
        half = tolerance.half_width
        if half is None:
            half = METHODS["data_plate"].half_width_mm(tolerance.nominal)
        answers = []
        for side in (1, -1):
            try:
                shape = with_value(document["shape"], tolerance.key, nominal + side * half)
                answers.append(_find({**document, "shape": shape}, path, capacity_m3, shares))
            except InputError:
                break
        moved_by(tolerance.label, half, "mm", answers)
    movements.sort(key=lambda m: -m.moves_mm)
    label = next((t.label for t in tolerances(whole) if t.key == path), kind.label)
    spread = float(np.sqrt(sum(m.moves_mm**2 for m in movements)))
    return Solution(path, label, value, spread, tuple(movements))
