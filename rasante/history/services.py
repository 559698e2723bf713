"""The history of a tank: everything that was kept of it, what changed by field, and going back as a new revision."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..accounts.models import name_of
from ..core.quantities.errors import InputError
from ..faults.models import FaultPlan
from ..faults.services import keep_case
from ..gauges.models import GaugePlan, WetEnds
from ..gauges.services import keep_gauge
from ..gauges.wet_ends import keep_wet_ends
from ..loading.models import LoadPlan
from ..loading.services import keep_load
from ..pouring.models import PourPlan
from ..pouring.services import keep_run
from ..scaling.chains import keep_chain, keep_readings
from ..scaling.marking import keep_marks
from ..scaling.models import ChainReadings, Marks, ScalingChain, SlopeStudy
from ..scaling.slopes import keep_slopes
from ..tanks.models import Tank
from ..tanks.services import resurvey_tank
from ..wiring.models import Wiring
from ..wiring.services import keep_wiring

Fields = dict[str, Any]


def _keep_survey(tank: Tank, entries: Fields, system: str, person: User, revision: int) -> Any:
    facts = {"notes": entries.pop("notes", ""), "ports": entries.pop("ports", [])}
    return resurvey_tank(tank, entries, "metric", person, facts, revision)


@dataclass(frozen=True)
class Kind:
    """Something that is kept of a tank with its history.

    Parameters
    ----------
    label : str
        How it is called.
    model : type
        Its model.
    keep : callable
        The service that keeps it: tank, entries, system, person and the revision that it follows.
    """

    label: str
    model: Any
    keep: Callable[..., Any]


KINDS: dict[str, Kind] = {
    "survey": Kind("Survey", Tank, _keep_survey),
    "gauge": Kind("Gauge", GaugePlan, keep_gauge),
    "wet-ends": Kind("Wet ends", WetEnds, keep_wet_ends),
    "wiring": Kind("Wiring", Wiring, keep_wiring),
    "chain": Kind("Chain", ScalingChain, keep_chain),
    "slopes": Kind("Readings for the slope", SlopeStudy, keep_slopes),
    "parting": Kind("Readings along the chain", ChainReadings, keep_readings),
    "marks": Kind("Marks", Marks, keep_marks),
    "load": Kind("Load", LoadPlan, keep_load),
    "pours": Kind("Pours", PourPlan, keep_run),
    "trouble": Kind("Trouble", FaultPlan, keep_case),
}


@dataclass(frozen=True)
class Change:
    """One field as it was and as it became; None where it was not there."""

    path: str
    old: Any
    new: Any


@dataclass(frozen=True)
class Kept:
    """One keeping: what, which, when, by whom, why, and what changed by it."""

    kind: str
    label: str
    id: int
    at: Any
    by: str
    why: str
    revision: int
    changes: tuple[Change, ...]
    #: Whether it stands now, so that there is nothing to go back to.
    current: bool


def _rows(kind: Kind, tank: int) -> Any:
    own = {"id": tank} if kind.model is Tank else {"tank_id": tank}
    return kind.model.history.filter(**own).select_related("history_user").order_by("history_id")


def fields_of(row: Any) -> Fields:
    """Return all fields of a keeping, as they were typed or understood."""
    fields: Fields = dict(row.entries)
    if hasattr(row, "ports"):
        fields |= {"notes": row.notes, "ports": row.ports}
    return {path: value for path, value in fields.items() if value not in ("", [], None)}


def changes_between(before: Fields, after: Fields) -> tuple[Change, ...]:
    """Return the fields that differ, by name."""
    paths = sorted({*before, *after})
    return tuple(
        Change(path, before.get(path), after.get(path)) for path in paths if before.get(path) != after.get(path)
    )


def index_of(tank: Tank) -> list[tuple[Any, str, int, int | None]]:
    """Return every keeping of a tank, the newest first: when, its kind, its key and that of the one before it."""
    found = []
    for key, kind in KINDS.items():
        before = None
        for at, pk in _rows(kind, tank.pk).values_list("history_date", "history_id"):
            found.append((at, key, pk, before))
            before = pk
    return sorted(found, key=lambda one: (one[0], one[2]), reverse=True)


def kept_at(tank: Tank, index: list[tuple[Any, str, int, int | None]]) -> list[Kept]:
    """Read a part of an index: each keeping with what changed by it."""
    found = []
    people = {person.pk: person for person in User.objects.all()}
    for key in {one[1] for one in index}:
        wanted = {pk for _, kind, *pks in index if kind == key for pk in pks if pk is not None}
        rows = {row.history_id: row for row in _rows(KINDS[key], tank.pk).filter(history_id__in=wanted)}
        newest = _rows(KINDS[key], tank.pk).values_list("history_id", flat=True).last()
        for _, kind, pk, before in index:
            if kind != key:
                continue
            row, old = rows[pk], rows.get(before)
            changes = changes_between(fields_of(old) if old is not None else {}, fields_of(row))
            by = name_of(people.get(row.changed_by_id) or row.history_user)
            found.append(
                Kept(
                    key,
                    KINDS[key].label,
                    pk,
                    row.history_date,
                    by,
                    row.history_change_reason or "",
                    row.revision,
                    changes,
                    pk == newest,
                )
            )
    place = {(kind, pk): number for number, (_, kind, pk, _) in enumerate(index)}
    return sorted(found, key=lambda one: place[(one.kind, one.id)])


@transaction.atomic
def restore(tank: Tank, kind: str, keeping: int, person: User, revision: int) -> None:
    """Go back to what was kept once, as a new revision that follows today's.

    Parameters
    ----------
    tank, person
        The tank, and who goes back.
    kind : str
        One of `KINDS`.
    keeping : int
        Which keeping, by its key in the history.
    revision : int
        The revision that stands now, as it was looked at.

    Raises
    ------
    InputError
        If there is no such keeping, or what was kept does not fit the tank any more.
    Conflict
        If it was kept again meanwhile.
    """
    if kind not in KINDS:
        raise InputError.at("kind", f"must be one of {', '.join(KINDS)}")
    tank = Tank.objects.select_related("site").get(pk=tank.pk)
    row = _rows(KINDS[kind], tank.pk).filter(history_id=keeping).first()
    if row is None:
        raise InputError.at("id", "there is no such keeping of this tank: look at its history anew")
    KINDS[kind].keep(tank, fields_of(row), "metric", person, revision)


def revision_now(tank: Tank, kind: str) -> int:
    """Return the revision that stands now; 0 where nothing is kept."""
    row = _rows(KINDS[kind], tank.pk).last()
    return row.revision if row is not None else 0
