"""What can be done with the slope of a tank's sensor."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..core.scaling.slopes import SCHOOLS, SIGNALS, Slopes, read_slopes, slope_of
from ..core.units import System, Words
from ..gauges.services import keep_planned, kept_entries, renew
from ..tanks.models import Tank
from .models import SlopeStudy, Transmitter


def slopes_of(tank: Tank) -> SlopeStudy | None:
    """Return what is kept of a tank's slope, or None before anything is."""
    return SlopeStudy.objects.select_related("changed_by").filter(tank=tank).first()


def read_tank_slopes(tank: Tank, entries: Mapping[str, str], system: System) -> Slopes:
    """Work a tank's slope out by every school, as far as it has been typed."""
    transmitter = Transmitter.objects.filter(tank=tank).first()
    ends = None
    if transmitter is not None and transmitter.scaled.reports == "level":
        scaled = transmitter.scaled
        ends = (scaled.at_4_m + scaled.datum_offset_m, scaled.at_20_m + scaled.datum_offset_m)
    found = read_slopes(entries, system, ends)
    found.form.choice("choice", SCHOOLS)
    return found


def present_slopes(found: Slopes) -> dict[str, Any]:
    """Write every school's answer: levels in millimetres."""
    return {
        "fields_read": [asdict(field) for field in found.form.fields.values() if field.state != "empty"],
        "signal": found.signal,
        "signals": {key: one[0] for key, one in SIGNALS.items()},
        "schools": SCHOOLS,
        "zero": found.zero,
        "full": found.full,
        "readings": [[float(x), float(level) * 1000] for x, level in zip(found.signals, found.levels, strict=True)],
        "outlier": found.outlier,
        "slopes": [
            {
                "school": slope.school,
                "label": SCHOOLS[slope.school],
                "zero_mm": slope.zero_m * 1000,
                "full_mm": slope.full_m * 1000,
                "per_unit_mm": slope.per_unit_m * 1000,
                "residuals_mm": [float(value) * 1000 for value in slope.residuals_m],
                "worst_mm": slope.worst_m * 1000,
                "zero_se_mm": None if slope.zero_se_m is None else slope.zero_se_m * 1000,
                "per_unit_se_mm": None if slope.per_unit_se_m is None else slope.per_unit_se_m * 1000,
                "r": slope.r,
                "says": slope.says,
            }
            for slope in found.slopes
        ],
        "judgements": [asdict(judgement) for judgement in found.judgements],
    }


@transaction.atomic
def keep_slopes(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> SlopeStudy:
    """Keep the readings, the school that was chosen, and every school's answer beside it.

    Raises
    ------
    InputError
        At the fields that are wrong, or if the chosen school lacks readings.
    Conflict
        If someone else has kept others meanwhile.
    """
    found = read_tank_slopes(tank, entries, system)
    found.form.require()
    choice, summary = str(entries.get("choice", "")), "no school chosen yet"
    if choice:
        slope = slope_of(found, choice)
        w = Words(system)
        summary = f"{SCHOOLS[choice]}: {w.length(slope.zero_m)} to {w.length(slope.full_m)}"
    document = {"choice": choice, "slopes": present_slopes(found)["slopes"]}
    planned = renew(SlopeStudy, tank, revision)
    return keep_planned(planned, tank, kept_entries(entries, found.form.kept), document, (summary, False), person)
