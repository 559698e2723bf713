"""What can be done with the marks of a tank: kept against its table, derived anew, saved as sets."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..accounts.models import name_of
from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import stops
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.scaling.chain import Chain
from ..core.scaling.marks import MARKS, Mark, Surroundings, mark_words, read_marks, rederive
from ..core.scaling.marks import Marks as CoreMarks
from ..gauges.services import gauge_of, model_of, read_gauge
from ..planned.services import keep_planned, kept_entries, renew
from ..tanks.models import Tank
from .chains import newest_table, scaled_chain, table_tank
from .models import Marks, MarkSet

_MOST_SETS = 200


def marks_of(tank: Tank) -> Marks | None:
    """Return the marks kept of a tank, or None before any are."""
    return Marks.objects.select_related("changed_by").filter(tank=tank).first()


def surroundings_of(tank: Tank) -> Surroundings:
    """What a tank's gauge means for its marks: its blanking, and its rods."""
    gauge, model = gauge_of(tank), model_of(tank)
    if gauge is None or model is None:
        return Surroundings()
    plan = read_gauge(tank, gauge.entries, "metric") if model.kind.cut == "rods" else None
    rods = {rod.key: rod.tip_m for rod in plan.rods.rods} if plan is not None and plan.rods is not None else None
    return Surroundings(model.blanking_m, rods)


def _chain(tank: Tank, system: System) -> Chain | None:
    try:
        return scaled_chain(tank, system)
    except InputError:
        return None


def read_tank_marks(tank: Tank, entries: Mapping[str, str], system: System) -> CoreMarks:
    """Read a tank's marks as far as they have been typed, by its newest table."""
    return read_marks(entries, table_tank(tank), _chain(tank, system), surroundings_of(tank), system)


def table_number(tank: Tank) -> int:
    """Number of the newest table issued; 0 before one is."""
    issued = newest_table(tank)
    return issued.number if issued is not None else 0


@transaction.atomic
def keep_marks(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> Marks:
    """Keep a tank's marks against the revision of its table.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept others meanwhile.
    """
    found = read_tank_marks(tank, entries, system)
    found.form.require()
    planned = renew(Marks, tank, revision)
    number = table_number(tank)
    document = {"marks": [asdict(mark) for mark in found.marks], "table": number}
    planned.table_number = number
    worst = stops(found.judgements)
    summary = Words(system).say(worst[0]) if worst else f"{len(found.marks)} marks"
    return keep_planned(
        planned, tank, kept_entries(entries, found.form.kept), document, (summary, bool(worst)), person
    )


@dataclass(frozen=True)
class Moved:
    """One mark after the table was revised: as kept and as derived anew, in words, and by how much it moved."""

    key: str
    label: str
    old: str
    new: str
    level_m: float | None
    volume_m3: float | None
    problem: str


def moved_marks(tank: Tank, system: System) -> list[Moved]:
    """Derive a tank's kept marks anew where its table was revised since; empty where it was not."""
    kept = marks_of(tank)
    if kept is None or kept.table_number == table_number(tank):
        return []
    w = Words(system)
    found = []
    old = [Mark(**mark) for mark in kept.document["marks"]]
    for before, after, problem in rederive(old, table_tank(tank), _chain(tank, system), system):
        found.append(
            Moved(
                before.key,
                before.label,
                mark_words(before, w),
                mark_words(after, w) if after else "",
                after.level_m - before.level_m if after else None,
                after.volume_m3 - before.volume_m3 if after else None,
                problem,
            )
        )
    return found


@transaction.atomic
def save_set(name: str, entries: Mapping[str, str], person: User, revision: int = 0) -> MarkSet:
    """Save marks under a name, or save them anew under one that is known.

    Parameters
    ----------
    name, entries, person
        What it is called, its marks as typed, and who saves it.
    revision : int
        The revision of the set that is saved over; 0 where none of the name is meant to be there.

    Raises
    ------
    InputError
        Without a name or any mark.
    Conflict
        If there is a set of the name that is not meant to be saved over.
    """
    name = name.strip()
    if not name:
        raise InputError.at("name", "name the set: what kind of tank is it for?")
    known = {f"marks.{key}" for key in MARKS} | {"fill_rate", "response", "pump"}
    chosen = {path: text for path, text in entries.items() if path in known and text.strip()}
    if not any(path.startswith("marks.") for path in chosen):
        raise InputError.at("entries", "there is no mark in this set yet")
    saved = MarkSet.objects.filter(name=name).first() or MarkSet(name=name)
    if saved.pk is None and MarkSet.objects.count() >= _MOST_SETS:
        raise InputError.at("name", f"there are {_MOST_SETS} sets already: delete one that is not used")
    if saved.pk is not None and saved.revision != revision:
        raise Conflict(
            f"{name} was saved by {name_of(saved.made_by)} on {saved.made_at:%d %B %Y}, revision {saved.revision}: "
            "look at it, and save over it if that is meant"
        )
    saved.revision += saved.pk is not None
    saved.entries, saved.made_by = chosen, person
    saved.save()
    return saved


@transaction.atomic
def undo_set(saved: MarkSet, revision: int, person: User) -> MarkSet:
    """Bring a set back to what was saved over, as a new revision.

    Raises
    ------
    InputError
        If nothing was saved over.
    Conflict
        If it was saved again meanwhile.
    """
    saved = MarkSet.objects.get(pk=saved.pk)
    if saved.revision != revision:
        raise Conflict(f"{saved} was saved again meanwhile, revision {saved.revision}: look at it first")
    before = saved.history.filter(revision__lt=saved.revision).order_by("-revision").first()
    if before is None:
        raise InputError.at("", f"nothing was saved over: this is the first {saved}")
    saved.entries, saved.made_by, saved.revision = before.entries, person, saved.revision + 1
    saved.save()
    return saved


def mark_document(mark: Mark) -> dict[str, Any]:
    """Write a mark for the API."""
    return {
        "key": mark.key,
        "label": mark.label,
        "kind": mark.kind,
        "level_mm": mark.level_m * 1000,
        "volume_l": mark.volume_m3 * 1000,
        "volume_pct": mark.volume_ratio * 100,
        "signal": mark.signal,
        "shown": mark.shown,
    }
