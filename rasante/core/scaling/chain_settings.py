"""The settings of a scaling chain: which of them follow from the others, what must be so, and how each is written."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import cast

import numpy as np

from ..quantities.errors import InputError
from ..quantities.units import UNITS, System, show_in
from .chain import Chain
from .hop import Setting, Value
from .numbers import DigitalScaling, Link, PanelMeter, Register
from .screen import TAKES
from .sending import raw_ends
from .sensing import CountsSensing, PressureSensing, Sensing
from .steps import step_one


def following(c: Chain) -> list[str]:
    """Return the settings of a chain that follow from the others where nobody typed them, in order."""
    return [path for path, (_, one) in c.known().items() if one.follows]


def settle(c: Chain, keep: frozenset[str] = frozenset()) -> Chain:
    """Make a chain agree with itself: every setting that follows is what the others ask for.

    Parameters
    ----------
    c : Chain
        The chain.
    keep : frozenset of str
        Entries that stay as they are.

    Notes
    -----
    The scaled ends are brought to the places that the scaled number keeps, as a device takes them. What a circuit
    takes away is not made up for: that is put right at the circuit.
    """

    def put(c: Chain, **settings: Value) -> Chain:
        named = {name.replace("__", "."): value for name, value in settings.items()}
        return c.put({path: value for path, value in named.items() if path not in keep})

    sensing, signal = c.sensing, c.signal
    if signal is not None:
        c = put(c, counts__at_low=signal.low, counts__at_high=signal.high)
    if c.card is not None:
        c = put(c, scaled__raw_low=c.card.low, scaled__raw_high=c.card.high)
    elif signal is not None:
        c = put(c, scaled__raw_low=signal.low, scaled__raw_high=signal.high)
    else:
        c = put(c, scaled__raw_low=c.sensor.range_low, scaled__raw_high=c.sensor.range_high)
    zero = 0.0 if sensing.looks_down else sensing.zero_m
    if c.screen.takes == "distance":
        zero = c.screen.reference_m + (sensing.zero_m if sensing.looks_down else 0.0)
    elif c.screen.takes == "percent":
        zero = 0.0
    c = put(c, shown__from=c.scaling.unit, shown__zero=zero, shown__height=c.top_m)
    if isinstance(sensing, PressureSensing):
        c = put(c, shown__density=sensing.density)
    before = c.stations[c.stations.index("number") - 1]
    ends = np.array([c.scaling.raw_low, c.scaling.raw_high])
    numbers = c.screen.number(c.ideal.backward(before, "level", ends))
    low, high = (step_one(float(number), c.scaling.decimals) for number in numbers)
    c = put(c, scaled__low=low, scaled__high=high)
    register = c.find(Register)
    if register is not None:
        c = put(
            c,
            read__type=register.type,
            read__order=register.order,
            read__multiplier=register.multiplier,
            read__offset=register.offset,
        )
    if signal is not None:
        c = put(c, shown__below=signal.fault_low, shown__above=signal.fault_high)
    return c


def check(c: Chain) -> None:
    """Refuse a chain of which a hop has no inverse.

    Raises
    ------
    InputError
        At the entry, with what to do.
    """
    pairs: list[tuple[str, float, float, str]] = [
        (
            "sensor.high",
            c.sensor.range_low,
            c.sensor.range_high,
            "both ends are the same: such a range measures nothing",
        ),
        ("scaled.raw_high", c.scaling.raw_low, c.scaling.raw_high, "both raw values are the same"),
        ("scaled.high", c.scaling.low, c.scaling.high, "both numbers are the same: more places, or another unit"),
    ]
    if isinstance(c.sensing, CountsSensing):
        pairs.append(("sensor.full", c.sensing.empty, c.sensing.full_counts, "empty and full are the same"))
    card, register, link = c.card, c.find(Register), c.find(Link)
    if card is not None:
        pairs += [
            ("counts.at_high", card.at_low, card.at_high, "both signals are the same"),
            ("counts.high", card.low, card.high, "both counts are the same"),
        ]
    if register is not None and link is not None:
        pairs += [
            ("register.multiplier", 0.0, register.multiplier, "nothing is left of a number multiplied by 0"),
            ("read.multiplier", 0.0, link.multiplier, "cannot divide by 0"),
        ]
    for path, first, second, what in pairs:
        if first == second:
            raise InputError.at(path, what)
    screen = c.screen
    wanted = {"pressure": "pressure", "percent": "ratio"}.get(screen.takes, "length")
    if UNITS[screen.from_unit].quantity != wanted:
        raise InputError.at("shown.from", f"{UNITS[screen.from_unit].name} is no unit of {TAKES[screen.takes]}")
    given = UNITS[screen.unit].quantity
    if screen.shows == "volume" and given != "volume":
        raise InputError.at("shown.unit", f"{UNITS[screen.unit].name} is no unit of volume")
    if screen.shows in ("level", "ullage") and given != "length":
        raise InputError.at("shown.unit", f"{UNITS[screen.unit].name} is no unit of level")


def own_raw_ends(c: Chain) -> bool:
    """Whether a card has raw ends of its own: 0 mA for 0 counts is as right for it as 4 mA for 6553."""
    if c.card is None or c.signal is None:
        return False
    return (c.card.low, c.card.high) != raw_ends(c.signal, c.card.bits)


def unlike(first: Value, second: Value) -> bool:
    """Whether two settings differ by more than a millionth."""
    if isinstance(first, str) or isinstance(second, str):
        return first != second
    return abs(first - second) > 1e-6 * max(abs(first), abs(second), 1e-6)


def differing(c: Chain) -> list[str]:
    """Return the settings that are not what the others ask for."""
    kept = frozenset(("counts.at_low", "counts.at_high")) if own_raw_ends(c) else frozenset()
    right, there = settle(c, kept).settings(), c.settings()
    return [path for path in following(c) if unlike(there[path], right[path])]


def plain(value: float) -> str:
    """Write a number with the digits that matter, never by powers where it can be helped."""
    text = f"{value:.7g}"
    return text if "e" not in text else f"{value:.10g}"


def length_text(metres: float, system: System) -> str:
    """Write a length with all the places that matter in the shop."""
    return f"{plain(round(metres * 1000, 2))} mm" if system == "metric" else f"{plain(round(metres / 0.0254, 4))} in"


def sensed_text(sensing: Sensing, value: float, system: System, digits: int = 6) -> str:
    """Write what is sensed; a pressure with so many digits."""
    if sensing.quantity == "pressure":
        unit = UNITS["bar" if system == "metric" else "psi"]
        return f"{plain(float(f'{value / unit.si:.{digits}g}'))} {unit.name}"
    if sensing.quantity == "time":
        return f"{plain(value * 1000)} ms"
    return length_text(value, system) if sensing.quantity == "length" else plain(value)


def signal_text(quantity: str, value: float) -> str:
    """Write a signal of a quantity."""
    if quantity in ("current", "voltage"):
        return show_in(value, UNITS["ma" if quantity == "current" else "v"])
    return f"{plain(value * 1000)} mV/V"


def write_setting(c: Chain, one: Setting, value: Value, system: System) -> str:
    """Write a setting's value as it can be typed."""
    if isinstance(value, str):
        return one.options.get(value, value)
    number = float(value)
    quantity = c.signal.quantity if c.signal is not None else ""
    raw_is_signal = isinstance(c.scaling, PanelMeter)
    write: Mapping[str, Callable[[], str]] = {
        "sensed": lambda: sensed_text(c.sensing, number, system),
        "signal": lambda: signal_text(quantity, number),
        "raw": lambda: signal_text(quantity, number) if raw_is_signal else _raw_text(c, number, system),
        "length": lambda: length_text(number, system),
        "density": lambda: f"{number:.6g} kg/m³",
        "ratio": lambda: f"{plain(number * 100)} %",
        "bridge": lambda: f"{plain(number * 1000)} mV/V",
    }
    return write.get(one.kind, lambda: plain(number))()


def _raw_text(c: Chain, number: float, system: System) -> str:
    return sensed_text(c.sensing, number, system, 7) if isinstance(c.scaling, DigitalScaling) else plain(number)


def text_of(c: Chain, path: str, system: System) -> str:
    """Write one of a chain's settings as it can be typed."""
    return write_setting(c, c.known()[path][1], c.settings()[path], system)


def texts_of(c: Chain, system: System) -> dict[str, str]:
    """Write every setting that means something in a chain, by its entry: what a record keeps."""
    values = c.settings()
    return {path: write_setting(c, one, values[path], system) for path, (_, one) in c.known().items()}


def keys_of(c: Chain, system: System) -> dict[str, str]:
    """As `texts_of`, a choice by its key: what can be typed back."""
    values = c.settings()
    texts = texts_of(c, system)
    return {path: cast(str, values[path]) if isinstance(values[path], str) else text for path, text in texts.items()}
