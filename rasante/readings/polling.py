"""Controllers asked over Modbus TCP: few requests for many registers, each value by its own type and order."""

from __future__ import annotations

import logging
import math
from dataclasses import dataclass
from typing import Any

from pymodbus.client import AsyncModbusTcpClient
from pymodbus.exceptions import ConnectionException, ModbusException

from ..core.readings.source_form import Address
from ..core.readings.taken import BAD, GOOD
from ..core.scaling.registers import decode
from .models import Channel, Source

# What goes wrong is told in words at the source; the library need not tell it again.
logging.getLogger("pymodbus").setLevel(logging.CRITICAL)

#: Registers that may be asked for in one go, and how many between two may be asked for in vain.
_MOST, _GAP = 120, 8
_READ = {
    "holding": "read_holding_registers",
    "input": "read_input_registers",
    "coil": "read_coils",
    "discrete": "read_discrete_inputs",
}
#: Exception codes of the protocol (Modbus Application Protocol V1.1b3, 7; from memory), in words.
EXCEPTIONS = {
    1: "it does not know this function",
    2: "it has no such register",
    3: "it does not take so many registers at once",
    4: "it failed inside",
    5: "it is at it: ask later",
    6: "it is busy",
    8: "its memory has an error",
    10: "the gateway has no way to it",
    11: "the device behind the gateway does not answer",
}


class NoAnswer(Exception):
    """A source that cannot be reached or does not answer as it should; its text says so in words."""


@dataclass(frozen=True)
class Polled:
    """One value as it was read: the words it lay in, and the number; or what was wrong with it."""

    channel: Channel
    words: tuple[int, ...]
    value: float | None
    problem: str = ""

    @property
    def quality(self) -> int:
        """Whether it is a reading."""
        return GOOD if self.value is not None else BAD


def address_of(channel: Channel) -> Address:
    """Where a channel's value lies."""
    return Address(**channel.address)


def blocks(addresses: list[Address]) -> list[tuple[str, int, int]]:
    """Join addresses to requests: (function, first register, how many)."""
    found: list[list[Any]] = []
    for one in sorted(addresses, key=lambda address: (address.function, address.register)):
        end = one.register + one.words
        last = found[-1] if found else None
        if (
            last is not None
            and last[0] == one.function
            and one.register - (last[1] + last[2]) <= _GAP
            and end - last[1] <= _MOST
        ):
            last[2] = max(last[2], end - last[1])
        else:
            found.append([one.function, one.register, one.words])
    return [(function, first, count) for function, first, count in found]


async def poll(source: Source, channels: list[Channel], client: AsyncModbusTcpClient | None = None) -> list[Polled]:
    """Ask a controller once for all its channels.

    Raises
    ------
    NoAnswer
        If it cannot be reached, or does not answer in time.
    """
    own = client is None
    used = client or client_of(source)
    try:
        if not used.connected and not await used.connect():
            raise NoAnswer(
                f"{source.host}, port {source.port}, cannot be reached: is it on, and is this its address?"
            )
        read: dict[tuple[str, int], int] = {}
        wrong: dict[tuple[str, int], str] = {}
        for function, first, count in blocks([address_of(channel) for channel in channels]):
            await _read_block(used, source, function, first, count, read, wrong)
        return [_value(channel, read, wrong) for channel in channels]
    finally:
        if own:
            used.close()


def client_of(source: Source) -> AsyncModbusTcpClient:
    """A client for a controller; it does not try again by itself, whoever uses it does."""
    return AsyncModbusTcpClient(
        source.host, port=source.port, timeout=source.timeout_s, retries=0, reconnect_delay=0, name=source.name
    )


async def _read_block(
    client: AsyncModbusTcpClient,
    source: Source,
    function: str,
    first: int,
    count: int,
    read: dict[tuple[str, int], int],
    wrong: dict[tuple[str, int], str],
) -> None:
    places = [(function, first + i) for i in range(count)]
    try:
        answer = await getattr(client, _READ[function])(first, count=count, device_id=source.unit)
    except ConnectionException:
        raise NoAnswer("the connection broke off while it was asked") from None
    except ModbusException:
        client.close()
        raise NoAnswer(f"it did not answer within {source.timeout_s:g} s, or not in full") from None
    if answer.isError():
        code = getattr(answer, "exception_code", 0)
        words = EXCEPTIONS.get(code, f"it answered with exception {code}")
        wrong.update(dict.fromkeys(places, f"{words} ({function} {first} to {first + count - 1}, exception {code})"))
        return
    values = answer.bits if function in ("coil", "discrete") else answer.registers
    if len(values) < count:
        raise NoAnswer("it answered with fewer registers than were asked for")
    read.update({place: int(value) for place, value in zip(places, values, strict=False)})


def _value(channel: Channel, read: dict[tuple[str, int], int], wrong: dict[tuple[str, int], str]) -> Polled:
    where = address_of(channel)
    places = [(where.function, where.register + i) for i in range(where.words)]
    if any(place not in read for place in places):
        return Polled(channel, (), None, wrong.get(places[0], "it was not read"))
    words = tuple(read[place] for place in places)
    if where.function in ("coil", "discrete"):
        return Polled(channel, words, float(words[0] != 0))
    if where.bit is not None:
        return Polled(channel, words, float(words[0] >> where.bit & 1))
    value = decode(words, where.type, where.order)
    if not math.isfinite(value):
        return Polled(channel, words, None, "the register holds no number (NaN)")
    return Polled(channel, words, value)
