"""What the columns of a chart mean: found where the file says it, asked where it does not."""

from __future__ import annotations

import re
from collections.abc import Iterable
from collections.abc import Mapping as AnyMapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Literal

Grid = list[list[str]]
LENGTH_UNITS = ("mm", "cm", "m", "in", "ft")
VOLUME_UNITS = ("l", "m3", "usgal", "impgal")
Decimal = Literal[".", ",", ""]


class Figure(str):
    """A number that the file holds as one, a workbook's or JSON's: no mark in it is to be interpreted."""

    __slots__ = ()


def cell_of(value: Any) -> str:
    """Write a cell of a workbook or of JSON as text, a number as a figure."""
    if value is None:
        return ""
    if isinstance(value, (int, float)) and not isinstance(value, bool):
        return Figure(repr(value))
    return str(value).strip()


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
        Keys of `LENGTH_UNITS` and `VOLUME_UNITS`; empty where the file does not say.
    measured : {"innage", "ullage"}
        Whether levels count up from the bottom or down from the reference point.
    decimal : {".", ",", ""}
        The decimal mark, the other one parting thousands; empty where the numbers can be read both ways.
    """

    header: bool
    level_column: int
    volume_column: int
    level_unit: str
    volume_unit: str
    measured: Literal["innage", "ullage"]
    decimal: Decimal

    @property
    def asked(self) -> dict[str, str]:
        """What a person has to say before the chart can be read, by the field."""
        found = {}
        if not self.level_unit:
            found["level_unit"] = "the file does not say in which unit its levels are: choose it"
        if not self.volume_unit:
            found["volume_unit"] = "the file does not say in which unit its volumes are: choose it"
        if not self.decimal:
            found["decimal"] = "its numbers can be read with a point and with a comma as decimal mark: choose which"
        return found


#: A number by its decimal mark: digits, or groups of three parted by the other mark, and places behind the mark.
_BY_MARK = {
    ".": re.compile(r"[+-]?(\d+|[1-9]\d{0,2}(,\d{3})+)?(\.\d*)?([eE][+-]?\d+)?"),
    ",": re.compile(r"[+-]?(\d+|[1-9]\d{0,2}(\.\d{3})+)?(,\d*)?([eE][+-]?\d+)?"),
}
_BLANKS = re.compile(r"[\s'\u202f\u00a0]")
_WORDS: dict[str, tuple[str, ...]] = {
    "mm": ("mm", "millimetre", "millimetres", "millimeter", "millimeters"),
    "cm": ("cm", "centimetre", "centimetres", "centimeter", "centimeters"),
    "m": ("m", "metre", "metres", "meter", "meters"),
    "in": ("in", "inch", "inches"),
    "ft": ("ft", "foot", "feet"),
    "m3": ("m3", "m³", "cbm"),
    "usgal": ("usgal", "usg"),
    "impgal": ("impgal", "ukgal"),
    "l": ("l", "litre", "litres", "liter", "liters", "ltr", "ltrs"),
}
_GALLONS = ("gal", "gals", "gallon", "gallons")


def number_in(cell: str, decimal: str) -> float | None:
    """Read a cell as a number by its decimal mark; None where it is none, a thousands mark out of place included."""
    if isinstance(cell, Figure):
        value = float(cell)
        return value if abs(value) < 1e12 else None
    bare = _BLANKS.sub("", cell)
    pattern = _BY_MARK.get(decimal)
    if pattern is None or not pattern.fullmatch(bare) or not any(letter.isdigit() for letter in bare):
        return None
    value = float(bare.replace("," if decimal == "." else ".", "").replace(decimal, "."))
    return value if abs(value) < 1e12 else None


def _is_number(cell: str) -> bool:
    return any(number_in(cell, decimal) is not None for decimal in _BY_MARK)


def unit_in(name: str, units: Iterable[str]) -> str:
    """The unit that a heading names, by whole words; empty where it names none, or gallons of either kind."""
    words = re.findall(r"[a-z]+[23³]?|\d+", name.casefold().replace("cubic met", "m3 met"))
    gallons = [i for i, word in enumerate(words) if word in _GALLONS]
    for i in gallons:
        before = words[i - 1] if i else ""
        if before in ("us", "u") or "us" in words:
            return "usgal" if "usgal" in units else ""
        if before in ("imp", "imperial", "uk"):
            return "impgal" if "impgal" in units else ""
    named = [unit for unit in units for word in words if word in _WORDS[unit]]
    # “Level in mm”: the first is no unit. “m3 metres” are cubic.
    if len(set(named)) > 1 and "in" in named and "in" in words:
        named = [unit for unit in named if unit != "in"]
    return named[0] if len(set(named)) == 1 and not gallons else ""


def _decimal_of(columns: AnyMapping[str, list[str]]) -> Decimal:
    """The decimal mark by which all numbers of the columns can be read; empty where both give a chart."""
    written = {
        name: [cell for cell in cells if not isinstance(cell, Figure) and _is_number(cell)]
        for name, cells in columns.items()
    }
    if not any("." in cell or "," in cell for cells in written.values() for cell in cells):
        return "."
    marks: tuple[Decimal, ...] = (".", ",")
    possible: list[Decimal] = [
        mark
        for mark in marks
        if all(number_in(cell, mark) is not None for cells in written.values() for cell in cells)
    ]
    if len(possible) > 1:
        rising = [mark for mark in possible if all(_one_way(cells, mark) for cells in columns.values())]
        possible = rising or possible
    return possible[0] if len(possible) == 1 else "" if possible else _commoner(written)


def _one_way(cells: list[str], decimal: str) -> bool:
    """Whether the numbers of a column go one way all along, as a chart's do."""
    values = [value for cell in cells if (value := number_in(cell, decimal)) is not None]
    steps = [b - a for a, b in pairwise(values)]
    return all(step >= 0 for step in steps) or all(step <= 0 for step in steps)


def _commoner(written: AnyMapping[str, list[str]]) -> Decimal:
    """The mark by which most can be read, where none reads all: the rest is told by its row."""
    cells = [cell for cells in written.values() for cell in cells]
    by_comma = sum(number_in(cell, ",") is not None for cell in cells)
    return "," if by_comma > len(cells) / 2 and by_comma > sum(number_in(c, ".") is not None for c in cells) else "."


def guess_mapping(grid: Grid) -> Mapping:
    """Tell what the columns of a chart mean by what the file says, to be looked at and changed."""
    header = not all(_is_number(cell) for cell in grid[0][:2] if cell)
    body = grid[1:] if header else grid
    width = max(len(row) for row in body) if body else len(grid[0])
    numeric = [
        column
        for column in range(width)
        if sum(1 for row in body if column < len(row) and _is_number(row[column])) > 0.8 * len(body)
    ]
    names = [cell.casefold() for cell in grid[0]] if header else []

    def named(*words: str) -> int | None:
        for word in words:
            for column in numeric:
                if column < len(names) and word in names[column]:
                    return column
        return None

    ullage = named("innage", "level", "height", "dip", "depth") is None and named("ullage", "outage") is not None
    level = named("innage", "level", "height", "dip", "depth", "ullage", "outage")
    volume = named("volume", "litre", "liter", "gallon", "quantity", "gross", "content")
    rest = [column for column in numeric if column not in (level, volume)]
    if level is None:
        level = rest.pop(0) if rest else 0
    if volume is None:
        volume = rest.pop(0) if rest else min(level + 1, max(width - 1, 0))

    def cells(column: int) -> list[str]:
        return [row[column] for row in body if column < len(row)]

    def name_at(column: int) -> str:
        return names[column] if column < len(names) else ""

    return Mapping(
        header,
        level,
        volume,
        unit_in(name_at(level), LENGTH_UNITS),
        unit_in(name_at(volume), VOLUME_UNITS),
        "ullage" if ullage else "innage",
        _decimal_of({"level": cells(level), "volume": cells(volume)}),
    )
