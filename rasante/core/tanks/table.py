"""The volume table: rows of a tank by innage, with the uncertainty of each, and the smooth curve behind it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..errors import InputError
from .kinds import build_shape
from .sections import Array
from .tank import Tank
from .tank_file import TankFile, dimension_paths, value_at, with_value

MOST_ROWS = 50_000
_RELATIVE_STEP = 1e-5


@dataclass(frozen=True)
class Table:
    """A volume table; every array has one entry a row.

    Parameters
    ----------
    innage_m : ndarray
        Plumb height of liquid [m], from 0 in even steps, the last row at the inside height.
    volume_m3 : ndarray
        Volume of liquid [m³].
    u95_m3 : ndarray or None
        Expanded uncertainty of the volume, k = 2 [m³]; None if the tank states no uncertainty.
    ullage_m : ndarray
        Reference height less innage [m].
    volume_ratio, linear_ratio : ndarray
        Share of the capacity, and what a gauge that is linear in height would show [1].
    """

    innage_m: Array
    volume_m3: Array
    u95_m3: Array | None
    ullage_m: Array
    volume_ratio: Array
    linear_ratio: Array

    def __len__(self) -> int:
        return len(self.innage_m)


def rows_of(tank: Tank, step_m: float) -> Array:
    """Return the innages of a table [m], shape (rows,): even steps from 0, then the inside height.

    Raises
    ------
    InputError
        If the step is not above zero, or so small that the table would pass 50 000 rows.
    """
    height = tank.inside_height
    if not step_m > 0:
        raise InputError.at("step", "must be more than 0")
    if height / step_m > MOST_ROWS:
        raise InputError.at(
            "step",
            f"gives {height / step_m:,.0f} rows; take a step of at least {height / MOST_ROWS * 1000:.2g} mm",
        )
    innage = np.arange(int(np.floor(height / step_m * (1 + 1e-12))) + 1, dtype=np.float64) * step_m
    if height - innage[-1] > 1e-9:
        return np.append(innage, np.float64(height))
    innage[-1] = height
    return innage


def make_table(file: TankFile, step_m: float, uncertainty: bool = True) -> Table:
    """Make the volume table of a tank.

    Parameters
    ----------
    file : TankFile
        The tank.
    step_m : float
        Step of innage [m].
    uncertainty : bool
        Whether to work out U for every row.

    Raises
    ------
    InputError
        As `rows_of`.
    """
    return table_at(file, rows_of(file.tank, step_m), uncertainty)


def table_at(file: TankFile, innage: Array, uncertainty: bool = True) -> Table:
    """Make a table at given innages [m], shape (rows,)."""
    tank = file.tank
    volume = tank.volume(innage)
    u95 = volume_uncertainty(file, innage) if uncertainty else None
    return Table(
        innage,
        volume,
        u95,
        tank.reference_height_m - innage,
        volume / tank.capacity,
        innage / tank.inside_height,
    )


def volume_uncertainty(file: TankFile, innage: Array) -> Array | None:
    """Expanded uncertainty (k = 2) of the volume at given innages, from the dimensions' half-widths.

    Parameters
    ----------
    file : TankFile
        A tank whose file may state half-widths (k = 2) of its dimensions.
    innage : ndarray
        Levels [m], shape (rows,).

    Returns
    -------
    ndarray or None
        U [m³], shape (rows,); None if the file states no half-width of a dimension.

    Notes
    -----
    Sensitivities by central difference through the model, combined as the root of the sum of squares;
    dimensions are taken as independent.

    References
    ----------
    .. [1] JCGM 100:2008, "Guide to the expression of uncertainty in measurement", 5.1.2.
    """
    shape: Mapping[str, Any] = file.document["shape"]
    stated: Mapping[str, float] = file.document.get("uncertainty", {})
    budget = [(path, stated[path]) for path in dimension_paths(shape) if path in stated]
    if not budget:
        return None
    variance = np.zeros_like(innage)
    for path, half_width in budget:
        slope = _sensitivity(file.tank, shape, path, innage)
        variance += (slope * half_width) ** 2
    return np.sqrt(variance)


def _sensitivity(tank: Tank, shape: Mapping[str, Any], path: str, innage: Array) -> Array:
    """Change of the volume with one dimension [m³/mm], shape (rows,)."""
    nominal = float(value_at(shape, path) or 0.0)
    step = max(nominal, 1.0) * _RELATIVE_STEP
    sides = []
    for value in (nominal + step, nominal - step):
        try:
            moved = build_shape(with_value(shape, path, value))
        except InputError:
            continue  # at the edge of what can be built: take the other side alone
        sides.append((value, Tank(moved, tank.reference_height_m, tank.deadwood).volume(innage)))
    if len(sides) == 1:
        sides.append((nominal, tank.volume(innage)))
    (high, upper), (low, lower) = sides
    return np.asarray((upper - lower) / (high - low))


def curve_nodes(tank: Tank, count: int = 513) -> tuple[Array, Array, Array]:
    """Nodes from which cubic Hermite interpolation gives the volume at any level.

    Parameters
    ----------
    tank : Tank
        The tank.
    count : int
        How many nodes, clustered towards empty and full, where the volume bends most.

    Returns
    -------
    innage, volume, surface : ndarray
        [m], [m³] and the volume's slope [m²], each of shape (n,), n ≥ count.

    Notes
    -----
    Between nodes the interpolation differs from the model by less than 1e-6 of the capacity (checked in the
    tests), so a screen may follow the line without asking again.
    """
    height = tank.inside_height
    innage = height * (1 - np.cos(np.linspace(0, np.pi, count))) / 2
    edges = [edge for part in tank.deadwood for edge in (part.from_m, part.to_m)]
    innage = np.unique(np.concatenate([innage, edges]))
    innage = np.append(innage[innage < height - 1e-9], height)
    return innage, tank.volume(innage), tank.surface(innage)
