"""How tanks and tables are written for the API and for files: millimetres and litres from metres."""

from __future__ import annotations

import csv
import io
from typing import Any

import numpy as np

from ..core.cautions import cautions_for, product_pattern
from ..core.tanks.table import Table
from ..core.tanks.tank import Tank as CoreTank
from ..core.tanks.tank_file import TankFile
from ..core.units import UNITS, Unit


def rounded(values: Any, unit: Unit) -> np.ndarray:
    """Write SI values in a unit, without the dust of binary fractions (12 significant places below it)."""
    return np.round(np.asarray(values) / unit.si, 9) + 0.0


def drawing(tank: CoreTank, document: dict) -> dict[str, Any]:
    """Write what the section drawing needs [mm]."""
    outline = tank.shape.outline()
    return {
        "kind": tank.shape.kind,
        "along_mm": np.round(outline.along * 1000, 3).tolist(),
        "across_mm": np.round(outline.across * 1000, 3).tolist(),
        "seams_mm": [seam * 1000 for seam in outline.seams],
        "inside_height_mm": tank.inside_height * 1000,
        "reference_height_mm": round(tank.reference_height_m * 1000, 9),
        "gauge_position_mm": document.get("gauge_position_mm", tank.shape.length * 500),
    }


def facts(file: TankFile) -> dict[str, Any]:
    """Write what is true of a whole tank."""
    return {
        "name": file.name,
        "product": file.product,
        "pattern": product_pattern(file.product),
        "capacity_l": file.tank.capacity * 1000,
        "inside_height_mm": file.tank.inside_height * 1000,
        "drawing": drawing(file.tank, dict(file.document)),
        "cautions": [{"code": c.code, "station": c.station, "text": c.text} for c in cautions_for(file.product)],
    }


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
    columns = table_columns(table, length, volume)
    blank = [""] * len(table)
    lists = [blank if column is None else column.tolist() for column in columns.values()]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows(zip(*lists, strict=True))
    return out.getvalue()
