"""The printed sheet of a gauge: what to cut, with room to write what was cut."""

from __future__ import annotations

from collections.abc import Callable

from django.utils import timezone
from reportlab.lib.units import mm

from ..accounts.models import name_of
from ..core.gauges.plan import GaugePlan, all_judgements
from ..core.gauges.rods import COUPLING_M
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import Phrase, phrase
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.tanks.limits import limits_of
from ..sheets import INK, LINE, TEXT, Sheet
from ..tanks.models import Tank
from . import services


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
    place = sheet.section(
        there.shape.outline(),
        58 * mm,
        there.reference_height_m,
        (f"brim {w.length(limits_of(there).brim_level_m)}", f"reference point {w.length(there.reference_height_m)}"),
    )
    _draw(sheet, plan, place, w)
    steps = _lengths(sheet, plan, w)
    for number, step in enumerate(steps, start=1):
        sheet.paragraph(f"{number}. {w.say(step)}")
    sheet.minded(all_judgements(plan), w)
    sheet.cautions(tank.product, ("survey", "gauge"))
    sheet.to_sign("Cut by", "Date")
    return sheet.finish()


def _draw(sheet: Sheet, plan: GaugePlan, place: Callable[[float, float], tuple[float, float]], w: Words) -> None:
    """Draw what is cut in the section: from its flange down at the spot, with its gap or its tips."""
    c, there = sheet.canvas, plan.there
    x, flange = there.x_m, there.face_m
    c.setStrokeColor(LINE)
    c.setFillColor(LINE)
    c.setFont(TEXT, 7)

    def hang(along: float, length: float, name: str, foot: str = "") -> None:
        (left, top), (_, tip) = place(along, flange), place(along, flange - length)
        c.setLineWidth(1.6)
        c.line(left, top, left, tip)
        c.setLineWidth(0.8)
        c.line(left - 4, top, left + 4, top)
        c.line(left - 3, tip, left + 3, tip)
        c.drawString(left + 4, (top + tip) / 2, name)
        if foot:
            c.drawString(left + 5, tip - 1, foot)

    if plan.probe is not None:
        probe = plan.probe
        hang(x, probe.cut_m, w.length(probe.cut_m), f"gap {w.length(probe.gap_m)}, {probe.school.label.lower()}")
    elif plan.cable is not None:
        hang(x, plan.cable.down_m, w.length(plan.cable.down_m), f"{w.length(plan.cable.off_floor_m)} off the floor")
    elif plan.rods is not None:
        apart = 0.02 * there.tank.shape.length
        middle = (len(plan.rods.rods) - 1) / 2
        for index, rod in enumerate(plan.rods.rods):
            hang(x + (index - middle) * apart, rod.length_m, "", rod.name if index == len(plan.rods.rods) - 1 else "")
    c.setFillColor(INK)


def _lengths(sheet: Sheet, plan: GaugePlan, w: Words) -> list[Phrase]:
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
        return [Phrase("Keep the vent tube open and dry: breather in the box, end never sealed.")]
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
            Phrase(
                "Cut longest first; sheath all but bare tip and top inch; lock nuts on both sides of each coupling."
            ),
            phrase("Each rod goes {half:length} into its coupling, to its middle.", half=COUPLING_M / 2),
            phrase("Spacer about {above:length} above the longest rod's tip.", above=plan.rods.spacer_m),
        ]
    sheet.paragraph("Nothing of this gauge is cut to length.")
    return []
