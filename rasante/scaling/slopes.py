"""What can be done with the slope of a tank's sensor."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.scaling.slopes import SCHOOLS, Slopes, read_slopes, slope_of
from ..planned.services import keep_planned, kept_entries, renew
from ..tanks.models import Tank
from .chains import kept_chain
from .models import SlopeStudy


def slopes_of(tank: Tank) -> SlopeStudy | None:
    """Return what is kept of a tank's slope, or None before anything is."""
    return SlopeStudy.objects.select_related("changed_by").filter(tank=tank).first()


def read_tank_slopes(tank: Tank, entries: Mapping[str, str], system: System) -> Slopes:
    """Work a tank's slope out by every school, as far as it has been typed."""
    chain, ends = kept_chain(tank, system), None
    if chain is not None and chain.signal is not None and not chain.sensing.looks_down:
        low, high = (chain.level_from("sensed", end) for end in (chain.sensor.range_low, chain.sensor.range_high))
        ends = (low, high)
    found = read_slopes(entries, system, ends)
    found.form.choice("choice", SCHOOLS)
    return found


def slopes_document(found: Slopes) -> list[dict[str, Any]]:
    """Write every school's answer, as it is kept: levels in millimetres."""
    return [
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
    ]


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
    document = {"choice": choice, "slopes": slopes_document(found)}
    planned = renew(SlopeStudy, tank, revision)
    return keep_planned(planned, tank, kept_entries(entries, found.form.kept), document, (summary, False), person)
