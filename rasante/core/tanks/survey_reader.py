"""Reading a survey field by field: every kind of field, its helper if it has one, and where problems are laid."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from ..quantities.errors import InputError
from ..quantities.odd_units import show_slope, show_temperature
from ..quantities.typed import read_number, read_quantity, with_unit
from ..quantities.units import System
from .build import check_range
from .helpers import HELPERS, LESS_HEADS, work_out
from .kinds import FAMILIES, Dimension, Kind, Rows
from .polygon import from_widths

State = Literal["empty", "read", "wrong"]
_MULTIPLE = re.compile(r"^\s*(?P<number>[\d.,]+)\s*[×x*]?\s*[dD]\s*$")
#: The way to a dimension that is no helper: solved from the data plate's capacity once the rest is in.
FROM_CAPACITY = "capacity"
#: A diameter that shares of it are counted by while it is not known yet [mm].
TRIAL_MM = 1000.0


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
    says : str
        What was understood, where it is no length.
    """

    path: str
    state: State
    value_mm: float | None
    kept: str
    problem: str
    says: str = ""


class Reader:
    """Reads the fields of one survey and remembers what was made of each."""

    def __init__(self, entries: Mapping[str, str], system: System) -> None:
        self.entries, self.system = entries, system
        self.fields: dict[str, Field] = {}
        self.diameter_mm: float | None = None
        #: The dimension that is to be solved from the capacity, if one is.
        self.unknown: str | None = None
        #: Dimensions of the shape that were typed as a share of the diameter, while that is to be solved.
        self.shares: dict[str, float] = {}
        #: The dimension that is what is left of the overall length, once the heads are known.
        self.overall: str | None = None

    def text(self, path: str) -> str:
        """What was typed at a path."""
        return str(self.entries.get(path, ""))

    def put(
        self, path: str, state: State, value: float | None = None, kept: str = "", problem: str = "", says: str = ""
    ) -> None:
        """Remember what was made of a field."""
        self.fields[path] = Field(path, state, value, kept, problem, says)

    def blame(self, path: str, what: str) -> None:
        """Lay a problem at the field it belongs to, at its row of a list, or at the nearest field above it."""
        row = re.fullmatch(r"(.*)\[\d+\]", path)
        while not (row and row[1] in self.fields) and path not in self.fields and "." in path:
            path = path.rpartition(".")[0]
        old = self.fields.get(path)
        self.put(path, "wrong", old.value_mm if old else None, old.kept if old else "", what)

    def number(self, path: str, dimension: Dimension) -> float | None:
        """Read a dimension in its key's own unit, from its helper if it has one."""
        way = self.text(f"how.{path}")
        if way:
            self.put(f"how.{path}", "read", kept=way)
        if way == FROM_CAPACITY:
            self.unknown = path
            self.keep(f"how.{path}.capacity", f"how.{path}.within")
            self.put(path, "empty", problem="waits for the other dimensions, to be worked out from the capacity")
            return None
        if way == LESS_HEADS:
            self.overall = path
            self.keep(*(f"how.{path}.{measure.key}" for measure in HELPERS[way].measures))
            self.put(path, "empty", problem="waits for the heads, to be taken off the overall length")
            return None
        if way in HELPERS:
            return self.worked(path, way, dimension)
        return self.plain(path, dimension)

    def keep(self, *paths: str) -> None:
        """Keep fields as they are typed."""
        for path in paths:
            self.put(path, "read" if self.text(path).strip() else "empty", kept=self.text(path))

    def worked(self, path: str, way: str, dimension: Dimension) -> float | None:
        """Work a dimension out by a helper."""
        measures = [f"how.{path}.{measure.key}" for measure in HELPERS[way].measures]
        self.keep(*measures)
        try:
            worked = work_out(way, self.entries, f"how.{path}", self.system)
            value = round(worked.value_m * 1000, 9)
            if not path.endswith("mm_per_m"):
                check_range(value, path, dimension)
        except InputError as error:
            first = error.problems[0]
            if first.where in self.fields and self.text(first.where).strip():
                self.blame(first.where, first.what)
            self.put(path, "wrong" if self.text(first.where).strip() else "empty", problem=first.what)
            return None
        for place, text in worked.kept.items():
            self.put(place, "read" if text else "empty", kept=text)
        says = show_slope(value) if path.endswith("mm_per_m") else ""
        self.put(path, "read", None if says else value, "", says=says or HELPERS[way].formula)
        return value

    def plain(self, path: str, dimension: Dimension) -> float | None:
        """Read a dimension as it is typed."""
        typed = self.text(path)
        if not typed.strip():
            self.put(path, "empty", problem="" if dimension.optional else "is not typed yet")
            return None
        multiple = _MULTIPLE.match(typed)
        if multiple and self.diameter_mm is None and self.unknown == "shape.diameter_mm":
            self.shares[path.removeprefix("shape.")] = read_number(multiple["number"])
            self.put(path, "read", kept=typed, says="by the diameter, once that is worked out")
            return self.shares[path.removeprefix("shape.")] * TRIAL_MM
        if multiple and self.diameter_mm is None:
            self.put(path, "empty", kept=typed, problem="is a multiple of the inside diameter: type that first")
            return None
        try:
            value = self._read(typed, path, dimension.quantity)
            check_range(value, path, dimension)
        except InputError as error:
            self.put(path, "wrong", kept=typed, problem=error.problems[0].what)
            return None
        if dimension.quantity == "temperature":
            kept = with_unit(typed, "temperature", self.system)
            self.put(path, "read", None, kept, says=show_temperature(value, self.system))
        elif dimension.quantity == "volume":
            self.put(path, "read", None, with_unit(typed, "volume", self.system))
        else:
            self.put(path, "read", value, with_unit(typed, "length", self.system))
        return value

    def _read(self, typed: str, path: str, quantity: str) -> float:
        if quantity == "temperature":
            return round(read_quantity(typed, "temperature", self.system, path), 6)
        multiple = _MULTIPLE.match(typed)
        if multiple is not None and self.diameter_mm is not None and quantity == "length":
            return round(read_number(multiple["number"]) * self.diameter_mm, 9)
        return round(read_quantity(typed, quantity, self.system, path) * 1000, 9)

    def other(self, path: str, read: Callable[[str], float], keep: Callable[[str], str]) -> float | None:
        """Read an optional field that is no dimension of the shape."""
        typed = self.text(path)
        if not typed.strip():
            self.put(path, "empty")
            return None
        try:
            value = read(typed)
        except InputError as error:
            self.put(path, "wrong", kept=typed, problem=error.problems[0].what)
            return None
        self.put(path, "read", None, keep(typed))
        return value

    def slope(self, path: str) -> float | None:
        """Read a slope [mm/m], from its helper if it has one."""
        way = self.text(f"how.{path}")
        if way in HELPERS:
            self.put(f"how.{path}", "read", kept=way)
            return self.worked(path, way, Dimension(path, "", "", optional=True, signed=True))
        value = self.other(
            path,
            lambda text: round(read_quantity(text, "slope", self.system, path), 9),
            lambda text: with_unit(text, "slope", self.system),
        )
        if value is not None:
            self.put(path, "read", None, self.fields[path].kept, says=show_slope(value))
        return value

    def volume_l(self, path: str) -> float | None:
        """Read an optional volume [L]."""
        return self.other(
            path,
            lambda text: round(read_quantity(text, "volume", self.system, path) * 1000, 9),
            lambda text: with_unit(text, "volume", self.system),
        )

    def percent(self, path: str) -> float | None:
        """Read an optional share [%]."""
        return self.other(
            path,
            lambda text: round(read_quantity(text, "ratio", self.system, path) * 100, 9),
            lambda text: with_unit(text, "ratio", self.system),
        )

    def kind(self, path: str, kinds: Mapping[str, Kind], allowed: tuple[str, ...], optional: bool) -> Kind | None:
        """Read which kind a shape or a part is."""
        chosen = self.text(path)
        if chosen not in allowed:
            if optional and not chosen:
                self.put(path, "empty")
                return None
            what = "is not chosen yet" if not chosen else f"“{chosen}” is not one of {', '.join(allowed)}"
            self.put(path, "wrong" if chosen else "empty", kept=chosen, problem=what)
            return None
        self.put(path, "read", kept=chosen)
        return kinds[chosen]

    def whole_kind(self, kind: Kind, where: str, into: dict[str, Any]) -> None:
        """Read everything that a kind asks for into its document."""
        for dimension in kind.dimensions:
            value = self.number(f"{where}.{dimension.key}", dimension)
            if value is not None:
                into[dimension.key] = value
        if where == "shape":
            self.diameter_mm = into.get("diameter_mm")
        for rows in kind.rows:
            if kind.kind == "polygon" and self.text(f"{where}.traced") == "widths":
                self.widths(where, rows, into)
            else:
                self.rows(f"{where}.{rows.key}", rows, into)
        for choice in kind.choices:
            chosen = self.text(f"{where}.{choice.key}") or choice.usual_of(into)
            self.put(f"{where}.{choice.key}", "read", kept=chosen)
            if chosen in choice.options:
                into[choice.key] = chosen
        for part in kind.parts:
            path = f"{where}.{part.key}"
            inner = self.kind(f"{path}.kind", FAMILIES[part.family], part.allowed, part.optional)
            if inner is not None:
                into[part.key] = {"kind": inner.kind}
                self.whole_kind(inner, path, into[part.key])

    def count(self, path: str, column: str) -> int:
        """Count the rows typed under a path."""
        pattern = re.compile(re.escape(path) + r"\[(\d+)\]\." + re.escape(column))
        found = [int(match[1]) for match in map(pattern.fullmatch, self.entries) if match]
        return min(max(found, default=-1) + 1, 2000)

    def rows(self, path: str, rows: Rows, into: dict[str, Any]) -> None:
        """Read a list."""
        if path.endswith(".points_mm"):
            self.keep(f"{path.removesuffix('.points_mm')}.traced")
        count = self.count(path, rows.columns[0].key)
        found: list[Any] = []
        for index in range(count):
            row = {c.key: self.number(f"{path}[{index}].{c.key}", c) for c in rows.columns}
            if None not in row.values():
                found.append(list(row.values()) if rows.pairs else row)
        missing = rows.fewest - count
        if missing > 0:
            self.put(path, "empty", problem=f"needs {rows.fewest} rows at least: {missing} to go")
        else:
            self.put(path, "read")
        into[rows.key] = found

    def widths(self, where: str, rows: Rows, into: dict[str, Any]) -> None:
        """Read a section traced by widths at heights, alike on both sides."""
        self.keep(f"{where}.traced")
        path = f"{where}.widths"
        at, across = Dimension("at_mm", "", "", signed=True), Dimension("width_mm", "", "", optional=True)
        found = []
        for index in range(self.count(path, "at_mm")):
            height = self.number(f"{path}[{index}].at_mm", at)
            width = self.number(f"{path}[{index}].width_mm", across)
            if height is not None and width is not None:
                found.append((height / 1000, width / 1000))
        try:
            points = from_widths(found)
        except InputError as error:
            problem = error.problems[0]
            self.put(f"{where}.{rows.key}", "empty" if len(found) < 2 else "wrong", problem=problem.what)
            return
        self.put(f"{where}.{rows.key}", "read")
        into[rows.key] = [[round(x * 1000, 9), round(z * 1000, 9)] for x, z in points]
