"""What can be done with sources of readings: made, changed, given a token, switched off, taken away."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import asdict
from hashlib import sha256
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..core.quantities.units import System
from ..core.readings.condition import late_after
from ..core.readings.source_form import ChannelEntry, SourceForm, read_source
from ..core.scaling.chain import Chain
from ..planned.services import kept_entries
from ..scaling.chains import kept_chain
from ..tanks.models import Tank
from .models import Channel, Reading, Source, SourceState

_MOST_SOURCES = 2000


def read_tank_source(entries: Mapping[str, str], system: System) -> SourceForm:
    """Read a source as far as it has been typed."""
    asked = {text for path, text in entries.items() if path.endswith(".tank") and text.isdecimal() and len(text) < 12}
    tanks = {str(tank.pk): tank for tank in Tank.objects.select_related("site").filter(pk__in=asked)}

    def chain_of(number: str) -> Chain | None:
        return kept_chain(tanks[number], system) if number in tanks else None

    return read_source(entries, chain_of, {number: str(tank) for number, tank in tanks.items()}, system)


@transaction.atomic
def keep_source(
    source: Source | None, entries: Mapping[str, str], system: System, person: User, revision: int
) -> Source:
    """Make a source, or change one.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has changed it meanwhile.
    """
    found = read_tank_source(entries, system)
    found.form.require()
    if source is None:
        if Source.objects.count() >= _MOST_SOURCES:
            raise InputError.at("name", f"there are {_MOST_SOURCES} sources already: delete one that is not used")
        source = Source(revision=0)
    else:
        source = Source.objects.select_for_update().get(pk=source.pk)
        if source.revision != revision:
            raise Conflict("someone else has changed this source meanwhile: look at it before you keep yours")
        if source.kind != found.kind:
            raise InputError.at("kind", "a source stays what it is: make another, and switch this one off")
    others = Source.objects.filter(name__iexact=found.name)
    if others.exclude(pk=source.pk).exists():
        raise InputError.at("name", f"there is a source called {found.name} already: tell them apart")
    for name in ("kind", "name", "host", "port", "unit", "period_s", "timeout_s"):
        setattr(source, name, getattr(found, name))
    source.entries, source.changed_by = kept_entries(entries, found.form.kept), person
    source.revision += 1
    source.save()
    SourceState.objects.get_or_create(source=source)
    _keep_channels(source, found.channels)
    return source


def _keep_channels(source: Source, entries: tuple[ChannelEntry, ...]) -> None:
    there = {channel.name: channel for channel in source.channels.all()}
    for one in entries:
        channel = there.pop(one.name, None) or Channel(source=source, name=one.name)
        tank = int(one.tank) if one.tank else None
        if channel.pk and (channel.tank_id, channel.kind) != (tank, one.kind) and _has_readings(channel):
            raise InputError.at(
                "channels",
                f"{one.name} has readings of {channel.kind} of another tank or kind: they stay what they were. "
                "Give the new one a name of its own",
            )
        channel.tank_id, channel.kind, channel.unit, channel.on = tank, one.kind, one.unit, True
        channel.address = asdict(one.address)
        channel.save()
    for channel in there.values():
        if _has_readings(channel):
            channel.on = False
            channel.save()
        else:
            channel.delete()


def _has_readings(channel: Channel) -> bool:
    return Reading.objects.filter(channel=channel).exists()


@transaction.atomic
def switch(source: Source, on: bool, person: User, revision: int) -> Source:
    """Switch a source on or off; what it brought stays.

    Raises
    ------
    Conflict
        If someone else has changed it meanwhile.
    """
    source = Source.objects.select_for_update().get(pk=source.pk)
    if source.revision != revision:
        raise Conflict("someone else has changed this source meanwhile: look at it first")
    source.on, source.changed_by, source.revision = on, person, source.revision + 1
    source.save()
    if not on:
        SourceState.objects.filter(source=source).update(problem="", failures=0)
    return source


@transaction.atomic
def delete_source(source: Source) -> None:
    """Take a source away that never brought anything.

    Raises
    ------
    InputError
        If it has readings.
    """
    if Reading.objects.filter(channel__source=source).exists():
        raise InputError.at("", f"{source} has brought readings, and they are kept: switch it off instead")
    source.channels.all().delete()
    source.delete()


@transaction.atomic
def renew_token(source: Source, person: User) -> tuple[Source, str]:
    """Give a source that sends by itself a new token; the old one is no longer taken.

    Returns
    -------
    Source, str
        The token itself is shown now and kept nowhere.

    Raises
    ------
    InputError
        If it does not send by itself.
    """
    source = Source.objects.select_for_update().get(pk=source.pk)
    if source.kind != "push":
        raise InputError.at("", "only a unit that sends by itself needs a token")
    token = secrets.token_urlsafe(32)
    source.token_hash, source.token_end = hash_of(token), token[-4:]
    source.changed_by = person
    source.save()
    return source, token


@transaction.atomic
def revoke_token(source: Source, person: User) -> Source:
    """Take a source's token away: what comes with it is refused from now on."""
    source = Source.objects.select_for_update().get(pk=source.pk)
    source.token_hash, source.token_end, source.changed_by = "", "", person
    source.save()
    return source


def hash_of(token: str) -> str:
    """What is kept of a token: enough to know it again. It is as long as a key, so no salt is needed."""
    return sha256(token.encode()).hexdigest()


def source_by_token(token: str) -> Source | None:
    """The source that a token belongs to, if it is listened to."""
    if not token:
        return None
    return Source.objects.filter(token_hash=hash_of(token), kind="push", on=True).first()


def failed(source: Source, words: str) -> None:
    """Note that a source did not answer."""
    SourceState.objects.get_or_create(source=source)
    SourceState.objects.filter(source=source).update(
        failed_at=timezone.now(), problem=words[:300], failures=F("failures") + 1
    )


def state_of(source: Source) -> dict[str, Any]:
    """How a source does, in words."""
    state = getattr(source, "state", None)
    if not source.on:
        return {"key": "off", "words": "switched off"}
    if state is not None and state.problem:
        return {"key": "failing", "words": state.problem}
    if state is None or state.heard_at is None:
        return {"key": "waiting", "words": "nothing has come from it yet"}
    if source.period_s and (timezone.now() - state.heard_at).total_seconds() > late_after(source.period_s):
        return {"key": "late", "words": ""}
    return {"key": "heard", "words": ""}
