"""A scaling chain as it is typed, and what a tank's gauge, scale and product say of it before anything is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from scipy.constants import g as GRAVITY

from ..errors import InputError
from ..form import Form
from ..gauges.model import GaugeModel
from ..liquids.liquid import density_at
from ..tanks.tank import Tank
from ..tanks.tank_file import TankFile
from ..units import System
from .chain import SIGNALS, Chain, path_of
from .chain_settings import FOLLOWING, SETTINGS, Setting, asked, check, raw_ends, settle, text_of
from .transmitter import Transmitter
from .volumes import Volumes

MOST_POINTS = 128
#: Speeds that an echo is taken to travel with where nobody typed another [m/s]: sound in air at 20 °C, and in diesel
#: at 20 °C; from memory.
_AIR, _LIQUID = 343.2, 1350.0
_OUTPUTS = {
    "4-20mA two-wire": "ma4", "4-20mA four-wire": "ma4", "0-10V three-wire": "v10", "1-5V three-wire": "v15",
    "0-5V three-wire": "v5", "digital RS-485": "digital",
}  # fmt: skip
#: What is taken of a chain where nobody typed anything; the tolerances are common practice, no published source.
_USUAL: dict[str, Any] = {
    "liquid_tolerance": 0.005, "sensor_mounting": 0.003, "sensor_medium": 0.01,
    "sensor_quantity": "level", "sensor_looks": "down", "sensor_zero": 0.0, "sensor_low": 0.0,
    "sensor_empty": 4000.0, "sensor_full": 40000.0, "sensor_accuracy": 0.0025, "sensor_step": 0.0,
    "signal_kind": "ma4", "signal_ratio": 0.010, "signal_fault": "low", "counts_bits": 15, "counts_over": "clip",
    "counts_accuracy": 0.001, "scaled_unit": "mm", "scaled_decimals": 0, "scaled_rounding": "round",
    "scaled_digits": 0, "register_type": "int16", "register_order": "ABCD", "register_offset": 0.0,
    "register_address": "", "shown_error": "none",
    "shown_takes": "level", "shown_as": "level", "shown_unit": "mm", "shown_decimals": 0, "filter_time": 0.0,
}  # fmt: skip


@dataclass(frozen=True)
class ChainForm:
    """A chain as far as it has been typed.

    Parameters
    ----------
    form : Form
        Its fields.
    chain : Chain or None
        The chain; None while something is wrong.
    usual : mapping of str to str
        What is taken for each entry where nothing is typed, as it can be typed; empty while something is wrong.
    """

    form: Form
    chain: Chain | None
    usual: Mapping[str, str]


def chain_start(
    file: TankFile, model: GaugeModel | None, output: str, scaled: Transmitter | None, system: System
) -> dict[str, str]:
    """What a tank's product, gauge and scale say of its chain, by the chain's entries.

    Parameters
    ----------
    file : TankFile
        The tank.
    model, output
        Its gauge and which of that one's outputs is used, if one is planned.
    scaled : Transmitter or None
        Its scale, if it is kept.
    system : {"metric", "us"}
        Whose units are proposed.
    """
    start: dict[str, str] = {}
    try:
        density = density_at(file.product, 15.0)
        start["liquid.density"] = f"{density:.5g} kg/m³"
    except InputError:
        density = 1000.0
    quantity, range_m, zero = "level", file.tank.inside_height, 0.0
    if model is not None:
        quantity = {"hydrostatic": "pressure", "capacitance": "level"}.get(model.technology, model.kind.senses)
        quantity = quantity if quantity in ("pressure", "distance") else "level"
        range_m = model.range_m
        start["signal.kind"] = _OUTPUTS.get(output, "ma4")
        share = model.accuracy_span + (model.accuracy_m / range_m if range_m else 0.0) + model.accuracy_reading
        start["sensor.accuracy"] = f"{share * 100:.3g} %"
        if model.resolution_m:
            start["sensor.step"] = f"{model.resolution_m * 1000:g} mm"
    low, high = 0.0, range_m
    if scaled is not None:
        low, high, zero = scaled.at_4_m, scaled.at_20_m, scaled.datum_offset_m
        quantity = "distance" if scaled.reports == "distance" else ("level" if quantity == "distance" else quantity)
    start["sensor.quantity"] = quantity
    start["sensor.zero"] = f"{zero * 1000:.7g} mm"
    # A scale is in metres of this liquid; a pressure sensor's own range is in metres of water.
    weight = (density if scaled is not None else 1000.0) * GRAVITY
    for end, metres in (("low", low), ("high", high)):
        start[f"sensor.{end}"] = (
            f"{metres * weight / 1e5:.6g} bar" if quantity == "pressure" else f"{metres * 1000:.7g} mm"
        )
    length = "in" if system == "us" else "mm"
    start |= {"scaled.unit": length, "scaled.decimals": "1" if system == "us" else "0", "shown.unit": length}
    start["shown.decimals"] = start["scaled.decimals"]
    return start


def _suited(entries: Mapping[str, str], start: Mapping[str, str]) -> dict[str, str]:
    """The start without what was said of another quantity or signal than the one that is chosen."""
    start = dict(start)
    chosen = entries.get("sensor.quantity", "").strip()
    if chosen and chosen != start.get("sensor.quantity", "level"):
        for path in ("sensor.low", "sensor.high"):
            start.pop(path, None)
    if entries.get("shown.as", "").strip() == "volume":
        start.pop("shown.unit", None)
        start.pop("shown.decimals", None)
    takes = entries.get("shown.takes", "").strip()
    if takes in ("percent", "pressure"):
        us = start.get("scaled.unit") == "in"
        start |= {"scaled.unit": "pct", "scaled.decimals": "2"} if takes == "percent" else {}
        start |= {"scaled.unit": "psi" if us else "mbar", "scaled.decimals": "2"} if takes == "pressure" else {}
    return start


def _read(form: Form, setting: Setting, values: Mapping[str, Any], usual: Any) -> Any:
    """Read one setting; what is usual where nothing is typed or it is wrong."""
    path, least, most = path_of(setting.name), setting.least, setting.most
    if setting.kind == "choice":
        return form.choice(path, setting.options, usual)
    kind = setting.kind
    if kind == "label":
        return form.text(path, 40)
    found: float | None
    if kind == "sensed":
        kind = {"pressure": "pressure", "counts": "number", "time": "milli"}.get(values["sensor_quantity"], "length")
    elif kind == "signal":
        kind = SIGNALS[values["signal_kind"]][1] or "milli"
    if kind in ("number", "whole"):
        found = form.number(path, least, most)
        if kind == "whole" and found is not None and found != int(found):
            form.blame(path, f"{found:g} is not a whole number")
            found = None
        found = int(found) if kind == "whole" and found is not None else found
    elif kind in ("milli", "bridge"):
        unit = "ms" if setting.kind == "sensed" else "mV/V"
        found = form.number(path, least * 1000, most * 1000, unit)
        found = None if found is None else found / 1000
    elif kind == "density":
        found = form.odd(path, "density", least, most)
    else:
        found = form.quantity(path, kind, least, most)
    return usual if found is None else found


def read_chain(
    entries: Mapping[str, str],
    file: TankFile,
    table: Tank,
    start: Mapping[str, str],
    system: System,
) -> ChainForm:
    """Read a chain as far as it has been typed.

    Parameters
    ----------
    entries : mapping of str to str
        Settings by their paths (``sensor.low``); ``shown.points``, how many points the device holds; and
        ``liquid.temperature``, by which the product's density is taken where none is typed.
    file : TankFile
        The tank as surveyed.
    table : Tank
        The tank as its table has it: of the newest revision issued.
    start : mapping of str to str
        What is taken where nothing is typed, as `chain_start` gives it.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    ChainForm
        Never raises for what is typed: problems stand at the fields.
    """
    typed = {path: text for path, text in entries.items() if text.strip()}
    form = Form({**_suited(typed, start), **typed}, system)
    _weigh(form, file, typed)
    values: dict[str, Any] = {}
    usual: dict[str, Any] = {
        **_USUAL,
        "liquid_density": 1000.0,
        "sensor_length": file.tank.inside_height,
    }
    for name, setting in SETTINGS.items():
        if name in FOLLOWING or name in ("counts_low", "counts_high"):
            continue
        values[name] = _read(form, setting, values, _usual(name, usual, values, file))
    points = form.number("shown.points", 0, MOST_POINTS) or 0
    if 0 < points < 2 or points != int(points):
        form.blame("shown.points", f"a device holds 2 to {MOST_POINTS} points, or the whole table: 0")
        points = 0
    keep = frozenset(name for name in FOLLOWING if path_of(name) in typed)
    for end, raw in zip(("low", "high"), raw_ends(values["signal_kind"], values["counts_bits"]), strict=True):
        values[f"counts_{end}"] = _read(form, SETTINGS[f"counts_{end}"], values, raw)
    for name in FOLLOWING:
        # What follows and is not typed is settled below; until then a unit or an order must be one.
        otherwise = {"read_type": "int16", "read_order": "ABCD", "shown_from": "mm"}.get(name, 0.0)
        values[name] = _read(form, SETTINGS[name], values, otherwise)
    chain = _settled(Chain(tank=file.tank, volumes=Volumes(table, int(points)), **values), keep, form)
    if form.problems or chain is None:
        return ChainForm(form, None, {})
    bare = settle(chain)
    known = {
        path_of(name): text_of(bare if name in FOLLOWING else chain, name, system)
        if SETTINGS[name].kind != "choice"
        else getattr(bare if name in FOLLOWING else chain, name)
        for name in asked(chain)
    }
    return ChainForm(form, chain, known)


def _weigh(form: Form, file: TankFile, typed: Mapping[str, str]) -> None:
    """Take the product's density at the temperature that is typed, where no density is."""
    celsius = form.odd("liquid.temperature", "temperature", -60.0, 150.0)
    if celsius is None or "liquid.density" in typed:
        return
    try:
        form.entries = {**form.entries, "liquid.density": f"{density_at(file.product, celsius):.6g} kg/m³"}
    except InputError as error:
        form.blame("liquid.temperature", error.problems[0].what)


def _usual(name: str, usual: Mapping[str, Any], values: Mapping[str, Any], file: TankFile) -> Any:
    """What is taken of one setting where nothing is typed, by those that were read before it."""
    if name == "sensor_sound":
        return _AIR if values["sensor_looks"] == "down" else _LIQUID
    if name == "sensor_high":
        return _full(values, file)
    if name == "register_multiplier":
        whole = values["register_type"] != "float32"
        return 10.0 ** max(values["scaled_decimals"], 0) if whole else 1.0
    if name == "shown_unit" and values["shown_as"] == "volume":
        return "l"
    return usual[name]


def _full(values: Mapping[str, Any], file: TankFile) -> float:
    """What is sensed of a full tank [SI]."""
    height = file.tank.inside_height
    quantity = values["sensor_quantity"]
    if quantity == "pressure":
        return float(values["liquid_density"] * GRAVITY * height)
    if quantity == "counts":
        return float(values["sensor_full"])
    return 2 * height / values["sensor_sound"] if quantity == "time" else height


def _settled(chain: Chain, keep: frozenset[str], form: Form) -> Chain | None:
    """The chain with what follows, if it can be; what is wrong at its field otherwise."""
    if form.problems:
        return None
    try:
        if chain.sensor_low == chain.sensor_high:
            raise InputError.at("sensor.high", "the range has no span")
        chain = settle(chain, keep)
        check(chain)
    except InputError as error:
        for problem in error.problems:
            form.blame(problem.where, problem.what)
        return None
    except ZeroDivisionError:
        form.blame("counts.high", "both ends are the same: nothing can be told from it")
        return None
    return chain
