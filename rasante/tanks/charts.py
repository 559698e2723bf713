"""Taking charts in from files: CSV or XLSX, looked at first, then kept beside a tank or as a tank of its own."""

from __future__ import annotations

import base64
import binascii
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..core.quantities.errors import InputError
from ..core.tanks.chart import Chart as ReadChart
from ..core.tanks.chart import points_of, read_chart, read_grid
from ..core.tanks.chart_mapping import Grid, Mapping, cell_of, guess_mapping
from ..core.tanks.check import FORMAT
from ..core.tanks.tank_file import write_tank_file
from .models import Chart, Site, Tank
from .services import import_tank
from .workbook import first_sheet

LARGEST_FILE = 6_000_000
_MOST_ROWS = 60_000
_MOST_COLUMNS = 40


def grid_of(text: str, workbook: str) -> Grid:
    """Return the rows of cells of a file.

    Parameters
    ----------
    text : str
        The text of a CSV file; empty if it is a workbook.
    workbook : str
        An XLSX file in Base64; its first sheet is read.

    Raises
    ------
    InputError
        If it is neither.
    """
    if not workbook:
        return read_grid(text)
    try:
        content = base64.b64decode(workbook, validate=True)
    except (binascii.Error, ValueError):
        raise InputError.at("workbook", "did not arrive whole: pick the file again") from None
    if len(content) > LARGEST_FILE:
        raise InputError.at(
            "workbook", f"this is {len(content) / 1e6:.1f} MB; at most {LARGEST_FILE / 1e6:g} MB are read"
        )
    rows = [[cell_of(cell) for cell in row] for row in first_sheet(content, _MOST_ROWS, _MOST_COLUMNS)]
    rows = [row for row in rows if any(row)]
    if not rows:
        raise InputError.at("workbook", "its first sheet is empty")
    return rows


def preview(grid: Grid, mapping: Mapping | None, reference_height_m: float | None) -> dict[str, Any]:
    """Look at a file: its first rows, what its columns seem to mean, and the chart that comes of it.

    Nothing is kept. What cannot be read stands under ``problems``, by row.
    """
    used = guess_mapping(grid) if mapping is None else mapping
    chart: ReadChart | None = None
    problems = []
    try:
        chart = read_chart(grid, used, reference_height_m)
    except InputError as error:
        problems = [asdict(problem) for problem in error.problems]
    return {
        "head": [row[:_MOST_COLUMNS] for row in grid[:8]],
        "row_count": len(grid),
        "mapping": asdict(used),
        "points": None
        if chart is None
        else [[round(level * 1000, 6), round(volume * 1000, 6)] for level, volume in chart.points_m],
        "skipped": chart.skipped if chart else 0,
        "problems": problems,
    }


def _points(grid: Grid, mapping: Mapping, reference_height_m: float | None) -> list[list[float]]:
    chart = read_chart(grid, mapping, reference_height_m)
    points_of(chart)
    return [[round(level * 1000, 6), round(volume * 1000, 6)] for level, volume in chart.points_m]


@transaction.atomic
def keep_chart(
    tank: Tank, name: str, grid: Grid, mapping: Mapping, reference_height_m: float | None, person: User
) -> Chart:
    """Keep a chart beside a tank, to be compared with.

    Raises
    ------
    InputError
        As `read_chart`; nothing is kept then.
    """
    if not name.strip():
        raise InputError.at("name", "name the chart: maker, date, or the file's name")
    chart = Chart(
        tank=tank,
        name=name.strip(),
        points=_points(grid, mapping, reference_height_m),
        mapping=asdict(mapping),
        made_by=person,
    )
    chart.save()
    return chart


def tank_of_chart(
    site: Site, name: str, product: str, grid: Grid, mapping: Mapping, reference_height_m: float | None, person: User
) -> Tank:
    """Make a tank that is known by a chart only.

    Raises
    ------
    InputError
        As `read_chart`, or at the name.
    """
    document: dict[str, Any] = {
        "format": FORMAT,
        "name": name.strip(),
        "shape": {"kind": "points", "points": _points(grid, mapping, reference_height_m)},
    }
    if product.strip():
        document["product"] = product.strip()
    if reference_height_m is not None:
        document["reference_height_mm"] = round(reference_height_m * 1000, 6)
    return import_tank(site, write_tank_file(document), person)
