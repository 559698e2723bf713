"""What a tank's readings show: over a span of time, now, and what came and went."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import numpy as np
from django.db import connection
from django.db.models import Prefetch, prefetch_related_objects

from ..core.quantities.arrays import Array
from ..core.quantities.errors import InputError
from ..core.readings.ahead import Rate, Reached, rate_now, when_reached
from ..core.readings.alarms import ABOVE, BELOW
from ..core.readings.channels import MEANINGS
from ..core.readings.condition import Condition, Expected, late_after, tell
from ..core.readings.stillness import STILL, Stillness, judge_stillness, noise_of
from ..core.readings.taken import BAD, readable
from ..core.scaling.chain_line import parts_at, slopes_at, steps_at, together
from ..core.scaling.volumes import curve_of
from ..core.tanks.limits import limits_of
from ..core.tanks.table import table_at
from ..core.tanks.tank import Tank as CoreTank
from ..scaling.chains import newest_table, table_tank
from ..scaling.marking import marks_of
from ..tanks.models import IssuedTable, Tank, checked
from .intake import Through, through_of
from .models import Channel, Newest

#: How many points a chart is drawn with at most, and for how long raw readings are drawn [s].
POINTS, _RAW_S = 1500, 6 * 3600
#: Readings that tell the condition, the rate and the stillness of now.
_NOW = 256


@dataclass(frozen=True)
class Series:
    """Readings of one channel over time, thinned to what a chart can show.

    Parameters
    ----------
    channel : Channel
        Which.
    size : int
        Span of one point [s]; 0 for the readings themselves.
    times : array of shape (n,)
        When a point begins [s].
    values, least, most : array of shape (n,)
        Levels [m], or values in SI: the mean and the ends.
    volumes, volume_least, volume_most : array of shape (n,)
        [m³]; NaN where it is no level.
    worst : array of int of shape (n,)
        Worst quality.
    """

    channel: Channel
    size: int
    times: Array
    values: Array
    least: Array
    most: Array
    volumes: Array
    volume_least: Array
    volume_most: Array
    worst: Array


def channels_at(tank: Tank) -> list[Channel]:
    """The channels of a tank that are listened to, the one that leads first.

    Notes
    -----
    The first that was made leads, of those that send its level by themselves and of which something has come. Dips
    and files follow, then those of which nothing has come yet, then what is no level.
    """
    found = Channel.objects.filter(tank=tank, on=True).select_related(
        "source", "source__state", "newest", "tank__site"
    )

    def rank(channel: Channel) -> tuple[bool, bool, bool, int]:
        silent = getattr(channel, "newest", None) is None
        return channel.kind in MEANINGS, silent, channel.source.kind in ("hand", "csv"), channel.pk

    return sorted(found, key=rank)


def leading(tank: Tank) -> Channel | None:
    """The channel that a tank's line follows; None where none brings its level."""
    found = [channel for channel in channels_at(tank) if channel.kind not in MEANINGS]
    return found[0] if found else None


def newest_levels(tanks: list[Tank], now_s: float | None = None) -> dict[int, dict[str, Any]]:
    """The newest level of each of some tanks that has one, by the tanks' numbers, as the board shows it."""
    when = time.time() if now_s is None else now_s
    found: dict[int, dict[str, Any]] = {}
    known = {tank.pk: tank for tank in tanks}
    prefetch_related_objects(tanks, Prefetch("issued_tables", IssuedTable.objects.defer("rows")))
    newest = Newest.objects.filter(
        channel__tank__in=list(known), channel__on=True, channel__source__period_s__gt=0, volume__isnull=False
    ).values_list("channel__tank_id", "at", "value", "volume", "channel__source__period_s")
    for tank, at, level, volume, period in newest.order_by("at"):
        age = when - at / 1000
        found[tank] = {
            "innage_mm": level * 1000,
            "volume_l": volume * 1000,
            "volume_pct": volume / table_tank(known[tank]).capacity * 100,
            "at": datetime.fromtimestamp(at / 1000, UTC).isoformat(),
            "age_days": age / 86400,
            "read": True,
            "live": age <= late_after(period),
        }
    return found


def size_for(span_s: float) -> int:
    """Which roll-up a span is drawn from: the finest that does not give too many points; 0 for raw readings."""
    if span_s <= _RAW_S:
        return 0
    for size in (60, 3600):
        if span_s / size <= 6 * POINTS:
            return size
    return 86400


def column(rows: list[tuple[Any, ...]], at: int) -> Array:
    """One column of what was read from the database, missing values as NaN; shape (rows,)."""
    return np.array([row[at] for row in rows], dtype=float)


def series(channel: Channel, begin_s: float, end_s: float) -> Series:
    """The readings of a channel within a span [s], thinned by its roll-ups."""
    size = size_for(end_s - begin_s)
    with connection.cursor() as cursor:
        if size == 0:
            cursor.execute(
                "SELECT at / 1000.0, value, value, value, volume, volume, volume, quality FROM readings_reading "
                "WHERE channel_id = %s AND at >= %s AND at <= %s ORDER BY at",
                [channel.pk, int(begin_s * 1000), int(end_s * 1000)],
            )
        else:
            # Several roll-ups are joined where a chart has no room for each.
            step = max(size, int((end_s - begin_s) / POINTS / size) * size)
            cursor.execute(
                f"SELECT start / {step} * {step} AS at, sum(mean * count) / sum(count), min(least), max(most), "
                "sum(volume_mean * count) / sum(count), min(volume_least), max(volume_most), max(worst) "
                "FROM readings_rollup WHERE channel_id = %s AND size = %s AND start >= %s AND start <= %s "
                "GROUP BY 1 ORDER BY 1",
                [channel.pk, size, int(begin_s // step * step), int(end_s)],
            )
            size = step
        rows = cursor.fetchall()
    columns = [column(rows, at) for at in range(8)]
    return Series(channel, size, *columns[:7], columns[7])


def raw_of(channel: Channel, begin_ms: int, most: int) -> tuple[Array, Array, Array, Array]:
    """The newest readings of a channel since a moment: times [s], values, volumes and qualities."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT at / 1000.0, value, volume, quality FROM readings_reading "
            "WHERE channel_id = %s AND at >= %s ORDER BY at DESC LIMIT %s",
            [channel.pk, begin_ms, most],
        )
        rows = cursor.fetchall()[::-1]
    return tuple(column(rows, at) for at in range(4))  # type: ignore[return-value]


def raw_values(channel: Channel, since_s: float) -> Array:
    """What came of a channel since a moment [s], in its own unit; shape (n,)."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT raw FROM readings_reading WHERE channel_id = %s AND at >= %s AND raw IS NOT NULL "
            "ORDER BY at DESC LIMIT 4000",
            [channel.pk, int(since_s * 1000)],
        )
        return np.array([row[0] for row in cursor.fetchall()], dtype=float)


def expected_of(channel: Channel, through: Through | None, values: Array) -> Expected:
    """What is known of a channel beforehand: what its chain can read, its step, and what is usual of it."""
    period = channel.source.period_s
    if channel.kind in MEANINGS or through is None:
        return Expected(period)
    low, high = 0.0, through.table.inside_height
    step = 0.0
    chain = through.chain
    if chain is not None:
        reach = readable(chain)
        low, high = max(low, reach[0]), min(high, reach[1])
        middle = steps_at(chain, slopes_at(chain, (low + high) / 2)) if high > low else {}
        stations = chain.stations[: chain.stations.index(channel.kind) + 1] if channel.kind in chain.stations else ()
        step = max((middle[one] for one in stations if one in middle), default=0.0)
    finite = values[np.isfinite(values)]
    usual = noise_of(finite[:-30], step) if len(finite) > 60 else 0.0
    # No pump or hose fills a tank in less than a minute: a step that is quicker is no liquid.
    return Expected(period, low, high, step, usual, through.table.inside_height / 60)


@dataclass(frozen=True)
class Now:
    """What a tank has now, by its leading channel.

    Parameters
    ----------
    channel : Channel
        Which channel.
    condition : Condition
        What its readings are doing.
    at_s, arrived_s : float
        When the newest was read and arrived [s].
    raw, level, volume : float or None
        As it came; innage [m] and volume [m³] as it was taken.
    level_u95, volume_u95 : float or None
        Half-widths (k = 2) [m], [m³].
    share : float or None
        The volume by all that the tank holds [1], by the table that it is read through.
    quality : int
        Of `core.readings.taken.QUALITIES`.
    rate : Rate or None
        How fast the volume changes [m³/s]; None where nothing live tells.
    reached : list of Reached
        When marks will be.
    stillness : Stillness or None
        Whether it stands still.
    """

    channel: Channel
    condition: Condition
    at_s: float
    arrived_s: float
    raw: float | None
    level: float | None
    volume: float | None
    level_u95: float | None
    volume_u95: float | None
    share: float | None
    quality: int
    rate: Rate | None
    reached: list[Reached]
    stillness: Stillness | None


def marks_m3(tank: Tank, table: CoreTank) -> dict[str, float]:
    """Volumes of a tank's kept marks that can be reached, and of full and empty where no mark says so [m³]."""
    kept = marks_of(tank)
    marks = {} if kept is None else {mark["key"]: mark["volume_m3"] for mark in kept.document["marks"]}
    found = {key: volume for key, volume in marks.items() if key in (*ABOVE, "safe", *BELOW)}
    with contextlib.suppress(InputError):
        limits = limits_of(table)
        found = {"safe": limits.safe_m3, "empty": limits.unpumpable_m3} | found
    return found


def sure_of(tank: Tank, through: Through, level: float) -> tuple[float, float]:
    """Half-widths of a reading's level [m] and volume [m³], the table's own ± with it."""
    issued = newest_table(tank)
    file = tank.file if issued is None else checked(issued.document)
    inside = float(np.clip(level, 0.0, through.table.inside_height))
    row = table_at(file, np.array([inside]))
    table = None if row.u95_m3 is None else float(row.u95_m3[0])
    if through.chain is None:
        return 0.0, table or 0.0
    u95 = together(parts_at(through.chain, inside, None), through.chain.stations)
    surface = float(curve_of(through.table).surface(np.array([inside]))[0])
    return u95, float(np.hypot(u95 * max(surface, 0.0), table or 0.0))


def now_of(tank: Tank, now_s: float | None = None) -> Now | None:
    """What a tank has now; None where nothing brings its level, or nothing has arrived yet."""
    channel = leading(tank)
    return None if channel is None else channel_now(channel, now_s)


def channel_now(channel: Channel, now_s: float | None = None) -> Now | None:
    """What a channel has now; None before its first reading."""
    newest = getattr(channel, "newest", None)
    if newest is None:
        return None
    when = time.time() if now_s is None else now_s
    times, values, volumes, _ = raw_of(channel, 0, _NOW)
    of_level = channel.tank is not None and channel.kind not in MEANINGS
    through = through_of(channel.tank) if of_level and channel.tank is not None else None
    expected = expected_of(channel, through, values)
    condition = tell(times, values, when, expected, newest.quality >= BAD)
    there = np.isfinite(values)
    rate = None
    if through is not None and there.any() and condition.live:
        inside = np.clip(values[there][-1:], 0.0, through.table.inside_height)
        step = expected.resolution * max(float(curve_of(through.table).surface(inside)[0]), 0.0)
        rate = rate_now(times[there], volumes[there], step)
    sure: tuple[float | None, float | None] = (None, None)
    still = None
    if through is not None and channel.tank is not None and newest.value is not None:
        sure = sure_of(channel.tank, through, newest.value)
        allowed = STILL * through.table.inside_height
        still = judge_stillness(times[there], values[there], allowed, expected.resolution)
    of_tank = through is not None and channel.tank is not None and rate is not None
    reached = when_reached(rate, marks_m3(channel.tank, through.table)) if of_tank else []
    share = newest.volume / through.table.capacity if through is not None and newest.volume is not None else None
    return Now(
        channel,
        condition,
        newest.at / 1000,
        newest.arrived / 1000,
        newest.raw,
        newest.value if of_level else None,
        newest.volume,
        *sure,
        share,
        newest.quality,
        rate,
        reached,
        still,
    )


def as_now(channel: Channel, shown: Series) -> Mapping[str, Array] | None:
    """A series as it would be read through today's chain and table; None where it was read through these."""
    if channel.tank is None or channel.kind in MEANINGS:
        return None
    through = through_of(channel.tank)
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT at / 1000.0, raw FROM readings_reading WHERE channel_id = %s AND at >= %s AND at <= %s "
            'AND raw IS NOT NULL AND (chain != %s OR "table" != %s) ORDER BY at LIMIT 200000',
            [
                channel.pk,
                int(shown.times[0] * 1000) if len(shown.times) else 0,
                int((shown.times[-1] + shown.size) * 1000) if len(shown.times) else 0,
                through.chain_revision,
                through.table_number,
            ],
        )
        rows = cursor.fetchall()
    if not rows:
        return None
    from .intake import read_raw

    times, raw = column(rows, 0), column(rows, 1)
    values, volumes = read_raw(channel, through, raw)
    keep = np.unique(np.linspace(0, len(times) - 1, min(len(times), POINTS)).astype(int))
    return {"times": times[keep], "values": values[keep], "volumes": volumes[keep]}
