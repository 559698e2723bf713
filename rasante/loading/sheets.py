"""The printed record of a load, made from what was frozen in it."""

from __future__ import annotations

from django.utils import timezone

from ..core.quantities.odd_units import show_density, show_temperature
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..sheets import Sheet
from .models import LoadRecord

_RULES = {"weight": "its weight", "filling": "the filling limit"}


def load_pdf(record: LoadRecord) -> bytes:
    """Print a load."""
    said = record.document
    system: System = "us" if said["system"] == "us" else "metric"
    w = Words(system)
    block = [
        ("Site", said["site"]),
        ("Product", said["product"]),
        ("Volumes from", said["table"]),
        ("Measured by", said["measured_by"]),
        ("Closed", f"{timezone.localtime(record.closed_at):%Y-%m-%d %H:%M} by {said['closed_by']}"),
    ]
    sheet = Sheet("Load", said["tank"], block, f"load {record.number}")

    def volume(m3: float | None) -> str:
        return "–" if m3 is None else f"{w.volume(m3)}, {m3 / said['capacity_m3']:.1%}"

    def mass(m3: float | None) -> str:
        return "–" if m3 is None else w.fill("{value:mass}", {"value": m3 * said["density_kg_m3"]})

    sheet.heading("What was loaded")
    sheet.grid(
        ["", "Volume, share of the vessel", "Weight of it"],
        [
            ["In it at the end", volume(said["contents_m3"]), mass(said["contents_m3"])],
            ["Loaded", volume(said["loaded_m3"]), mass(said["loaded_m3"])],
            ["Target", volume(said["target_m3"]), mass(said["target_m3"])],
            ["By weight alone", volume(said["by_weight_m3"]), mass(said["by_weight_m3"])],
            ["By weight, vapour weighed too", volume(said["with_vapour_m3"]), mass(said["with_vapour_m3"])],
            ["By the filling limit", volume(said["by_filling_m3"]), mass(said["by_filling_m3"])],
        ],
    )
    sheet.paragraph(f"The target was set by {_RULES[said['rule']]}.")
    sheet.heading("By what")
    full = said["full_at_c"]
    sheet.settings(
        [
            ("Density, confirmed", show_density(said["density_kg_m3"], system)),
            ("At", show_temperature(said["temperature_c"], system)),
            ("Relative density at 60 °F", f"{said['relative_density']:.3f}"),
            ("Filled to at most", f"{said['filling']:.1%}"),
            ("All liquid at", "beyond what is met" if full is None else show_temperature(full, system)),
        ],
        by_hand=False,
    )
    sheet.paragraph(f"Filling limit: {said['filling_source']}.", 7.5)
    low, high = (w.volume(one) for one in said["float_short_m3"])
    sheet.paragraph(f"By a float gauge it would have been filled short by {low} to {high}.", 7.5)
    for words in said["says"]:
        sheet.paragraph(words)
    sheet.cautions(said["product"], ("survey", "gauge"))
    sheet.to_sign("Loaded by", "Received by")
    return sheet.finish()
