"""What can be done with the wet ends of a tank's probe."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..core.gauges.wet_ends import ENDS as WET_ENDS
from ..core.gauges.wet_ends import WetEnds as CoreWetEnds
from ..core.gauges.wet_ends import read_wet_ends
from ..core.quantities.judgement import stops
from ..core.quantities.units import System
from ..planned.services import keep_planned, kept_entries, renew
from ..tanks.models import Tank
from .models import WetEnds


def wet_ends_of(tank: Tank) -> WetEnds | None:
    """Return the wet ends kept of a tank's probe, or None before any are."""
    return WetEnds.objects.select_related("changed_by").filter(tank=tank).first()


def read_tank_wet_ends(tank: Tank, entries: Mapping[str, str], system: System) -> CoreWetEnds:
    """Read the wet ends of a tank's probe as far as they have been typed."""
    return read_wet_ends(entries, system, tank.product)


@transaction.atomic
def keep_wet_ends(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> WetEnds:
    """Keep the wet ends of a tank's probe, with fuel and temperature.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept others meanwhile.
    """
    found = read_tank_wet_ends(tank, entries, system)
    found.form.require()
    counts: dict[str, Any] = {end: found.ends[end].counts for end in WET_ENDS}
    document = {**counts, "fuel": found.fuel, "temperature_c": found.temperature_c}
    texts = [f"{end} {value:.0f}" if value is not None else f"{end} not still" for end, value in counts.items()]
    pressing = bool(stops(found.judgements))
    planned = renew(WetEnds, tank, revision)
    return keep_planned(
        planned, tank, kept_entries(entries, found.form.kept), document, (", ".join(texts), pressing), person
    )
