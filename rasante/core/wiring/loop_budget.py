"""Will the loop carry it: the volts left for the sensor at every current, and what cable allows that."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..quantities.errors import InputError
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from .circuit import Circuit, Part
from .circuit_network import LOOP_CURRENTS, WORST_CURRENT, Condition, elements, joined
from .network import Solution, solve
from .wires import AWG_SIZES, METRIC_SIZES, awg_area, resistance, size_name

#: The resistor by which digital signals are superposed on a loop, and by which 1–5 V is read from it [Ω].
ADDED_BURDEN_OHM = 250.0


@dataclass(frozen=True)
class VoltsAt:
    """What the sensor has at one current: meant and flowing [A], volts, and what is left over lift-off [V]."""

    current_a: float
    flows_a: float
    volts: float
    margin_v: float


@dataclass(frozen=True)
class CableFor:
    """How long the whole run may be in one wire size [m]; None where even no cable at all is too much."""

    area_mm2: float
    name: str
    longest_m: float | None


@dataclass(frozen=True)
class LoopBudget:
    """A loop's budget at its lowest supply and hottest cable.

    Parameters
    ----------
    at : tuple of VoltsAt
        At 3.6, 4, 12, 20 and 22.5 mA.
    lift_off_v : float
        What the sensor needs [V].
    shares : tuple of (str, float)
        What each part takes at 22.5 mA [V], the most first.
    cables : tuple of CableFor
        The longest run by wire size, at 22.5 mA.
    smallest : CableFor or None
        The thinnest of them that carries this run.
    run_m : float
        The run as it is, one way [m].
    burden_margin_v : float
        What would be left at 22.5 mA with another 250 Ω in the loop [V].
    most_v : float
        The most that the sensor ever sees: highest supply, 3.6 mA [V].
    judgements : tuple of Judgement
        What to make of it; the heaviest first.
    """

    at: tuple[VoltsAt, ...]
    lift_off_v: float
    shares: tuple[tuple[str, float], ...]
    cables: tuple[CableFor, ...]
    smallest: CableFor | None
    run_m: float
    burden_margin_v: float
    most_v: float
    judgements: tuple[Judgement, ...]


def _sensor_points(circuit: Circuit) -> tuple[str, str]:
    sensor = circuit.sensor
    plus, minus = ("+", "−") if sensor.kind == "two_wire" else ("V+", "V−")
    return f"{sensor.id}.{plus}", f"{sensor.id}.{minus}"


def _volts(circuit: Circuit, condition: Condition) -> tuple[float, Solution]:
    found = solve(elements(circuit, condition))
    node = joined(circuit)
    plus, minus = (node[point] for point in _sensor_points(circuit))
    return found.volts(plus, minus) or 0.0, found


def _unloaded(circuit: Circuit, condition: Condition, current_a: float) -> float:
    """Volts that would be left if the sensor drew its current whatever it has: below lift-off too [V].

    The loop is linear but for the sensor: two solutions at small currents give its open voltage and resistance.
    """
    low = [replace(condition, current_a=share * 1e-4) for share in (1.0, 2.0)]
    first, second = (_volts(_without_lift_off(circuit), c)[0] for c in low)
    ohm = (first - second) / 1e-4
    return first + ohm * 1e-4 - ohm * current_a


def _without_lift_off(circuit: Circuit) -> Circuit:
    sensor = circuit.sensor
    free = replace(sensor, values={**sensor.values, "lift_off_v": 0.1})
    return replace(circuit, parts=tuple(free if part is sensor else part for part in circuit.parts))


def loop_budget(circuit: Circuit, hottest_c: float, american: bool = False) -> LoopBudget | None:
    """Work a two-wire loop's budget out.

    Parameters
    ----------
    circuit : Circuit
        A circuit; of any kind but two-wire there is no loop to budget.
    hottest_c : float
        The hottest that its cable gets [°C].
    american : bool
        Whether wire sizes are American gauges.

    Returns
    -------
    LoopBudget or None
        None where the sensor is no two-wire transmitter, or outputs drive one another.

    Notes
    -----
    V at the transmitter = V_supply,min − I (R_wires + R_fuse + R_barrier + R_input), all of it by the network as
    it is wired, so that a swapped pair or a second supply shows.
    """
    if circuit.sensor.kind != "two_wire":
        return None
    try:
        return _worked_out(circuit, hottest_c, american)
    except InputError:
        return None


def _worked_out(circuit: Circuit, hottest_c: float, american: bool) -> LoopBudget:
    sensor = circuit.sensor
    lift_off = sensor.value("lift_off_v")
    worst = Condition(current_a=WORST_CURRENT, supply="volt_min", hottest_c=hottest_c)
    at = []
    for current in LOOP_CURRENTS:
        condition = replace(worst, current_a=current)
        flowing = _volts(circuit, condition)[1].current.get(sensor.id, 0.0)
        left = _unloaded(circuit, condition, current)
        at.append(VoltsAt(current, flowing, left, left - lift_off))
    runs = circuit.of_kind("cable")
    run_m = sum(run.value("length_m") for run in runs)
    per_pair = sum(2 * _ohm(run, hottest_c) for run in runs)
    rest = (at[-1].margin_v / WORST_CURRENT) + per_pair
    sizes: Sequence[float] = [awg_area(n) for n in AWG_SIZES] if american else METRIC_SIZES
    cables = tuple(_longest(area, rest, hottest_c) for area in sizes)
    smallest = next((c for c in cables if c.longest_m is not None and c.longest_m >= run_m), None)
    most = _volts(circuit, replace(worst, current_a=LOOP_CURRENTS[0], supply="volt_max", hottest_c=-20.0))[0]
    budget = LoopBudget(
        tuple(at),
        lift_off,
        _shares(circuit, worst),
        cables,
        smallest,
        run_m,
        at[-1].margin_v - WORST_CURRENT * ADDED_BURDEN_OHM,
        most,
        (),
    )
    return replace(budget, judgements=tuple(_judge(circuit, budget, worst)))


def _ohm(run: Part, hottest_c: float) -> float:
    return resistance(run.value("length_m"), run.value("area_mm2"), hottest_c)


def _longest(area: float, rest_ohm: float, hottest_c: float) -> CableFor:
    per_metre = 2 * resistance(1.0, area, hottest_c)
    return CableFor(area, size_name(area), rest_ohm / per_metre if rest_ohm > 0 else None)


def _shares(circuit: Circuit, condition: Condition) -> tuple[tuple[str, float], ...]:
    """What each part would take at the current, by its own resistance [V]."""
    found: dict[str, float] = {}
    current = condition.current_a
    solution = solve(elements(_without_lift_off(circuit), replace(condition, current_a=1e-4)))
    for element in elements(circuit, condition):
        ohm = getattr(element, "ohm", 0.0)
        if not ohm or element.name == circuit.sensor.id:
            continue
        share = abs(solution.current.get(element.name, 0.0)) / 1e-4
        id = element.name.partition(".")[0]
        found[id] = found.get(id, 0.0) + ohm * share * current
    names = {part.id: part.name for part in circuit.parts}
    shares = [(names.get(id, id), volts) for id, volts in found.items() if volts > 5e-3]
    return tuple(sorted(shares, key=lambda share: -share[1]))


def follows_to(circuit: Circuit, condition: Condition) -> float | None:
    """The most current that a two-wire transmitter still follows [A]; None where it never starts.

    Parameters
    ----------
    circuit, condition
        The loop, and its supply and temperature.

    Notes
    -----
    The loop is straight but for the transmitter: what is left at a current falls by the loop's resistance, and meets
    the lift-off voltage where this returns.
    """
    lift_off = circuit.sensor.value("lift_off_v")
    first, second = (_unloaded(circuit, condition, current) for current in (0.0, WORST_CURRENT))
    if first <= lift_off:
        return None
    if second >= first - 1e-12:
        return WORST_CURRENT
    return min((first - lift_off) / (first - second) * WORST_CURRENT, WORST_CURRENT)


def _judge(circuit: Circuit, budget: LoopBudget, condition: Condition) -> list[Judgement]:
    worst = budget.at[-1]
    found = []
    if worst.margin_v < 0:
        reach = follows_to(circuit, condition)
        words = "At {at:g} mA {value:.1f} V are left for the transmitter and it needs {limit:g} V: "
        words += "it never starts." if reach is None else "it stops following above {reach:.1f} mA."
        found.append(
            stop(
                "loop-short",
                words,
                at=WORST_CURRENT * 1000,
                value=worst.volts,
                limit=budget.lift_off_v,
                reach=0.0 if reach is None else reach * 1000,
            )
        )
    elif worst.margin_v < 1:
        text = "Margin {value:.1f} V at {at:g} mA: a wet splice takes that."
        found.append(watch("loop-tight", text, value=worst.margin_v, limit=1.0, at=WORST_CURRENT * 1000))
    else:
        found.append(
            good("loop-carries", "Margin {value:.1f} V at {at:g} mA.", value=worst.margin_v, at=WORST_CURRENT * 1000)
        )
    most = circuit.sensor.value("volt_max")
    if budget.most_v > most:
        text = "Up to {value:.1f} V reach the transmitter; it bears {limit:g} V."
        found.append(stop("supply-high", text, value=budget.most_v, limit=most))
    if worst.margin_v >= 0 > budget.burden_margin_v:
        text = "Another {added:g} Ω in the loop would leave {value:.1f} V too little."
        found.append(watch("no-burden", text, added=ADDED_BURDEN_OHM, value=-budget.burden_margin_v))
    return by_weight(found)
