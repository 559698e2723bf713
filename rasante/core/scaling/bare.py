"""The line without a tank: a chain on a plain upright gauge line, read at any one value that is known of it.

What nobody typed is taken as usual, and what that may mean otherwise is said beside the answer.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..products.liquid import density_at
from ..products.registry import product_of
from ..quantities.errors import InputError
from ..quantities.form import Form, FormField
from ..quantities.typed import read_quantity
from ..quantities.units import UNITS, System
from ..tanks.check import FORMAT
from ..tanks.tank_file import TankFile, check_document
from .chain import STATIONS, Chain
from .chain_form import ChainForm, Ground, read_chain
from .chain_line import ChainLine, read_chain_line
from .chain_values import read_value, value_text
from .parting_form import PartingForm, read_parting

#: Values that may be typed beside a chain's own stations: share of the signal's span, and the volume below the line.
BESIDE: dict[str, str] = {"span_pct": "Per cent of span", "volume": "Volume"}
#: Ranges that pressure sensors are sold in, by what a bare number means: common practice, no published source.
RANGES: dict[System, tuple[str, ...]] = {
    "us": ("5 psi", "10 psi", "15 psi", "30 psi"),
    "metric": ("0.16 bar", "0.25 bar", "0.4 bar", "0.6 bar", "1 bar"),
}
USUAL_RANGE: dict[System, str] = {"us": "15 psi", "metric": "0.4 bar"}
#: Liquids that are asked about where nobody named one; the first is taken.
LIQUIDS = ("water", "diesel", "petrol")
#: A square metre of surface, for a line whose diameter nobody knows [mm]; its volumes are not told.
_PLAIN_MM = 2000 / math.sqrt(math.pi)
_TALLEST_M = 90.0


@dataclass(frozen=True)
class Meaning:
    """What the value stands for if one thing that nobody typed is otherwise: which, and the level then [m]."""

    unless: str
    level_m: float


@dataclass(frozen=True)
class Bare:
    """A line without a tank, as far as it has been typed.

    Parameters
    ----------
    form : Form
        The fields of the line itself: ``tank.height|rings|course|diameter|product``, and ``value.STATION``.
    chain : ChainForm
        The chain's fields, and the chain.
    file : TankFile
        The plain upright that it is drawn on.
    level_m : float or None
        The line; None while no value is typed, or it cannot be read.
    at : str
        The station whose value was taken.
    line : ChainLine or None
        The whole chain there.
    volume_m3 : float or None
        Volume below the line; None without a diameter.
    says : str
        What the value stands for.
    meanings : tuple of Meaning
        What it stands for if what was not typed is otherwise.
    parting : PartingForm or None
        Where truth and reading part, once two values are typed.
    """

    form: Form
    chain: ChainForm
    file: TankFile
    level_m: float | None
    at: str
    line: ChainLine | None
    volume_m3: float | None
    says: str
    meanings: tuple[Meaning, ...]
    parting: PartingForm | None


def bare_start(system: System) -> dict[str, str]:
    """What a stranger's line usually is: a pressure sensor that hangs in water, read in feet or metres."""
    unit, places = ("ft", "2") if system == "us" else ("m", "3")
    return {
        "sensor.quantity": "pressure", "sensor.low": f"0 {USUAL_RANGE[system].split()[1]}",
        "sensor.high": USUAL_RANGE[system], "liquid.density": f"{density_at(product_of(LIQUIDS[0]), 15.0):.6g} kg/m³",
        "scaled.unit": unit, "scaled.decimals": places, "shown.unit": unit, "shown.decimals": places,
    }  # fmt: skip


def upright(height_m: float, diameter_m: float | None, product: str = "") -> TankFile:
    """The plain upright that a line is drawn on."""
    flat = {"kind": "flat"}
    shape: dict[str, Any] = {
        "kind": "vertical_cylinder", "diameter_mm": round((diameter_m or _PLAIN_MM / 1000) * 1000, 6),
        "shell_height_mm": round(height_m * 1000, 6), "bottom": flat, "top": flat,
    }  # fmt: skip
    named = {"product": product} if product else {}
    return check_document({"format": FORMAT, "name": "Line", "shape": shape, **named})


def read_bare(entries: Mapping[str, str], system: System) -> Bare:
    """Read a line without a tank.

    Parameters
    ----------
    entries : mapping of str to str
        The chain's settings by their entries; ``tank.height``, or ``tank.rings`` times ``tank.course``;
        ``tank.diameter``; ``tank.product``; any ``value.STATION``, of the chain's stations and `BESIDE`; and ``at``,
        the one that the line goes by.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    Bare
        Never raises for what is typed: problems stand at the fields.
    """
    form = Form(entries, system)
    product = form.text("tank.product", 60)
    diameter = form.quantity("tank.diameter", "length", 0.01, 100.0)
    height = _height(form)
    typed = {path: text for path, text in entries.items() if path.partition(".")[0] not in ("tank", "value", "at")}
    start = _start(form, product, typed)
    # As tall as a line can be, until it is known where the range and the value stand.
    tall = upright(height or _TALLEST_M, diameter, product)
    first = read_chain(typed, Ground(tall, tall.tank, None, start), system)
    values = [key for key in (*STATIONS, *BESIDE) if entries.get(f"value.{key}", "").strip()]
    at = entries.get("at", "") if entries.get("at", "") in values else (values[0] if values else "")
    for key in values:
        _note(form, first.chain, key)
    if first.chain is None:
        return Bare(form, first, tall, None, at, None, None, "", (), None)
    level = _level(form, first.chain, tall, diameter, at) if at else None
    if height is None:
        ends = [first.chain.level_from("sensed", end) for end in _ends(first.chain)]
        height = min(max([*(end for end in ends if math.isfinite(end)), level or 0.0, 0.1]), _TALLEST_M)
    file = upright(height, diameter, product)
    found = read_chain(typed, Ground(file, file.tank, None, start), system)
    if found.chain is None or level is None:
        return Bare(form, found, file, None, at, None, None, "", (), _parting(entries, values, found, system))
    inside = -1e-6 <= level <= height + 1e-6
    if not inside:
        said = f"stands for {length_text(level, system)}; this line goes from 0 to {length_text(height, system)}"
        _blame(form, at, said)
        return Bare(form, found, file, None, at, None, None, "", (), _parting(entries, values, found, system))
    level = min(max(level, 0.0), height)
    line = read_chain_line(found.chain, file, level)
    volume = None if diameter is None else float(file.tank.volume(level))
    says = _says(found.chain, form.entries[f"value.{at}"], at, level, product, system)
    meanings = tuple(_meanings(entries, typed, at, system))
    return Bare(form, found, file, level, at, line, volume, says, meanings,
                _parting(entries, values, found, system))  # fmt: skip


def _height(form: Form) -> float | None:
    """The height that is typed, or rings × course [m]."""
    height = form.quantity("tank.height", "length", 0.05, _TALLEST_M)
    rings, course = form.number("tank.rings", 1, 60), form.quantity("tank.course", "length", 0.05, 20.0)
    if height is not None or rings is None or course is None:
        return height
    if rings * course > _TALLEST_M:
        form.blame("tank.rings", f"{rings:g} rings of that height are more than {_TALLEST_M:g} m: check the two")
        return None
    return rings * course


def _start(form: Form, product: str, typed: Mapping[str, str]) -> dict[str, str]:
    start = bare_start(form.system)
    if typed.get("sensor.quantity", "pressure") not in ("", "pressure"):
        for path in ("sensor.low", "sensor.high", "liquid.density"):
            start.pop(path)
    elif product:
        try:
            start["liquid.density"] = f"{density_at(product_of(product), 15.0):.6g} kg/m³"
        except InputError as error:
            form.blame("tank.product", error.problems[0].what)
    return start


def _ends(c: Chain) -> tuple[float, float]:
    return c.sensor.range_low, c.sensor.range_high


def _blame(form: Form, key: str, what: str) -> None:
    typed = form.entries.get(f"value.{key}", "")
    form.fields[f"value.{key}"] = FormField(f"value.{key}", "wrong", typed, problem=what)


def _note(form: Form, c: Chain | None, key: str) -> None:
    """Note how a typed value was understood, or what is wrong with it."""
    typed = form.entries[f"value.{key}"]
    if key in BESIDE:
        form.quantity(f"value.{key}", "ratio" if key == "span_pct" else "volume", -1.0, 1e6)
        return
    if c is None or key not in c.stations:
        _blame(form, key, "this line has no such station: choose the signal and the card that it goes by")
        return
    try:
        says = value_text(c, key, read_value(c, key, typed, form.system), form.system)
    except InputError as error:
        _blame(form, key, error.problems[0].what)
        return
    form.fields[f"value.{key}"] = FormField(f"value.{key}", "read", typed, says)


def _level(form: Form, c: Chain, file: TankFile, diameter: float | None, at: str) -> float | None:
    """The level that the value at a station stands for [m]; None with a problem at its field."""
    field = form.fields.get(f"value.{at}")
    if field is None or field.state != "read":
        return None
    try:
        level = level_of(c, file, diameter, at, form.entries[f"value.{at}"], form.system)
    except InputError as error:
        _blame(form, at, error.problems[0].what)
        return None
    if not math.isfinite(level):
        _blame(form, at, "no level gives that: read it again, or look at the settings")
        return None
    return level


def level_of(c: Chain, file: TankFile, diameter: float | None, at: str, text: str, system: System) -> float:
    """The level that a value stands for [m], wherever it was read; NaN where none gives it.

    Raises
    ------
    InputError
        If the value cannot be read, or the volume lies outside.
    """
    if at == "span_pct":
        low, high = _ends(c)
        return c.level_from("sensed", low + read_quantity(text, "ratio", system) * (high - low))
    if at == "volume":
        if diameter is None:
            raise InputError.at("", "a volume asks for the diameter: type it")
        return read_quantity(text, "volume", system) / (math.pi / 4 * diameter**2)
    return c.level_from(at, read_value(c, at, text, system))


def length_text(metres: float, system: System) -> str:
    """Write a level as a person on the telephone says it: to a tenth of a foot, or a hundredth of a metre."""
    return f"{metres / UNITS['ft'].si:.1f} ft" if system == "us" else f"{metres:.2f} m"


def _says(c: Chain, text: str, at: str, level: float, product: str, system: System) -> str:
    bare = text.strip()
    unit = "" if any(letter.isalpha() or letter == "%" for letter in bare) else _unit_of(c, at, system)
    label = "" if at in ("sent", "arriving", "sensed") else f"{(BESIDE.get(at) or STATIONS[at]).lower()} "
    sensor = f"a {_range_text(c, system)} sensor"
    there = length_text(level, system)
    weighs = c.sensing.kind == "pressure"
    name = product or LIQUIDS[0]
    if at in ("level", "volume") and c.signal is not None:
        sent = value_text(c, "sent", float(c.forward("level", "sent", np.array([level]))[0]), system)
        return f"Under {there} of {name} {sensor} sends {sent}." if weighs else f"At {there} {sensor} sends {sent}."
    return f"At {label}{bare}{unit} {sensor} " + (
        f"stands under {there} of {name}." if weighs else f"reads a level of {there}."
    )


def _range_text(c: Chain, system: System) -> str:
    low, high = (value_text(c, "sensed", end, system) for end in _ends(c))
    first, unit = low.partition(" ")[::2]
    return f"{first}–{high}" if unit and high.endswith(f" {unit}") else f"{low} to {high}"


def _unit_of(c: Chain, at: str, system: System) -> str:
    if at in BESIDE:
        return " %" if at == "span_pct" else (" US gal" if system == "us" else " L")
    text = value_text(c, at, 0.0, system)
    unit = text.partition(" ")[2]
    return f" {unit}" if unit else ""


def _meanings(entries: Mapping[str, str], typed: Mapping[str, str], at: str, system: System) -> Iterator[Meaning]:
    """What the value stands for with another usual range, liquid or signal, where nobody typed those."""
    if typed.get("sensor.quantity", "") not in ("", "pressure") or at == "level":
        return
    others: list[tuple[str, dict[str, str]]] = []
    # A pressure that was read at the sensor needs no range; everything behind it does.
    if not typed.get("sensor.high", "").strip() and at not in ("sensed", "volume"):
        low = typed.get("sensor.low", "").strip() or "0"
        others += [(f"it is {low}–{high}", {"sensor.high": high}) for high in RANGES[system]
                   if high != USUAL_RANGE[system]]  # fmt: skip
    if not entries.get("tank.product", "").strip() and not typed.get("liquid.density", "").strip() and at != "volume":
        others += [(f"the liquid is {name}", {"tank.product": name}) for name in LIQUIDS if name != LIQUIDS[0]]
    if not typed.get("signal.kind", "").strip() and at in ("sent", "arriving"):
        others.append(("the signal is 0–20 mA", {"signal.kind": "ma0"}))
    for unless, change in others:
        level = _level_if({**entries, **change}, at, system)
        if level is not None and math.isfinite(level) and level >= 0:
            yield Meaning(unless, level)


def _level_if(entries: Mapping[str, str], at: str, system: System) -> float | None:
    form = Form(entries, system)
    product = form.text("tank.product", 60)
    diameter = form.quantity("tank.diameter", "length", 0.01, 100.0)
    typed = {path: text for path, text in entries.items() if path.partition(".")[0] not in ("tank", "value", "at")}
    tall = upright(_TALLEST_M, diameter, product)
    c = read_chain(typed, Ground(tall, tall.tank, None, _start(form, product, typed)), system).chain
    if c is None:
        return None
    try:
        return level_of(c, tall, diameter, at, entries[f"value.{at}"], system)
    except InputError:
        return None


def _parting(entries: Mapping[str, str], values: list[str], found: ChainForm, system: System) -> PartingForm | None:
    """Where truth and reading part, with two values of the chain typed."""
    stations = [key for key in values if key in STATIONS]
    if found.chain is None or len(stations) < 2:
        return None
    return read_parting({f"rows[0].{key}": entries[f"value.{key}"] for key in stations}, found.chain, system)
