"""Edits: the one list of what can be wrong with a chain and its circuit; each makes the wrong one from the right."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from ..quantities.errors import InputError
from ..wiring.edits import WireEdit, edit_circuit
from .chain import Chain, Clip, Dead, Delay, Gain, Noise, Offset, StationEdit, Stick
from .hop import Value
from .sending import Wires

__all__ = ["Clip", "Dead", "Delay", "Edit", "Gain", "Noise", "Offset", "Set", "Stick", "edit_chain"]


@dataclass(frozen=True)
class Set:
    """A setting that is another than it should be, by its entry."""

    path: str
    value: Value


Edit = Set | WireEdit | StationEdit


def edit_chain(c: Chain, edits: Iterable[Edit]) -> Chain:
    """Make the chain that edits tell of.

    Parameters
    ----------
    c : Chain
        The chain as it should be.
    edits : iterable of Edit
        What is wrong with it, in order.

    Raises
    ------
    InputError
        If the chain has no such setting, station, wire or terminal.
    """
    settings: dict[str, Value] = {}
    stations: list[StationEdit] = []
    for edit in edits:
        if isinstance(edit, Set):
            if edit.path not in c.settings():
                raise InputError.at("edit", f"this chain has no setting {edit.path}")
            settings[edit.path] = edit.value
        elif isinstance(edit, Stick | Clip | Dead | Gain | Offset | Noise | Delay):
            if edit.station not in c.stations:
                raise InputError.at("edit", f"this chain has no station {edit.station}")
            stations.append(edit)
        else:
            c = _rewired(c, edit)
    c = c.put(settings) if settings else c
    return replace(c, edits=(*c.edits, *stations)) if stations else c


def _rewired(c: Chain, edit: WireEdit) -> Chain:
    wires = c.find(Wires)
    if wires is None or wires.circuit is None:
        raise InputError.at("edit", "this chain has no circuit that a wire could be wrong in")
    changed = replace(wires, circuit=edit_circuit(wires.circuit, edit))
    return replace(c, hops=tuple(changed if hop is wires else hop for hop in c.hops))
