"""A circuit's document back into the choices that make it: what was handed out as a file is taken in again."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..quantities.errors import InputError
from .circuit import Circuit, Part, check_circuit, circuit_document
from .circuit_kinds import LINKS, NOWHERE, SENSOR_FIELDS, SHIELDS, VOLTAGES, read_wiring
from .entity import BARRIER, SENSOR

#: How a value of each quantity is written, by what it is divided by.
_UNITS = {
    "voltage": ("V", 1.0), "current": ("mA", 1e-3), "resistance": ("Ω", 1.0), "power": ("mW", 1e-3),
    "capacitance": ("nF", 1e-9), "inductance": ("mH", 1e-3),
}  # fmt: skip


def _text(value: float, quantity: str) -> str:
    unit, size = _UNITS[quantity]
    return f"{value / size:.12g} {unit}"


def _values(part: Part, path: str, fields: Mapping[str, tuple[str, str]]) -> dict[str, str]:
    return {f"{path}.{field}": _text(part.values[key], q) for key, (field, q) in fields.items() if key in part.values}


def choices_of(document: Any) -> dict[str, str]:
    """Write a circuit's document as the fields that `circuit_kinds.read_wiring` makes it from.

    Parameters
    ----------
    document : mapping
        A ``rasante.circuit/1`` document.

    Returns
    -------
    dict of str to str
        Fields as they are typed; wires whose ends lie otherwise than planned among them.

    Raises
    ------
    InputError
        As `check_circuit`; or if the circuit has parts that no choice makes: it is named then.
    """
    circuit = check_circuit(document)
    sensor = circuit.sensor
    if sensor.kind not in LINKS:
        raise InputError.at("kind", f"a circuit is for one of {', '.join(LINKS)}")
    fields = SENSOR_FIELDS[sensor.kind] | {key: one[1:3] for key, one in SENSOR.items()}
    found = {"kind": sensor.kind, **_values(sensor, "sensor", fields)}
    if sensor.kind == "three_wire":
        ends = (sensor.value("out_low_v"), sensor.value("out_high_v"))
        output = next((key for key, volts in VOLTAGES.items() if volts == ends), None)
        if output is None:
            raise InputError.at("parts", f"no output of {ends[0]:g} to {ends[1]:g} V is known here")
        found["output"] = output
    found |= dict(_in_panel(circuit))
    found |= dict(_runs(circuit))
    planned = read_wiring(found, "metric")
    found |= dict(_moved(circuit, planned.planned))
    made = read_wiring(found, "metric")
    made.form.require()
    _refuse_what_is_lost(circuit, made.circuit)
    return found


def _in_panel(circuit: Circuit) -> Iterator[tuple[str, str]]:
    there = {part.id: part for part in circuit.parts}
    if "supply" in there:
        volts = (("volt_min", "least"), ("volt", "nominal"), ("volt_max", "most"))
        for key, field in volts:
            yield f"supply.{field}", _text(there["supply"].value(key), "voltage")
        yield "fuse", "yes" if "fuse" in there else "no"
    if "fuse" in there:
        yield "fuse.rating", _text(there["fuse"].value("rating_a"), "current")
    inlet = there.get("input")
    if inlet is not None:
        if "ohm" in inlet.values:
            yield "input.ohm", _text(inlet.values["ohm"], "resistance")
        fed = inlet.values.get("supplies_v", 0.0)
        if fed:
            yield "input.mode", "both" if "supply" in there and circuit.sensor.kind == "two_wire" else "active"
            yield "input.volt", _text(fed, "voltage")
    if circuit.sensor.kind == "two_wire":
        yield "barrier", "yes" if "barrier" in there else "no"
    if "barrier" in there:
        ohm = {"ohm": ("ohm", "resistance"), "return_ohm": ("return_ohm", "resistance")}
        yield from _values(there["barrier"], "barrier", ohm | {key: one[1:3] for key, one in BARRIER.items()}).items()
    for id, key, path, quantity in (
        ("meter", "ohm", "meter.ohm", "resistance"),
        ("calibrator", "amp", "calibrator.current", "current"),
    ):
        if id in there:
            yield id, "yes"
            yield path, _text(there[id].value(key), quantity)
    if "burden" in there:
        yield "burden.ohm", _text(there["burden"].value("ohm"), "resistance")


def _runs(circuit: Circuit) -> Iterator[tuple[str, str]]:
    cables = circuit.of_kind("cable")
    for index, cable in enumerate(cables):
        yield f"cable[{index}].name", cable.name
        yield f"cable[{index}].length", f"{cable.value('length_m'):.12g} m"
        yield f"cable[{index}].size", f"{cable.value('area_mm2'):.12g} mm2"
        if "temperature_c" in cable.values:
            yield f"cable[{index}].temperature", f"{cable.values['temperature_c']:.12g} °C"
    there = {part.id for part in circuit.parts}
    shielded = any(cable.shielded for cable in cables)
    shield = "both" if {"earth", "earth2"} <= there else "field" if "earth2" in there else "panel"
    yield "shield", ("no" if "no" in SHIELDS and not shielded else shield if there & {"earth", "earth2"} else "none")
    if "plug" in there:
        yield "connector", "yes"


def _moved(circuit: Circuit, planned: Any) -> Iterator[tuple[str, str]]:
    """The ends that lie otherwise than planned, the wires that are not there, and those that should not be."""
    there = {wire.id: wire for wire in circuit.wires}
    for wire in planned:
        real = there.pop(wire.id, None)
        if real is None:
            yield f"end.{wire.id}.a", NOWHERE
            continue
        for end in ("a", "b"):
            if getattr(real, end) != getattr(wire, end):
                yield f"end.{wire.id}.{end}", getattr(real, end)
    for index, wire in enumerate(there.values()):
        yield f"extra[{index}].a", wire.a
        yield f"extra[{index}].b", wire.b


def _refuse_what_is_lost(wanted: Circuit, made: Circuit) -> None:
    """Refuse a circuit that the choices do not make again, and name the first thing that would be lost."""
    parts = {part.id: part for part in made.parts}
    for part in wanted.parts:
        again = parts.get(part.id)
        if again is None or again.kind != part.kind:
            raise InputError.at(
                "parts", f"“{part.name}” ({part.kind}) is a part that no choice here makes: take it out"
            )
        for key, value in part.values.items():
            if abs(again.value(key) - value) > 1e-9 * max(abs(value), 1e-9):
                raise InputError.at("parts", f"{part.name}: {key} of {value:g} cannot be chosen here")
    joined = sorted(tuple(sorted((wire["a"], wire["b"]))) for wire in circuit_document(made)["wires"])
    if joined != sorted(tuple(sorted((wire.a, wire.b))) for wire in wanted.wires) or wanted.leaks:
        raise InputError.at("wires", "some of its wires or leaks cannot be chosen here: join them at Move ends")
