"""Heads as surfaces of revolution: the pieces of their meridian, and what a level surface cuts off them.

A meridian runs from the shell to the head's apex. A piece gives the distance s from the tangent line and the
radius r around the axis as functions of one parameter t.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ..quantities.arrays import Array

_gauss_x, _gauss_w = np.polynomial.legendre.leggauss(16)
_SHARE, _WEIGHT = (_gauss_x + 1) / 2, _gauss_w / 2

Measure = Callable[[Array, Array], Array]


class Piece(Protocol):
    """One smooth piece of a meridian."""

    @property
    def ends(self) -> tuple[float, float]:
        """Parameter at the shell's side and at the apex's side."""

    def at(self, t: Array) -> tuple[Array, Array, Array]:
        """Distance from the tangent line [m], radius [m], and the distance's slope [m] at t."""

    def meets(self, offset: Array, slope: float, side: float) -> Array:
        """Parameters, within the ends or beyond, at which offset + slope × s = side × r; shape (rows, 1 or 2)."""

    def before(self, distance: Array) -> Array:
        """Parameter at a distance from the tangent line [m], held within the ends."""


@dataclass(frozen=True)
class Arc:
    """s = s₀ + a sin t, r = r₀ + c cos t: an ellipse's quarter, a knuckle, a dish."""

    s0: float
    a: float
    r0: float
    c: float
    ends: tuple[float, float]

    def at(self, t: Array) -> tuple[Array, Array, Array]:
        """Distance, radius and the distance's slope [m] at t."""
        return self.s0 + self.a * np.sin(t), self.r0 + self.c * np.cos(t), self.a * np.cos(t)

    def meets(self, offset: Array, slope: float, side: float) -> Array:
        """Parameters at which the liquid's surface meets the outline; where it only comes near, the nearest."""
        level = offset - side * self.r0 + slope * self.s0
        across, along = side * self.c, slope * self.a
        size, lag = np.hypot(across, along), np.arctan2(along, across)
        reach = np.arccos(np.clip(level / size, -1, 1))
        middle = sum(self.ends) / 2
        found = np.stack([-lag - reach, -lag + reach], axis=1)
        return np.asarray((found - middle + np.pi) % (2 * np.pi) - np.pi + middle)

    def before(self, distance: Array) -> Array:
        """Parameter at a distance from the tangent line [m], held within the ends."""
        left = np.clip((self.s0 + self.a - distance) / self.a, 0, 2)
        return np.clip(np.pi / 2 - 2 * np.arcsin(np.sqrt(left / 2)), *self.ends)


@dataclass(frozen=True)
class Ray:
    """s = depth × t, r = radius × (1 − t): a cone."""

    depth: float
    radius: float
    ends: tuple[float, float] = (0.0, 1.0)

    def at(self, t: Array) -> tuple[Array, Array, Array]:
        """Distance, radius and the distance's slope [m] at t."""
        return self.depth * t, self.radius * (1 - t), np.full_like(t, self.depth)

    def meets(self, offset: Array, slope: float, side: float) -> Array:
        """Parameter at which the liquid's surface meets the outline."""
        fall = slope * self.depth + side * self.radius
        if abs(fall) < 1e-12 * self.radius:
            return np.full((len(offset), 1), self.ends[0])
        return np.asarray(((side * self.radius - offset) / fall)[:, None])

    def before(self, distance: Array) -> Array:
        """Parameter at a distance from the tangent line [m], held within the ends."""
        return np.clip(distance / self.depth, *self.ends)


def segment(radius: Array, offset: Array) -> Array:
    """Area of a circle [m²] beyond a chord at a signed distance from its centre [m].

    The plain formula, faster than `sections.circle_area` and off by at most some 1e-16 of the circle, which a
    head's volume does not notice.
    """
    chord = np.sqrt(np.maximum((radius - offset) * (radius + offset), 0.0))
    return np.asarray(np.maximum(radius * radius * np.arctan2(chord, offset) - offset * chord, 0.0))


def chord(radius: Array, offset: Array) -> Array:
    """Width of a circle [m] at a signed distance from its centre [m]; zero outside it."""
    return np.asarray(2 * np.sqrt(np.maximum((radius - offset) * (radius + offset), 0.0)))


def cut(pieces: tuple[Piece, ...], offset: Array, slope: float, measure: Measure = segment) -> Array:
    """Integrate over a head what lies below a plane that is tilted along the axis.

    Parameters
    ----------
    pieces : tuple of Piece
        The head's meridian.
    offset : ndarray
        Distance of the plane below the axis at the tangent line, negative above it [m], shape (rows,).
    slope : float
        By how much that distance grows for each metre away from the tangent line [1].
    measure : callable
        What to integrate at each station, of the radius and the plane's distance: `segment` or `chord`.

    Returns
    -------
    ndarray
        [m³] (or [m²] for chords), shape (rows,).

    Notes
    -----
    Between the stations at which the plane meets the outline the integrand is smooth but for square roots at
    those stations, inside the head or beyond it; a cosine centred on them takes the roots out, and 16
    Gauss–Legendre nodes then give about 1e-12 of the head.
    """
    total = np.zeros(len(offset))
    for piece in pieces:
        low_end, high_end = piece.ends
        if high_end - low_end <= 0:
            continue
        roots = np.concatenate([piece.meets(offset, slope, side) for side in (1.0, -1.0)], axis=1)
        edges = np.sort(
            np.concatenate(
                [
                    np.clip(roots, low_end, high_end),
                    np.broadcast_to(np.array([low_end, high_end]), (len(offset), 2)),
                ],
                axis=1,
            ),
            axis=1,
        )
        low, high = edges[:, :-1], edges[:, 1:]
        s, r, _ = piece.at((low + high) / 2)
        row, column = np.nonzero((high - low > 1e-11) & (offset[:, None] + slope * s < r))
        if not len(row):
            continue
        low, high, near = low[row, column], high[row, column], roots[row]
        # The roots that enclose the stretch; the stretch's own ends where there is none.
        left = np.max(np.where(near <= low[:, None] + 1e-12, near, -np.inf), axis=1)
        right = np.min(np.where(near >= high[:, None] - 1e-12, near, np.inf), axis=1)
        left, right = np.where(np.isfinite(left), left, low), np.where(np.isfinite(right), right, high)
        half = (right - left) / 2
        begin = np.arccos(np.clip(1 - (low - left) / half, -1, 1))
        end = np.arccos(np.clip(1 - (high - left) / half, -1, 1))
        turn = begin[:, None] + (end - begin)[:, None] * _SHARE
        t = left[:, None] + half[:, None] * (1 - np.cos(turn))
        s, r, rate = piece.at(t)
        value = measure(r, offset[row][:, None] + slope * s) * rate * np.sin(turn)
        total += np.bincount(row, weights=(value @ _WEIGHT) * half * (end - begin), minlength=len(offset))
    return total


def beyond(pieces: tuple[Piece, ...], distance: Array) -> Array:
    """Volume of a head farther from the tangent line than `distance` [m³], shape of `distance` [m]."""
    flat = distance.ravel()
    total = np.zeros(len(flat))
    for piece in pieces:
        begin, end = piece.before(flat), piece.ends[1]
        t = begin[:, None] + (end - begin)[:, None] * _SHARE
        _, r, rate = piece.at(t)
        total += np.pi * ((r * r * rate) @ _WEIGHT) * (end - begin)
    return total.reshape(distance.shape)


def radius_at(pieces: tuple[Piece, ...], distance: Array) -> Array:
    """Radius of a head at a distance from its tangent line [m]; zero beyond its apex."""
    radius = np.zeros_like(distance)
    begin = 0.0
    for piece in pieces:
        end = float(piece.at(np.asarray(piece.ends[1]))[0])
        here = (distance >= begin - 1e-12) & (distance <= end + 1e-12)
        radius = np.where(here, piece.at(piece.before(distance))[1], radius)
        begin = end
    return np.maximum(radius, 0.0)
