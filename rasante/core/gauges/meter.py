"""The process meter: its leads on any two terminals, and what it shows by the network as it is wired."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..errors import InputError
from .circuit import Circuit
from .circuit_network import Condition, elements, joined
from .network import Element, Fuse, Resistor, Solution, Source, solve

#: What it can be set to, with the word on its dial.
SETTINGS: dict[str, str] = {"V": "Volts DC", "mA": "Milliamperes DC", "Ω": "Ohms"}
#: A usual hand-held meter: what its volts range bridges, its milliampere shunt, that fuse, and what it tests ohms
#: with. Common practice, no published source.
VOLT_OHM, SHUNT_OHM, FUSE_A = 1e7, 5.0, 0.44
_TEST_V, _TEST_OHM, _MOST_OHM = 0.5, 1000.0, 4e7
_METER = "meter~lead"


@dataclass(frozen=True)
class Reading:
    """What the meter shows.

    Parameters
    ----------
    value : float or None
        In SI [V, A, Ω]; None where it shows overload, an open end, or should not have been put there.
    shows : str
        The display, with its unit.
    says : str
        What that means here, and what to mind.
    caution : bool
        Whether it should not be done like this.
    """

    value: float | None
    shows: str
    says: str
    caution: bool = False


def read_meter(circuit: Circuit, setting: str, red: str, black: str, condition: Condition) -> Reading:
    """Read the meter.

    Parameters
    ----------
    circuit : Circuit
        The circuit.
    setting : {"V", "mA", "Ω"}
        Where its dial stands.
    red, black : str
        The terminals that its leads touch, ``part.terminal``; the black one, the common, may also touch the free
        end of a lifted wire, ``wire~``, as the red one may.
    condition : Condition
        What the circuit is in, with its lifted wires.

    Returns
    -------
    Reading
        What it shows.

    Raises
    ------
    InputError
        At ``setting``, ``red`` or ``black``.
    """
    if setting not in SETTINGS:
        raise InputError.at("setting", f"must be one of {', '.join(SETTINGS)}")
    node = joined(circuit, condition.lifted)
    ends = []
    for key, point in (("red", red), ("black", black)):
        place = lifted_ends(circuit, condition.lifted).get(point, point)
        if place not in node:
            raise InputError.at(key, f"“{point[:40]}” is no terminal of this circuit: choose one of its terminals")
        ends.append(node[place])
    if ends[0] == ends[1]:
        shows = {"V": "0.000 V", "mA": "0.000 mA", "Ω": "0.0 Ω"}[setting]
        return Reading(0.0, shows, "Both leads touch the same wire.")
    wired = elements(circuit, condition)
    read = {"V": _volts, "mA": _milliamps, "Ω": _ohms}[setting]
    try:
        return read(circuit, wired, ends[0], ends[1], condition)
    except InputError as error:
        # Two outputs driving one another have no answer; a real meter would show whichever gives way.
        return Reading(None, "----", f"As this is wired nobody can say: {error.problems[0].what}.", True)


def lifted_ends(circuit: Circuit, lifted: frozenset[str]) -> Mapping[str, str]:
    """The free ends of lifted wires, ``wire~``: each still hangs on the wire's second terminal."""
    return {f"{wire.id}~": wire.b for wire in circuit.wires if wire.id in lifted}


def _lead(solution: Solution, red: str, black: str) -> float:
    return solution.volts(red, black) or 0.0


def _volts(circuit: Circuit, wired: list[Element], red: str, black: str, condition: Condition) -> Reading:
    solution = solve([*wired, Resistor(_METER, red, black, VOLT_OHM)])
    volts = _lead(solution, red, black)
    if condition.supply == "off":
        return Reading(volts, _show(volts, "V"), "The power is off: volts prove it dead, no more.")
    if abs(volts) < 1e-3:
        return Reading(
            volts, _show(volts, "V"), "Nothing between these two: joined by little resistance, or not alive."
        )
    return Reading(
        volts, _show(volts, "V"), "Red is below black: the leads or the wires are swapped." if volts < 0 else ""
    )


def _milliamps(circuit: Circuit, wired: list[Element], red: str, black: str, condition: Condition) -> Reading:
    solution = solve(
        [*wired, Fuse("meter~fuse", red, _METER, 0.1, FUSE_A), Resistor(_METER, _METER, black, SHUNT_OHM)]
    )
    current = solution.current[_METER]
    if solution.state.get("meter~fuse") == "blown":
        return Reading(
            None,
            "0.000 mA",
            "The meter's own fuse blows: set to mA it is a short between its leads. Read mA in series only.",
            True,
        )
    parallel = _in_parallel(wired, red, black, current)
    blown = [name for name, state in solution.state.items() if state == "blown" and name != "meter~fuse"]
    if blown:
        text = f"{circuit.part(blown[0]).name} blows: the meter on mA shorts these two. Read mA in series only."
        return Reading(current, _show(current * 1000, "mA"), text, True)
    return Reading(current, _show(current * 1000, "mA"), parallel, bool(parallel))


def _in_parallel(wired: list[Element], red: str, black: str, current: float) -> str:
    """Say so if the shunt bridges something that had a voltage while current flowed without the meter."""
    before = solve([*wired, Resistor(_METER, red, black, VOLT_OHM)])
    volts = before.volts(red, black) or 0.0
    flowed = any(abs(amp) > 1e-4 for name, amp in before.current.items() if name != _METER)
    if not flowed or abs(volts) < 0.5 or abs(current) < 1e-6:
        return ""
    return (
        f"The shunt bridges {abs(volts):.1f} V that were there: this is not the loop's current. Lift a wire, and put "
        "the meter between its end and its terminal."
    )


def _ohms(circuit: Circuit, wired: list[Element], red: str, black: str, condition: Condition) -> Reading:
    if condition.supply != "off":
        solution = solve([*wired, Resistor(_METER, red, black, VOLT_OHM)])
        if abs(solution.volts(red, black) or 0.0) > 0.05:
            return Reading(
                None, "----", "Never on a live circuit: switch the power off and prove it dead first.", True
            )
    dead = elements(circuit, replace(condition, supply="off"))
    test: list[Element] = [
        Source("meter~test", red, "meter~in", _TEST_V),
        Resistor(_METER, "meter~in", black, _TEST_OHM),
    ]
    solution = solve([*dead, *test])
    current = solution.current[_METER]
    volts = solution.volts(red, black) or 0.0
    ohm = abs(volts / current) if abs(current) > 1e-15 else float("inf")
    if ohm > _MOST_OHM:
        return Reading(None, "OL", "Open: nothing joins these two with the power off.")
    says = "A transmitter without power blocks the meter's half volt." if ohm > 1e6 else ""
    return Reading(ohm, _show_ohm(ohm), says)


def _show(value: float, unit: str) -> str:
    return f"{0.0 if abs(value) < 5e-4 else value:.3f} {unit}"


def _show_ohm(ohm: float) -> str:
    for limit, factor, unit in ((1e3, 1.0, "Ω"), (1e6, 1e3, "kΩ")):
        if ohm < limit:
            return f"{ohm / factor:.1f} {unit}" if unit == "Ω" else f"{ohm / factor:.3f} {unit}"
    return f"{ohm / 1e6:.2f} MΩ"
