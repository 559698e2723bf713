"""What can be wrong with a circuit, as data: each an edit that makes the wrong circuit from the right one."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..quantities.errors import InputError
from .circuit import Circuit, Leakage, Wire


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


WireEdit = Series | Leak | Lift | Swap


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
        If the circuit has no such wire or terminal.
    """
    if isinstance(edit, Leak | Swap):
        for point in (edit.a, edit.b):
            if point not in circuit.points:
                raise InputError.at("edit", f"“{point}” is no terminal of this circuit")
    elif not any(wire.id == edit.wire for wire in circuit.wires):
        raise InputError.at("edit", f"“{edit.wire}” is no wire of this circuit")
    if isinstance(edit, Leak):
        return replace(circuit, leaks=(*circuit.leaks, Leakage(edit.a, edit.b, edit.ohm)))
    if isinstance(edit, Lift):
        return replace(circuit, wires=tuple(wire for wire in circuit.wires if wire.id != edit.wire))
    if isinstance(edit, Series):
        wires = (replace(w, ohm=w.ohm + edit.ohm) if w.id == edit.wire else w for w in circuit.wires)
        return replace(circuit, wires=tuple(wires))
    other = {edit.a: edit.b, edit.b: edit.a}
    moved = (Wire(w.id, other.get(w.a, w.a), other.get(w.b, w.b), w.mark, w.ohm) for w in circuit.wires)
    return replace(circuit, wires=tuple(moved))
