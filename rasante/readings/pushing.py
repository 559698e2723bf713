"""What units send by themselves: a body of readings, checked whole before any is kept."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Any

import orjson

from ..core.quantities.errors import InputError, Problem
from ..core.readings.taken import BAD, GOOD
from .intake import Batch, Told, channels_of, refuse_too_many, take_in
from .models import Source

_MOST_PROBLEMS = 20
#: Numbers from here on are milliseconds: as seconds they would lie beyond the year 5000.
_MS_FROM = 1e11


def moment_ms(at: Any) -> int:
    """When a reading is from [ms]: ISO 8601 with its zone, or seconds or milliseconds since 1970-01-01 UTC.

    Raises
    ------
    ValueError
        If it is neither.
    """
    if isinstance(at, (int, float)):
        # Not a number, without end and a yes or no are none either.
        if not 1 < at < 1e14:
            raise ValueError
        return round(at if at >= _MS_FROM else at * 1000)
    if isinstance(at, str):
        moment = datetime.fromisoformat(at)
        if moment.tzinfo is None:
            raise ValueError
        return round(moment.timestamp() * 1000)
    raise ValueError


def read_body(body: bytes) -> list[dict[str, Any]]:
    """Read the body of a push.

    Raises
    ------
    InputError
        If it is no JSON, or no list of readings.
    """
    try:
        content = orjson.loads(body)
    except orjson.JSONDecodeError as error:
        raise InputError.at("", f"is no JSON: {error}") from None
    rows = content.get("readings") if isinstance(content, dict) else content
    if not isinstance(rows, list) or not rows:
        raise InputError.at("readings", 'send {"readings": [{"channel": …, "at": …, "value": …}, …]}')
    refuse_too_many(len(rows))
    return rows


def push_in(source: Source, rows: list[dict[str, Any]], now_ms: int | None = None) -> Told:
    """Take in what a unit sent.

    Parameters
    ----------
    source : Source
        Whose it is.
    rows : list of dict
        Each with ``channel`` (its name), ``value`` (a number, or null for a fault), ``at`` (when; now, if it is
        missing), and perhaps ``fault`` (true where the value is not to be believed).
    now_ms : int, optional
        When it arrived.

    Raises
    ------
    InputError
        With the place of everything that cannot be read; nothing is kept then.
    """
    import time

    now = int(time.time() * 1000) if now_ms is None else now_ms
    channels = channels_of(source)
    # By names: what came is looked at thousands of times in a row.
    batches = {name: Batch() for name in channels}
    problems: list[Problem] = []
    unknown: dict[str, int] = {}
    for place, row in enumerate(rows):
        try:
            name, value = row["channel"], row.get("value")
            batch = batches.get(name)
            if batch is None:
                if not isinstance(name, str):
                    raise ValueError
                unknown[name[:60]] = unknown.get(name[:60], 0) + 1
                continue
            at = moment_ms(row["at"]) if "at" in row else now
            if value is not None and (value is True or value is False or not math.isfinite(value)):
                raise ValueError
            batch.at.append(at)
            batch.raw.append(value)
            batch.quality.append(BAD if value is None or row.get("fault") is True else GOOD)
        except (KeyError, TypeError, ValueError, AttributeError, OverflowError):
            problems.append(Problem(f"readings[{place}]", _what(row)))
            if len(problems) >= _MOST_PROBLEMS:
                break
    if problems:
        raise InputError(*problems)
    came = {channels[name]: batch for name, batch in batches.items() if batch.at}
    told = take_in(came, now) if came else Told()
    for name, count in unknown.items():
        told.refused.append(f"{name}: a channel that {source} does not have; not kept, readings: {count}")
    return told


def _what(row: Any) -> str:
    if not isinstance(row, dict) or not isinstance(row.get("channel"), str):
        return "must be an object with the name of its channel"
    value = row.get("value")
    if value is not None and (isinstance(value, bool) or not isinstance(value, (int, float)) or not _finite(value)):
        return "its value must be a finite number, or null for a fault"
    return "its time must be ISO 8601 with a zone (2025-06-01T12:00:00Z), or seconds since 1970-01-01 UTC"


def _finite(value: float) -> bool:
    try:
        return math.isfinite(value)
    except OverflowError:
        return False
