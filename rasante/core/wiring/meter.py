"""The process meter: its leads on any two terminals, and what it shows by the network as it is wired."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..quantities.errors import InputError
from .circuit import Circuit
from .circuit_network import Condition, elements, joined
from .network import Element, Fuse, Resistor, Solution, Source, solve

#: What it can be set to, with the word on its dial.
SETTINGS: dict[str, str] = {"V": "Volts DC", "mA": "Milliamperes DC", "Ω": "Ohms"}
#: A usual hand-held meter: what its volts range bridges, its milliampere shunt, that fuse, and what it tests ohms
#: with. Common practice, no published source.
VOLT_OHM, SHUNT_OHM, FUSE_A = 1e7, 5.0, 0.44
_TEST_V, _TEST_OHM, _MOST_OHM = 0.5, 1000.0, 4e7
_METER, _FUSE = "meter~lead", "meter~fuse"


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


@dataclass(frozen=True)
class Leads:
    """Where the dial stands (of `SETTINGS`), and the terminals that the leads touch."""

    setting: str
    red: str
    black: str


def _nodes(circuit: Circuit, condition: Condition, leads: Leads) -> tuple[str, str]:
    """The nodes that the leads touch."""
    if leads.setting not in SETTINGS:
        raise InputError.at("setting", f"must be one of {', '.join(SETTINGS)}")
    node = joined(circuit, condition.lifted)
    free = lifted_ends(circuit, condition.lifted)
    for key, point in (("red", leads.red), ("black", leads.black)):
        if free.get(point, point) not in node:
            raise InputError.at(key, f"“{point[:40]}” is no terminal of this circuit: choose one of its terminals")
    return node[free.get(leads.red, leads.red)], node[free.get(leads.black, leads.black)]


@dataclass(frozen=True)
class _Taken:
    """What the meter measures, and the network with it in."""

    value: float
    solution: Solution | None


def _take(circuit: Circuit, condition: Condition, leads: Leads) -> _Taken:
    red, black = _nodes(circuit, condition, leads)
    if red == black:
        return _Taken(0.0, None)
    if leads.setting == "V":
        solution = solve([*elements(circuit, condition), Resistor(_METER, red, black, VOLT_OHM)])
        return _Taken(solution.volts(red, black) or 0.0, solution)
    if leads.setting == "mA":
        shunt: list[Element] = [Fuse(_FUSE, red, _METER, 0.1, FUSE_A), Resistor(_METER, _METER, black, SHUNT_OHM)]
        solution = solve([*elements(circuit, condition), *shunt])
        return _Taken(0.0 if solution.state[_FUSE] == "blown" else solution.current[_METER], solution)
    test: list[Element] = [
        Source("meter~test", red, "meter~in", _TEST_V),
        Resistor(_METER, "meter~in", black, _TEST_OHM),
    ]
    solution = solve([*elements(circuit, replace(condition, supply="off")), *test])
    current, volts = solution.current[_METER], solution.volts(red, black) or 0.0
    ohm = abs(volts / current) if abs(current) > 1e-15 else float("inf")
    return _Taken(float("inf") if ohm > _MOST_OHM else ohm, solution)


def measure(circuit: Circuit, condition: Condition, leads: Leads) -> float:
    """What a hand-held meter measures between two terminals.

    Parameters
    ----------
    circuit : Circuit
        The circuit as it is wired.
    condition : Condition
        What it is in, with its lifted wires; ohms are taken with the power off whatever it says.
    leads : Leads
        Dial and leads; a lead may also touch the free end of a lifted wire, ``wire~``.

    Returns
    -------
    float
        [V], [A] or [Ω]; infinite ohms where nothing joins the two; no current where the meter's own fuse blows.

    Raises
    ------
    InputError
        At ``setting``, ``red`` or ``black``; or if outputs drive one another, so that there is no answer.
    """
    return _take(circuit, condition, leads).value


def read_meter(circuit: Circuit, condition: Condition, leads: Leads) -> Reading:
    """Read the meter: what `measure` gives, and in words what that means here and what to mind.

    Parameters
    ----------
    circuit, condition, leads
        As `measure`.

    Raises
    ------
    InputError
        At ``setting``, ``red`` or ``black``.
    """
    red, black = _nodes(circuit, condition, leads)
    if red == black:
        shows = {"V": "0.000 V", "mA": "0.000 mA", "Ω": "0.0 Ω"}[leads.setting]
        return Reading(0.0, shows, "Both leads touch the same wire.")
    try:
        taken = _take(circuit, condition, leads)
        if leads.setting == "V":
            return _volts(taken, condition)
        if leads.setting == "mA":
            return _milliamps(circuit, elements(circuit, condition), red, black, taken)
        return _ohms(circuit, condition, leads, taken)
    except InputError as error:
        # Two outputs driving one another have no answer; a real meter would show whichever gives way.
        return Reading(None, "----", f"As this is wired nobody can say: {error.problems[0].what}.", True)


def lifted_ends(circuit: Circuit, lifted: frozenset[str]) -> Mapping[str, str]:
    """The free ends of lifted wires, ``wire~``: each still hangs on the wire's second terminal."""
    return {f"{wire.id}~": wire.b for wire in circuit.wires if wire.id in lifted}


def _volts(taken: _Taken, condition: Condition) -> Reading:
    volts = taken.value
    shows = _show(volts, "V")
    if condition.supply == "off":
        return Reading(volts, shows, "The power is off: volts prove it dead, no more.")
    if abs(volts) < 1e-3:
        return Reading(volts, shows, "Nothing between these two: joined by little resistance, or not alive.")
    return Reading(volts, shows, "Red is below black: the leads or the wires are swapped." if volts < 0 else "")


def _milliamps(circuit: Circuit, wired: list[Element], red: str, black: str, taken: _Taken) -> Reading:
    state = taken.solution.state if taken.solution else {}
    if state.get(_FUSE) == "blown":
        return Reading(
            None,
            "0.000 mA",
            "The meter's own fuse blows: set to mA it is a short between its leads. Read mA in series only.",
            True,
        )
    current = taken.value
    parallel = _in_parallel(wired, red, black, current)
    blown = [name for name, value in state.items() if value == "blown"]
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


def _ohms(circuit: Circuit, condition: Condition, leads: Leads, taken: _Taken) -> Reading:
    if condition.supply != "off" and abs(measure(circuit, condition, replace(leads, setting="V"))) > 0.05:
        text = "Never on a live circuit: switch the power off and prove it dead first."
        return Reading(None, "----", text, True)
    ohm = taken.value
    if ohm == float("inf"):
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
