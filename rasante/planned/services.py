"""How what is planned for a tank is kept: renewed unless someone else has kept another meanwhile."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any, TypeVar

from django.contrib.auth.models import User

from ..conflict import Conflict
from ..tanks.models import Tank
from .models import Planned

Kept = TypeVar("Kept", bound=Planned)
Read = TypeVar("Read")
#: How many documents of a kind are remembered as they were read.
_REMEMBERED = 256


def remembered(read: Callable[[Any], Read]) -> Callable[[Any], Read]:
    """What reads a document, and remembers it by its letters: the same one is not checked again for every answer.

    Parameters
    ----------
    read : callable
        Makes something of a document that nobody changes afterwards, or refuses it.
    """

    @lru_cache(maxsize=_REMEMBERED)
    def of(text: str) -> Read:
        return read(json.loads(text))

    return lambda document: of(json.dumps(document))


def kept_entries(entries: Mapping[str, str], kept: Mapping[str, str]) -> dict[str, str]:
    """What is kept of the fields: as understood where they were read, as typed where they wait for another choice."""
    return {path: text for path, text in entries.items() if text.strip()} | dict(kept)


def planned_of(kind: type[Kept], tank: Tank) -> Kept | None:
    """Return what is kept of a kind for a tank, or None.

    A tank that says by ``read_along`` that its plans were read with it, and that nothing is kept through it, gives
    them from there.
    """
    if getattr(tank, "read_along", False):
        return getattr(tank, kind._meta.model_name, None)
    return kind.objects.select_related("changed_by").filter(tank=tank).first()


def renew(kind: type[Kept], tank: Tank, revision: int) -> Kept:
    """Return what is kept of a kind for a tank, or a new one, unless someone else has kept another meanwhile."""
    old = kind.objects.filter(tank=tank).first()
    if (old.revision if old else 0) != revision:
        raise Conflict("someone else has kept this meanwhile: look at the newer one before you keep yours")
    return old or kind(tank=tank, revision=0)


def keep_planned(
    planned: Kept,
    tank: Tank,
    entries: dict[str, str],
    document: dict[str, Any],
    standing: tuple[str, bool],
    person: User,
) -> Kept:
    """Keep what was planned: a new revision where it differs."""
    changed = planned.entries != entries or planned.document != document or planned.tank_revision != tank.revision
    planned.entries, planned.document, planned.tank_revision = entries, document, tank.revision
    planned.revision += 1 if changed or not planned.revision else 0
    planned.summary, planned.pressing = standing[0][:300], standing[1]
    planned.changed_by = person
    planned.save()
    return planned
