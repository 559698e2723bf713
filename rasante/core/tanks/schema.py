"""The JSON Schema of the tank file, made from the kinds; ``python -m rasante.core.tanks.schema`` prints it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from .kinds import HEADS, LARGEST_MM, SHAPES, Kind, heads_allowed
from .tank_file import FORMAT

_LENGTH = {"type": "number", "exclusiveMinimum": 0, "maximum": LARGEST_MM}
_OPTIONAL_LENGTH = {"type": "number", "minimum": 0, "maximum": LARGEST_MM}


def _object(properties: Mapping[str, Any], required: list[str]) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": dict(properties),
        "required": required,
        "additionalProperties": False,
    }


def _kind(kind: Kind) -> dict[str, Any]:
    properties: dict[str, Any] = {"kind": {"const": kind.kind}}
    for dimension in kind.dimensions:
        properties[dimension.key] = {
            **(_OPTIONAL_LENGTH if dimension.optional else _LENGTH),
            "description": f"{dimension.label} [mm]. {dimension.hint}",
        }
    for key, label in kind.heads:
        heads = [{"$ref": f"#/$defs/{name}"} for name in heads_allowed(kind.kind)]
        properties[key] = {"oneOf": heads, "description": label}
    optional = {dimension.key for dimension in kind.dimensions if dimension.optional}
    return _object(properties, [key for key in properties if key not in optional])


def make_schema() -> dict[str, Any]:
    """Make the JSON Schema (2020-12) of ``rasante.tank/1``.

    Notes
    -----
    The schema tells keys, types and ranges. What only the dimensions together can break (a knuckle larger than
    its dish) is for `tank_file.check_document`.
    """
    deadwood = _object(
        {
            "from_mm": _OPTIONAL_LENGTH,
            "to_mm": _LENGTH,
            "volume_l": {"type": "number", "description": "Negative where something takes room"},
        },
        ["from_mm", "to_mm", "volume_l"],
    )
    root = _object(
        {
            "format": {"const": FORMAT},
            "name": {"type": "string", "minLength": 1, "maxLength": 120},
            "product": {"type": "string", "maxLength": 60},
            "shape": {"oneOf": [{"$ref": f"#/$defs/{name}"} for name in SHAPES]},
            "slope_mm_per_m": {
                "const": 0,
                "description": "Rise of the right end; only level tanks are computed",
            },
            "gauge_position_mm": _OPTIONAL_LENGTH,
            "reference_height_mm": _LENGTH,
            "deadwood": {"type": "array", "items": deadwood, "maxItems": 200},
            "uncertainty": {
                "type": "object",
                "description": "Half-widths (k = 2) [mm] by the dimensions' names, left_head.depth_mm for a head's",
                "additionalProperties": _OPTIONAL_LENGTH,
            },
        },
        ["format", "name", "shape"],
    )
    definitions = {kind.kind: _kind(kind) for kind in (*SHAPES.values(), *HEADS.values())}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Rasante tank file",
        **root,
        "$defs": definitions,
    }


if __name__ == "__main__":
    print(json.dumps(make_schema(), indent=2))
