"""A source of readings as it is typed: how it is reached, and what each of its channels is."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..quantities.form import Form
from ..quantities.units import System
from ..scaling.chain import Chain
from ..scaling.registers import ORDERS, TYPES
from .channels import KINDS, MEANINGS, UNIT_NAMES, units_of

SOURCES: dict[str, str] = {
    "modbus": "Modbus TCP: a controller that is asked",
    "push": "HTTP: a unit that sends by itself",
    "mqtt": "MQTT: a broker that passes on",
    "csv": "CSV: a file taken in",
    "hand": "By hand: dips and readings typed",
}
FUNCTIONS: dict[str, str] = {
    "holding": "holding registers (3)",
    "input": "input registers (4)",
    "coil": "coils (1)",
    "discrete": "discrete inputs (2)",
}
_BITS = ("coil", "discrete")
#: How often a source reports where nobody says, and by what it is late: a controller is asked every ten seconds, a
#: unit that sends by itself may take its time [s]. And within what a local network answers [s].
PERIODS_S, TIMEOUT_S = {"modbus": 10.0, "push": 600.0, "mqtt": 600.0}, 3.0
#: The source under which all that is typed by hand stands: it is there by itself, and nobody makes it.
BY_HAND = "By hand"
MOST_CHANNELS = 64
_HOST = re.compile(r"[A-Za-z0-9]([A-Za-z0-9.:\-]{0,251}[A-Za-z0-9])?")


@dataclass(frozen=True)
class Address:
    """Where a channel's value lies in its source.

    Parameters
    ----------
    function : str
        Of `FUNCTIONS`; empty where it is no Modbus.
    register : int
        From 0, as it goes over the wire.
    type, order : str
        Of `registers.TYPES` and `ORDERS`.
    bit : int or None
        Which bit of a word, from 0; None for the number.
    path : str
        Place in an MQTT payload of JSON (``tank.level``); empty where the payload is the number.
    topic : str
        Of MQTT.
    """

    function: str = ""
    register: int = 0
    type: str = "uint16"
    order: str = "ABCD"
    bit: int | None = None
    path: str = ""
    topic: str = ""

    @property
    def words(self) -> int:
        """How many words, or bits, it takes."""
        return 1 if self.function in _BITS else TYPES[self.type].words


@dataclass(frozen=True)
class ChannelEntry:
    """One channel.

    Parameters
    ----------
    name : str
        What it is called; what a unit that sends by itself calls it.
    tank : str
        Which tank it is of, by its number; empty for none.
    kind, unit : str
        Of `channels.KINDS`, and a unit of that kind.
    address : Address
        Where its value lies.
    """

    name: str
    tank: str
    kind: str
    unit: str
    address: Address


@dataclass(frozen=True)
class SourceForm:
    """A source as far as it has been typed.

    Parameters
    ----------
    form : Form
        Its fields.
    kind, name, host : str
        Of `SOURCES`; what it is called; where it is.
    port, unit : int
        Of its address, and the number of the device behind it.
    period_s, timeout_s : float
        How often it is asked, or sends [s]; how long it may take to answer [s].
    channels : tuple of ChannelEntry
        Those that have a name.
    units : mapping of str to tuple of str
        What each channel's value may come in, by the path of its unit.
    """

    form: Form
    kind: str
    name: str
    host: str
    port: int
    unit: int
    period_s: float
    timeout_s: float
    channels: tuple[ChannelEntry, ...]
    units: Mapping[str, tuple[str, ...]]


def _whole(form: Form, path: str, least: int, most: int, usual: int) -> int:
    value = form.number(path, least, most)
    form.stand_in(path, str(usual))
    if value is not None and value != int(value):
        form.blame(path, "must be a whole number")
        return usual
    return usual if value is None else int(value)


def read_source(
    entries: Mapping[str, str], chain_of: Callable[[str], Chain | None], tanks: Mapping[str, str], system: System
) -> SourceForm:
    """Read a source as it is typed.

    Parameters
    ----------
    entries : mapping of str to str
        ``kind``, ``name``, ``host``, ``port``, ``unit``, ``period`` [s], ``timeout`` [s]; and for each channel
        ``channels[i].`` with ``name``, ``tank``, ``kind``, ``unit``, and its address.
    chain_of : callable
        Gives the chain of a tank by its number, or None.
    tanks : mapping of str to str
        The tanks there are, by their numbers.
    system : {"metric", "us"}
        What a bare number means.
    """
    form = Form(entries, system)
    kind = form.choice("kind", SOURCES, "modbus")
    name = form.text("name", 80)
    if not name:
        form.blame("name", "name the source: what would you call it on the telephone?")
    host, port, unit, timeout = "", 0, 0, TIMEOUT_S
    if kind in ("modbus", "mqtt"):
        host = form.text("host", 255)
        if not _HOST.fullmatch(host):
            form.blame("host", "type the address of the controller or the broker: 192.168.1.20, or its name")
        port = _whole(form, "port", 1, 65535, 502 if kind == "modbus" else 1883)
    if kind == "modbus":
        unit = _whole(form, "unit", 0, 255, 1)
        timeout = _seconds(form, "timeout", 0.05, 60.0, TIMEOUT_S)
    if kind == "hand" or name.casefold() == BY_HAND.casefold():
        form.blame("name", f"“{BY_HAND}” is the source of all that is typed, and is there already: name another")
    period = _seconds(form, "period", 0.2, 7 * 86400.0, PERIODS_S[kind]) if kind in PERIODS_S else 0.0
    count = form.count("channels", "name", MOST_CHANNELS)
    allowed: dict[str, tuple[str, ...]] = {}
    read = [_read_channel(form, f"channels[{i}]", kind, chain_of, tanks, allowed) for i in range(count)]
    channels = [one for one in read if one is not None]
    _refuse_twins(form, channels, count)
    return SourceForm(form, kind, name, host, port, unit, period, timeout, tuple(channels), allowed)


def _seconds(form: Form, path: str, least: float, most: float, usual: float) -> float:
    value = form.number(path, least, most, "s")
    form.stand_in(path, f"{usual:g} s")
    return usual if value is None else value


def _refuse_twins(form: Form, channels: list[ChannelEntry], count: int) -> None:
    names = [form.fields[f"channels[{i}].name"].kept for i in range(count)]
    for i, one in enumerate(names):
        if one and one in names[:i]:
            form.blame(f"channels[{i}].name", f"{one} is there already: each channel has a name of its own")


def _read_channel(
    form: Form,
    path: str,
    source: str,
    chain_of: Callable[[str], Chain | None],
    tanks: Mapping[str, str],
    allowed: dict[str, tuple[str, ...]],
) -> ChannelEntry | None:
    name = form.text(f"{path}.name", 60)
    if not name:
        return None
    tank = form.choice(f"{path}.tank", tanks)
    chain = chain_of(tank) if tank else None
    kind = form.choice(f"{path}.kind", KINDS)
    if not kind:
        form.blame(f"{path}.kind", "say what it is: a station of a tank's chain, or something beside it")
        return None
    if kind not in MEANINGS:
        if not tank:
            form.blame(f"{path}.tank", "say of which tank: the value is taken through its chain")
        elif kind != "level" and chain is None:
            form.blame(f"{path}.kind", "this tank has no chain yet: keep one at Scale, or send the level itself")
        elif chain is not None and kind not in chain.stations:
            there = ", ".join(KINDS[station].lower() for station in chain.stations)
            form.blame(f"{path}.kind", f"this tank's chain has no such station: it has {there}")
    units = units_of(kind, chain)
    allowed[f"{path}.unit"] = units
    unit = form.choice(f"{path}.unit", {key: UNIT_NAMES[key] for key in units}, units[0])
    return ChannelEntry(name, tank, kind, unit, _read_address(form, path, source))


def _read_address(form: Form, path: str, source: str) -> Address:
    if source == "mqtt":
        topic = form.text(f"{path}.topic", 200)
        if not topic or "#" in topic or "+" in topic:
            form.blame(f"{path}.topic", "type the topic in full, without # or +: quay/north/level")
        return Address(topic=topic, path=form.text(f"{path}.path", 120))
    if source != "modbus":
        return Address()
    function = form.choice(f"{path}.function", FUNCTIONS, "holding")
    register = _whole(form, f"{path}.register", 0, 65535, 0)
    if function in _BITS:
        return Address(function, register)
    kind = form.choice(f"{path}.type", {key: one.name for key, one in TYPES.items()}, "uint16")
    order = form.choice(f"{path}.order", ORDERS, "ABCD")
    bit = form.number(f"{path}.bit", 0, 15)
    if bit is not None and bit != int(bit):
        form.blame(f"{path}.bit", "must be a whole number from 0 to 15")
        bit = None
    if bit is not None and TYPES[kind].words > 1:
        form.blame(f"{path}.bit", "a single bit is read from a register of 16 bits")
    if register + TYPES[kind].words > 65536:
        form.blame(f"{path}.register", "there is no register behind 65535")
    return Address(function, register, kind, order, None if bit is None else int(bit))
