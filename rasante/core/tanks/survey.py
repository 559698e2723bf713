"""The survey: what is typed at the tank, field by field, turned into a tank file's document.

Fields are named by their place in the document (``shape.left_head.depth_mm``), so that a problem found anywhere
lands at the field that caused it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from ..errors import InputError
from ..judgement import Judgement
from ..units import System, read_number, read_quantity, show, with_unit
from .kinds import HEADS, SHAPES, Kind, check_range, heads_allowed
from .tank import Tank
from .tank_file import FORMAT, TankFile, check_document

State = Literal["empty", "read", "wrong"]
_MULTIPLE = re.compile(r"^\s*(?P<number>[\d.,]+)\s*[×x*]?\s*[dD]\s*$")


@dataclass(frozen=True)
class Field:
    """One field of the survey as it was understood.

    Parameters
    ----------
    path : str
        Its place in the document.
    state : {"empty", "read", "wrong"}
        Whether there is anything typed, and whether it was accepted.
    value_mm : float or None
        A length [mm], where it is one and was read.
    kept : str
        What was typed, with its unit added if it had none.
    problem : str
        What is wrong with it, if anything.
    """

    path: str
    state: State
    value_mm: float | None
    kept: str
    problem: str


@dataclass(frozen=True)
class Survey:
    """A survey as far as it has been typed.

    Parameters
    ----------
    fields : mapping of str to Field
        Every field that the chosen shape asks for.
    document : mapping
        The document, whole only if `file` is there.
    file : TankFile or None
        The tank, once every field is in and nothing contradicts.
    drawn : TankFile or None
        The tank as it can be drawn and computed already, named or not.
    """

    fields: Mapping[str, Field]
    document: Mapping[str, Any]
    file: TankFile | None
    drawn: TankFile | None

    def require(self) -> TankFile:
        """Return the tank, or raise `InputError` with what each field still lacks."""
        if self.file is not None:
            return self.file
        error = [f for f in self.fields.values() if f.problem]
        raise InputError(*(InputError.at(f.path, f.problem).problems[0] for f in error))


class _Reader:
    def __init__(self, entries: Mapping[str, str], system: System) -> None:
        self.entries, self.system = entries, system
        self.fields: dict[str, Field] = {}
        self.diameter_mm: float | None = None

    def text(self, path: str) -> str:
        return str(self.entries.get(path, ""))

    def length(self, path: str, optional: bool = False) -> float | None:
        typed = self.text(path)
        if not typed.strip():
            self._field(path, "empty", None, "", "" if optional else "is not typed yet")
            return None
        if _MULTIPLE.match(typed) and self.diameter_mm is None:
            self._field(path, "empty", None, typed, "is a multiple of the inside diameter: type that first")
            return None
        try:
            value = self._read(typed, path)
            check_range(value, path, may_be_zero=optional)
        except InputError as error:
            self._field(path, "wrong", None, typed, error.problems[0].what)
            return None
        self._field(path, "read", value, with_unit(typed, "length", self.system), "")
        return value

    def _read(self, typed: str, path: str) -> float:
        multiple = _MULTIPLE.match(typed)
        if multiple is None or self.diameter_mm is None:
            return round(read_quantity(typed, "length", self.system, path) * 1000, 9)
        return round(read_number(multiple["number"]) * self.diameter_mm, 9)

    def volume_l(self, path: str) -> float | None:
        typed = self.text(path)
        try:
            value = round(read_quantity(typed, "volume", self.system, path) * 1000, 9)
        except InputError as error:
            self._field(path, "wrong", None, typed, error.problems[0].what)
            return None
        self._field(path, "read", None, with_unit(typed, "volume", self.system), "")
        return value

    def _field(self, path: str, state: State, value: float | None, kept: str, problem: str) -> None:
        self.fields[path] = Field(path, state, value, kept, problem)

    def blame(self, path: str, what: str) -> None:
        """Lay a problem at the field it belongs to, or at the nearest field above it."""
        while path not in self.fields and "." in path:
            path = path.rpartition(".")[0]
        old = self.fields.get(path)
        self._field(path, "wrong", old.value_mm if old else None, old.kept if old else "", what)

    def kind(self, path: str, kinds: Mapping[str, Kind], allowed: tuple[str, ...]) -> Kind | None:
        chosen = self.text(path)
        if chosen not in allowed:
            what = "is not chosen yet" if not chosen else f"“{chosen}” is not one of {', '.join(allowed)}"
            self._field(path, "wrong" if chosen else "empty", None, chosen, what)
            return None
        self._field(path, "read", None, chosen, "")
        return kinds[chosen]


def read_survey(entries: Mapping[str, str], system: System = "metric") -> Survey:
    """Read a survey as far as it has been typed.

    Parameters
    ----------
    entries : mapping of str to str
        Text by path. Lengths are as `units.read_quantity` takes them; those of a head may also be multiples of
        the inside diameter (``0.06 D``). Paths that the chosen shape does not ask for are passed over.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    Survey
        Never raises for what is typed: problems stand at the fields.
    """
    reader = _Reader(entries, system)
    document: dict[str, Any] = {"format": FORMAT, "name": reader.text("name").strip()}
    missing = "" if document["name"] else "is not typed yet: name the tank as it is painted on it"
    reader._field("name", "empty" if missing else "read", None, reader.text("name"), missing)
    reader._field("product", "read", None, reader.text("product"), "")
    if reader.text("product").strip():
        document["product"] = reader.text("product").strip()
    shape = _read_shape(reader)
    if shape is not None:
        document["shape"] = shape
    for path in ("reference_height_mm", "gauge_position_mm"):
        value = reader.length(path, optional=True)
        if value is not None:
            document[path] = value
    deadwood = _read_deadwood(reader)
    if deadwood:
        document["deadwood"] = deadwood
    stated = {
        path.removeprefix("uncertainty."): value
        for path in entries
        if path.startswith("uncertainty.")
        and _is_stated(reader, path.removeprefix("uncertainty."))
        and (value := reader.length(path, optional=True)) is not None
    }
    if stated:
        document["uncertainty"] = stated
    drawn = None
    if not any(field.problem for field in reader.fields.values() if field.path != "name"):
        try:
            drawn = check_document({**document, "name": document["name"] or "unnamed"})
        except InputError as error:
            for problem in error.problems:
                reader.blame(problem.where, problem.what)
    whole = drawn is not None and not reader.fields["name"].problem
    return Survey(reader.fields, document, drawn if whole else None, drawn)


def _is_stated(reader: _Reader, key: str) -> bool:
    return key == "reference_height_mm" or f"shape.{key}" in reader.fields


def _read_shape(reader: _Reader) -> dict[str, Any] | None:
    kind = reader.kind("shape.kind", SHAPES, tuple(SHAPES))
    if kind is None:
        return None
    shape: dict[str, Any] = {"kind": kind.kind}
    _read_dimensions(reader, kind, "shape", shape)
    reader.diameter_mm = shape.get("diameter_mm")
    for key, _ in kind.heads:
        allowed = heads_allowed(kind.kind)
        head_kind = reader.kind(f"shape.{key}.kind", HEADS, allowed)
        if head_kind is not None:
            shape[key] = {"kind": head_kind.kind}
            _read_dimensions(reader, head_kind, f"shape.{key}", shape[key])
    return shape


def _read_dimensions(reader: _Reader, kind: Kind, where: str, into: dict[str, Any]) -> None:
    for dimension in kind.dimensions:
        value = reader.length(f"{where}.{dimension.key}", optional=dimension.optional)
        if value is not None:
            into[dimension.key] = value


def _read_deadwood(reader: _Reader) -> list[dict[str, float]]:
    count = sum(1 for path in reader.entries if re.fullmatch(r"deadwood\[\d+\]\.volume_l", path))
    parts = []
    for index in range(min(count, 200)):
        where = f"deadwood[{index}]"
        start = reader.length(f"{where}.from_mm", optional=True) or 0.0
        end = reader.length(f"{where}.to_mm")
        volume = reader.volume_l(f"{where}.volume_l")
        if end is not None and volume is not None:
            parts.append({"from_mm": start, "to_mm": end, "volume_l": volume})
    return parts


def judge_reference(tank: Tank, system: System) -> list[Judgement]:
    """Judge the reference height: it is above the inside top wherever a riser or a nozzle carries the instrument."""
    below = tank.inside_height - tank.reference_height_m
    if below <= 1e-9:
        return []
    text = (
        f"The reference point is {show(below, 'length', system)} below the inside top: ullage runs below zero there. "
        "Was the riser taken off twice?"
    )
    return [Judgement("watch", "reference-low", text)]


def entries_of(document: Mapping[str, Any]) -> dict[str, str]:
    """Write a checked document as the text of a survey's fields, lengths in millimetres."""
    entries: dict[str, str] = {"name": str(document["name"]), "product": str(document.get("product", ""))}

    def write(value: Any, path: str) -> None:
        if isinstance(value, Mapping):
            for key, inner in value.items():
                write(inner, f"{path}.{key}" if path else key)
        elif isinstance(value, list):
            for index, inner in enumerate(value):
                write(inner, f"{path}[{index}]")
        elif isinstance(value, str):
            entries[path] = value
        else:
            entries[path] = f"{value!r} {'L' if path.endswith('_l') else 'mm'}"

    for key in ("shape", "reference_height_mm", "gauge_position_mm", "deadwood", "uncertainty"):
        if key in document:
            write(document[key], key)
    entries.update({f"uncertainty.{key}": f"{value!r} mm" for key, value in document.get("uncertainty", {}).items()})
    return entries
