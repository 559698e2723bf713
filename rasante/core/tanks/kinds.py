"""The kinds of shape, head and section as data: their keys, their words, and what each is built from.

The tank file, the survey form, the JSON Schema and the uncertainty budget all read these lists.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

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
from .upright import Course, Courses, Sphere, VerticalCylinder


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
    """One of a few words, the first where it is left out.

    Parameters
    ----------
    key, label, options
        Its key, its label, and what may be chosen.
    usual : callable, optional
        What is chosen for a part that says nothing, by the rest of it; the first option without one.
    """

    key: str
    label: str
    options: Mapping[str, str]
    usual: Callable[[Mapping[str, Any]], str] | None = None

    def usual_of(self, part: Mapping[str, Any]) -> str:
        """What is chosen where nobody has."""
        return next(iter(self.options)) if self.usual is None else self.usual(part)


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

#: Fewer points than this are a device's, which joins them by straight lines: common practice, no published source.
FEW_POINTS = 10


def _usual_between(part: Mapping[str, Any]) -> str:
    return "straight" if len(part.get("points", ())) < FEW_POINTS else "smooth"


_BETWEEN = Choice(
    "between",
    "What the table is for",
    {
        "smooth": "The tank: a smooth, rising curve between points",
        "straight": "A device: straight lines between points, as it draws them",
    },
    _usual_between,
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
