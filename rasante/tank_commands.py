"""Commands that need a tank file and no installation: ``rasante table`` and ``rasante level``."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import fields
from pathlib import Path
from typing import TextIO

import numpy as np

from .command import fail
from .core.quantities.errors import InputError
from .core.quantities.typed import read_quantity
from .core.tanks.breakpoints import best_knots
from .core.tanks.table import Table, rows_of, table_at
from .core.tanks.tank_file import LARGEST_FILE, TankFile, read_tank_file

#: Rows that are made at once.
_PIECE = 5000


def _read_file(name: str) -> TankFile:
    path = Path(name)
    try:
        if name != "-" and path.stat().st_size > 4 * LARGEST_FILE:
            fail(f"{name}: this is {path.stat().st_size / 1e6:.1f} MB; a tank file has at most 1 MB")
        text = sys.stdin.read(LARGEST_FILE + 1) if name == "-" else path.read_text("utf-8-sig")
    except OSError as error:
        fail(f"{name}: {(error.strerror or str(error)).lower()}")
    except UnicodeDecodeError:
        fail(f"{name}: is not UTF-8 text, so it is no tank file")
    try:
        return read_tank_file(text)
    except InputError as error:
        more = len(error.problems) - 1
        also = f" (and {more} more)" if more else ""
        fail(f"{name}: {' '.join(str(error.problems[0]).split())}{also}")


def _length(text: str, option: str) -> float:
    try:
        return read_quantity(text, "length", "metric")
    except InputError as error:
        fail(f"{option}: {error.problems[0].what}")


class Progress:
    """Says on a terminal how far long work has come; into a file or a pipe it says nothing.

    Parameters
    ----------
    what : str
        What is counted.
    total : int
        How many there will be.
    stream : TextIO
        Where to say it.
    """

    def __init__(self, what: str, total: int, stream: TextIO) -> None:
        self.what, self.total, self.stream = what, total, stream
        self.done = 0
        self.shown = stream.isatty()

    def add(self, count: int) -> None:
        """Count some more as done."""
        self.done += count
        if self.shown:
            self.stream.write(f"\r{self.what} {self.done:,} of {self.total:,}")
            self.stream.flush()

    def end(self) -> None:
        """Take the line away."""
        if self.shown:
            self.stream.write("\r\033[K")
            self.stream.flush()


def _made(file: TankFile, step: float) -> Table:
    """Make a table piece by piece, with progress where there are many rows."""
    innage = rows_of(file.tank, step)
    if len(innage) <= _PIECE:
        return table_at(file, innage)
    progress = Progress("rows", len(innage), sys.stderr)
    pieces = []
    for start in range(0, len(innage), _PIECE):
        pieces.append(table_at(file, innage[start : start + _PIECE]))
        progress.add(len(pieces[-1]))
    progress.end()
    columns = zip(*([getattr(piece, field.name) for field in fields(piece)] for piece in pieces), strict=True)
    return Table(*(None if column[0] is None else np.concatenate(column) for column in columns))


def table(arguments: argparse.Namespace) -> None:
    """Print the volume table of a tank file, or the rows of it that a device with few points should get."""
    file = _read_file(arguments.file)
    step = _length(arguments.step, "--step")
    try:
        made = _made(file, step)
        if arguments.points is not None:
            knots = best_knots(made.innage_m, made.volume_m3, arguments.points)
            made = table_at(file, made.innage_m[knots])
    except InputError as error:
        fail(f"--{error.problems[0].where}: {error.problems[0].what}")
    sys.stdout.write(_as_csv(made) if arguments.format == "csv" else _as_json(made))


def _as_csv(made: Table) -> str:
    from .core.quantities.units import UNITS
    from .tanks.columns import table_csv

    return table_csv(made, UNITS["mm"], UNITS["l"])


def _as_json(made: Table) -> str:
    from .core.quantities.units import UNITS
    from .tanks.columns import table_columns

    columns = table_columns(made, UNITS["mm"], UNITS["l"])
    lists = {name: [None] * len(made) if c is None else c.tolist() for name, c in columns.items()}
    rows = [dict(zip(lists, row, strict=True)) for row in zip(*lists.values(), strict=True)]
    return json.dumps(rows, indent=1) + "\n"


def level(arguments: argparse.Namespace) -> None:
    """Print the innage at which a tank holds a volume."""
    file = _read_file(arguments.file)
    try:
        volume = read_quantity(arguments.volume, "volume", "metric")
        innage = file.tank.level(volume)
    except InputError as error:
        fail(f"--volume: {error.problems[0].what}")
    print(f"{round(innage * 1000, 6)} mm")
