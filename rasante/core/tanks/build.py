"""Building a shape from the kinds' lists, and what numbers a tank can have at all."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..quantities.errors import InputError, Problem
from .kinds import FAMILIES, SHAPES, Dimension, Kind
from .shapes import Shape

#: Dimensions outside these are slips of the pen, not tanks [mm].
SMALLEST_MM, LARGEST_MM = 1.0, 100_000.0
#: Volumes and temperatures beyond these likewise [L], [°C].
LARGEST_L = 1e9
COLDEST_C, HOTTEST_C = -80.0, 250.0


def _si(dimension: Dimension, value: float) -> float:
    return value if dimension.quantity == "temperature" else value / 1000


def _arguments(kind: Kind, document: Mapping[str, Any]) -> dict[str, Any]:
    """Write what a kind is built from in SI: its numbers, lists and built parts."""
    found: dict[str, Any] = {}
    for dimension in kind.dimensions:
        if dimension.key in document:
            key = dimension.key.removesuffix("mm") + "m" if dimension.quantity == "length" else dimension.key
            found[key] = _si(dimension, document[dimension.key])
    for rows in kind.rows:
        name = {"points_mm": "points"}.get(rows.key, rows.key)
        name = "points_m" if kind.kind == "points" else name
        found[name] = tuple(
            tuple(
                _si(column, value)
                for column, value in zip(
                    rows.columns, row if rows.pairs else [row[c.key] for c in rows.columns], strict=True
                )
            )
            for row in document[rows.key]
        )
    for part in kind.parts:
        if part.key in document:
            inner = FAMILIES[part.family][document[part.key]["kind"]]
            found[part.key] = inner.build(**_arguments(inner, document[part.key]))
    for choice in kind.choices:
        if choice.key in document:
            found[choice.key] = document[choice.key]
    return found


def build_part(family: str, document: Mapping[str, Any]) -> Any:
    """Build a head or a section from its part of a document.

    Raises
    ------
    KeyError
        If its kind or a dimension that it needs is not there.
    """
    kind = FAMILIES[family][document["kind"]]
    for dimension in kind.dimensions:
        if not dimension.optional:
            document[dimension.key]
    return kind.build(**_arguments(kind, document))


def build_shape(
    document: Mapping[str, Any], slope_mm_per_m: float = 0.0, gauge_position_mm: float | None = None
) -> Shape:
    """Build a shape from the ``shape`` of a tank file whose keys and numbers have been checked.

    Parameters
    ----------
    document : mapping
        The shape.
    slope_mm_per_m : float
        Rise of the right end [mm/m]; only for kinds that may slope.
    gauge_position_mm : float or None
        Where the gauge stands [mm]; the middle if None.

    Raises
    ------
    InputError
        If its dimensions contradict one another; places are relative to the shape.
    """
    kind = SHAPES[document["kind"]]
    arguments = _arguments(kind, document)
    if kind.sloping:
        length = document.get("shell_length_mm", document.get("length_mm", 0.0))
        gauge = length / 2 if gauge_position_mm is None else gauge_position_mm
        arguments |= {"slope": slope_mm_per_m / 1000, "gauge_m": gauge / 1000}
    shape: Shape = kind.build(**arguments)
    shape.check()
    return shape


def check_range(value: float, where: str, dimension: Dimension) -> None:
    """Refuse a number that no tank has.

    Parameters
    ----------
    value : float
        The number in the key's own unit.
    where : str
        Its key, for the error.
    dimension : Dimension
        What it is.

    Raises
    ------
    InputError
        If it has the wrong sign, or is beyond what is measured on tanks.
    """
    if dimension.quantity == "temperature":
        if not COLDEST_C <= value <= HOTTEST_C:
            raise InputError.at(where, f"{value:g} °C is outside {COLDEST_C:g} to {HOTTEST_C:g} °C: check the unit")
        return
    if dimension.quantity == "volume":
        if abs(value) > LARGEST_L or (value < 0 and not dimension.signed):
            raise InputError.at(where, f"{value:g} L is no volume of a tank: check the sign and the unit")
        return
    check_length(value, where, may_be_zero=dimension.optional, signed=dimension.signed)


def check_length(value_mm: float, where: str, may_be_zero: bool = False, signed: bool = False) -> None:
    """Refuse a length that no tank has.

    Parameters
    ----------
    value_mm : float
        The length [mm].
    where : str
        Its key, for the error.
    may_be_zero, signed : bool
        Whether nothing at all, or less than nothing, is a possible answer.

    Raises
    ------
    InputError
        If it is not above zero, or beyond 100 m.
    """
    if signed:
        value_mm, may_be_zero = abs(value_mm), True
    if value_mm < 0 or (value_mm == 0 and not may_be_zero):
        raise InputError(Problem(where, f"{value_mm:g} mm is not a length: it must be more than 0"))
    if 0 < value_mm < SMALLEST_MM and not signed:
        raise InputError(Problem(where, f"{value_mm:g} mm is too small for a tank: check the unit"))
    if value_mm > LARGEST_MM:
        raise InputError(
            Problem(where, f"{value_mm / 1000:g} m is too large: dimensions up to 100 m are taken, check the unit")
        )
