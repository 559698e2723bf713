"""The printed device sheet, made from the document that was written."""

from __future__ import annotations

from itertools import groupby

from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.tanks.limits import limits_of
from ..core.tanks.tank_file import check_document
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
    w = Words(system)
    if "tank_file" in document:
        # The tank as it was when the sheet was written; sheets of before have no drawing.
        tank = check_document(document["tank_file"]).tank
        brim = limits_of(tank).brim_level_m
        labels = (f"brim {w.length(brim)}", f"reference point {w.length(tank.reference_height_m)}")
        pages.section(tank.shape.outline(), 24 * mm, tank.reference_height_m, labels)
    items = [item for item in document["items"] if not item["key"].startswith("check.")]
    checks = [item for item in document["items"] if item["key"].startswith("check.")]
    pages.paragraph("Behind every setting is room for what was set by hand. Keys are in the CSV and JSON files.", 7.5)
    for section, found in groupby(items, key=lambda item: item["section"]):
        rows = list(found)
        points = [item for item in rows if item["key"].startswith("points[")]
        pages.need(20 * mm)
        pages.heading(section)
        if points:
            pages.settings(_pairs(points), 4, by_hand=False)
        others = [(item["label"], f"{item['value']} {item['unit']}".strip()) for item in rows if item not in points]
        if others:
            pages.settings(others)
    pages.need(45 * mm)
    pages.heading("Check: what every station reads at five levels")
    _check_table(pages, checks)
    pages.cautions(document["product"], ("scale", "prove"))
    return pages.finish()


def _pairs(points: list[dict[str, str]]) -> list[tuple[str, str]]:
    """The device's points as level and volume side by side."""
    by_index: dict[str, list[str]] = {}
    for item in points:
        by_index.setdefault(item["key"].partition("]")[0], []).append(f"{item['value']} {item['unit']}".strip())
    return [(f"{level}:", " ".join(rest)) for level, *rest in by_index.values()]


def _check_table(pages: Sheet, checks: list[dict[str, str]]) -> None:
    """Print the check items as one table: stations down, levels across."""
    shares = list(dict.fromkeys(item["section"] for item in checks))
    stations = list(dict.fromkeys(item["label"] for item in checks))
    by_place = {(item["label"], item["section"]): f"{item['value']} {item['unit']}".strip() for item in checks}
    rows = [[station, *(by_place.get((station, share), "") for share in shares)] for station in stations]
    pages.grid(["Station", *(share.removeprefix("Check at ") for share in shares)], rows)
