"""The five-point check: what was applied against what was read, as found and as left, and one dip.

Every reading is turned into innage, so that a receiver may show level, distance, per cent, volume or current
and is judged by the same rule. Errors are read minus true, in innage [m] and as a share of the span.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..errors import InputError, Problem
from ..tanks.tank import Tank
from ..units import System, read_quantity, show
from .transmitter import Transmitter

#: What is applied at the five points, with its quantity.
APPLIED: dict[str, tuple[str, str]] = {
    "current": ("Current from a source, at the receiver", "current"),
    "innage": ("Level in the tank, or a depth standing for it", "length"),
    "sensed": ("Depth over the sensor, or distance to a target", "length"),
}
#: What the receiver shows, with its quantity.
READ: dict[str, tuple[str, str]] = {
    "innage": ("Level (innage)", "length"),
    "sensed": ("The transmitter's own value", "length"),
    "span_pct": ("Per cent of span", "ratio"),
    "volume": ("Volume", "volume"),
    "volume_pct": ("Per cent full, by volume", "ratio"),
    "current": ("Current", "current"),
}
POINTS = 5
RUNS = {"found": "As found", "left": "As left"}
DIRECTIONS = {"up": "rising", "down": "falling"}
CELLS = tuple(f"{run}_{direction}" for run in RUNS for direction in DIRECTIONS)

Verdict = Literal["pass", "fail", "incomplete"]


@dataclass(frozen=True)
class Cell:
    """One reading: how far it is off [m of innage; share of span], and whether that is allowed."""

    error_m: float
    error_ratio: float
    passes: bool


@dataclass(frozen=True)
class Point:
    """One point: what it stands for, and its readings by ``found_up`` … ``left_down``."""

    applied: float | None
    expected_innage_m: float | None
    expected_read: float | None
    cells: Mapping[str, Cell]


@dataclass(frozen=True)
class Worst:
    """The largest error or hysteresis of a run, and where."""

    point: int
    direction: str
    value_m: float
    value_ratio: float


@dataclass(frozen=True)
class Run:
    """One run through the five points.

    Parameters
    ----------
    verdict : {"pass", "fail", "incomplete"}
        Whether every reading is within the tolerance.
    worst : Worst or None
        The largest error.
    hysteresis : Worst or None
        The largest difference between rising and falling at one point; None if it was not taken both ways.
    zero_m, full_m, rest_m : float or None
        Error at 4 mA and at 20 mA of the straight line through the errors, and the largest error that setting
        both ends right would leave [m].
    """

    verdict: Verdict
    worst: Worst | None
    hysteresis: Worst | None
    zero_m: float | None
    full_m: float | None
    rest_m: float | None


@dataclass(frozen=True)
class Dip:
    """A dip beside the indication: difference in level [m], volume [m³] and share of capacity."""

    dipped_m: float
    indicated_m: float
    difference_m: float
    difference_m3: float
    difference_ratio: float
    passes: bool


@dataclass(frozen=True)
class Proof:
    """A proof as far as it has been taken.

    Parameters
    ----------
    tolerance_m : float or None
        Allowed error [m of innage].
    points : tuple of Point
        The five points.
    runs : mapping of str to Run
        ``found`` and ``left``, those of which anything was read.
    dip : Dip or None
        The dip, if it was taken.
    verdict : {"pass", "fail", "incomplete"}
        Of the last run and the dip together.
    problems : tuple of Problem
        What cannot be read, at its field.
    missing : tuple of str
        What is still needed before it may be signed, in words.
    """

    tolerance_m: float | None
    points: tuple[Point, ...]
    runs: Mapping[str, Run]
    dip: Dip | None
    verdict: Verdict
    problems: tuple[Problem, ...]
    missing: tuple[str, ...]


class _Bench:
    """Turns what is applied and read into innage, and collects what cannot be."""

    def __init__(self, tank: Tank, transmitter: Transmitter, system: System) -> None:
        self.tank, self.transmitter, self.system = tank, transmitter, system
        self.problems: list[Problem] = []

    def quantity(self, text: Any, quantity: str, where: str) -> float | None:
        if not isinstance(text, str) or not text.strip():
            return None
        try:
            return read_quantity(text, quantity, self.system, where)
        except InputError as error:
            self.problems.extend(error.problems)
            return None

    def innage(self, kind: str, value: float) -> float:
        """Innage [m] that a value stands for."""
        if kind == "innage":
            return value
        if kind == "sensed":
            return float(self.transmitter.innage_of(self.tank, value))
        if kind == "current":
            return float(self.transmitter.innage(self.tank, value))
        if kind == "span_pct":
            return float(self.transmitter.innage(self.tank, 0.004 + 0.016 * value))
        volume = value * self.tank.capacity if kind == "volume_pct" else value
        inside = float(np.clip(volume, 0.0, self.tank.capacity))
        # A reading beyond the brim is off by what it would be in a straight tank of the same height.
        beyond = (volume - inside) / self.tank.capacity * self.tank.inside_height
        return self.tank.level(inside) + beyond

    def reading(self, kind: str, innage: float) -> float:
        """The value a receiver of a kind should show at `innage` [m]."""
        if kind == "innage":
            return innage
        if kind == "sensed":
            return float(self.transmitter.sensed(self.tank, innage))
        current = float(self.transmitter.current(self.tank, innage))
        if kind == "current":
            return current
        if kind == "span_pct":
            return (current - 0.004) / 0.016
        volume = float(self.tank.volume(innage))
        return volume / self.tank.capacity if kind == "volume_pct" else volume


def judge_proof(entries: Mapping[str, Any], tank: Tank, transmitter: Transmitter, system: System) -> Proof:
    """Judge a proof as far as it has been typed.

    Parameters
    ----------
    entries : mapping
        ``applied_as``, ``read_as``, ``tolerance``, ``points`` (five mappings of ``applied`` and the four cells,
        as typed), ``dip`` (``kind``, ``measured``, ``indicated``, ``tolerance``), ``control_in_manual`` and
        ``control_restored``.
    tank, transmitter
        What is proved.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    Proof
        Never raises for what is typed: problems stand at the fields.
    """
    bench = _Bench(tank, transmitter, system)
    tolerance = read_tolerance(bench, entries.get("tolerance"), "tolerance")
    applied_as = str(entries.get("applied_as", "current"))
    read_as = str(entries.get("read_as", "innage"))
    given = entries.get("points", [])
    points = tuple(
        _judge_point(bench, given[i] if i < len(given) else {}, i, (applied_as, read_as), tolerance)
        for i in range(POINTS)
    )
    runs = {}
    for name in RUNS:
        run = _judge_run(points, name, transmitter.span_m)
        if run is not None:
            runs[name] = run
    dip = _judge_dip(bench, entries.get("dip", {}), read_as)
    missing = _missing(entries, points, runs, tolerance, applied_as)
    verdict = _verdict(runs, dip, bool(missing or bench.problems))
    return Proof(tolerance, points, runs, dip, verdict, tuple(bench.problems), missing)


def read_tolerance(bench: _Bench, text: Any, where: str) -> float | None:
    """Read a tolerance in per cent of span or as a length [m]; a bare number is per cent."""
    if not isinstance(text, str) or not text.strip():
        return None
    ratio = "%" in text or text.strip()[-1].isdigit()
    value = bench.quantity(text, "ratio" if ratio else "length", where)
    if value is None:
        return None
    tolerance = value * bench.transmitter.span_m if ratio else value
    if not 0 < tolerance <= bench.transmitter.span_m / 2:
        bench.problems.append(
            Problem(where, "must be more than 0 and at most half the span: for instance 0.5 % or 5 mm")
        )
        return None
    return tolerance


def _judge_point(
    bench: _Bench, given: Mapping[str, Any], index: int, kinds: tuple[str, str], tolerance: float | None
) -> Point:
    applied_as, read_as = kinds
    where = f"points[{index}]"
    applied = bench.quantity(given.get("applied"), APPLIED[applied_as][1], f"{where}.applied")
    if applied is not None and applied_as == "current" and not 0.0035 <= applied <= 0.023:
        bench.problems.append(
            Problem(f"{where}.applied", f"{show(applied, 'current', 'metric')} is outside 3.5 to 23 mA")
        )
        applied = None
    expected = shown = None
    if applied is not None:
        expected = bench.innage(applied_as, applied)
        if read_as in ("volume", "volume_pct"):
            expected = float(np.clip(expected, 0.0, bench.tank.inside_height))
        shown = bench.reading(read_as, expected)
    cells = {}
    for name in CELLS:
        read = bench.quantity(given.get(name), READ[read_as][1], f"{where}.{name}")
        if read is not None and expected is not None:
            error = bench.innage(read_as, read) - expected
            span = bench.transmitter.span_m
            cells[name] = Cell(error, error / span, tolerance is not None and abs(error) <= tolerance + 1e-9)
    return Point(applied, expected, shown, cells)


def _judge_run(points: tuple[Point, ...], run: str, span: float) -> Run | None:
    cells = {
        (index, direction): point.cells[f"{run}_{direction}"]
        for index, point in enumerate(points)
        for direction in DIRECTIONS
        if f"{run}_{direction}" in point.cells
    }
    if not cells:
        return None
    (where, direction), worst = max(cells.items(), key=lambda item: abs(item[1].error_m))
    taken = {d: sum(1 for _, way in cells if way == d) for d in DIRECTIONS}
    whole = taken["up"] == POINTS and taken["down"] in (0, POINTS)
    verdict: Verdict = "incomplete"
    if not all(cell.passes for cell in cells.values()):
        verdict = "fail"
    elif whole:
        verdict = "pass"
    both = [i for i in range(POINTS) if (i, "up") in cells and (i, "down") in cells]
    hysteresis = None
    if both:
        gaps = {i: abs(cells[i, "up"].error_m - cells[i, "down"].error_m) for i in both}
        widest = max(gaps, key=lambda i: gaps[i])
        hysteresis = Worst(widest, "", gaps[widest], gaps[widest] / span)
    zero = full = rest = None
    levels = [float(points[i].expected_innage_m or 0.0) for i, _ in cells]
    if len(set(levels)) >= 3:
        errors = [cell.error_m for cell in cells.values()]
        slope, offset = np.polyfit(levels, errors, 1)
        low, high = min(levels), max(levels)
        zero, full = float(offset + slope * low), float(offset + slope * high)
        rest = float(np.max(np.abs(np.array(errors) - (offset + slope * np.array(levels)))))
    return Run(verdict, Worst(where, direction, worst.error_m, worst.error_ratio), hysteresis, zero, full, rest)


def _judge_dip(bench: _Bench, given: Mapping[str, Any], read_as: str) -> Dip | None:
    measured = bench.quantity(given.get("measured"), "length", "dip.measured")
    indicated = bench.quantity(given.get("indicated"), READ[read_as][1], "dip.indicated")
    allowed = read_tolerance(bench, given.get("tolerance") or "10 mm", "dip.tolerance")
    if measured is None:
        return None
    tank = bench.tank
    dipped = tank.reference_height_m - measured if given.get("kind") == "ullage" else measured
    if not -1e-9 <= dipped <= tank.inside_height + 1e-9:
        bench.problems.append(
            Problem(
                "dip.measured",
                f"stands for an innage of {show(dipped, 'length', bench.system)}; this tank has 0 to "
                f"{show(tank.inside_height, 'length', bench.system)}",
            )
        )
        return None
    if indicated is None:
        return None
    shown = bench.innage(read_as, indicated)
    volume = float(tank.volume(shown) - tank.volume(dipped))
    return Dip(
        dipped,
        shown,
        shown - dipped,
        volume,
        volume / tank.capacity,
        allowed is not None and abs(shown - dipped) <= allowed + 1e-9,
    )


def _missing(
    entries: Mapping[str, Any],
    points: tuple[Point, ...],
    runs: Mapping[str, Run],
    tolerance: float | None,
    applied_as: str,
) -> tuple[str, ...]:
    missing = []
    if tolerance is None:
        missing.append("the tolerance")
    if any(point.applied is None for point in points):
        missing.append("what is applied at each of the five points")
    elif len({point.applied for point in points}) < POINTS:
        missing.append("five different points")
    if not runs:
        missing.append("the readings as found")
    for name in runs:
        for direction, way in DIRECTIONS.items():
            lacking = [str(i + 1) for i, point in enumerate(points) if f"{name}_{direction}" not in point.cells]
            if lacking and (direction == "up" or len(lacking) < POINTS):
                missing.append(f"{RUNS[name].lower()}, {way}: point {', '.join(lacking)}")
    if applied_as == "current" and not entries.get("control_in_manual"):
        missing.append("the word that control was in manual and the operator told")
    if applied_as == "current" and not entries.get("control_restored"):
        missing.append("the word that control is restored")
    return tuple(missing)


def _verdict(runs: Mapping[str, Run], dip: Dip | None, unfinished: bool) -> Verdict:
    last = runs.get("left") or runs.get("found")
    if last is None or unfinished or last.verdict == "incomplete":
        return "incomplete"
    return "fail" if last.verdict == "fail" or (dip is not None and not dip.passes) else "pass"
