"""The printed device sheet, made from the document that was written."""

from __future__ import annotations

from itertools import groupby

from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..sheets import Sheet
from .models import DeviceSheet


def sheet_pdf(sheet: DeviceSheet) -> bytes:
    """Print a device sheet, from its document alone."""
    document = sheet.document
    system: System = "us" if document["system"] == "us" else "metric"
    block = [
        ("Site", document["site"]),
        ("Product", document["product"]),
        ("Volumes from", document["table"]),
        ("Written", f"{timezone.localtime(sheet.made_at):%Y-%m-%d %H:%M} by {name_of(sheet.made_by) or 'unknown'}"),
    ]
    if sheet.note:
        block.append(("Note", sheet.note))
    pages = Sheet("Device sheet", document["tank"], block, f"device sheet {sheet.number}")
    tank = sheet.tank.file.tank
    w = Words(system)
    pages.section(
        tank.shape.outline(),
        30 * mm,
        tank.reference_height_m,
        (f"brim {w.length(tank.inside_height)}", f"reference point {w.length(tank.reference_height_m)}"),
    )
    checks = [item for item in document["items"] if item["key"].startswith("check.")]
    for section, items in groupby(
        (item for item in document["items"] if not item["key"].startswith("check.")), key=lambda item: item["section"]
    ):
        # A heading does not stand alone at the foot of a page.
        rows = [[item["label"], f"{item['value']} {item['unit']}".strip(), item["key"], ""] for item in items]
        pages.need((min(len(rows) + 2, 8) * 6 + 12) * mm)
        pages.heading(section)
        pages.grid(["Setting", "Set to", "Key", "As set, by hand"], rows, (5, 6, 4, 3))
    pages.need(60 * mm)
    pages.heading("Check: what every station reads at five levels")
    _check_table(pages, checks)
    pages.cautions(document["product"], ("scale", "prove"))
    return pages.finish()


def _check_table(pages: Sheet, checks: list[dict[str, str]]) -> None:
    """Print the check items as one table: stations down, levels across."""
    shares = list(dict.fromkeys(item["section"] for item in checks))
    stations = list(dict.fromkeys(item["label"] for item in checks))
    by_place = {(item["label"], item["section"]): f"{item['value']} {item['unit']}".strip() for item in checks}
    rows = [[station, *(by_place.get((station, share), "") for share in shares)] for station in stations]
    pages.grid(["Station", *(share.removeprefix("Check at ") for share in shares)], rows)
