"""The kinds of shape and head as data: their keys, their words, and the one place that builds them.

The tank file, the survey form, the JSON Schema and the uncertainty budget all read these lists.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..errors import InputError, Problem
from .heads import ConicalHead, EllipsoidalHead, FlatHead, HemisphericalHead, TorisphericalHead
from .shapes import Box, HorizontalCylinder, Shape, VerticalCylinder

#: Dimensions outside these are slips of the pen, not tanks [mm].
SMALLEST_MM, LARGEST_MM = 1.0, 100_000.0


@dataclass(frozen=True)
class Dimension:
    """One length that a kind asks for.

    Parameters
    ----------
    key : str
        Its key in the tank file; the value there is in millimetres.
    label : str
        Its name on the screen.
    hint : str
        Where to put the tape.
    optional : bool
        Whether it may be left out, and then is zero.
    """

    key: str
    label: str
    hint: str
    optional: bool = False


@dataclass(frozen=True)
class Kind:
    """One kind of shape or head.

    Parameters
    ----------
    kind : str
        Its tag in the tank file.
    label : str
        Its name on the screen.
    dimensions : tuple of Dimension
        The lengths it asks for.
    heads : tuple of (str, str)
        Keys and names of its heads.
    """

    kind: str
    label: str
    build: Any
    dimensions: tuple[Dimension, ...]
    heads: tuple[tuple[str, str], ...] = ()


SHAPES: dict[str, Kind] = {
    kind.kind: kind
    for kind in (
        Kind(
            "horizontal_cylinder",
            "Horizontal cylinder",
            HorizontalCylinder,
            (
                Dimension("diameter_mm", "Inside diameter", "Outside diameter less two plate thicknesses"),
                Dimension("shell_length_mm", "Shell length", "Straight part only, tangent line to tangent line"),
            ),
            (("left_head", "Left head"), ("right_head", "Right head")),
        ),
        Kind(
            "vertical_cylinder",
            "Upright cylinder",
            lambda diameter_m, shell_height_m, bottom, top: VerticalCylinder(diameter_m, shell_height_m),
            (
                Dimension("diameter_mm", "Inside diameter", "Circumference ÷ π, less two plate thicknesses"),
                Dimension("shell_height_mm", "Shell height", "Inside, from the floor to the top of the shell"),
            ),
            (("bottom", "Floor"), ("top", "Top")),
        ),
        Kind(
            "box",
            "Box",
            Box,
            (
                Dimension("length_mm", "Inside length", "Along the tank"),
                Dimension("width_mm", "Inside width", "Across the tank"),
                Dimension("height_mm", "Inside height", "From the floor to the underside of the top"),
                Dimension(
                    "corner_radius_mm",
                    "Corner radius",
                    "Of the four long edges; leave empty if they are square",
                    optional=True,
                ),
            ),
        ),
    )
}

_DEPTH = Dimension("depth_mm", "Depth", "From the tangent line to the inside of the end; 0.25 D for a 2:1 head")
HEADS: dict[str, Kind] = {
    kind.kind: kind
    for kind in (
        Kind("flat", "Flat", FlatHead, ()),
        Kind("ellipsoidal", "Ellipsoidal", EllipsoidalHead, (_DEPTH,)),
        Kind("hemispherical", "Hemispherical", HemisphericalHead, ()),
        Kind(
            "torispherical",
            "Torispherical (dished)",
            TorisphericalHead,
            (
                Dimension("dish_radius_mm", "Dish radius", "1 D for a flanged and dished head, 0.8 D deeper"),
                Dimension("knuckle_radius_mm", "Knuckle radius", "0.06 D, 0.1 D or 0.154 D by the pattern"),
            ),
        ),
        Kind("conical", "Conical", ConicalHead, (_DEPTH,)),
    )
}

#: Named head patterns, as multiples of the inside diameter: label, kind, then what each field is filled with.
#: Proportions from memory of ASME BPVC VIII-1 UG-32 (2:1, flanged and dished), DIN 28011 and DIN 28013.
HEAD_PATTERNS: tuple[tuple[str, str, Mapping[str, str]], ...] = (
    ("2:1 ellipsoidal", "ellipsoidal", {"depth_mm": "0.25 D"}),
    (
        "Flanged and dished, D / 0.06 D",
        "torispherical",
        {"dish_radius_mm": "1 D", "knuckle_radius_mm": "0.06 D"},
    ),
    ("Klöpper, D / 0.1 D", "torispherical", {"dish_radius_mm": "1 D", "knuckle_radius_mm": "0.1 D"}),
    (
        "Korbbogen, 0.8 D / 0.154 D",
        "torispherical",
        {"dish_radius_mm": "0.8 D", "knuckle_radius_mm": "0.154 D"},
    ),
)

#: Heads that an upright cylinder can be computed with.
UPRIGHT_HEADS = ("flat",)


def heads_allowed(shape_kind: str) -> tuple[str, ...]:
    """Return the kinds of head that a kind of shape takes."""
    if not SHAPES[shape_kind].heads:
        return ()
    return UPRIGHT_HEADS if shape_kind == "vertical_cylinder" else tuple(HEADS)


def _metres(kind: Kind, document: Mapping[str, Any]) -> dict[str, float]:
    return {
        dimension.key.removesuffix("mm") + "m": document.get(dimension.key, 0.0) / 1000
        for dimension in kind.dimensions
    }


def build_shape(document: Mapping[str, Any]) -> Shape:
    """Build a shape from the ``shape`` of a tank file whose keys and numbers have been checked.

    Raises
    ------
    InputError
        If its dimensions contradict one another; places are relative to the shape.
    """
    kind = SHAPES[document["kind"]]
    heads = {key: _build_head(document[key]) for key, _ in kind.heads}
    shape: Shape = kind.build(**_metres(kind, document), **heads)
    shape.check()
    return shape


def _build_head(document: Mapping[str, Any]) -> Any:
    kind = HEADS[document["kind"]]
    return kind.build(**_metres(kind, document))


def check_range(value_mm: float, where: str, may_be_zero: bool = False) -> None:
    """Refuse a length that no tank has.

    Parameters
    ----------
    value_mm : float
        The length [mm].
    where : str
        Its key, for the error.
    may_be_zero : bool
        Whether nothing at all is a possible answer.

    Raises
    ------
    InputError
        If it is not above zero, or beyond 100 m.
    """
    if value_mm < 0 or (value_mm == 0 and not may_be_zero):
        raise InputError(Problem(where, f"{value_mm:g} mm is not a length: it must be more than 0"))
    if 0 < value_mm < SMALLEST_MM:
        raise InputError(Problem(where, f"{value_mm:g} mm is too small for a tank: check the unit"))
    if value_mm > LARGEST_MM:
        raise InputError(
            Problem(where, f"{value_mm / 1000:g} m is too large: dimensions up to 100 m are taken, check the unit")
        )
