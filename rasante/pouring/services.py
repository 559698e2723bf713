"""What can be done with pours: a run watched and kept, and a table issued of it with all its pours frozen."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max

from ..accounts.models import name_of
from ..core.pouring.pour_fields import Vessel
from ..core.pouring.pour_form import PourForm, read_run
from ..core.pouring.run_file import run_document
from ..core.products.registry import product_of
from ..core.quantities.arrays import Array
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import stops
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.readings.changes import Change
from ..core.tanks.limits import limits_of
from ..core.tanks.survey import entries_of
from ..core.tanks.tank_file import check_document
from ..planned.services import keep_planned, kept_entries, planned_of, renew
from ..readings.moves import MINUTES_S, levels_around, moves_of
from ..scaling.chains import kept_chain
from ..seals.services import seal
from ..tanks.issued import issue_table
from ..tanks.models import Tank
from ..tanks.services import TableOrder, read_step, resurvey_tank
from .models import PourPlan, PourRecord

#: How far back deliveries are looked for [s].
SEEN_S = 60 * 86_400.0
#: What of a document stands for the shape alone, and goes with it where a table of points takes its place.
_OF_THE_SHAPE = (
    "shape", "deadwood", "floor_heel_l", "sump", "slope_mm_per_m", "gauge_position_mm", "measured", "uncertainty",
)  # fmt: skip


def plan_of(tank: Tank) -> PourPlan | None:
    """Return the run that is kept for a tank, or None before one is."""
    return planned_of(PourPlan, tank)


def vessel_of(tank: Tank) -> Vessel:
    """Tell what the core has to know of a tank."""
    limits = limits_of(tank.file.tank)
    return Vessel(tank.file.document, limits.safe_m3, limits.brim_m3, product_of(tank.product))


def read_tank_run(tank: Tank, entries: Mapping[str, str], system: System) -> PourForm:
    """Read a run as far as it has been typed.

    Raises
    ------
    InputError
        If the tank is a vessel under pressure: nobody pours into one.
    """
    if product_of(tank.product).pressurised:
        raise InputError.at("product", f"{tank.name} is under pressure: it is loaded at Watch, never poured")
    return read_run(entries, vessel_of(tank), system)


@transaction.atomic
def keep_run(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> PourPlan:
    """Keep a run as far as it has come: what is typed of a pour that is still under way stays with it.

    Raises
    ------
    InputError
        At fields that cannot be read, or do not go together.
    Conflict
        If someone else has kept another meanwhile.
    """
    found = read_tank_run(tank, entries, system)
    found.form.require()
    planned = renew(PourPlan, tank, revision)
    worst = stops(found.judgements)
    w = Words(system)
    summary = w.say(worst[0]) if worst else ("1 pour" if len(found.pours) == 1 else f"{len(found.pours)} pours")
    if not worst and found.poured is not None:
        summary += f", off by at most {w.worth(found.poured.curve.worst)}"
    return keep_planned(
        planned,
        tank,
        kept_entries(entries, found.form.kept),
        {"pours": len(found.pours)},
        (summary, bool(worst)),
        person,
    )


@transaction.atomic
def issue_run(
    tank: Tank, take: str, why: str, system: System, person: User, revision: int, tank_revision: int
) -> PourRecord:
    """Issue the table of the run that is kept, with all its pours frozen; the next run begins anew.

    Parameters
    ----------
    tank : Tank
    take : {"pours", "shape"}
        Whether the pours themselves become the table, or the shape that they and the survey tell together.
    why : str
        Why it is issued.
    system : {"metric", "us"}
        The units of the words in the record.
    person : User
    revision, tank_revision : int
        Of the run and of the tank, as whoever issues it saw them.

    Raises
    ------
    InputError
        If something lacks, a pour does not fit, or there is no shape to take.
    Conflict
        If someone else has kept another run or survey meanwhile.
    """
    tank = Tank.objects.select_related("site").get(pk=tank.pk)
    planned = renew(PourPlan, tank, revision)
    if planned.pk is None:
        raise InputError.at("", "nothing is kept of this run yet: keep it first")
    if not why.strip():
        raise InputError.at("why", "say why it is issued: first table, new sensor, checked again…")
    found = read_tank_run(tank, planned.entries, system)
    found.form.require()
    if found.poured is None or len(found.poured.curve.reading) < 3:
        raise InputError.at("", "a table needs two pours with their readings at least")
    if found.misfit is not None:
        raise InputError.at(
            f"pours[{found.misfit.row}].amount",
            "does not fit the others: put it right, mark it as spilled, or say that it is right as it is",
        )
    w = Words(system)
    document = run_document(found, planned.entries) | {
        "tank": tank.name, "site": tank.site.name, "product": tank.product, "take": take, "why": why.strip(),
        "says": [w.say(one) for one in found.judgements], "issued_by": name_of(person),
    }  # fmt: skip
    issued = None
    levels = _levels(tank, found)
    if levels is not None:
        changed = _poured_document(tank, found, levels) if take == "pours" else _shape_document(found)
        facts = {"notes": tank.notes, "ports": tank.ports}
        entries = entries_of(check_document(changed).document)
        tank = resurvey_tank(tank, entries, "metric", person, facts, tank_revision)
        said = f"{why.strip()} (by pouring, {len(found.pours)} pours)"
        issued = issue_table(tank, TableOrder(read_step("10", "mm")), said[:400], person, tank.revision)
        document["table"] = issued.number
    elif take == "shape":
        raise InputError.at("take", "what was read is no level: there is no shape beside it")
    number = (tank.pour_records.aggregate(Max("number"))["number__max"] or 0) + 1
    record = PourRecord(tank=tank, number=number, table=issued, document=document, issued_by=person)
    record.save()
    seal(record)
    # The meter, the cans and how it is read stay for the next; what was poured does not.
    stays = {path: text for path, text in planned.entries.items() if path.startswith(("meter.", "cans[", "draws["))}
    keep_planned(planned, tank, stays | {"reads": found.reads}, {}, ("", False), person)
    return record


def seen_deliveries(tank: Tank, now_s: float) -> list[tuple[Change, float, float]]:
    """What came into a tank lately, as its readings saw it: with the level [m] before and after, the newest first.

    Parameters
    ----------
    tank : Tank
    now_s : float
        Until when [s]; it looks back 60 days.
    """
    begins = np.arange(now_s - SEEN_S, now_s, MINUTES_S)
    moves = [one for begin in begins for one in moves_of(tank, begin, begin + MINUTES_S).deliveries]
    around = levels_around(tank, moves)
    found = [(move, *levels) for move, levels in zip(moves, around, strict=True) if levels is not None]
    return sorted((one for one in found if one[2] > one[1]), key=lambda one: -one[0].start_s)


def _levels(tank: Tank, found: PourForm) -> Array | None:
    """The levels [m] of what was read: of a signal by the ends of the tank's sensor, None where none are known."""
    assert found.poured is not None
    reading = found.poured.curve.reading
    if found.reads == "level":
        return reading
    chain = kept_chain(tank, "metric") if found.reads == "sent" else None
    if chain is None or "sent" not in chain.stations:
        return None
    levels = np.asarray(chain.ideal.backward("sent", "level", reading))
    rises = len(levels) > 1 and np.all(np.isfinite(levels)) and np.all(np.abs(np.diff(levels)) > 0)
    return levels if rises and np.all(levels >= 0) and np.all(np.diff(levels) > 0) else None


def _poured_document(tank: Tank, found: PourForm, levels: Array) -> dict[str, Any]:
    """The tank as what was poured tells it: levels and volumes, and what they are good for."""
    assert found.poured is not None
    curve = found.poured.curve
    rows = [
        [round(float(level) * 1000, 2), round(float(volume) * 1000, 4)]
        for level, volume in zip(levels, curve.volume, strict=True)
    ]
    whole = {key: value for key, value in tank.file.document.items() if key not in _OF_THE_SHAPE}
    return whole | {
        "shape": {"kind": "points", "points": rows, "between": "smooth"},
        "uncertainty": {
            "volume_pct": round(100 * curve.worst / float(curve.volume[-1]), 3),
            "level_mm": round(_level_half(found, levels) * 1000, 3),
        },
    }


def _level_half(found: PourForm, levels: Array) -> float:
    """What a level may be off by for its reading [m]."""
    assert found.poured is not None
    reading = found.poured.curve.reading
    return found.instruments.reading_half * float((levels[-1] - levels[0]) / (reading[-1] - reading[0]))


def _shape_document(found: PourForm) -> dict[str, Any]:
    """The tank as survey and pours tell it together."""
    if found.joined is None:
        raise InputError.at("take", "there is no shape that goes with these pours: take the pours themselves")
    joined = found.joined
    if joined.worst > 1.0:
        raise InputError.at(
            "take", "the shape does not go with the pours even so: take the pours themselves, or look at the survey"
        )
    document = dict(joined.document)
    stated = dict(document.get("uncertainty", {}))
    for move in joined.moves:
        if move.half > 0:
            stated[move.key] = round(move.half, 3)
    document["uncertainty"] = stated
    return document
