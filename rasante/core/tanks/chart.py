"""A maker's chart or another table, as rows of text from a file: finding its columns, and reading its points."""

from __future__ import annotations

import csv
import io
import json
import re
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from ..quantities.errors import InputError, Problem
from ..quantities.text import refuse_what_cannot_be_kept
from ..quantities.units import UNITS
from .chart_mapping import LENGTH_UNITS, VOLUME_UNITS, Grid, Mapping, cell_of, number_in
from .points import Points

LARGEST_CSV = 4_000_000
_MOST_ROWS = 60_000
_MOST_POINTS = 2000


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
        raise InputError.at("text", f"it has {len(lines)} rows; at most {_MOST_ROWS} are read")
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
        raise InputError.at("text", f"it is no table of text: {error}") from None
    return [[cell.strip() for cell in row] for row in rows]


def _read_json(text: str) -> Grid:
    """Read rows from JSON: a list of objects, or an object that has them as ``points``, or lists as ``columns``."""
    try:
        found = json.loads(text)
        refuse_what_cannot_be_kept(found)
    except (ValueError, RecursionError) as error:
        raise InputError.at("text", f"it begins like JSON and is none: {error}") from None
    if isinstance(found, dict) and isinstance(found.get("columns"), dict):
        columns = {str(key): value for key, value in found["columns"].items() if isinstance(value, list)}
        rows: Any = [dict(zip(columns, cells, strict=False)) for cells in zip(*columns.values(), strict=False)]
    else:
        rows = found.get("points") if isinstance(found, dict) else found
    if not isinstance(rows, list) or not rows or not all(isinstance(row, dict) and row for row in rows):
        raise InputError.at("text", "it holds no rows: a list of objects, or one under points or columns, is read")
    if len(rows) > _MOST_ROWS:
        raise InputError.at("text", f"it has {len(rows)} rows; at most {_MOST_ROWS} are read")
    names = [str(name) for name in rows[0]]
    return [names] + [[cell_of(row.get(name)) for name in names] for row in rows]


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
    asked = mapping.asked
    if asked:
        raise InputError(*(Problem(where, what) for where, what in asked.items()))
    if mapping.level_unit not in LENGTH_UNITS or mapping.volume_unit not in VOLUME_UNITS:
        raise InputError.at("unit", "choose a unit of level and one of volume from the lists")
    if mapping.level_column == mapping.volume_column:
        raise InputError.at(
            "volume_column", "level and volume are read from the same column: choose another for one of them"
        )
    if mapping.measured == "ullage" and reference_height_m is None:
        raise InputError.at("reference_height", "levels count down from the reference point: type its height")
    found, skipped = _read_rows(grid, mapping, reference_height_m)
    _check_rising(found)
    if len(found) < 2:
        raise InputError.at("text", f"it has {len(found)} row(s) with numbers; a chart has at least 2")
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
        level, volume = (number_in(cell, mapping.decimal) for cell in cells)
        for cell, value, what in zip(cells, (level, volume), ("level", "volume"), strict=True):
            if value is None:
                said = f"“{cell[:24]}” is not a number{_by(mapping.decimal)}" if cell else "is empty"
                problems.append(Problem(f"row {number}", f"the {what} {said}"))
        if level is not None and volume is not None:
            level *= UNITS[mapping.level_unit].si
            if mapping.measured == "ullage" and reference_height_m is not None:
                level = reference_height_m - level
            found.append((round(level, 9), round(volume * UNITS[mapping.volume_unit].si, 12), number))
    if problems:
        raise InputError(*problems[:20])
    return sorted(found), skipped


def _by(decimal: str) -> str:
    return " with a comma as its decimal mark" if decimal == "," else ""


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
