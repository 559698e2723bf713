"""The printed sheets of a gauge: what to cut, with room to write what was cut, and how it is wired."""

from __future__ import annotations

from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.cautions import cautions_for
from ..core.errors import InputError
from ..core.gauges.circuit_drawing import WiringDrawing, draw_circuit, terminal_list
from ..core.gauges.circuit_kinds import LINKS, WiringForm
from ..core.gauges.loop_budget import loop_budget
from ..core.gauges.plan import GaugePlan, all_judgements
from ..core.gauges.rods import COUPLING_M
from ..core.judgement import Judgement
from ..core.units import System, Words
from ..sheets import BOLD, INK, INNER, LIMIT, LINE, MARGIN, RULE, TEXT, Sheet, printable
from ..tanks.models import Tank
from . import services

_WEIGHTS = {"stop": "STOP", "watch": "WATCH"}


def cut_sheet(tank: Tank, system: System) -> bytes:
    """Make the cut sheet of a tank's gauge.

    Raises
    ------
    InputError
        If no gauge is planned for it, or nothing of the gauge is cut.
    """
    kept = services.gauge_of(tank)
    if kept is None or not kept.document.get("model"):
        raise InputError.at("choice.model", "no gauge is kept for this tank yet: choose one at Gauge and keep it")
    plan = services.read_gauge(tank, kept.entries, system)
    assert plan.model is not None
    w = Words(system)
    day = f"{timezone.localtime(kept.changed_at):%Y-%m-%d}"
    block = [
        ("Site", tank.site.name),
        ("Product", tank.product),
        ("Gauge", plan.model.name),
        ("Output", plan.output or "none"),
        ("Spot, along", w.length(plan.there.x_m)),
        ("Spot, across", w.length(plan.there.y_m)),
        ("Opening", kept.entries.get("spot.port", "")),
        ("Flange to floor", w.length(plan.there.depth_m)),
        ("Planned", f"{day} by {name_of(kept.changed_by) or 'unknown'}"),
    ]
    if plan.against:
        block.append(("Chosen against the advice", plan.reason))
    sheet = Sheet("Cut sheet", tank.name, block, f"gauge revision {kept.revision}")
    there = plan.there.tank
    sheet.section(
        there.shape.outline(),
        38 * mm,
        there.reference_height_m,
        (f"brim {w.length(there.inside_height)}", f"reference point {w.length(there.reference_height_m)}"),
    )
    steps = _lengths(sheet, plan, w)
    for number, step in enumerate(steps, start=1):
        sheet.paragraph(f"{number}. {step}")
    _minded(sheet, all_judgements(plan))
    _cautions(sheet, tank, ("survey", "gauge"))
    _written(sheet, "Cut by", "Date")
    return sheet.finish()


def _lengths(sheet: Sheet, plan: GaugePlan, w: Words) -> list[str]:
    """Print what is to be cut, with an empty column for what was; give the steps."""
    sheet.heading("Cut")
    if plan.probe is not None:
        probe = plan.probe
        rows = [
            ["Depth at the spot", w.length(probe.depth_m), ""],
            [f"Gap, {probe.school.label.lower()}", w.length(probe.gap_m), ""],
            ["Probe, cut to", w.length(probe.cut_m), ""],
        ]
        rows += [
            [f"Piece {i}", w.length(piece), ""]
            for i, piece in enumerate(probe.pieces_m, 1)
            if len(probe.pieces_m) > 1
        ]
        sheet.grid(("Length", "Planned", "As cut (write here)"), rows, (3, 2, 3), 9)
        return list(probe.steps)
    if plan.cable is not None:
        cable = plan.cable
        stock = w.length(cable.stock_m) if cable.stock_m else "none is long enough"
        rows = [
            ["Flange down to the sensor", w.length(cable.down_m), ""],
            ["On to the box", w.length(cable.run_m), ""],
            ["Drip loop", w.length(cable.loop_m), ""],
            ["Cable needed", w.length(cable.need_m), ""],
            ["Cable, stock length", stock, ""],
            ["Off the floor, its offset", w.length(cable.off_floor_m), ""],
            ["Measuring range, not the cable", f"{w.length(cable.range_m)} of water", ""],
        ]
        sheet.grid(("Length", "Planned", "As hung (write here)"), rows, (3, 2, 3), 9)
        return ["Keep the vent tube open and dry: breather in the box, end never sealed."]
    if plan.rods is not None:
        rows = [
            [
                rod.name,
                w.length(rod.tip_m),
                w.length(rod.length_m),
                w.length(rod.sheath_m),
                " + ".join(w.length(piece) for piece in rod.pieces_m),
                "",
            ]
            for rod in plan.rods.rods
        ]
        names = ("Rod", "Tip at", "Cut to", "Sheath", "Pieces", "As cut (write here)")
        sheet.grid(names, rows, (3, 2, 2, 2, 4, 3), 7.5)
        return [
            "Cut longest first; sheath all but bare tip and top inch; lock nuts on both sides of each coupling.",
            f"Each rod goes {w.length(COUPLING_M / 2)} into its coupling, to its middle.",
            f"Spacer about {w.length(plan.rods.spacer_m)} above the longest rod's tip.",
        ]
    sheet.paragraph("Nothing of this gauge is cut to length.")
    return []


def _minded(sheet: Sheet, found: list[Judgement]) -> None:
    minded = [judgement for judgement in found if judgement.weight in _WEIGHTS]
    if not minded:
        return
    sheet.heading("To be minded")
    for judgement in minded:
        colour = LIMIT if judgement.weight == "stop" else INK
        sheet.paragraph(f"{_WEIGHTS[judgement.weight]}: {judgement.text}", 8.5, colour)


def _cautions(sheet: Sheet, tank: Tank, stations: tuple[str, ...]) -> None:
    sheet.heading("Cautions")
    for caution in cautions_for(tank.product):
        if caution.station in stations:
            sheet.paragraph(caution.text, 8)


def _written(sheet: Sheet, *labels: str) -> None:
    """Leave lines to sign on."""
    sheet.need(20 * mm)
    sheet.y -= 12 * mm
    width = INNER / len(labels)
    for index, label in enumerate(labels):
        x = MARGIN + index * width
        sheet.canvas.setStrokeColor(INK)
        sheet.canvas.setLineWidth(0.6)
        sheet.canvas.line(x, sheet.y, x + width - 8 * mm, sheet.y)
        sheet.canvas.setFont(TEXT, 8)
        sheet.canvas.setFillColor(INK)
        sheet.canvas.drawString(x, sheet.y - 4 * mm, label)
    sheet.y -= 8 * mm


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
    _minded(sheet, services.judge_wiring(tank, found))
    sheet.paragraph("Conductors are marked as they were rung out. Colours are never to be trusted.", 8)
    _cautions(sheet, tank, ("wiring", "prove"))
    _written(sheet, "Wired by", "Date")
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
