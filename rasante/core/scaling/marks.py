"""Marks: overfill, high, safe fill, reorder, low, empty and the pump's: typed, checked, and derived anew."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

from ..quantities.errors import InputError
from ..quantities.form import Form, FormField
from ..quantities.judgement import Judgement, by_weight, good, stop, stops, watch
from ..quantities.typed import read_quantity, with_unit
from ..quantities.units import System, show
from ..quantities.words import Words
from ..tanks.limits import Limits, limits_of
from ..tanks.tank import Tank
from .chain import Chain
from .chain_values import value_text

#: Marks from the top down; pump start and stop are placed by what the pump does.
MARKS: dict[str, str] = {
    "overfill": "Overfill",
    "high": "High",
    "safe": "Safe fill",
    "reorder": "Reorder",
    "low": "Low",
    "empty": "Empty",
    "pump_start": "Pump start",
    "pump_stop": "Pump stop",
}
_ORDER = ("empty", "low", "reorder", "safe", "high", "overfill")
PUMPS: dict[str, str] = {"fills": "fills this tank", "empties": "empties this tank"}
#: What a mark may be typed as, with its quantity: volume, per cent of capacity, level, or the loop's current.
KINDS: dict[str, str] = {"volume": "volume", "volume_pct": "ratio", "level": "length", "current": "current"}
#: Seconds from a high alarm until somebody has stopped the filling: common practice, no published source.
RESPONSE_S = 120.0


@dataclass(frozen=True)
class Mark:
    """One mark.

    Parameters
    ----------
    key, label : str
        Of `MARKS`.
    kind : str
        What it was typed as, of `KINDS`: that stays when the table is revised, and the rest is derived.
    value : float
        Its value in SI.
    level_m, volume_m3, volume_ratio : float
        Where it stands by the table.
    signal, shown : str
        The loop's signal and what the screen shows there, in words; empty without a chain.
    """

    key: str
    label: str
    kind: str
    value: float
    level_m: float
    volume_m3: float
    volume_ratio: float
    signal: str
    shown: str


@dataclass(frozen=True)
class Surroundings:
    """What marks are checked against.

    Parameters
    ----------
    blanking_m : float
        What the gauge cannot read next to its face [m].
    rods : mapping of str to float
        Levels of the rods ``cutout``, ``start`` and ``stop`` [m], if there are rods.
    """

    blanking_m: float = 0.0
    rods: Mapping[str, float] | None = None


@dataclass(frozen=True)
class Marks:
    """Marks as far as they have been typed.

    Parameters
    ----------
    form : Form
        Their fields: ``marks.high`` and so on, ``fill_rate`` (volume a minute), ``response`` (minutes), ``pump``.
    marks : tuple of Mark
        Those that are set, from the top down.
    to_brim_s : float or None
        From the high mark to the brim at the fill rate [s].
    judgements : tuple of Judgement
        What to make of them.
    """

    form: Form
    marks: tuple[Mark, ...]
    to_brim_s: float | None
    judgements: tuple[Judgement, ...]


def sniff(text: str, system: System) -> tuple[str, float]:
    """Read a mark as a volume, per cent, level or current, by its unit; a bare number is a level.

    Raises
    ------
    InputError
        If it is none of these.
    """
    failed = ""
    for kind in ("level", "volume", "volume_pct", "current"):
        try:
            return kind, read_quantity(text, KINDS[kind], system)
        except InputError as error:
            failed = failed or error.problems[0].what
    if any(letter.isalpha() for letter in text):
        raise InputError.at("", f"“{text.strip()[:24]}” is no mark: 3500 L, 90 %, 1.6 m or 18 mA")
    raise InputError.at("", failed)


def place(tank: Tank, chain: Chain | None, kind: str, value: float) -> float:
    """Level at which a mark stands [m].

    Raises
    ------
    InputError
        If it lies outside the tank, or is a current and there is no chain that sends one.
    """
    level = value
    if kind in ("volume", "volume_pct"):
        wanted = value * tank.capacity if kind == "volume_pct" else value
        least, most = (float(tank.volume(h)) for h in (0.0, tank.inside_height))
        if not least - 1e-12 <= wanted <= most * (1 + 1e-12):
            raise InputError.at("", f"is outside this tank: it has {least * 1000:.0f} to {most * 1000:.0f} L")
        level = tank.level(wanted)
    if kind == "current":
        if chain is None or chain.signal is None or chain.signal.quantity != "current":
            raise InputError.at("", "this chain sends no current: type a volume, a per cent or a level")
        level = chain.level_from("sent", value)
    if not -1e-6 <= level <= tank.inside_height + 1e-6:
        raise InputError.at(
            "", f"is a level of {level * 1000:.0f} mm; this tank has 0 to {tank.inside_height * 1000:.0f} mm"
        )
    return min(max(level, 0.0), tank.inside_height)


def mark_at(tank: Tank, chain: Chain | None, key: str, kind: str, value: float, system: System) -> Mark:
    """Derive a mark from what it was typed as.

    Raises
    ------
    InputError
        As `place`.
    """
    level = place(tank, chain, kind, value)
    volume = float(tank.volume(level))
    signal = shown = ""
    if chain is not None:
        values = chain.at(level)
        signal = value_text(chain, "sent", values["sent"], system) if "sent" in values else ""
        shown = value_text(chain, "shown", values["shown"], system)
    return Mark(key, MARKS[key], kind, value, level, volume, volume / tank.capacity, signal, shown)


def read_marks(
    entries: Mapping[str, str], tank: Tank, chain: Chain | None, around: Surroundings, system: System
) -> Marks:
    """Read marks as far as they have been typed.

    Parameters
    ----------
    entries : mapping of str to str
        As in `Marks`.
    tank : Tank
        The tank as its table has it.
    chain : Chain or None
        Its scaling chain.
    around : Surroundings
        What they are checked against.
    system : {"metric", "us"}
        What a bare number means.
    """
    form, found = Form(entries, system), []
    for key in MARKS:
        path = f"marks.{key}"
        typed = str(entries.get(path, "")).strip()
        if not typed:
            form.fields[path] = FormField(path, "empty")
            continue
        try:
            kind, value = sniff(typed, system)
            mark = mark_at(tank, chain, key, kind, value, system)
            _refuse_overfilling(mark, limits_of(tank), system)
        except InputError as error:
            form.fields[path] = FormField(path, "wrong", typed, problem=error.problems[0].what)
            continue
        kept = with_unit(typed, KINDS[kind], system)
        form.fields[path] = FormField(path, "read", kept, mark_words(mark, Words(system)))
        found.append(mark)
    rate = form.quantity("fill_rate", "volume", 0.0, 100.0)
    response = form.number("response", 0.0, 600.0)
    form.stand_in("response", f"{RESPONSE_S / 60:g}")
    pump = form.choice("pump", PUMPS, "fills")
    by_key = {mark.key: mark for mark in found}
    to_brim = None
    if rate and "high" in by_key:
        to_brim = max(limits_of(tank).brim_m3 - by_key["high"].volume_m3, 0.0) / rate * 60
    allowed = RESPONSE_S if response is None else response * 60
    judgements = [
        *_order(by_key),
        *_pump(by_key, pump),
        *_limits(by_key, tank),
        *_readable(by_key, chain, around),
        *_rods(by_key, around),
        *_time(to_brim, allowed, chain),
    ]
    if found and not stops(judgements) and not form.problems:
        judgements.append(good("marks", "The marks stand in their order, and inside what can be read."))
    marks = tuple(sorted(found, key=lambda mark: -mark.level_m))
    return Marks(form, marks, to_brim, tuple(by_weight(judgements)))


def _refuse_overfilling(mark: Mark, limits: Limits, system: System) -> None:
    """Refuse a mark above the filling limit of a vessel under pressure: by law it is not filled above it."""
    if (
        limits.filling_m3 is None
        or limits.filling_level_m is None
        or mark.volume_m3 <= limits.filling_m3 * (1 + 1e-9)
    ):
        return
    w = Words(system)
    raise InputError.at(
        "",
        f"stands for {w.volume(mark.volume_m3)}; the filling limit of this vessel is "
        f"{w.volume(limits.filling_m3)} at {w.length(limits.filling_level_m)}: set it lower, or give the code's own "
        "figure at Survey",
    )


def mark_words(mark: Mark, w: Words) -> str:
    """Write where a mark stands."""
    return f"{w.length(mark.level_m)}, {w.volume(mark.volume_m3)}, {show(mark.volume_ratio, 'ratio', w.system)}"


def _order(marks: Mapping[str, Mark]) -> list[Judgement]:
    found = []
    there = [marks[key] for key in _ORDER if key in marks]
    for lower, upper in pairwise(there):
        if upper.level_m <= lower.level_m:
            text = "{upper} at {value:length} is not above {lower} at {limit:length}."
            names = {"upper": upper.label, "lower": lower.label.lower()}
            found.append(stop(f"order-{upper.key}", text, value=upper.level_m, limit=lower.level_m, **names))
    return found


def _pump(marks: Mapping[str, Mark], pump: str) -> list[Judgement]:
    if "pump_start" not in marks or "pump_stop" not in marks:
        return []
    begins, ends = marks["pump_start"].level_m, marks["pump_stop"].level_m
    if (pump == "fills") == (begins < ends) and begins != ends:
        return []
    words = "above its stop: a pump that fills starts below" if pump == "fills" else "below its stop: it starts above"
    return [
        stop("pump", "The pump's start is not right: it is at or {words}.", value=begins, limit=ends, words=words)
    ]


def _limits(marks: Mapping[str, Mark], tank: Tank) -> list[Judgement]:
    limits = limits_of(tank)
    found = []
    for key in ("high", "safe"):
        if key in marks and marks[key].volume_m3 > limits.safe_m3 * (1 + 1e-9):
            over = marks[key].volume_m3 - limits.safe_m3
            text = "{mark} is {over:volume} above the safe fill of {limit:volume}."
            numbers = {"value": marks[key].volume_m3, "limit": limits.safe_m3, "over": over}
            found.append(stop(f"safe-{key}", text, mark=marks[key].label, **numbers))
    if "overfill" in marks and marks["overfill"].level_m >= limits.brim_level_m - 1e-9:
        text = "Overfill stands at the brim, {limit:length}: it would never come before the spill."
        found.append(stop("brim", text, value=marks["overfill"].level_m, limit=limits.brim_level_m))
    if limits.outlet_level_m is not None:
        for key in ("low", "empty", "pump_stop"):
            if key in marks and marks[key].level_m < limits.outlet_level_m - 1e-9:
                text = "{mark} is below the suction at {limit:length}: it draws air first."
                numbers = {"value": marks[key].level_m, "limit": limits.outlet_level_m}
                found.append(watch(f"outlet-{key}", text, mark=marks[key].label, **numbers))
    return found


def _readable(marks: Mapping[str, Mark], chain: Chain | None, around: Surroundings) -> list[Judgement]:
    """Marks must lie where the gauge reads: below its blanking, and inside its range."""
    if chain is None or not marks:
        return []
    found = []
    top = max(marks.values(), key=lambda mark: mark.level_m)
    bottom = min(marks.values(), key=lambda mark: mark.level_m)
    if chain.sensing.looks_down and around.blanking_m:
        blind = chain.screen.reference_m + chain.sensing.zero_m - around.blanking_m
        numbers = {"value": top.level_m, "limit": blind, "zone": around.blanking_m}
        if top.level_m > blind + 1e-9:
            text = "{mark} is {off:length} inside the blind zone, which begins at {limit:length}: it is never seen."
            found.append(stop("blanking", text, mark=top.label, off=top.level_m - blind, **numbers))
        elif top.level_m > blind - around.blanking_m:
            text = (
                "{mark} is {off:length} below the blind zone: as much as the zone is deep, {zone:length}, is wanted."
            )
            found.append(watch("near-blanking", text, mark=top.label, off=blind - top.level_m, **numbers))
    ends = sorted(chain.level_from("sensed", end) for end in (chain.sensor.range_low, chain.sensor.range_high))
    if top.level_m > ends[1] + 1e-6:
        text = "{mark} is {off:length} above the end of the range: its signal never comes."
        off = top.level_m - ends[1]
        found.append(stop("above-range", text, mark=top.label, value=top.level_m, limit=ends[1], off=off))
    if bottom.level_m < ends[0] - 1e-6:
        text = "{mark} is {off:length} below the range: its signal never comes."
        off = ends[0] - bottom.level_m
        found.append(stop("below-range", text, mark=bottom.label, value=bottom.level_m, limit=ends[0], off=off))
    return found


def _rods(marks: Mapping[str, Mark], around: Surroundings) -> list[Judgement]:
    if not around.rods:
        return []
    found = []
    for key, rod in (("pump_start", "start"), ("pump_stop", "stop"), ("low", "cutout")):
        if key in marks and rod in around.rods and abs(marks[key].level_m - around.rods[rod]) > 0.005:
            off = marks[key].level_m - around.rods[rod]
            text = "{mark} is {off:length} {way} its rod's tip at {limit:length}: the rod switches, not the mark."
            way = "above" if off > 0 else "below"
            numbers = {"value": marks[key].level_m, "limit": around.rods[rod], "off": abs(off)}
            found.append(watch(f"rod-{rod}", text, mark=marks[key].label, way=way, **numbers))
    return found


def _time(to_brim: float | None, allowed: float, chain: Chain | None) -> list[Judgement]:
    if to_brim is None:
        return []
    late = 3 * chain.screen.filter_s if chain is not None else 0.0
    need = allowed + late
    text = "From high to the brim at the largest filling it takes {minutes:.1f} min; {needed:.1f} min are needed to "
    text += "stop it"
    text += ", {late:.0f} s of them the filter's" if late else ""
    numbers = {"value": to_brim, "limit": need, "minutes": to_brim / 60, "needed": need / 60, "late": late}
    if to_brim < need:
        return [stop("response", text + ": set high lower, or fill slower.", **numbers)]
    return [good("response", text + ".", **numbers)]


def rederive(
    kept: list[Mark], tank: Tank, chain: Chain | None, system: System
) -> list[tuple[Mark, Mark | None, str]]:
    """Derive marks anew after the table was revised: as kept, as they would be, and what is wrong if they cannot be.

    Parameters
    ----------
    kept : list of Mark
        As they were derived last.
    tank : Tank
        The tank as the newest table has it.
    """
    found: list[tuple[Mark, Mark | None, str]] = []
    for mark in kept:
        try:
            found.append((mark, mark_at(tank, chain, mark.key, mark.kind, mark.value, system), ""))
        except InputError as error:
            found.append((mark, None, error.problems[0].what))
    return found
