"""A proof's readings from a CSV file, as a calibrator or a spreadsheet writes them."""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Mapping
from typing import Any

from ..quantities.errors import InputError
from ..quantities.typed import read_number
from ..quantities.units import UNITS
from .places import CELLS, DIRECTIONS, POINTS, RUNS

COLUMNS = ("run", "direction", "applied_<unit>", "read_<unit>")
MOST_ROWS = POINTS * len(CELLS)
_LONGEST = 1_000_000
#: What a column is by its unit's quantity; and columns that name a station of their own instead of a unit.
_APPLIED_AS = {"current": "arriving", "voltage": "arriving", "length": "level", "pressure": "sensed"}
_READ_AS = {"current": "arriving", "voltage": "arriving", "length": "innage", "volume": "volume", "ratio": "span_pct"}
_STATIONS = {"counts": "counts", "register": "words"}
_RUN_WORDS = {"found": "found", "as found": "found", "left": "left", "as left": "left"}
_WAY_WORDS = {"up": "up", "rising": "up", "down": "down", "falling": "down"}


def read_proof_csv(text: str) -> dict[str, Any]:
    """Read the points of a proof from CSV.

    Parameters
    ----------
    text : str
        Rows under the header ``run,direction,applied_<unit>,read_<unit>``: run ``found`` or ``left``, direction
        ``up`` or ``down``, units as in ``applied_ma,read_mm``. Commas, semicolons or tabs between the columns; a
        decimal comma where the columns are not parted by commas or the cell is quoted; a byte order mark is
        passed over.

    Returns
    -------
    dict
        ``applied_as``, ``read_as`` and ``points``, as `proof.judge_proof` takes them.

    Raises
    ------
    InputError
        With the row and the column, and nothing kept.
    """
    if len(text) > _LONGEST or text.count("\n") > 10 * MOST_ROWS:
        raise InputError.at(
            "csv",
            f"has {text.count(chr(10)) + 1:,} lines; a proof has at most {MOST_ROWS} readings: check that it is "
            "the right file",
        )
    text = text.removeprefix("\ufeff")
    header = text.lstrip("\r\n").split("\n", 1)[0]
    delimiter = max(";\t,", key=header.count)
    try:
        rows = [row for row in csv.reader(io.StringIO(text), delimiter=delimiter) if any(c.strip() for c in row)]
    except csv.Error as error:
        raise InputError.at("csv", f"is not CSV: {error}") from None
    if not rows:
        raise InputError.at("csv", "has no rows: the first row names the columns")
    columns = _columns(rows[0])
    applied_unit, read_unit = (columns[name][1] for name in ("applied", "read"))
    applied_name, read_name = (UNITS[unit].name if unit in UNITS else "" for unit in (applied_unit, read_unit))
    readings: dict[str, dict[float, str]] = {}
    order: list[float] = []
    for number, row in enumerate(rows[1:], start=2):
        run = _word(row, columns["run"][0], number, "run", _RUN_WORDS)
        way = _word(row, columns["direction"][0], number, "direction", _WAY_WORDS)
        applied = _number(row, columns["applied"][0], number, rows[0])
        read = _number(row, columns["read"][0], number, rows[0])
        cell = readings.setdefault(f"{run}_{way}", {})
        if applied in cell:
            raise InputError.at(
                "csv",
                f"row {number}: {RUNS[run].lower()}, {DIRECTIONS[way]}, {applied:g} {applied_name} is there twice",
            )
        cell[applied] = f"{read!r} {read_name}".strip()
        if applied not in order:
            order.append(applied)
    if len(order) != POINTS:
        points = ", ".join(f"{value:g}" for value in sorted(order)[:8])
        raise InputError.at("csv", f"has {len(order)} points ({points} {applied_name}); a check has exactly {POINTS}")
    return {
        "applied_as": _place(applied_unit, _APPLIED_AS),
        "read_as": _place(read_unit, _READ_AS),
        "points": [
            {
                "applied": f"{value!r} {applied_name}".strip(),
                **{name: readings.get(name, {}).get(value, "") for name in CELLS},
            }
            for value in sorted(order)
        ],
    }


def _place(unit: str, by_quantity: Mapping[str, str]) -> str:
    """The station or the display that a column's unit stands for."""
    return _STATIONS[unit] if unit in _STATIONS else by_quantity[UNITS[unit].quantity]


def _columns(header: list[str]) -> Mapping[str, tuple[int, str]]:
    """Find the four columns: their places, and the units of the two that have one."""
    names = [re.sub(r"\s+", "_", name.strip().lower()) for name in header]
    found: dict[str, tuple[int, str]] = {}
    for place, name in enumerate(names):
        stem, _, unit = name.partition("_")
        allowed = {"applied": _APPLIED_AS, "read": _READ_AS}.get(stem, {})
        if name in ("run", "direction"):
            found[name] = (place, "")
        elif allowed:
            if unit not in _STATIONS and (unit not in UNITS or UNITS[unit].quantity not in allowed):
                known = [u.key for u in UNITS.values() if u.quantity in allowed] + list(_STATIONS)
                units = ", ".join(f"{stem}_{key}" for key in known)
                raise InputError.at("csv", f"column “{header[place].strip()}”: its unit is not known; use {units}")
            found[stem] = (place, unit)
    for stem, column in zip(("run", "direction", "applied", "read"), COLUMNS, strict=True):
        if stem not in found:
            raise InputError.at(
                "csv", f"the column “{column}” is missing; there are {', '.join(header)[:120] or 'none'}"
            )
    return found


def _word(row: list[str], place: int, number: int, column: str, words: Mapping[str, str]) -> str:
    text = row[place].strip() if place < len(row) else ""
    word = words.get(text.lower().replace("_", " "))
    if word is None:
        raise InputError.at("csv", f"row {number}, column {column}: “{text[:24]}” must be {' or '.join(words)}")
    return word


def _number(row: list[str], place: int, number: int, header: list[str]) -> float:
    text = row[place].strip() if place < len(row) else ""
    where = f"row {number}, column {header[place].strip()}"
    if not text:
        raise InputError.at("csv", f"{where}: is empty")
    try:
        return read_number(text)
    except InputError as error:
        raise InputError.at("csv", f"{where}: {error.problems[0].what}") from None


def with_readings(entries: Mapping[str, Any], read: Mapping[str, Any]) -> dict[str, Any]:
    """Put the readings of a file into a proof's entries; the runs that the file does not hold stay.

    Parameters
    ----------
    entries : mapping
        The proof's entries, as kept.
    read : mapping
        As `read_proof_csv` gives it.

    Raises
    ------
    InputError
        If the file has other points or places than the proof, and readings of another run would be lost by it.
    """
    filled = {cell for point in read["points"] for cell in CELLS if point[cell]}
    runs = {cell.partition("_")[0] for cell in filled}
    others = [cell for cell in CELLS if cell.partition("_")[0] not in runs]
    before = entries["points"]
    if not any(str(point.get(cell, "")).strip() for point in before for cell in others):
        return {**entries, **read}
    same = all(entries[key] == read[key] for key in ("applied_as", "read_as"))
    by_applied = {_amount(str(point.get("applied", ""))): point for point in before}
    if not same or any(_amount(point["applied"]) not in by_applied for point in read["points"]):
        lost = " and ".join(RUNS[run].lower() for run in sorted({cell.partition("_")[0] for cell in others}))
        raise InputError.at(
            "csv",
            f"has other points, or is applied and read elsewhere, than this proof: its readings {lost} would be "
            "lost; take the file's points for a proof of its own",
        )
    points = [
        {**point, **{cell: by_applied[_amount(point["applied"])].get(cell, "") for cell in others}}
        for point in read["points"]
    ]
    return {**entries, **read, "points": points}


def _amount(text: str) -> float:
    """The number that a text begins with, to nine places; NaN, which is no other's, where it begins with none."""
    found = re.match(r"\s*[-+]?[\d.,]+", text)
    try:
        return round(read_number(found[0]), 9) if found else math.nan
    except InputError:
        return math.nan
