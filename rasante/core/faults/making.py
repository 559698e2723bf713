"""How each ``op`` of the file of faults becomes edits of an installation's chain and circuit."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from ..quantities.errors import InputError
from ..quantities.signals import SIGNALS
from ..scaling.chain import Dead, Delay, Gain, Noise, Offset, Stick
from ..scaling.edits import Edit, Set, edit_chain
from ..scaling.hypotheses import settings_before
from ..scaling.sensing import PressureSensing
from ..wiring.circuit import Part
from ..wiring.edits import Break, Bridge, Insert, Leak, Lift, Put, Series, Swap
from .installation import Installation, cores_of, other_signal, pair_of, wires_at

Told = Mapping[str, Any]
#: A leak across a loop takes its current from the supply; across an output it must be stronger to be seen at all.
_LEAK_TIMES = {"two_wire": 1.0, "three_wire": 0.1, "four_wire": 0.1, "digital": 0.01}


def _lift(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    assert at.wired is not None
    yield from (Lift(wire) for wire in wires_at(at.wired, terminal, told["place"])[:1])


def _break(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    assert at.wired is not None
    cores = cores_of(at.wired, terminal)
    if value < len(cores):
        yield Break(*cores[int(value)])


def _series(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    assert at.wired is not None
    yield from (Series(wire, value) for wire in wires_at(at.wired, pair_of(at.wired)[0], told["place"])[:1])


def _leak(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    circuit = at.wired
    assert circuit is not None
    ends = []
    for one in pair_of(circuit):
        place = {"run": "panel", "end": "field"}.get(told["place"]) or str(told["place"])
        wires = wires_at(circuit, one, place)
        if not wires:
            return
        wire = next(w for w in circuit.wires if w.id == wires[0])
        of_the_place = {"field": f"{circuit.sensor.id}.{one}", "end": wire.a}
        ends.append(of_the_place.get(told["place"], wire.b))
    yield Leak(ends[0], ends[1], float(told.get("ohm", value * _LEAK_TIMES[circuit.sensor.kind])))


def _swap(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    assert at.wired is not None
    one, other = pair_of(at.wired)
    if "place" not in told:
        yield Swap(f"{at.wired.sensor.id}.{one}", f"{at.wired.sensor.id}.{other}")
        return
    # Where the cable begins that leads on from there.
    ends = {wire.id: wire.b if told["place"] == "panel" else wire.a for wire in at.wired.wires}
    clamped = [ends[wire] for key in (one, other) for wire in wires_at(at.wired, key, told["place"])[:1]]
    if len(clamped) == 2:
        yield Swap(clamped[0], clamped[1])


def _second_supply(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    if "active" not in at.has and "current_input" in at.has:
        yield Put("input", "supplies_v", 24.0)


def _calibrator(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    assert at.wired is not None
    for wire in wires_at(at.wired, terminal, "panel")[:1]:
        # The loop's current flows back through the minus conductor, from the sensor to the panel.
        back = terminal == pair_of(at.wired)[1]
        yield Insert(wire, Part("left", "calibrator", "Calibrator", "panel", {"amp": value}), turned=back)


def _dead(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    if at.sound.signal is None:
        yield Stick("number", float("nan"))
    else:
        yield Stick("sent", at.sound.signal.nothing)


def _fault_current(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    """A failed sensor goes high or low, whatever it is set to: by the standard's limit, or somewhat beyond it."""
    sender = at.sound.transmitter
    if sender is None:
        return
    signal = sender.signal
    if value > 0:
        yield Stick("sent", signal.high + (signal.fault_high - signal.high) * (0.7 + value))
    elif signal.live_zero:
        yield Stick("sent", signal.low - (signal.low - signal.fault_low) * (0.7 - 0.6 * value))


def _offset(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    yield Offset(told["station"], value * at.spans[told["station"]])


def _across_input(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    yield Bridge("input.+", "input.−", Part("left", "sourcing_calibrator", "Calibrator", "panel", {"amp": value}))


def _far_off(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    """A value that may be any number: so many decades beyond what the tank can give, to either side."""
    low, high = sorted(at.ends[told["station"]])
    yield Stick(told["station"], (low + high) / 2 + float(np.sign(value)) * (high - low) * 10.0 ** abs(value))


def _gain(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    yield Gain(told["station"], value)


def _turned(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    station = told["station"]
    yield Gain(station, -1.0)
    yield Offset(station, sum(at.ends[station]))


def _noise(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    yield Noise(told["station"], value * at.spans[told["station"]])


def _delay(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    yield Delay(told["station"], value)


def _stick(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    station = told["station"]
    if station not in at.sound.stations:
        station = "number"
    if station == "counts":
        card = at.sound.card
        assert card is not None
        yield Stick(station, card.low + value * (card.high - card.low))
        return
    low, high = at.ends[station]
    yield Stick(station, low + value * (high - low))


def _span(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    sender = at.sound.transmitter
    assert sender is not None
    yield Set("sensor.high", sender.range_low + (sender.range_high - sender.range_low) / value)


def _range(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    sender = at.sound.transmitter
    assert sender is not None
    yield Set("sensor.high", sender.range_low + (sender.range_high - sender.range_low) * value)


def _density(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    if isinstance(at.sound.sensing, PressureSensing):
        yield Set("liquid.density", at.sound.sensing.density * value)


def _card_floor(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    yield Stick("counts", 0.0)


def _dead_low(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    card = at.sound.card
    assert card is not None
    yield Dead("counts", card.low + value * (card.high - card.low), card.low)


def _card_signal(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    assert at.sound.signal is not None
    other = other_signal(at.sound.signal.key)
    if other is not None:
        yield Set("counts.at_low", SIGNALS[other].low)
        yield Set("counts.at_high", SIGNALS[other].high)


def _burden(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    card = at.sound.card
    assert card is not None
    yield Set("counts.at_low", card.at_low / value)
    yield Set("counts.at_high", card.at_high / value)
    if at.wired is not None:
        # The same resistor stands in the loop.
        for part in at.wired.parts:
            if part.id == "input" and part.kind == "current_input":
                yield Put("input", "ohm", max(part.value("ohm") * value, 1.0))


def _other_channel(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    number = at.sound.forward("counts", "number", np.array([0.0]))
    yield Stick("number", float(number[0]))


def _takes(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    screen = at.sound.screen
    other = {"level": ("distance", screen.reference_m), "distance": ("level", 0.0)}.get(screen.takes)
    if other is not None:
        yield Set("shown.takes", other[0])
        yield Set("shown.zero", other[1])


def _before(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
    if value < len(at.former):
        before = settings_before(at.sound, told["station"], at.former[int(value)].ideal)
        found = [Set(path, there) for path, there in before.items()]
        try:
            edit_chain(at.sound, found)
        except InputError:
            # Of another kind of chain: today's cannot be set so.
            return
        yield from found


def _put(part: str, key: str) -> Any:
    def make(at: Installation, told: Told, value: float, terminal: str) -> Iterator[Edit]:
        yield Put(told.get("part", part), key, {"volt": value or 1e-3, "ohm": value or 1e9}[key])

    return make


#: How each ``op`` of the file becomes edits.
MAKERS: dict[str, Any] = {
    "no-supply": _put("supply", "volt"),
    "supply-volt": _put("supply", "volt"),
    "open-part": _put("", "ohm"),
    "part-ohm": _put("", "ohm"),
    "lift": _lift,
    "break": _break,
    "series": _series,
    "leak": _leak,
    "swap": _swap,
    "second-supply": _second_supply,
    "calibrator": _calibrator,
    "dead": _dead,
    "fault-current": _fault_current,
    "offset": _offset,
    "across-input": _across_input,
    "far-off": _far_off,
    "gain": _gain,
    "turned": _turned,
    "takes": _takes,
    "before": _before,
    "noise": _noise,
    "delay": _delay,
    "stick": _stick,
    "span": _span,
    "range": _range,
    "density": _density,
    "card-floor": _card_floor,
    "dead-low": _dead_low,
    "card-signal": _card_signal,
    "burden": _burden,
    "other-channel": _other_channel,
}
