"""What a tank's volume depends on and may be off: every dimension by its key, and the tank with one of them moved."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from .kinds import FAMILIES, SHAPES, Kind
from .measured import OTHER_HALF_WIDTHS, method_of

#: Keys that may carry a half-width and do not move the volume at an innage.
NO_EFFECT = ("reference_height_mm",)


@dataclass(frozen=True)
class Tolerance:
    """One entry of the uncertainty budget.

    Parameters
    ----------
    key, label, unit : str
        Its key under ``uncertainty``, its name, and the unit of its half-width.
    nominal : float
        The value it is about, in that unit.
    half_width : float or None
        Half-width (k = 2), in that unit; None where neither it nor a way of measuring is stated.
    stated : bool
        Whether the half-width was stated, rather than taken from the way of measuring.
    method : str
        Key of the way of measuring; empty if nobody said.
    """

    key: str
    label: str
    unit: str
    nominal: float
    half_width: float | None
    stated: bool
    method: str


def _lengths(kind: Kind, document: Mapping[str, Any], where: str, named: str) -> list[tuple[str, str, str, float]]:
    """List (key, label, unit, nominal) of a kind's dimensions and those of its parts."""
    found: list[tuple[str, str, str, float]] = []
    for dimension in kind.dimensions:
        if dimension.quantity == "length" and document.get(dimension.key):
            label = f"{named}, {dimension.label.lower()}" if named else dimension.label
            found.append((where + dimension.key, label, "mm", float(document[dimension.key])))
    for part in kind.parts:
        inner = document.get(part.key)
        if isinstance(inner, Mapping):
            found += _lengths(FAMILIES[part.family][inner["kind"]], inner, f"{where}{part.key}.", part.label)
    if kind.kind == "courses":
        rows = document["courses"]
        found += [
            ("circumference_mm", "Circumferences", "mm", max(row["circumference_mm"] for row in rows)),
            ("plate_mm", "Plates", "mm", min(row["plate_mm"] for row in rows)),
            ("height_mm", "Course heights", "mm", max(row["height_mm"] for row in rows)),
        ]
    if kind.kind == "points":
        rows = document["points"]
        found += [("volume_pct", "Volumes poured", "%", 100.0), ("level_mm", "Levels read", "mm", rows[-1][0])]
    if kind.kind == "polygon":
        xs, zs = zip(*document["points_mm"], strict=True)
        found += [
            (f"{where}width_mm", "Section, width", "mm", max(xs) - min(xs)),
            (f"{where}height_mm", "Section, height", "mm", max(zs) - min(zs)),
        ]
    return found


def _all(document: Mapping[str, Any]) -> list[tuple[str, str, str, float]]:
    shape = document["shape"]
    kind = SHAPES[shape["kind"]]
    found = _lengths(kind, shape, "", "")
    if kind.sloping:
        length = shape.get("shell_length_mm", shape.get("length_mm", 0.0))
        found += [
            ("slope_mm_per_m", "Slope", "mm/m", float(document.get("slope_mm_per_m", 0.0))),
            ("gauge_position_mm", "Gauge position", "mm", float(document.get("gauge_position_mm", length / 2))),
        ]
    if document.get("deadwood"):
        found.append(("deadwood_pct", "Deadwood, its volume", "%", 100.0))
    if document.get("floor_heel_l"):
        found.append(("floor_heel_l", "Floor heel", "L", float(document["floor_heel_l"])))
    if document.get("sump"):
        found.append(("sump_l", "Sump, its volume", "L", float(document["sump"]["volume_l"])))
    return found


def tolerance_keys(document: Mapping[str, Any]) -> tuple[str, ...]:
    """Return the keys that may stand under ``uncertainty`` and move the volume."""
    return tuple(key for key, *_ in _all(document))


def nominal_of(document: Mapping[str, Any], key: str) -> float | None:
    """Return the value that a half-width is about, or None."""
    return next((nominal for name, _, _, nominal in _all(document) if name == key), None)


def tolerances(document: Mapping[str, Any]) -> list[Tolerance]:
    """List the uncertainty budget of a checked document.

    Parameters
    ----------
    document : mapping
        Half-widths under ``uncertainty`` go before what the way of measuring under ``measured`` gives.
    """
    stated: Mapping[str, float] = document.get("uncertainty", {})
    found = []
    for key, label, unit, nominal in _all(document):
        method = method_of(document, key)
        half_width = stated.get(key)
        if half_width is None and method is not None:
            # How a shell was measured says nothing of a volume beside it.
            of_length = method.half_width_mm(nominal) if unit == "mm" else None
            half_width = OTHER_HALF_WIDTHS.get(key, of_length)
        found.append(Tolerance(key, label, unit, nominal, half_width, key in stated, method.key if method else ""))
    return found


def value_at(shape: Mapping[str, Any], path: str) -> Any:
    """Return the value at a dotted path of a shape, or None."""
    value: Any = shape
    for key in path.split("."):
        value = value.get(key) if isinstance(value, Mapping) else None
    return value


def with_value(shape: Mapping[str, Any], path: str, value: Any) -> dict[str, Any]:
    """Return a copy of a shape with the value at a dotted path replaced."""
    head, _, rest = path.partition(".")
    return {**shape, head: with_value(shape[head], rest, value) if rest else value}


def moved(document: Mapping[str, Any], key: str, by: float) -> dict[str, Any]:
    """Return a document with one dimension moved.

    Parameters
    ----------
    document : mapping
        A checked document.
    key : str
        One of `tolerance_keys`.
    by : float
        How far, in the key's own unit. All deadwood moves together, by its share. Circumferences, plates and
        heights of courses move together, as one tape errs; a traced section is stretched.
    """
    shape = document["shape"]
    if key == "deadwood_pct":
        parts = [{**part, "volume_l": part["volume_l"] * (1 + by / 100)} for part in document["deadwood"]]
        return {**document, "deadwood": parts}
    if key == "floor_heel_l":
        return {**document, key: document[key] + by}
    if key == "sump_l":
        sump = document["sump"]
        return {**document, "sump": {**sump, "volume_l": sump["volume_l"] + by}}
    if key in ("slope_mm_per_m", "gauge_position_mm"):
        return {**document, key: (nominal_of(document, key) or 0.0) + by}
    if shape["kind"] == "courses" and key in ("circumference_mm", "plate_mm", "height_mm"):
        rows = [{**row, key: row[key] + by} for row in shape["courses"]]
        return {**document, "shape": {**shape, "courses": rows}}
    if shape["kind"] == "points" and key in ("volume_pct", "level_mm"):
        up, factor = (by, 1.0) if key == "level_mm" else (0.0, 1 + by / 100)
        # Empty is empty: the point that says so stays where it is.
        empty = shape["points"][0][1]
        pairs = [[level + up * (volume > empty), volume * factor] for level, volume in shape["points"]]
        return {**document, "shape": {**shape, "points": pairs}}
    section = shape.get("section", {})
    if section.get("kind") == "polygon" and key in ("section.width_mm", "section.height_mm"):
        nominal = nominal_of(document, key) or 1.0
        axis = 0 if key == "section.width_mm" else 1
        factor = (nominal + by) / nominal
        points = [[v * factor if i == axis else v for i, v in enumerate(point)] for point in section["points_mm"]]
        return {**document, "shape": {**shape, "section": {**section, "points_mm": points}}}
    return {**document, "shape": with_value(shape, key, (value_at(shape, key) or 0.0) + by)}
