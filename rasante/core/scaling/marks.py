"""Marks: overfill, high, safe fill, reorder, low, empty and the pump's: typed, checked, and derived anew."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

from ..errors import InputError
from ..form import Form, FormField
from ..judgement import Judgement
from ..tanks.limits import limits_of
from ..tanks.tank import Tank
from ..units import System, Words, read_quantity, show, with_unit
from .chain import Chain
from .chain_values import value_text
from .hops import level_from, looks_down, run

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
        if chain is None or chain.signal_kind not in ("ma4", "ma0"):
            raise InputError.at("", "this chain sends no current: type a volume, a per cent or a level")
        level = level_from(chain, "signal", value)
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
    values = run(chain, level) if chain is not None else {}
    texts = {
        station: value_text(chain, station, values[station], system)
        for station in ("signal", "shown")
        if chain is not None and station in values
    }
    signal, shown = texts.get("signal", ""), texts.get("shown", "")
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
        except InputError as error:
            form.fields[path] = FormField(path, "wrong", typed, problem=error.problems[0].what)
            continue
        kept = with_unit(typed, KINDS[kind], system)
        form.fields[path] = FormField(path, "read", kept, mark_words(mark, Words(system)))
        found.append(mark)
    rate = form.quantity("fill_rate", "volume", 0.0, 100.0)
    response = form.number("response", 0.0, 600.0)
    pump = form.choice("pump", PUMPS, "fills")
    by_key = {mark.key: mark for mark in found}
    to_brim = None
    if rate and "high" in by_key:
        to_brim = max(limits_of(tank).brim_m3 - by_key["high"].volume_m3, 0.0) / rate * 60
    allowed = RESPONSE_S if response is None else response * 60
    w = Words(system)
    judgements = [
        *_order(by_key, w),
        *_pump(by_key, pump),
        *_limits(by_key, tank, w),
        *_readable(by_key, chain, around, w),
        *_rods(by_key, around, w),
        *_time(to_brim, allowed, chain),
    ]
    if found and not any(j.weight == "stop" for j in judgements):
        judgements.append(Judgement("good", "marks", "The marks stand in their order, and inside what can be read."))
    weight = {"stop": 0, "watch": 1, "good": 2}
    marks = tuple(sorted(found, key=lambda mark: -mark.level_m))
    return Marks(form, marks, to_brim, tuple(sorted(judgements, key=lambda j: weight[j.weight])))


def mark_words(mark: Mark, w: Words) -> str:
    """Write where a mark stands."""
    return f"{w.length(mark.level_m)}, {w.volume(mark.volume_m3)}, {show(mark.volume_ratio, 'ratio', w.system)}"


def _order(marks: Mapping[str, Mark], w: Words) -> list[Judgement]:
    found = []
    there = [marks[key] for key in _ORDER if key in marks]
    for lower, upper in pairwise(there):
        if upper.level_m <= lower.level_m:
            text = (
                f"{upper.label} at {w.length(upper.level_m)} is not above {lower.label.lower()} at "
                f"{w.length(lower.level_m)}."
            )
            found.append(Judgement("stop", f"order-{upper.key}", text))
    return found


def _pump(marks: Mapping[str, Mark], pump: str) -> list[Judgement]:
    if "pump_start" not in marks or "pump_stop" not in marks:
        return []
    start, stop = marks["pump_start"].level_m, marks["pump_stop"].level_m
    if (pump == "fills") == (start < stop) and start != stop:
        return []
    words = "above its stop: a pump that fills starts below" if pump == "fills" else "below its stop: it starts above"
    return [Judgement("stop", "pump", f"The pump's start is not right: it is at or {words}.")]


def _limits(marks: Mapping[str, Mark], tank: Tank, w: Words) -> list[Judgement]:
    limits = limits_of(tank)
    found = []
    for key in ("high", "safe"):
        if key in marks and marks[key].volume_m3 > limits.safe_m3 * (1 + 1e-9):
            over = w.volume(marks[key].volume_m3 - limits.safe_m3)
            text = f"{marks[key].label} is {over} above the safe fill of {w.volume(limits.safe_m3)}."
            found.append(Judgement("stop", f"safe-{key}", text))
    if "overfill" in marks and marks["overfill"].level_m >= limits.brim_level_m - 1e-9:
        text = f"Overfill stands at the brim, {w.length(limits.brim_level_m)}: it would never come before the spill."
        found.append(Judgement("stop", "brim", text))
    if limits.outlet_level_m is not None:
        for key in ("low", "empty", "pump_stop"):
            if key in marks and marks[key].level_m < limits.outlet_level_m - 1e-9:
                suction = w.length(limits.outlet_level_m)
                text = f"{marks[key].label} is below the suction at {suction}: it draws air first."
                found.append(Judgement("watch", f"outlet-{key}", text))
    return found


def _readable(marks: Mapping[str, Mark], chain: Chain | None, around: Surroundings, w: Words) -> list[Judgement]:
    """Marks must lie where the gauge reads: below its blanking, and inside its range."""
    if chain is None or not marks:
        return []
    found = []
    top = max(marks.values(), key=lambda mark: mark.level_m)
    bottom = min(marks.values(), key=lambda mark: mark.level_m)
    if looks_down(chain) and around.blanking_m:
        face = chain.tank.reference_height_m + chain.sensor_zero
        blind = face - around.blanking_m
        if top.level_m > blind + 1e-9:
            text = (
                f"{top.label} is {w.length(top.level_m - blind)} inside the blind zone, which begins at "
                f"{w.length(blind)}: it is never seen."
            )
            found.append(Judgement("stop", "blanking", text))
        elif top.level_m > blind - around.blanking_m:
            text = (
                f"{top.label} is {w.length(blind - top.level_m)} below the blind zone: as much as the zone is deep, "
                f"{w.length(around.blanking_m)}, is wanted."
            )
            found.append(Judgement("watch", "near-blanking", text))
    ends = sorted(level_from(chain, "sensed", end) for end in (chain.sensor_low, chain.sensor_high))
    if top.level_m > ends[1] + 1e-6:
        text = f"{top.label} is {w.length(top.level_m - ends[1])} above the end of the range: its signal never comes."
        found.append(Judgement("stop", "above-range", text))
    if bottom.level_m < ends[0] - 1e-6:
        text = f"{bottom.label} is {w.length(ends[0] - bottom.level_m)} below the range: its signal never comes."
        found.append(Judgement("stop", "below-range", text))
    return found


def _rods(marks: Mapping[str, Mark], around: Surroundings, w: Words) -> list[Judgement]:
    if not around.rods:
        return []
    found = []
    for key, rod in (("pump_start", "start"), ("pump_stop", "stop"), ("low", "cutout")):
        if key in marks and rod in around.rods and abs(marks[key].level_m - around.rods[rod]) > 0.005:
            off = marks[key].level_m - around.rods[rod]
            text = (
                f"{marks[key].label} is {w.length(abs(off))} {'above' if off > 0 else 'below'} its rod's tip at "
                f"{w.length(around.rods[rod])}: the rod switches, not the mark."
            )
            found.append(Judgement("watch", f"rod-{rod}", text))
    return found


def _time(to_brim: float | None, allowed: float, chain: Chain | None) -> list[Judgement]:
    if to_brim is None:
        return []
    late = 3 * chain.filter_time if chain is not None else 0.0
    need = allowed + late
    words = f"From high to the brim at the largest filling it takes {to_brim / 60:.1f} min; "
    words += f"{need / 60:.1f} min are needed to stop it"
    words += f", {late:.0f} s of them the filter's" if late else ""
    if to_brim < need:
        return [Judgement("stop", "response", f"{words}: set high lower, or fill slower.")]
    return [Judgement("good", "response", f"{words}.")]


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
