"""Events: opened by what readings tell, closed by themselves when it is over, acknowledged by a person."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..core.quantities.units import System, show
from ..core.readings.alarms import EVENTS, Standing, Watched, follow, watched_of
from ..core.readings.taken import BAD
from ..core.scaling.marks import MARKS
from ..tanks.models import Tank
from .models import Channel, Event, Newest


def _moment(seconds: float) -> datetime:
    return datetime.fromtimestamp(seconds, UTC)


def set_open(
    kind: str,
    is_open: bool,
    *,
    tank: int | None = None,
    channel: int | None = None,
    source: int | None = None,
    key: str = "",
    value: float | None = None,
    limit: float | None = None,
    since: datetime | None = None,
    pressing: bool = True,
) -> None:
    """Open an event of a kind, if none is open; or close the one that is."""
    which = {"kind": kind, "key": key, "tank_id": tank, "channel_id": channel, "source_id": source}
    when = since or timezone.now()
    if is_open:
        more = {"value": value, "limit": limit, "opened_at": when, "pressing": pressing}
        Event.objects.get_or_create(**which, closed_at=None, defaults=more)
    else:
        for event in Event.objects.filter(**which, closed_at=None):
            event.closed_at = when
            event.save()


class Open:
    """The events of some channels that are open, so that nothing is asked for what does not change."""

    def __init__(self, channels: list[int]) -> None:
        found = Event.objects.filter(channel__in=channels, closed_at=None)
        self.there = set(found.values_list("channel_id", "kind", "key"))

    def put(self, channel: Channel, kind: str, is_open: bool, key: str = "", **more: Any) -> None:
        """Open an event of a channel, or close it, where that is a change."""
        which = (channel.pk, kind, key)
        if is_open == (which in self.there):
            return
        set_open(kind, is_open, tank=channel.tank_id, channel=channel.pk, key=key, **more)
        self.there ^= {which}


def watched_marks(tank: Tank, document: dict[str, Any] | None, period_s: float) -> list[Watched]:
    """What is watched of a tank's marks, as they were kept, by readings that come so far apart [s]."""
    if document is None:
        return []
    kept = [(mark["key"], mark["level_m"]) for mark in document["marks"]]
    return watched_of(kept, tank.file.tank.inside_height, period_s)


def follow_marks(
    channel: Channel, known: Newest | None, rows: list[tuple[Any, ...]], watched: list[Watched], known_open: Open
) -> None:
    """Follow a channel's newer readings past its tank's marks, and tell of faults.

    Parameters
    ----------
    channel : Channel
        Of a tank.
    known : Newest or None
        How it stood before them.
    rows : list of tuple
        As `intake` keeps them.
    watched : list of Watched
        The tank's marks.
    known_open : Open
        What is open already.
    """
    if not rows or channel.tank is None:
        return
    newest = max(rows, key=lambda row: row[1])
    known_open.put(channel, "fault", newest[6] >= BAD, since=_moment(newest[1] / 1000))
    top = channel.tank.file.tank.inside_height
    if newest[4] is not None and newest[6] < BAD:
        known_open.put(channel, "full", newest[4] > top * 1.01, value=newest[4], limit=top)
    before = dict(known.standings) if known is not None else {}
    if not watched and not before:
        return
    told = sorted((row[1] / 1000, row[4]) for row in rows if row[4] is not None and row[6] < BAD)
    if not told:
        return
    times, levels = zip(*told, strict=True)
    after: dict[str, Any] = {}
    for mark in watched:
        standing, crossings = follow(mark, Standing(**before.get(mark.key, {})), times, levels)
        after[mark.key] = asdict(standing)
        for one in crossings:
            more = {"value": one.level_m, "limit": mark.level_m, "since": _moment(one.at_s)}
            known_open.put(channel, "mark", one.what == "opened", one.key, **more)
    for gone in set(before) - set(after):
        known_open.put(channel, "mark", False, gone)
    if after != before:
        Newest.objects.filter(channel=channel).update(standings=after)


def words_of(event: Event, system: System) -> str:
    """Say what an event is about."""
    if event.kind == "mark":
        way = "above" if event.key in ("overfill", "high") else "below"
        at = f", {show(event.value, 'length', system)}" if event.value is not None else ""
        limit = f" {show(event.limit, 'length', system)}" if event.limit is not None else ""
        return f"{way} {MARKS[event.key].lower()}{limit}{at}"
    if event.kind in ("full", "apart") and event.value is not None and event.limit is not None:
        value, limit = (show(one, "length", system) for one in (event.value, event.limit))
        return f"{EVENTS[event.kind]}: {value} against {limit}"
    about = event.source or event.channel
    return f"{EVENTS[event.kind]}: {about.name}" if about else EVENTS[event.kind]


def with_all(found: QuerySet[Event]) -> QuerySet[Event]:
    """Events with all that is said of them."""
    return found.select_related("tank__site", "channel__source", "source", "acknowledged_by")


def open_events() -> QuerySet[Event]:
    """Those that are not over, and those that are but nobody has acknowledged."""
    return with_all(Event.objects.filter(Q(closed_at=None) | Q(acknowledged_at=None, pressing=True)))


@transaction.atomic
def acknowledge(event: Event, word: str, person: User) -> Event:
    """Acknowledge an event with a word.

    Raises
    ------
    InputError
        Without a word.
    Conflict
        If somebody has acknowledged it meanwhile.
    """
    word = word.strip()
    if not word:
        raise InputError.at("word", "say in a word what you know or do about it")
    event = Event.objects.select_for_update().get(pk=event.pk)
    if event.acknowledged_at is not None:
        raise Conflict("somebody has acknowledged this meanwhile: look at their word")
    event.acknowledged_at, event.acknowledged_by, event.word = timezone.now(), person, word[:300]
    event.save()
    return event
