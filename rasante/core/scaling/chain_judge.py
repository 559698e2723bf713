"""What to make of a scaling chain: settings that do not agree, limits met, and faults that look like levels."""

from __future__ import annotations

import numpy as np

from ..gauges.model import GaugeModel
from ..quantities.judgement import Judgement, by_weight, good, stop, stops, watch
from ..quantities.signals import SIGNALS
from ..quantities.units import System
from ..quantities.words import Words
from ..wiring.transfer import carried
from . import registers
from .chain import Chain
from .chain_line import broken_values, fault_is_told, fault_values, is_told, readable, slopes_at, steps_at
from .chain_settings import differing, settle, text_of
from .chain_values import places_text, value_text
from .numbers import Register
from .sending import Wires

#: A coarser step than this of the inside height is told [1]: common practice, no published source.
_COARSE = 0.005
#: By how much the screen's level may be off the tank's before settings are said to part [1 of the inside height].
_AGREES = 0.002
#: By how much a circuit may change a signal before it is told [1 of its span]: common practice, no published source.
_CARRIED = 0.0025


def judge_chain(c: Chain, system: System) -> list[Judgement]:
    """Judge a chain; the heaviest first.

    Parameters
    ----------
    c : Chain
        The chain.
    system : {"metric", "us"}
        The units in which settings and shown values are named.
    """
    w = Words(system)
    found = [
        *_circuit(c, system),
        *_agrees(c, w),
        *_range(c),
        *_falls(c),
        *_register(c),
        *_digits(c),
        *_card(c),
        *_fault(c, system),
        *_coarse(c),
    ]
    if not stops(found):
        shown = c.run(np.array([0.0, c.top_m]))["shown"]
        empty, full = (value_text(c, "shown", float(value), system) for value in shown)
        text = "Every hop agrees with the next: empty shows {empty}, full {full}."
        found.append(good("agrees", text, empty=empty, full=full))
    return by_weight(found)


def taken_at(c: Chain, levels: np.ndarray) -> np.ndarray:
    """Innage that the screen takes the tank for at levels [m]."""
    return c.screen.innage(c.run(levels)[c.stations[-2]])


def _agrees(c: Chain, w: Words) -> list[Judgement]:
    """Whether the screen's level is the tank's at a tenth and at nine tenths of what is read of it."""
    low, high = readable(c)
    if high - low < 1e-6:
        return []
    means = c.ideal
    steps = steps_at(means, slopes_at(means, (low + high) / 2))
    allowed = _AGREES * c.top_m + max(steps.values(), default=0.0)
    levels = low + np.array([0.9, 0.1]) * (high - low)
    for level, taken in zip(levels, taken_at(means, levels), strict=True):
        if abs(taken - level) <= allowed:
            continue
        right, wrong = settle(c), differing(c)
        named = "; ".join(
            f"{c.known()[path][1].label.lower()} ({path}) is {text_of(c, path, w.system)}, the rest asks for "
            f"{text_of(right, path, w.system)}"
            for path in wrong[:3]
        )
        there = "{value:length}" if abs(taken) < 1e4 else "{value:.3g} m"
        text = "With {limit:length} in the tank the screen has " + there + (": {named}." if named else ".")
        return [stop("parts", text, value=float(taken), limit=float(level), named=named)]
    return []


def _circuit(c: Chain, system: System) -> list[Judgement]:
    """Whether the circuit is of a sensor that sends this, and whether it arrives, at five values from end to end."""
    wires = c.find(Wires)
    if c.signal is None or wires is None:
        return []
    if wires.circuit is not None and c.signal.key not in carried(wires.circuit):
        names = [SIGNALS[key].name for key in carried(wires.circuit)]
        text = "The chain reads {signal}; the circuit that is kept at Wiring is of a sensor that "
        text += "sends {wired}: change one of the two." if names else "switches: change one of the two."
        return [stop("other-signal", text, signal=c.signal.name, wired=" or ".join(names))]
    sent = np.linspace(c.signal.low, c.signal.high, 5)
    arriving = c.over("arriving", sent)
    off = (arriving - sent) / c.signal.span
    worst = int(np.argmax(np.abs(off)))
    if abs(off[worst]) <= _CARRIED:
        return []
    texts = [value_text(c, "arriving", float(value), system) for value in (sent[worst], arriving[worst])]
    text = "Of {sent} sent {arriving} arrive, {value:+.1%} of span, by the circuit as it is kept at Wiring."
    judge = stop if abs(off[worst]) > 0.05 else watch
    return [judge("circuit", text, value=float(off[worst]), limit=_CARRIED, sent=texts[0], arriving=texts[1])]


def _range(c: Chain) -> list[Judgement]:
    """Whether the range covers the tank, or wastes its span."""
    low, high = readable(c)
    if high <= low:
        return [stop("outside", "The sensor's range lies outside the tank: nothing of it is read.")]
    found = []
    volumes = c.screen.volumes
    levels = np.array([low, high])
    volume = volumes.whole.volume(levels) if volumes is not None else levels * 0.0
    if high < c.top_m - 1e-6:
        lost = float(volumes.capacity - volume[1]) if volumes is not None else 0.0
        text = (
            "The sensor's range ends at {value:length}: the top {short:length} all shows alike, {lost:volume} of it."
        )
        found.append(stop("top-unread", text, value=high, limit=c.top_m, short=c.top_m - high, lost=lost))
    if low > 1e-6:
        text = "The sensor's range begins at {value:length}: the lowest {lost:volume} show as nothing."
        found.append(watch("bottom-unread", text, value=low, limit=0.0, lost=float(volume[0])))
    sensed = c.sensing.forward(levels)
    used = float(abs(sensed[1] - sensed[0]) / abs(c.sensor.range_high - c.sensor.range_low))
    if used < 0.5:
        text = (
            "Only {value:.0%} of the sensor's range is used: 1 % of its span is {one:length}, against {own:length} "
            "for a range cut to this tank."
        )
        found.append(watch("wasted-span", text, value=used, limit=0.5, one=(high - low) / used / 100,
                           own=c.top_m / 100))  # fmt: skip
    elif not found:
        per_unit = (high - low) / used
        text = "The range covers the tank, with {value:.0%} of the span used: {one:length} a hundredth of it."
        found.append(good("covers", text, value=used, limit=0.5, one=per_unit / 100))
    if c.sensing.looks_down and c.screen.reference_m + c.sensing.zero_m < c.top_m - 1e-9:
        wet = c.top_m - c.screen.reference_m - c.sensing.zero_m
        text = (
            "The face hangs {value:length} below the inside top: liquid can reach it, and nothing is read nearer "
            "than its blanking distance."
        )
        found.append(watch("face-wet", text, value=wet, limit=0.0))
    return found


def _falls(c: Chain) -> list[Judgement]:
    """A signal that falls as the tank fills, where the far end takes it for level."""
    if c.signal is None:
        return []
    low, high = readable(c)
    ends = c.ideal.forward("level", "sent", np.array([low, high]), exact=False)
    if not ends[1] < ends[0] or c.scaling.low > c.scaling.high or c.screen.takes == "distance":
        return []
    text = "The signal falls as the tank fills: a receiver that expects level will read backwards."
    return [watch("falls", text)]


def _register(c: Chain) -> list[Judgement]:
    """Where the register does not hold the number: at the tank's ends and where the signal ends."""
    register = c.find(Register)
    if register is None:
        return []
    levels = np.array([c.top_m, 0.0])
    raw = register.raw(c.run(levels)["number"])
    least, most = registers.bounds(register.type)
    for level, value in zip(levels, raw, strict=True):
        if registers.fits(register.type, float(value)):
            continue
        turned = float(registers.wrapped(np.array([value]), register.type)[0])
        text = (
            "At {at:length} the register would be {raw}: {type} holds {least:.6g} to {most:.6g}, so it turns into "
            "{turned}."
        )
        numbers = {"value": float(value), "limit": most if value > most else least, "at": float(level)}
        names = {
            "raw": places_text(float(value), 0),
            "type": registers.TYPES[register.type].name,
            "turned": places_text(turned, 0),
        }
        return [stop("register", text, **numbers, **names, least=least, most=most)]
    return []


def _digits(c: Chain) -> list[Judgement]:
    most = c.scaling.most
    ends = c.run(np.array([0.0, c.top_m]))["number"]
    full = float(ends[int(np.argmax(np.abs(ends)))])
    if abs(full) < most:
        return []
    level = c.level_from("number", most if full > 0 else -most)
    written = places_text(most, max(c.scaling.decimals, 0))
    text = "{digits:d} digits end at {written}: from {at:length} on it stands still."
    return [stop("digits", text, value=full, limit=most, digits=c.scaling.digits, written=written, at=level)]


def _card(c: Chain) -> list[Judgement]:
    card = c.card
    if card is None or card.over == "wrap":
        return []
    top = max(card.low, card.high)
    if top > card.most:
        text = "{value:.0f} counts need more than {bits:d} bits."
        return [stop("bits", text, value=top, limit=card.most, bits=card.bits)]
    if top >= (card.most if card.over == "clip" else top):
        text = "The card is full at the signal's high end: what lies beyond it cannot be seen in the counts."
        return [watch("over-range", text, value=top, limit=card.most)]
    return []


def _fault(c: Chain, system: System) -> list[Judgement]:
    """Whether a lost echo, a failed sensor or a broken wire looks like a level."""
    if c.transmitter is None or c.signal is None:
        return []
    if "hold" in (c.transmitter.fault, c.screen.error):
        who = "the sensor" if c.transmitter.fault == "hold" else "the screen"
        text = "On a fault {who} holds its last value: it looks like a still tank. Show the reading's age."
        return [watch("fault-holds", text, who=who)]
    sent = value_text(c, "sent", c.signal.fault(c.transmitter.fault), system)
    found = [_told(c, sent) if fault_is_told(c) else _looks(c, sent, fault_values(c), system)]
    broken = broken_values(c)
    if not c.signal.live_zero and not is_told(c, broken) and c.transmitter.fault == "high":
        shown = value_text(c, "shown", (broken or {})["shown"], system)
        text = "A broken wire reads like the low end of {signal}: it shows {shown}, like a level."
        found.append(watch("broken-looks-like-a-level", text, signal=c.signal.name, shown=shown))
    return found


def _told(c: Chain, sent: str) -> Judgement:
    """A fault that the screen takes for one; unless it takes a working sensor for failed as well."""
    assert c.signal is not None
    if c.signal.least <= c.screen.below or c.signal.most >= c.screen.above:
        text = "A working sensor at the end of its range is taken for a failed one: its limits overlap."
        return watch("fault-overlaps", text, value=c.screen.below, limit=c.signal.least)
    return good("fault-seen", "A failed sensor ({sent}) is shown as an error.", sent=sent)


def _looks(c: Chain, sent: str, values: dict[str, float] | None, system: System) -> Judgement:
    """What a fault shows that nobody looks out for."""
    assert values is not None and c.signal is not None and c.transmitter is not None
    ends = sorted(float(value) for value in c.run(np.array([0.0, c.top_m]))["shown"])
    shown = value_text(c, "shown", values["shown"], system)
    if not c.signal.live_zero and c.transmitter.fault == "low":
        text = "A broken wire reads like the low end of {signal}: it shows {shown}, like a level."
        return watch("fault-looks-like-a-level", text, signal=c.signal.name, shown=shown)
    if ends[0] <= values["shown"] <= ends[1]:
        text = "A failed sensor ({sent}) shows {shown}, as a level would: give the screen an error value for it."
        return watch("fault-looks-like-a-level", text, sent=sent, shown=shown)
    return good("fault-seen", "A failed sensor ({sent}) shows {shown}, which no level does.", sent=sent, shown=shown)


def _coarse(c: Chain) -> list[Judgement]:
    low, high = readable(c)
    level = (low + high) / 2
    steps = steps_at(c, slopes_at(c, level))
    if not steps:
        return []
    station = max(steps, key=lambda s: steps[s])
    step = steps[station]
    if step <= _COARSE * c.top_m:
        return []
    surface = float(c.screen.volumes.surface(np.array([level]))[0]) if c.screen.volumes is not None else 0.0
    names = {"counts": "count", "number": "step of the scaled number", "words": "step of the register"}
    text = "One {name} is {value:length}, {volume:volume} at mid-tank."
    name = names.get(station, "step of the screen")
    return [watch("coarse", text, value=step, limit=_COARSE * c.top_m, name=name, volume=step * surface)]


def judge_gauge(c: Chain, model: GaugeModel) -> Judgement | None:
    """Judge whether a chain takes what a gauge senses: level for level, distance for distance; None where it fits."""
    senses = model.kind.senses
    if senses == "points":
        text = "{gauge} switches at levels: it sends nothing to be scaled."
        return watch("no-scale", text, gauge=model.name)
    taken = "distance" if c.sensing.looks_down else "level"
    if senses == taken:
        return None
    text = (
        "{gauge}, the gauge of this tank, senses {senses} and is scaled as {taken}: unless it is set to turn "
        "that round itself, the reading runs backwards."
    )
    return watch("level-or-distance", text, gauge=model.name, senses=senses, taken=taken)
