"""The process that listens: it asks controllers, hears brokers, writes in batches, and notices what is late.

Every source is a task of its own: one that hangs delays no other. All that is written goes through one thread, in
short transactions, so that the web server never waits for long.
"""

from __future__ import annotations

import asyncio
import contextlib
import itertools
import os
import select
import signal
import sys
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import IO, Any, TypeVar

from django.db import connection, transaction
from django.db.utils import IntegrityError, OperationalError

from ..core.readings.condition import LATE, LOST, late_after, tell
from ..supervise import Busy, hold_lock
from . import events
from .intake import Batch, forget_old, group, take_in, through_of
from .models import Channel, Event, Newest, Source, SourceState
from .mqtt import Broker
from .polling import NoAnswer, client_of, poll
from .services import failed
from .watching import channels_at, expected_of, raw_of, sure_of

T = TypeVar("T")
Heard = tuple[Channel, int, float | None, int]
#: How often the list of sources is looked at, and what is late; how long readings wait to be written together [s].
LOOK_S, CHECK_S, GATHER_S = 2.0, 5.0, 0.2
#: The most that are written in one go, and how many tanks are looked at closely in one round.
_MOST, _CLOSELY = 5000, 40
#: How often something is tried again before it is said; and the longest wait in between [s].
_TRIES, _LONGEST_WAIT_S = 5, 5.0
#: A source that does not answer is left alone for longer and longer, up to this [s].
_LONGEST_REST_S = 60.0


class Listener:
    """Listens until it is told to stop."""

    def __init__(self) -> None:
        self.queue: asyncio.Queue[Heard] = asyncio.Queue(maxsize=200_000)
        self.writer = ThreadPoolExecutor(1, thread_name_prefix="writer")
        self.stopping = asyncio.Event()
        self.tasks: dict[tuple[int, int], asyncio.Task[None]] = {}
        self.turn, self.since = 0, time.time()

    async def write(self, work: Callable[..., T], *arguments: Any) -> T:
        """Do some work with the database, one after the other."""
        return await asyncio.get_running_loop().run_in_executor(self.writer, work, *arguments)

    async def run(self) -> None:
        """Listen until told to stop; what has been heard by then is written.

        Raises
        ------
        Exception
            Whatever one of its parts fell over: without that part it would go on and write nothing.
        """
        loop = asyncio.get_running_loop()
        for one in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(one, self.stopping.set)
        jobs = [asyncio.create_task(job()) for job in (self._look, self._keep, self._check)]
        told = asyncio.create_task(self.stopping.wait())
        await asyncio.wait([told, *jobs], return_when=asyncio.FIRST_COMPLETED)
        self.stopping.set()
        fallen = [job for job in jobs if job.done() and job.exception() is not None]
        for task in self.tasks.values():
            task.cancel()
        await asyncio.gather(*self.tasks.values(), return_exceptions=True)
        for job in jobs:
            job.cancel()
        await asyncio.gather(*jobs, return_exceptions=True)
        while not self.queue.empty():
            await self._write_what_waits()
        self.writer.shutdown()
        for job in fallen:
            job.result()

    def put(self, *heard: Any) -> None:
        """Let what was heard wait to be written. Of a flood that nothing can keep up with, the newest are dropped."""
        with contextlib.suppress(asyncio.QueueFull):
            self.queue.put_nowait(heard)

    async def _rest(self, seconds: float) -> None:
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(self.stopping.wait(), seconds)

    async def _look(self) -> None:
        """Follow the list of sources: begin with new ones, begin anew with changed ones, leave those switched off."""
        while not self.stopping.is_set():
            sources = await self.write(_sources)
            wanted = {(source.pk, source.revision): (source, channels) for source, channels in sources}
            for key in set(self.tasks) - set(wanted):
                self.tasks.pop(key).cancel()
            for key, (source, channels) in wanted.items():
                if key not in self.tasks or self.tasks[key].done():
                    hear = self._ask if source.kind == "modbus" else self._hear
                    self.tasks[key] = asyncio.create_task(hear(source, channels))
            await self._rest(LOOK_S)

    async def _ask(self, source: Source, channels: list[Channel]) -> None:
        """Ask a controller at its period; longer and longer apart while it does not answer."""
        client, failures, said = client_of(source), 0, ""
        try:
            while True:
                began = time.monotonic()
                try:
                    polled = await asyncio.wait_for(poll(source, channels, client), 20 * source.timeout_s)
                    at = int(time.time() * 1000)
                    for one in polled:
                        await self.queue.put((one.channel, at, one.value, one.quality))
                    failures, said = 0, ""
                except (NoAnswer, TimeoutError) as error:
                    client.close()
                    failures += 1
                    words = str(error) or f"it did not answer within {20 * source.timeout_s:g} s"
                    if words != said or failures % 10 == 0:
                        said = words
                        await self.write(failed, source, words)
                rest = source.period_s if not failures else min(source.period_s * 2**failures, _LONGEST_REST_S)
                await asyncio.sleep(max(max(rest, source.period_s) - (time.monotonic() - began), 0.01))
        finally:
            client.close()

    async def _hear(self, source: Source, channels: list[Channel]) -> None:
        """Hear a broker: what it passes on comes by itself."""
        loop = asyncio.get_running_loop()

        def heard(channel: Channel, at: int, value: float | None, quality: int) -> None:
            with contextlib.suppress(RuntimeError):
                loop.call_soon_threadsafe(self.put, channel, at, value, quality)

        def lost(words: str) -> None:
            with contextlib.suppress(RuntimeError):
                loop.call_soon_threadsafe(lambda: asyncio.ensure_future(self.write(failed, source, words)))

        broker = Broker(source, channels, heard, lost)
        broker.start()
        try:
            await asyncio.Event().wait()
        finally:
            await asyncio.to_thread(broker.stop)

    async def _keep(self) -> None:
        """Write what has been heard, a little later and together."""
        while True:
            first = await self.queue.get()
            await asyncio.sleep(GATHER_S)
            await self._write_what_waits(first)

    async def _write_what_waits(self, *first: Heard) -> None:
        waiting = list(first)
        while len(waiting) < _MOST and not self.queue.empty():
            waiting.append(self.queue.get_nowait())
        if waiting:
            await self.write(keep, group(waiting))

    async def _check(self) -> None:
        """Notice what is late, lost, frozen or apart; let go of raw readings that are too old."""
        cleaned = 0.0
        while not self.stopping.is_set():
            self.turn = await self.write(check, self.turn, self.since)
            if time.monotonic() - cleaned > 600:
                cleaned = time.monotonic()
                await self.write(forget_old)
            await self._rest(CHECK_S)


def keep(batches: dict[Channel, Batch]) -> None:
    """Write what was heard, by the channels and tanks as they are now.

    Notes
    -----
    A database that is busy with something long, a backup or a migration, is waited for: nothing is thrown away. What
    was heard of a channel that somebody has taken away meanwhile goes with it.
    """
    numbers = {channel.pk: batch for channel, batch in batches.items()}
    for attempt in itertools.count():
        try:
            there = Channel.objects.select_related("tank__site", "source").in_bulk(numbers)
            take_in({channel: numbers[number] for number, channel in there.items()})
            return
        except (OperationalError, IntegrityError) as error:
            if isinstance(error, IntegrityError) and attempt >= _TRIES:
                raise
            if attempt % _TRIES == _TRIES - 1:
                print(f"readings wait to be kept: {error}", file=sys.stderr, flush=True)
            time.sleep(min(0.5 * 2 ** min(attempt, 8), _LONGEST_WAIT_S))


def _sources() -> list[tuple[Source, list[Channel]]]:
    found = Source.objects.filter(on=True, kind__in=("modbus", "mqtt")).prefetch_related("channels__tank__site")
    return [
        (source, [channel for channel in source.channels.all() if channel.on])
        for source in found
        if any(channel.on for channel in source.channels.all())
    ]


@transaction.atomic
def check(turn: int, since_s: float = 0.0, now_s: float | None = None) -> int:
    """Open and close the events that time alone brings.

    Parameters
    ----------
    turn : int
        Where this round of closer looks begins.
    since_s : float
        Since when somebody listens [s]: what did not arrive before is no fault of a source.
    now_s : float, optional
        What time it is [s].

    Returns
    -------
    int
        Where the next round begins.
    """
    now = time.time() if now_s is None else now_s
    there = list(
        Newest.objects.filter(channel__on=True, channel__source__period_s__gt=0).select_related(
            "channel__source", "channel__tank__site"
        )
    )
    heard: dict[tuple[int | None, int], float] = {}
    sources = {newest.channel.source_id: newest.channel.source for newest in there}
    for newest in there:
        key = (newest.channel.tank_id, newest.channel.source_id)
        heard[key] = max(heard.get(key, since_s), newest.at / 1000)
    known = set(Event.objects.filter(closed_at=None).values_list("kind", "tank_id", "source_id"))
    for (tank, number), last in heard.items():
        source, age = sources[number], now - last
        late = late_after(source.period_s)
        lost = source.on and age > late * LOST / LATE
        for kind, is_so in (("stale", source.on and not lost and age > late), ("lost", lost)):
            if is_so != ((kind, tank, number) in known):
                pressing = kind == "lost"
                events.set_open(kind, is_so, tank=tank, source=number, value=age, limit=late, pressing=pressing)
    levels = [one for one in there if one.channel.tank_id is not None and one.value is not None]
    by_number = {one.channel.tank_id: one.channel.tank for one in levels}
    tanks = sorted(by_number)
    if tanks:
        chosen = [tanks[(turn + i) % len(tanks)] for i in range(min(_CLOSELY, len(tanks)))]
        for tank in chosen:
            _look_closely(by_number[tank], now)
        turn = (turn + len(chosen)) % len(tanks)
    return turn


def _look_closely(tank: Any, now: float) -> None:
    """Tell of one tank what takes a look at its readings: frozen ones, and two gauges apart."""
    through = through_of(tank)
    live: list[tuple[Channel, float, float]] = []
    for channel in channels_at(tank):
        newest = getattr(channel, "newest", None)
        if (
            newest is None
            or channel.source.period_s <= 0
            or newest.value is None
            or channel.kind in ("pump", "fault")
        ):
            continue
        times, values, _, _ = raw_of(channel, 0, 128)
        condition = tell(times, values, now, expected_of(channel, through, values))
        if condition.live:
            events.set_open(
                "frozen", condition.key == "frozen", tank=tank.pk, channel=channel.pk, value=condition.number
            )
        if newest.volume is not None and condition.live:
            live.append((channel, newest.value, sure_of(tank, through, newest.value)[0]))
    apart = [
        (abs(first[1] - other[1]), float((first[2] ** 2 + other[2] ** 2) ** 0.5))
        for other in live[1:]
        for first in live[:1]
    ]
    # A float has no ± of its own here: two per cent of the height is allowed it.
    least = 0.02 * through.table.inside_height
    worst = max(apart, default=(0.0, 0.0), key=lambda one: one[0] - max(one[1], least))
    limit = max(worst[1], least)
    events.set_open("apart", worst[0] > limit, tank=tank.pk, value=worst[0], limit=limit)


def _ends_with_its_parent(listener: Listener) -> None:
    """Stop when whoever started this process is gone: its end of the pipe closes."""
    loop = asyncio.get_running_loop()

    def gone() -> None:
        if not os.read(sys.stdin.fileno(), 1024):
            loop.remove_reader(sys.stdin.fileno())
            listener.stopping.set()

    loop.add_reader(sys.stdin.fileno(), gone)


async def _listen(supervised: bool) -> None:
    listener = Listener()
    if supervised:
        _ends_with_its_parent(listener)
    await listener.run()


def wait_for_lock(data: Path, longest_s: float = 60.0) -> IO[str] | None:
    """Hold the lock as soon as the process before this one lets go of it: a server that was killed leaves one behind.

    Returns
    -------
    IO or None
        None if whoever started this process is gone meanwhile.

    Raises
    ------
    Busy
        If it is still held after so long.
    """
    until = time.monotonic() + longest_s
    while True:
        try:
            return hold_lock(data)
        except Busy:
            if time.monotonic() >= until:
                raise
        readable, _, _ = select.select([sys.stdin], [], [], 0.2)
        if readable and not os.read(sys.stdin.fileno(), 1024):
            return None


def listen(data: Path, supervised: bool = False) -> None:
    """Listen until told to stop.

    Raises
    ------
    Busy
        If another process does.
    """
    held = wait_for_lock(data) if supervised else hold_lock(data)
    if held is None:
        return
    try:
        for source in Source.objects.filter(on=True):
            SourceState.objects.get_or_create(source=source)
        connection.close()
        asyncio.run(_listen(supervised))
    finally:
        held.close()
