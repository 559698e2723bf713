"""The survey: what is typed at the tank, field by field, turned into a tank file's document.

Fields are named by their place in the document (``shape.left_head.depth_mm``), so that a problem found anywhere
lands at the field that caused it. Under ``how.`` stands what a helper works a field out from, under ``dip.`` the
day's dip.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from math import isfinite
from typing import Any

from ..quantities.errors import InputError
from ..quantities.judgement import Judgement, watch
from ..quantities.typed import read_number, read_quantity, with_unit
from ..quantities.units import System, show
from .build import build_part, check_range
from .check import FORMAT, overfilled, usual_filling
from .helpers import DIP_READ, HELPERS, LESS_HEADS, Dip, read_dip, work_out
from .kinds import SHAPES, Dimension
from .measured import METHODS
from .solve import Solution, solve_dimension
from .survey_reader import Field, Reader
from .tank import Tank
from .tank_file import TankFile, check_document
from .tolerances import NO_EFFECT, tolerance_keys, with_value

#: Lengths beside the shape: key, and whether they may be below 0.
_LENGTHS = (
    ("reference_height_mm", False),
    ("gauge_position_mm", False),
    ("outlet_height_mm", True),
    ("overflow_height_mm", False),
)


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
    solution : Solution or None
        The dimension that was worked out from the capacity, if one was.
    dip : Dip or None
        The day's dip, if one was typed.
    """

    fields: Mapping[str, Field]
    document: Mapping[str, Any]
    file: TankFile | None
    drawn: TankFile | None
    solution: Solution | None = None
    dip: Dip | None = None

    def require(self) -> TankFile:
        """Return the tank, or raise `InputError` with what each field still lacks."""
        if self.file is not None:
            return self.file
        error = [f for f in self.fields.values() if f.problem]
        raise InputError(*(InputError.at(f.path, f.problem).problems[0] for f in error))


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
    reader = Reader(entries, system)
    document: dict[str, Any] = {"format": FORMAT, "name": reader.text("name").strip()}
    missing = "" if document["name"] else "is not typed yet: name the tank as it is painted on it"
    reader.put("name", "empty" if missing else "read", kept=reader.text("name"), problem=missing)
    reader.put("product", "read", kept=reader.text("product"))
    if reader.text("product").strip():
        document["product"] = reader.text("product").strip()
    kind = reader.kind("shape.kind", SHAPES, tuple(SHAPES), optional=False)
    if kind is not None:
        document["shape"] = {"kind": kind.kind}
        reader.whole_kind(kind, "shape", document["shape"])
        _less_heads(reader, document["shape"])
        if kind.sloping:
            slope = reader.slope("slope_mm_per_m")
            if slope:
                document["slope_mm_per_m"] = slope
    _read_beside(reader, document)
    _read_tolerances(reader, document)
    solution = _solve(reader, document)
    drawn = None
    if not any(field.problem for field in reader.fields.values() if field.path != "name"):
        try:
            drawn = check_document({**document, "name": document["name"] or "unnamed"})
        except InputError as error:
            for problem in error.problems:
                reader.blame(problem.where, problem.what)
    dip = _read_the_dip(reader, drawn)
    # A dip that cannot be read is no reason not to keep the tank; it says so at its own field.
    whole = drawn is not None and not reader.fields["name"].problem
    return Survey(reader.fields, document, drawn if whole else None, drawn, solution, dip)


def _less_heads(reader: Reader, shape: dict[str, Any]) -> None:
    """Take the heads and two plates off the overall length, if that is how the shell's length was measured."""
    path = reader.overall
    if path is None or reader.diameter_mm is None:
        return
    radius = reader.diameter_mm / 2000
    first = f"how.{path}.{HELPERS[LESS_HEADS].measures[0].key}"
    try:
        worked = work_out(LESS_HEADS, reader.entries, f"how.{path}", reader.system)
        heads = [build_part("head", shape[key]).depth(radius) for key in ("left_head", "right_head")]
        length = round((worked.value_m - sum(heads)) * 1000, 6)
        check_range(length, path, next(one for one in SHAPES[shape["kind"]].dimensions if path.endswith(one.key)))
    except KeyError:
        return  # the heads are not all typed yet
    except InputError as error:
        problem = error.problems[0]
        typed = reader.text(first).strip()
        if problem.where in reader.fields and reader.text(problem.where).strip():
            reader.blame(problem.where, problem.what)
        reader.put(path, "wrong" if typed else "empty", problem=problem.what)
        return
    for place, text in worked.kept.items():
        reader.put(place, "read" if text else "empty", kept=text)
    reader.put(path, "read", length, says=HELPERS[LESS_HEADS].formula)
    shape[path.removeprefix("shape.")] = length


def _read_beside(reader: Reader, document: dict[str, Any]) -> None:
    """Read what stands beside the shape: where it is read, what is below the floor, and what bounds its use."""
    for key, signed in _LENGTHS:
        value = reader.number(key, Dimension(key, "", "", optional=True, signed=signed))
        if value is not None:
            document[key] = value
    deadwood = _read_deadwood(reader)
    if deadwood:
        document["deadwood"] = deadwood
    heel = reader.volume_l("floor_heel_l")
    if heel:
        document["floor_heel_l"] = heel
    depth = reader.number("sump.depth_mm", Dimension("depth_mm", "", "", optional=True))
    held = reader.volume_l("sump.volume_l")
    if depth and held is not None:
        document["sump"] = {"depth_mm": depth, "volume_l": held}
    elif depth or held is not None:
        lacking = "sump.volume_l" if depth else "sump.depth_mm"
        if not reader.fields[lacking].problem:
            reader.blame(lacking, "a sump has a depth and a volume: type both")
    _read_filling(reader, document)


def _read_filling(reader: Reader, document: dict[str, Any]) -> None:
    """Read how far it may be filled, and the code's own figure for a vessel under pressure."""
    safe = reader.percent("safe_fill_pct")
    if safe is not None:
        document["safe_fill_pct"] = safe
    filling, source = reader.percent("filling_limit_pct"), reader.text("filling_limit_source").strip()
    reader.put("filling_limit_source", "read" if source else "empty", kept=source)
    usual = usual_filling(document)
    if filling is not None:
        document["filling_limit_pct"] = filling
    elif usual is not None and not reader.fields["filling_limit_pct"].problem:
        reader.put("filling_limit_pct", "empty", says=f"{usual * 100:g} % while nothing better is known")
    if source:
        document["filling_limit_source"] = source
        if filling is None and not reader.fields["filling_limit_pct"].problem:
            reader.blame("filling_limit_pct", "type the figure that the code gives")
    above = overfilled(document)
    if above is not None:
        reader.blame(above.where, above.what)


def _read_tolerances(reader: Reader, document: dict[str, Any]) -> None:
    try:
        known = {"all", *tolerance_keys(document), *NO_EFFECT}
    except (KeyError, IndexError, ValueError, TypeError):
        known = {"all"}  # the shape is not typed to its end yet
    stated: dict[str, float] = {}
    ways: dict[str, str] = {}
    for path in reader.entries:
        head, _, key = path.partition(".")
        if head == "measured" and (way := reader.text(path)):
            good = way in METHODS and key in known
            reader.put(path, "read", kept=way)
            if good:
                ways[key] = way
        elif head == "uncertainty" and (key in known or f"shape.{key}" in reader.fields):
            value = _half_width(reader, path, key)
            if value is not None:
                stated[key] = value
    if stated:
        document["uncertainty"] = {key: value for key, value in stated.items() if key in known}
    if ways:
        document["measured"] = ways


def _half_width(reader: Reader, path: str, key: str) -> float | None:
    system = reader.system
    if key == "slope_mm_per_m":
        return reader.other(
            path,
            lambda text: read_quantity(text, "slope", system, path),
            lambda text: with_unit(text, "slope", system),
        )
    if key.endswith("_pct"):
        return reader.percent(path)
    if key.endswith("_l"):
        return reader.volume_l(path)
    return reader.other(
        path,
        lambda text: round(read_quantity(text, "length", system, path) * 1000, 9),
        lambda text: with_unit(text, "length", system),
    )


def _solve(reader: Reader, document: dict[str, Any]) -> Solution | None:
    """Work the unknown dimension out, if one is to be and everything else is in."""
    path = reader.unknown
    if path is None:
        return None
    waiting = reader.fields[path]
    others = [f for f in reader.fields.values() if f.problem and f.path not in ("name", path)]
    if not path.startswith("shape.") or others:
        if not path.startswith("shape."):
            reader.put(path, "wrong", problem="cannot be worked out from the capacity: measure it")
        return None
    try:
        capacity = read_quantity(reader.text(f"how.{path}.capacity"), "volume", reader.system, f"how.{path}.capacity")
        within = reader.text(f"how.{path}.within")
        half = capacity * 0.01
        if within.strip():
            share = re.fullmatch(r"\s*([\d.,]+)\s*%\s*", within)
            half = (
                capacity * read_number(share[1]) / 100
                if share
                else read_quantity(within, "volume", reader.system, f"how.{path}.within")
            )
        solution = solve_dimension(document, path.removeprefix("shape."), capacity, abs(half), reader.shares)
    except InputError as error:
        problem = error.problems[0]
        at = problem.where if problem.where.startswith("how.") else path
        typed = reader.text(f"how.{path}.capacity").strip()
        reader.put(path, "wrong" if typed else "empty", kept=waiting.kept, problem=problem.what)
        if at != path and typed:
            reader.blame(at, problem.what)
        return None
    for key, quantity in (("capacity", "volume"), ("within", "volume")):
        place = f"how.{path}.{key}"
        reader.put(place, "read", kept=with_unit(reader.text(place), quantity, reader.system))
    reader.put(path, "read", round(solution.value_mm, 6), "", says="worked out from the capacity")
    *parents, last = path.removeprefix("shape.").split(".")
    target = document["shape"]
    for parent in parents:
        target = target[parent]
    target[last] = round(solution.value_mm, 6)
    for key, ratio in reader.shares.items():
        length = round(ratio * solution.value_mm, 6)
        document["shape"] = with_value(document["shape"], key, length)
        reader.put(f"shape.{key}", "read", length, reader.fields[f"shape.{key}"].kept)
    if isfinite(solution.half_width_mm):
        # What the capacity leaves open is what this dimension may be off, whatever was stated for it before.
        half_width = min(round(solution.half_width_mm, 1), solution.value_mm * 0.45)
        document["uncertainty"] = {**document.get("uncertainty", {}), solution.path: half_width}
    return solution


def _read_deadwood(reader: Reader) -> list[dict[str, float]]:
    parts = []
    for index in range(min(reader.count("deadwood", "volume_l"), 200)):
        where = f"deadwood[{index}]"
        start = reader.number(f"{where}.from_mm", Dimension("from_mm", "", "", optional=True)) or 0.0
        end = reader.number(f"{where}.to_mm", Dimension("to_mm", "", ""))
        volume = reader.number(f"{where}.volume_l", Dimension("volume_l", "", "", signed=True))
        if end is not None and volume is not None:
            parts.append({"from_mm": start, "to_mm": end, "volume_l": volume})
    return parts


def _read_the_dip(reader: Reader, drawn: TankFile | None) -> Dip | None:
    """Read the day's dip; what is wrong with it stands at its own fields."""
    for key in ("product", "water"):
        text = reader.text(f"dip.{key}")
        kept = with_unit(text, "length", reader.system)
        reader.put(f"dip.{key}", "read" if text.strip() else "empty", kept=kept)
    way = reader.text("dip.read")
    reader.put("dip.read", "read", kept=way if way in DIP_READ else "")
    if drawn is None:
        return None
    try:
        dip = read_dip(reader.entries, drawn.tank.reference_height_m, reader.system)
        if dip is not None and dip.level_m > drawn.tank.inside_height * (1 + 1e-9):
            raise InputError.at(
                "dip.product",
                f"an innage of {show(dip.level_m, 'length', reader.system)} is above the inside top, "
                f"{show(drawn.tank.inside_height, 'length', reader.system)}",
            )
    except InputError as error:
        for problem in error.problems:
            reader.blame(problem.where, problem.what)
        return None
    return dip


def judge_reference(tank: Tank) -> list[Judgement]:
    """Judge the reference height: it is above the inside top wherever a riser or a nozzle carries the instrument."""
    below = tank.inside_height - tank.reference_height_m
    if below <= 1e-9:
        return []
    text = (
        "The reference point is {value:length} below the inside top: ullage runs below zero there. Was the riser "
        "taken off twice?"
    )
    return [watch("reference-low", text, value=below, limit=0.0)]


def entries_of(document: Mapping[str, Any]) -> dict[str, str]:
    """Write a checked document as the text of a survey's fields, in the document's own units."""
    entries: dict[str, str] = {"name": str(document["name"]), "product": str(document.get("product", ""))}
    pairs = {"points": ("level_mm", "volume_l"), "points_mm": ("x_mm", "z_mm")}
    units = {"l": "L", "c": "°C", "pct": "%", "m": "mm/m"}

    def write(value: Any, path: str) -> None:
        if isinstance(value, Mapping):
            for key, inner in value.items():
                write(inner, f"{path}.{key}" if path else key)
        elif isinstance(value, list):
            names = pairs.get(path.rpartition(".")[2])
            for index, inner in enumerate(value):
                row = dict(zip(names, inner, strict=True)) if names else inner
                write(row, f"{path}[{index}]")
        elif isinstance(value, str):
            entries[path] = value
        else:
            entries[path] = f"{value!r} {units.get(path.rpartition('_')[2], 'mm')}"

    for key, value in document.items():
        if key not in ("format", "name", "product"):
            write(value, key)
    return entries
