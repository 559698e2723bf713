"""A table's columns as numbers in units, and as CSV."""

from __future__ import annotations

import csv
import io
from typing import Any

import numpy as np

from ..core.quantities.units import UNITS, Unit
from ..core.tanks.table import Table

#: The units of what is kept and of the API.
MM, LITRE = UNITS["mm"], UNITS["l"]


def rounded(values: Any, unit: Unit) -> np.ndarray:
    """Write SI values in a unit, without the dust of binary fractions (12 significant places below it)."""
    return np.round(np.asarray(values) / unit.si, 9) + 0.0


def table_columns(table: Table, length: Unit, volume: Unit) -> dict[str, np.ndarray | None]:
    """Write a table's columns in the given units, by their names with the unit (``innage_mm``).

    Parameters
    ----------
    table : Table
        The table.
    length, volume : Unit
        Units of its columns.

    Returns
    -------
    dict
        Arrays of shape (rows,); None for the uncertainty of a tank that states none.
    """
    pct = UNITS["pct"]
    return {
        f"innage_{length.key}": rounded(table.innage_m, length),
        f"volume_{volume.key}": rounded(table.volume_m3, volume),
        f"u95_{volume.key}": None if table.u95_m3 is None else rounded(table.u95_m3, volume),
        f"ullage_{length.key}": rounded(table.ullage_m, length),
        "volume_pct": rounded(table.volume_ratio, pct),
        "linear_pct": rounded(table.linear_ratio, pct),
    }


def table_csv(table: Table, length: Unit, volume: Unit) -> str:
    """Write a table as CSV; the uncertainty stays empty if the tank states none."""
    return columns_csv(table_columns(table, length, volume), len(table))


def columns_csv(columns: dict[str, np.ndarray | None], count: int) -> str:
    """Write columns of `count` rows as CSV; one that is not there stays empty."""
    blank = [""] * count
    lists = [blank if column is None else column.tolist() for column in columns.values()]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows(zip(*lists, strict=True))
    return out.getvalue()
