"""What can be done with profiles. A profile never changes a tank: a person takes its newer dimensions over."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q

from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..core.quantities.typed import read_quantity, with_unit
from ..core.quantities.units import System
from .models import Profile, Tank

#: Parts of a document that belong to the kind of tank, and not to the one that stands there.
_KINDLY = ("shape", "uncertainty", "measured", "deadwood", "sump")
_ENTRIES = re.compile(r"(how\.)?(shape|uncertainty|measured|deadwood|sump)[.\[]")


def of_the_kind(document: Mapping[str, Any]) -> dict[str, Any]:
    """Return the part of a document that a profile keeps."""
    return {key: document[key] for key in _KINDLY if key in document}


def entries_of_the_kind(entries: Mapping[str, str]) -> dict[str, str]:
    """Return the fields of a survey that a profile keeps."""
    return {path: text for path, text in entries.items() if _ENTRIES.match(path)}


def profile_name(capacity: str, overall_diameter: str, system: System) -> str:
    """Name a profile by its capacity and overall diameter, as they were typed and with their units."""
    sizes = (with_unit(capacity, "volume", system), with_unit(overall_diameter, "length", system))
    return "{}, Ø {}".format(*(" ".join(size.split()) for size in sizes))


@transaction.atomic
def save_profile(
    tank: Tank, capacity: str, overall_diameter: str, notes: str, system: System, person: User
) -> Profile:
    """Save a tank's dimensions as a profile; the tank follows it from then on.

    Parameters
    ----------
    tank : Tank
        The tank.
    capacity, overall_diameter : str
        Nominal capacity and overall (outside) diameter or height as typed: they make the name.
    notes, system, person
        Words for whoever looks for it, what a bare number means, and who saves it.

    Raises
    ------
    InputError
        If one cannot be read, or there is a profile of the same name.
    """
    tank = Tank.objects.get(pk=tank.pk)
    volume = read_quantity(capacity, "volume", system, "capacity") * 1000
    diameter = read_quantity(overall_diameter, "length", system, "overall_diameter") * 1000
    if volume <= 0 or diameter <= 0:
        raise InputError.at("capacity" if volume <= 0 else "overall_diameter", "must be more than 0")
    name = profile_name(capacity, overall_diameter, system)
    sizes = {"capacity_l": round(volume, 6), "overall_diameter_mm": round(diameter, 6)}
    same = Profile.objects.filter(Q(name=name) | Q(**sizes)).first()
    if same is not None:
        raise InputError.at(
            "overall_diameter", f"there is a profile {same} already: apply it, or bring it up to date from this tank"
        )
    profile = Profile(
        name=name,
        **sizes,
        entries=entries_of_the_kind(tank.entries),
        document=of_the_kind(tank.document),
        notes=notes,
        changed_by=person,
    )
    profile.save()
    tank.profile, tank.profile_revision = profile, profile.revision
    tank.save()
    return profile


def applied(profile: Profile, entries: Mapping[str, str]) -> dict[str, str]:
    """Return a survey's fields with the dimensions of a profile in place of its own; nothing is kept."""
    kindly = entries_of_the_kind(entries)
    return {**{path: text for path, text in entries.items() if path not in kindly}, **profile.entries}


@transaction.atomic
def change_profile(profile: Profile, tank: Tank, revision: int, person: User) -> Profile:
    """Bring a profile up to date from a tank; other tanks that use it stay as they are and say so.

    Raises
    ------
    InputError
        If nothing would change.
    Conflict
        If someone else has changed it meanwhile.
    """
    profile, tank = Profile.objects.get(pk=profile.pk), Tank.objects.get(pk=tank.pk)
    if profile.revision != revision:
        raise Conflict(f"someone else has brought it to revision {profile.revision}: look at it first")
    document = of_the_kind(tank.document)
    if document == profile.document:
        raise InputError.at("", "the profile has these dimensions already")
    profile.document, profile.entries = document, entries_of_the_kind(tank.entries)
    profile.revision += 1
    profile.changed_by = person
    profile.save()
    tank.profile, tank.profile_revision = profile, profile.revision
    tank.save()
    return profile


def standing(tank: Tank) -> str:
    """Tell how a tank stands to its profile: ``none``, ``same``, ``newer`` (profile) or ``own`` (dimensions)."""
    profile = tank.profile
    if profile is None:
        return "none"
    if profile.document == of_the_kind(tank.document):
        return "same"
    return "newer" if tank.profile_revision != profile.revision else "own"
