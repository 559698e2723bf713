"""Readings as files: CSV, XLSX and JSON of any span, raw or rolled up."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

import orjson
from django.db import connection
from xlsxwriter import Workbook

from ..core.quantities.errors import InputError
from ..core.readings.channels import FACTORS, KINDS, MEANINGS
from ..core.readings.taken import QUALITIES
from ..tanks.models import Tank
from .models import Channel

SIZES = {"raw": 0, "minute": 60, "hour": 3600, "day": 86400}
#: A worksheet has no more rows than that; no file is made of more.
MOST_ROWS = 1_000_000
_RAW = ("time_utc", "channel", "raw", "level_mm", "volume_l", "value", "quality", "arrived_utc", "chain", "table")
_ROLLED = ("start_utc", "channel", "count", "first", "last", "least", "most", "mean", "volume_l_mean", "quality")


def _stamp(seconds: float) -> str:
    return datetime.fromtimestamp(seconds, UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


def _sized(value: float | None, size: float, places: int = 4) -> float | None:
    return None if value is None else round(value * size, places)


def _raw_rows(channel: Channel, begin: float, end: float) -> Iterator[tuple[Any, ...]]:
    of_level = channel.kind not in MEANINGS
    own = 1 / FACTORS.get(channel.unit, 1.0)
    with connection.cursor() as cursor:
        cursor.execute(
            'SELECT at, raw, value, volume, quality, arrived, chain, "table" FROM readings_reading '
            "WHERE channel_id = %s AND at >= %s AND at <= %s ORDER BY at LIMIT %s",
            [channel.pk, int(begin * 1000), int(end * 1000), MOST_ROWS + 1],
        )
        for at, raw, value, volume, quality, arrived, chain, table in cursor.fetchall():
            level = _sized(value, 1000) if of_level else None
            other = None if of_level else _sized(value, own)
            yield (_stamp(at / 1000), channel.name, raw, level, _sized(volume, 1000), other, QUALITIES[quality],
                   _stamp(arrived / 1000), chain, table)  # fmt: skip


def _rolled_rows(channel: Channel, size: int, begin: float, end: float) -> Iterator[tuple[Any, ...]]:
    factor = 1000.0 if channel.kind not in MEANINGS else 1 / FACTORS.get(channel.unit, 1.0)
    with connection.cursor() as cursor:
        cursor.execute(
            'SELECT start, count, "first", "last", least, most, mean, volume_mean, worst FROM readings_rollup '
            "WHERE channel_id = %s AND size = %s AND start >= %s AND start <= %s ORDER BY start LIMIT %s",
            [channel.pk, size, int(begin) // size * size, int(end), MOST_ROWS + 1],
        )
        for start, count, *values, volume, worst in cursor.fetchall():
            sized = [_sized(value, factor) for value in values]
            yield (_stamp(start), channel.name, count, *sized, _sized(volume, 1000), QUALITIES[worst])


def rows_of(tank: Tank, size: str, begin: float, end: float) -> tuple[tuple[str, ...], list[tuple[Any, ...]]]:
    """The readings of a tank within a span [s], raw or rolled up: the names of the columns, and the rows.

    Raises
    ------
    InputError
        If the span has no end after its beginning, or more rows than a file may have.
    """
    if size not in SIZES:
        raise InputError.at("size", f"must be one of {', '.join(SIZES)}")
    if end <= begin:
        raise InputError.at("to", "must be after the beginning")
    rows: list[tuple[Any, ...]] = []
    for channel in Channel.objects.filter(tank=tank).order_by("pk"):
        rows += _raw_rows(channel, begin, end) if size == "raw" else _rolled_rows(channel, SIZES[size], begin, end)
        if len(rows) > MOST_ROWS:
            raise InputError.at("size", f"more than {MOST_ROWS} rows: take a shorter span, or minutes or hours of it")
    return (_RAW if size == "raw" else _ROLLED), rows


def to_csv(columns: tuple[str, ...], rows: list[tuple[Any, ...]]) -> str:
    """Write rows as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    writer.writerows(rows)
    return out.getvalue()


def to_xlsx(columns: tuple[str, ...], rows: list[tuple[Any, ...]], name: str) -> bytes:
    """Write rows as a workbook."""
    out = io.BytesIO()
    book = Workbook(out, {"in_memory": True, "constant_memory": True})
    sheet = book.add_worksheet("Readings")
    sheet.write_row(0, 0, columns, book.add_format({"bold": True}))
    for number, row in enumerate(rows, 1):
        sheet.write_row(number, 0, row)
    book.set_properties({"title": f"Readings of {name}"})
    book.close()
    return out.getvalue()


def to_json(tank: Tank, columns: tuple[str, ...], rows: list[tuple[Any, ...]]) -> bytes:
    """Write rows as JSON: the channels with what they are, and one list a row."""
    channels = [
        {"name": one.name, "kind": one.kind, "label": KINDS[one.kind], "unit": one.unit}
        for one in Channel.objects.filter(tank=tank).order_by("pk")
    ]
    content = {
        "format": "rasante.readings/1",
        "tank": tank.name,
        "channels": channels,
        "columns": columns,
        "rows": rows,
    }
    return orjson.dumps(content)
