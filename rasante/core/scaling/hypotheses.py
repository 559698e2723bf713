"""Hypotheses: what may be wrong at a hop, as edits of the chain, with a value, or with one that is sought."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..quantities.signals import SIGNALS
from ..quantities.units import UNITS
from . import registers
from .agreement import Pair, hops_between
from .chain import Chain, Clip, Stick
from .chain_settings import unlike
from .edits import Edit, Set, edit_chain
from .hop import Value
from .numbers import NUMBER_UNITS, Link, Register
from .screen import SHOWN_UNITS
from .sensing import CountsSensing, EchoSensing, PressureSensing

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
#: What a kind of mistake costs against another, as half a χ²: an old setting left in is likeliest; one whose value is
#: sought explains two readings with one of its own. Common practice, no published source.
OLD, NAMED, SOUGHT = 0.0, 1.0, 4.0


@dataclass(frozen=True)
class Hypothesis:
    """Something that may be wrong.

    Parameters
    ----------
    hop : str
        The hop whose part or setting it blames, by its station.
    edits : tuple of Edit
        What makes the wrong chain from the right one; of a sought one, where the search begins.
    why : str
        What kind of mistake it is, in a few words.
    cost : float
        How unlikely it is beside others, as half a χ².
    sought : bool
        Whether the value of its setting is to be found from the readings.
    """

    hop: str
    edits: tuple[Edit, ...]
    why: str
    cost: float = NAMED
    sought: bool = False

    @property
    def settings(self) -> dict[str, Value]:
        """The settings that it says are others than they should be, by their entries."""
        return {edit.path: edit.value for edit in self.edits if isinstance(edit, Set)}

    def on(self, c: Chain) -> Chain:
        """The chain with this wrong in it."""
        return edit_chain(c, self.edits)

    def at(self, value: float) -> Hypothesis:
        """The same with another value."""
        return replace(self, edits=tuple(Set(path, value) for path in self.settings))


def _set(hop: str, why: str, settings: Mapping[str, Value]) -> Hypothesis:
    return Hypothesis(hop, tuple(Set(path, value) for path, value in settings.items()), why)


def _sought(c: Chain, hop: str, why: str, *paths: str) -> Iterable[Hypothesis]:
    there = c.settings()
    return [Hypothesis(hop, (Set(path, there[path]),), why, SOUGHT, True) for path in paths if path in there]


def _sensing(c: Chain) -> Iterable[Hypothesis]:
    sensing = c.sensing
    if isinstance(sensing, PressureSensing):
        for density in DENSITIES:
            yield _set("sensed", "another liquid in the tank", {"liquid.density": density})
        yield from _sought(c, "sensed", "another density", "liquid.density")
    if isinstance(sensing, EchoSensing):
        for speed in _SOUNDS:
            yield _set("sensed", "another medium for the echo", {"sensor.sound": speed})
        yield from _sought(c, "sensed", "another speed of the echo", "sensor.sound")
    if isinstance(sensing, CountsSensing):
        yield from _sought(c, "sensed", "its wet end moved", "sensor.empty", "sensor.full")
        swapped = {"sensor.empty": sensing.full_counts, "sensor.full": sensing.empty}
        yield _set("sensed", "inverted", swapped)
    yield from _sought(c, "sensed", "hung or mounted at another height", "sensor.zero")


def _factors(quantity: str) -> list[float]:
    """Ratios of two units of a quantity, both ways."""
    sizes = [unit.si for unit in UNITS.values() if unit.quantity == quantity]
    return sorted({round(a / b, 12) for a in sizes for b in sizes if a != b})


def _other_kinds(c: Chain) -> list[str]:
    assert c.signal is not None
    if c.signal.quantity == "bridge":
        return []
    return [key for key, one in SIGNALS.items() if one.quantity == c.signal.quantity and key != c.signal.key]


def _transmitter(c: Chain) -> Iterable[Hypothesis]:
    sender = c.transmitter
    assert sender is not None
    low, high = sender.range_low, sender.range_high
    fulls = {"pressure": _FULL_PRESSURES, "length": _FULL_LENGTHS}.get(c.sensing.quantity, ())
    for number, unit in fulls:
        yield _set("sent", "another range", {"sensor.high": number * UNITS[unit].si})
        if low > high:
            yield _set("sent", "another range", {"sensor.low": number * UNITS[unit].si})
    yield _set("sent", "inverted", {"sensor.low": high, "sensor.high": low})
    for factor in _factors(c.sensing.quantity) if c.sensing.quantity in ("pressure", "length") else ():
        yield _set("sent", "its range in other units", {"sensor.low": low * factor, "sensor.high": high * factor})
    for kind in _other_kinds(c):
        yield _set("sent", f"sends {SIGNALS[kind].name}", {"signal.kind": kind})
    for which in ("low", "high"):
        sticks = (Stick("sent", sender.signal.fault(which)),)
        yield Hypothesis("sent", sticks, f"it signals a fault, and goes {which}")
    yield from _sought(c, "sent", "wrong span", "sensor.high")
    yield from _sought(c, "sent", "wrong zero", "sensor.low")


def _circuit(c: Chain) -> Iterable[Hypothesis]:
    assert c.signal is not None
    yield Hypothesis("arriving", (Stick("arriving", c.signal.nothing),), "a wire is broken, or the fuse is blown")


def _card(c: Chain) -> Iterable[Hypothesis]:
    card = c.card
    assert card is not None
    for kind in _other_kinds(c):
        other = SIGNALS[kind]
        yield _set("counts", f"set for {other.name}", {"counts.at_low": other.low, "counts.at_high": other.high})
    yield _set("counts", "inverted", {"counts.low": card.high, "counts.high": card.low})
    share = card.at_low / card.at_high if card.at_high else 0.0
    for bits in range(8, 17):
        most = 2.0**bits - 1
        for low in sorted({0.0, float(int(most * share))}):
            settings: dict[str, Value] = {
                "counts.low": low, "counts.high": most, "counts.bits": max(bits, card.bits),
            }  # fmt: skip
            yield _set("counts", f"a card of {bits} bits", settings)
    for raw in _RAW:
        yield _set("counts", "other raw ends", {"counts.low": float(raw[0]), "counts.high": float(raw[1])})
    yield from _sought(c, "counts", "wrong span", "counts.high", "counts.at_high")
    yield from _sought(c, "counts", "wrong zero", "counts.low", "counts.at_low")


def _scaling(c: Chain) -> Iterable[Hypothesis]:
    scaling = c.scaling
    if c.card is not None:
        most = c.card.most
        for low, high in ((0.0, most), (float(int(most / 5)), most), *_RAW):
            settings: dict[str, Value] = {"scaled.raw_low": float(low), "scaled.raw_high": float(high)}
            yield _set("number", "scaled from other raw ends", settings)

    def times(factor: float) -> dict[str, Value]:
        return {"scaled.low": scaling.low * factor, "scaled.high": scaling.high * factor}

    yield _set("number", "inverted", {"scaled.low": scaling.high, "scaled.high": scaling.low})
    for factor in _factors(UNITS[scaling.unit].quantity):
        yield _set("number", "scaled in other units", times(factor))
    for power in (-3, -2, -1, 1, 2, 3):
        yield _set("number", "the decimal point is elsewhere", times(10.0**power))
    if isinstance(c.sensing, PressureSensing) and c.screen.takes == "level":
        for density in DENSITIES:
            yield _set("number", "scaled for another liquid", times(c.sensing.density / density))
        for number, unit in _FULL_PRESSURES if c.sensor.range_low == 0 else ():
            share = number * UNITS[unit].si / c.sensor.range_high
            high = scaling.low + (scaling.high - scaling.low) * share
            yield _set("number", "scaled for another range", {"scaled.high": high})
    yield from _sought(c, "number", "wrong span", "scaled.high", "scaled.raw_high")
    yield from _sought(c, "number", "wrong zero", "scaled.low", "scaled.raw_low")


def _words(c: Chain, hop: str, entry: str, there: Register | Link) -> Iterable[Hypothesis]:
    """Mistakes with registers, at the end that writes or the one that reads."""
    count = registers.TYPES[there.type].words
    for order in registers.ORDERS:
        # One word alone knows only whether its bytes are swapped.
        if order != there.order and (count > 1 or order in ("ABCD", "BADC")):
            yield _set(hop, "words or bytes swapped", {f"{entry}.order": order})
    for other, kind in registers.TYPES.items():
        if other != there.type and kind.words == count:
            yield _set(hop, "another type", {f"{entry}.type": other})
    for power in (-3, -2, -1, 1, 2, 3):
        settings: dict[str, Value] = {f"{entry}.multiplier": there.multiplier * 10.0**power}
        yield _set(hop, "the decimal point is elsewhere", settings)
    yield _set(hop, "inverted", {f"{entry}.multiplier": -there.multiplier})
    yield from _sought(c, hop, "another multiplier", f"{entry}.multiplier")
    yield from _sought(c, hop, "another offset", f"{entry}.offset")


def _taken(c: Chain) -> Iterable[Hypothesis]:
    """What the far end may take its number for."""
    screen, quantity = c.screen, UNITS[c.screen.from_unit].quantity
    for unit in NUMBER_UNITS:
        if unit != screen.from_unit and UNITS[unit].quantity == quantity:
            yield _set("shown", "takes the number in other units", {"shown.from": unit})
    if screen.takes == "level":
        for zero in (screen.reference_m, c.top_m):
            yield _set("shown", "takes level for distance", {"shown.takes": "distance", "shown.zero": zero})
    elif screen.takes == "distance":
        yield _set("shown", "takes distance for level", {"shown.takes": "level", "shown.zero": 0.0})
    elif screen.takes == "pressure":
        for density in DENSITIES:
            yield _set("shown", "works with another density", {"shown.density": density})
        yield from _sought(c, "shown", "works with another density", "shown.density")
    else:
        yield from _sought(c, "shown", "another height of 100 %", "shown.height")
    yield _set("shown", "no zero is set", {"shown.zero": 0.0})
    yield from _sought(c, "shown", "wrong zero", "shown.zero")


def _screen(c: Chain) -> Iterable[Hypothesis]:
    yield from _taken(c)
    if c.screen.shows in ("volume", "level", "ullage"):
        for unit in SHOWN_UNITS:
            if unit != c.screen.unit and UNITS[unit].quantity == UNITS[c.screen.unit].quantity:
                yield _set("shown", "shown in other units", {"shown.unit": unit})
    other = {"volume_pct": "linear_pct", "linear_pct": "volume_pct"}.get(c.screen.shows)
    if other:
        yield _set("shown", "per cent of height taken for per cent of volume", {"shown.as": other})


def _at(c: Chain, hop: str) -> Iterable[Hypothesis]:
    there = c.hop(hop)
    if isinstance(there, Register):
        return _words(c, hop, "register", there)
    if isinstance(there, Link):
        return _words(c, hop, "read", there)
    by_hop: dict[str, Callable[[Chain], Iterable[Hypothesis]]] = {
        "sensed": _sensing,
        "sent": _transmitter,
        "arriving": _circuit,
        "counts": _card,
        "number": _scaling,
        "shown": _screen,
    }
    return by_hop[hop](c)


def settings_before(c: Chain, hop: str, former: Chain) -> dict[str, Value]:
    """The settings of a hop that were others in a former chain, as they were, by their entries."""
    there, before = c.settings(), former.settings()
    return {
        path: before[path]
        for path, (station, one) in c.known().items()
        if station == hop and one.moves and path in before and unlike(there[path], before[path])
    }


def _left_in(c: Chain, hop: str, former: Chain) -> Iterable[Hypothesis]:
    """Settings of a hop as they were before."""
    before = settings_before(c, hop, former)
    for path, value in before.items():
        yield Hypothesis(hop, (Set(path, value),), "the old setting left in", OLD)
    if len(before) > 1:
        together = tuple(Set(path, value) for path, value in before.items())
        yield Hypothesis(hop, together, "the old settings left in", OLD)


def _failed(c: Chain, hop: str, pairs: Sequence[Pair]) -> Iterable[Hypothesis]:
    """Parts that stand still, or follow only from some value on: their values come from the readings."""
    for pair in pairs:
        hops = hops_between(c, pair.start, pair.end)
        if hop not in hops or len(pair.rows) < 2 or np.ptp(pair.first) == 0:
            continue
        there = c.ideal.backward(pair.end, hop, pair.last)
        if not np.all(np.isfinite(there)):
            continue
        yield Hypothesis(hop, (Stick(hop, float(np.median(there))),), "it stands still", SOUGHT)
        if hop == "counts":
            floor = Clip(hop, float(np.min(there)), float("inf"))
            yield Hypothesis(hop, (floor,), "the channel stands at a floor until well above its low end", SOUGHT)
            ceiling = Clip(hop, -float("inf"), float(np.max(there)))
            yield Hypothesis(hop, (ceiling,), "the channel stands still from some value on", SOUGHT)


def hypotheses(
    c: Chain, hops: Sequence[str], former: Sequence[Chain] = (), pairs: Sequence[Pair] = ()
) -> list[Hypothesis]:
    """Return everything that may be wrong at some hops.

    Parameters
    ----------
    c : Chain
        The chain as it should be.
    hops : sequence of str
        Stations that they lead to.
    former : sequence of Chain
        The chain as it was set before, newest first: settings that may have been left in.
    pairs : sequence of Pair
        The readings, for parts that stand still.
    """
    found: list[Hypothesis] = []
    for hop in hops:
        for old in former:
            found += _left_in(c, hop, old)
        found += _at(c, hop)
        found += _failed(c, hop, pairs)
    there = c.settings()
    return [
        one
        for one in found
        if one.sought or not one.settings or any(unlike(there[p], v) for p, v in one.settings.items())
    ]
