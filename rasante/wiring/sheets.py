"""The printed sheet of a wiring."""

from __future__ import annotations

from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.wiring.circuit_drawing import WiringDrawing, draw_circuit, terminal_list
from ..core.wiring.circuit_kinds import LINKS, WiringForm
from ..core.wiring.loop_budget import loop_budget
from ..sheets import BOLD, INK, INNER, LIMIT, LINE, MARGIN, RULE, TEXT, Sheet, printable
from ..tanks.models import Tank
from . import services


def wiring_sheet(tank: Tank, system: System) -> bytes:
    """Make the wiring sheet of a tank: drawing, terminal list, budget, what to mind."""
    kept = services.wiring_of(tank)
    found = services.read_tank_wiring(tank, kept.entries if kept else {}, system)
    block = [
        ("Site", tank.site.name),
        ("Product", tank.product),
        ("Link", LINKS[found.circuit.kind]),
        ("Cable taken to reach", f"{found.hottest_c:g} °C"),
    ]
    if kept:
        day = f"{timezone.localtime(kept.changed_at):%Y-%m-%d}"
        block.append(("Planned", f"{day} by {name_of(kept.changed_by) or 'unknown'}"))
    revision = f"wiring revision {kept.revision}" if kept else "not kept yet"
    sheet = Sheet("Wiring", tank.name, block, revision)
    planned = {wire.id: (wire.a, wire.b) for wire in found.planned}
    _draw(sheet, draw_circuit(found.circuit, planned))
    sheet.heading("Terminal by terminal")
    rows = [[wire["number"], wire["from"], wire["to"], wire["mark"], ""] for wire in terminal_list(found.circuit)]
    sheet.grid(("No.", "From", "To", "Conductor, rung out", "Checked"), rows, (1, 6, 6, 4, 3), 7.5)
    _print_budget(sheet, found)
    sheet.minded(services.judge_wiring(tank, found), Words(system))
    sheet.paragraph("Conductors are marked as they were rung out. Colours are never to be trusted.", 8)
    sheet.cautions(tank.product, ("wiring", "prove"))
    sheet.to_sign("Wired by", "Date")
    return sheet.finish()


def _print_budget(sheet: Sheet, found: WiringForm) -> None:
    budget = loop_budget(found.circuit, found.hottest_c, found.form.system == "us")
    if budget is None:
        return
    sheet.heading("Loop budget, lowest supply and hottest cable")
    rows = [
        [
            f"{at.current_a * 1000:g} mA",
            f"{at.volts:.2f} V",
            f"{at.margin_v:+.2f} V" + (" !" if at.margin_v < 0 else ""),
        ]
        for at in budget.at
    ]
    sheet.grid(("Current", "At the transmitter", f"Over its lift-off of {budget.lift_off_v:g} V"), rows)


def _draw(sheet: Sheet, drawing: WiringDrawing) -> None:
    """Draw the circuit over the width of the page."""
    scale = min(INNER / drawing.width, 120 * mm / drawing.height)
    sheet.need(drawing.height * scale + 4 * mm)
    c, top = sheet.canvas, sheet.y

    def place(x: float, y: float) -> tuple[float, float]:
        return MARGIN + x * scale, top - y * scale

    for box in drawing.boxes:
        x, y = place(box.x, box.y + box.height)
        c.setStrokeColor(RULE if box.kind == "cable" else INK)
        c.setLineWidth(0.7)
        c.rect(x, y, box.width * scale, box.height * scale)
        c.setFillColor(INK)
        c.setFont(BOLD, max(14 * scale, 5))
        c.drawString(x + 3 * scale, place(0, box.y + 15)[1], printable(box.name))
        c.setFont(TEXT, max(13 * scale, 4.5))
        c.drawString(x + 3 * scale, place(0, box.y + 29)[1], printable(box.detail))
    for line in drawing.lines:
        c.setStrokeColor(INK if line.planned else LIMIT)
        c.setLineWidth(0.8)
        path = c.beginPath()
        path.moveTo(*place(*line.points[0]))
        for point in line.points[1:]:
            path.lineTo(*place(*point))
        c.drawPath(path)
        c.setFillColor(LINE)
        c.setFont(TEXT, max(12 * scale, 4.5))
        c.drawString(*place(*line.number_at), str(line.number))
    for spot in drawing.spots:
        x, y = place(spot.x, spot.y)
        c.setFillColor(INK)
        c.circle(x, y, 2.2 * scale, fill=1)
        c.setFont(TEXT, max(13 * scale, 4.5))
        if spot.side == "middle":
            c.drawCentredString(x, y + 5 * scale, spot.label)
        elif spot.side == "right":
            c.drawRightString(x - 5 * scale, y - 3 * scale, spot.label)
        elif spot.label:
            c.drawString(x + 5 * scale, y - 3 * scale, spot.label)
    sheet.y = top - drawing.height * scale - 3 * mm
