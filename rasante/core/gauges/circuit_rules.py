"""Rules that a circuit must keep, each found broken with what to do about it."""

from __future__ import annotations

from ..errors import InputError
from ..judgement import Judgement
from .circuit import Circuit
from .circuit_network import Condition, elements, joined
from .network import Drive, Resistor, Source, solve

_ORDER = {"stop": 0, "watch": 1, "good": 2}


def judge_circuit(circuit: Circuit, flammable: bool = False) -> list[Judgement]:
    """Judge a circuit as it is wired.

    Parameters
    ----------
    circuit : Circuit
        The circuit.
    flammable : bool
        Whether the sensor is where flammable vapour can be.

    Returns
    -------
    list of Judgement
        The heaviest first; at least one.

    Notes
    -----
    Common practice, no published source: one supply in a loop and one only, the right way round, a fuse behind the
    supply, the minus of a voltage signal common with its reader, a shield earthed at one end.
    """
    found = [*_shorts(circuit), *_shield(circuit), *_open_ends(circuit), *_grounds(circuit), *_fuse(circuit)]
    try:
        found += [*_supplies(circuit), *_polarity(circuit), *_supply_limits(circuit)]
    except InputError as error:
        what = error.problems[0].what
        found.append(Judgement("stop", "unsolved", f"{what[:1].upper()}{what[1:]}."))
    if flammable and not circuit.of_kind("barrier"):
        found.append(
            Judgement(
                "watch",
                "no-barrier",
                "Flammable vapour and no barrier in the loop: it takes an intrinsically safe loop or another "
                "approved protection. The area's classification decides, not this page.",
            )
        )
    if not any(judgement.weight == "stop" for judgement in found):
        found.append(Judgement("good", "wired", "The circuit is closed, with one supply the right way round."))
    return sorted(found, key=lambda judgement: _ORDER[judgement.weight])


def _shorts(circuit: Circuit) -> list[Judgement]:
    node = joined(circuit)
    found = []
    for part in circuit.of_kind("supply"):
        if node[f"{part.id}.+"] == node[f"{part.id}.−"]:
            found.append(Judgement("stop", "short", f"{part.name} + and − are joined: a dead short."))
    sensor = circuit.sensor
    ends = ("+", "−") if sensor.kind == "two_wire" else ("V+", "V−")
    if sensor.kind != "contact" and node[f"{sensor.id}.{ends[0]}"] == node[f"{sensor.id}.{ends[1]}"]:
        found.append(Judgement("stop", "sensor-short", f"{sensor.name} is bridged: it gets no voltage."))
    return found


def _powering(circuit: Circuit) -> list[str]:
    """The parts that drive current around the sensor's signal loop, each tried alone."""
    sensor = circuit.sensor
    signal = sensor.id if sensor.kind == "two_wire" else "input"
    all_elements = elements(circuit, Condition())
    drivers = [e for e in all_elements if isinstance(e, Source | Drive)]
    found = []
    for driver in drivers:
        # The others are taken out and bridged: an output that is at rest still closes the loop.
        rest = [e for e in all_elements if e is driver or not isinstance(e, Source | Drive)]
        bridges = [Resistor(e.name, e.plus, e.minus, 1.0) for e in drivers if e is not driver and e.plus != e.minus]
        solution = solve([*rest, *bridges])
        if abs(solution.current.get(signal, 0.0)) > 1e-4 or solution.state.get(signal) == "blocked":
            id = driver.name.partition(".")[0]
            found.append(circuit.part(id).name)
    return found


def _supplies(circuit: Circuit) -> list[Judgement]:
    if circuit.sensor.kind not in ("two_wire", "four_wire"):
        return []
    powering = _powering(circuit)
    if not powering:
        return [
            Judgement(
                "stop",
                "no-supply",
                "Nothing drives this loop: a passive input and a passive transmitter need a supply between them.",
            )
        ]
    if len(powering) > 1:
        names = " and ".join(powering)
        return [
            Judgement(
                "stop",
                "two-supplies",
                f"{names} both drive this loop: an active output belongs on a passive input. Take one out.",
            )
        ]
    return []


def _polarity(circuit: Circuit) -> list[Judgement]:
    solution = solve(elements(circuit, Condition(current_a=0.012)))
    found = []
    for name, state in solution.state.items():
        id = name.partition(".")[0]
        if state == "blocked":
            text = f"{circuit.part(id).name} is the wrong way round: swap its plus and minus."
            found.append(Judgement("stop", "reversed", text))
        elif state == "blown":
            found.append(Judgement("stop", "fuse-blows", f"{circuit.part(id).name} blows as this is wired."))
        elif state == "starved":
            found.append(_starved(circuit, id, abs(solution.current[name])))
    input_part = circuit.part("input")
    if solution.current.get(input_part.id, 0.0) < -1e-6 and input_part.kind != "digital_input":
        found.append(
            Judgement("stop", "input-reversed", f"{input_part.name} is the wrong way round: it reads below nothing.")
        )
    return found


def _starved(circuit: Circuit, id: str, current: float) -> Judgement:
    part = circuit.part(id)
    if current < 1e-5:
        return Judgement("stop", "open", f"No current reaches {part.name}: the circuit is open somewhere.")
    return Judgement("stop", "starved", f"{part.name} has too little voltage at 12 mA and the nominal supply.")


def _shield(circuit: Circuit) -> list[Judgement]:
    shielded = [part for part in circuit.of_kind("cable") if part.shielded]
    if not shielded:
        return []
    node = joined(circuit)
    earths = {node[f"{part.id}.e"] for part in circuit.of_kind("earth")}
    ends = [f"{part.id}.S{end}" for part in shielded for end in "ab"]
    earthed = [end for end in ends if node[end] in earths]
    if not earthed:
        return [
            Judgement(
                "watch", "shield-floats", "The shield is earthed nowhere: earth it at one end, usually the panel."
            )
        ]
    if len(earthed) > 1:
        return [
            Judgement(
                "watch",
                "shield-loop",
                "The shield is earthed at both ends: currents between the earths run through it. Earth one end only.",
            )
        ]
    return []


def _open_ends(circuit: Circuit) -> list[Judgement]:
    wired = {end for wire in circuit.wires for end in (wire.a, wire.b)}
    spare = ("earth", "connector")
    loose = [
        circuit.name(f"{part.id}.{terminal}")
        for part in circuit.parts
        if part.kind not in spare
        for terminal in part.terminals
        if f"{part.id}.{terminal}" not in wired and not terminal.startswith("S")
    ]
    if not loose:
        return []
    shown = ", ".join(loose[:4]) + (f" and {len(loose) - 4} more" if len(loose) > 4 else "")
    return [Judgement("stop", "not-connected", f"Not connected: {shown}.")]


def _grounds(circuit: Circuit) -> list[Judgement]:
    """A voltage or a contact is read against the supply's minus: reader and supply must share it."""
    if circuit.sensor.kind not in ("three_wire", "digital", "contact"):
        return []
    node = joined(circuit)
    supply = circuit.of_kind("supply")
    if supply and node["input.−"] != node[f"{supply[0].id}.−"]:
        return [
            Judgement(
                "stop",
                "no-common",
                "The input's minus is not common with the supply's: its reading floats. Join them.",
            )
        ]
    return []


def _supply_limits(circuit: Circuit) -> list[Judgement]:
    """What reaches a sensor with supply wires of its own; a two-wire loop has its budget for that."""
    sensor = circuit.sensor
    if sensor.kind not in ("three_wire", "four_wire", "digital"):
        return []
    node = joined(circuit)
    ends = node[f"{sensor.id}.V+"], node[f"{sensor.id}.V−"]
    found = []
    most = solve(elements(circuit, Condition(supply="volt_max"))).volts(*ends) or 0.0
    least = solve(elements(circuit, Condition(supply="volt_min"))).volts(*ends) or 0.0
    if most > sensor.value("volt_max"):
        text = f"Up to {most:.1f} V reach {sensor.name}; it bears {sensor.value('volt_max'):g} V."
        found.append(Judgement("stop", "supply-high", text))
    if 1.0 < least < sensor.value("lift_off_v"):
        text = f"As little as {least:.1f} V reach {sensor.name}; it needs {sensor.value('lift_off_v'):g} V."
        found.append(Judgement("stop", "supply-low", text))
    return found


def _fuse(circuit: Circuit) -> list[Judgement]:
    if circuit.of_kind("supply") and not circuit.of_kind("fuse"):
        return [
            Judgement("watch", "no-fuse", "No fuse behind the supply: a short in the cable takes the supply down.")
        ]
    return []
