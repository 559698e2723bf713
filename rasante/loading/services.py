"""What can be done with loads: planned and watched, kept, and closed as records."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from ..accounts.models import name_of
from ..core.loading.filling import source
from ..core.loading.load import short_by_float
from ..core.loading.load_form import LoadForm, Sensed, read_load
from ..core.products.registry import product_of
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import stops
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.readings.condition import CONDITIONS
from ..planned.services import keep_planned, kept_entries, planned_of, renew
from ..readings.watching import Now, now_of
from ..scaling.chains import newest_table, table_tank
from ..seals.services import seal
from ..tanks.models import Tank
from .models import LoadPlan, LoadRecord

#: By what a load was measured where no sensor says it.
_MEASURED = {"meter": "the meter, from what was in it before", "typed": "as typed"}


def plan_of(tank: Tank) -> LoadPlan | None:
    """Return the load that is kept of a vessel, or None before one is."""
    return planned_of(LoadPlan, tank)


def _refuse_other_vessels(tank: Tank) -> None:
    if not product_of(tank.product).pressurised:
        raise InputError.at("product", f"{tank.name} holds nothing under pressure: loading is for propane and butane")


def sensed_of(now: Now | None) -> Sensed:
    """What a vessel's sensor says is in it now; why not, where it cannot be gone by."""
    if now is None or now.channel.source.period_s <= 0:
        return Sensed()
    if now.volume is None or not (now.condition.live and now.condition.sound):
        return Sensed(silent=CONDITIONS[now.condition.key])
    return Sensed(now.volume, now.rate.rate if now.rate is not None and now.rate.moves else 0.0)


def read_tank_load(tank: Tank, entries: Mapping[str, str], system: System) -> tuple[LoadForm, Now | None]:
    """Read a vessel's load as far as it has been typed, beside what its sensor says now.

    Raises
    ------
    InputError
        If the vessel holds nothing under pressure.
    """
    _refuse_other_vessels(tank)
    table, now = table_tank(tank), now_of(tank)
    return read_load(entries, table.capacity, table.filling_ratio, sensed_of(now), system), now


@transaction.atomic
def keep_load(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> LoadPlan:
    """Keep a vessel's load.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept another meanwhile.
    """
    found, _ = read_tank_load(tank, entries, system)
    found.form.require()
    planned = renew(LoadPlan, tank, revision)
    target = "" if found.targets is None else f"target {Words(system).volume(found.targets.target_m3)}"
    worst = stops(found.judgements)
    summary = Words(system).say(worst[0]) if worst else target
    kept = kept_entries(entries, {path: text for path, text in found.form.kept.items() if entries.get(path)})
    return keep_planned(planned, tank, kept, {}, (summary, bool(worst)), person)


@transaction.atomic
def close_load(tank: Tank, system: System, person: User, revision: int) -> LoadRecord:
    """Close the load that is kept: a record of it is made, and the next begins with what stays the same.

    Raises
    ------
    InputError
        If nothing was kept, something lacks, the density is not confirmed, or nothing says what is in the vessel.
    Conflict
        If someone else has kept another meanwhile.
    """
    tank = Tank.objects.select_related("site").get(pk=tank.pk)
    planned = renew(LoadPlan, tank, revision)
    if planned.pk is None:
        raise InputError.at("", "nothing is kept of this load yet: keep it first")
    found, now = read_tank_load(tank, planned.entries, system)
    found.form.require()
    if not found.confirmed:
        raise InputError.at(
            "confirmed", "confirm the density of this load, typed off its paper: it is asked for each time"
        )
    if found.targets is None or found.progress is None or found.by == "before":
        raise InputError.at("before", "say what was in it before and what came, or what is in it now")
    number = (tank.loads.aggregate(Max("number"))["number__max"] or 0) + 1
    document = {**_document(tank, planned, found, now, system), "closed_by": name_of(person)}
    record = LoadRecord(tank=tank, number=number, document=document, closed_by=person)
    record.save()
    seal(record)
    stays = ("butane", "place", "weight", "stopping", "capacity")
    keep_load(tank, {key: planned.entries[key] for key in stays if key in planned.entries}, system, person, revision)
    return record


def _document(tank: Tank, planned: LoadPlan, found: LoadForm, now: Now | None, system: System) -> dict[str, Any]:
    """All that a record says, so that it can be printed from itself alone."""
    targets, going, w = found.targets, found.progress, Words(system)
    assert targets is not None and going is not None and found.gas is not None
    issued = newest_table(tank)
    measured = {"sensor": f"{now.channel.source.name}, {now.channel.name}" if now else "", **_MEASURED}
    return {
        "format": "rasante.load/1",
        "site": tank.site.name,
        "tank": tank.name,
        "product": tank.product,
        "system": system,
        "table": f"table {issued.number}" if issued else f"survey, revision {tank.revision}",
        "entries": planned.entries,
        "measured_by": measured[found.by],
        "read_at": timezone.now().isoformat(),
        "capacity_m3": table_tank(tank).capacity,
        "temperature_c": found.temperature_c,
        "density_kg_m3": found.gas.density(found.temperature_c),
        "relative_density": found.gas.relative_density,
        "filling": found.filling,
        "filling_source": source(),
        "rule": targets.rule,
        "by_weight_m3": targets.by_weight_m3,
        "with_vapour_m3": targets.with_vapour_m3,
        "by_filling_m3": targets.by_filling_m3,
        "target_m3": targets.target_m3,
        "contents_m3": going.volume_m3,
        "loaded_m3": found.loaded_m3,
        "full_at_c": targets.full_at_c,
        "float_short_m3": list(short_by_float(table_tank(tank).capacity)),
        "says": [w.say(one) for one in found.judgements],
    }
