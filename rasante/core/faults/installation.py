"""The installation in which a fault is sought: its chain, its circuit, and what kind of thing each is."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np

from ..quantities.signals import SIGNALS
from ..scaling.chain import Chain
from ..scaling.numbers import Link
from ..scaling.sending import Wires
from ..wiring.circuit import Circuit, Wire, circuit_document

#: Technologies whose sensors wait for an echo, and those that hang or stand in the liquid.
ECHO = ("radar", "guided", "ultrasonic", "laser", "sonar")
TOP = ("radar", "guided", "ultrasonic", "laser")
INSIDE = ("hydrostatic", "capacitance", "guided", "float")
#: The two conductors that carry the signal or the power, by the kind of link: plus, minus.
_PAIR = {
    "two_wire": ("+", "−"),
    "three_wire": ("V+", "V−"),
    "four_wire": ("V+", "V−"),
    "digital": ("V+", "V−"),
}


@dataclass(frozen=True)
class Installation:
    """A sensor with all that follows it, as it should be.

    Parameters
    ----------
    chain : Chain
        From level to screen; its circuit is taken from `circuit`.
    circuit : Circuit or None
        As it is wired; None where none is kept.
    technology : str
        A key of `gauges.model.technologies`.
    age_years : float
        How long it has stood.
    hazardous, pressurised, radio, floats : bool
        Whether it stands in a hazardous area; whether its vessel is under pressure; whether its readings go by a
        radio with a battery; whether a float gauge stands beside it.
    closed : mapping of str to int
        How often each fault was found here before, by its key.
    former : tuple of Chain
        The chain as it was set before, newest first: settings that may have been left in.
    """

    chain: Chain
    circuit: Circuit | None = None
    technology: str = ""
    age_years: float = 3.0
    hazardous: bool = False
    pressurised: bool = False
    radio: bool = False
    floats: bool = False
    closed: tuple[tuple[str, int], ...] = field(default=())
    former: tuple[Chain, ...] = ()

    @cached_property
    def sound(self) -> Chain:
        """Its chain with nothing wrong, and without its circuit: what is sent arrives."""
        return self.chain.ideal

    @cached_property
    def wired(self) -> Circuit | None:
        """Its circuit, where that carries what the chain sends; of a digital sensor its supply and its lines."""
        circuit = self.circuit
        if circuit is None:
            wires = self.chain.find(Wires)
            circuit = wires.circuit if wires is not None else None
        if circuit is None or circuit.sensor.kind not in _PAIR:
            return None
        signal = self.chain.signal
        carries = {"two_wire": "current", "four_wire": "current", "three_wire": "voltage", "digital": ""}
        quantity = signal.quantity if signal is not None else ""
        return circuit if carries[circuit.sensor.kind] == quantity else None

    @cached_property
    def has(self) -> frozenset[str]:
        """What it has, in the words that faults and tests ask for."""
        found = {self.technology}
        chain, circuit = self.sound, self.wired
        if chain.signal is not None:
            found |= {"signal", chain.signal.quantity}
        else:
            found.add("digital")
        found |= {"card"} if chain.card is not None else set()
        found |= {"register"} if chain.reader == "register" else set()
        found |= {"link"} if chain.find(Link) is not None or self.radio else set()
        found |= {"volume"} if chain.screen.shows in ("volume", "volume_pct") else set()
        found |= {"echo"} if self.technology in ECHO else set()
        found |= {"top"} if self.technology in TOP else set()
        found |= {"inside"} if self.technology in INSIDE else set()
        for name in ("pressurised", "radio"):
            found |= {name} if getattr(self, name) else set()
        found |= {"float"} if self.floats else set()
        found |= {"former"} if self.former else set()
        found |= {"dippable"} if self.floats or not self.pressurised else set()
        if circuit is not None:
            found |= {"wires", circuit.sensor.kind} | {part.kind for part in circuit.parts}
            found |= {"box"} if any(part.id.startswith("box") for part in circuit.parts) else set()
            if any(part.values.get("supplies_v") for part in circuit.parts):
                found.add("active")
        return frozenset(found)

    @cached_property
    def signature(self) -> str:
        """What it is, in one text: two of one signature have the same faults, tests and readings."""
        levels = np.linspace(0.0, self.sound.top_m, 7)
        told = {
            "settings": [
                {path: str(value) for path, value in chain.settings().items()} for chain in (self.sound, *self.former)
            ],
            "shown": [float(f"{x:.6g}") for x in self.sound.forward("level", "shown", levels, exact=False)],
            "circuit": None if self.wired is None else circuit_document(self.wired),
            "is": [self.technology, self.age_years, self.hazardous, sorted(self.has), sorted(self.closed)],
        }
        return json.dumps(told, sort_keys=True)

    def fits(self, when: tuple[str, ...], unless: tuple[str, ...] = ()) -> bool:
        """Whether all that is asked for is there, and nothing that must not be."""
        return self.has.issuperset(when) and self.has.isdisjoint(unless)

    @cached_property
    def ends(self) -> dict[str, tuple[float, float]]:
        """What each station reads of an empty and of a full tank, in its own unit."""
        low, high = (self.sound.at(level, exact=False) for level in (0.0, self.sound.top_m))
        return {station: (low[station], high[station]) for station in low}

    @cached_property
    def spans(self) -> dict[str, float]:
        """How far each station goes from an empty to a full tank, in its own unit; never 0."""
        found = {station: abs(high - low) or 1.0 for station, (low, high) in self.ends.items()}
        if self.sound.signal is not None:
            found["sent"] = found["arriving"] = abs(self.sound.signal.span)
        if self.sound.card is not None:
            found["counts"] = abs(self.sound.card.high - self.sound.card.low) or 1.0
        return found


def conductors(circuit: Circuit) -> dict[str, list[Wire]]:
    """The wires of each conductor, from the panel out to the sensor, by the sensor's own terminal."""
    found: dict[str, list[Wire]] = {}
    by_end = {wire.b: wire for wire in circuit.wires}
    for terminal in circuit.sensor.terminals:
        last = f"{circuit.sensor.id}.{terminal}"
        row: list[Wire] = []
        while last in by_end and len(row) < len(circuit.wires):
            wire = by_end[last]
            row.append(wire)
            part = circuit.part(wire.a.partition(".")[0])
            if part.kind == "cable":
                last = f"{wire.a[:-1]}a"
            elif part.kind in ("terminals", "connector"):
                last = wire.a
            else:
                break
        if row:
            found[terminal] = row[::-1]
    return found


def wires_at(circuit: Circuit, terminal: str, place: str) -> list[str]:
    """The wires of one conductor at a place, by their tags.

    Parameters
    ----------
    terminal : str
        The sensor's terminal that the conductor leads to.
    place : {"panel", "box", "field"}
        At the panel's clamp; in a junction box; at the sensor.
    """
    row = conductors(circuit).get(terminal, [])
    if not row:
        return []
    boxed = [w.id for w in row if w.b.startswith("box") or w.a.startswith("box")]
    return {"panel": [row[0].id], "box": boxed[:1], "field": [row[-1].id]}[place]


def cores_of(circuit: Circuit, terminal: str) -> list[tuple[str, str]]:
    """The cables that a conductor goes through, with its core in each, from the panel out."""
    ends = [wire.b.partition(".") for wire in conductors(circuit).get(terminal, [])]
    return [(part, end[:-1]) for part, _, end in ends if circuit.part(part).kind == "cable"]


@lru_cache(maxsize=64)
def points(circuit: Circuit) -> dict[str, str]:
    """Terminals of this circuit under the names that tests use.

    ``panel.+`` is the panel's own terminal, ``field.+`` the cable that is clamped there, ``inbox.+`` that cable's end
    in the box, ``box.+`` the box's terminal, ``end.+`` the last cable's far end, ``sensor.+`` the sensor's terminal,
    each with its minus; ``signal.+`` and ``signal-box.+`` are those of the pair that carries the signal.
    """
    found: dict[str, str] = {}
    names = {"": _PAIR[circuit.sensor.kind], "signal": pair_of(circuit)}
    for prefix, pair in names.items():
        for sign, terminal in zip("+−", pair, strict=True):
            row = conductors(circuit).get(terminal, [])
            if prefix:
                found |= {f"signal.{sign}": row[0].b} if row else {}
                boxed = next((w.b for w in row if w.b.startswith("box")), None)
                found |= {f"signal-box.{sign}": boxed} if boxed else {}
                leaves = next((w.b for w in row if w.a.startswith("box")), None)
                found |= {f"signal-beyond.{sign}": leaves} if leaves else {}
                continue
            found[f"sensor.{sign}"] = f"{circuit.sensor.id}.{terminal}"
            if row:
                found |= {f"panel.{sign}": row[0].a, f"field.{sign}": row[0].b, f"end.{sign}": row[-1].a}
            leaves = next((w.b for w in row if w.a.startswith("box")), None)
            found |= {f"beyond.{sign}": leaves} if leaves else {}
            into = next((w for w in row if w.b.startswith("box")), None)
            if into is not None:
                found |= {f"inbox.{sign}": into.a, f"box.{sign}": into.b}
    return found


def pair_of(circuit: Circuit) -> tuple[str, str]:
    """The sensor's terminals whose conductors a leak or a short joins: those that carry its signal."""
    return {
        "two_wire": ("+", "−"),
        "three_wire": ("out", "V−"),
        "four_wire": ("out+", "out−"),
        "digital": ("A", "B"),
    }[circuit.sensor.kind]


def other_signal(key: str) -> str | None:
    """The signal that an input may be set to instead: of one quantity, with another low end."""
    here = SIGNALS[key]
    others = [one for one in SIGNALS.values() if one.quantity == here.quantity and one.key != key]
    others = sorted(others, key=lambda one: (abs(one.high - here.high), one.key))
    return others[0].key if others else None
