"""The printed volume table: one or two pages with title block, section and table."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.quantities.odd_units import show_slope
from ..core.quantities.units import Unit, show_in
from ..core.tanks.kinds import FAMILIES, SHAPES, Kind
from ..core.tanks.limits import Limits, limits_of
from ..core.tanks.tank_file import check_document
from ..sheets import INNER, LINE, MARGIN, MONO, RULE, TEXT, Sheet
from .columns import table_columns
from .files import MadeTable
from .models import Tank
from .services import Step, TableOrder

_ROW = 3.55 * mm
_GROUPS = 4
_MOST_ROWS = 400
_METRIC_STEPS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
_INCH_STEPS = (1, 2, 4, 8, 16, 32, 64, 96, 192, 384, 768, 1536, 3072)


def printed_multiple(rows: float, length: Unit) -> int:
    """Return by how much a step is widened so that a table of so many rows fits two pages."""
    choices = _INCH_STEPS if length.key in ("in", "ft") else _METRIC_STEPS
    return next((multiple for multiple in choices if rows / multiple < _MOST_ROWS), choices[-1])


def printed_order(tank: Tank, order: TableOrder, length: Unit) -> TableOrder:
    """Widen the step of a table so that it fits two pages; its text stays the one that was asked for."""
    end = tank.file.tank.inside_height if order.end_m is None else order.end_m
    multiple = printed_multiple(abs(end - order.start_m) / order.step.metres, length)
    return replace(order, step=Step(order.step.metres * multiple, order.step.text))


def describe(document: dict[str, Any], length: Unit) -> list[tuple[str, str]]:
    """Write a tank's dimensions for a title block, each part and each list on one line."""
    shape = document["shape"]
    kind = SHAPES[shape["kind"]]
    lines = [("Shape", kind.label), *_dimensions(kind, shape, length)]
    for part in kind.parts:
        if part.key in shape:
            inner = FAMILIES[part.family][shape[part.key]["kind"]]
            sizes = [f"{label.lower()} {size}" for label, size in _dimensions(inner, shape[part.key], length)]
            lines.append((part.label, ", ".join([inner.label, *sizes])))
    if document.get("slope_mm_per_m"):
        lines.append(("Slope", show_slope(document["slope_mm_per_m"])))
    return lines


def _dimensions(kind: Kind, document: dict[str, Any], length: Unit) -> list[tuple[str, str]]:
    lines = []
    for dimension in kind.dimensions:
        if dimension.key in document:
            value = document[dimension.key]
            shown = f"{value:g} °C" if dimension.quantity == "temperature" else show_in(value / 1000, length)
            lines.append((dimension.label, shown))
    lines += [(rows.label.partition(",")[0], str(len(document[rows.key]))) for rows in kind.rows]
    return lines


def _filling(limits: Limits, document: dict[str, Any], volume: Unit, length: Unit) -> list[tuple[str, str]]:
    """The filling limit of a vessel under pressure, and where its figure comes from."""
    if limits.filling_m3 is None or limits.filling_level_m is None:
        return []
    source = document.get("filling_limit_source") or "usual where nothing better is known: check the code in force"
    return [
        ("Filling limit", f"{show_in(limits.filling_m3, volume)} at {show_in(limits.filling_level_m, length)}"),
        ("Limit by", source),
    ]


def table_sheet(made: MadeTable) -> bytes:
    """Make the sheet of a volume table.

    Parameters
    ----------
    made : MadeTable
        The table, in the order of `printed_order`; an issued one leaves rows out if more than two pages would be
        needed. The sheet says by how much its step is wider than the one asked for.
    """
    file = check_document(made.document)
    tank, length, volume = file.tank, made.length, made.volume
    multiple = printed_multiple(len(made.table), length) if made.issued else 1
    columns = {
        name: None if column is None else np.append(column[:-1:multiple], column[-1])
        for name, column in table_columns(made.table, length, volume).items()
    }
    limits = limits_of(tank)
    block = [
        ("Site", made.tank.site.name),
        ("Product", file.product),
        ("Capacity", show_in(tank.capacity, volume)),
        *describe(dict(made.document), length),
        ("Reference height", show_in(tank.reference_height_m, length)),
        ("Deadwood", f"{len(tank.deadwood)} part(s), allowed for" if tank.deadwood else "none"),
        ("Safe fill", f"{show_in(limits.safe_m3, volume)} at {show_in(limits.safe_level_m, length)}"),
        *_filling(limits, dict(made.document), volume, length),
        ("Unpumpable", show_in(limits.unpumpable_m3, volume)),
        *_who(made),
    ]
    revision = f"table {made.issued.number}" if made.issued else f"tank revision {made.tank.revision}, not issued"
    sheet = Sheet("Volume table", made.tank.name, block, revision)
    sheet.section(
        tank.shape.outline(),
        42 * mm,
        tank.reference_height_m,
        (
            f"brim {show_in(limits.brim_level_m, length)}",
            f"reference point {show_in(tank.reference_height_m, length)}",
        ),
    )
    wider = multiple if made.issued else made.widened
    if wider > 1:
        sheet.paragraph(
            f"Printed at {wider} × {made.step_text} to fit two pages; the whole table is in the CSV file.", 7.5
        )
    u95 = columns[f"u95_{volume.key}"]
    if u95 is not None:
        sheet.paragraph("± U: expanded uncertainty of the volume, k = 2, from the tank's dimensions.", 7.5)
    third = f"± U {volume.name}" if u95 is not None else "% of capacity"
    by = made.order.by if made.issued is None else "innage"
    rows = list(
        zip(
            [_places(v, length) for v in columns[f"{by}_{length.key}"]],
            [f"{v:,.{volume.decimals}f}".replace(",", " ") for v in columns[f"volume_{volume.key}"]],
            [f"{v:.{volume.decimals}f}" for v in u95]
            if u95 is not None
            else [f"{v:.2f}" for v in columns["volume_pct"]],
            strict=True,
        )
    )
    _print_rows(sheet, rows, (f"{by.capitalize()} {length.name}", f"Volume {volume.name}", third))
    return sheet.finish()


def _who(made: MadeTable) -> list[tuple[str, str]]:
    """Say who stands for the table: whoever issued it, or surveyed the tank."""
    now = f"{timezone.localtime():%Y-%m-%d %H:%M}"
    if made.issued:
        issued = made.issued
        day = f"{timezone.localtime(issued.issued_at):%Y-%m-%d}"
        return [("Issued", f"{day} by {name_of(issued.issued_by)}"), ("Why", issued.why), ("Printed", now)]
    tank = made.tank
    day = f"{timezone.localtime(tank.changed_at):%Y-%m-%d}"
    return [("Printed", now), ("Surveyed", f"{day} by {name_of(tank.changed_by) or 'unknown'}")]


def _places(value: float, length: Unit) -> str:
    text = f"{value:.3f}".rstrip("0").rstrip(".")
    return text if length.key != "mm" else f"{value:.1f}".rstrip("0").rstrip(".")


def _print_rows(sheet: Sheet, rows: list[tuple[str, str, str]], names: tuple[str, str, str]) -> None:
    """Print rows in columns side by side, read down each before the next."""
    while rows:
        room = int((sheet.y - MARGIN - 8 * mm) // _ROW)
        if room < 12:
            sheet.new_page()
            continue
        here, rows = rows[: room * _GROUPS], rows[room * _GROUPS :]
        per_group = -(-len(here) // _GROUPS)
        width = INNER / _GROUPS
        canvas, top = sheet.canvas, sheet.y
        for group in range(_GROUPS):
            x = MARGIN + group * width
            ends = (x + 13 * mm, x + 29 * mm, x + width - 3 * mm)
            part = here[group * per_group : (group + 1) * per_group]
            canvas.setFillColor(LINE)
            canvas.setFont(TEXT, 5.8)
            if part:
                for end, name in zip(ends, names, strict=True):
                    canvas.drawRightString(end, top - 4 * mm, name)
            canvas.setFont(MONO, 6.6)
            canvas.setFillColorRGB(0.1, 0.14, 0.16)
            for number, row in enumerate(part):
                y = top - 8 * mm - number * _ROW
                for end, text in zip(ends, row, strict=True):
                    canvas.drawRightString(end, y, text)
                if number % 5 == 4:
                    canvas.setStrokeColor(RULE)
                    canvas.setLineWidth(0.25)
                    canvas.line(x, y - 1 * mm, x + width - 3 * mm, y - 1 * mm)
        sheet.y = MARGIN
