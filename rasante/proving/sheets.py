"""The printed record of a signed proof, made from the record alone."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from reportlab.lib.units import mm

from ..core.proving.places import CELLS, DIRECTIONS, RUNS
from ..core.proving.result import VERDICTS, Verdict
from ..core.quantities.units import SYSTEM_UNITS, UNITS, System, show
from ..core.tanks.limits import limits_of
from ..core.tanks.tank_file import check_document
from ..sheets import BOLD, DONE, INK, LIMIT, MARGIN, TEXT, Sheet
from .models import Proof


def proof_sheet(proof: Proof) -> bytes:
    """Make the sheet of a signed proof.

    Parameters
    ----------
    proof : Proof
        A signed proof; nothing but its record, entries and signature is read.
    """
    record, system = proof.record, proof.system
    file = check_document(record["tank"]["document"])
    result = record["result"]
    signed = timezone.localtime(proof.signed_at)

    def length(value_mm: float) -> str:
        return show(value_mm / 1000, "length", system)

    block = [
        ("Site", record["tank"]["site"]),
        ("Product", file.product),
        ("Tank at revision", str(record["tank"]["revision"])),
        *_what_was_proved(record, length),
        ("Applied", applied_words(proof)),
        ("Read", read_words(proof)),
        ("Tolerance", f"± {length(result['tolerance_mm'])}, {result['tolerance_pct']:.2f} % of span"),
        ("Span", length(result["span_mm"])),
        ("Begun by", record["made_by"]),
    ]
    # Records of before stay as they were printed: they called the inside top the brim, overflow or not.
    brim = limits_of(file.tank).brim_level_m if "chain" in record else file.tank.inside_height
    sheet = Sheet("Record of proof", file.name, block, f"proof {proof.pk}, signed {signed:%Y-%m-%d}")
    sheet.section(
        file.tank.shape.outline(),
        34 * mm,
        file.tank.reference_height_m,
        (
            f"brim {length(brim * 1000)}",
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
    if proof.entries["control_in_manual"] and (proof.entries["applied_as"] == "current" or "chain" in record):
        sheet.paragraph("Control was put in manual and the operator told before injecting; control was restored.")
    if proof.entries["remarks"].strip():
        sheet.heading("Remarks")
        sheet.paragraph(proof.entries["remarks"])
    _signature(sheet, record["signed_by"], f"{signed:%Y-%m-%d %H:%M %Z}")
    return sheet.finish()


#: How old records, which have no words of their own, name what was applied and read.
_OLD_APPLIED = {
    "current": "Current from a source, at the receiver",
    "innage": "Level in the tank, or a depth standing for it",
    "sensed": "Depth over the sensor, or distance to a target",
}
_OLD_READ = {
    "innage": "Level (innage)",
    "sensed": "The transmitter's own value",
    "span_pct": "Per cent of span",
    "volume": "Volume",
    "volume_pct": "Per cent full, by volume",
    "current": "Current",
}
_OLD_REPORTS = {"level": "Level", "distance": "Distance"}


def applied_words(proof: Proof) -> str:
    """Say what was applied: of a signed proof as it was signed."""
    record = proof.record or {}
    return record.get("applied") or _OLD_APPLIED.get(proof.entries["applied_as"], proof.entries["applied_as"])


def read_words(proof: Proof) -> str:
    """Say what was read: of a signed proof as it was signed."""
    record = proof.record or {}
    return record.get("read") or _OLD_READ.get(proof.entries["read_as"], proof.entries["read_as"])


def _what_was_proved(record: dict[str, Any], length) -> list[tuple[str, str]]:
    """The instrument as it was scaled then."""
    if "transmitter" in record:
        scale = record["transmitter"]["document"]
        return [
            ("Transmitter", record["transmitter"]["serial"]),
            ("Reports", _OLD_REPORTS[scale["reports"]]),
            ("Range, 4 mA to 20 mA", f"{length(scale['value_at_4ma_mm'])} to {length(scale['value_at_20ma_mm'])}"),
            ("Datum offset", length(scale["datum_offset_mm"])),
        ]
    settings = record["chain"]["settings"]
    table = record["chain"]["table"]
    return [
        ("Sensor", record["chain"]["serial"]),
        ("Senses", settings["sensor.quantity"]),
        ("Range", f"{settings['sensor.low']} to {settings['sensor.high']}"),
        ("Signal", settings["signal.kind"]),
        ("Height of its zero", settings["sensor.zero"]),
        ("Chain at revision", str(record["chain"]["revision"])),
        ("Volumes from", f"table {table}" if table else "the survey"),
    ]


def _verdict(sheet: Sheet, verdict: Verdict) -> None:
    sheet.canvas.setFillColor(DONE if verdict == "pass" else LIMIT)
    sheet.canvas.setFont(BOLD, 15)
    sheet.canvas.drawString(MARGIN, sheet.y - 6 * mm, VERDICTS[verdict].upper())
    sheet.y -= 10 * mm


def _run_words(run: dict[str, Any], length) -> str:
    words = VERDICTS[run["verdict"]].lower()
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
    if "chain" in proof.record:
        _print_errors(sheet, result, used, proof.system)
    _print_split(sheet, result, proof.system)
    if any(not c["passes"] for point in result["points"] for c in point["cells"].values()):
        sheet.paragraph("! outside the tolerance", 7.5, LIMIT)


def _print_errors(sheet: Sheet, result: dict[str, Any], used: list[str], system: System) -> None:
    """The error curve of every run, with the tolerance as a band."""
    unit = UNITS[SYSTEM_UNITS[system]["length"]]
    curves = []
    for name in used:
        run, _, way = name.partition("_")
        curve = [
            (float(index + 1), point["cells"][name]["error_mm"] / 1000 / unit.si)
            for index, point in enumerate(result["points"])
            if name in point["cells"]
        ]
        curves.append((f"{RUNS[run]}, {DIRECTIONS[way]}", curve))
    sheet.heading("Errors at the five points, the tolerance as a band")
    sheet.errors(curves, result["tolerance_mm"] / 1000 / unit.si, unit.name)


def _print_split(sheet: Sheet, result: dict[str, Any], system: System) -> None:
    """Where the volumes' differences come from, at each point of the last run."""
    rows = []
    for index, point in enumerate(result["points"]):
        last = next((point["cells"][name] for name in reversed(CELLS) if name in point["cells"]), None)
        split = last.get("split") if last else None
        if split:
            parts = (split[key] / 1000 for key in ("table_l", "points_l", "instrument_l"))
            rows.append([str(index + 1), *(show(part, "volume", system) for part in parts)])
    if rows:
        sheet.heading("Where the difference from the tank's own volume comes from")
        sheet.grid(["Point", "Table", "The device's points", "Instrument"], rows)


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
