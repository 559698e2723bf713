"""The printed volume table: one or two pages with title block, section and table."""

from __future__ import annotations

from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.tanks.kinds import HEADS, SHAPES
from ..core.units import Unit, show_in
from ..sheets import INNER, LINE, MARGIN, MONO, RULE, TEXT, Sheet
from . import present
from .models import Tank
from .services import Step, table_of

_ROW = 3.55 * mm
_GROUPS = 4
_MOST_ROWS = 400
_METRIC_STEPS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
_INCH_STEPS = (1, 2, 4, 8, 16, 32, 64, 96, 192, 384, 768, 1536, 3072)


def printed_multiple(tank: Tank, step: Step, length: Unit) -> int:
    """Return by how much a step is widened so that the table fits two pages."""
    choices = _INCH_STEPS if length.key in ("in", "ft") else _METRIC_STEPS
    for multiple in choices:
        if tank.file.tank.inside_height / (step.metres * multiple) < _MOST_ROWS:
            return multiple
    return choices[-1]


def describe(document: dict, length: Unit) -> list[tuple[str, str]]:
    """Write a tank's dimensions for a title block, each head on one line."""
    shape = document["shape"]
    kind = SHAPES[shape["kind"]]
    lines = [("Shape", kind.label)]
    lines += [(d.label, show_in(shape[d.key] / 1000, length)) for d in kind.dimensions if d.key in shape]
    for key, label in kind.heads:
        head = HEADS[shape[key]["kind"]]
        sizes = [f"{d.label.lower()} {show_in(shape[key][d.key] / 1000, length)}" for d in head.dimensions]
        lines.append((label, ", ".join([head.label, *sizes])))
    return lines


def table_sheet(tank: Tank, step: Step, length: Unit, volume: Unit) -> bytes:
    """Make the sheet of a tank's volume table.

    Parameters
    ----------
    tank : Tank
        The tank.
    step : Step
        The step asked for; widened by a whole multiple if more than two pages would be needed, and said so.
    length, volume : Unit
        Units of the table.
    """
    file = tank.file
    multiple = printed_multiple(tank, step, length)
    table = table_of(file, step.metres * multiple)
    columns = present.table_columns(table, length, volume)
    now = timezone.localtime()
    block = [
        ("Site", tank.site.name),
        ("Product", file.product),
        ("Capacity", show_in(file.tank.capacity, volume)),
        *describe(dict(file.document), length),
        ("Reference height", show_in(file.tank.reference_height_m, length)),
        ("Deadwood", f"{len(file.tank.deadwood)} part(s), allowed for" if file.tank.deadwood else "none"),
        ("Printed", f"{now:%Y-%m-%d %H:%M}"),
        ("Surveyed", f"{timezone.localtime(tank.changed_at):%Y-%m-%d} by {name_of(tank.changed_by) or 'unknown'}"),
    ]
    sheet = Sheet("Volume table", tank.name, block, f"revision {tank.revision}")
    reference = f"reference point {show_in(file.tank.reference_height_m, length)}"
    sheet.section(
        file.tank.shape.outline(),
        42 * mm,
        file.tank.reference_height_m,
        (f"brim {show_in(file.tank.inside_height, length)}", reference),
    )
    if multiple > 1:
        sheet.paragraph(
            f"Printed at {multiple} × {step.text} to fit two pages; the whole table is in the CSV file.", 7.5
        )
    third = f"± U (k = 2) {volume.name}" if table.u95_m3 is not None else "% of capacity"
    last = columns[f"u95_{volume.key}"] if table.u95_m3 is not None else columns["volume_pct"]
    rows = list(
        zip(
            [_places(v, length) for v in columns[f"innage_{length.key}"]],
            [f"{v:,.{volume.decimals}f}".replace(",", " ") for v in columns[f"volume_{volume.key}"]],
            [f"{v:.{volume.decimals if table.u95_m3 is not None else 2}f}" for v in last],
            strict=True,
        )
    )
    _print_rows(sheet, rows, (f"Innage {length.name}", f"Volume {volume.name}", third))
    return sheet.finish()


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
