"""Tanks for the tests: invented ones, and the example of the tank file's description."""

from __future__ import annotations

import copy
import json
from typing import Any

import numpy as np

from rasante.core.tanks.tank_file import TankFile, check_document, read_tank_file

EXAMPLE: dict[str, Any] = {
    "format": "rasante.tank/1",
    "name": "Net loft diesel",
    "product": "diesel",
    "shape": {
        "kind": "horizontal_cylinder",
        "diameter_mm": 2400,
        "shell_length_mm": 6000,
        "left_head": {"kind": "ellipsoidal", "depth_mm": 600},
        "right_head": {"kind": "torispherical", "dish_radius_mm": 2400, "knuckle_radius_mm": 144},
    },
    "gauge_position_mm": 1500,
    "reference_height_mm": 2550,
    "deadwood": [{"from_mm": 300, "to_mm": 800, "volume_l": -12.5}],
    "uncertainty": {"diameter_mm": 3, "shell_length_mm": 10},
}


def example(**changes: Any) -> dict[str, Any]:
    """A copy of the example with top-level keys changed; None takes a key out."""
    document = copy.deepcopy(EXAMPLE) | changes
    return {key: value for key, value in document.items() if value is not None}


def tank_file(shape: dict[str, Any], **keys: Any) -> TankFile:
    return check_document({"format": "rasante.tank/1", "name": "sample", "shape": shape, **keys})


def horizontal(diameter: float, length: float, left: dict[str, Any], right: dict[str, Any]) -> TankFile:
    return tank_file(
        {
            "kind": "horizontal_cylinder",
            "diameter_mm": diameter,
            "shell_length_mm": length,
            "left_head": left,
            "right_head": right,
        }
    )


def two_to_one() -> TankFile:
    """A 2.4 m × 6 m shell with two 2:1 heads."""
    head = {"kind": "ellipsoidal", "depth_mm": 600}
    return horizontal(2400, 6000, head, head)


def random_head(rng: np.random.Generator, diameter: float) -> dict[str, Any]:
    kind = rng.choice(["flat", "ellipsoidal", "hemispherical", "torispherical", "conical"])
    if kind == "ellipsoidal":
        return {"kind": "ellipsoidal", "depth_mm": float(rng.uniform(0.05, 0.5) * diameter)}
    if kind == "conical":
        return {"kind": "conical", "depth_mm": float(rng.uniform(0.05, 0.8) * diameter)}
    if kind == "torispherical":
        return {
            "kind": "torispherical",
            "dish_radius_mm": float(rng.uniform(0.75, 1.2) * diameter),
            "knuckle_radius_mm": float(rng.uniform(0.03, 0.2) * diameter),
        }
    return {"kind": str(kind)}


def random_level_tank(rng: np.random.Generator) -> TankFile:
    kind = rng.choice(["horizontal_cylinder", "horizontal_cylinder", "vertical_cylinder", "box"])
    diameter = float(rng.uniform(300, 6000))
    if kind == "horizontal_cylinder":
        return horizontal(
            diameter, float(rng.uniform(300, 20000)), random_head(rng, diameter), random_head(rng, diameter)
        )
    if kind == "vertical_cylinder":
        return tank_file(
            {
                "kind": "vertical_cylinder",
                "diameter_mm": diameter,
                "shell_height_mm": float(rng.uniform(300, 15000)),
                "bottom": {"kind": "flat"},
                "top": {"kind": "flat"},
            }
        )
    width, height = float(rng.uniform(200, 4000)), float(rng.uniform(200, 4000))
    return tank_file(
        {
            "kind": "box",
            "length_mm": float(rng.uniform(200, 9000)),
            "width_mm": width,
            "height_mm": height,
            "corner_radius_mm": float(rng.uniform(0, 0.5) * min(width, height)),
        }
    )


def text(document: Any) -> str:
    return json.dumps(document)


__all__ = [
    "EXAMPLE",
    "example",
    "horizontal",
    "random_level_tank",
    "read_tank_file",
    "tank_file",
    "text",
    "two_to_one",
]


def coolprop(*asked: Any) -> float:
    """CoolProp's own answer: seconds to read, by whoever asks it and not by all."""
    from CoolProp.CoolProp import PropsSI

    return float(PropsSI(*asked))
