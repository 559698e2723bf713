"""What can be done with sites and tanks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import orjson
from django.contrib.auth.models import User
from django.db import transaction

from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..core.quantities.once import once
from ..core.quantities.typed import read_number
from ..core.quantities.units import UNITS, System, Unit
from ..core.tanks.check import overfilled
from ..core.tanks.label import is_label, read_label
from ..core.tanks.survey import entries_of, read_survey
from ..core.tanks.table import Table, make_table
from ..core.tanks.tank_file import TankFile, check_document, read_tank_file
from .models import Profile, Site, Tank

#: Steps that a table may be made in: a number and one of these units, or an eighth of an inch.
STEP_UNITS = ("mm", "cm", "m", "in", "ft")
VOLUME_UNITS = ("l", "m3", "usgal", "impgal")


def _refuse_namesake(site: Site, name: str, itself: Tank | None = None) -> None:
    others = Tank.objects.filter(site=site, document__name=name)
    if itself is not None:
        others = others.exclude(pk=itself.pk)
    if others.exists():
        raise InputError.at("name", f"{site} has a tank of this name already: tell them apart by their names")


def _record(tank: Tank, person: User, why: str) -> Tank:
    tank.changed_by = person
    tank._change_reason = why
    tank.save()
    return tank


@transaction.atomic
def survey_tank(
    site: Site,
    entries: Mapping[str, str],
    system: System,
    person: User,
    facts: Mapping[str, Any],
    profile: Profile | None = None,
) -> Tank:
    """Make a tank from a survey.

    Parameters
    ----------
    site, person
        Where it stands and who surveyed it.
    entries, system
        The fields as typed, and what a bare number means.
    facts
        ``notes`` and ``ports``.
    profile
        The profile that the survey began from, if any.

    Raises
    ------
    InputError
        At the fields that lack something.
    """
    survey = read_survey(entries, system)
    file = survey.require()
    _refuse_namesake(site, file.name)
    kept = {path: field.kept for path, field in survey.fields.items() if field.kept}
    tank = Tank(site=site, document=dict(file.document), entries=kept, **facts)
    follow_profile(tank, profile)
    return _record(tank, person, "surveyed")


def follow_profile(tank: Tank, profile: Profile | None) -> None:
    """Note which profile, at which revision, a tank takes its dimensions from; not kept yet."""
    if profile is not None:
        tank.profile, tank.profile_revision = profile, profile.revision


@transaction.atomic
def resurvey_tank(
    tank: Tank,
    entries: Mapping[str, str],
    system: System,
    person: User,
    facts: Mapping[str, Any],
    revision: int,
    profile: Profile | None = None,
) -> Tank:
    """Change a tank to a new survey; its revision goes up if anything changed.

    Raises
    ------
    InputError
        At the fields that lack something.
    Conflict
        If the tank is no longer at the revision that the survey began from.
    """
    tank = Tank.objects.select_for_update().get(pk=tank.pk)
    if tank.revision != revision:
        raise Conflict(
            f"this tank is at revision {tank.revision} and your survey began from {revision}: what you typed is "
            "kept here; look at the newer one before you keep yours"
        )
    survey = read_survey(entries, system)
    file = survey.require()
    _refuse_namesake(tank.site, file.name, itself=tank)
    kept = {path: field.kept for path, field in survey.fields.items() if field.kept}
    changed = dict(file.document) != tank.document or any(getattr(tank, key) != facts[key] for key in facts)
    tank.document, tank.entries = dict(file.document), kept
    for key, value in facts.items():
        setattr(tank, key, value)
    tank.revision += 1 if changed else 0
    follow_profile(tank, profile)
    return _record(tank, person, "surveyed again")


@transaction.atomic
def import_tank(site: Site, text: str, person: User) -> Tank:
    """Make a tank from the text of a tank file, or of its label.

    Raises
    ------
    InputError
        With every problem of the file; nothing is kept then.
    """
    file = read_label(text) if is_label(text) else read_tank_file(text)
    _refuse_namesake(site, file.name)
    document = dict(file.document)
    above = overfilled(document)
    if above is not None:
        raise InputError(above)
    tank = Tank(site=site, document=document, entries=entries_of(document))
    return _record(tank, person, "imported")


@transaction.atomic
def delete_tank(tank: Tank, person: User) -> None:
    """Delete a tank that no signed proof and no issued table refers to (the database refuses otherwise)."""
    tank._change_reason = f"deleted by {person.username}"
    tank.delete()


@dataclass(frozen=True)
class Step:
    """A step of innage: its size [m] and how it is written."""

    metres: float
    text: str


def read_step(number: str, unit: str) -> Step:
    """Read a table's step.

    Parameters
    ----------
    number, unit : str
        For instance ``10`` and ``mm``, or ``1/8`` and ``in``.

    Raises
    ------
    InputError
        If it is no step.
    """
    if unit not in STEP_UNITS:
        raise InputError.at("step_unit", f"must be one of {', '.join(STEP_UNITS)}")
    try:
        above, _, below = number.partition("/")
        value = read_number(above) / (read_number(below) if below else 1.0)
    except (InputError, ZeroDivisionError):
        raise InputError.at("step", f"“{number[:20]}” is not a step: write a number such as 10 or 1/8") from None
    if value <= 0:
        raise InputError.at("step", "must be more than 0")
    return Step(value * UNITS[unit].si, f"{number.strip()} {UNITS[unit].name}")


def read_length_unit(key: str) -> Unit:
    """Return the unit of length called `key`, or raise `InputError`."""
    if key not in STEP_UNITS:
        raise InputError.at("length_unit", f"must be one of {', '.join(STEP_UNITS)}")
    return UNITS[key]


def read_volume_unit(key: str) -> Unit:
    """Return the unit of volume called `key`, or raise `InputError`."""
    if key not in VOLUME_UNITS:
        raise InputError.at("volume_unit", f"must be one of {', '.join(VOLUME_UNITS)}")
    return UNITS[key]


@dataclass(frozen=True)
class TableOrder:
    """What a table is to be made of: the step, the range of innage [m], and whether rows step by innage or ullage."""

    step: Step
    start_m: float = 0.0
    end_m: float | None = None
    by: str = "innage"


@once(64)
def _table(document: bytes, step_m: float, start_m: float, end_m: float | None, by: str) -> Table:
    file = check_document(orjson.loads(document))
    return make_table(file, step_m, start_m=start_m, end_m=end_m, by=by)


def table_of(file: TankFile, order: TableOrder) -> Table:
    """Make the table of a tank, or hand out the one made for the same document and order before."""
    document = orjson.dumps(file.document, option=orjson.OPT_SORT_KEYS)
    return _table(document, order.step.metres, order.start_m, order.end_m, order.by)
