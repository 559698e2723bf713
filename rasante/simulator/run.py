"""The process that runs a yard: its controllers, its units and its page, until whoever started it is gone."""

from __future__ import annotations

import asyncio
import os
import signal
import sys
import threading
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from .controller import serve_controllers
from .page import make_server
from .unit import Unit
from .world import World, read_state
from .yard_file import TrueTank, make_yard


def run(
    spec: Mapping[str, Any],
    tanks: Mapping[str, TrueTank],
    kept: Path,
    begin_s: float,
    end_s: float,
    place: Mapping[str, Any],
) -> None:
    """Run a yard.

    Parameters
    ----------
    spec, tanks
        As `make_yard`.
    kept : Path
        Where it keeps how it stands.
    begin_s, end_s : float
        From when to when its calendars reach [s].
    place : mapping
        ``host``, ``modbus`` and ``page`` (ports), ``push`` (the address that units send to), ``tokens`` by unit.
    """
    world = World(make_yard(spec, tanks, begin_s, end_s), read_state(kept), kept)
    units = {
        device["name"]: Unit(world, device, place["push"], place["tokens"].get(device["name"], ""))
        for device in world.yard.devices
        if device["kind"] == "push"
    }
    threads = [threading.Thread(target=unit.run, name=name, daemon=True) for name, unit in units.items()]
    page = make_server(world, units, place["host"], place["page"])
    threads.append(threading.Thread(target=page.serve_forever, name="page", daemon=True))
    for thread in threads:
        thread.start()
    try:
        asyncio.run(_until_told(world, place))
    finally:
        for unit in units.values():
            unit.stop()
        page.shutdown()
        world.save()


async def _until_told(world: World, place: Mapping[str, Any]) -> None:
    stop, loop = asyncio.Event(), asyncio.get_running_loop()
    for one in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(one, stop.set)

    def gone() -> None:
        if not os.read(sys.stdin.fileno(), 1024):
            loop.remove_reader(sys.stdin.fileno())
            stop.set()

    loop.add_reader(sys.stdin.fileno(), gone)
    print("the yard is open", flush=True)
    await serve_controllers(world, place["host"], place["modbus"], stop)
