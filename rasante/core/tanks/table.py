"""The volume table: rows of a tank by innage, with the uncertainty of each, and the smooth curve behind it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .tank import Tank
from .tank_file import TankFile
from .uncertainty import volume_uncertainty

MOST_ROWS = 50_000


@dataclass(frozen=True)
class Table:
    """A volume table; every array has one entry a row.

    Parameters
    ----------
    innage_m : ndarray
        Plumb height of liquid [m], rising in even steps, the last row at the end of the range.
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


def rows_of(tank: Tank, step_m: float, start_m: float = 0.0, end_m: float | None = None) -> Array:
    """Return the innages of a table [m], shape (rows,): even steps from its start, then its end.

    Parameters
    ----------
    tank : Tank
        The tank.
    step_m : float
        Step of innage [m].
    start_m, end_m : float
        The range [m]; the whole inside height if not given.

    Raises
    ------
    InputError
        If the step is not above zero, so small that the table would pass 50 000 rows, or the range is none.
    """
    height = tank.inside_height
    if not step_m > 0:
        raise InputError.at("step", "must be more than 0")
    last = height if end_m is None else min(end_m, height)
    if not 0 <= start_m < last:
        raise InputError.at(
            "from",
            f"the range from {start_m * 1000:g} to {last * 1000:g} mm is empty: there is 0 to {height * 1000:g} mm",
        )
    if (last - start_m) / step_m > MOST_ROWS:
        raise InputError.at(
            "step",
            f"gives {(last - start_m) / step_m:,.0f} rows; take a step of at least "
            f"{(last - start_m) / MOST_ROWS * 1000:.2g} mm",
        )
    count = int(np.floor((last - start_m) / step_m * (1 + 1e-12))) + 1
    innage = start_m + np.arange(count, dtype=np.float64) * step_m
    if last - innage[-1] > 1e-9:
        return np.append(innage, np.float64(last))
    innage[-1] = last
    return innage


def ullage_rows_of(tank: Tank, step_m: float, start_m: float = 0.0, end_m: float | None = None) -> Array:
    """Return the innages of a table by ullage [m], shape (rows,): even steps down from the reference point.

    Parameters
    ----------
    tank, step_m, start_m, end_m
        As `rows_of`; the range is one of innage.

    Raises
    ------
    InputError
        As `rows_of`.
    """
    by_innage = rows_of(tank, step_m, start_m, end_m)
    low, high = (tank.reference_height_m - level for level in (by_innage[-1], by_innage[0]))
    first = int(np.ceil(low / step_m * (1 - 1e-12) - 1e-9))
    ullage = np.arange(first, int(np.floor(high / step_m * (1 + 1e-12) + 1e-9)) + 1, dtype=np.float64) * step_m
    ullage = np.concatenate([[low], ullage[(ullage > low + 1e-9) & (ullage < high - 1e-9)], [high]])
    return np.clip(tank.reference_height_m - ullage, by_innage[0], by_innage[-1])


def make_table(
    file: TankFile,
    step_m: float,
    uncertainty: bool = True,
    start_m: float = 0.0,
    end_m: float | None = None,
    by: str = "innage",
) -> Table:
    """Make the volume table of a tank.

    Parameters
    ----------
    file : TankFile
        The tank.
    step_m : float
        Step of innage or ullage [m].
    uncertainty : bool
        Whether to work out U for every row.
    start_m, end_m : float
        The range of innage [m]; the whole inside height if not given.
    by : {"innage", "ullage"}
        What the rows step by.

    Raises
    ------
    InputError
        As `rows_of`.
    """
    rows = ullage_rows_of if by == "ullage" else rows_of
    return table_at(file, rows(file.tank, step_m, start_m, end_m), uncertainty)


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


@dataclass(frozen=True)
class WorstGauge:
    """Where a gauge that is linear in height is farthest from the truth.

    Parameters
    ----------
    innage_m : float
        The level [m].
    difference : float
        What it shows there less the true share of the capacity [1]: above 0, it reads high.
    """

    innage_m: float
    difference: float


def worst_linear_gauge(table: Table) -> WorstGauge:
    """Find the row at which a linear float gauge is farthest off."""
    gap = table.linear_ratio - table.volume_ratio
    row = int(np.argmax(np.abs(gap)))
    return WorstGauge(float(table.innage_m[row]), float(gap[row]))


def curve_nodes(tank: Tank, count: int = 513) -> tuple[Array, Array, Array]:
    """Nodes from which cubic Hermite interpolation gives the volume at any level.

    Parameters
    ----------
    tank : Tank
        The tank.
    count : int
        How many nodes, clustered towards empty and full and around the surface's kinks, where the volume bends
        most.

    Returns
    -------
    innage, volume, surface : ndarray
        [m], [m³] and the volume's slope [m²], each of shape (n,), n ≥ count. A level at which the surface
        jumps stands twice, with the slope below it and above it.

    Notes
    -----
    Between nodes the interpolation differs from the model by less than 1e-6 of the capacity (checked in the
    tests), so a screen may follow the line without asking again.
    """
    height = tank.inside_height
    edges = np.concatenate([[0.0], [k for k in tank.kinks if height * 1e-9 < k < height * (1 - 1e-9)], [height]])
    parts = []
    for low, high in pairwise(edges):
        nodes = max(12, round(count * (high - low) / height)) if len(edges) > 2 else count
        if len(edges) > 60:
            nodes = max(4, round(count * (high - low) / height))
        part = low + (high - low) * (1 - np.cos(np.linspace(0, np.pi, nodes))) / 2
        part[-1] = high
        parts.append(part)
    innage = np.concatenate(parts)
    # The surface at a part's last node is the one just below it.
    ends = np.cumsum([len(part) for part in parts]) - 1
    asked = innage.copy()
    asked[ends[:-1]] -= height * 1e-10
    return innage, tank.volume(innage), tank.surface(asked)
