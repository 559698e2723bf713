"""Rules that a circuit must keep, each found broken with what to do about it."""

from __future__ import annotations

from dataclasses import replace

from ..quantities.errors import InputError
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from .circuit import Circuit
from .circuit_network import Condition, elements, joined
from .entity import judge_entity, loop_of
from .network import Drive, Resistor, Source, solve


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
    found = [
        *_left_in(circuit),
        *_shorts(circuit),
        *_shield(circuit),
        *_open_ends(circuit),
        *_grounds(circuit),
        *_fuse(circuit),
    ]
    try:
        found += [*_supplies(circuit), *_polarity(circuit), *_supply_limits(circuit)]
    except InputError as error:
        what = error.problems[0].what
        found.append(stop("unsolved", "{what}.", what=f"{what[:1].upper()}{what[1:]}"))
    if flammable and not circuit.of_kind("barrier"):
        found.append(
            watch(
                "no-barrier",
                "Flammable vapour and no barrier in the loop: it takes an intrinsically safe loop or another "
                "approved protection. The area's classification decides, not this page.",
            )
        )
    loop = loop_of(circuit)
    if loop is not None:
        found += judge_entity(loop)
    if not any(judgement.weight == "stop" for judgement in found):
        found.append(good("wired", "The circuit is closed, with one supply the right way round."))
    return by_weight(found)


def _left_in(circuit: Circuit) -> list[Judgement]:
    """A calibrator in the loop: what it sends is read for the sensor's."""
    text = "{part} is left in the loop: {value:.3g} mA is what it sends, whatever the tank holds. Take it out."
    return [
        stop("calibrator", text, part=part.name, value=part.value("amp") * 1000)
        for part in circuit.of_kind("calibrator")
    ]


def _shorts(circuit: Circuit) -> list[Judgement]:
    node = joined(circuit)
    found = []
    for part in circuit.of_kind("supply"):
        if node[f"{part.id}.+"] == node[f"{part.id}.−"]:
            found.append(stop("short", "{part} + and − are joined: a dead short.", part=part.name))
    sensor = circuit.sensor
    ends = ("+", "−") if sensor.kind == "two_wire" else ("V+", "V−")
    if sensor.kind != "contact" and node[f"{sensor.id}.{ends[0]}"] == node[f"{sensor.id}.{ends[1]}"]:
        found.append(stop("sensor-short", "{part} is bridged: it gets no voltage.", part=sensor.name))
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
        # What drives by a supply of its own is tried as if it were powered.
        alone = replace(driver, feed="") if isinstance(driver, Drive) else driver
        rest = [alone if e is driver else e for e in all_elements if e is driver or not isinstance(e, Source | Drive)]
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
            stop(
                "no-supply",
                "Nothing drives this loop: a passive input and a passive transmitter need a supply between them.",
            )
        ]
    if len(powering) > 1:
        names = " and ".join(powering)
        return [
            stop(
                "two-supplies",
                "{names} both drive this loop: an active output belongs on a passive input. Take one out.",
                names=names,
            )
        ]
    return []


def _polarity(circuit: Circuit) -> list[Judgement]:
    solution = solve(elements(circuit, Condition(current_a=0.012)))
    found = []
    for name, state in solution.state.items():
        id = name.partition(".")[0]
        if state == "blocked":
            text = "{part} is the wrong way round: swap its plus and minus."
            found.append(stop("reversed", text, part=circuit.part(id).name))
        elif state == "blown":
            found.append(stop("fuse-blows", "{part} blows as this is wired.", part=circuit.part(id).name))
        elif state == "starved":
            found.append(_starved(circuit, id, abs(solution.current[name])))
    input_part = circuit.part("input")
    if solution.current.get(input_part.id, 0.0) < -1e-6 and input_part.kind != "digital_input":
        found.append(
            stop("input-reversed", "{part} is the wrong way round: it reads below nothing.", part=input_part.name)
        )
    return found


def _starved(circuit: Circuit, id: str, current: float) -> Judgement:
    part = circuit.part(id)
    if current < 1e-5:
        return stop("open", "No current reaches {part}: the circuit is open somewhere.", part=part.name)
    return stop("starved", "{part} has too little voltage at 12 mA and the nominal supply.", part=part.name)


def _shield(circuit: Circuit) -> list[Judgement]:
    shielded = [part for part in circuit.of_kind("cable") if part.shielded]
    if not shielded:
        return []
    node = joined(circuit)
    earths = {node[f"{part.id}.e"] for part in circuit.of_kind("earth")}
    ends = [f"{part.id}.S{end}" for part in shielded for end in "ab"]
    earthed = [end for end in ends if node[end] in earths]
    if not earthed:
        return [watch("shield-floats", "The shield is earthed nowhere: earth it at one end, usually the panel.")]
    if len(earthed) > 1:
        return [
            watch(
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
    return [stop("not-connected", "Not connected: {points}.", points=shown)]


def _grounds(circuit: Circuit) -> list[Judgement]:
    """A voltage or a contact is read against the supply's minus: reader and supply must share it."""
    if circuit.sensor.kind not in ("three_wire", "digital", "contact"):
        return []
    node = joined(circuit)
    supply = circuit.of_kind("supply")
    if supply and node["input.−"] != node[f"{supply[0].id}.−"]:
        return [
            stop(
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
        text = "Up to {value:.1f} V reach {part}; it bears {limit:g} V."
        found.append(stop("supply-high", text, value=most, limit=sensor.value("volt_max"), part=sensor.name))
    if 1.0 < least < sensor.value("lift_off_v"):
        text = "As little as {value:.1f} V reach {part}; it needs {limit:g} V."
        found.append(stop("supply-low", text, value=least, limit=sensor.value("lift_off_v"), part=sensor.name))
    return found


def _fuse(circuit: Circuit) -> list[Judgement]:
    if circuit.of_kind("supply") and not circuit.of_kind("fuse"):
        return [watch("no-fuse", "No fuse behind the supply: a short in the cable takes the supply down.")]
    return []
