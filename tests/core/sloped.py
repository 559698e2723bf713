"""Sloped tanks by other means: adaptive quadrature of the plain definition, and a mesh cut by a plane."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from itertools import pairwise
from typing import Any

import numpy as np
import trimesh
from scipy.integrate import IntegrationWarning, quad
from scipy.optimize import brentq


def segment(radius: float, offset: float) -> float:
    """Area of a circle beyond a chord at a signed distance from its centre."""
    if offset >= radius:
        return 0.0
    if offset <= -radius:
        return float(np.pi * radius**2)
    return float(radius**2 * np.arccos(offset / radius) - offset * np.sqrt(radius**2 - offset**2))


def head_profile(head: dict[str, Any], radius: float) -> tuple[Callable[[float], float], float, list[float]]:
    """Radius of a head at a distance from its tangent line, its depth, and where its pieces join [m]."""
    kind = head["kind"]
    if kind == "flat":
        return (lambda s: 0.0), 0.0, []
    if kind == "conical":
        depth = head["depth_mm"] / 1000
        return (lambda s: radius * (1 - s / depth)), depth, []
    if kind == "torispherical":
        dish, knuckle = head["dish_radius_mm"] / 1000, head["knuckle_radius_mm"] / 1000
        ring = radius - knuckle
        centre = np.sqrt((dish - knuckle) ** 2 - ring**2)
        join = knuckle * centre / (dish - knuckle)

        def profile(s: float) -> float:
            if s < join:
                return float(ring + np.sqrt(max(knuckle**2 - s * s, 0.0)))
            return float(np.sqrt(max(dish**2 - (s + centre) ** 2, 0.0)))

        return profile, float(dish - centre), [float(join)]
    depth = head.get("depth_mm", radius * 1000) / 1000
    return (lambda s: float(radius * np.sqrt(max(1 - (s / depth) ** 2, 0.0)))), depth, []


def _integrate(
    function: Callable[[float], float], low: float, high: float, breaks: list[float], within: float
) -> float:
    """Adaptive quadrature between breaks, with a cosine in each stretch for roots at its ends."""
    edges = [low, *sorted(b for b in breaks if low < b < high), high]
    total = 0.0
    for a, b in pairwise(edges):
        middle, half = (a + b) / 2, (b - a) / 2
        with warnings.catch_warnings():
            # It warns where it meets the last digit of a double.
            warnings.simplefilter("ignore", IntegrationWarning)
            total += quad(
                lambda t, middle=middle, half=half: function(middle - half * np.cos(t)) * np.sin(t) * half,
                0,
                np.pi,
                epsabs=within * 1e-3,
                epsrel=within,
                limit=300,
            )[0]
    return total


def by_quadrature(document: dict[str, Any], level: float, within: float = 1e-11) -> float:
    """Volume of a lying cylinder below an innage, to a relative error: ∫ A(x, y(x)) dx by the tank file's y [m³]."""
    shape = document["shape"]
    radius, length = shape["diameter_mm"] / 2000, shape["shell_length_mm"] / 1000
    angle = np.arctan(document.get("slope_mm_per_m", 0) / 1000)
    gauge = document.get("gauge_position_mm", length * 500) / 1000

    def depth(x: float) -> float:
        return float((level + (gauge - x) * np.sin(angle)) / np.cos(angle))

    breaks = []
    if angle:
        breaks = [gauge + (level - y * np.cos(angle)) / np.sin(angle) for y in (0.0, 2 * radius)]
    total = _integrate(lambda x: segment(radius, radius - depth(x)), 0.0, length, [float(b) for b in breaks], within)
    for side, head in ((-1, shape["left_head"]), (1, shape["right_head"])):
        profile, deep, joins = head_profile(head, radius)
        if deep == 0:
            continue

        def station(s: float, side: int = side) -> float:
            return -s if side < 0 else length + s

        grid = np.linspace(0, deep, 201)
        meets = list(joins)
        for sign in (1, -1):

            def gap(s: float, sign: int = sign, profile=profile, station=station) -> float:
                return radius - depth(station(s)) - sign * profile(s)

            values = np.array([gap(s) for s in grid])
            for i in np.flatnonzero(values[:-1] * values[1:] < 0):
                meets.append(brentq(gap, grid[i], grid[i + 1], xtol=1e-15))

        def wetted(s: float, profile=profile, station=station) -> float:
            return segment(profile(s), radius - depth(station(s)))

        total += _integrate(wetted, 0.0, deep, meets, within)
    return total


def mesh_of(document: dict[str, Any], around: int = 720, along: int = 400) -> trimesh.Trimesh:
    """A fine closed mesh of a lying cylinder with its heads, axis along x, bottom at z = 0, level."""
    shape = document["shape"]
    radius, length = shape["diameter_mm"] / 2000, shape["shell_length_mm"] / 1000
    left, left_deep, left_joins = head_profile(shape["left_head"], radius)
    right, right_deep, right_joins = head_profile(shape["right_head"], radius)

    def stations(deep: float, joins: list[float]) -> np.ndarray:
        # Closer towards the apex, where the profile is steep.
        return np.unique(np.concatenate([deep * np.sin(np.linspace(0, np.pi / 2, along)), joins]))

    x, r = [], []
    if left_deep:
        s = stations(left_deep, left_joins)[::-1]
        x += list(-s[:-1])
        r += [left(v) for v in s[:-1]]
    x += [0.0, length]
    r += [radius, radius]
    if right_deep:
        s = stations(right_deep, right_joins)
        x += list(length + s[1:])
        r += [right(v) for v in s[1:]]
    line = np.column_stack([np.maximum(r, 0.0), x])
    # A closed meridian from axis to axis.
    line = np.concatenate([[[0.0, line[0, 1]]], line, [[0.0, line[-1, 1]]]])
    keep = np.concatenate([[True], np.any(np.abs(np.diff(line, axis=0)) > 1e-12, axis=1)])
    mesh = trimesh.creation.revolve(line[keep], sections=around)
    # The polygon of the revolution lies inside the circle: blown up to the circle's area.
    scale = np.sqrt(2 * np.pi / around / np.sin(2 * np.pi / around))
    mesh.vertices[:, :2] *= scale
    turned = mesh.vertices[:, [2, 1, 0]]
    turned[:, 2] = radius - turned[:, 2]
    mesh.vertices = turned
    return mesh


def by_mesh(document: dict[str, Any], mesh: trimesh.Trimesh, level: float) -> float:
    """Volume of the mesh below the level liquid's surface, the tank tilted: slice, and sum towards the plane [m³]."""
    angle = np.arctan(document.get("slope_mm_per_m", 0) / 1000)
    gauge = document["gauge_position_mm"] / 1000
    up = np.array([np.sin(angle), 0.0, np.cos(angle)])
    point = np.array([gauge, 0.0, 0.0]) + up * level
    wet = trimesh.intersections.slice_mesh_plane(mesh, -up, point)
    if wet is None or len(wet.faces) == 0:
        return 0.0
    # Tetrahedra with their tip on the plane: the cut itself adds nothing.
    corners = wet.triangles - point
    return float(abs(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum()) / 6)
