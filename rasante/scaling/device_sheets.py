"""What can be done with device sheets: written, handed out, and compared with what was found in the devices."""

from __future__ import annotations

import json
from dataclasses import asdict
from itertools import groupby
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max
from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.cautions import cautions_for
from ..core.errors import InputError
from ..core.scaling.device_sheet import compare_found, make_items, read_found, sheet_document
from ..core.scaling.marks import Mark
from ..core.units import System, Words
from ..sheets import Sheet
from ..tanks.models import Tank
from .chains import chain_of, newest_table, scaled_chain
from .marking import marks_of, moved_marks
from .models import DeviceSheet, FoundSheet


@transaction.atomic
def write_sheet(tank: Tank, system: System, note: str, person: User) -> DeviceSheet:
    """Write a tank's device sheet from its kept chain and marks: the next number, never changed again.

    Raises
    ------
    InputError
        If no chain is kept, it does not fit the tank, or marks wait to be derived from a newer table.
    """
    tank = Tank.objects.select_related("site").get(pk=tank.pk)
    if chain_of(tank) is None:
        raise InputError.at("chain", "no chain is kept yet: look at it at Chain, and keep it first")
    chain = scaled_chain(tank, system)
    if moved_marks(tank, system):
        raise InputError.at("marks", "the table was revised since the marks were kept: keep them anew at Marks first")
    kept = marks_of(tank)
    marks = [Mark(**mark) for mark in kept.document["marks"]] if kept is not None else []
    issued = newest_table(tank)
    title = {
        "site": tank.site.name,
        "tank": tank.name,
        "product": tank.product,
        "table": f"table {issued.number}" if issued else f"survey, revision {tank.revision}",
        "system": system,
    }
    number = (tank.device_sheets.aggregate(Max("number"))["number__max"] or 0) + 1
    document = sheet_document(make_items(chain, marks, system), title)
    sheet = DeviceSheet(tank=tank, number=number, document=document, note=note.strip(), made_by=person)
    sheet.save()
    return sheet


@transaction.atomic
def keep_found(sheet: DeviceSheet, text: str, note: str, person: User) -> FoundSheet:
    """Keep what was found in the devices against a sheet.

    Raises
    ------
    InputError
        If it cannot be read.
    """
    found = FoundSheet(sheet=sheet, values=read_found(text), note=note.strip(), made_by=person)
    found.save()
    return found


def differences(found: FoundSheet) -> list[dict[str, Any]]:
    """Compare what was found with its sheet, line by line."""
    return [asdict(row) for row in compare_found(found.sheet.document, found.values)]


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
    for caution in cautions_for(document["product"]):
        if caution.station in ("scale", "prove"):
            pages.paragraph(caution.text, 8)
    return pages.finish()


def _check_table(pages: Sheet, checks: list[dict[str, str]]) -> None:
    """Print the check items as one table: stations down, levels across."""
    shares = list(dict.fromkeys(item["section"] for item in checks))
    stations = list(dict.fromkeys(item["label"] for item in checks))
    by_place = {(item["label"], item["section"]): f"{item['value']} {item['unit']}".strip() for item in checks}
    rows = [[station, *(by_place.get((station, share), "") for share in shares)] for station in stations]
    pages.grid(["Station", *(share.removeprefix("Check at ") for share in shares)], rows)


def to_json(sheet: DeviceSheet) -> str:
    """Write a sheet as JSON, to be handed on or read back as found."""
    return json.dumps(sheet.document, indent=2, ensure_ascii=False) + "\n"
