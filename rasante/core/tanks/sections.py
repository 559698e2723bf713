"""Areas of the plane sections that tanks are made of, wetted to a depth."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


def circle_area(radius: npt.ArrayLike, depth: npt.ArrayLike) -> Array:
    """Area of a circle wetted from its lowest point to `depth`.

    Parameters
    ----------
    radius : array_like
        Radius of the circle [m].
    depth : array_like
        Depth above the circle's lowest point [m]; clipped to [0, 2 radius].

    Returns
    -------
    ndarray
        Wetted area [m²], of the broadcast shape.

    Notes
    -----
    A = R² (φ − sin φ) / 2 with φ = 4 asin √(h / 2R); for small φ the difference is summed as a series, so that
    the relative error stays near 1e-14 down to an empty tank.
    """
    r = np.asarray(radius, dtype=float)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(r > 0, np.clip(np.asarray(depth, dtype=float) / (2 * r), 0, 1), 0.0)
    phi = 4 * np.arcsin(np.sqrt(share))
    square = phi * phi
    series = phi * square / 6 * (1 - square / 20 * (1 - square / 42 * (1 - square / 72 * (1 - square / 110))))
    return np.asarray(r * r / 2 * np.where(phi < 0.3, series, phi - np.sin(phi)))


def circle_chord(radius: npt.ArrayLike, depth: npt.ArrayLike) -> Array:
    """Width of a circle [m] at `depth` [m] above its lowest point; zero outside it."""
    r, h = np.asarray(radius, dtype=float), np.asarray(depth, dtype=float)
    return np.asarray(2 * np.sqrt(np.maximum(h * (2 * r - h), 0)))


def rounded_box_area(width: float, height: float, corner: float, depth: npt.ArrayLike) -> Array:
    """Area of a rectangle with rounded corners wetted to `depth`.

    Parameters
    ----------
    width, height : float
        Sides of the rectangle [m].
    corner : float
        Radius of all four corners [m], at most half the shorter side.
    depth : array_like
        Depth above the bottom side [m]; clipped to [0, height].

    Returns
    -------
    ndarray
        Wetted area [m²].
    """
    h = np.clip(np.asarray(depth, dtype=float), 0, height)
    area = (width - 2 * corner) * h
    if corner > 0:
        straight = height - 2 * corner
        low = circle_area(corner, np.minimum(h, corner))
        top = circle_area(corner, np.maximum(h - straight, corner)) - circle_area(corner, corner)
        area = area + low + 2 * corner * np.clip(h - corner, 0, straight) + top
    return np.asarray(area)


def rounded_box_chord(width: float, height: float, corner: float, depth: npt.ArrayLike) -> Array:
    """Width of a rectangle with rounded corners [m] at `depth` [m]; arguments as in `rounded_box_area`."""
    h = np.clip(np.asarray(depth, dtype=float), 0, height)
    if corner == 0:
        return np.full_like(h, width)
    from_edge = np.minimum(np.minimum(h, height - h), corner)
    return np.asarray(width - 2 * corner + circle_chord(corner, from_edge))
