"""What can be done with device sheets: written, handed out, and compared with what was found in the devices."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max

from ..core.devices.device_sheet import compare_found, make_items, read_found, sheet_document
from ..core.quantities.errors import InputError
from ..core.quantities.units import System
from ..core.scaling.marks import Mark
from ..scaling.chains import chain_of, newest_table, scaled_chain
from ..scaling.marking import marks_of, moved_marks
from ..seals.services import seal
from ..tanks.models import Tank
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
    chain_kept = chain_of(tank)
    if chain_kept is None:
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
        "tank_file": tank.document,
    }
    number = (tank.device_sheets.aggregate(Max("number"))["number__max"] or 0) + 1
    document = sheet_document(make_items(chain, marks, system, chain_kept.entries.get("sensor.serial", "")), title)
    sheet = DeviceSheet(tank=tank, number=number, document=document, note=note.strip(), made_by=person)
    sheet.save()
    seal(sheet)
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
    seal(found)
    return found


def differences(found: FoundSheet) -> list[dict[str, Any]]:
    """Compare what was found with its sheet, line by line."""
    return [asdict(row) for row in compare_found(found.sheet.document, found.values)]


def to_json(sheet: DeviceSheet) -> str:
    """Write a sheet as JSON, to be handed on or read back as found."""
    return json.dumps(sheet.document, indent=2, ensure_ascii=False) + "\n"
