"""A scaling chain as it is typed, and what a tank's product and gauge say of it before anything is."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import cast

from ..gauges.model import GaugeModel
from ..products.liquid import REFERENCE_C, density_at
from ..products.registry import product_of
from ..quantities.errors import InputError
from ..quantities.form import Form, usual_text
from ..quantities.signals import OUTPUTS, SIGNALS, Signal
from ..quantities.units import GRAVITY, System
from ..tanks.tank import Tank
from ..tanks.tank_file import TankFile
from ..wiring.circuit import Circuit
from ..wiring.transfer import carried
from .chain import KIND, QUANTITY, READER, Chain
from .chain_settings import check, keys_of, settle
from .hop import Hop, Setting, Value
from .numbers import DigitalScaling, Link, PanelMeter, Register, Scaling
from .screen import Screen
from .sending import InputCard, Transmitter, Wires, raw_ends
from .sensing import SENSING, EchoSensing, Sensing
from .volumes import Volumes

MOST_POINTS = 128
#: Speeds that an echo is taken to travel with where nobody typed another [m/s]: sound in air at 20 °C, and in diesel
#: at 20 °C; from memory.
_AIR, _LIQUID = 343.2, 1350.0


@dataclass(frozen=True)
class Ground:
    """What a tank's chain stands on, beside what is typed of it.

    Parameters
    ----------
    file : TankFile
        The tank as surveyed.
    table : Tank
        The tank as its table has it: of the newest revision issued.
    circuit : Circuit or None
        Its circuit, if one is kept.
    start : mapping of str to str
        What is taken where nothing is typed, as `chain_start` gives it.
    """

    file: TankFile
    table: Tank
    circuit: Circuit | None
    start: Mapping[str, str]


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


@dataclass(frozen=True)
class Mounted:
    """Where a gauge stands: its foot and its face above the inside bottom [m]; None where that is not known."""

    foot_m: float | None
    face_m: float | None


def chain_start(
    file: TankFile,
    model: GaugeModel | None,
    output: str,
    mounted: Mounted | None,
    system: System,
    circuit: Circuit | None = None,
) -> dict[str, str]:
    """What a tank's product, gauge and circuit say of its chain, by the chain's entries.

    Parameters
    ----------
    file : TankFile
        The tank.
    model, output : GaugeModel or None, str
        Its gauge and which of that one's outputs is used, if one is planned.
    mounted : Mounted or None
        Where it stands, if it is placed.
    system : {"metric", "us"}
        Whose units are proposed.
    circuit : Circuit, optional
        As it is wired: where no gauge says what is sent, its sensor does.
    """
    start: dict[str, str] = {}
    if circuit is not None and carried(circuit):
        start[KIND.path] = carried(circuit)[0]
    with suppress(InputError):
        start["liquid.density"] = f"{density_at(product_of(file.product), 15.0):.5g} kg/m³"
    quantity, range_m = "level", file.tank.inside_height
    if model is not None:
        quantity = "pressure" if model.kind.weighs else "distance" if model.kind.senses == "distance" else "level"
        range_m = model.range_m
        known = OUTPUTS.get(output)
        if known is not None and known.signal:
            start[KIND.path] = known.signal
        share = model.accuracy_span + (model.accuracy_m / range_m if range_m else 0.0) + model.accuracy_reading
        start["sensor.accuracy"] = f"{share * 100:.3g} %"
        if model.resolution_m:
            start["sensor.step"] = f"{model.resolution_m * 1000:g} mm"
    zero = 0.0
    if mounted is not None and quantity == "distance" and mounted.face_m is not None:
        zero = mounted.face_m - file.tank.reference_height_m
    elif mounted is not None and quantity != "distance" and mounted.foot_m is not None:
        zero = mounted.foot_m
    start[QUANTITY.path] = quantity
    start["sensor.zero"] = f"{round(zero * 1000, 3):g} mm"
    # A pressure sensor's range is in metres of water.
    for end, metres in (("low", 0.0), ("high", range_m)):
        start[f"sensor.{end}"] = (
            f"{metres * 1000 * GRAVITY / 1e5:.6g} bar" if quantity == "pressure" else f"{metres * 1000:.7g} mm"
        )
    length = "in" if system == "us" else "mm"
    start |= {"scaled.unit": length, "scaled.decimals": "1" if system == "us" else "0", "shown.unit": length}
    start["shown.decimals"] = start["scaled.decimals"]
    return start


def _suited(entries: Mapping[str, str], start: Mapping[str, str]) -> dict[str, str]:
    """The start without what was said of another quantity or signal than the one that is chosen."""
    start = dict(start)
    chosen = entries.get(QUANTITY.path, "").strip()
    said = start.get(QUANTITY.path, "level")
    if chosen and chosen != said:
        for path in ("sensor.low", "sensor.high"):
            start.pop(path, None)
        if "distance" in (chosen, said):
            start.pop("sensor.zero", None)
    if entries.get("shown.as", "").strip() == "volume":
        start.pop("shown.unit", None)
        start.pop("shown.decimals", None)
    takes = entries.get("shown.takes", "").strip()
    if takes in ("percent", "pressure"):
        us = start.get("scaled.unit") == "in"
        start |= {"scaled.unit": "pct", "scaled.decimals": "2"} if takes == "percent" else {}
        start |= {"scaled.unit": "psi" if us else "mbar", "scaled.decimals": "2"} if takes == "pressure" else {}
    return start


class _Reader:
    """Reads a chain's hops one after the other, each setting by what was read before it."""

    def __init__(self, form: Form, ground: Ground) -> None:
        self.form, self.ground = form, ground
        self.values: dict[str, Value] = {}
        self.sensing: type[Sensing] = SENSING["level"]
        self.signal: Signal = SIGNALS["ma4"]
        self.raw = ""

    def choose(self, one: Setting, usual: str) -> str:
        """Read a choice that decides which hops there are."""
        self.values[one.path] = self.form.choice(one.path, one.options, usual)
        return cast(str, self.values[one.path])

    def hop(self, kind: type[Hop], usual: Mapping[str, Value]) -> dict[str, Value]:
        """Read a hop's settings; what follows and is not typed is settled afterwards."""
        found = {}
        for path, one in kind.known().items():
            if path in self.values:
                found[path] = self.values[path]
                continue
            found[path] = self.values[path] = self.setting(one, usual.get(path))
        return found

    def setting(self, one: Setting, usual: Value | None) -> Value:
        """Read one setting; what is usual where nothing is typed or it is wrong."""
        form, path, least, most = self.form, one.path, one.least, one.most
        if one.kind == "choice":
            return form.choice(path, one.options, cast(str, usual) if usual is not None else next(iter(one.options)))
        if one.kind == "label":
            return form.text(path, 40)
        kind = {"sensed": self.sensing.quantity, "signal": self.signal.quantity, "raw": self.raw}.get(
            one.kind, one.kind
        )
        if kind in ("number", "whole", ""):
            found = form.number(path, least, most)
            if kind == "whole" and found is not None:
                if found != int(found):
                    form.blame(path, f"{found:g} is not a whole number")
                    return 0 if usual is None else usual
                return int(found)
        else:
            found = form.quantity(path, kind, least, most)
        return (0.0 if usual is None else usual) if found is None else found


def read_chain(entries: Mapping[str, str], ground: Ground, system: System) -> ChainForm:
    """Read a chain as far as it has been typed.

    Parameters
    ----------
    entries : mapping of str to str
        Settings by their entries (``sensor.low``); ``shown.points``, how many points the device holds; and
        ``liquid.temperature``, by which the product's density is taken where none is typed.
    ground : Ground
        What it stands on.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    ChainForm
        Never raises for what is typed: problems stand at the fields.
    """
    typed = {path: text for path, text in entries.items() if text.strip()}
    form = Form({**_suited(typed, ground.start), **typed}, system)
    _weigh(form, ground.file, typed)
    form.text("sensor.serial", 80)
    points = form.number("shown.points", 0, MOST_POINTS) or 0
    form.stand_in("shown.points", "0")
    if 0 < points < 2 or points != int(points):
        form.blame("shown.points", f"a device holds 2 to {MOST_POINTS} points, or the whole table: 0")
        points = 0
    reader = _Reader(form, ground)
    hops = _hops(reader, Volumes(ground.table, int(points)))
    chain = Chain.of(hops, ground.file.tank.inside_height)
    settled = _settled(chain, frozenset(path for path in typed if path in chain.settings()), form)
    if form.problems or settled is None:
        return ChainForm(form, None, {})
    # What follows is told as it would be if nobody had typed it.
    return ChainForm(form, settled, keys_of(settle(settled), system))


def _hops(reader: _Reader, volumes: Volumes) -> list[Hop]:
    """Read the hops that the choices ask for."""
    tank = reader.ground.file.tank
    quantity = reader.choose(QUANTITY, "level")
    kind = reader.choose(KIND, "ma4")
    read_by = reader.choose(READER, "register")
    reader.sensing = SENSING[quantity]
    sensing = _sensing(reader, tank)
    full = sensing.full(tank.inside_height)
    hops: list[Hop] = [sensing]
    digital = SIGNALS[kind].digital
    if digital:
        if read_by == "meter":
            reader.form.blame(READER.path, "a digital sensor has no signal that a panel meter could hang in")
        reader.raw = reader.sensing.quantity or "number"
    else:
        usual: dict[str, Value] = {"sensor.high": full, "signal.ratio": 0.010, "sensor.accuracy": 0.0025}
        transmitter = Transmitter().put(reader.hop(Transmitter, usual))
        reader.signal = transmitter.signal
        hops += [transmitter, Wires(transmitter.signal, reader.ground.circuit)]
        reader.raw = reader.signal.quantity if read_by == "meter" else "number"
        if read_by != "meter":
            hops.append(_card(reader))
    hops.append(_scaling(reader, digital, read_by, full))
    if read_by == "register":
        hops += _register(reader)
    unit = "l" if reader.form.entries.get("shown.as", "").strip() == "volume" else "mm"
    screen = Screen(volumes=volumes, top_m=tank.inside_height, reference_m=tank.reference_height_m)
    usual = {"shown.unit": unit, "shown.height": tank.inside_height, "shown.density": 1000.0, "shown.decimals": 0}
    return [*hops, screen.put(reader.hop(Screen, usual))]


def _sensing(reader: _Reader, tank: Tank) -> Sensing:
    kind = reader.sensing
    usual: dict[str, Value] = {
        "sensor.zero": 0.0, "sensor.mounting": 0.003, "liquid.density": 1000.0, "liquid.tolerance": 0.005,
        "sensor.length": tank.inside_height, "sensor.empty": 4000.0, "sensor.full": 40000.0, "sensor.medium": 0.01,
    }  # fmt: skip
    if kind is EchoSensing:
        looks = reader.form.choice("sensor.looks", EchoSensing.known()["sensor.looks"].options, "down")
        usual["sensor.sound"] = _AIR if looks == "down" else _LIQUID
    return kind(reference_m=tank.reference_height_m).put(reader.hop(kind, usual))


def _card(reader: _Reader) -> InputCard:
    """An input card: its raw ends are usual for its bits and its signal."""
    bits = InputCard.known()["counts.bits"]
    reader.values[bits.path] = reader.setting(bits, 15)
    low, high = raw_ends(reader.signal, int(cast(int, reader.values[bits.path])))
    usual: dict[str, Value] = {
        "counts.low": low,
        "counts.high": high,
        "counts.over": "clip",
        "counts.accuracy": 0.001,
    }
    return InputCard().put(reader.hop(InputCard, usual))


def _scaling(reader: _Reader, digital: bool, read_by: str, full: float) -> Scaling:
    kind = DigitalScaling if digital else PanelMeter if read_by == "meter" else Scaling
    usual: dict[str, Value] = {
        "scaled.unit": "mm", "scaled.decimals": 0, "scaled.rounding": "round", "scaled.digits": 0,
        "sensor.high": full, "sensor.accuracy": 0.0025,
    }  # fmt: skip
    return kind().put(reader.hop(kind, usual))


def _register(reader: _Reader) -> list[Hop]:
    of = Register.known()
    reader.values["register.type"] = reader.setting(of["register.type"], "int16")
    whole = reader.values["register.type"] != "float32"
    places = max(int(cast(int, reader.values["scaled.decimals"])), 0)
    usual: dict[str, Value] = {"register.multiplier": 10.0**places if whole else 1.0, "register.order": "ABCD"}
    return [Register().put(reader.hop(Register, usual)), Link().put(reader.hop(Link, {}))]


def _weigh(form: Form, file: TankFile, typed: Mapping[str, str]) -> None:
    """Take the product's density at the temperature that is typed, where no density is."""
    celsius = form.quantity("liquid.temperature", "temperature", -60.0, 150.0)
    form.stand_in("liquid.temperature", usual_text(REFERENCE_C, "temperature", form.system))
    if celsius is None or "liquid.density" in typed:
        return
    try:
        density = density_at(product_of(file.product), celsius)
        form.entries = {**form.entries, "liquid.density": f"{density:.6g} kg/m³"}
    except InputError as error:
        form.blame("liquid.temperature", error.problems[0].what)


def _settled(chain: Chain, keep: frozenset[str], form: Form) -> Chain | None:
    """The chain with what follows, if it can be; what is wrong at its field otherwise."""
    if form.problems:
        return None
    try:
        if chain.sensor.range_low == chain.sensor.range_high:
            raise InputError.at("sensor.high", "both ends are the same: such a range measures nothing")
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
