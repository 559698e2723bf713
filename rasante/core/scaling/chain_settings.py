"""The settings of a scaling chain: where each stands, how it is typed, and what makes it agree with the others."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from ..errors import InputError
from ..units import UNITS, System, show_in
from . import registers
from .chain import ERRORS, FAULTS, LOOKS, OVER, QUANTITIES, ROUNDINGS, SHOWS, SIGNALS, TAKEN_FOR_FAULT, TAKES, Chain
from .hops import level_from, looks_down, number_for, stepped, unit_size

_LENGTHS = {key: UNITS[key].name for key in ("mm", "cm", "m", "in", "ft")}
_VOLUMES = {key: UNITS[key].name for key in ("l", "m3", "usgal", "impgal")}
_PRESSURES = {key: UNITS[key].name for key in ("bar", "mbar", "kpa", "psi", "mh2o", "inh2o", "fth2o")}
_PERCENT = {"pct": "%"}


@dataclass(frozen=True)
class Setting:
    """One setting.

    Parameters
    ----------
    name : str
        The chain's field.
    hop : str
        The hop whose device has it, of `HOPS`.
    label : str
        Its words.
    kind : str
        How it is typed: ``choice``, ``number``, ``whole``, ``length``, ``density``, ``ratio``, ``bridge`` (mV/V),
        ``label`` (words), ``sensed`` (by what is sensed) or ``signal`` (by the signal).
    options : mapping of str to str
        Of a choice.
    least, most : float
        Bounds, in SI.
    """

    name: str
    hop: str
    label: str
    kind: str
    options: Mapping[str, str]
    least: float
    most: float


def _setting(
    name: str, hop: str, label: str, kind: str, bounds: tuple[float, float] = (-1e9, 1e9), **more: Any
) -> Setting:
    return Setting(name, hop, label, kind, more.get("options", {}), *bounds)


_TYPES = {key: entry[0] for key, entry in registers.TYPES.items()}
SETTINGS: dict[str, Setting] = {
    setting.name: setting
    for setting in (
        _setting("liquid_density", "sensed", "Density of the liquid", "density", (100, 20000)),
        _setting("liquid_tolerance", "sensed", "Density, ±", "ratio", (0, 0.2)),
        _setting("sensor_quantity", "sensed", "Senses", "choice", options=QUANTITIES),
        _setting("sensor_looks", "sensed", "Looks", "choice", options=LOOKS),
        _setting("sensor_zero", "sensed", "Height of its zero", "length", (-100, 100)),
        _setting("sensor_mounting", "sensed", "That height, ±", "length", (0, 1)),
        _setting("sensor_sound", "sensed", "Speed of its echo, m/s", "number", (50, 3e8)),
        _setting("sensor_medium", "sensed", "That speed, ±", "ratio", (0, 0.2)),
        _setting("sensor_length", "sensed", "Between the wet ends", "length", (0.01, 20)),
        _setting("sensor_empty", "sensed", "Counts, empty", "number", (0, 1e9)),
        _setting("sensor_full", "sensed", "Counts, full", "number", (0, 1e9)),
        _setting("signal_kind", "signal", "Signal", "choice", options={k: v[0] for k, v in SIGNALS.items()}),
        _setting("sensor_low", "signal", "Range, low end", "sensed"),
        _setting("sensor_high", "signal", "Range, high end", "sensed"),
        _setting("signal_ratio", "signal", "mV/V at the high end", "bridge", (1e-4, 1)),
        _setting("sensor_accuracy", "signal", "Accuracy, ± by span", "ratio", (0, 0.5)),
        _setting("sensor_step", "signal", "Least step", "length", (0, 1)),
        _setting("signal_fault", "signal", "On a fault it", "choice", options=FAULTS),
        _setting("counts_at_low", "counts", "Signal, low", "signal"),
        _setting("counts_low", "counts", "Counts, low", "number"),
        _setting("counts_at_high", "counts", "Signal, high", "signal"),
        _setting("counts_high", "counts", "Counts, high", "number"),
        _setting("counts_bits", "counts", "Bits of the card", "whole", (6, 32)),
        _setting("counts_over", "counts", "Beyond them they", "choice", options=OVER),
        _setting("counts_accuracy", "counts", "Accuracy, ± by span", "ratio", (0, 0.5)),
        _setting("scaled_raw_low", "scaled", "Raw, low end", "number"),
        _setting("scaled_low", "scaled", "Low stands for", "number"),
        _setting("scaled_raw_high", "scaled", "Raw, high end", "number"),
        _setting("scaled_high", "scaled", "High stands for", "number"),
        _setting("scaled_unit", "scaled", "In", "choice", options=_LENGTHS | _PRESSURES | _PERCENT),
        _setting("scaled_decimals", "scaled", "Places it keeps", "whole", (-1, 9)),
        _setting("scaled_rounding", "scaled", "Brought to them", "choice", options=ROUNDINGS),
        _setting("scaled_digits", "scaled", "Digits it has at most, 0 any", "whole", (0, 12)),
        _setting("register_type", "register", "Type", "choice", options=_TYPES),
        _setting("register_order", "register", "Order", "choice", options=registers.ORDERS),
        _setting("register_multiplier", "register", "Multiplied by", "number"),
        _setting("register_offset", "register", "Then added", "number"),
        _setting("register_address", "register", "Address, as its device names it", "label"),
        _setting("read_type", "read", "Read as", "choice", options=_TYPES),
        _setting("read_order", "read", "Order", "choice", options=registers.ORDERS),
        _setting("read_multiplier", "read", "Divided by", "number"),
        _setting("read_offset", "read", "After taking off", "number"),
        _setting("shown_takes", "shown", "Takes it for", "choice", options=TAKES),
        _setting("shown_from", "shown", "In", "choice", options=_LENGTHS | _PRESSURES | _PERCENT),
        _setting("shown_zero", "shown", "Height of its zero", "length", (-100, 100)),
        _setting("shown_density", "shown", "Density it works with", "density", (100, 20000)),
        _setting("shown_height", "shown", "Height of its 100 %", "length", (0.01, 100)),
        _setting("shown_as", "shown", "Shows", "choice", options=SHOWS),
        _setting("shown_unit", "shown", "Unit", "choice", options=_LENGTHS | _VOLUMES | _PERCENT),
        _setting("shown_decimals", "shown", "Places", "whole", (0, 9)),
        _setting("shown_error", "shown", "With a failed sensor it", "choice", options=ERRORS),
        _setting("shown_below", "shown", "Failed at and below", "signal"),
        _setting("shown_above", "shown", "Failed at and above", "signal"),
        _setting("filter_time", "shown", "Filter, time constant, s", "number", (0, 3600)),
    )
}
#: Settings that follow from the others, in the order in which they do.
FOLLOWING: tuple[str, ...] = (
    "counts_at_low", "counts_at_high", "scaled_raw_low", "scaled_raw_high", "shown_from", "shown_zero",
    "shown_density", "shown_height", "scaled_low", "scaled_high",
    "read_type", "read_order", "read_multiplier", "read_offset", "shown_below", "shown_above",
)  # fmt: skip


def asked(c: Chain) -> list[str]:
    """Return the settings that mean something in a chain, in order."""
    quantity, out = c.sensor_quantity, set()
    if quantity != "time":
        out |= {"sensor_looks", "sensor_sound", "sensor_medium"}
    if quantity != "counts":
        out |= {"sensor_empty", "sensor_full", "sensor_length"}
    if quantity != "pressure":
        out |= {"liquid_density", "liquid_tolerance"}
    if c.signal_kind != "mv":
        out |= {"signal_ratio"}
    if c.digital:
        out |= {name for name, setting in SETTINGS.items() if setting.hop == "counts"}
        # A digital sensor sends what it senses: no ends of a signal.
        out |= {"signal_fault", "shown_error"}
    if c.digital or c.shown_error == "none":
        out |= {"shown_below", "shown_above"}
    if c.shown_takes != "pressure":
        out |= {"shown_density"}
    if c.shown_takes != "percent":
        out |= {"shown_height"}
    if c.shown_as in ("volume_pct", "linear_pct"):
        out |= {"shown_unit"}
    return [name for name in SETTINGS if name not in out]


def raw_ends(signal_kind: str, bits: int) -> tuple[float, float]:
    """Counts of a card that takes the signal from nothing up: 15 bits give 6553 and 32767 for 4–20 mA."""
    most = 2.0**bits - 1
    low, high = SIGNALS[signal_kind][2]
    # A fifth of 4095 is 819, whatever a floating point makes of it.
    return float(math.floor(round(most * low / high, 6))), most


def settle(c: Chain, keep: frozenset[str] = frozenset()) -> Chain:
    """Make a chain agree with itself: every setting that follows is what the others ask for.

    Parameters
    ----------
    c : Chain
        The chain.
    keep : frozenset of str
        Settings that stay as they are.

    Notes
    -----
    The scaled ends are brought to the places that the scaled number keeps, as a device takes them.
    """

    def put(c: Chain, **settings: Any) -> Chain:
        return replace(c, **{name: value for name, value in settings.items() if name not in keep})

    low, high = c.signal_ends
    c = put(c, counts_at_low=low, counts_at_high=high)
    if c.digital:
        c = put(c, scaled_raw_low=c.sensor_low, scaled_raw_high=c.sensor_high)
    else:
        c = put(c, scaled_raw_low=c.counts_low, scaled_raw_high=c.counts_high)
    zero = 0.0 if looks_down(c) else c.sensor_zero
    if c.shown_takes == "distance":
        zero = c.tank.reference_height_m + (c.sensor_zero if looks_down(c) else 0.0)
    elif c.shown_takes == "percent":
        zero = 0.0
    c = put(c, shown_from=c.scaled_unit, shown_zero=zero, shown_density=c.liquid_density)
    c = put(c, shown_height=c.tank.inside_height)
    before = c.stations[c.stations.index("scaled") - 1]
    for end in ("low", "high"):
        number = number_for(c, level_from(c, before, getattr(c, f"scaled_raw_{end}")))
        c = put(c, **{f"scaled_{end}": stepped(number, c.scaled_decimals)})
    return put(
        c,
        read_type=c.register_type,
        read_order=c.register_order,
        read_multiplier=c.register_multiplier,
        read_offset=c.register_offset,
        shown_below=TAKEN_FOR_FAULT[c.signal_kind][0] * (c.signal_ratio if c.signal_kind == "mv" else 1.0),
        shown_above=TAKEN_FOR_FAULT[c.signal_kind][1] * (c.signal_ratio if c.signal_kind == "mv" else 1.0),
    )


def check(c: Chain) -> None:
    """Refuse a chain of which a hop has no inverse.

    Raises
    ------
    InputError
        At the entry, with what to do.
    """
    pairs = (
        ("sensor.high", c.sensor_low, c.sensor_high, "the range has no span"),
        ("sensor.full", c.sensor_empty, c.sensor_full, "empty and full are the same"),
        ("counts.at_high", c.counts_at_low, c.counts_at_high, "both signals are the same"),
        ("counts.high", c.counts_low, c.counts_high, "both counts are the same"),
        ("scaled.raw_high", c.scaled_raw_low, c.scaled_raw_high, "both raw values are the same"),
        ("scaled.high", c.scaled_low, c.scaled_high, "both numbers are the same: more places, or another unit"),
        ("register.multiplier", 0.0, c.register_multiplier, "nothing is left of a number multiplied by 0"),
        ("read.multiplier", 0.0, c.read_multiplier, "cannot divide by 0"),
    )
    for path, first, second, what in pairs:
        skipped = (path == "sensor.full" and c.sensor_quantity != "counts") or (c.digital and path[:6] == "counts")
        if first == second and not skipped:
            raise InputError.at(path, what)
    quantity = UNITS[c.shown_from].quantity
    wanted = {"pressure": "pressure", "percent": "ratio"}.get(c.shown_takes, "length")
    if quantity != wanted:
        raise InputError.at("shown.from", f"{UNITS[c.shown_from].name} is no unit of {TAKES[c.shown_takes]}")
    given = UNITS[c.shown_unit].quantity
    if c.shown_as == "volume" and given != "volume":
        raise InputError.at("shown.unit", f"{UNITS[c.shown_unit].name} is no unit of volume")
    if c.shown_as in ("level", "ullage") and given != "length":
        raise InputError.at("shown.unit", f"{UNITS[c.shown_unit].name} is no unit of level")


def _plain(value: float) -> str:
    text = f"{value:.7g}"
    return text if "e" not in text else f"{value:.10g}"


def text_of(c: Chain, name: str, system: System) -> str:
    """Write a setting as it can be typed."""
    setting, value = SETTINGS[name], getattr(c, name)
    if setting.kind == "choice":
        return setting.options.get(str(value), str(value))
    write: dict[str, Callable[[], str]] = {
        "sensed": lambda: sensed_text(c, value, system),
        "signal": lambda: signal_text(c, value),
        "length": lambda: length_text(value, system),
        "density": lambda: f"{value:.6g} kg/m³",
        "ratio": lambda: f"{_plain(value * 100)} %",
        "bridge": lambda: _plain(value * 1000),
        "label": lambda: str(value),
    }
    return write.get(setting.kind, lambda: _plain(float(value)))()


def length_text(metres: float, system: System) -> str:
    """Write a length with all the places that matter in the shop."""
    return (
        f"{_plain(round(metres * 1000, 2))} mm" if system == "metric" else f"{_plain(round(metres / 0.0254, 4))} in"
    )


def sensed_text(c: Chain, value: float, system: System, digits: int = 6) -> str:
    """Write what is sensed; a pressure with so many digits."""
    if c.sensor_quantity == "pressure":
        key = "bar" if system == "metric" else "psi"
        return f"{_plain(float(f'{value / unit_size(key):.{digits}g}'))} {UNITS[key].name}"
    if c.sensor_quantity == "time":
        return f"{_plain(value * 1000)} ms"
    if c.sensor_quantity == "counts":
        return _plain(value)
    return length_text(value, system)


def signal_text(c: Chain, value: float) -> str:
    """Write a signal."""
    quantity = SIGNALS[c.signal_kind][1]
    if quantity == "current":
        return show_in(value, UNITS["ma"])
    if quantity == "voltage":
        return show_in(value, UNITS["v"])
    return f"{_plain(value * 1000)} mV/V"
