"""A run of pours as a file: ``rasante.pours/1``, and other people's pours from CSV."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Mapping, Sequence
from typing import Any, Literal

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError, Problem
from ..quantities.text import depth_of
from ..quantities.typed import read_number
from .curve import Curve
from .pour_fields import MOST_POURS
from .pour_form import PourForm

FORMAT = "rasante.pours/1"
Column = Literal["amount", "total", "reading"]
#: By what words a column's heading is known.
_HEADINGS: dict[Column, tuple[str, ...]] = {
    "total": ("total", "cumulative", "sum", "contents", "in tank"),
    "amount": ("amount", "pour", "added", "step", "litre", "liter", "gallon", "volume"),
    "reading": ("reading", "level", "dip", "height", "depth", "signal", "ma", "counts"),
}


def run_document(found: PourForm, amounts_in: Mapping[str, str]) -> dict[str, Any]:
    """Write a run with all that follows from it: litres, and readings in mm, mA or as shown.

    Parameters
    ----------
    found : PourForm
        A run that is put together.
    amounts_in : mapping of str to str
        Its entries as they were typed.
    """
    assert found.poured is not None and found.start is not None
    scale = reading_scale(found.reads)
    curve = found.poured.curve
    return {
        "format": FORMAT,
        "way": found.way,
        "reads": found.reads,
        "meter": {
            "factor": found.instruments.factor,
            "half_width": found.instruments.factor_half,
            "draws": 0 if found.factor is None else found.factor.draws,
        },
        "start": {"volume_l": found.start.volume * 1000, "reading": found.start.reading * scale},
        "pours": [
            {
                "amount_l": one.amount * 1000,
                "reading": None if one.reading is None else one.reading * scale,
                "spilled": one.spilled,
                "sure": one.sure,
                "resumed": None if one.resumed is None else one.resumed * scale,
            }
            for one in found.pours
        ],
        "curve": {
            "reading": (curve.reading * scale).tolist(),
            "volume_l": (curve.volume * 1000).tolist(),
            "half_width_l": (curve.half(curve.reading) * 1000).tolist(),
        },
        "worst_l": curve.worst * 1000,
        "entries": dict(amounts_in),
    }


def reading_scale(reads: str) -> float:
    """How many of what is written go to one of what is reckoned in: mm to a metre, mA to an ampere."""
    return 1.0 if reads == "number" else 1000.0


def device_rows(reading: Sequence[float], volume_l: Sequence[float], count: int) -> list[tuple[float, float]]:
    """The readings and litres that a device with few points should get.

    Parameters
    ----------
    reading, volume_l : sequence of float
        The curve's points.
    count : int
        How many points the device takes, 2 to 200.

    Raises
    ------
    InputError
        If it takes fewer than two, or more than there is a curve for.
    """
    from ..tanks.breakpoints import best_knots

    if not 2 <= count <= 200:
        raise InputError.at("points", "a device takes 2 to 200 points")
    x, v = np.asarray(reading, dtype=float), np.asarray(volume_l, dtype=float)
    curve = Curve(x, v, np.zeros_like(x), np.zeros_like(x))
    fine: Array = np.unique(np.concatenate([np.linspace(x[0], x[-1], 401), x]))
    volumes = curve.at(fine)
    knots = best_knots(fine, volumes, count)
    return [(float(fine[at]), float(volumes[at])) for at in knots]


def read_csv(text: str, columns: Mapping[str, int] | None = None) -> tuple[dict[str, int], list[str], dict[str, str]]:
    """Read other people's pours.

    Parameters
    ----------
    text : str
        Amounts and readings, one pour a line, where the first line may name the columns; or a ``rasante.pours/1``.
    columns : mapping, optional
        Which column, from 0, is ``amount`` or ``total`` (in it by then), and ``reading``; guessed if not given.

    Returns
    -------
    (dict, list of str, dict of str to str)
        The columns as taken, their headings, and the entries of a run: a first total is the start.

    Raises
    ------
    InputError
        Where a line cannot be read, by its number.
    """
    if text.lstrip().startswith("{"):
        return {}, [], _from_run(text)
    sample = text[:4000]
    try:
        dialect: Any = csv.Sniffer().sniff(sample, delimiters=",;\t|")
    except csv.Error:
        dialect = csv.excel
    try:
        lines = [[cell.strip() for cell in line] for line in csv.reader(io.StringIO(text), dialect)]
    except csv.Error as error:
        raise InputError.at("file", f"is no CSV: {error}. One pour a line, quotes closed") from None
    lines = [line for line in lines if any(line)]
    if not lines:
        raise InputError.at("file", "there is nothing in it: amounts and readings, one pour a line")
    named = not any(_is_number(cell) for cell in lines[0])
    headings = lines[0] if named else [f"column {at + 1}" for at in range(len(lines[0]))]
    taken = dict(columns) if columns else _guess(headings, named)
    if "reading" not in taken or not ("amount" in taken or "total" in taken):
        raise InputError.at("columns", "say which column is the amount, or the total, and which the reading")
    problems: list[Problem] = []
    rows: list[tuple[float, float]] = []
    key: Column = "total" if "total" in taken else "amount"
    for number, line in enumerate(lines[1 if named else 0 :], 2 if named else 1):
        found = []
        for column in (key, "reading"):
            cell = line[taken[column]] if 0 <= taken[column] < len(line) else ""
            try:
                found.append(read_number(re.sub(r"[^\d,.\-−+eE]+$", "", cell)))
            except InputError as error:
                problems.append(Problem(f"line {number}", f"{column}: {error.problems[0].what}"))
        if len(found) == 2:
            rows.append((found[0], found[1]))
    if problems:
        raise InputError(*problems[:20])
    if len(rows) > MOST_POURS:
        raise InputError.at("file", f"has {len(rows)} pours; a run has at most {MOST_POURS}")
    return taken, headings, _entries(rows, key == "total")


def _from_run(text: str) -> dict[str, str]:
    """The entries of a run that was written as ``rasante.pours/1``."""
    if depth_of(text) > 8:
        raise InputError.at("file", f"is no run of {FORMAT}: its brackets lie too deep in one another")
    try:
        document = json.loads(text)
        entries = document["entries"]
        if document["format"] != FORMAT or not all(isinstance(one, str) for one in entries.values()):
            raise KeyError("format")
    except (ValueError, KeyError, TypeError, AttributeError):
        raise InputError.at("file", f"is no run of {FORMAT}: its format and its entries are missing") from None
    if len(entries) > 8 * MOST_POURS:
        raise InputError.at("file", f"has {len(entries)} entries; a run has at most {MOST_POURS} pours")
    return {str(key): value for key, value in entries.items()}


def _is_number(text: str) -> bool:
    try:
        read_number(re.sub(r"[^\d,.\-−+eE]+$", "", text))
    except InputError:
        return False
    return True


def _guess(headings: Sequence[str], named: bool) -> dict[str, int]:
    if not named:
        return {"amount": 0, "reading": 1} if len(headings) > 1 else {}
    found: dict[str, int] = {}
    for column, words in _HEADINGS.items():
        for at, heading in enumerate(headings):
            said = re.split(r"[^a-z]+", heading.casefold())
            if at not in found.values() and any(
                word in heading.casefold() if len(word) > 2 else word in said for word in words
            ):
                found[column] = at
                break
    return found


def _entries(rows: Sequence[tuple[float, float]], totals: bool) -> dict[str, str]:
    """Entries of a run; bare numbers, in the units of whoever takes them in."""
    entries: dict[str, str] = {}
    if totals:
        first, *rest = rows
        entries |= {"start.volume": f"{first[0]:g}", "start.reading": f"{first[1]:g}"}
        before = first[0]
        steps = []
        for total, reading in rest:
            steps.append((total - before, reading))
            before = total
    else:
        steps = list(rows)
        if steps and steps[0][0] == 0:
            entries["start.reading"] = f"{steps[0][1]:g}"
            steps = steps[1:]
    for row, (amount, reading) in enumerate(steps):
        entries[f"pours[{row}].amount"] = f"{abs(amount):.10g}"
        entries[f"pours[{row}].reading"] = f"{reading:g}"
        if amount < 0:
            entries[f"pours[{row}].does"] = "out"
    return entries
