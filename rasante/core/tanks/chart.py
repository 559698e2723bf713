"""A maker's chart or another table, as rows of text from a file: finding its columns, and reading its points."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Literal

from ..quantities.errors import InputError, Problem
from ..quantities.units import UNITS
from .points import Points

Grid = list[list[str]]
LENGTH_UNITS = ("mm", "cm", "m", "in", "ft")
VOLUME_UNITS = ("l", "m3", "usgal", "impgal")
LARGEST_CSV = 4_000_000
_MOST_ROWS = 60_000
_MOST_POINTS = 2000
_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
_UNITS = {
    "mm": ("mm", "millim"),
    "cm": ("cm", "centim"),
    "m": ("[m]", "(m)", " m", "_m", "metre", "meter"),
    "in": ("inch", "[in]", "(in)", " in", "_in"),
    "ft": ("ft", "feet", "foot"),
    "m3": ("m3", "m³", "cubic"),
    "usgal": ("usgal", "us gal", "gal"),
    "impgal": ("impgal", "imp gal", "uk gal"),
    "l": ("litre", "liter", "[l]", "(l)", " l", "_l", "ltr"),
}


def read_grid(text: str) -> Grid:
    """Split a file into rows of cells: a CSV, whatever parts its columns, or JSON as tables and points are handed on.

    Raises
    ------
    InputError
        If there is nothing in it, or far too much.
    """
    if len(text) > LARGEST_CSV:
        raise InputError.at("text", f"this is {len(text) / 1e6:.1f} MB; a chart has at most {LARGEST_CSV / 1e6:g} MB")
    text = text.removeprefix("\ufeff")
    if text.lstrip()[:1] in ("{", "["):
        return _read_json(text)
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines:
        raise InputError.at("text", "there is nothing in it: pick the file with the chart")
    if len(lines) > _MOST_ROWS:
        raise InputError.at("text", f"has {len(lines)} rows; at most {_MOST_ROWS} are read")
    middle = lines[len(lines) // 2]
    mark = next((mark for mark in (";", "\t", "|") if mark in middle), None)
    if mark is None:
        mark = (
            "," if middle.count(",") >= 1 and not re.fullmatch(r"\s*\S+\s+\S+.*", middle.replace(", ", ",")) else None
        )
    try:
        rows = (
            [re.split(r"\s+", line.strip()) for line in lines]
            if mark is None
            else list(csv.reader(io.StringIO("\n".join(lines)), delimiter=mark))
        )
    except csv.Error as error:
        raise InputError.at("text", f"is no table of text: {error}") from None
    return [[cell.strip() for cell in row] for row in rows]


def _read_json(text: str) -> Grid:
    """Read rows from JSON: a list of objects, or an object that has them as ``points``, or lists as ``columns``."""
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise InputError.at("text", f"begins like JSON and is none: {error}") from None
    if isinstance(found, dict) and isinstance(found.get("columns"), dict):
        columns = {str(key): value for key, value in found["columns"].items() if isinstance(value, list)}
        rows: Any = [dict(zip(columns, cells, strict=False)) for cells in zip(*columns.values(), strict=False)]
    else:
        rows = found.get("points") if isinstance(found, dict) else found
    if not isinstance(rows, list) or not rows or not all(isinstance(row, dict) and row for row in rows):
        raise InputError.at("text", "holds no rows: a list of objects, or one under points or columns, is read")
    if len(rows) > _MOST_ROWS:
        raise InputError.at("text", f"has {len(rows)} rows; at most {_MOST_ROWS} are read")
    names = [str(name) for name in rows[0]]
    return [names] + [["" if row.get(name) is None else str(row.get(name)) for name in names] for row in rows]


@dataclass(frozen=True)
class Mapping:
    """Which columns of a chart mean what.

    Parameters
    ----------
    header : bool
        Whether the first row holds names.
    level_column, volume_column : int
        Columns, from 0.
    level_unit, volume_unit : str
        Keys of `LENGTH_UNITS` and `VOLUME_UNITS`.
    measured : {"innage", "ullage"}
        Whether levels count up from the bottom or down from the reference point.
    decimal : {".", ","}
        The decimal mark; the other one parts thousands.
    """

    header: bool
    level_column: int
    volume_column: int
    level_unit: str
    volume_unit: str
    measured: Literal["innage", "ullage"]
    decimal: Literal[".", ","]


def _is_number(cell: str) -> bool:
    return bool(_NUMBER.match(cell.replace(" ", "").replace("\u202f", "").replace("'", "")))


def _unit_in(name: str, units: Sequence[str], otherwise: str) -> str:
    lower = f" {name.lower()}"
    return next((unit for unit in units for sign in _UNITS[unit] if sign in lower), otherwise)


def guess_mapping(grid: Grid) -> Mapping:
    """Guess what the columns of a chart mean, to be looked at and changed."""
    header = not all(_is_number(cell) for cell in grid[0][:2] if cell)
    body = grid[1:] if header else grid
    width = max(len(row) for row in body) if body else len(grid[0])
    numeric = [
        column
        for column in range(width)
        if sum(1 for row in body if column < len(row) and _is_number(row[column])) > 0.8 * len(body)
    ]
    names = [cell.lower() for cell in grid[0]] if header else []

    def named(*words: str) -> int | None:
        for word in words:
            for column in numeric:
                if column < len(names) and word in names[column]:
                    return column
        return None

    ullage = named("innage", "level", "height", "dip", "depth") is None and named("ullage", "outage") is not None
    level = named("innage", "level", "height", "dip", "depth", "ullage", "outage")
    volume = named("volume", "litre", "liter", "gallon", "quantity", "gross")
    rest = [column for column in numeric if column not in (level, volume)]
    if level is None:
        level = rest.pop(0) if rest else 0
    if volume is None:
        volume = rest.pop(0) if rest else min(level + 1, max(width - 1, 0))
    cells = [row[c] for row in body for c in (level, volume) if c < len(row)]
    # A comma is the decimal mark where numbers have one and it does not part three digits every time.
    commas = [cell for cell in cells if "," in cell and "." not in cell]
    decimal: Literal[".", ","] = (
        "," if any(not re.fullmatch(r"[+-]?\d{1,3}(,\d{3})+", cell) for cell in commas) else "."
    )
    mixed = [cell for cell in cells if "," in cell and "." in cell]
    if mixed and mixed[0].rfind(",") > mixed[0].rfind("."):
        decimal = ","
    level_name = names[level] if level < len(names) else ""
    volume_name = names[volume] if volume < len(names) else ""
    return Mapping(
        header,
        level,
        volume,
        _unit_in(level_name, LENGTH_UNITS, "mm"),
        _unit_in(volume_name, ("impgal", "usgal", "m3", "l"), "l"),
        "ullage" if ullage else "innage",
        decimal,
    )


@dataclass(frozen=True)
class Chart:
    """A chart's points, rising.

    Parameters
    ----------
    points_m : tuple of (level, volume)
        Innage [m], volume [m³].
    skipped : int
        Rows that held nothing.
    """

    points_m: tuple[tuple[float, float], ...]
    skipped: int


def read_chart(grid: Grid, mapping: Mapping, reference_height_m: float | None = None) -> Chart:
    """Read the points of a chart.

    Parameters
    ----------
    grid : list of list of str
        Its rows.
    mapping : Mapping
        What its columns mean.
    reference_height_m : float or None
        Height of the reference point, for levels that count down from it [m].

    Raises
    ------
    InputError
        With the row, as it is numbered in the file, of everything that cannot be read.
    """
    if mapping.level_unit not in LENGTH_UNITS or mapping.volume_unit not in VOLUME_UNITS:
        raise InputError.at("unit", "choose a unit of level and one of volume from the lists")
    if mapping.level_column == mapping.volume_column:
        raise InputError.at("volume_column", "is the same as the level's: choose another")
    if mapping.measured == "ullage" and reference_height_m is None:
        raise InputError.at("reference_height", "levels count down from the reference point: type its height")
    found, skipped = _read_rows(grid, mapping, reference_height_m)
    _check_rising(found)
    if len(found) < 2:
        raise InputError.at("text", f"has {len(found)} row(s) with numbers; a chart has at least 2")
    if found[0][0] < -1e-9:
        raise InputError.at(f"row {found[0][2]}", "stands below the bottom: check unit, and innage or ullage")
    return Chart(tuple((level, volume) for level, volume, _ in _thinned(found)), skipped)


def _read_rows(
    grid: Grid, mapping: Mapping, reference_height_m: float | None
) -> tuple[list[tuple[float, float, int]], int]:
    """Read (innage [m], volume [m³], row in the file), rising, and count the rows that hold nothing."""
    problems: list[Problem] = []
    found: list[tuple[float, float, int]] = []
    skipped = 0
    for number, row in enumerate(grid, start=1):
        cells = [row[c] if c < len(row) else "" for c in (mapping.level_column, mapping.volume_column)]
        if not any(cells) or (mapping.header and number == 1):
            skipped += not any(cells)
            continue
        level, volume = (_number(cell, mapping.decimal) for cell in cells)
        for cell, value, what in zip(cells, (level, volume), ("level", "volume"), strict=True):
            if value is None:
                said = f"“{cell[:24]}” is not a number" if cell else "is empty"
                problems.append(Problem(f"row {number}", f"the {what} {said}"))
        if level is not None and volume is not None:
            level *= UNITS[mapping.level_unit].si
            if mapping.measured == "ullage" and reference_height_m is not None:
                level = reference_height_m - level
            found.append((round(level, 9), round(volume * UNITS[mapping.volume_unit].si, 12), number))
    if problems:
        raise InputError(*problems[:20])
    return sorted(found), skipped


def _check_rising(found: list[tuple[float, float, int]]) -> None:
    problems = []
    for (level, volume, row), (above, more, next_row) in pairwise(found):
        if above - level < 1e-9:
            problems.append(Problem(f"row {next_row}", f"has the same level as row {row}: take one out"))
        elif more < volume:
            problems.append(
                Problem(f"row {next_row}", f"holds less than row {row}, below it: volumes must rise with level")
            )
    if problems:
        raise InputError(*problems[:20])


def _thinned(found: list[tuple[float, float, int]]) -> list[tuple[float, float, int]]:
    """Keep every n-th point of a chart that has more than a tank file takes, and its last."""
    if len(found) <= _MOST_POINTS:
        return found
    stride = -(-len(found) // (_MOST_POINTS - 1))
    kept = found[::stride]
    return kept if kept[-1] == found[-1] else [*kept, found[-1]]


def _number(cell: str, decimal: str) -> float | None:
    bare = re.sub(r"[\s'\u202f\u00a0]", "", cell)
    bare = bare.replace("," if decimal == "." else ".", "").replace(decimal, ".")
    try:
        value = float(bare)
    except ValueError:
        return None
    return value if abs(value) < 1e12 else None


def points_of(chart: Chart) -> Points:
    """Make the shape that a chart's points describe.

    Raises
    ------
    InputError
        If they describe no tank.
    """
    shape = Points(chart.points_m)
    shape.check()
    return shape
