"""What may be set wrong at a hop: edits of a chain's settings, those with a name and those whose value is sought."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from ..units import UNITS
from . import registers
from .chain import SIGNALS, Chain
from .chain_settings import SETTINGS

#: Densities of what is common in tanks [kg/m³]: petrol, kerosene, diesel, propane, butane, water, sea water, brine;
#: common practice, no published source.
DENSITIES = (745.0, 800.0, 840.0, 508.0, 585.0, 1000.0, 1025.0, 1200.0)
_SOUNDS = (331.3, 343.2, 1350.0, 1482.0, 2.998e8)
#: Raw ends that input cards are often set to: common practice, no published source.
_RAW = ((0, 27648), (5530, 27648), (0, 4095), (819, 4095), (6240, 31200), (0, 10000), (4000, 20000), (0, 1000))
#: Full scales that sensors are sold with: psi, bar and metres of water; metres. Common practice, no published source.
_FULL_PRESSURES = (
    *((n, "psi") for n in (1, 2.5, 3, 5, 7.5, 10, 15, 20, 30, 50, 100)),
    *((n, "bar") for n in (0.1, 0.16, 0.2, 0.25, 0.4, 0.5, 0.6, 1, 1.6, 2, 2.5, 4)),
    *((n, "mh2o") for n in (1, 2, 2.5, 3, 4, 5, 6, 10, 20)),
)
_FULL_LENGTHS = (
    *((n, "m") for n in (0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 15)),
    *((n, "ft") for n in (3, 5, 10, 15, 20, 30)),
)


#: Settings that move no reading: how sure it is, how slow, where it stands, and what a fault does.
_MOVES_NOTHING = (
    "liquid_tolerance", "sensor_mounting", "sensor_medium", "sensor_accuracy", "sensor_step", "counts_accuracy",
    "signal_fault", "register_address", "shown_error", "shown_below", "shown_above", "filter_time",
)  # fmt: skip


@dataclass(frozen=True)
class Suspect:
    """One setting that may be wrong.

    Parameters
    ----------
    hop : str
        The hop that it belongs to.
    settings : mapping of str to value
        What it is set to instead; the value of a sought one is where the search begins.
    why : str
        What kind of mistake it is, in a few words.
    sought : bool
        Whether its value is to be found from the readings.
    """

    hop: str
    settings: dict[str, Any]
    why: str
    sought: bool = False

    def on(self, c: Chain, value: float | None = None) -> Chain:
        """The chain with this mistake in it; of a sought one, at a value."""
        settings = self.settings if value is None else dict.fromkeys(self.settings, value)
        return replace(c, **settings)


def _sought(hop: str, why: str, *names: str) -> Callable[[Chain], Iterable[Suspect]]:
    return lambda c: (Suspect(hop, {name: getattr(c, name)}, why, True) for name in names)


def _sensing(c: Chain) -> Iterable[Suspect]:
    if c.sensor_quantity == "pressure":
        for density in DENSITIES:
            yield Suspect("sensed", {"liquid_density": density}, "another liquid in the tank")
        yield from _sought("sensed", "another density", "liquid_density")(c)
    if c.sensor_quantity == "time":
        for speed in _SOUNDS:
            yield Suspect("sensed", {"sensor_sound": speed}, "another medium for the echo")
        yield from _sought("sensed", "another speed of the echo", "sensor_sound")(c)
    if c.sensor_quantity == "counts":
        yield from _sought("sensed", "its wet end moved", "sensor_empty", "sensor_full")(c)
        yield Suspect("sensed", {"sensor_empty": c.sensor_full, "sensor_full": c.sensor_empty}, "inverted")
    yield from _sought("sensed", "hung or mounted at another height", "sensor_zero")(c)


def _transmitter(c: Chain) -> Iterable[Suspect]:
    fulls = {"pressure": _FULL_PRESSURES, "level": _FULL_LENGTHS, "distance": _FULL_LENGTHS}
    for number, unit in fulls.get(c.sensor_quantity, ()):
        yield Suspect("signal", {"sensor_high": number * UNITS[unit].si}, "another range")
        if c.sensor_low > c.sensor_high:
            yield Suspect("signal", {"sensor_low": number * UNITS[unit].si}, "another range")
    yield Suspect("signal", {"sensor_low": c.sensor_high, "sensor_high": c.sensor_low}, "inverted")
    for factor in _factors("pressure" if c.sensor_quantity == "pressure" else "length"):
        settings = {"sensor_low": c.sensor_low * factor, "sensor_high": c.sensor_high * factor}
        yield Suspect("signal", settings, "its range in other units")
    for kind in _other_kinds(c):
        yield Suspect("signal", {"signal_kind": kind}, f"sends {SIGNALS[kind][0]}")
    yield from _sought("signal", "wrong span", "sensor_high")(c)
    yield from _sought("signal", "wrong zero", "sensor_low")(c)


def _factors(quantity: str) -> list[float]:
    """Ratios of two units of a quantity, both ways."""
    sizes = [unit.si for unit in UNITS.values() if unit.quantity == quantity]
    return sorted({round(a / b, 12) for a in sizes for b in sizes if a != b})


def _other_kinds(c: Chain) -> list[str]:
    quantity = SIGNALS[c.signal_kind][1]
    return [key for key, entry in SIGNALS.items() if entry[1] == quantity and quantity and key != c.signal_kind]


def _card(c: Chain) -> Iterable[Suspect]:
    for kind in _other_kinds(c):
        low, high = SIGNALS[kind][2]
        yield Suspect("counts", {"counts_at_low": low, "counts_at_high": high}, f"set for {SIGNALS[kind][0]}")
    yield Suspect("counts", {"counts_low": c.counts_high, "counts_high": c.counts_low}, "inverted")
    share = c.counts_at_low / c.counts_at_high if c.counts_at_high else 0.0
    for bits in range(8, 17):
        most = 2.0**bits - 1
        for low in {0.0, float(int(most * share))}:
            settings = {"counts_low": low, "counts_high": most, "counts_bits": max(bits, c.counts_bits)}
            yield Suspect("counts", settings, f"a card of {bits} bits")
    for low, high in _RAW:
        yield Suspect("counts", {"counts_low": float(low), "counts_high": float(high)}, "other raw ends")
    yield from _sought("counts", "wrong span", "counts_high", "counts_at_high")(c)
    yield from _sought("counts", "wrong zero", "counts_low", "counts_at_low")(c)


def _scaling(c: Chain) -> Iterable[Suspect]:
    if not c.digital:
        most = 2.0**c.counts_bits - 1
        for low, high in ((0.0, most), (float(int(most / 5)), most), *_RAW):
            settings = {"scaled_raw_low": float(low), "scaled_raw_high": float(high)}
            yield Suspect("scaled", settings, "scaled from other raw ends")
    yield Suspect("scaled", {"scaled_low": c.scaled_high, "scaled_high": c.scaled_low}, "inverted")
    for factor in _factors(UNITS[c.scaled_unit].quantity):
        yield Suspect("scaled", _times(c, factor), "scaled in other units")
    for power in (-3, -2, -1, 1, 2, 3):
        yield Suspect("scaled", _times(c, 10.0**power), "the decimal point is elsewhere")
    if c.sensor_quantity == "pressure" and c.shown_takes == "level":
        for density in DENSITIES:
            yield Suspect("scaled", _times(c, c.liquid_density / density), "scaled for another liquid")
        for number, unit in _FULL_PRESSURES:
            value = number * UNITS[unit].si
            settings = {"scaled_high": c.scaled_low + (c.scaled_high - c.scaled_low) * value / c.sensor_high}
            if c.sensor_low == 0:
                yield Suspect("scaled", settings, "scaled for another range")
    yield from _sought("scaled", "wrong span", "scaled_high", "scaled_raw_high")(c)
    yield from _sought("scaled", "wrong zero", "scaled_low", "scaled_raw_low")(c)


def _times(c: Chain, factor: float) -> dict[str, float]:
    return {"scaled_low": c.scaled_low * factor, "scaled_high": c.scaled_high * factor}


def _words(c: Chain, hop: str) -> Iterable[Suspect]:
    """Mistakes with registers, at the end that writes or the one that reads."""
    kind, count = getattr(c, f"{hop}_type"), registers.TYPES[getattr(c, f"{hop}_type")][1]
    for order in registers.ORDERS:
        # One word alone knows only whether its bytes are swapped.
        if order != getattr(c, f"{hop}_order") and (count > 1 or order in ("ABCD", "BADC")):
            yield Suspect(hop, {f"{hop}_order": order}, "words or bytes swapped")
    for other, (_, words, _) in registers.TYPES.items():
        if other != kind and words == count:
            yield Suspect(hop, {f"{hop}_type": other}, "another type")
    for power in (-3, -2, -1, 1, 2, 3):
        settings = {f"{hop}_multiplier": getattr(c, f"{hop}_multiplier") * 10.0**power}
        yield Suspect(hop, settings, "the decimal point is elsewhere")
    yield Suspect(hop, {f"{hop}_multiplier": -getattr(c, f"{hop}_multiplier")}, "inverted")
    yield from _sought(hop, "another multiplier", f"{hop}_multiplier")(c)
    yield from _sought(hop, "another offset", f"{hop}_offset")(c)


def _taken(c: Chain) -> Iterable[Suspect]:
    """What the far end may take its number for."""
    quantity = UNITS[c.shown_from].quantity
    for unit in SETTINGS["shown_from"].options:
        if unit != c.shown_from and UNITS[unit].quantity == quantity:
            yield Suspect("shown", {"shown_from": unit}, "takes the number in other units")
    if c.shown_takes == "level":
        for zero in (c.tank.reference_height_m, c.tank.inside_height):
            yield Suspect("shown", {"shown_takes": "distance", "shown_zero": zero}, "takes level for distance")
    elif c.shown_takes == "distance":
        yield Suspect("shown", {"shown_takes": "level", "shown_zero": 0.0}, "takes distance for level")
    elif c.shown_takes == "pressure":
        for density in DENSITIES:
            yield Suspect("shown", {"shown_density": density}, "works with another density")
        yield from _sought("shown", "works with another density", "shown_density")(c)
    else:
        yield from _sought("shown", "another height of 100 %", "shown_height")(c)
    yield Suspect("shown", {"shown_zero": 0.0}, "no zero is set")
    yield from _sought("shown", "wrong zero", "shown_zero")(c)


def _screen(c: Chain) -> Iterable[Suspect]:
    yield from _taken(c)
    if c.shown_as in ("volume", "level", "ullage"):
        for unit in SETTINGS["shown_unit"].options:
            if unit != c.shown_unit and UNITS[unit].quantity == UNITS[c.shown_unit].quantity:
                yield Suspect("shown", {"shown_unit": unit}, "shown in other units")
    for other in {"volume_pct": ("linear_pct",), "linear_pct": ("volume_pct",)}.get(c.shown_as, ()):
        yield Suspect("shown", {"shown_as": other}, "per cent of height taken for per cent of volume")


_BY_HOP: dict[str, Callable[[Chain], Iterable[Suspect]]] = {
    "sensed": _sensing,
    "signal": _transmitter,
    "counts": _card,
    "scaled": _scaling,
    "register": lambda c: _words(c, "register"),
    "read": lambda c: _words(c, "read"),
    "shown": _screen,
}


def suspects(c: Chain, hops: Sequence[str], former: Sequence[Chain] = ()) -> list[Suspect]:
    """Return everything that may be set wrong at some hops.

    Parameters
    ----------
    c : Chain
        The chain as it should be.
    hops : sequence of str
        Keys of `HOPS`.
    former : sequence of Chain
        The chain as it was set before, newest first: settings that may have been left in.
    """
    found = []
    for hop in hops:
        for old in former:
            there = [name for name, s in SETTINGS.items() if s.hop == hop and name not in _MOVES_NOTHING]
            names = [name for name in there if getattr(old, name) != getattr(c, name)]
            found += [Suspect(hop, {name: getattr(old, name)}, "the old setting left in") for name in names]
            if len(names) > 1:
                together = {name: getattr(old, name) for name in names}
                found.append(Suspect(hop, together, "the old settings left in"))
        found += list(_BY_HOP[hop](c))
    return [s for s in found if s.sought or any(getattr(c, n) != v for n, v in s.settings.items())]
