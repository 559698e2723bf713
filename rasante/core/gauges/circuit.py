"""The circuit of a level sensor as data: parts with their terminals, and the wires that join them.

A circuit is a document (``rasante.circuit/1``), made from choices by `circuit_kinds`, and every reader of it, the
drawing, the terminal list, the rules, the budget and the meter, goes by the document alone.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..errors import InputError, Problem

FORMAT = "rasante.circuit/1"
MOST_PARTS, MOST_WIRES = 40, 120


@dataclass(frozen=True)
class PartKind:
    """What a kind of part has.

    Parameters
    ----------
    label : str
        Its name on the screen.
    terminals : tuple of str
        Its terminals; those of a cable come from its cores.
    values : mapping of str to float
        Its values with what they are where nothing is said; units stand in the names.
    """

    label: str
    terminals: tuple[str, ...]
    values: Mapping[str, float]


PART_KINDS: dict[str, PartKind] = {
    "supply": PartKind("Supply", ("+", "−"), {"volt_min": 21.6, "volt": 24.0, "volt_max": 26.4, "ohm": 0.1}),
    "fuse": PartKind("Fuse", ("1", "2"), {"rating_a": 0.1, "ohm": 5.0}),
    "barrier": PartKind("Barrier", ("1", "2", "3", "4"), {"ohm": 150.0, "return_ohm": 150.0}),
    "terminals": PartKind("Terminals", (), {}),
    "connector": PartKind("Connector", (), {}),
    "cable": PartKind("Cable", (), {"area_mm2": 0.5, "length_m": 10.0, "temperature_c": 20.0}),
    "two_wire": PartKind("Transmitter, two-wire", ("+", "−"), {"lift_off_v": 10.0, "volt_max": 36.0}),
    "three_wire": PartKind(
        "Sensor, three-wire voltage",
        ("V+", "out", "V−"),
        {
            "lift_off_v": 12.0,
            "volt_max": 30.0,
            "draw_a": 0.02,
            "out_low_v": 0.0,
            "out_high_v": 10.0,
            "out_ohm": 100.0,
        },
    ),
    "four_wire": PartKind(
        "Transmitter, four-wire active",
        ("V+", "V−", "out+", "out−"),
        {"lift_off_v": 18.0, "volt_max": 30.0, "draw_a": 0.08, "drive_v": 15.0},
    ),
    "contact": PartKind("Level switch, contact", ("c", "no"), {"closed_ohm": 0.2}),
    "digital": PartKind(
        "Sensor, digital", ("V+", "V−", "A", "B"), {"lift_off_v": 9.0, "volt_max": 30.0, "draw_a": 0.03}
    ),
    "current_input": PartKind("Input, 4–20 mA", ("+", "−"), {"ohm": 250.0, "supplies_v": 0.0}),
    "voltage_input": PartKind("Input, voltage", ("+", "−"), {"ohm": 1e6}),
    "contact_input": PartKind("Input, contact", ("+", "−"), {"ohm": 3000.0}),
    "digital_input": PartKind("Port, RS-485", ("A", "B", "−"), {"ohm": 120.0}),
    "meter": PartKind("Panel meter", ("+", "−"), {"ohm": 50.0}),
    "burden": PartKind("Burden", ("1", "2"), {"ohm": 250.0}),
    "earth": PartKind("Earth bar", ("e",), {}),
}
SENSORS = ("two_wire", "three_wire", "four_wire", "contact", "digital")
INPUTS = ("current_input", "voltage_input", "contact_input", "digital_input")


@dataclass(frozen=True)
class Part:
    """One part.

    Parameters
    ----------
    id, kind, name : str
        Its tag in the circuit, its kind (a key of `PART_KINDS`), and what people call it.
    place : str
        Where it is: ``panel``, ``run`` or ``field``.
    values : mapping of str to float
        As `PART_KINDS` names them.
    cores : tuple of str
        Of a cable, a row of terminals or a connector: its conductors or pins, by number.
    shielded : bool
        Of a cable: whether it has a shield.
    """

    id: str
    kind: str
    name: str
    place: str
    values: Mapping[str, float] = field(default_factory=dict)
    cores: tuple[str, ...] = ()
    shielded: bool = False

    @property
    def terminals(self) -> tuple[str, ...]:
        """Its terminals' names; a cable has each core at its panel end (a) and at its field end (b)."""
        if self.kind == "cable":
            cores = (*self.cores, "S") if self.shielded else self.cores
            return tuple(f"{core}{end}" for core in cores for end in "ab")
        if self.kind in ("terminals", "connector"):
            return self.cores
        return PART_KINDS[self.kind].terminals

    def value(self, key: str) -> float:
        """One of its values, or what its kind has where nothing is said."""
        return float(self.values.get(key, PART_KINDS[self.kind].values[key]))


@dataclass(frozen=True)
class Wire:
    """One connection between two terminals, ``part.terminal``, with what is written on the wire."""

    id: str
    a: str
    b: str
    mark: str = ""


@dataclass(frozen=True)
class Circuit:
    """A circuit: what kind of link it is, its parts and its wires."""

    kind: str
    parts: tuple[Part, ...]
    wires: tuple[Wire, ...]

    def part(self, id: str) -> Part:
        """Return a part by its tag."""
        return next(part for part in self.parts if part.id == id)

    def of_kind(self, *kinds: str) -> list[Part]:
        """Return the parts of some kinds."""
        return [part for part in self.parts if part.kind in kinds]

    @property
    def sensor(self) -> Part:
        """The sensor, of which there is one."""
        return self.of_kind(*SENSORS)[0]

    @property
    def points(self) -> list[str]:
        """Every terminal, as ``part.terminal``."""
        return [f"{part.id}.{terminal}" for part in self.parts for terminal in part.terminals]

    def name(self, point: str) -> str:
        """Write a terminal as people say it."""
        id, _, terminal = point.partition(".")
        part = self.part(id)
        if part.kind == "cable":
            core, end = terminal[:-1], "panel end" if terminal[-1] == "a" else "field end"
            return f"{part.name} {'shield' if core == 'S' else f'core {core}'}, {end}"
        return f"{part.name} pin {terminal}" if part.kind == "connector" else f"{part.name} {terminal}"


def circuit_document(circuit: Circuit) -> dict[str, Any]:
    """Write a circuit as its document."""
    parts = []
    for part in circuit.parts:
        entry: dict[str, Any] = {"id": part.id, "kind": part.kind, "name": part.name, "place": part.place}
        if part.values:
            entry["values"] = dict(part.values)
        if part.cores:
            entry["cores"] = list(part.cores)
        if part.shielded:
            entry["shielded"] = True
        parts.append(entry)
    wires = [{"id": w.id, "a": w.a, "b": w.b, **({"mark": w.mark} if w.mark else {})} for w in circuit.wires]
    return {"format": FORMAT, "kind": circuit.kind, "parts": parts, "wires": wires}


def check_circuit(document: Any) -> Circuit:
    """Build a circuit from its document.

    Raises
    ------
    InputError
        With every problem at its place: an unknown kind, value or terminal, a part named twice, no sensor.
    """
    if not isinstance(document, Mapping) or document.get("format") != FORMAT:
        raise InputError.at("format", f"must be “{FORMAT}”: this is no circuit")
    problems: list[Problem] = []
    parts: list[Part] = []
    for index, entry in enumerate(_list(document, "parts", MOST_PARTS)):
        where = f"parts[{index}]"
        if not isinstance(entry, Mapping) or entry.get("kind") not in PART_KINDS:
            problems.append(Problem(f"{where}.kind", f"must be one of {', '.join(PART_KINDS)}"))
            continue
        known = PART_KINDS[entry["kind"]].values
        values = entry.get("values", {})
        bad = [key for key, value in values.items() if key not in known or not _amount(value)]
        problems.extend(Problem(f"{where}.values.{key}", "is not known here, or no number from 0 up") for key in bad)
        id = entry.get("id")
        if not isinstance(id, str) or not id or "." in id or any(part.id == id for part in parts):
            problems.append(Problem(f"{where}.id", "must be a name of its own, without a full stop"))
            continue
        cores = tuple(str(core) for core in entry.get("cores", ()))
        name, place = str(entry.get("name", id)), str(entry.get("place", "panel"))
        if not bad:
            parts.append(Part(id, entry["kind"], name, place, dict(values), cores, bool(entry.get("shielded"))))
    circuit = Circuit(str(document.get("kind", "")), tuple(parts), ())
    points = set(circuit.points)
    wires: list[Wire] = []
    for index, entry in enumerate(_list(document, "wires", MOST_WIRES)):
        for end in ("a", "b"):
            if not isinstance(entry, Mapping) or entry.get(end) not in points:
                shown = entry.get(end) if isinstance(entry, Mapping) else entry
                problems.append(Problem(f"wires[{index}].{end}", f"“{shown}” is no terminal of this circuit"))
        if isinstance(entry, Mapping):
            wires.append(
                Wire(
                    str(entry.get("id", index)), str(entry.get("a")), str(entry.get("b")), str(entry.get("mark", ""))
                )
            )
    if len(circuit.of_kind(*SENSORS)) != 1:
        problems.append(Problem("parts", "must have one sensor, and one only"))
    if problems:
        raise InputError(*problems)
    return Circuit(circuit.kind, circuit.parts, tuple(wires))


def _list(document: Mapping[str, Any], key: str, most: int) -> Sequence[Any]:
    value = document.get(key)
    if not isinstance(value, list) or len(value) > most:
        raise InputError.at(key, f"must be a list of at most {most}")
    return value


def _amount(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value < 1e12
