"""A proof's readings from a CSV file, as a calibrator or a spreadsheet writes them."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping
from typing import Any

from ..errors import InputError
from ..units import UNITS, read_number
from .proof import CELLS, DIRECTIONS, POINTS, RUNS

COLUMNS = ("run", "direction", "applied_<unit>", "read_<unit>")
MOST_ROWS = POINTS * len(CELLS)
_LONGEST = 1_000_000
_APPLIED_AS = {"current": "current", "length": "innage"}
_READ_AS = {"current": "current", "length": "innage", "volume": "volume", "ratio": "span_pct"}
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
    applied_unit, read_unit = (UNITS[columns[name][1]] for name in ("applied", "read"))
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
                f"row {number}: {RUNS[run].lower()}, {DIRECTIONS[way]}, {applied:g} {applied_unit.name} is there "
                "twice",
            )
        cell[applied] = f"{read!r} {read_unit.name}"
        if applied not in order:
            order.append(applied)
    if len(order) != POINTS:
        points = ", ".join(f"{value:g}" for value in sorted(order)[:8])
        raise InputError.at(
            "csv", f"has {len(order)} points ({points} {applied_unit.name}); a check has exactly {POINTS}"
        )
    return {
        "applied_as": _APPLIED_AS[applied_unit.quantity],
        "read_as": _READ_AS[read_unit.quantity],
        "points": [
            {
                "applied": f"{value!r} {applied_unit.name}",
                **{name: readings.get(name, {}).get(value, "") for name in CELLS},
            }
            for value in sorted(order)
        ],
    }


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
            if unit not in UNITS or UNITS[unit].quantity not in allowed:
                units = ", ".join(f"{stem}_{u.key}" for u in UNITS.values() if u.quantity in allowed)
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
