"""The circuit of a level sensor as data: parts with their terminals, and the wires that join them.

A circuit is a document (``rasante.circuit/1``), made from choices by `circuit_kinds`, and every reader of it, the
drawing, the terminal list, the rules, the budget and the meter, goes by the document alone.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache, cached_property
from typing import Any

from ..quantities.errors import InputError, Problem
from ..quantities.schema_words import schema_problems, validator_of
from ..quantities.text import refuse_what_cannot_be_kept

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
    # What its certificate states is 0 here until it is stated: see `entity`.
    "barrier": PartKind(
        "Barrier",
        ("1", "2", "3", "4"),
        {"ohm": 150.0, "return_ohm": 150.0, **dict.fromkeys(("work_v", "uo_v", "io_a", "po_w", "co_f", "lo_h"), 0.0)},
    ),
    "terminals": PartKind("Terminals", (), {}),
    "connector": PartKind("Connector", (), {}),
    "cable": PartKind("Cable", (), {"area_mm2": 0.5, "length_m": 10.0, "temperature_c": 20.0}),
    "two_wire": PartKind(
        "Transmitter, two-wire",
        ("+", "−"),
        {"lift_off_v": 10.0, "volt_max": 36.0, **dict.fromkeys(("ui_v", "ii_a", "pi_w", "ci_f", "li_h"), 0.0)},
    ),
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
    "calibrator": PartKind("Loop calibrator", ("+", "−"), {"amp": 0.012, "lift_off_v": 2.0}),
    "sourcing_calibrator": PartKind("Loop calibrator, sourcing", ("+", "−"), {"amp": 0.012, "drive_v": 20.0}),
    "earth": PartKind("Earth bar", ("e",), {}),
}
SENSORS = ("two_wire", "three_wire", "four_wire", "contact", "digital")


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

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash((self.id, self.kind, self.place, tuple(sorted(self.values.items())), self.cores, self.shielded))

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
    """One connection between two terminals, ``part.terminal``.

    Parameters
    ----------
    id, a, b, mark : str
        Its tag, its ends, and what is written on the wire.
    ohm : float
        Its resistance with its splices [Ω]; 0 for a perfect one.
    """

    id: str
    a: str
    b: str
    mark: str = ""
    ohm: float = 0.0


@dataclass(frozen=True)
class Leakage:
    """What joins two terminals that nothing should join: a wet splice, a chafed core [Ω]."""

    a: str
    b: str
    ohm: float


@dataclass(frozen=True)
class Circuit:
    """A circuit: what kind of link it is, its parts and its wires, and where it leaks."""

    kind: str
    parts: tuple[Part, ...]
    wires: tuple[Wire, ...]
    leaks: tuple[Leakage, ...] = ()

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        """Asked for at every look into what is remembered of a circuit."""
        return hash((self.kind, self.parts, self.wires, self.leaks))

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
    wires = [
        {
            "id": w.id,
            "a": w.a,
            "b": w.b,
            **({"mark": w.mark} if w.mark else {}),
            **({"ohm": w.ohm} if w.ohm else {}),
        }
        for w in circuit.wires
    ]
    found: dict[str, Any] = {"format": FORMAT, "kind": circuit.kind, "parts": parts, "wires": wires}
    if circuit.leaks:
        found["leaks"] = [{"a": leak.a, "b": leak.b, "ohm": leak.ohm} for leak in circuit.leaks]
    return found


@cache
def circuit_schema() -> dict[str, Any]:
    """Return the JSON Schema of a circuit's document; what is joined to what is checked beside it."""
    text = {"type": "string", "maxLength": 80}
    point = {"type": "string", "minLength": 1, "maxLength": 80, "description": "A terminal, part.terminal"}
    amount = {"type": "number", "minimum": 0, "exclusiveMaximum": 1e12}

    def thing(needed: list[str], **properties: Any) -> dict[str, Any]:
        return {"type": "object", "additionalProperties": False, "required": needed, "properties": properties}

    part = thing(
        ["id", "kind"],
        id={"type": "string", "pattern": r"^[^.]+$", "maxLength": 80, "description": "Its own, without a full stop"},
        kind={"enum": list(PART_KINDS)},
        name=text,
        place=text,
        values={"type": "object", "additionalProperties": amount},
        cores={"type": "array", "maxItems": 64, "items": {"type": ["string", "integer"]}},
        shielded={"type": "boolean"},
    )
    wire = thing(["a", "b"], id=text, a=point, b=point, mark=text, ohm=amount)
    leak = thing(["a", "b", "ohm"], a=point, b=point, ohm={**amount, "exclusiveMinimum": 0})
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Circuit of a level sensor",
        **thing(
            ["format", "parts", "wires"],
            format={"const": FORMAT},
            kind=text,
            parts={"type": "array", "maxItems": MOST_PARTS, "items": part},
            wires={"type": "array", "maxItems": MOST_WIRES, "items": wire},
            leaks={"type": "array", "maxItems": MOST_WIRES, "items": leak},
        ),
    }


@cache
def _validator() -> Any:
    return validator_of(circuit_schema())


def read_json(text: str) -> Any:
    """Read the text of a circuit's file.

    Raises
    ------
    InputError
        If it is no JSON.
    """
    try:
        document = json.loads(text)
        refuse_what_cannot_be_kept(document)
        return document
    except InputError:
        raise
    except (ValueError, RecursionError) as error:
        raise InputError.at("text", f"is no circuit's file: {error}") from None


def check_circuit(document: Any) -> Circuit:
    """Build a circuit from its document.

    Raises
    ------
    InputError
        With every problem at its place: an unknown kind, value or terminal, a part named twice, no sensor.
    """
    if not isinstance(document, Mapping) or document.get("format") != FORMAT:
        raise InputError.at("format", f"must be “{FORMAT}”: this is no circuit")
    wrong = schema_problems(_validator(), document)
    if wrong:
        raise InputError(*wrong)
    problems: list[Problem] = []
    parts: list[Part] = []
    for index, entry in enumerate(document["parts"]):
        where, id, kind = f"parts[{index}]", entry["id"], entry["kind"]
        known, values = PART_KINDS[kind].values, entry.get("values", {})
        problems += [
            Problem(f"{where}.values.{key}", f"is not known of a {PART_KINDS[kind].label.lower()}: it has "
                    f"{', '.join(known) or 'no values'}")
            for key in values
            if key not in known
        ]  # fmt: skip
        if any(part.id == id for part in parts):
            problems.append(Problem(f"{where}.id", f"“{id}” is another part already: name it apart"))
        cores = tuple(str(core) for core in entry.get("cores", ()))
        shielded = bool(entry.get("shielded", False))
        parts.append(
            Part(id, kind, entry.get("name", id), entry.get("place", "panel"), dict(values), cores, shielded)
        )
    circuit = Circuit(document.get("kind", ""), tuple(parts), ())
    points = set(circuit.points)
    for key in ("wires", "leaks"):
        problems += [
            Problem(f"{key}[{index}].{end}", f"“{entry[end]}” is no terminal of this circuit")
            for index, entry in enumerate(document.get(key, ()))
            for end in ("a", "b")
            if entry[end] not in points
        ]
    if len(circuit.of_kind(*SENSORS)) != 1:
        problems.append(Problem("parts", "must have one sensor, and one only"))
    if problems:
        raise InputError(*problems)
    wires = tuple(
        Wire(str(w.get("id", index)), w["a"], w["b"], w.get("mark", ""), float(w.get("ohm", 0.0)))
        for index, w in enumerate(document["wires"])
    )
    leaks = tuple(Leakage(leak["a"], leak["b"], float(leak["ohm"])) for leak in document.get("leaks", ()))
    return Circuit(circuit.kind, circuit.parts, wires, leaks)
