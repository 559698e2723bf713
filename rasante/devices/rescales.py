"""What can be done with rescalings: worked out, begun as a check list, ticked, and closed into the chain."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from ..conflict import Conflict
from ..core.devices.rescale import CARD_SIGNALS, LINKS, Rescale, rescale
from ..core.quantities.errors import InputError
from ..core.quantities.units import System
from ..core.scaling.chain import Chain, all_settings
from ..core.scaling.chain_form import ChainForm
from ..scaling.chains import chain_of, keep_chain, read_chain_on, read_tank_chain, scaled_chain
from ..seals.services import seal
from ..tanks.models import Tank, checked
from .models import Rescaling


def _after(tank: Tank, entries: Mapping[str, str]) -> dict[str, str]:
    """The chain's entries with the change in them; what follows is left to, but for the same card's signals."""
    kept = chain_of(tank)
    before = dict(kept.entries) if kept is not None else {}
    follow = {path for path, (_, one) in all_settings().items() if one.follows}
    links = {path for _, paths in LINKS.values() for path in paths}
    changes = {path: text for path, text in entries.items() if path in links and text.strip()}
    if not set(changes) & {"signal.kind", "counts.bits", "counts.low", "counts.high"}:
        follow -= set(CARD_SIGNALS)
    # Raw ends that were typed for another card or signal do not stay.
    if set(changes) & {"signal.kind", "counts.bits"}:
        before = {path: text for path, text in before.items() if path not in ("counts.low", "counts.high")}
    return {path: text for path, text in before.items() if path not in follow} | changes


def chain_as_set(tank: Tank, system: System) -> Chain:
    """The kept chain on the tank as it was surveyed when the chain was kept, so that a survey since is a change too.

    Raises
    ------
    InputError
        If neither that tank nor today's makes a chain of it.
    """
    kept = chain_of(tank)
    if kept is not None and kept.tank_revision != tank.revision:
        then = tank.history.filter(revision=kept.tank_revision).order_by("-history_date").first()
        if then is not None:
            file = checked(then.document)
            found = read_chain_on(tank, kept.entries, file, file.tank, system)
            if found.chain is not None:
                return found.chain
    return scaled_chain(tank, system)


def read_rescale(
    tank: Tank, entries: Mapping[str, str], level_m: float, system: System
) -> tuple[ChainForm, Rescale | None]:
    """Work out what a change of a tank's kept chain asks for, as far as it has been typed.

    Raises
    ------
    InputError
        If the kept chain is none any more.
    """
    old = chain_as_set(tank, system)
    found = read_tank_chain(tank, _after(tank, entries), system)
    if found.chain is None:
        return found, None
    level = min(max(level_m, 0.0), tank.file.tank.inside_height)
    return found, rescale(old, found.chain, level, system)


def open_rescaling(tank: Tank) -> Rescaling | None:
    """Return the rescaling of a tank that is under way, or None."""
    return Rescaling.objects.filter(tank=tank, closed_at__isnull=True, dropped_at__isnull=True).first()


@transaction.atomic
def begin_rescale(
    tank: Tank, entries: Mapping[str, str], level_m: float, system: System, why: str, person: User, revision: int
) -> Rescaling:
    """Begin a rescaling: its check list is kept, the chain stays as it is until the list is done.

    Parameters
    ----------
    revision : int
        The chain's revision that the change began from; 0 where none is kept.

    Raises
    ------
    InputError
        At the fields that are wrong, without a reason, or if nothing changes or another one is open.
    Conflict
        If someone else has kept another chain meanwhile.
    """
    kept = chain_of(tank)
    if (kept.revision if kept else 0) != revision:
        raise Conflict("someone else has kept another chain meanwhile: look at it before you rescale it")
    if open_rescaling(tank) is not None:
        raise InputError.at("", "a rescaling of this tank is open already: finish or drop it first")
    found, asked = read_rescale(tank, entries, level_m, system)
    found.form.require()
    assert asked is not None
    if not why.strip():
        raise InputError.at("why", "say what was changed: another sensor, another liquid…")
    if not asked.changes:
        raise InputError.at("", "nothing changes by this: the chain is set so already")
    document: dict[str, Any] = {
        "tasks": [{**asdict(change), "done": False} for change in asked.changes],
        "level_mm": asked.level_m * 1000,
        "right": asked.right,
        "forgotten": asked.forgotten,
        "rounding_mm": asked.rounding_m * 1000,
    }
    rescaling = Rescaling(
        tank=tank,
        why=why.strip(),
        before=dict(kept.entries) if kept else {},
        after=_after(tank, entries),
        document={**document, "system": system, "revision": revision},
        made_by=person,
    )
    rescaling.save()
    return rescaling


def _open(rescaling: Rescaling, kept: int) -> Rescaling:
    rescaling = Rescaling.objects.select_related("tank__site").get(pk=rescaling.pk)
    if rescaling.closed_at is not None:
        raise Conflict("this rescaling is closed: it is a record now")
    if rescaling.dropped_at is not None:
        raise Conflict("this rescaling was dropped: take it up again first")
    if rescaling.kept != kept:
        raise Conflict("this list was ticked on another device meanwhile: look at it again")
    return rescaling


@transaction.atomic
def tick(rescaling: Rescaling, index: int, done: bool, kept: int) -> Rescaling:
    """Tick one line of the list, or take its tick away.

    Raises
    ------
    InputError
        If there is no such line.
    Conflict
        If it is closed, or was ticked elsewhere meanwhile.
    """
    rescaling = _open(rescaling, kept)
    tasks = rescaling.document["tasks"]
    if index >= len(tasks):
        raise InputError.at("index", f"this list has {len(tasks)} lines")
    tasks[index]["done"] = done
    rescaling.kept += 1
    rescaling.save()
    return rescaling


@transaction.atomic
def close_rescale(rescaling: Rescaling, kept: int, person: User) -> Rescaling:
    """Close a rescaling: all is ticked, and the chain is kept as it is set now.

    Raises
    ------
    InputError
        If lines are not ticked, or the chain does not fit the tank any more.
    Conflict
        If it is closed, was ticked elsewhere, or the chain was kept anew meanwhile.
    """
    rescaling = _open(rescaling, kept)
    left = [task["path"] for task in rescaling.document["tasks"] if not task["done"]]
    if left:
        raise InputError.at("tasks", f"not done yet: {', '.join(left)}")
    document = rescaling.document
    keep_chain(rescaling.tank, rescaling.after, document["system"], person, document["revision"])
    rescaling.closed_at, rescaling.closed_by = timezone.now(), person
    rescaling.kept += 1
    rescaling.save()
    seal(rescaling)
    return rescaling


@transaction.atomic
def drop_rescale(rescaling: Rescaling, kept: int, person: User) -> Rescaling:
    """Drop a rescaling that is open: nothing was changed by it; who dropped it is noted.

    Raises
    ------
    Conflict
        If it is closed or dropped, or was ticked elsewhere meanwhile.
    """
    rescaling = _open(rescaling, kept)
    rescaling.dropped_at, rescaling.dropped_by = timezone.now(), person
    rescaling.kept += 1
    rescaling.save()
    return rescaling


@transaction.atomic
def take_up_rescale(rescaling: Rescaling, kept: int) -> Rescaling:
    """Take a dropped rescaling up again, with what was ticked.

    Raises
    ------
    InputError
        If another one is open.
    Conflict
        If it is not dropped, or was changed elsewhere meanwhile.
    """
    rescaling = Rescaling.objects.select_related("tank__site").get(pk=rescaling.pk)
    if rescaling.dropped_at is None or rescaling.kept != kept:
        raise Conflict("this rescaling is not as it was: look at it again")
    if open_rescaling(rescaling.tank) is not None:
        raise InputError.at("", "a rescaling of this tank is open already: finish or drop it first")
    rescaling.dropped_at = rescaling.dropped_by = None
    rescaling.kept += 1
    rescaling.save()
    return rescaling
