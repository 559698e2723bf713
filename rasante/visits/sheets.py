"""The printed record of a visit, made from what was frozen in it and its photographs."""

from __future__ import annotations

import io
from datetime import datetime
from typing import Any

from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader

from ..core.quantities.units import show
from ..core.tanks.limits import limits_of
from ..core.tanks.tank_file import check_document
from ..sheets import INK, INNER, LIMIT, LINE, MARGIN, TEXT, Sheet
from .models import VisitRecord

_STATES = {"skip": "left out", "override": "overridden", "done": "done", "open": "open", "running": "running"}


def _day(text: str) -> str:
    return f"{datetime.fromisoformat(text):%Y-%m-%d %H:%M} UTC"


def visit_pdf(record: VisitRecord) -> bytes:
    """Print a signed visit; nothing but its document and its photographs is read."""
    said = record.document
    file, system = check_document(said["tank"]), said["system"]
    system = "us" if system == "us" else "metric"

    def length(metres: float) -> str:
        return show(metres, "length", system)

    block = [
        ("Site", said["site"]),
        ("Product", said["product"]),
        *list(said["facts"].items())[:1],
        ("Opened", f"{_day(said['opened_at'])} by {said['opened_by']}"),
        ("Signed", f"{_day(said['signed_at'])} by {said['signed_by']}"),
        ("Revisions as left", ", ".join(f"{key} {value}" for key, value in said["left"].items() if value)),
    ]
    sheet = Sheet("Record of a visit", file.name, block, f"visit {said['number']}, signed {said['signed_at'][:10]}")
    brim = limits_of(file.tank).brim_level_m
    labels = (f"brim {length(brim)}", f"reference point {length(file.tank.reference_height_m)}")
    sheet.section(file.tank.shape.outline(), 34 * mm, file.tank.reference_height_m, labels)
    _steps(sheet, said)
    _left_out(sheet, said)
    _figures(sheet, said)
    _gates(sheet, said)
    _changed(sheet, said)
    _photos(sheet, record)
    sheet.heading("Told to the office")
    for text in said["office"]:
        sheet.paragraph(text, 8.5)
    sheet.heading("Cautions")
    for text in said["cautions"]:
        sheet.paragraph(text, 8)
    sheet.need(24 * mm)
    sheet.heading(said["signed_by"])
    sheet.paragraph(
        f"Signed {_day(said['signed_at'])}. This record cannot be changed; a newer visit follows a mistake.", 8.5
    )
    return sheet.finish()


def _steps(sheet: Sheet, said: dict[str, Any]) -> None:
    sheet.heading("What was done")
    rows = []
    for step in said["steps"]:
        values = "; ".join(f"{one['label']}: {one['text']}" for one in step["values"])
        state = _STATES[step["state"]]
        when = step["at"][11:16] if step["at"] else ""
        rows.append([when, step["title"], values, state, step["by"]])
    sheet.grid(["UTC", "Step", "Noted", "", "By"], rows, (0.07, 0.33, 0.33, 0.15, 0.12))


def _figures(sheet: Sheet, said: dict[str, Any]) -> None:
    """Print every figure with its working, whole: a customer's engineer goes through it line by line."""
    shown = [step for step in said["steps"] if step["figures"] and step["key"] not in _NO_FIGURES]
    if not shown:
        return
    sheet.heading("Figures and their working")
    for step in shown:
        by = f", {step['by']}" if step["by"] else ""
        sheet.paragraph(f"{step['title']}{by}", 8.5, LINE)
        for one in step["figures"]:
            inputs = ", ".join(f"{name} {value}" for name, value in one["inputs"])
            working = "; ".join(part for part in (one["formula"], inputs, one["source"]) if part)
            sheet.paragraph(f"{one['label']}: {one['text']}" + (f" ({working})" if working else ""), 8)


#: Steps whose lines are a list, not figures.
_NO_FIGURES = ("kit", "asset", "received", "office")


def _left_out(sheet: Sheet, said: dict[str, Any]) -> None:
    left = [step for step in said["steps"] if step["reason"]]
    if not left:
        return
    sheet.heading("Left out or overridden")
    for step in left:
        sheet.paragraph(f"{step['title']}, {_STATES[step['state']]} by {step['by']}: {step['reason']}", 8.5, LIMIT)


def _gates(sheet: Sheet, said: dict[str, Any]) -> None:
    if not said["gates"]:
        return
    sheet.heading("What had to hold")
    for gate in said["gates"]:
        if gate["reason"]:
            sheet.paragraph(f"OVERRIDDEN by {gate['by']}: {gate['title']}. {gate['reason']}", 8.5, LIMIT)
        else:
            sheet.paragraph(f"{gate['title']}: {gate['by']}", 8.5)


def _changed(sheet: Sheet, said: dict[str, Any]) -> None:
    sheet.heading("As found, as left")
    names = {"tank": "Survey", "gauge": "Gauge", "wiring": "Wiring", "chain": "Chain", "table": "Table"}
    rows = [
        [names[key], str(said["found"].get(key, 0) or "none"), str(value or "none")]
        for key, value in said["left"].items()
    ]
    sheet.grid(["", "Revision as found", "As left"], rows, (0.34, 0.33, 0.33))
    for paper in said["papers"]:
        sheet.paragraph(f"{paper['kind'].capitalize()} {paper['number']}: {paper['says']}".rstrip(": "), 8.5)


def _photos(sheet: Sheet, record: VisitRecord) -> None:
    photos = {photo.pk: photo for photo in record.visit.photos.all()}
    kept = [one for one in record.document["photos"] if one["id"] in photos]
    if not kept:
        return
    titles = {step["key"]: step["title"] for step in record.document["steps"]}
    sheet.heading("Photographs")
    width, height = (INNER - 8 * mm) / 2, 58 * mm
    for i in range(0, len(kept), 2):
        sheet.need(height + 10 * mm)
        for column, one in enumerate(kept[i : i + 2]):
            x = MARGIN + column * (width + 8 * mm)
            picture = ImageReader(io.BytesIO(bytes(photos[one["id"]].jpeg)))
            sheet.canvas.drawImage(picture, x, sheet.y - height, width, height, preserveAspectRatio=True, anchor="nw")
            sheet.canvas.setFont(TEXT, 7.5)
            sheet.canvas.setFillColor(INK)
            words = f"{titles.get(one['step'], one['step'])}, {one['at'][11:16]} UTC, {one['by']}"
            sheet.canvas.drawString(x, sheet.y - height - 4 * mm, f"{words}. {one['note']}".strip(". "))
        sheet.y -= height + 8 * mm
