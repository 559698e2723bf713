"""Tables and points as files: CSV, XLSX and JSON."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from xlsxwriter import Workbook

from ..core.products.liquid import Liquid
from ..core.quantities.text import mended
from ..core.quantities.units import Unit
from ..core.tanks.table import Table
from .columns import columns_csv, rounded, table_columns
from .models import IssuedTable, Tank, checked
from .services import TableOrder


@dataclass(frozen=True)
class MadeTable:
    """A table with all that its files say of it.

    Parameters
    ----------
    tank, table
        The tank, and its rows.
    issued
        The issued table that it is, if it is one.
    order
        What was asked for.
    liquid
        The liquid that standard volumes and mass are for, if they are wanted.
    length, volume
        Units of the file.
    """

    tank: Tank
    table: Table
    issued: IssuedTable | None
    order: TableOrder
    liquid: Liquid | None
    length: Unit
    volume: Unit
    #: By how much the rows are farther apart than asked for, to fit a sheet.
    widened: int = 1

    @property
    def step_text(self) -> str:
        """The step as it is written."""
        return self.issued.step if self.issued else self.order.step.text

    @property
    def document(self) -> dict[str, Any]:
        """The tank's document that the table was made from."""
        return self.issued.document if self.issued else self.tank.document


def liquid_columns(made: MadeTable, volume: Unit) -> dict[str, np.ndarray]:
    """Write what the liquid adds to a table: standard volume and mass of the product, water left out."""
    if made.liquid is None:
        return {}
    # An issued table's water lies in the tank as it was known then.
    tank, liquid = checked(made.document).tank, made.liquid
    water = np.minimum(float(tank.volume(liquid.water_m)), made.table.volume_m3) if liquid.water_m > 0 else 0.0
    standard = (made.table.volume_m3 - water) * liquid.correction
    return {
        f"standard_{volume.key}": rounded(standard, volume),
        "mass_kg": np.round(standard * liquid.density, 6),
    }


def _columns(made: MadeTable) -> dict[str, np.ndarray | None]:
    return {
        **table_columns(made.table, made.length, made.volume),
        **liquid_columns(made, made.volume),
    }


def table_csv(made: MadeTable) -> str:
    """Write a table as CSV."""
    return columns_csv(_columns(made), len(made.table))


def table_json(made: MadeTable) -> str:
    """Write a table as JSON: what it is of, and its columns."""
    columns = {name: None if c is None else c.tolist() for name, c in _columns(made).items()}
    about = {
        "tank": made.tank.name,
        "site": made.tank.site.name,
        "issued": made.issued.number if made.issued else None,
        "tank_revision": None if made.issued else made.tank.revision,
        "step": made.step_text,
        "tank_file": made.document,
    }
    return json.dumps({**about, "columns": columns}, ensure_ascii=False)


def table_xlsx(made: MadeTable) -> bytes:
    """Write a table as a workbook: the table, and a sheet that says what it is of."""
    out = io.BytesIO()
    # Rows are written as they come: a long table needs no more room than a short one.
    book = Workbook(out, {"constant_memory": True, "strings_to_formulas": False, "strings_to_urls": False})
    sheet = book.add_worksheet("Table")
    columns = {name: column for name, column in _columns(made).items() if column is not None}
    head = book.add_format({"bold": True, "align": "right"})
    sheet.set_column(0, len(columns) - 1, 16)
    sheet.freeze_panes(1, 0)
    for place, name in enumerate(columns):
        sheet.write_string(0, place, name, head)
    rows = zip(*(column.tolist() for column in columns.values()), strict=True)
    for number, row in enumerate(rows, start=1):
        for place, value in enumerate(row):
            sheet.write_number(number, place, value)
    about = book.add_worksheet("About")
    about.set_column(0, 0, 12)
    about.set_column(1, 1, 80)
    for number, line in enumerate(
        (
            ("Tank", made.tank.name),
            ("Site", made.tank.site.name),
            ("Product", made.tank.product),
            (
                "Table",
                f"issued, number {made.issued.number}" if made.issued else f"tank revision {made.tank.revision}",
            ),
            ("Step", made.step_text),
            ("Tank file", json.dumps(made.document, ensure_ascii=False)),
        )
    ):
        for place, text in enumerate(line):
            about.write_string(number, place, _plain(text))
    book.close()
    return out.getvalue()


def _plain(text: str) -> str:
    """Keep a text from being taken for a formula, and signs out of it that no workbook holds."""
    text = mended(text)
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


#: Endings of files with their content types and writers.
WRITERS: dict[str, tuple[str, Callable[[MadeTable], str | bytes]]] = {
    "csv": ("text/csv; charset=utf-8", table_csv),
    "json": ("application/json", table_json),
    "xlsx": ("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", table_xlsx),
}


def points_csv(points: dict[str, Any]) -> str:
    """Write a device's points as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["point", "level_mm", "volume_l"])
    pairs = zip(points["level_mm"], points["volume_l"], strict=True)
    writer.writerows([number, level, volume] for number, (level, volume) in enumerate(pairs, start=1))
    return out.getvalue()


def points_json(tank: Tank, which: str, points: dict[str, Any]) -> dict[str, Any]:
    """Write a device's points as JSON, with the error they leave."""
    return {
        "tank": tank.name,
        "tank_revision": tank.revision,
        "chosen": which,
        "worst_error_l": points["error_l"],
        "worst_error_at_mm": points["error_at_mm"],
        "points": [
            {"level_mm": level, "volume_l": volume}
            for level, volume in zip(points["level_mm"], points["volume_l"], strict=True)
        ],
    }
