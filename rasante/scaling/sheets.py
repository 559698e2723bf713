"""The printed record of a signed proof, made from the record alone."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from reportlab.lib.units import mm

from ..core.scaling.proof import APPLIED, CELLS, DIRECTIONS, READ, RUNS
from ..core.scaling.transmitter import REPORTS
from ..core.tanks.tank_file import check_document
from ..core.units import show
from ..sheets import BOLD, DONE, INK, LIMIT, MARGIN, TEXT, Sheet
from .models import Proof

VERDICTS = {"pass": ("PASSES", DONE), "fail": ("DOES NOT PASS", LIMIT), "incomplete": ("INCOMPLETE", LIMIT)}


def proof_sheet(proof: Proof) -> bytes:
    """Make the sheet of a signed proof.

    Parameters
    ----------
    proof : Proof
        A signed proof; nothing but its record, entries and signature is read.
    """
    record, system = proof.record, proof.system
    file = check_document(record["tank"]["document"])
    scale = record["transmitter"]["document"]
    result = record["result"]
    signed = timezone.localtime(proof.signed_at)

    def length(value_mm: float) -> str:
        return show(value_mm / 1000, "length", system)

    block = [
        ("Site", record["tank"]["site"]),
        ("Product", file.product),
        ("Tank at revision", str(record["tank"]["revision"])),
        ("Transmitter", record["transmitter"]["serial"]),
        ("Reports", REPORTS[scale["reports"]].split(",")[0]),
        ("Range, 4 mA to 20 mA", f"{length(scale['value_at_4ma_mm'])} to {length(scale['value_at_20ma_mm'])}"),
        ("Datum offset", length(scale["datum_offset_mm"])),
        ("Applied", APPLIED[proof.entries["applied_as"]][0]),
        ("Read", READ[proof.entries["read_as"]][0]),
        ("Tolerance", f"± {length(result['tolerance_mm'])}, {result['tolerance_pct']:.2f} % of span"),
        ("Span", length(result["span_mm"])),
        ("Begun by", record["made_by"]),
    ]
    sheet = Sheet("Record of proof", file.name, block, f"proof {proof.pk}, signed {signed:%Y-%m-%d}")
    sheet.section(
        file.tank.shape.outline(),
        34 * mm,
        file.tank.reference_height_m,
        (
            f"brim {length(file.tank.inside_height * 1000)}",
            f"reference point {length(file.tank.reference_height_m * 1000)}",
        ),
    )
    _verdict(sheet, result["verdict"])
    _points(sheet, proof, result, length)
    for name, run in result["runs"].items():
        sheet.paragraph(f"{RUNS[name]}: {_run_words(run, length)}")
    if result["dip"]:
        dip = result["dip"]
        sheet.paragraph(
            f"Dip {length(dip['dipped_mm'])} of innage, indicated {length(dip['indicated_mm'])}: difference "
            f"{length(dip['difference_mm'])}, {show(dip['difference_l'] / 1000, 'volume', system)}, "
            f"{dip['difference_pct']:.2f} % of capacity: {'within' if dip['passes'] else 'outside'} its tolerance of "
            f"± {proof.entries['dip'].get('tolerance') or '10 mm'}."
        )
    if proof.entries["applied_as"] == "current":
        sheet.paragraph("Control was put in manual and the operator told before injecting; control was restored.")
    if proof.entries["remarks"].strip():
        sheet.heading("Remarks")
        sheet.paragraph(proof.entries["remarks"])
    _signature(sheet, record["signed_by"], f"{signed:%Y-%m-%d %H:%M %Z}")
    return sheet.finish()


def _verdict(sheet: Sheet, verdict: str) -> None:
    word, colour = VERDICTS[verdict]
    sheet.canvas.setFillColor(colour)
    sheet.canvas.setFont(BOLD, 15)
    sheet.canvas.drawString(MARGIN, sheet.y - 6 * mm, word)
    sheet.y -= 10 * mm


def _run_words(run: dict[str, Any], length) -> str:
    words = {"pass": "passes", "fail": "does not pass", "incomplete": "not complete"}[run["verdict"]]
    worst, gap = run["worst"], run["hysteresis"]
    text = (
        f"{words}. Worst error {length(worst['value_mm'])} ({worst['value_pct']:.2f} % of span) at point "
        f"{worst['point']}, {DIRECTIONS[worst['direction']]}."
    )
    if gap:
        text += f" Hysteresis {length(gap['value_mm'])} ({gap['value_pct']:.2f} % of span) at point {gap['point']}."
    else:
        text += " Hysteresis was not taken."
    return text


def _points(sheet: Sheet, proof: Proof, result: dict[str, Any], length) -> None:
    used = [c for c in CELLS if any(p.get(c, "").strip() for p in proof.entries["points"])]
    names = ["Point", "Applied", "Should read"]
    for cell in used:
        run, _, way = cell.partition("_")
        names += [f"{RUNS[run]}, {DIRECTIONS[way]}", "error"]
    rows = []
    for index, (typed, point) in enumerate(zip(proof.entries["points"], result["points"], strict=True)):
        row = [str(index + 1), typed["applied"], point["should_read"]]
        for name in used:
            cell = point["cells"].get(name)
            row.append(typed.get(name, ""))
            row.append(f"{length(cell['error_mm'])}{'' if cell['passes'] else ' !'}" if cell else "")
        rows.append(row)
    sheet.grid(names, rows)
    if any(not c["passes"] for point in result["points"] for c in point["cells"].values()):
        sheet.paragraph("! outside the tolerance", 7.5, LIMIT)


def _signature(sheet: Sheet, name: str, when: str) -> None:
    sheet.need(22 * mm)
    sheet.y -= 8 * mm
    canvas = sheet.canvas
    canvas.setFont(BOLD, 12)
    canvas.setFillColor(INK)
    canvas.drawString(MARGIN, sheet.y, name)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.6)
    canvas.line(MARGIN, sheet.y - 2 * mm, MARGIN + 80 * mm, sheet.y - 2 * mm)
    canvas.setFont(TEXT, 8)
    canvas.drawString(MARGIN, sheet.y - 6 * mm, f"Signed {when}. This record cannot be changed.")
