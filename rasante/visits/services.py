"""What can be done with visits: opened from their facts, changed, dropped; and the shop's own steps."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max

from ..conflict import Conflict
from ..core.procedures.facts import check_facts
from ..core.procedures.step import procedure_data
from ..core.quantities.units import System
from ..gauges.services import gauge_of
from ..scaling.chains import chain_of, newest_table
from ..tanks.models import Tank
from ..wiring.services import wiring_of
from .models import OwnSteps, Visit


def own_steps() -> OwnSteps:
    """Return the shop's own steps; empty before there are any."""
    return OwnSteps.objects.first() or OwnSteps()


@transaction.atomic
def keep_own_steps(rows: list[dict[str, Any]], person: User, revision: int) -> OwnSteps:
    """Keep the shop's own steps; visits that are open stay as they are.

    Raises
    ------
    InputError
        At what is wrong in them.
    Conflict
        If others were kept meanwhile.
    """
    kept = own_steps()
    if kept.revision != revision:
        raise Conflict("the shop's own steps were changed meanwhile: look at them, then change them")
    kept.steps, kept.changed_by = rows, person
    kept.revision += 1
    kept.save()
    return kept


def revisions_of(tank: Tank) -> dict[str, int]:
    """Revisions of a tank, its plans and its table as they are now; 0 for none."""
    gauge, wiring, chain, table = gauge_of(tank), wiring_of(tank), chain_of(tank), newest_table(tank)
    return {
        "tank": tank.revision,
        "gauge": gauge.revision if gauge else 0,
        "wiring": wiring.revision if wiring else 0,
        "chain": chain.revision if chain else 0,
        "table": table.number if table else 0,
    }


@transaction.atomic
def open_visit(
    tank: Tank, facts: Mapping[str, Any], system: System, person: User, planned_at: datetime | None = None
) -> Visit:
    """Open a visit: its steps are composed from its facts.

    Raises
    ------
    InputError
        At the facts that are missing or do not go together.
    """
    check_facts(facts, procedure_data(), tank.product)
    number = (tank.visits.aggregate(Max("number"))["number__max"] or 0) + 1
    visit = Visit(
        tank=tank,
        number=number,
        facts=dict(facts),
        own=own_steps().steps,
        system=system,
        found={**revisions_of(tank), "product": tank.product},
        opened_by=person,
        planned_at=planned_at,
    )
    visit.save()
    return visit


def open_one(visit: Visit) -> Visit:
    """Read a visit anew, and refuse one that is closed."""
    visit = Visit.objects.select_related("tank__site", "opened_by").get(pk=visit.pk)
    if visit.state != Visit.OPEN:
        raise Conflict(f"this visit is {visit.get_state_display().lower()}: open a new one")
    return visit


@transaction.atomic
def change_facts(visit: Visit, facts: Mapping[str, Any], revision: int) -> Visit:
    """Change the facts of an open visit: its steps follow, what was done stays done.

    Raises
    ------
    InputError
        At the facts that are missing or do not go together.
    Conflict
        If the visit is closed, or was changed meanwhile.
    """
    visit = open_one(visit)
    if visit.revision != revision:
        raise Conflict("this visit was changed meanwhile: look at it, then change it")
    check_facts(facts, procedure_data(), visit.tank.product)
    visit.facts = dict(facts)
    visit.found = {**visit.found, "product": visit.tank.product}
    visit.revision += 1
    visit.save()
    return visit


@transaction.atomic
def drop_visit(visit: Visit, revision: int) -> Visit:
    """Drop a visit that will not be made; what was done at it is kept.

    Raises
    ------
    Conflict
        If the visit is closed, or was changed meanwhile.
    """
    visit = open_one(visit)
    if visit.revision != revision:
        raise Conflict("this visit was changed meanwhile: look at it, then drop it")
    visit.state = Visit.DROPPED
    visit.revision += 1
    visit.save()
    return visit
