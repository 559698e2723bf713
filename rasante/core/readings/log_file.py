"""A logger's file taken in: which column is the time, which are values, and how both are written."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, timezone
from typing import Literal

from ..quantities.errors import InputError, Problem
from ..tanks.chart_mapping import Figure, Grid, number_in

DayOrder = Literal["dmy", "mdy", "ymd", ""]
#: Rows of a file that are taken at once: half a year of one reading in five minutes.
MOST_ROWS = 60_000
_MOST_PROBLEMS = 20
_STAMP = re.compile(
    r"\s*(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})(?:[T\s,;]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,6}))?)?\s*([AaPp][Mm])?)?"
    r"\s*(Z|UTC|[+-]\d{2}:?\d{2})?\s*"
)
#: A workbook counts days from here: the last of 1899, for 1900 is counted as a leap year there.
_WORKBOOK_EPOCH = datetime(1899, 12, 30, tzinfo=UTC)


@dataclass(frozen=True)
class LogMapping:
    """How a logger's file is read.

    Parameters
    ----------
    header : bool
        Whether its first row holds names.
    time_column : int
        Column of the time, from 0.
    columns : tuple of (str, int)
        Channels by name, with the column of each.
    order : {"dmy", "mdy", "ymd", ""}
        Order of day, month and year; empty where the file can be read in more than one.
    decimal : {".", ",", ""}
        The decimal mark; empty where the numbers can be read with both.
    offset_min : int
        By how many minutes the file's clock is ahead of UTC, where its times name no zone.
    """

    header: bool
    time_column: int
    columns: tuple[tuple[str, int], ...]
    order: DayOrder
    decimal: str
    offset_min: int = 0

    @property
    def asked(self) -> dict[str, str]:
        """What a person has to say before the file can be read, by the field."""
        found = {}
        if not self.order:
            found["order"] = "its dates can be read with day or month first: choose which"
        if not self.decimal:
            found["decimal"] = "its numbers can be read with a point and with a comma as decimal mark: choose which"
        if not self.columns:
            found["columns"] = "say which column belongs to which channel"
        return found


@dataclass(frozen=True)
class Row:
    """One reading of a file: its channel, when [ms], and its value; None where the cell holds none."""

    channel: str
    at: int
    value: float | None


def split_log(text: str) -> Grid:
    """Split a logger's text into rows of cells, by whichever mark its rows have; a blank parts a date from its time.

    Raises
    ------
    InputError
        If there is nothing in it, or far too much.
    """
    lines = [line for line in text.removeprefix("\ufeff").splitlines() if line.strip()]
    if not lines:
        raise InputError.at("text", "there is nothing in it: pick the logger's file")
    if len(lines) > MOST_ROWS:
        raise InputError.at("text", f"it has {len(lines)} rows; at most {MOST_ROWS} are taken at once")
    middle = lines[len(lines) // 2]
    mark = next((mark for mark in (";", "\t", "|") if mark in middle), ",")
    try:
        rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=mark))
    except csv.Error as error:
        raise InputError.at("text", f"it is no table of text: {error}") from None
    return [[cell.strip() for cell in row] for row in rows]


def _parts(cell: str) -> tuple[list[int], re.Match[str]] | None:
    found = _STAMP.fullmatch(cell)
    return None if found is None else ([int(found[i]) for i in (1, 2, 3)], found)


def _date(numbers: list[int], order: str) -> tuple[int, int, int] | None:
    """Year, month and day of three numbers; None where there is no such day."""
    places = {"ymd": (0, 1, 2), "dmy": (2, 1, 0), "mdy": (2, 0, 1)}[order]
    year, month, day = (numbers[place] for place in places)
    year += 2000 if year < 100 else 0
    try:
        datetime(year, month, day)
    except ValueError:
        return None
    return year, month, day


def moment(cell: str, order: str, offset_min: int) -> int | None:
    """When a cell is [ms since 1970-01-01 UTC]; None where it is no time.

    Parameters
    ----------
    cell : str
        A date with a time, perhaps with a zone; or a workbook's number of days.
    order : {"dmy", "mdy", "ymd"}
        Order of its date.
    offset_min : int
        By how many minutes its clock is ahead of UTC, where it names no zone.
    """
    zone = timezone(timedelta(minutes=offset_min))
    if isinstance(cell, Figure):
        days = float(cell)
        if not 1 < days < 200_000:
            return None
        local = _WORKBOOK_EPOCH + timedelta(days=days) - timedelta(minutes=offset_min)
        return round(local.timestamp() * 1000)
    found = _parts(cell)
    if found is None:
        return None
    numbers, match = found
    date = _date(numbers, order)
    if date is None:
        return None
    hour, minute, second = int(match[4] or 0), int(match[5] or 0), int(match[6] or 0)
    if match[8]:
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if match[8].lower() == "pm" else 0)
    if match[9]:
        named = match[9].replace(":", "")
        minutes = 0 if named in ("Z", "UTC") else int(named[1:3]) * 60 + int(named[3:5])
        zone = timezone(timedelta(minutes=-minutes if named[0] == "-" else minutes))
    try:
        when = datetime(*date, hour, minute, second, int((match[7] or "0").ljust(6, "0")), zone)
    except ValueError:
        return None
    return round(when.timestamp() * 1000)


def guess_order(cells: list[str]) -> DayOrder:
    """The order of a column's dates, where only one reads them all; empty where more than one does."""
    written = [found[0] for cell in cells if (found := _parts(cell)) is not None]
    if any(numbers[0] > 31 for numbers in written):
        return "ymd"
    orders: tuple[DayOrder, ...] = ("dmy", "mdy")
    possible = [order for order in orders if all(_date(numbers, order) is not None for numbers in written)]
    return possible[0] if len(possible) == 1 else ("ymd" if not written else "")


def guess_log(grid: Grid, channels: list[str]) -> LogMapping:
    """Tell how a file is to be read by what it holds; to be looked at and changed.

    Parameters
    ----------
    grid : list of list of str
        Its rows of cells.
    channels : list of str
        The channels that it may have, by their names.
    """
    head = [cell.casefold().strip() for cell in grid[0]]
    body = grid[1:] or grid
    width = max(len(row) for row in grid)

    def column(at: int) -> list[str]:
        return [row[at] for row in body[:500] if at < len(row) and row[at].strip()]

    def is_time(cells: list[str]) -> bool:
        return bool(cells) and sum(_parts(cell) is not None for cell in cells) > 0.8 * len(cells)

    time = next((at for at in range(width) if is_time(column(at))), 0)
    header = (
        bool(grid)
        and moment(grid[0][time] if time < len(grid[0]) else "", "ymd", 0) is None
        and _parts(grid[0][time] if time < len(grid[0]) else "") is None
    )
    named = [(name, head.index(name.casefold())) for name in channels if name.casefold() in head]
    rest = [at for at in range(width) if at != time and at not in {place for _, place in named}]
    if not named and len(channels) == 1 and rest:
        named = [(channels[0], rest[0])]
    cells = [cell for _, at in named for cell in column(at) if not isinstance(cell, Figure)]
    marked = [cell for cell in cells if "," in cell or "." in cell]
    marks = [mark for mark in (".", ",") if all(number_in(cell, mark) is not None for cell in marked)]
    decimal = "." if not marked else marks[0] if len(marks) == 1 else ""
    return LogMapping(header, time, tuple(named), guess_order(column(time)), decimal)


def read_log(grid: Grid, mapping: LogMapping) -> Iterator[Row]:
    """Read a file's readings.

    Raises
    ------
    InputError
        Before the first is given: with what has to be said yet, or with the rows that cannot be read.
    """
    if mapping.asked:
        raise InputError(*(Problem(where, what) for where, what in mapping.asked.items()))
    rows: list[Row] = []
    problems: list[Problem] = []
    for number, cells in enumerate(grid[1:] if mapping.header else grid, 2 if mapping.header else 1):
        if not any(cell.strip() for cell in cells):
            continue
        stamp = cells[mapping.time_column] if mapping.time_column < len(cells) else ""
        at = moment(stamp, mapping.order, mapping.offset_min)
        if at is None:
            problems.append(Problem(f"row {number}", f"“{stamp[:30]}” is no time"))
        for name, column in mapping.columns:
            cell = cells[column] if column < len(cells) else ""
            value = number_in(cell, mapping.decimal) if cell.strip() else None
            if cell.strip() and value is None:
                problems.append(Problem(f"row {number}", f"“{cell[:30]}” is no number"))
            if at is not None and cell.strip():
                rows.append(Row(name, at, value))
        if len(problems) >= _MOST_PROBLEMS:
            break
    if problems:
        raise InputError(*problems)
    return iter(rows)
