"""What came and went in a tank as its readings saw it: deliveries, draws, transfers between tanks of a site."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import connection

from ..core.readings.changes import LEAST, SLACK_S, Change, Transfer, find_changes, match_transfers
from ..core.readings.taken import BAD
from ..tanks.models import Tank
from .intake import through_of
from .watching import column, leading

#: Over how long a span it is looked for what came and went at all, and minute by minute [s].
_LOOKS_S, MINUTES_S = 120 * 86400.0, 31 * 86400.0
#: Minutes or hours with readings that it takes to tell; and what is said of fewer.
_ENOUGH, _TOO_FEW = 8, "Too few readings in this span to tell deliveries and draws."
#: How far beside a move its level is read, and within how long it has to be there [s]: later it may be another's.
_BESIDE_S, _WITHIN_S = 120.0, 1800.0


@dataclass(frozen=True)
class Moves:
    """What came and went within a span.

    Parameters
    ----------
    deliveries, draws : list of Change
        The earliest first.
    words : str
        What is said where there are none: that there are none, or why that cannot be told.
    """

    deliveries: list[Change]
    draws: list[Change]
    words: str = f"No delivery or draw of {LEAST * 100:g} % or more in this span."


def moves_of(tank: Tank, begin_s: float, end_s: float) -> Moves:
    """Find what came and went in a tank within a span, by its minutes; by its hours over longer spans."""
    channel, span = leading(tank), end_s - begin_s
    if span > _LOOKS_S:
        return Moves([], [], f"These are looked for over at most {_LOOKS_S / 86400:.0f} days: choose a shorter span.")
    if channel is None:
        return Moves([], [], _TOO_FEW)
    size = 60 if span <= MINUTES_S else 3600
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT start + %s, volume_mean FROM readings_rollup WHERE channel_id = %s AND size = %s "
            "AND start >= %s AND start <= %s AND worst < %s AND volume_mean IS NOT NULL ORDER BY start",
            [size / 2, channel.pk, size, int(begin_s), int(end_s), BAD],
        )
        rows = cursor.fetchall()
    if len(rows) < _ENOUGH:
        return Moves([], [], _TOO_FEW)
    times, volumes = column(rows, 0), column(rows, 1)
    least = LEAST * through_of(tank).table.capacity
    return Moves(find_changes(times, volumes, least, 1), find_changes(times, volumes, least, -1))


def levels_around(tank: Tank, moves: Sequence[Change]) -> list[tuple[float, float] | None]:
    """The level [m] before and after each of some moves, by the minutes around them; None where it
    was not heard soon before, meanwhile and soon after.
    """
    channel = leading(tank)
    if channel is None:
        return [None] * len(moves)

    def mean(begin: float, end: float, order: str) -> float | None:
        with connection.cursor() as cursor:
            cursor.execute(
                f"SELECT mean FROM readings_rollup WHERE channel_id = %s AND size = 60 AND worst < %s "
                f"AND start >= %s AND start <= %s ORDER BY start {order} LIMIT 1",
                [channel.pk, BAD, int(begin), int(end)],
            )
            row = cursor.fetchone()
        return None if row is None else float(row[0])

    def silent(begin: float, end: float) -> bool:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT count(*) FROM readings_rollup WHERE channel_id = %s AND size = 60 AND worst < %s "
                "AND start >= %s AND start <= %s",
                [channel.pk, BAD, int(begin), int(end)],
            )
            heard = int(cursor.fetchone()[0])
        return (end - begin) - heard * max(channel.source.period_s, 60.0) > _WITHIN_S

    found: list[tuple[float, float] | None] = []
    for move in moves:
        first, last = move.start_s - _BESIDE_S, move.end_s + _BESIDE_S
        before, after = mean(first - _WITHIN_S, first, "DESC"), mean(last, last + _WITHIN_S, "ASC")
        lost = before is None or after is None or silent(move.start_s, move.end_s)
        found.append(None if lost else (before, after))
    return found


def transfers_at(tank: Tank, own: Moves, begin_s: float, end_s: float) -> list[Transfer]:
    """Match what came and went in a tank with the others of its site."""
    if not (own.deliveries or own.draws):
        return []
    draws, deliveries = {tank.name: own.draws}, {tank.name: own.deliveries}
    for other in Tank.objects.filter(site=tank.site_id, channels__on=True).exclude(pk=tank.pk).distinct()[:20]:
        moves = moves_of(other, begin_s, end_s)
        draws[other.name], deliveries[other.name] = moves.draws, moves.deliveries
    found = match_transfers(draws, deliveries, SLACK_S)
    return [one for one in found if tank.name in (one.source, one.target)]
