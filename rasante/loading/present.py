"""How loads are written for the API: litres, kilograms and per cent from SI."""

from __future__ import annotations

from ..core.loading.filling import places, source
from ..core.loading.load import short_by_float
from ..core.loading.load_form import DENSITY_AT, LoadForm, gas_words
from ..core.quantities.odd_units import show_temperature
from ..core.quantities.units import System
from ..planned.present import fields
from ..readings import present as readings
from ..readings.watching import Now
from ..tanks.models import Tank
from ..tanks.present import judgements
from . import answers
from .models import LoadRecord


def load(found: LoadForm, now: Now | None, tank: Tank, capacity_m3: float, system: System) -> answers.LoadReading:
    """Write a load as far as it has been typed."""
    assert found.gas is not None
    density = found.gas.density(found.temperature_c)
    targets, going = found.targets, found.progress
    return answers.LoadReading(
        fields_read=fields(found.form),
        places=places(),
        density_at=DENSITY_AT,
        listed=gas_words(found.gas, found.temperature_c, system),
        source=source(),
        filling_pct=found.filling * 100,
        table_pct=None if found.table_filling is None else found.table_filling * 100,
        capacity_l=capacity_m3 * 1000,
        targets=None
        if targets is None
        else answers.LoadTargets(
            by_weight_l=None if targets.by_weight_m3 is None else targets.by_weight_m3 * 1000,
            with_vapour_l=None if targets.with_vapour_m3 is None else targets.with_vapour_m3 * 1000,
            by_filling_l=targets.by_filling_m3 * 1000,
            rule=targets.rule,
            target_l=targets.target_m3 * 1000,
            target_pct=targets.target_m3 / capacity_m3 * 100,
            mass_kg=targets.mass_kg,
            vapour_kg=targets.vapour_kg,
            full_at="" if targets.full_at_c is None else show_temperature(targets.full_at_c, system),
        ),
        progress=None
        if going is None
        else answers.LoadProgress(
            volume_l=going.volume_m3 * 1000,
            volume_pct=going.volume_m3 / capacity_m3 * 100,
            mass_kg=going.volume_m3 * density,
            left_l=going.left_m3 * 1000,
            stop_l=going.stop_m3 * 1000,
            stop_pct=going.stop_m3 / capacity_m3 * 100,
            to_stop_s=going.to_stop_s,
            overshoot_l=going.overshoot_m3 * 1000,
            state=going.state,
        ),
        loaded_l=None if found.loaded_m3 is None else found.loaded_m3 * 1000,
        float_short_l=[one * 1000 for one in short_by_float(capacity_m3)],
        judgements=judgements(found.judgements, system),
        live=readings.now(now),
    )


def record(one: LoadRecord) -> answers.LoadRecord:
    """Write a load that is closed."""
    said = one.document
    return answers.LoadRecord(
        id=one.pk,
        number=one.number,
        closed_at=one.closed_at,
        closed_by=said["closed_by"],
        contents_l=said["contents_m3"] * 1000,
        loaded_l=None if said["loaded_m3"] is None else said["loaded_m3"] * 1000,
        target_l=said["target_m3"] * 1000,
        rule=said["rule"],
    )
