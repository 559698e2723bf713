"""What can be wrong with a circuit, as data: each an edit that makes the wrong circuit from the right one."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..quantities.errors import InputError
from .circuit import PART_KINDS, Circuit, Leakage, Part, Wire
from .circuit_network import OPEN_CORE_OHM, core_key


@dataclass(frozen=True)
class Series:
    """A resistance in a wire: a bad splice, a corroded clamp [Ω]."""

    wire: str
    ohm: float


@dataclass(frozen=True)
class Leak:
    """A leak between two terminals: a wet splice, a chafed core [Ω]."""

    a: str
    b: str
    ohm: float


@dataclass(frozen=True)
class Lift:
    """A wire that is off its terminal, or broken."""

    wire: str


@dataclass(frozen=True)
class Swap:
    """Two terminals with their wires changed for one another."""

    a: str
    b: str


@dataclass(frozen=True)
class Put:
    """A part with another value than it should have, by the value's name: a fuse that is open, a supply that sags."""

    part: str
    key: str
    value: float


@dataclass(frozen=True)
class Break:
    """A core of a cable that is broken somewhere along it."""

    cable: str
    core: str


@dataclass(frozen=True)
class Insert:
    """Something that stands in a wire where nothing should: a calibrator that was left in. It is let in by its first
    two terminals; turned, the other way round.
    """

    wire: str
    part: Part
    turned: bool = False


@dataclass(frozen=True)
class Bridge:
    """Something that lies across two terminals where nothing should: a calibrator that sources into an input."""

    a: str
    b: str
    part: Part


WireEdit = Series | Leak | Lift | Swap | Put | Break | Insert | Bridge


def edit_circuit(circuit: Circuit, edit: WireEdit) -> Circuit:
    """Make the circuit that an edit tells of.

    Parameters
    ----------
    circuit : Circuit
        The circuit as it should be.
    edit : WireEdit
        What is wrong with it.

    Raises
    ------
    InputError
        If the circuit has no such wire, terminal, part or value.
    """
    if isinstance(edit, Put | Break):
        return _put(circuit, edit)
    if isinstance(edit, Leak | Swap | Bridge):
        for point in (edit.a, edit.b):
            if point not in circuit.points:
                raise InputError.at("edit", f"“{point}” is no terminal of this circuit")
    elif not any(wire.id == edit.wire for wire in circuit.wires):
        raise InputError.at("edit", f"“{edit.wire}” is no wire of this circuit")
    if isinstance(edit, Bridge):
        one, second = (f"{edit.part.id}.{terminal}" for terminal in edit.part.terminals[:2])
        across = (Wire(f"{edit.part.id}~1", edit.a, one), Wire(f"{edit.part.id}~2", edit.b, second))
        return replace(circuit, parts=(*circuit.parts, edit.part), wires=(*circuit.wires, *across))
    if isinstance(edit, Leak):
        return replace(circuit, leaks=(*circuit.leaks, Leakage(edit.a, edit.b, edit.ohm)))
    if isinstance(edit, Lift):
        return replace(circuit, wires=tuple(wire for wire in circuit.wires if wire.id != edit.wire))
    if isinstance(edit, Series):
        wires = (replace(w, ohm=w.ohm + edit.ohm) if w.id == edit.wire else w for w in circuit.wires)
        return replace(circuit, wires=tuple(wires))
    if isinstance(edit, Insert):
        return _inserted(circuit, edit)
    other = {edit.a: edit.b, edit.b: edit.a}
    moved = (Wire(w.id, other.get(w.a, w.a), other.get(w.b, w.b), w.mark, w.ohm) for w in circuit.wires)
    return replace(circuit, wires=tuple(moved))


def _put(circuit: Circuit, edit: Put | Break) -> Circuit:
    if isinstance(edit, Break):
        found, key, value = edit.cable, core_key(edit.core), OPEN_CORE_OHM
        known = any(part.id == found and part.kind == "cable" and edit.core in part.cores for part in circuit.parts)
    else:
        found, key, value = edit.part, edit.key, edit.value
        known = any(part.id == found and key in PART_KINDS[part.kind].values for part in circuit.parts)
    if not known:
        raise InputError.at("edit", f"“{found}” of this circuit has no {key}")
    parts = (
        replace(part, values={**part.values, key: value}) if part.id == found else part for part in circuit.parts
    )
    return replace(circuit, parts=tuple(parts))


def _inserted(circuit: Circuit, edit: Insert) -> Circuit:
    ends = edit.part.terminals[:2]
    first, second = (f"{edit.part.id}.{terminal}" for terminal in (ends[::-1] if edit.turned else ends))
    wires: list[Wire] = []
    for wire in circuit.wires:
        if wire.id == edit.wire:
            wires += [Wire(f"{wire.id}~1", wire.a, first), Wire(f"{wire.id}~2", second, wire.b, wire.mark, wire.ohm)]
        else:
            wires.append(wire)
    return replace(circuit, parts=(*circuit.parts, edit.part), wires=tuple(wires))
