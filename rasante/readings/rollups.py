"""Roll-ups: what the readings of every minute, hour and day come to, kept up as readings come, in whatever order."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
from django.db import connection

from ..core.quantities.arrays import Array

#: From the finest: a minute of readings, an hour of minutes, a day of hours [s].
SIZES = (60, 3600, 86400)
_COLUMNS = (
    "channel_id", "size", "start", "count", "worst", "first", "last", "least", "most", "mean",
    "volume_first", "volume_last", "volume_least", "volume_most", "volume_mean",
)  # fmt: skip
_PUT = (
    f"INSERT INTO readings_rollup ({', '.join(chr(34) + name + chr(34) for name in _COLUMNS)}) "
    f"VALUES ({', '.join(['%s'] * len(_COLUMNS))}) ON CONFLICT (channel_id, size, start) DO UPDATE SET "
    + ", ".join(f'"{name}" = excluded."{name}"' for name in _COLUMNS[3:])
)
#: Spans nearer to one another than this are read in one go [s].
_NEAR_S = 3600


def spans_of(starts: Iterable[int], size: int) -> list[tuple[int, int]]:
    """Join the beginnings of spans [s] to stretches that are read in one go: (from, to) [s]."""
    found: list[list[int]] = []
    for start in sorted(set(starts)):
        if found and start - found[-1][1] <= _NEAR_S:
            found[-1][1] = start + size
        else:
            found.append([start, start + size])
    return [(a, b) for a, b in found]


def _groups(starts: Array) -> Array:
    """Where a new span begins in sorted beginnings; shape (spans,)."""
    return np.flatnonzero(np.concatenate([[True], np.diff(starts) != 0]))


def _at(values: Array, there: Array, edges: Array, which: str) -> list[float | None]:
    """The first or the last of every group that is a number."""
    place = np.arange(len(values))
    if which == "first":
        found = np.minimum.reduceat(np.where(there, place, len(values)), edges)
    else:
        found = np.maximum.reduceat(np.where(there, place, -1), edges)
    return [float(values[at]) if 0 <= at < len(values) else None for at in found]


def _tell(values: Array, counts: Array, edges: Array, least: Array, most: Array, means: Array) -> list[list[Any]]:
    """First, last, least, most and mean of every group of values, of which some may be missing (NaN)."""
    there = np.isfinite(values)
    weight = np.where(np.isfinite(means), counts, 0.0)
    total = np.add.reduceat(weight, edges)
    mean = np.add.reduceat(np.where(weight > 0, means, 0.0) * weight, edges) / np.where(total > 0, total, 1.0)
    low = np.fmin.reduceat(least, edges)
    high = np.fmax.reduceat(most, edges)

    def listed(column: Array) -> list[float | None]:
        return [float(one) if np.isfinite(one) else None for one in column]

    rows = [_at(values, there, edges, "first"), None, listed(low), listed(high)]
    rows[1] = _at(values, there, edges, "last")
    rows.append([float(one) if full > 0 else None for one, full in zip(mean, total, strict=True)])
    return rows


def _nan(column: tuple[Any, ...]) -> Array:
    return np.array([np.nan if one is None else one for one in column], dtype=float)


def renew(channel: int, times_ms: Iterable[int]) -> None:
    """Work the roll-ups of a channel out anew wherever readings were added.

    Parameters
    ----------
    channel : int
        Its number.
    times_ms : iterable of int
        When the readings that were added are from [ms].
    """
    times = np.asarray(list(times_ms), dtype=np.int64) // 1000
    if not len(times):
        return
    with connection.cursor() as cursor:
        for a, b in spans_of((np.unique(times // 60) * 60).tolist(), 60):
            cursor.execute(
                "SELECT at / 60000 * 60, value, volume, quality FROM readings_reading "
                "WHERE channel_id = %s AND at >= %s AND at < %s ORDER BY at",
                [channel, a * 1000, b * 1000],
            )
            rows = cursor.fetchall()
            if rows:
                _put_minutes(cursor, channel, rows)
        for size, finer in ((3600, 60), (86400, 3600)):
            for a, b in spans_of((np.unique(times // size) * size).tolist(), size):
                cursor.execute(
                    f"SELECT start / {size} * {size}, {', '.join(chr(34) + n + chr(34) for n in _COLUMNS[3:])} "
                    "FROM readings_rollup WHERE channel_id = %s AND size = %s AND start >= %s AND start < %s "
                    "ORDER BY start",
                    [channel, finer, a, b],
                )
                rows = cursor.fetchall()
                if rows:
                    _put_wider(cursor, channel, size, rows)


def _put_minutes(cursor: Any, channel: int, rows: list[tuple[Any, ...]]) -> None:
    starts, values, volumes, quality = zip(*rows, strict=True)
    edges = _groups(np.array(starts))
    counts = np.ones(len(rows))
    parts = []
    for column in (values, volumes):
        one = _nan(column)
        parts.append(_tell(one, counts, edges, one, one, one))
    _put(cursor, channel, 60, np.array(starts)[edges], counts, np.array(quality), edges, parts)


def _put_wider(cursor: Any, channel: int, size: int, rows: list[tuple[Any, ...]]) -> None:
    columns = list(zip(*rows, strict=True))
    starts, counts = np.array(columns[0]), np.array(columns[1], dtype=float)
    edges = _groups(starts)
    parts = []
    for at in (3, 8):
        first, last, least, most, mean = (_nan(columns[at + i]) for i in range(5))
        told = _tell(first, counts, edges, least, most, mean)
        told[1] = _at(last, np.isfinite(last), edges, "last")
        parts.append(told)
    _put(cursor, channel, size, starts[edges], counts, np.array(columns[2]), edges, parts)


def _put(
    cursor: Any, channel: int, size: int, starts: Array, counts: Array, worst: Array, edges: Array, parts: list[Any]
) -> None:
    number = np.add.reduceat(counts, edges).astype(int).tolist()
    bad = np.maximum.reduceat(worst, edges).tolist()
    told = [column for part in parts for column in part]
    rows = zip(starts.tolist(), number, bad, *told, strict=True)
    cursor.executemany(_PUT, [(channel, size, *row) for row in rows])
