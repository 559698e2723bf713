"""The inside of a tank at a spot of its plan: where floor and roof are, and how far the walls.

In the tank's own frame: x along from the left tangent line or wall (from the left edge of an upright tank), y
across from the middle, z up from the lowest inside point of the section.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .heads import Head
from .lying import Lying
from .meridian import radius_at
from .sections import Ellipse, RoundedBox, Section
from .shapes import Shape
from .upright import Courses, Sphere, VerticalCylinder


@dataclass(frozen=True)
class Plan:
    """A tank seen from above.

    Parameters
    ----------
    outline : ndarray
        Closed polygon (x, y) of its widest reach [m], shape (n, 2).
    low, high : (float, float)
        Least and greatest x and y [m].
    """

    outline: Array
    low: tuple[float, float]
    high: tuple[float, float]

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of the plan [m]."""
        return (self.low[0] + self.high[0]) / 2, (self.low[1] + self.high[1]) / 2


def _section_bounds(section: Section, y: Array) -> tuple[Array, Array]:
    """Lowest and highest z [m] of a section at y [m] across; NaN beside it."""
    if isinstance(section, Ellipse):
        half = section.height_m / 2
        with np.errstate(invalid="ignore"):
            rise = half * np.sqrt(1 - (2 * y / section.width_m) ** 2)
        return half - rise, half + rise
    if isinstance(section, RoundedBox):
        corner, half = section.corner_radius_m, section.width_m / 2
        into = np.clip(np.abs(y) - (half - corner), 0, None)
        with np.errstate(invalid="ignore"):
            rise = corner - np.sqrt(corner**2 - into**2)
        rise = np.where(np.abs(y) <= half, rise, np.nan)
        return rise, section.height - rise
    outline = section.outline()
    ends = np.roll(outline, -1, axis=0)
    low, high = np.full(y.shape, np.nan), np.full(y.shape, np.nan)
    for (y0, z0), (y1, z1) in zip(outline, ends, strict=True):
        here = (y >= min(y0, y1) - 1e-12) & (y <= max(y0, y1) + 1e-12)
        if y0 == y1:
            bounds = (min(z0, z1), max(z0, z1))
            low = np.where(here, np.fmin(low, bounds[0]), low)
            high = np.where(here, np.fmax(high, bounds[1]), high)
            continue
        z = z0 + (y - y0) * (z1 - z0) / (y1 - y0)
        low, high = np.where(here, np.fmin(low, z), low), np.where(here, np.fmax(high, z), high)
    return low, high


def _lying_bounds(shape: Lying, x: Array, y: Array) -> tuple[Array, Array]:
    low, high = _section_bounds(shape.section, y)
    half = shape.section.height / 2
    for head, beyond in ((shape.left, -x), (shape.right, x - shape.shell_length_m)):
        radius = radius_at(head.pieces(half), np.maximum(beyond, 0.0)) if head.depth(half) > 0 else np.zeros_like(x)
        with np.errstate(invalid="ignore"):
            rise = np.sqrt(radius**2 - y**2)
        outside = beyond > 1e-12
        inside_head = outside & (beyond <= head.depth(half)) & (np.abs(y) <= radius)
        low = np.where(outside, np.where(inside_head, half - rise, np.nan), low)
        high = np.where(outside, np.where(inside_head, half + rise, np.nan), high)
    return low, high


def _upright_bounds(shape: VerticalCylinder | Courses | Sphere, x: Array, y: Array) -> tuple[Array, Array]:
    """From the outline: a body of revolution is cut by a plumb line where its meridian has that radius."""
    middle = shape.length / 2
    out = np.hypot(x - middle, y)
    if isinstance(shape, Sphere):
        with np.errstate(invalid="ignore"):
            rise = np.sqrt(middle**2 - out**2)
        return middle - rise, middle + rise
    radius = shape.floor_radius
    bottom = shape.bottom
    low = _end_height(bottom, radius, out)
    low = (0.0 if bottom.inward else bottom.depth(radius)) + (low if bottom.inward else -low)
    if isinstance(shape, VerticalCylinder):
        rise = _end_height(shape.top, radius, out)
        tangent = shape.inside_height - (0.0 if shape.top.inward else shape.top.depth(radius))
        high = tangent + (-rise if shape.top.inward else rise)
        return np.where(out <= radius, low, np.nan), np.where(out <= radius, high, np.nan)
    # Courses: as high as the highest course that is so wide; the floor as far as the lowest one.
    levels = np.cumsum([course.height_m for course in shape.courses])
    start = shape.inside_height - levels[-1]
    high = np.full(out.shape, np.nan)
    for course, top in zip(shape.courses, levels, strict=True):
        high = np.where(out <= course.radius_m, start + top, high)
    return np.where(out <= radius, low, np.nan), high


def _end_height(head: Head, radius: float, out: Array) -> Array:
    """How far a head reaches from its tangent line at a distance from the axis [m]."""
    depth = head.depth(radius)
    if depth == 0:
        return np.zeros_like(out)
    s = (
        np.linspace(0, depth, 2001)
        if head.kind.startswith("conical")
        else depth * np.sin(np.linspace(0, np.pi / 2, 2001))
    )
    r = radius_at(head.pieces(radius), s)
    return np.interp(out, r[::-1], s[::-1])


def bounds(shape: Shape, x: npt.ArrayLike, y: npt.ArrayLike) -> tuple[Array, Array]:
    """Height of floor and roof at spots of the plan.

    Parameters
    ----------
    shape : Shape
        The tank's inside.
    x, y : array_like
        Spots in the tank's own frame [m], broadcast together.

    Returns
    -------
    floor, roof : ndarray
        Heights [m] above the lowest inside point, across the tank's own axis; NaN beside the tank.

    Raises
    ------
    InputError
        For a shape that is only known as points.

    Notes
    -----
    Curved ends of upright tanks are read off 2,001 points of their meridian, within 0.1 mm for tanks up to 20 m.
    """
    x, y = np.broadcast_arrays(np.asarray(x, dtype=float), np.asarray(y, dtype=float))
    if isinstance(shape, Lying):
        return _lying_bounds(shape, x, y)
    if isinstance(shape, VerticalCylinder | Courses | Sphere):
        return _upright_bounds(shape, x, y)
    raise InputError.at("shape", "only a table of points is known of this tank: its inside cannot be drawn")


def plan_of(shape: Shape) -> Plan:
    """See a tank from above.

    Raises
    ------
    InputError
        For a shape that is only known as points.
    """
    if isinstance(shape, Lying):
        half = shape.section.height / 2
        across = shape.section.outline()[:, 0]
        left, right = float(across.min()), float(across.max())
        if isinstance(shape.section, Ellipse) and (shape.left.depth(half) > 0 or shape.right.depth(half) > 0):
            head_left = shape.left.outline(half) * [-1, 1]
            head_right = shape.right.outline(half) + [shape.shell_length_m, 0]
            outline = np.concatenate([head_right, head_left[::-1]])
        else:
            length = shape.shell_length_m
            outline = np.array([[0.0, left], [length, left], [length, right], [0.0, right]])
    elif isinstance(shape, VerticalCylinder | Courses | Sphere):
        angle = np.linspace(0, 2 * np.pi, 97)[:-1]
        radius = shape.length / 2
        outline = np.column_stack([radius + radius * np.cos(angle), radius * np.sin(angle)])
    else:
        raise InputError.at("shape", "only a table of points is known of this tank: its plan cannot be drawn")
    low, high = outline.min(axis=0), outline.max(axis=0)
    return Plan(outline, (float(low[0]), float(low[1])), (float(high[0]), float(high[1])))


def inside(shape: Shape, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike) -> npt.NDArray[np.bool_]:
    """Tell which points of the tank's own frame [m] lie inside it."""
    floor, roof = bounds(shape, x, y)
    height = np.asarray(z, dtype=float)
    with np.errstate(invalid="ignore"):
        return np.asarray((height >= floor - 1e-9) & (height <= roof + 1e-9))


@lru_cache(maxsize=256)
def beam_meets_wall(shape: Shape, x: float, y: float, face: float, half_angle: float) -> float | None:
    """How far below its face a cone of a beam first touches the wall.

    Parameters
    ----------
    shape : Shape
        The tank's inside.
    x, y, face : float
        The face, in the tank's own frame [m]; it may be above the roof, in its nozzle.
    half_angle : float
        Half of the beam's angle [rad].

    Returns
    -------
    float or None
        Distance from the face down [m]; None if the beam reaches the floor below it clear of the wall.

    Notes
    -----
    Rays on the cone's edge at every other degree, stepped down by 1/200 of the height from the roof below the face
    until one is outside, and then halved in between with rays at every half degree. The lowest tenth of the height is
    the floor, which is no wall: a round bottom comes in on the beam there, and there the echo is the bottom's.
    Remembered: a page asks again at every keystroke, for the same spot.
    """
    floor, roof = bounds(shape, x, y)
    low, high = float(floor), float(roof)
    if not np.isfinite(low):
        return 0.0

    def outside(z: Array, rays: int) -> npt.NDArray[np.bool_]:
        spread = (face - z) * np.tan(half_angle)
        angle = np.arange(rays) * 2 * np.pi / rays
        px, py = x + np.outer(spread, np.cos(angle)), y + np.outer(spread, np.sin(angle))
        return np.asarray(~inside(shape, px, py, np.broadcast_to(z[:, None], px.shape)).all(axis=1))

    z = np.linspace(min(face, high), low + (high - low) * 0.1, 200)
    # In the first steps below the roof a curved shell is hardly wider than the nozzle.
    below = z < high - 0.02 * (high - low)
    first = np.flatnonzero(outside(z, 180) & below)
    if not first.size:
        return float(face - z[-1]) if outside(z[-1:], 720)[0] else None
    under = float(z[first[0]])
    above = float(z[first[0] - 1]) if first[0] and below[first[0] - 1] else under
    while above - under > 1e-5:
        middle = (above + under) / 2
        above, under = (above, middle) if outside(np.array([middle]), 720)[0] else (middle, under)
    return float(face - under)
