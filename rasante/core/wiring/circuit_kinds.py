"""The usual circuits, made from a few choices: what is joined to what, and what people changed of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

from ..quantities.form import Form, usual_text
from ..quantities.signals import OUTPUTS, SIGNALS
from ..quantities.words import run_text
from .circuit import PART_KINDS, Circuit, Part, Wire
from .entity import BARRIER, SENSOR
from .wires import awg_area

#: The kinds of link, with the sensor and the input that belong to each.
LINKS: dict[str, str] = {
    "two_wire": "4–20 mA, two-wire",
    "three_wire": "Voltage, three-wire",
    "four_wire": "4–20 mA, four-wire active",
    "contact": "Contact or pulse",
    "digital": "Digital, RS-485",
}
_INPUT = {
    "two_wire": "current_input",
    "four_wire": "current_input",
    "three_wire": "voltage_input",
    "contact": "contact_input",
    "digital": "digital_input",
}
#: What each core of the cable carries, in the order of the cores.
_SIGNALS: dict[str, tuple[str, ...]] = {
    "two_wire": ("+", "−"),
    "three_wire": ("V+", "out", "V−"),
    "four_wire": ("V+", "V−", "out+", "out−"),
    "contact": ("c", "no"),
    "digital": ("V+", "V−", "A", "B"),
}
_SENSOR_NAMES = {
    "two_wire": "Transmitter",
    "three_wire": "Sensor",
    "four_wire": "Transmitter",
    "contact": "Level switch",
    "digital": "Sensor",
}
#: What a three-wire sensor may give [V], by the field's options: every voltage output of the registry.
VOLTAGES: dict[str, tuple[float, float]] = {
    one.name.partition("V")[0]: (SIGNALS[one.signal].low, SIGNALS[one.signal].high)
    for one in OUTPUTS.values()
    if one.link == "three_wire"
}
SHIELDS = {
    "panel": "at the panel",
    "field": "at the sensor",
    "both": "at both ends",
    "none": "nowhere",
    "no": "no shield",
}
INPUT_MODES = {
    "passive": "passive",
    "active": "active, powers the loop",
    "both": "active, and a supply in the loop as well",
}
MOST_RUNS = 4
#: Pins of the connector that sensors of this kind carry: a four-pin M12.
PIN_NAMES = {pin: f"pin {pin}" for pin in ("1", "2", "3", "4")}
NOWHERE = "nowhere"
NOT_STATED = "not stated"


@dataclass(frozen=True)
class WiringForm:
    """A circuit as it was chosen, and what was made of each field.

    Parameters
    ----------
    circuit : Circuit
        The circuit, with what is not said taken as usual.
    form : Form
        The fields.
    hottest_c : float
        Temperature that the cable is taken to reach [°C].
    planned : tuple of Wire
        The wires as they should be, before anybody moved an end.
    """

    circuit: Circuit
    form: Form
    hottest_c: float
    planned: tuple[Wire, ...]


def _values(form: Form, path: str, kind: str, fields: Mapping[str, tuple[str, str]]) -> dict[str, float]:
    """Read a part's values; what is not typed is left to its kind, and said to be."""
    found = {}
    for key, (field, quantity) in fields.items():
        value = form.quantity(f"{path}.{field}", quantity, 0.0, 1e9)
        if value is not None:
            found[key] = value
        # What is 0 there is not known of the kind.
        usual = PART_KINDS[kind].values.get(key, 0.0)
        form.stand_in(f"{path}.{field}", usual_text(usual, quantity, form.system) if usual else NOT_STATED)
    return found


SENSOR_FIELDS: dict[str, dict[str, tuple[str, str]]] = {
    "two_wire": {"lift_off_v": ("lift_off", "voltage"), "volt_max": ("most", "voltage")},
    "three_wire": {
        "lift_off_v": ("lift_off", "voltage"),
        "volt_max": ("most", "voltage"),
        "draw_a": ("draw", "current"),
        "out_ohm": ("output_ohm", "resistance"),
    },
    "four_wire": {
        "lift_off_v": ("lift_off", "voltage"),
        "volt_max": ("most", "voltage"),
        "draw_a": ("draw", "current"),
        "drive_v": ("drives", "voltage"),
    },
    "contact": {"closed_ohm": ("closed_ohm", "resistance")},
    "digital": {
        "lift_off_v": ("lift_off", "voltage"),
        "volt_max": ("most", "voltage"),
        "draw_a": ("draw", "current"),
    },
}


def _supply_values(form: Form) -> dict[str, float]:
    found = _values(
        form,
        "supply",
        "supply",
        {"volt_min": ("least", "voltage"), "volt": ("nominal", "voltage"), "volt_max": ("most", "voltage")},
    )
    nominal = found.get("volt", PART_KINDS["supply"].values["volt"])
    # Where only the nominal voltage is known, a tenth either way is the usual allowance.
    usual = {"volt_min": nominal * 0.9, "volt": nominal, "volt_max": nominal * 1.1}
    for key, field in (("volt_min", "least"), ("volt_max", "most")):
        path = f"supply.{field}"
        form.fields[path] = replace(form.fields[path], usual=usual_text(usual[key], "voltage", form.system))
    found = {**usual, **found}
    if not found["volt_min"] <= nominal <= found["volt_max"]:
        form.blame("supply.nominal", "must lie between its least and its most")
    return found


def _in_the_loop(form: Form, link: str) -> list[Part]:
    """What stands in a current loop beside its input: a panel meter, a calibrator that was left in, a burden."""
    if link not in ("two_wire", "four_wire"):
        return []
    found = []
    if form.flag("meter"):
        ohm = {"ohm": ("ohm", "resistance")}
        found.append(Part("meter", "meter", "Panel meter", "panel", _values(form, "meter", "meter", ohm)))
    if form.flag("calibrator"):
        amp = {"amp": ("current", "current")}
        found.append(
            Part("calibrator", "calibrator", "Calibrator", "panel", _values(form, "calibrator", "calibrator", amp))
        )
    burden = form.quantity("burden.ohm", "resistance", 0.0, 1e5)
    form.stand_in("burden.ohm", "none")
    if burden:
        found.append(Part("burden", "burden", "Burden", "panel", {"ohm": burden}))
    return found


def _runs(form: Form, link: str) -> list[Part]:
    """The cable runs from the panel to the sensor, at least one."""
    cores = tuple(str(i + 1) for i in range(len(_SIGNALS[link])))
    shielded = form.choice("shield", SHIELDS, "panel") != "no"
    runs = []
    for index in range(max(form.count("cable", "length", MOST_RUNS), 1)):
        path = f"cable[{index}]"
        usual = PART_KINDS["cable"].values
        length = form.quantity(f"{path}.length", "length", 0.0, 20_000.0)
        form.stand_in(f"{path}.length", run_text(usual["length_m"], form.system))
        area = form.quantity(f"{path}.size", "wire", 0.05, 50.0)
        form.stand_in(f"{path}.size", "0.5 mm²" if form.system == "metric" else "20 AWG")
        values = {
            "length_m": usual["length_m"] if length is None else length,
            "area_mm2": (usual["area_mm2"] if form.system == "metric" else awg_area(20)) if area is None else area,
        }
        celsius = form.quantity(f"{path}.temperature", "temperature", -60.0, 120.0)
        form.stand_in(f"{path}.temperature", usual_text(usual["temperature_c"], "temperature", form.system))
        if celsius is not None:
            values["temperature_c"] = celsius
        usual_name = "Cable" if index == 0 else f"Cable {index + 1}"
        name = form.text(f"{path}.name", 40) or usual_name
        form.stand_in(f"{path}.name", usual_name)
        runs.append(Part(f"cable{index + 1}", "cable", name, "run", values, cores, shielded))
    return runs


def read_wiring(entries: Mapping[str, str], system: str, start: Mapping[str, str] | None = None) -> WiringForm:
    """Make a circuit from what was chosen and typed.

    Parameters
    ----------
    entries : mapping of str to str
        ``kind`` (a key of `LINKS`), ``supply.nominal|least|most``, ``fuse`` (yes/no) and ``fuse.rating``,
        ``barrier``, ``barrier.ohm`` and, as the certificates state them, ``barrier.working|uo|io|po|co|lo`` and
        ``sensor.ui|ii|pi|ci|li``, ``input.ohm``, ``input.mode`` (a key of `INPUT_MODES`),
        ``meter`` and ``meter.ohm``, ``burden.ohm``, ``cable[i].name|length|size|temperature``, ``hottest``,
        ``shield`` (a key of `SHIELDS`), ``output`` (a key of `VOLTAGES`), ``calibrator`` (yes where one is left in
        the loop) and ``calibrator.current``, ``sensor.lift_off|most|draw|…``,
        ``connector`` (yes where the sensor has a plug) and ``pin[i]`` (the pin of each signal),
        ``core[i]`` (what the core's insulation was rung out as), and the changes ``end.WIRE.a|b`` (another
        terminal, or ``nowhere``) and ``extra[i].a|b`` (a wire that should not be there).
    system : {"metric", "us"}
        What a bare number means.
    start : mapping of str to str, optional
        What stands where nothing is typed, by the same fields: see `start.wiring_start`.

    Returns
    -------
    WiringForm
        Always a whole circuit; what is wrong stands at its field.
    """
    form = Form(entries, "us" if system == "us" else "metric", start)
    link = form.choice("kind", LINKS, "two_wire")
    parts: list[Part] = []
    mode = form.choice("input.mode", INPUT_MODES, "passive") if link in ("two_wire", "four_wire") else "passive"
    powers = link == "two_wire" and mode == "active"
    if not powers:
        parts.append(Part("supply", "supply", "Supply", "panel", _supply_values(form)))
    if form.flag("fuse", True) and not powers:
        parts.append(
            Part("fuse", "fuse", "Fuse", "panel", _values(form, "fuse", "fuse", {"rating_a": ("rating", "current")}))
        )
    input_values = _values(form, "input", _INPUT[link], {"ohm": ("ohm", "resistance")})
    if mode != "passive":
        input_values["supplies_v"] = form.quantity("input.volt", "voltage", 1.0, 60.0, usual=24.0)
    parts.append(Part("input", _INPUT[link], "Port" if link == "digital" else "Input", "panel", input_values))
    parts += _in_the_loop(form, link)
    if link == "two_wire" and form.flag("barrier"):
        ohm = {"ohm": ("ohm", "resistance"), "return_ohm": ("return_ohm", "resistance")}
        values = _values(form, "barrier", "barrier", ohm | {key: one[1:3] for key, one in BARRIER.items()})
        parts.append(Part("barrier", "barrier", "Barrier", "panel", values))
    runs = _runs(form, link)
    for index, run in enumerate(runs):
        if index:
            cores = (*run.cores, "S") if run.shielded else run.cores
            parts.append(Part(f"box{index}", "terminals", f"Box {index}", "run", {}, cores))
        parts.append(run)
    pins = _pins(form, link) if form.flag("connector") else None
    if pins:
        parts.append(Part("plug", "connector", "M12", "run", {}, tuple(PIN_NAMES)))
    fields = SENSOR_FIELDS[link]
    if any(part.kind == "barrier" for part in parts):
        fields = fields | {key: one[1:3] for key, one in SENSOR.items()}
    values = _values(form, "sensor", link, fields)
    if link == "three_wire":
        options = {key: f"{low:g} to {high:g} V" for key, (low, high) in VOLTAGES.items()}
        values["out_low_v"], values["out_high_v"] = VOLTAGES[form.choice("output", options, "0-10")]
    parts.append(Part("sensor", link, _SENSOR_NAMES[link], "field", values))
    shield = form.choice("shield", SHIELDS, "panel")
    if shield in ("panel", "both", "none"):
        parts.append(Part("earth", "earth", "Earth bar", "panel"))
    if shield in ("field", "both"):
        parts.append(Part("earth2", "earth", "Earth at the tank", "field"))
    hottest = form.quantity("hottest", "temperature", -40.0, 120.0, usual=50.0)
    planned = _join(link, {part.id for part in parts}, runs, shield, form, pins)
    bare = Circuit(link, tuple(parts), tuple(planned))
    circuit = Circuit(link, tuple(parts), tuple(_changed(form, planned, bare)))
    return WiringForm(circuit, form, hottest, tuple(planned))


Joint = tuple[str, str]


def _in_series(points: list[str], there: set[str]) -> tuple[list[Joint], str]:
    """Join the current parts that are there after one another, from `points`' last; give the wires and the end."""
    found: list[Joint] = []
    last = points[-1]
    for part, first, second in (("calibrator", "+", "−"), ("meter", "+", "−"), ("burden", "1", "2")):
        if part in there:
            found.append((last, f"{part}.{first}"))
            last = f"{part}.{second}"
    return found, last


def _feed(there: set[str]) -> tuple[list[Joint], str]:
    """The supply's plus through its fuse, if it has one."""
    return ([("supply.+", "fuse.1")], "fuse.2") if "fuse" in there else ([], "supply.+")


def _two_wire_panel(there: set[str]) -> tuple[list[Joint], dict[str, str]]:
    if "supply" in there:
        joints, plus = _feed(there)
        more, last = _in_series(["input.−"], there)
        joints, minus = [*joints, *more, (last, "supply.−")], "input.+"
    else:
        # The input powers the loop: out of its plus, and back into its minus.
        (joints, plus), minus = _in_series(["input.+"], there), "input.−"
    if "barrier" in there:
        joints = [*joints, (plus, "barrier.1"), ("barrier.2", minus)]
        plus, minus = "barrier.3", "barrier.4"
    return joints, {"+": plus, "−": minus}


def _panel(link: str, there: set[str]) -> tuple[list[Joint], dict[str, str]]:
    """What is joined in the panel, and where each of the cable's signals begins there."""
    if link == "two_wire":
        return _two_wire_panel(there)
    joints, plus = _feed(there)
    if link == "three_wire":
        return [*joints, ("input.−", "supply.−")], {"V+": plus, "out": "input.+", "V−": "supply.−"}
    if link == "contact":
        return [*joints, ("input.−", "supply.−")], {"c": plus, "no": "input.+"}
    if link == "digital":
        ends = {"V+": plus, "V−": "supply.−", "A": "input.A", "B": "input.B"}
        return [*joints, ("input.−", "supply.−")], ends
    more, last = _in_series(["input.−"], there)
    return [*joints, *more], {"V+": plus, "V−": "supply.−", "out+": "input.+", "out−": last}


def _pins(form: Form, link: str) -> dict[str, str]:
    """Which pin of the connector carries each signal: as noted, in the signals' order where nobody noted it."""
    signals = _SIGNALS[link]
    pins = {signal: form.choice(f"pin[{i}]", PIN_NAMES, str(i + 1)) for i, signal in enumerate(signals)}
    for index, signal in enumerate(signals):
        if list(pins.values()).count(pins[signal]) > 1:
            form.blame(f"pin[{index}]", f"pin {pins[signal]} cannot carry two signals: ring it out")
    return pins


def _join(
    link: str, there: set[str], runs: list[Part], shield: str, form: Form, pins: dict[str, str] | None
) -> list[Wire]:
    """Join the parts as they should be."""
    joints, ends = _panel(link, there)
    wires = [(a, b, "") for a, b in joints]
    for number, signal in enumerate(_SIGNALS[link], start=1):
        mark = form.text(f"core[{number - 1}]", 24)
        form.stand_in(f"core[{number - 1}]", "not rung out")
        last = ends[signal]
        for index, run in enumerate(runs):
            wires.append((last, f"{run.id}.{number}a", mark))
            last = f"{run.id}.{number}b"
            if index + 1 < len(runs):
                wires.append((last, f"box{index + 1}.{number}", mark))
                last = f"box{index + 1}.{number}"
        if pins:
            wires.append((last, f"plug.{pins[signal]}", mark))
            last = f"plug.{pins[signal]}"
        wires.append((last, f"sensor.{signal}", mark))
    if runs[0].shielded:
        if shield in ("panel", "both"):
            wires.append(("earth.e", f"{runs[0].id}.Sa", "shield"))
        for index, (run, following) in enumerate(pairwise(runs), start=1):
            wires += [(f"{run.id}.Sb", f"box{index}.S", "shield"), (f"box{index}.S", f"{following.id}.Sa", "shield")]
        if shield in ("field", "both"):
            wires.append((f"{runs[-1].id}.Sb", "earth2.e", "shield"))
    return [Wire(f"{a}>{b}".replace(".", ""), a, b, mark) for a, b, mark in wires]


def _changed(form: Form, wires: list[Wire], circuit: Circuit) -> list[Wire]:
    """Move the ends that people moved; a wire with an end nowhere is not connected."""
    points = {point: circuit.name(point) for point in circuit.points} | {NOWHERE: "not connected"}
    found = []
    for wire in wires:
        a = form.choice(f"end.{wire.id}.a", points) or wire.a
        b = form.choice(f"end.{wire.id}.b", points) or wire.b
        if NOWHERE not in (a, b):
            found.append(Wire(wire.id, a, b, wire.mark))
    for index in range(form.count("extra", "a", 12)):
        a, b = (form.choice(f"extra[{index}].{end}", points) for end in "ab")
        if a and b and NOWHERE not in (a, b):
            found.append(Wire(f"extra{index + 1}", a, b, "added"))
    return found
