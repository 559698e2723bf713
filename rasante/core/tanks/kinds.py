"""The kinds of shape, head and section as data: their keys, their words, and the one place that builds them.

The tank file, the survey form, the JSON Schema and the uncertainty budget all read these lists.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..errors import InputError, Problem
from .heads import (
    ConicalHead,
    EllipsoidalHead,
    FlatHead,
    HemisphericalHead,
    InwardConicalHead,
    TorisphericalHead,
)
from .lying import Lying, horizontal_cylinder
from .points import Points
from .polygon import Polygon
from .sections import Ellipse, RoundedBox, obround
from .shapes import Shape
from .upright import Course, Courses, Sphere, VerticalCylinder

#: Dimensions outside these are slips of the pen, not tanks [mm].
SMALLEST_MM, LARGEST_MM = 1.0, 100_000.0
#: Volumes and temperatures beyond these likewise [L], [°C].
LARGEST_L = 1e9
COLDEST_C, HOTTEST_C = -80.0, 250.0


@dataclass(frozen=True)
class Dimension:
    """One number that a kind asks for.

    Parameters
    ----------
    key : str
        Its key in the tank file; the unit is the key's ending (``_mm``, ``_l``, ``_c``).
    label : str
        Its name on the screen.
    hint : str
        Where to put the tape.
    optional : bool
        Whether it may be left out.
    signed : bool
        Whether it may be zero or below.
    """

    key: str
    label: str
    hint: str
    optional: bool = False
    signed: bool = False

    @property
    def quantity(self) -> str:
        """``length``, ``volume`` or ``temperature``."""
        return {"mm": "length", "l": "volume", "c": "temperature"}[self.key.rpartition("_")[2]]


@dataclass(frozen=True)
class Rows:
    """A list that a kind asks for: the same numbers row by row; two columns alone are written as pairs."""

    key: str
    label: str
    columns: tuple[Dimension, ...]
    fewest: int
    most: int
    pairs: bool


@dataclass(frozen=True)
class Part:
    """A part of a kind that is of some kind itself: a head or a section."""

    key: str
    label: str
    family: str
    allowed: tuple[str, ...]
    optional: bool = False


@dataclass(frozen=True)
class Choice:
    """One of a few words, the first where it is left out."""

    key: str
    label: str
    options: Mapping[str, str]


@dataclass(frozen=True)
class Kind:
    """One kind of shape, head or section.

    Parameters
    ----------
    kind : str
        Its tag in the tank file.
    label : str
        Its name on the screen.
    build : callable
        Makes it from its numbers in SI and its built parts.
    dimensions, parts, rows, choices
        What it asks for.
    sloping : bool
        Whether it may slope along its length.
    """

    kind: str
    label: str
    build: Any
    dimensions: tuple[Dimension, ...] = ()
    parts: tuple[Part, ...] = ()
    rows: tuple[Rows, ...] = ()
    choices: tuple[Choice, ...] = ()
    sloping: bool = False


_DEPTH = Dimension("depth_mm", "Depth", "From the tangent line to the inside of the end; 0.25 D for a 2:1 head")
HEADS: dict[str, Kind] = {
    kind.kind: kind
    for kind in (
        Kind("flat", "Flat", FlatHead),
        Kind("ellipsoidal", "Ellipsoidal", EllipsoidalHead, (_DEPTH,)),
        Kind("hemispherical", "Hemispherical", HemisphericalHead),
        Kind(
            "torispherical",
            "Torispherical (dished)",
            TorisphericalHead,
            (
                Dimension("dish_radius_mm", "Dish radius", "1 D for a flanged and dished head, 0.8 D deeper"),
                Dimension("knuckle_radius_mm", "Knuckle radius", "0.06 D, 0.1 D or 0.154 D by the pattern"),
            ),
        ),
        Kind("conical", "Cone, outward", ConicalHead, (_DEPTH,)),
        Kind("conical_inward", "Cone, inward", InwardConicalHead, (_DEPTH,)),
    )
}
_LYING_HEADS = tuple(kind for kind in HEADS if kind != "conical_inward")

_WIDTH = Dimension("width_mm", "Inside width", "Across, at the widest")
_HEIGHT = Dimension("height_mm", "Inside height", "From the inside bottom to the inside top")
_CORNER = Dimension("corner_radius_mm", "Corner radius", "Leave empty if the corners are square", optional=True)
SECTIONS: dict[str, Kind] = {
    kind.kind: kind
    for kind in (
        Kind("ellipse", "Ellipse", Ellipse, (_WIDTH, _HEIGHT)),
        Kind("obround", "Obround (two half circles)", obround, (_WIDTH, _HEIGHT)),
        Kind(
            "polygon",
            "Traced outline",
            lambda points, corner_radius_m=0.0: Polygon(points, corner_radius_m),
            (_CORNER,),
            rows=(
                Rows(
                    "points_mm",
                    "Corners",
                    (
                        Dimension("x_mm", "across", "From any fixed line", signed=True),
                        Dimension("z_mm", "up", "From any fixed height", signed=True),
                    ),
                    3,
                    200,
                    pairs=True,
                ),
            ),
        ),
    )
}
FAMILIES: dict[str, dict[str, Kind]] = {"head": HEADS, "section": SECTIONS}

_BETWEEN = Choice(
    "between", "Between points", {"smooth": "Smooth and rising", "straight": "Straight lines, as devices draw them"}
)
SHAPES: dict[str, Kind] = {
    kind.kind: kind
    for kind in (
        Kind(
            "horizontal_cylinder",
            "Horizontal cylinder",
            horizontal_cylinder,
            (
                Dimension("diameter_mm", "Inside diameter", "Outside diameter less two plate thicknesses"),
                Dimension("shell_length_mm", "Shell length", "Straight part only, tangent line to tangent line"),
            ),
            (
                Part("left_head", "Left head", "head", _LYING_HEADS),
                Part("right_head", "Right head", "head", _LYING_HEADS),
            ),
            sloping=True,
        ),
        Kind(
            "vertical_cylinder",
            "Upright cylinder",
            VerticalCylinder,
            (
                Dimension("diameter_mm", "Inside diameter", "Circumference ÷ π, less two plate thicknesses"),
                Dimension("shell_height_mm", "Shell height", "Straight part only, from bottom to top of the shell"),
            ),
            (Part("bottom", "Floor", "head", tuple(HEADS)), Part("top", "Top", "head", tuple(HEADS))),
        ),
        Kind(
            "box",
            "Box",
            lambda length_m, width_m, height_m, corner_radius_m=0.0, slope=0.0, gauge_m=0.0: Lying(
                "box", RoundedBox(width_m, height_m, corner_radius_m), length_m, slope=slope, gauge_m=gauge_m
            ),
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
            sloping=True,
        ),
        Kind(
            "prism",
            "Lying tank of another section",
            lambda length_m, section, slope=0.0, gauge_m=0.0: Lying(
                "prism", section, length_m, slope=slope, gauge_m=gauge_m
            ),
            (Dimension("length_mm", "Inside length", "Along the tank, wall to wall"),),
            (Part("section", "Section", "section", tuple(SECTIONS)),),
            sloping=True,
        ),
        Kind(
            "sphere",
            "Sphere",
            Sphere,
            (Dimension("diameter_mm", "Inside diameter", "Circumference ÷ π, less two plate thicknesses"),),
        ),
        Kind(
            "courses",
            "Upright, strapped by courses",
            lambda courses, bottom=None, strapped_at_c=None, shell_temperature_c=None: Courses(
                tuple(Course(*row) for row in courses), bottom or FlatHead(), strapped_at_c, shell_temperature_c
            ),
            (
                Dimension("strapped_at_c", "Strapped at", "Shell temperature that day", optional=True, signed=True),
                Dimension(
                    "shell_temperature_c",
                    "Shell now",
                    "Shell temperature the table is for",
                    optional=True,
                    signed=True,
                ),
            ),
            (Part("bottom", "Floor", "head", tuple(HEADS), optional=True),),
            (
                Rows(
                    "courses",
                    "Courses, lowest first",
                    (
                        Dimension("circumference_mm", "outside circumference", "By the strap, pulled tight"),
                        Dimension("plate_mm", "plate", "Thickness, with paint"),
                        Dimension("height_mm", "height", "Of the course"),
                    ),
                    1,
                    60,
                    pairs=False,
                ),
            ),
        ),
        Kind(
            "points",
            "Known by its table only",
            Points,
            rows=(
                Rows(
                    "points",
                    "Points, lowest first",
                    (
                        Dimension("level_mm", "level", "Innage", signed=True),
                        Dimension("volume_l", "volume", "Below that level", signed=True),
                    ),
                    2,
                    2000,
                    pairs=True,
                ),
            ),
            choices=(_BETWEEN,),
        ),
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
