"""The part of ``make bench`` that is of readings: taken in, drawn, and of many tanks each minute."""

from __future__ import annotations

import os
import sqlite3
import statistics
import time
from pathlib import Path

import orjson

_ROWS = 10_000


def push_against_executemany(folder: Path) -> float:
    """A body of 10,000 readings pushed and acknowledged, by bare `executemany` of the same rows into such a table."""
    from django.contrib.auth.models import User
    from django.test import Client

    from rasante.readings.models import Reading
    from rasante.readings.services import keep_source, renew_token
    from rasante.scaling.chains import keep_chain
    from rasante.tanks.models import Tank

    person, tank = User.objects.get(username="bench"), Tank.objects.first()
    assert tank is not None
    keep_chain(tank, {"sensor.low": "0 mm", "sensor.high": "2400 mm"}, "metric", person, 0)
    entries = {"kind": "push", "name": "bench", "channels[0].name": "counts", "channels[0].kind": "counts"}
    source = keep_source(None, {**entries, "channels[0].tank": str(tank.pk)}, "metric", person, 0)
    _, token = renew_token(source, person)
    client = Client(SERVER_NAME="localhost")
    bare = sqlite3.connect(folder / "bare.sqlite3")
    bare.execute("PRAGMA journal_mode=WAL")
    bare.execute("PRAGMA synchronous=FULL")
    bare.execute(
        "CREATE TABLE reading (id INTEGER PRIMARY KEY AUTOINCREMENT, channel INTEGER, at INTEGER, arrived INTEGER, "
        "raw REAL, value REAL, volume REAL, quality INTEGER, chain INTEGER, tab INTEGER, UNIQUE (channel, at))"
    )
    ours, theirs = [], []
    begin = time.time() - 30 * 86400
    for turn in range(7):
        rows = [
            {"channel": "counts", "at": begin + (turn * _ROWS + i), "value": 12_000.0 + i % 50} for i in range(_ROWS)
        ]
        body = orjson.dumps({"readings": rows})
        start = time.perf_counter()
        answer = client.post(
            "/api/push/", body, content_type="application/json", HTTP_AUTHORIZATION=f"Bearer {token}"
        )
        ours.append(time.perf_counter() - start)
        assert answer.json()["new"] == _ROWS, answer.content
        columns = ("channel_id", "at", "arrived", "raw", "value", "volume", "quality", "chain", "table")
        same = list(Reading.objects.order_by("-at").values_list(*columns)[:_ROWS])[::-1]
        start = time.perf_counter()
        with bare:
            bare.executemany(
                "INSERT INTO reading (channel, at, arrived, raw, value, volume, quality, chain, tab) "
                "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
                same,
            )
        theirs.append(time.perf_counter() - start)
    bare.close()
    # The first of each is not counted.
    return statistics.median(ours[1:]) / statistics.median(theirs[1:])


def year_against_scan() -> float:
    """A year of minutes drawn for Watch, by a scan of the roll-up that it is drawn from."""
    from django.db import connection, transaction

    from rasante.readings import present, rollups, watching
    from rasante.readings.models import Channel

    channel = Channel.objects.select_related("source", "tank").get(name="counts")
    end = int(time.time()) // 86400 * 86400
    begin = end - 365 * 86400
    with transaction.atomic(), connection.cursor() as cursor:
        for size in rollups.SIZES:
            cursor.executemany(
                "INSERT OR REPLACE INTO readings_rollup (channel_id, size, start, count, worst, first, last, least, "
                "most, mean, volume_first, volume_last, volume_least, volume_most, volume_mean) "
                "VALUES (%s, %s, %s, %s, 0, 1, 1, 0.9, 1.1, 1, 5, 5, 4.9, 5.1, 5)",
                [(channel.pk, size, start, size // 60) for start in range(begin, end, size)],
            )

    def drawn() -> None:
        found = present.series(watching.series(channel, begin, end))
        assert len(orjson.dumps(found)) > 10_000

    def scan() -> None:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT start, count, worst, first, last, least, most, mean, volume_first, volume_last, "
                "volume_least, volume_most, volume_mean FROM readings_rollup "
                "WHERE channel_id = %s AND size = %s ORDER BY start",
                [channel.pk, 3600],
            )
            assert len(cursor.fetchall()) >= 8760

    from tests.bench import median

    return median(drawn, 9) / median(scan, 9)


def each_minute(count: int, minutes: int) -> tuple[float, float]:
    """A reading a minute of `count` tanks: the share of one core that it takes [%], and bytes a reading on disk."""
    from django.conf import settings
    from django.db import connection

    from rasante.readings.intake import Batch, take_in
    from rasante.readings.models import Channel, Reading, Source
    from rasante.tanks.models import Tank

    source, _ = Source.objects.get_or_create(name="fleet", defaults={"kind": "push", "period_s": 60})
    tanks = list(Tank.objects.select_related("site").order_by("pk")[:count])
    assert len(tanks) == count
    there = set(Channel.objects.filter(source=source).values_list("tank_id", flat=True))
    Channel.objects.bulk_create(
        Channel(source=source, name=f"level {tank.pk}", tank=tank, kind="level", unit="mm")
        for tank in tanks
        if tank.pk not in there
    )
    channels = list(
        Channel.objects.filter(source=source, tank__in=[tank.pk for tank in tanks]).select_related(
            "source", "tank__site"
        )
    )
    path = Path(settings.DATABASES["default"]["NAME"])
    begin = int(time.time() * 1000) - 3_600_000 - count

    def size() -> int:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        return path.stat().st_size

    take_in({channel: Batch([begin - 60_000], [1000.0], [0]) for channel in channels})
    before, kept, used = size(), Reading.objects.count(), time.process_time()
    for minute in range(minutes):
        at = begin + minute * 60_000
        take_in({channel: Batch([at], [1000.0 + minute], [0]) for channel in channels})
    used = time.process_time() - used
    new = Reading.objects.count() - kept
    assert new == count * minutes, new
    return used / (minutes * 60) * 100, (size() - before) / new


def folder() -> Path:
    """Where the benchmark's data lies."""
    return Path(os.environ["RASANTE_DATA"])
