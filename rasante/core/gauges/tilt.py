"""Where on a tilting tank a level sensor errs least: the map of volume errors over the tank's plan."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product
from math import radians, tan

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..quantities.form import Form
from ..tanks.inside import Plan, bounds, plan_of
from ..tanks.lying import Lying
from ..tanks.tank import Tank
from ..tanks.tilted import Attitude, attitude, surface_height

#: Spots of the map: along and across.
SPOTS = (41, 21)
STEEPEST_DEG = 30.0


@dataclass(frozen=True)
class TiltMap:
    """The errors of a level sensor over a tank's plan, read through the table of the tank at rest.

    Parameters
    ----------
    x_m, y_m : ndarray
        Spots along and across, the middles of alike fields [m], shapes (nx,) and (ny,).
    worst_m3 : ndarray
        Largest error over all tilts and fills, with its sign [m³], shape (ny, nx); NaN beside the tank.
    best : (float, float)
        The spot with the least of them [m].
    best_m3 : float
        The error there [m³].
    middle_m3 : float
        The error in the middle of the plan [m³].
    along_m3, across_m3 : float
        Size of the largest error a quarter of the length from the middle while it only pitches, and a quarter of
        the width from the middle while it only rolls [m³].
    along_off_m, across_off_m : float
        These quarters [m].
    """

    x_m: Array
    y_m: Array
    worst_m3: Array
    best: tuple[float, float]
    best_m3: float
    middle_m3: float
    along_m3: float
    across_m3: float
    along_off_m: float
    across_off_m: float


def _slope(tank: Tank) -> float:
    return tank.shape.slope if isinstance(tank.shape, Lying) else 0.0


def _check(pitch_deg: float, roll_deg: float, fills: tuple[float, ...]) -> None:
    for key, value in (("pitch", pitch_deg), ("roll", roll_deg)):
        if not 0 <= value <= STEEPEST_DEG:
            raise InputError.at(key, f"{value:g}° is outside 0 to {STEEPEST_DEG:g}°: type the most that it tilts")
    if not fills or any(not 0 < fill < 1 for fill in fills):
        raise InputError.at("fills", "must be shares of the capacity between 0 and 100 %")


@dataclass(frozen=True)
class Surface:
    """The liquid's surface in a tank that is tilted: z = level − along·x − across·y, in its own frame [m]."""

    tank: Tank
    level: float
    along: float
    across: float
    volume_m3: float

    def error(self, x: Array, y: Array, rest: Attitude) -> Array:
        """Volume that sensors at spots [m] show through the table of the tank at `rest`, less the true one [m³].

        Notes
        -----
        Every spot reads the surface's height there, held between floor and roof, and shows the volume that this
        height stands for at rest. Heel, sump and deadwood add the same to both. NaN beside the tank.
        """
        floor, roof = bounds(self.tank.shape, x, y)
        seen = np.clip(self.level - self.along * x - self.across * y, floor, roof)
        shown = rest.volume(np.where(np.isfinite(seen), seen, 0.0) + _slope(self.tank) * x)
        return np.asarray(np.where(np.isfinite(floor), shown - self.volume_m3, np.nan))


def surface_at(tank: Tank, pitch_deg: float, roll_deg: float, fill: float) -> Surface:
    """Find the surface at which a tilted tank holds a share of its shell.

    Parameters
    ----------
    tank : Tank
        A tank of any shape but a table of points.
    pitch_deg, roll_deg : float
        The tilt from the tank's rest [°]: the right end up, the far side up.
    fill : float
        Share of the shell that is filled [1].

    Notes
    -----
    The angles of the installed slope and of the pitch add.
    """
    along = tan(np.arctan(_slope(tank)) + radians(pitch_deg))
    across = tan(radians(roll_deg))
    volume = fill * tank.shape.capacity
    return Surface(tank, surface_height(tank.shape, along, across, volume), along, across, volume)


def _axes(plan: Plan, spots: tuple[int, int]) -> list[tuple[float, float, int]]:
    return [(plan.low[axis], plan.high[axis], spots[axis]) for axis in (0, 1)]


def tilt_map(
    tank: Tank,
    pitch_deg: float,
    roll_deg: float,
    fills: tuple[float, ...] = (0.25, 0.5, 0.75),
    spots: tuple[int, int] = SPOTS,
) -> TiltMap:
    """Map the error of a level sensor over a tank's plan.

    Parameters
    ----------
    tank : Tank
        A tank of any shape but a table of points.
    pitch_deg, roll_deg : float
        How far it pitches and rolls either way from rest [°].
    fills : tuple of float
        Shares of the shell at which it is looked at [1].
    spots : (int, int)
        How many spots along and across.

    Raises
    ------
    InputError
        If the ranges are outside 0–30°, the fills outside 0–100 %, or nothing but points is known of the tank.

    Notes
    -----
    Looked at in the eight attitudes at the ends of the ranges. The best spot is the one with the least largest
    error; among those alike to 1e-6 of the capacity the one nearest to the middle.
    """
    _check(pitch_deg, roll_deg, fills)
    plan = plan_of(tank.shape)
    # The middles of alike fields: at the very edge a round tank has no depth, and its sensor nothing to read.
    x, y = (low + (high - low) * (np.arange(count) + 0.5) / count for low, high, count in _axes(plan, spots))
    grid_x, grid_y = np.meshgrid(x, y)
    rest = attitude(tank.shape, _slope(tank), 0.0)
    worst = np.where(np.isfinite(bounds(tank.shape, grid_x, grid_y)[0]), 0.0, np.nan)
    tilts = dict.fromkeys(product((-pitch_deg, 0.0, pitch_deg), (-roll_deg, 0.0, roll_deg)))
    surfaces = {(tilt, fill): surface_at(tank, tilt[0], tilt[1], fill) for tilt, fill in product(tilts, fills)}
    for surface in surfaces.values():
        error = surface.error(grid_x, grid_y, rest)
        worst = np.where(np.abs(error) > np.abs(worst), error, worst)
    size = np.abs(worst)
    away = np.hypot(grid_x - plan.middle[0], grid_y - plan.middle[1])
    near = size <= np.nanmin(size) + 1e-6 * tank.shape.capacity
    row, column = np.unravel_index(np.argmin(np.where(near, away, np.inf)), size.shape)
    quarter = (plan.high[0] - plan.low[0]) / 4, (plan.high[1] - plan.low[1]) / 4

    mid_x, mid_y = plan.middle

    def largest(off_x: float, off_y: float, which: int) -> float:
        x, y = np.array([mid_x - off_x, mid_x + off_x]), np.array([mid_y - off_y, mid_y + off_y])
        alone = [surface for (tilt, _), surface in surfaces.items() if tilt[1 - which] == 0]
        return float(np.nanmax(np.abs([surface.error(x, y, rest) for surface in alone])))

    middle = np.array([mid_x]), np.array([mid_y])
    in_middle = [float(surface.error(middle[0], middle[1], rest)[0]) for surface in surfaces.values()]
    return TiltMap(
        x,
        y,
        worst,
        (float(x[column]), float(y[row])),
        float(worst[row, column]),
        max(in_middle, key=abs),
        largest(quarter[0], 0.0, 0),
        largest(0.0, quarter[1], 1),
        *quarter,
    )


#: What a vehicle's tank is taken to do where nobody typed it: common practice, no published source.
_MOST_FILLS = 6
USUAL_PITCH_DEG, USUAL_ROLL_DEG, USUAL_FILLS = 5.0, 3.0, (0.25, 0.5, 0.75)


def read_tilt(form: Form) -> tuple[float, float, tuple[float, ...]]:
    """Read how far a tank tilts, and at which fills that is looked at.

    Parameters
    ----------
    form : Form
        ``tilt.pitch``, ``tilt.roll`` (either way from rest) and ``tilt.fill`` (one fill or several, parted by
        semicolons; empty: a quarter, half and three quarters).

    Returns
    -------
    (float, float, tuple of float)
        Pitch and roll [°], fills [1].
    """
    pitch = form.quantity("tilt.pitch", "angle", 0.0, STEEPEST_DEG, usual=USUAL_PITCH_DEG)
    roll = form.quantity("tilt.roll", "angle", 0.0, STEEPEST_DEG, usual=USUAL_ROLL_DEG)
    fills = _fills(form) or USUAL_FILLS
    form.stand_in("tilt.fill", "; ".join(f"{fill * 100:g}" for fill in USUAL_FILLS) + " %")
    return pitch, roll, fills


def _fills(form: Form) -> tuple[float, ...]:
    """Read one fill or several [1]; what is wrong of any of them stands at the field."""
    typed = [part.strip() for part in form.text("tilt.fill").split(";") if part.strip()]
    read = Form({f"fill[{i}]": part for i, part in enumerate(typed[:_MOST_FILLS])}, form.system)
    found = [read.quantity(f"fill[{i}]", "ratio", 0.01, 0.99) for i in range(len(typed[:_MOST_FILLS]))]
    if read.problems:
        form.blame("tilt.fill", read.problems[0].what)
    elif len(typed) > _MOST_FILLS:
        form.blame("tilt.fill", f"at most {_MOST_FILLS} fills are looked at at once")
    return tuple(fill for fill in found if fill is not None)
