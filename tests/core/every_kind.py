"""One good tank file of every kind, for tests that hold for all of them."""

from __future__ import annotations

from typing import Any

DISH = {"kind": "torispherical", "dish_radius_mm": 2000, "knuckle_radius_mm": 200}
HULL = [[-70, 0], [70, 0], [420, 400], [420, 900], [-420, 900], [-420, 400]]

SHAPES: dict[str, dict[str, Any]] = {
    "lying": {
        "kind": "horizontal_cylinder",
        "diameter_mm": 2000,
        "shell_length_mm": 5000,
        "left_head": DISH,
        "right_head": {"kind": "ellipsoidal", "depth_mm": 500},
    },
    "upright": {
        "kind": "vertical_cylinder",
        "diameter_mm": 2000,
        "shell_height_mm": 3000,
        "bottom": {"kind": "conical_inward", "depth_mm": 250},
        "top": DISH,
    },
    "box": {"kind": "box", "length_mm": 3000, "width_mm": 1000, "height_mm": 1200, "corner_radius_mm": 80},
    "ellipse": {
        "kind": "prism",
        "length_mm": 4000,
        "section": {"kind": "ellipse", "width_mm": 2200, "height_mm": 1400},
    },
    "obround": {
        "kind": "prism",
        "length_mm": 4000,
        "section": {"kind": "obround", "width_mm": 1000, "height_mm": 1600},
    },
    "traced": {
        "kind": "prism",
        "length_mm": 1500,
        "section": {"kind": "polygon", "points_mm": HULL, "corner_radius_mm": 25},
    },
    "sphere": {"kind": "sphere", "diameter_mm": 4000},
    "strapped": {
        "kind": "courses",
        "courses": [
            {"circumference_mm": 22_640, "plate_mm": 8, "height_mm": 1500},
            {"circumference_mm": 22_610, "plate_mm": 6, "height_mm": 1490},
        ],
        "bottom": {"kind": "conical", "depth_mm": 120},
        "strapped_at_c": 9,
        "shell_temperature_c": 15,
    },
    "points": {"kind": "points", "points": [[0, 0], [300, 150], [700, 520], [1100, 900]], "between": "smooth"},
}
SLOPING = ("lying", "box", "ellipse", "obround", "traced")


def document(name: str, **keys: Any) -> dict[str, Any]:
    return {"format": "rasante.tank/1", "name": name, "shape": SHAPES[name], **keys}


def all_documents() -> list[dict[str, Any]]:
    """Every kind, and those that may slope also sloped, with everything that may stand beside a shape."""
    found = [document(name, measured={"all": "tape_inside"}) for name in SHAPES]
    for name in SLOPING:
        found.append(
            document(
                name,
                product="diesel",
                slope_mm_per_m=18,
                gauge_position_mm=400,
                reference_height_mm=2600,
                floor_heel_l=4,
                sump={"depth_mm": 150, "volume_l": 20},
                outlet_height_mm=60,
                safe_fill_pct=95,
                uncertainty={"slope_mm_per_m": 1.5, "gauge_position_mm": 20},
                measured={"all": "tape_outside"},
            )
        )
    return found
