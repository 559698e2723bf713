"""A controller with analog inputs and scaled registers, and a far-end screen, over Modbus TCP."""

from __future__ import annotations

import asyncio
import math
from typing import Any

import numpy as np
from pymodbus.constants import ExcCodes
from pymodbus.server import ModbusTcpServer
from pymodbus.simulator import DataType, SimData, SimDevice

from ..core.scaling.registers import encode, fits
from .world import World

_REGISTERS, _COILS = 256, 64
#: The block that each function reads.
_BLOCKS = {1: "coil", 2: "discrete", 3: "holding", 4: "input"}


class Controller:
    """One device on the line: its registers are worked out when they are asked for."""

    def __init__(self, world: World, device: dict[str, Any]) -> None:
        self.world, self.device = world, device
        self.held: dict[str, float] = {}

    def value(self, channel: dict[str, Any]) -> float | None:
        """The number of one channel now; None for a fault."""
        world, tank = self.world, channel.get("tank", "")
        kind = channel["kind"]
        if kind == "total":
            litres = world.moved(channel["meter"]) * 1000 / channel.get("factor", 1.0)
            return math.floor(litres * channel["pulses_per_l"])
        if kind in ("flow", "outflow"):
            flow = channel["meter"]
            rate = next(one.rate for one in (*world.plant.flows, *world.plant.pumps) if one.name == flow)
            return rate * 60_000 if world.running(flow) else 0.0
        if kind == "pump":
            return float(world.running(channel["meter"]))
        if kind == "fault":
            arriving = world.read(tank, "arriving")
            return float(not 0.0036 < arriving < 0.021)
        if kind == "temperature":
            return world.temperature()
        if kind in world.instrument(tank).chain.stations:
            return world.read(tank, kind, channel.get("delay_s", 0.0))
        return None

    def words(self, channel: dict[str, Any]) -> tuple[int, ...]:
        """The words in which a channel's number lies."""
        value = self.value(channel)
        kind, order = channel.get("type", "uint16"), channel.get("order", "ABCD")
        if value is None or not np.isfinite(value) or not fits(kind, value):
            # What does not fit stands at the end of the register, as most controllers have it.
            return (0xFFFF,) * (2 if kind.endswith("32") else 1)
        return encode(value, kind, order)

    def place(self, block: str, registers: list[int]) -> None:
        """Write the words of a block."""
        for channel in self.device["channels"]:
            if channel.get("function", "holding") != block:
                continue
            at = channel["register"]
            if block in ("coil", "discrete"):
                word, bit = divmod(at, 16)
                on = bool(self.value(channel))
                registers[word] = registers[word] & ~(1 << bit) | (on << bit)
            elif "bit" in channel:
                on = bool(self.value(channel))
                registers[at] = registers[at] & ~(1 << channel["bit"]) | (on << channel["bit"])
            else:
                for place, word in enumerate(self.words(channel)):
                    registers[at + place] = word

    async def read(
        self, function: int, start: int, address: int, count: int, registers: list[int], values: Any
    ) -> ExcCodes | None:
        """Answer a request; nothing can be written from outside."""
        if values:
            return ExcCodes.ILLEGAL_FUNCTION
        await asyncio.to_thread(self.place, _BLOCKS.get(function, ""), registers)
        return None

    def sim_device(self) -> SimDevice:
        """The device as the server has it."""
        bits = [SimData(0, count=_COILS, values=False, datatype=DataType.BITS)]
        words = [SimData(0, count=_REGISTERS, values=0, datatype=DataType.REGISTERS)]
        return SimDevice(self.device["unit"], (bits, list(bits), words, list(words)), action=self.read)


async def serve_controllers(world: World, host: str, port: int, stop: asyncio.Event) -> None:
    """Serve every controller of the yard, until it is told to stop."""
    devices = [Controller(world, device) for device in world.yard.devices if device["kind"] == "modbus"]
    server = ModbusTcpServer([one.sim_device() for one in devices], address=(host, port))
    await server.serve_forever(background=True)
    await stop.wait()
    await server.shutdown()
