"""How readings are taken in: once each, in one go, read through the chain and the table of that moment."""

from __future__ import annotations

import time
from collections import OrderedDict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from math import isfinite
from typing import Any

import numpy as np
import orjson
from django.db import connection, transaction
from django.db.models import Max
from django.utils import timezone

from ..core.quantities.errors import InputError
from ..core.readings.channels import FACTORS, MEANINGS
from ..core.readings.taken import BAD, GOOD, take
from ..core.scaling.chain import Chain
from ..core.tanks.tank import Tank as CoreTank
from ..gauges.models import GaugePlan
from ..scaling.chains import chain_of, read_tank_chain, table_tank
from ..scaling.models import Marks, ScalingChain
from ..tanks.models import IssuedTable, Tank
from ..wiring.models import Wiring
from . import events, rollups
from .models import Channel, Newest, Source, SourceState

#: The most readings that one body may bring.
MOST_AT_ONCE = 20_000
#: A reading from further ahead than this has a clock that is wrong; and raw readings are kept so long.
AHEAD_MS, KEPT_DAYS = 5 * 60_000, 400
_DAY_MS = 86_400_000
_PUT = (
    'INSERT INTO readings_reading (channel_id, at, arrived, raw, value, volume, quality, chain, "table") '
    "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s) ON CONFLICT (channel_id, at) DO NOTHING"
)
_NEWEST = (
    'INSERT INTO readings_newest (channel_id, at, arrived, raw, value, volume, quality, chain, "table", standings) '
    "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, '{}') ON CONFLICT (channel_id) DO UPDATE SET at = excluded.at, "
    "arrived = excluded.arrived, raw = excluded.raw, value = excluded.value, volume = excluded.volume, "
    'quality = excluded.quality, chain = excluded.chain, "table" = excluded."table" WHERE excluded.at > at'
)


@dataclass
class Batch:
    """Readings of one channel that came together.

    Parameters
    ----------
    at : list of int
        When each was read [ms].
    raw : list of float or None
        As they came, in the channel's unit.
    quality : list of int
        As their source has it, of `core.readings.taken.QUALITIES`.
    """

    at: list[int] = field(default_factory=list)
    raw: list[float | None] = field(default_factory=list)
    quality: list[int] = field(default_factory=list)

    def add(self, at: int, raw: float | None, quality: int = GOOD) -> None:
        """Add one."""
        self.at.append(at)
        self.raw.append(raw)
        self.quality.append(quality)


@dataclass
class Told:
    """What became of readings.

    Parameters
    ----------
    new, again : int
        How many are kept now, and how many were there already.
    refused : list of str
        What was not kept and why, in words.
    """

    new: int = 0
    again: int = 0
    refused: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Through:
    """What a tank's readings are taken through, and its revisions."""

    chain: Chain | None
    table: CoreTank
    chain_revision: int
    table_number: int


_THROUGH: OrderedDict[tuple[Any, ...], Through] = OrderedDict()
_MOST_KEPT = 20_000


@dataclass(frozen=True)
class Stands:
    """What a tank's chain rests on, as it is kept: revision and fields, the fields of gauge and wiring, newest table.

    Fields, not revisions alone: what was taken back in its transaction left its revision to another.
    """

    chain: int = 0
    entries: bytes = b""
    gauge: bytes = b""
    wiring: bytes = b""
    table: int = 0


def stands_of(tanks: Iterable[int]) -> dict[int, Stands]:
    """What the chains of some tanks rest on, by the tanks' numbers; asked for once for all of them."""
    every = list(tanks)
    chains = {
        tank: (revision, orjson.dumps(entries))
        for tank, revision, entries in ScalingChain.objects.filter(tank__in=every).values_list(
            "tank_id", "revision", "entries"
        )
    }
    gauges, wirings = (
        {
            tank: orjson.dumps(entries)
            for tank, entries in kind.objects.filter(tank__in=every).values_list("tank_id", "entries")
        }
        for kind in (GaugePlan, Wiring)
    )
    issued = IssuedTable.objects.filter(tank__in=every).order_by().values_list("tank_id")
    tables: dict[int, int] = dict(issued.annotate(Max("number")))
    return {
        tank: Stands(*chains.get(tank, (0, b"")), gauges.get(tank, b""), wirings.get(tank, b""), tables.get(tank, 0))
        for tank in every
    }


def through_of(tank: Tank) -> Through:
    """What a tank's readings are taken through now; made once for all that it rests on."""
    return _through(tank, stands_of([tank.pk])[tank.pk])


def _through(tank: Tank, stands: Stands) -> Through:
    key = (tank.pk, orjson.dumps(tank.document), stands)
    if key not in _THROUGH:
        kept = chain_of(tank)
        chain = None if kept is None else read_tank_chain(tank, kept.entries, "metric").chain
        ideal = None if chain is None else chain.ideal
        _THROUGH[key] = Through(ideal, table_tank(tank), stands.chain, stands.table)
        while len(_THROUGH) > _MOST_KEPT:
            _THROUGH.popitem(last=False)
    return _THROUGH[key]


class Around:
    """What is known of many channels before their readings are taken in, asked for once for all of them."""

    def __init__(self, channels: Iterable[Channel]) -> None:
        every = list(channels)
        tanks = {one.tank_id for one in every if one.tank_id is not None and one.kind not in MEANINGS}
        ids = [one.pk for one in every]
        self.newest = Newest.objects.in_bulk(ids)
        self.stands = stands_of(tanks)
        self.marks = dict(Marks.objects.filter(tank__in=tanks).values_list("tank_id", "document"))
        self.open = events.Open(ids)

    def through(self, tank: Tank) -> Through:
        """What a tank's readings are taken through."""
        return _through(tank, self.stands[tank.pk])


def _read(channel: Channel, through: Through | None, raw: np.ndarray, quality: np.ndarray) -> tuple[Any, ...]:
    """Values in SI, volumes and qualities of raw values."""
    values = raw * FACTORS.get(channel.unit, 1.0)
    if channel.kind in MEANINGS or through is None:
        bad = ~np.isfinite(values)
        return values, np.full(len(values), np.nan), np.where(bad, BAD, quality)
    chain = through.chain
    if channel.kind == "level" and chain is None:
        low, high = 0.0, through.table.inside_height
        inside = np.clip(np.where(np.isfinite(values), values, 0.0), low, high)
        bad = ~np.isfinite(values)
        return (
            values,
            np.where(bad, np.nan, through.table.volume(inside)),
            np.where(bad, BAD, np.maximum(quality, (values < low - 0.02) | (values > high + 0.02))),
        )
    if chain is None or channel.kind not in chain.stations:
        return np.full(len(values), np.nan), np.full(len(values), np.nan), np.full(len(values), BAD)
    taken = take(chain, through.table, channel.kind, values, quality >= BAD)
    return taken.levels, taken.volumes, np.maximum(taken.quality, quality)


def read_raw(channel: Channel, through: Through, raw: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Levels [m] and volumes [m³] of raw values of a channel, taken through what is given."""
    values, volumes, _ = _read(channel, through, raw, np.zeros(len(raw), dtype=np.int64))
    return values, volumes


def _numbers(column: np.ndarray) -> list[float | None]:
    return [one if isfinite(one) else None for one in column.tolist()]


def _refuse_other_times(batch: Batch, now_ms: int, told: Told, name: str) -> Batch:
    """Leave out what a wrong clock brings, and say so."""
    at = np.asarray(batch.at, dtype=np.int64)
    ahead, old = at > now_ms + AHEAD_MS, at < now_ms - KEPT_DAYS * _DAY_MS
    if not (ahead.any() or old.any()):
        return batch
    for wrong, words in ((ahead, "ahead of"), (old, "behind")):
        if wrong.any():
            worst, count = int(np.max(np.abs(at[wrong] - now_ms))), int(wrong.sum())
            many, them = ("1 reading is", "it") if count == 1 else (f"{count} readings are", "them")
            told.refused.append(
                f"{name}: {many} up to {_span(worst / 1000)} {words} this clock, not kept: set the clock of the "
                f"source, and send {them} again with the right time"
            )
    right = np.flatnonzero(~(ahead | old))
    return Batch(*([column[i] for i in right] for column in (batch.at, batch.raw, batch.quality)))


def _span(seconds: float) -> str:
    for size, name in ((365.25 * 86400, "years"), (86400, "days"), (3600, "hours"), (60, "minutes")):
        if seconds >= 2 * size:
            return f"{seconds / size:.0f} {name}"
    return f"{seconds:.0f} seconds"


@transaction.atomic
def take_in(batches: Mapping[Channel, Batch], now_ms: int | None = None, seed: bool = False) -> Told:
    """Take readings in: those that are there already change nothing.

    Parameters
    ----------
    batches : mapping of Channel to Batch
        What came, by channels; those of one source or of many. Their tanks are read along with them.
    now_ms : int, optional
        When it arrived; now, if that is not given.
    seed : bool
        Whether it is history that nobody is to be told of.

    Returns
    -------
    Told
    """
    arrived = int(time.time() * 1000) if now_ms is None else now_ms
    told = Told()
    wrong_clocks: set[int] = set()
    around = Around(batches)
    for channel, came in batches.items():
        before = len(told.refused)
        batch = _refuse_other_times(came, arrived, told, channel.name)
        if len(told.refused) > before:
            wrong_clocks.add(channel.source_id)
        if batch.at:
            _keep(channel, batch, arrived, told, None if seed else around.open, around)
    sources = {channel.source_id for channel in batches}
    when = timezone.now()
    for source in sources:
        SourceState.objects.update_or_create(
            source_id=source, defaults={"heard_at": when, "problem": "", "failures": 0}
        )
        events.set_open("clock", source in wrong_clocks, source=source)
    return told


def _keep(
    channel: Channel, batch: Batch, arrived: int, told: Told, known_open: events.Open | None, around: Around
) -> None:
    raw = np.array([np.nan if one is None else one for one in batch.raw], dtype=float)
    quality = np.asarray(batch.quality, dtype=np.int64)
    of_tank = channel.tank is not None and channel.kind not in MEANINGS
    through = around.through(channel.tank) if of_tank and channel.tank is not None else None
    values, volumes, told_quality = _read(channel, through, raw, quality)
    chain, number = (through.chain_revision, through.table_number) if through else (0, 0)
    columns = [_numbers(raw), _numbers(values), _numbers(volumes), told_quality.tolist()]
    rows = [
        (channel.pk, at, arrived, one, value, volume, how, chain, number)
        for at, one, value, volume, how in zip(batch.at, *columns, strict=True)
    ]
    with connection.cursor() as cursor:
        cursor.executemany(_PUT, rows)
        new = max(cursor.rowcount, 0)
        told.new += new
        told.again += len(rows) - new
        if not new:
            return
        newest = max(rows, key=lambda row: row[1])
        cursor.execute(_NEWEST, newest)
    rollups.renew(channel.pk, batch.at)
    if channel.tank is not None and of_tank and known_open is not None:
        known = around.newest.get(channel.pk)
        fresh = rows if known is None or known.at < min(batch.at) else [row for row in rows if row[1] > known.at]
        period = channel.source.period_s
        watched = events.watched_marks(channel.tank, around.marks.get(channel.tank.pk), period)
        events.follow_marks(channel, known, fresh, watched, known_open)


def channels_of(source: Source) -> dict[str, Channel]:
    """The channels of a source by their names, their tanks with them."""
    return {one.name: one for one in source.channels.filter(on=True).select_related("tank__site", "source")}


def refuse_too_many(count: int) -> None:
    """Refuse a body with more readings than are taken at once."""
    if count > MOST_AT_ONCE:
        raise InputError.at(
            "readings", f"{count} readings in one body are too many: send at most {MOST_AT_ONCE} at once"
        )


def forget_old(now_ms: int | None = None, most: int = 50_000) -> int:
    """Let raw readings go that are older than they are kept; their roll-ups stay. Returns how many went."""
    now = int(time.time() * 1000) if now_ms is None else now_ms
    with connection.cursor() as cursor:
        cursor.execute(
            "DELETE FROM readings_reading WHERE id IN (SELECT id FROM readings_reading WHERE at < %s LIMIT %s)",
            [now - KEPT_DAYS * _DAY_MS, most],
        )
        return int(cursor.rowcount)


def group(pairs: Iterable[tuple[Channel, int, float | None, int]]) -> dict[Channel, Batch]:
    """Put single readings together by their channels."""
    found: dict[Channel, Batch] = {}
    for channel, at, raw, quality in pairs:
        found.setdefault(channel, Batch()).add(at, raw, quality)
    return found
