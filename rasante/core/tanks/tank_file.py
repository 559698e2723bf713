"""The tank file, ``rasante.tank/1``: reading, checking and writing it.

The document itself is the one truth about a tank's shape. It is kept as it was written (millimetres, litres);
the computation works on the `Tank` that is built from it.
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from importlib import resources
from typing import Any

from ..errors import InputError, Problem
from .kinds import HEADS, SHAPES, Kind, build_shape, check_range, heads_allowed
from .tank import Deadwood, Tank

FORMAT = "rasante.tank/1"
LARGEST_FILE = 1_000_000
_KEYS = (
    "format",
    "name",
    "product",
    "shape",
    "slope_mm_per_m",
    "gauge_position_mm",
    "reference_height_mm",
    "deadwood",
    "uncertainty",
)
_DEADWOOD_KEYS = ("from_mm", "to_mm", "volume_l")


@dataclass(frozen=True)
class TankFile:
    """A checked tank file.

    Parameters
    ----------
    document : mapping
        The document as it was written.
    tank : Tank
        What the computation works on.
    """

    document: Mapping[str, Any]
    tank: Tank

    @property
    def name(self) -> str:
        """The tank's name."""
        return str(self.document["name"])

    @property
    def product(self) -> str:
        """What it holds, or nothing if that is not stated."""
        return str(self.document.get("product", ""))


def read_tank_file(text: str) -> TankFile:
    """Read a tank file.

    Parameters
    ----------
    text : str
        The JSON text, at most 1 MB; a leading byte order mark is passed over.

    Raises
    ------
    InputError
        With every problem found, each at its key.
    """
    if len(text) > LARGEST_FILE:
        raise InputError.at(
            "",
            f"this is {len(text) / 1e6:.1f} MB; a tank file has at most 1 MB: check that it is the right file",
        )
    return check_document(_load(text.removeprefix("\ufeff")))


def _load(text: str) -> Any:
    def unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        seen: dict[str, Any] = {}
        for key, value in pairs:
            if key in seen:
                raise InputError.at(key, "this key is written twice in one object: keep one of them")
            seen[key] = value
        return seen

    def constant(name: str) -> float:
        raise InputError.at("", f"{name} is not a number a tank file may hold: write a finite number")

    if not text.strip():
        raise InputError.at("", "there is nothing in it: paste or pick a tank file")
    try:
        return json.loads(text, object_pairs_hook=unique, parse_constant=constant)
    except json.JSONDecodeError as error:
        raise InputError.at("", f"not JSON at line {error.lineno}, column {error.colno}: {error.msg}") from None
    except InputError:
        raise
    except RecursionError:
        raise InputError.at("", "not a tank file: its brackets are nested far too deep") from None
    except ValueError as error:  # integers with more digits than Python converts
        raise InputError.at("", f"not a tank file: {error}") from None


class _Checker:
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

    def length(self, value: Any, where: str, may_be_zero: bool = False) -> float | None:
        number = self.number(value, where)
        if number is None:
            return None
        try:
            check_range(number, where, may_be_zero)
        except InputError as error:
            self.problems.extend(error.problems)
            return None
        return number

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


def dimension_paths(shape: Mapping[str, Any]) -> list[str]:
    """Return the dotted keys of the lengths that a shape is made of (``diameter_mm``, ``left_head.depth_mm``)."""
    kind = SHAPES[shape["kind"]]
    paths = [dimension.key for dimension in kind.dimensions]
    for key, _ in kind.heads:
        head = shape.get(key)
        if isinstance(head, Mapping) and head.get("kind") in HEADS:
            paths += [f"{key}.{dimension.key}" for dimension in HEADS[head["kind"]].dimensions]
    return paths


def check_document(document: Any) -> TankFile:
    """Check a document that has been read from JSON and build its tank.

    Parameters
    ----------
    document : mapping
        Keys and values as in ``docs/formats/tank-file.md``.

    Raises
    ------
    InputError
        With every problem found, each at its key.
    """
    check = _Checker()
    root = check.mapping(document, "")
    if root is None:
        check.raise_any()
        raise AssertionError
    if root.get("format") != FORMAT:
        found = f"“{str(root['format'])[:40]}”" if "format" in root else "no format"
        raise InputError.at(
            "format", f"must be “{FORMAT}”, and this says {found}: it is not a tank file of this kind"
        )
    check.keys(root, "", _KEYS, ("format", "name", "shape"))
    if "name" in root:
        check.text(root["name"], "name", 120)
        if isinstance(root["name"], str) and not root["name"].strip():
            check.add("name", "must not be empty: name the tank as it is painted on it")
    if "product" in root:
        check.text(root["product"], "product", 60)
    shape = check.mapping(root["shape"], "shape") if "shape" in root else None
    if shape is not None:
        _check_kind(check, shape, "shape", SHAPES)
    slope = check.number(root.get("slope_mm_per_m", 0), "slope_mm_per_m")
    if slope:
        check.add("slope_mm_per_m", f"is {slope:g}: only level tanks are computed; set it to 0 or leave it out")
    reference = (
        check.length(root["reference_height_mm"], "reference_height_mm") if "reference_height_mm" in root else None
    )
    deadwood = _check_deadwood(check, root.get("deadwood", []))
    check.raise_any()
    assert shape is not None
    try:
        built = build_shape(shape)
    except InputError as error:
        raise error.under("shape") from None
    if "gauge_position_mm" in root:
        position = check.length(root["gauge_position_mm"], "gauge_position_mm", may_be_zero=True)
        if position is not None and position > built.length * 1000 * (1 + 1e-9):
            check.add(
                "gauge_position_mm",
                f"{position:g} mm is past the end: the tank is {built.length * 1000:g} mm long",
            )
    _check_uncertainty(check, root.get("uncertainty", {}), shape, root)
    check.raise_any()
    tank = Tank(built, built.inside_height if reference is None else reference / 1000, deadwood)
    tank.check()
    return TankFile(root, tank)


def _check_kind(check: _Checker, value: Mapping[str, Any], where: str, kinds: Mapping[str, Kind]) -> None:
    tag = value.get("kind")
    if not isinstance(tag, str) or tag not in kinds:
        said = "is missing" if "kind" not in value else f"is {_name(tag)}"
        check.add(_at(where, "kind"), f"{said}; known are {', '.join(kinds)}")
        return
    kind = kinds[tag]
    keys = tuple(d.key for d in kind.dimensions) + tuple(key for key, _ in kind.heads)
    required = tuple(d.key for d in kind.dimensions if not d.optional) + tuple(key for key, _ in kind.heads)
    check.keys(value, where, ("kind", *keys), required)
    for dimension in kind.dimensions:
        if dimension.key in value:
            check.length(value[dimension.key], _at(where, dimension.key), may_be_zero=dimension.optional)
    allowed = {name: HEADS[name] for name in heads_allowed(tag)} if kind.heads else {}
    for key, _ in kind.heads:
        if key in value:
            head = check.mapping(value[key], _at(where, key))
            if head is not None:
                _check_kind(check, head, _at(where, key), allowed)


def _check_deadwood(check: _Checker, value: Any) -> tuple[Deadwood, ...]:
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


def _check_uncertainty(check: _Checker, value: Any, shape: Mapping[str, Any], root: Mapping[str, Any]) -> None:
    entries = check.mapping(value, "uncertainty")
    if entries is None:
        return
    known = (*dimension_paths(shape), "reference_height_mm", "slope_mm_per_m", "gauge_position_mm")
    check.keys(entries, "uncertainty", known, ())
    for key, entry in entries.items():
        half_width = check.length(entry, f"uncertainty.{key}", may_be_zero=True) if key in known else None
        nominal = value_at(shape, key) if key in dimension_paths(shape) else root.get(key)
        if half_width and nominal and half_width >= nominal / 2:
            check.add(f"uncertainty.{key}", f"± {half_width:g} mm on {nominal:g} mm says nothing: measure it again")


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


def write_tank_file(document: Mapping[str, Any]) -> str:
    """Write a document as the text of a tank file, keys in the order of the format."""
    ordered = {key: document[key] for key in _KEYS if key in document}
    return json.dumps(ordered, indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema of the tank file that ships with the project."""
    text = resources.files(__package__).joinpath("tank_file.schema.json").read_text("utf-8")
    schema: dict[str, Any] = json.loads(text)
    return schema
