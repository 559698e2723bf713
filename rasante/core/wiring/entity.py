"""Intrinsic safety by entity parameters: what a barrier lets out against what sensor and cable may take."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..quantities.judgement import Judgement, good, stop, watch
from .circuit import Circuit

#: The entity values of a barrier and of a sensor, by their part's values: symbol, field, quantity, and what it is.
BARRIER: dict[str, tuple[str, str, str, str]] = {
    "work_v": ("Uw", "working", "voltage", "working voltage"),
    "uo_v": ("Uo", "uo", "voltage", "highest voltage out"),
    "io_a": ("Io", "io", "current", "highest current out"),
    "po_w": ("Po", "po", "power", "highest power out"),
    "co_f": ("Co", "co", "capacitance", "largest capacitance outside"),
    "lo_h": ("Lo", "lo", "inductance", "largest inductance outside"),
}
SENSOR: dict[str, tuple[str, str, str, str]] = {
    "ui_v": ("Ui", "ui", "voltage", "highest voltage in"),
    "ii_a": ("Ii", "ii", "current", "highest current in"),
    "pi_w": ("Pi", "pi", "power", "highest power in"),
    "ci_f": ("Ci", "ci", "capacitance", "capacitance inside"),
    "li_h": ("Li", "li", "inductance", "inductance inside"),
}
#: A cable's capacitance [F/m] and inductance [H/m] where its own are not known: IEC 60079-14, from memory.
CABLE_F, CABLE_H = 200e-12, 1e-6
#: No usual barrier works on more than this [V]: common practice, no published source.
USUAL_MOST_V = 28.0
#: What must not be more than what: code, out of the barrier, into the sensor, in which unit it is said.
_LIMITS = (
    ("entity-voltage", "uo_v", "ui_v", 1.0, "V"),
    ("entity-current", "io_a", "ii_a", 1e-3, "mA"),
    ("entity-power", "po_w", "pi_w", 1e-3, "mW"),
)
_STORES = (
    ("entity-capacitance", "co_f", "ci_f", CABLE_F, 1e-9, "nF"),
    ("entity-inductance", "lo_h", "li_h", CABLE_H, 1e-3, "mH"),
)


@dataclass(frozen=True)
class Loop:
    """An intrinsically safe loop, as far as its values are stated.

    Parameters
    ----------
    barrier, sensor : mapping of str to float
        By the keys of `BARRIER` and `SENSOR`, in SI; what is not stated is not there.
    cable_m : float
        Length of all cable runs behind the barrier [m].
    supply_v : float
        What the supply may reach at most [V].
    """

    barrier: Mapping[str, float]
    sensor: Mapping[str, float]
    cable_m: float
    supply_v: float


def judge_entity(loop: Loop) -> list[Judgement]:
    """Judge an intrinsically safe loop by its entity parameters.

    Returns
    -------
    list of Judgement
        A stop for each pair that does not fit, a watch for what is not stated, and good only where all is and fits.

    Notes
    -----
    Uo ≤ Ui, Io ≤ Ii, Po ≤ Pi, Ci + C_cable ≤ Co, Li + L_cable ≤ Lo (IEC 60079-14 and 60079-25, from memory); the
    supply stays below the barrier's working voltage, or its fuse goes.
    """
    found = _supply(loop)
    for code, out, into, size, unit in _LIMITS:
        if out in loop.barrier and into in loop.sensor and loop.barrier[out] > loop.sensor[into] * (1 + 1e-9):
            text = "The barrier lets up to {given} out ({out}); the sensor may take {taken} ({into})."
            words = {"given": f"{loop.barrier[out] / size:g} {unit}", "taken": f"{loop.sensor[into] / size:g} {unit}"}
            numbers = {"value": loop.barrier[out], "limit": loop.sensor[into]}
            found.append(stop(code, text, out=BARRIER[out][0], into=SENSOR[into][0], **words, **numbers))
    for code, out, into, by_metre, size, unit in _STORES:
        if out in loop.barrier and into in loop.sensor:
            stored = loop.sensor[into] + loop.cable_m * by_metre
            if stored > loop.barrier[out] * (1 + 1e-9):
                text = "Sensor and {cable:run} of cable have {have} together; the barrier allows {allowed} ({out})."
                words = {"have": f"{stored / size:.3g} {unit}", "allowed": f"{loop.barrier[out] / size:g} {unit}"}
                numbers = {"value": stored, "limit": loop.barrier[out], "cable": loop.cable_m}
                found.append(stop(code, text, out=BARRIER[out][0], **words, **numbers))
    lacking = [
        f"of the {name} {', '.join(symbols)}"
        for name, known, stated in (("barrier", BARRIER, loop.barrier), ("sensor", SENSOR, loop.sensor))
        if (symbols := [one[0] for key, one in known.items() if key not in stated])
    ]
    if lacking:
        text = (
            "Not stated: {lacking}. Read them from both certificates: until then nobody knows whether this loop is "
        )
        text += "intrinsically safe."
        found.append(watch("entity-missing", text, lacking="; ".join(lacking)))
    if not found:
        text = "Barrier, cable and sensor agree by their entity parameters; the certificates and the area's "
        text += "classification decide."
        found.append(good("entity", text))
    return found


def _supply(loop: Loop) -> list[Judgement]:
    stated = loop.barrier.get("work_v")
    limit = USUAL_MOST_V if stated is None else stated
    if loop.supply_v <= limit * (1 + 1e-9):
        return []
    text = "The supply may reach {value:.1f} V; the barrier works up to {limit:g} V."
    if stated is None:
        text = "The supply may reach {value:.1f} V; barriers usually work up to {limit:g} V at most: state its own."
    return [stop("barrier-supply", text, value=loop.supply_v, limit=limit)]


def loop_of(circuit: Circuit) -> Loop | None:
    """The intrinsically safe loop of a circuit; None without a barrier."""
    barriers = circuit.of_kind("barrier")
    if not barriers:
        return None
    supplies = circuit.of_kind("supply")
    inputs = [part.value("supplies_v") for part in circuit.of_kind("current_input")]
    return Loop(
        {key: value for key, value in barriers[0].values.items() if key in BARRIER},
        {key: value for key, value in circuit.sensor.values.items() if key in SENSOR},
        sum(part.value("length_m") for part in circuit.of_kind("cable")),
        max([*(part.value("volt_max") for part in supplies), *inputs], default=0.0),
    )
