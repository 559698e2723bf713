"""Checking a tank file's document: every problem found, each at its key."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from ..products.registry import USUAL_FILLING, product_of
from ..quantities.errors import InputError, Problem
from .build import build_shape, check_length, check_range
from .kinds import FAMILIES, SHAPES, Dimension, Kind, Rows
from .limits import limits_of
from .lying import STEEPEST
from .measured import METHODS
from .tank import Deadwood, Sump, Tank
from .tolerances import NO_EFFECT, nominal_of, tolerance_keys

FORMAT = "rasante.tank/1"
KEYS = (
    "format",
    "name",
    "product",
    "shape",
    "slope_mm_per_m",
    "gauge_position_mm",
    "reference_height_mm",
    "deadwood",
    "floor_heel_l",
    "sump",
    "outlet_height_mm",
    "overflow_height_mm",
    "safe_fill_pct",
    "filling_limit_pct",
    "filling_limit_source",
    "uncertainty",
    "measured",
)
_DEADWOOD_KEYS = ("from_mm", "to_mm", "volume_l")
_SUMP_KEYS = ("depth_mm", "volume_l")
STEEPEST_MM_PER_M = STEEPEST * 1000
UNIT_ENDINGS = {"mm": "mm", "pct": "%", "l": "L"}


class Checker:
    """Collects the problems of one document."""

    def __init__(self) -> None:
        self.problems: list[Problem] = []

    def add(self, where: str, what: str) -> None:
        self.problems.append(Problem(where, what))

    def mapping(self, value: Any, where: str) -> Mapping[str, Any] | None:
        if isinstance(value, Mapping):
            return value
        self.add(where, f"must be an object with keys, not {_name(value)}")
        return None

    def keys(self, value: Mapping[str, Any], where: str, known: tuple[str, ...], required: tuple[str, ...]) -> None:
        for key in value:
            if key not in known:
                self.add(_at(where, key), f"this key is not known here; known are {', '.join(known)}")
        for key in required:
            if key not in value:
                self.add(_at(where, key), "this key is missing")

    def number(self, value: Any, where: str) -> float | None:
        if isinstance(value, bool) or not isinstance(value, int | float):
            self.add(where, f"must be a number, not {_name(value)}")
            return None
        if not math.isfinite(value) or abs(value) > 1e15:
            self.add(where, "must be a finite number of a size that can be measured")
            return None
        return float(value)

    def length(self, value: Any, where: str, may_be_zero: bool = False, signed: bool = False) -> float | None:
        number = self.number(value, where)
        if number is None:
            return None
        try:
            check_length(number, where, may_be_zero, signed)
        except InputError as error:
            self.problems.extend(error.problems)
            return None
        return number

    def dimension(self, value: Any, where: str, dimension: Dimension) -> None:
        number = self.number(value, where)
        if number is not None:
            try:
                check_range(number, where, dimension)
            except InputError as error:
                self.problems.extend(error.problems)

    def text(self, value: Any, where: str, longest: int) -> None:
        if not isinstance(value, str):
            self.add(where, f"must be text, not {_name(value)}")
        elif len(value) > longest:
            self.add(where, f"is {len(value)} characters long; at most {longest} are kept")

    def raise_any(self) -> None:
        if self.problems:
            raise InputError(*self.problems)


def _at(where: str, key: str) -> str:
    return f"{where}.{key}" if where else key


def _name(value: Any) -> str:
    if value is None:
        return "null"
    if isinstance(value, bool):
        return "true or false"
    if isinstance(value, str):
        return f"the text “{value[:24]}”"
    names = {int: "a number", float: "a number", list: "a list", dict: "an object"}
    return names.get(type(value), "this")


def check_tank(root: Any) -> Tank:
    """Check a document that has been read from JSON and build its tank.

    Parameters
    ----------
    root : mapping
        Keys and values as in ``docs/formats/tank-file.md``.

    Raises
    ------
    InputError
        With every problem found, each at its key.
    """
    check = Checker()
    if check.mapping(root, "") is None:
        check.raise_any()
    if root.get("format") != FORMAT:
        found = f"“{str(root['format'])[:40]}”" if "format" in root else "no format"
        raise InputError.at(
            "format", f"must be “{FORMAT}”, and this says {found}: it is not a tank file of this kind"
        )
    check.keys(root, "", KEYS, ("format", "name", "shape"))
    if "name" in root:
        check.text(root["name"], "name", 120)
        if isinstance(root["name"], str) and not root["name"].strip():
            check.add("name", "must not be empty: name the tank as it is painted on it")
    if "product" in root:
        check.text(root["product"], "product", 60)
    shape = check.mapping(root["shape"], "shape") if "shape" in root else None
    if shape is not None:
        _check_kind(check, shape, "shape", SHAPES)
    slope = _check_slope(check, root, shape)
    lengths = {
        key: check.length(root[key], key, may_be_zero=key == "gauge_position_mm", signed=key == "outlet_height_mm")
        for key in ("reference_height_mm", "outlet_height_mm", "overflow_height_mm", "gauge_position_mm")
        if key in root
    }
    deadwood = _check_deadwood(check, root.get("deadwood", []))
    heel = _check_amount(check, root.get("floor_heel_l", 0), "floor_heel_l")
    sump = _check_sump(check, root["sump"]) if "sump" in root else None
    safe = check.number(root.get("safe_fill_pct", 100), "safe_fill_pct")
    if safe is not None and not 0 < safe <= 100:
        check.add("safe_fill_pct", f"{safe:g} % is outside 0 to 100 %")
    filling = _check_filling(check, root)
    check.raise_any()
    assert shape is not None and slope is not None and safe is not None
    try:
        built = build_shape(shape, slope, lengths.get("gauge_position_mm"))
    except InputError as error:
        raise error.under("shape") from None
    position = lengths.get("gauge_position_mm")
    if position is not None and position > built.length * 1000 * (1 + 1e-9):
        check.add(
            "gauge_position_mm", f"{position:g} mm is past the end: the tank is {built.length * 1000:g} mm long"
        )
    _check_uncertainty(check, root, shape)
    check.raise_any()

    def metres(key: str) -> float | None:
        value = lengths.get(key)
        return None if value is None else value / 1000

    reference = metres("reference_height_mm")
    tank = Tank(
        built,
        built.inside_height if reference is None else reference,
        deadwood,
        heel / 1000,
        sump,
        metres("outlet_height_mm"),
        metres("overflow_height_mm"),
        safe / 100 if "safe_fill_pct" in root else None,
        filling,
    )
    tank.check()
    limits_of(tank)
    return tank


def _check_filling(check: Checker, root: Mapping[str, Any]) -> float | None:
    """Share of the capacity that liquid under pressure may fill [1]: the code's own figure, or the usual one."""
    stated = check.number(root["filling_limit_pct"], "filling_limit_pct") if "filling_limit_pct" in root else None
    source = root.get("filling_limit_source", "")
    if "filling_limit_source" in root:
        check.text(source, "filling_limit_source", 200)
    usual = usual_filling(root)
    if stated is not None and not 0 < stated <= 100:
        check.add("filling_limit_pct", f"{stated:g} % is outside 0 to 100 %")
    elif stated is not None and not str(source).strip():
        check.add("filling_limit_source", "say which code gives that figure, for this vessel and product")
    return None if usual is None else usual if stated is None else stated / 100


#: Heads that a vessel has which was built for pressure: an open tank's are flat or dished with a knuckle.
_PRESSURE_HEADS = ("hemispherical", "ellipsoidal")


def usual_filling(root: Mapping[str, Any]) -> float | None:
    """Share of its capacity that a vessel under pressure may be filled to [1]; None for what is not under pressure.

    Notes
    -----
    What is in no list may be a liquefied gas: in a vessel that was built for pressure it is taken for one.
    """
    product, shape = root.get("product", ""), root.get("shape", {})
    if not isinstance(product, str):
        return None
    found = product_of(product)
    if found.fills_to is not None or found.known or not product.strip() or not isinstance(shape, Mapping):
        return found.fills_to
    heads = [shape.get(end) for end in ("left_head", "right_head", "bottom", "top")]
    domed = any(isinstance(head, Mapping) and head.get("kind") in _PRESSURE_HEADS for head in heads)
    return USUAL_FILLING if shape.get("kind") == "sphere" or domed else None


def overfilled(root: Mapping[str, Any]) -> Problem | None:
    """What is wrong with a document's safe fill beside its filling limit; None where nothing is.

    Notes
    -----
    A document that was kept before is opened all the same: its safe fill then counts up to the limit only.
    """
    limit, stated = usual_filling(root), root.get("filling_limit_pct")
    if limit is not None and isinstance(stated, (int, float)):
        limit = stated / 100
    safe = root.get("safe_fill_pct")
    if limit is None or not isinstance(safe, (int, float)) or safe <= limit * 100 + 1e-9:
        return None
    return Problem(
        "safe_fill_pct",
        f"{safe:g} % is above the filling limit of {limit * 100:g} %: a vessel under pressure is not filled above "
        "it; where the code in force gives another figure for it, type that one, and which code, first",
    )


def _check_slope(check: Checker, root: Mapping[str, Any], shape: Mapping[str, Any] | None) -> float | None:
    slope = check.number(root.get("slope_mm_per_m", 0), "slope_mm_per_m")
    if slope is not None and abs(slope) > STEEPEST_MM_PER_M + 1e-6:
        check.add(
            "slope_mm_per_m",
            f"{slope:g} mm/m is steeper than 30° ({STEEPEST_MM_PER_M:.1f} mm/m): is it the rise over the length?",
        )
    kind = SHAPES.get(str(shape.get("kind"))) if shape is not None else None
    if slope and kind is not None and not kind.sloping:
        sloping = ", ".join(k.kind for k in SHAPES.values() if k.sloping)
        check.add(
            "slope_mm_per_m",
            f"is {slope:g}: a {kind.kind} has no length to slope along; set it to 0 (sloping: {sloping})",
        )
    return slope


def _check_kind(check: Checker, value: Mapping[str, Any], where: str, kinds: Mapping[str, Kind]) -> None:
    tag = value.get("kind")
    if not isinstance(tag, str) or tag not in kinds:
        said = "is missing" if "kind" not in value else f"is {_name(tag)}"
        check.add(_at(where, "kind"), f"{said}; known are {', '.join(kinds)}")
        return
    kind = kinds[tag]
    listed = [rows.key for rows in kind.rows]
    keys = [d.key for d in kind.dimensions] + [p.key for p in kind.parts] + listed + [c.key for c in kind.choices]
    required = [d.key for d in kind.dimensions if not d.optional] + [p.key for p in kind.parts if not p.optional]
    check.keys(value, where, ("kind", *keys), tuple(required + listed))
    for dimension in kind.dimensions:
        if dimension.key in value:
            check.dimension(value[dimension.key], _at(where, dimension.key), dimension)
    for part in kind.parts:
        if part.key in value:
            inner = check.mapping(value[part.key], _at(where, part.key))
            if inner is not None:
                allowed = {name: FAMILIES[part.family][name] for name in part.allowed}
                _check_kind(check, inner, _at(where, part.key), allowed)
    for rows in kind.rows:
        if rows.key in value:
            _check_rows(check, value[rows.key], _at(where, rows.key), rows)
    for choice in kind.choices:
        chosen = value.get(choice.key)
        if choice.key in value and (not isinstance(chosen, str) or chosen not in choice.options):
            check.add(_at(where, choice.key), f"must be one of {', '.join(choice.options)}")


def _check_rows(check: Checker, value: Any, where: str, rows: Rows) -> None:
    if not isinstance(value, list):
        check.add(where, f"must be a list, not {_name(value)}")
        return
    if not rows.fewest <= len(value) <= rows.most:
        check.add(where, f"has {len(value)} rows; {rows.fewest} to {rows.most} are taken")
    names = tuple(column.key for column in rows.columns)
    for index, item in enumerate(value[: rows.most]):
        place = f"{where}[{index}]"
        if rows.pairs:
            if not isinstance(item, Sequence) or isinstance(item, str) or len(item) != len(names):
                check.add(place, f"must be a pair of numbers, [{', '.join(names)}]")
                continue
            cells: Mapping[str, Any] = dict(zip(names, item, strict=True))
        else:
            mapping = check.mapping(item, place)
            if mapping is None:
                continue
            check.keys(mapping, place, names, names)
            cells = mapping
        for column in rows.columns:
            if column.key in cells:
                check.dimension(cells[column.key], _at(place, column.key), column)


def _check_amount(check: Checker, value: Any, where: str) -> float:
    number = check.number(value, where)
    if number is not None and number < 0:
        check.add(where, f"{number:g} L must not be below 0")
    return number or 0.0


def _check_sump(check: Checker, value: Any) -> Sump | None:
    part = check.mapping(value, "sump")
    if part is None:
        return None
    check.keys(part, "sump", _SUMP_KEYS, _SUMP_KEYS)
    depth = check.length(part.get("depth_mm", 1), "sump.depth_mm")
    volume = _check_amount(check, part.get("volume_l", 0), "sump.volume_l")
    return None if depth is None else Sump(depth / 1000, volume / 1000)


def _check_deadwood(check: Checker, value: Any) -> tuple[Deadwood, ...]:
    if not isinstance(value, list):
        check.add("deadwood", f"must be a list, not {_name(value)}")
        return ()
    parts = []
    for index, item in enumerate(value[:200]):
        where = f"deadwood[{index}]"
        part = check.mapping(item, where)
        if part is None:
            continue
        check.keys(part, where, _DEADWOOD_KEYS, _DEADWOOD_KEYS)
        start = check.length(part.get("from_mm", 0), f"{where}.from_mm", may_be_zero=True)
        end = check.length(part.get("to_mm", 1), f"{where}.to_mm")
        volume = check.number(part.get("volume_l", 0), f"{where}.volume_l")
        if start is None or end is None or volume is None:
            continue
        if end <= start:
            check.add(f"{where}.to_mm", f"{end:g} mm must be above from_mm, {start:g} mm")
            continue
        parts.append(Deadwood(start / 1000, end / 1000, volume / 1000))
    if len(value) > 200:
        check.add("deadwood", f"has {len(value)} parts; at most 200 are taken")
    return tuple(parts)


def _check_uncertainty(check: Checker, root: Mapping[str, Any], shape: Mapping[str, Any]) -> None:
    known = (*tolerance_keys(root), *NO_EFFECT)
    entries = check.mapping(root.get("uncertainty", {}), "uncertainty")
    if entries is not None:
        check.keys(entries, "uncertainty", known, ())
        for key, entry in entries.items():
            where = f"uncertainty.{key}"
            half_width = check.number(entry, where) if key in known else None
            if half_width is None:
                continue
            if half_width < 0 or (key.endswith("_mm") and half_width > 100_000):
                check.add(where, f"± {half_width:g} is not a half-width: it must be 0 or more")
                continue
            nominal = root.get(key) if key in NO_EFFECT else nominal_of(root, key)
            sized = key not in ("slope_mm_per_m", "gauge_position_mm")
            if half_width and nominal and sized and half_width >= abs(nominal) / 2:
                unit = UNIT_ENDINGS[key.rpartition("_")[2]]
                check.add(where, f"± {half_width:g} {unit} on {nominal:g} {unit} says nothing: measure it again")
    ways = check.mapping(root.get("measured", {}), "measured")
    if ways is not None:
        check.keys(ways, "measured", ("all", *known), ())
        for key, way in ways.items():
            if not isinstance(way, str) or way not in METHODS:
                check.add(f"measured.{key}", f"must be one of {', '.join(METHODS)}")
