"""The JSON Schema of the tank file, made from the kinds; ``python -m rasante.core.tanks.schema`` prints it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from .build import COLDEST_C, HOTTEST_C, LARGEST_L, LARGEST_MM
from .check import FORMAT, STEEPEST_MM_PER_M
from .kinds import FAMILIES, SHAPES, Dimension, Kind, Rows
from .measured import METHODS

_LENGTH = {"type": "number", "exclusiveMinimum": 0, "maximum": LARGEST_MM}
_OPTIONAL_LENGTH = {"type": "number", "minimum": 0, "maximum": LARGEST_MM}
_AMOUNT = {"type": "number", "minimum": 0}


def _object(properties: Mapping[str, Any], required: list[str]) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": dict(properties),
        "required": required,
        "additionalProperties": False,
    }


def _number(dimension: Dimension) -> dict[str, Any]:
    if dimension.quantity == "temperature":
        return {"type": "number", "minimum": COLDEST_C, "maximum": HOTTEST_C}
    if dimension.quantity == "volume":
        return {"type": "number", "minimum": -LARGEST_L if dimension.signed else 0, "maximum": LARGEST_L}
    if dimension.signed:
        return {"type": "number", "minimum": -LARGEST_MM, "maximum": LARGEST_MM}
    return _OPTIONAL_LENGTH if dimension.optional else _LENGTH


def _rows(rows: Rows) -> dict[str, Any]:
    cells = {column.key: _number(column) for column in rows.columns}
    if rows.pairs:
        item: dict[str, Any] = {
            "type": "array",
            "prefixItems": list(cells.values()),
            "items": False,
            "minItems": len(cells),
            "description": f"[{', '.join(cells)}]",
        }
    else:
        item = _object(cells, list(cells))
    return {
        "type": "array",
        "items": item,
        "minItems": rows.fewest,
        "maxItems": rows.most,
        "description": rows.label,
    }


def _kind(kind: Kind) -> dict[str, Any]:
    properties: dict[str, Any] = {"kind": {"const": kind.kind}}
    for dimension in kind.dimensions:
        unit = {"length": "mm", "volume": "L", "temperature": "°C"}[dimension.quantity]
        properties[dimension.key] = {
            **_number(dimension),
            "description": f"{dimension.label} [{unit}]. {dimension.hint}",
        }
    for part in kind.parts:
        kinds = [{"$ref": f"#/$defs/{name}"} for name in part.allowed]
        properties[part.key] = {"oneOf": kinds, "description": part.label}
    for rows in kind.rows:
        properties[rows.key] = _rows(rows)
    for choice in kind.choices:
        properties[choice.key] = {"enum": list(choice.options), "description": choice.label}
    optional = {dimension.key for dimension in kind.dimensions if dimension.optional}
    optional |= {part.key for part in kind.parts if part.optional} | {choice.key for choice in kind.choices}
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
                "type": "number",
                "minimum": -STEEPEST_MM_PER_M,
                "maximum": STEEPEST_MM_PER_M,
                "description": "Rise of the right end by length; only for kinds that lie",
            },
            "gauge_position_mm": _OPTIONAL_LENGTH,
            "reference_height_mm": _LENGTH,
            "deadwood": {"type": "array", "items": deadwood, "maxItems": 200},
            "floor_heel_l": {**_AMOUNT, "description": "Below the dip point on an uneven floor [L]"},
            "sump": _object({"depth_mm": _LENGTH, "volume_l": _AMOUNT}, ["depth_mm", "volume_l"]),
            "outlet_height_mm": {
                "type": "number",
                "minimum": -LARGEST_MM,
                "maximum": LARGEST_MM,
                "description": "Innage at which the suction draws air [mm]; below 0 in the sump",
            },
            "overflow_height_mm": {**_LENGTH, "description": "Innage at which it runs over [mm]"},
            "safe_fill_pct": {
                "type": "number",
                "exclusiveMinimum": 0,
                "maximum": 100,
                "description": "Share of the brim volume that it may be filled to [%]",
            },
            "filling_limit_pct": {
                "type": "number",
                "exclusiveMinimum": 0,
                "maximum": 100,
                "description": "Share of the capacity that liquid under pressure may fill, by the code in force [%]",
            },
            "filling_limit_source": {
                "type": "string",
                "maxLength": 200,
                "description": "Which code gives that figure; required beside it",
            },
            "uncertainty": {
                "type": "object",
                "description": "Half-widths (k = 2) by the dimensions' names, left_head.depth_mm for a head's",
                "additionalProperties": _AMOUNT,
            },
            "measured": {
                "type": "object",
                "description": "How a dimension was measured, by the same names, or all",
                "additionalProperties": {"enum": list(METHODS)},
            },
        },
        ["format", "name", "shape"],
    )
    parts = [kind for family in FAMILIES.values() for kind in family.values()]
    definitions = {kind.kind: _kind(kind) for kind in (*SHAPES.values(), *parts)}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Rasante tank file",
        **root,
        "$defs": definitions,
    }


if __name__ == "__main__":
    print(json.dumps(make_schema(), indent=2))
