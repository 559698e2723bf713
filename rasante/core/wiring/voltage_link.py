"""Three-wire voltage sensors: what the shared minus and the input's own resistance falsify."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..quantities.errors import InputError
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from .circuit import Circuit
from .circuit_network import Condition, elements, joined
from .network import Solution, solve

#: Shares of the output's span that the link is looked at [1].
SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)


@dataclass(frozen=True)
class VoltageAt:
    """The link at one output: meant, at the sensor's own terminals, and at the input [V]; error in shares of span.

    Parameters
    ----------
    share : float
        Of the output's span [1].
    meant_v, read_v : float
        What the sensor means, and what the input sees [V].
    lift_v, loading_v : float
        Of the difference, what the current in the shared minus adds, and what the input takes away [V].
    error_share : float
        The difference by the span [1].
    """

    share: float
    meant_v: float
    read_v: float
    lift_v: float
    loading_v: float
    error_share: float


@dataclass(frozen=True)
class VoltageLink:
    """A three-wire link at its lowest supply and hottest cable."""

    at: tuple[VoltageAt, ...]
    sensor_v: float
    lift_off_v: float
    judgements: tuple[Judgement, ...]


def voltage_link(circuit: Circuit, hottest_c: float) -> VoltageLink | None:
    """Work out what a three-wire link reads.

    Parameters
    ----------
    circuit : Circuit
        A circuit; of any kind but three-wire, or where outputs drive one another, there is nothing to work out.
    hottest_c : float
        The hottest that its cable gets [°C].

    Notes
    -----
    The sensor's own current through the minus core lifts its ground by I R; the input's resistance and the
    output's make a divider. Both by the network, as it is wired.
    """
    if circuit.sensor.kind != "three_wire":
        return None
    try:
        return _worked_out(circuit, hottest_c)
    except InputError:
        return None


def _worked_out(circuit: Circuit, hottest_c: float) -> VoltageLink:
    sensor = circuit.sensor
    node = joined(circuit)
    low, high = sensor.value("out_low_v"), sensor.value("out_high_v")
    found, sensor_v = [], 0.0
    for share in SHARES:
        solution = solve(elements(circuit, Condition(share=share, supply="volt_min", hottest_c=hottest_c)))
        meant = low + share * (high - low)
        read = _between(solution, node, "input.+", "input.−")
        lift = _between(solution, node, f"{sensor.id}.V−", "input.−")
        sensor_v = _between(solution, node, f"{sensor.id}.V+", f"{sensor.id}.V−")
        found.append(VoltageAt(share, meant, read, lift, read - meant - lift, (read - meant) / (high - low)))
    return VoltageLink(tuple(found), sensor_v, sensor.value("lift_off_v"), tuple(_judge(found, sensor_v, circuit)))


def _between(solution: Solution, node: Mapping[str, str], a: str, b: str) -> float:
    return solution.volts(node[a], node[b]) or 0.0


def _judge(at: list[VoltageAt], sensor_v: float, circuit: Circuit) -> list[Judgement]:
    found = []
    need = circuit.sensor.value("lift_off_v")
    if sensor_v < need:
        text = "{value:.1f} V reach the sensor at the lowest supply and it needs {limit:g} V."
        found.append(stop("sensor-starved", text, value=sensor_v, limit=need))
    worst = max(at, key=lambda one: abs(one.error_share))
    cause = "the shared minus lifts its ground" if abs(worst.lift_v) > abs(worst.loading_v) else "the input loads it"
    text, off = "Reads {value:+.2%} of span at worst, because {cause}.", worst.error_share
    if abs(off) > 0.05:
        more = " Run a fourth core for the signal's minus, or use 4–20 mA."
        found.append(stop("voltage-error", text + more, value=off, limit=0.05, cause=cause))
    elif abs(off) > 0.0025:
        more = " Thicker cable or a separate signal minus cures it."
        found.append(watch("voltage-error", text + more, value=off, limit=0.0025, cause=cause))
    else:
        found.append(good("voltage-true", text, value=off, limit=0.0025, cause=cause))
    return by_weight(found)
