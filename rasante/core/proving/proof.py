"""The five-point check: what was applied against what was read, as found and as left, and one dip.

A proof runs between any two stations of the chain: a level, a distance, a signal or counts are applied, and
anything after them is read; or another display is read that the chain knows nothing of. Every reading is turned
into innage, and is judged by one rule. Errors are read minus true, in innage [m] and as a share of the span.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError, Problem
from ..quantities.typed import read_quantity
from ..quantities.units import System, show
from ..scaling.chain import Chain
from ..scaling.chain_values import read_value, value_text
from ..scaling.screen import BY_VOLUME
from ..scaling.volumes import Volumes
from ..tanks.tank import Tank
from .places import APPLIED, CELLS, DIRECTIONS, DISPLAYS, PLACES, POINTS, READ, RUNS
from .result import Cell, Dip, Point, Proof, Run, Split, Verdict, Worst


class _Bench:
    """Turns what is applied and read into innage, and collects what cannot be."""

    def __init__(self, chain: Chain, tank: Tank, system: System) -> None:
        self.chain, self.tank, self.system = chain.ideal, tank, system
        self.problems: list[Problem] = []
        ends = [self.chain.level_from("sensed", end) for end in (chain.sensor.range_low, chain.sensor.range_high)]
        #: Size of the sensor's range, as level [m].
        self.span_m = abs(ends[1] - ends[0])

    def quantity(self, text: Any, quantity: str, where: str) -> float | None:
        if not isinstance(text, str) or not text.strip():
            return None
        try:
            return read_quantity(text, quantity, self.system, where)
        except InputError as error:
            self.problems.extend(error.problems)
            return None

    def value(self, text: Any, kind: str, where: str) -> float | None:
        """Read what was typed of a station or a display."""
        if kind in DISPLAYS:
            return self.quantity(text, DISPLAYS[kind][1], where)
        if not isinstance(text, str) or not text.strip():
            return None
        try:
            return read_value(self.chain, kind, text, self.system)
        except InputError as error:
            self.problems.append(Problem(where, error.problems[0].what))
            return None

    def innage(self, kind: str, value: float) -> float:
        """Innage [m] that a value stands for; NaN where none gives it."""
        if kind == "innage":
            return value
        if kind == "span_pct":
            low, high = self.chain.sensor.range_low, self.chain.sensor.range_high
            return self.chain.level_from("sensed", low + value * (high - low))
        volumes = self._volumes(kind)
        if volumes is None:
            return self.chain.level_from(kind, value)
        volume = self.volume(kind, value)
        least, most = (float(v) for v in volumes.volume(np.array([0.0, self.tank.inside_height])))
        inside = min(max(volume, least), most)
        # A reading beyond the ends is off by what it would be in a straight tank of the same height.
        beyond = (volume - inside) / volumes.capacity * self.tank.inside_height
        return float(volumes.level(np.array([inside]))[0]) + beyond

    def _volumes(self, kind: str) -> Volumes | None:
        """How a reading turns level into volume; None for one that is none."""
        screen = self.chain.screen
        if kind in BY_VOLUME:
            return screen.volumes.whole if screen.volumes is not None else Volumes(self.tank)
        return screen.volumes if kind == "shown" and screen.shows in BY_VOLUME else None

    def volume(self, kind: str, value: float) -> float:
        """A reading as volume [m³]."""
        volumes, screen = self._volumes(kind), self.chain.screen
        assert volumes is not None
        if kind == "shown":
            return value * (volumes.capacity / 100 if screen.shows == "volume_pct" else screen.size)
        return value * volumes.capacity if kind == "volume_pct" else value

    def due(self, applied_as: str, applied: float, read_as: str) -> tuple[float, str]:
        """Innage that a reading should stand for [m], and what should be read, in words."""
        x = np.array([applied])
        if read_as not in DISPLAYS:
            exact = self.chain.forward(applied_as, read_as, x)
            about = self.chain.forward(applied_as, read_as, x, exact=False)
            return self.innage(read_as, float(about[0])), value_text(
                self.chain, read_as, float(exact[0]), self.system
            )
        sensed = self.chain.forward(applied_as, "sensed", x) if applied_as == "level" else None
        level = self.chain.level_from(applied_as, applied)
        if read_as == "span_pct":
            low, high = self.chain.sensor.range_low, self.chain.sensor.range_high
            there = sensed if sensed is not None else self.chain.backward(applied_as, "sensed", x)
            return level, show((float(there[0]) - low) / (high - low), "ratio", self.system)
        if read_as == "innage":
            return level, show(level, "length", self.system)
        level = min(max(level, 0.0), self.tank.inside_height)
        volumes = self._volumes(read_as)
        assert volumes is not None
        volume = float(volumes.volume(np.array([level]))[0])
        if read_as == "volume_pct":
            return level, show(volume / volumes.capacity, "ratio", self.system)
        return level, show(volume, "volume", self.system)

    def split(self, read_as: str, level: float, value: float) -> Split | None:
        """Where a volume's difference from the tank's own comes from; None for a reading that is no volume."""
        volumes = self._volumes(read_as)
        if volumes is None:
            return None
        at: Array = np.array([min(max(level, 0.0), self.tank.inside_height)])
        own, table, device = (float(v) for v in (self.tank.volume(at[0]), volumes.whole.volume(at)[0],
                                                  volumes.volume(at)[0]))  # fmt: skip
        return Split(table - own, device - table, self.volume(read_as, value) - device)


def places(chain: Chain) -> tuple[dict[str, str], dict[str, str]]:
    """What may be applied and what may be read of a chain, by their keys."""
    applied = {key: words for key, words in APPLIED.items() if key in chain.stations}
    read = {key: words for key, words in READ.items() if key in chain.stations or key in DISPLAYS}
    return applied, read


def judge_proof(entries: Mapping[str, Any], chain: Chain, tank: Tank, system: System) -> Proof:
    """Judge a proof as far as it has been typed.

    Parameters
    ----------
    entries : mapping
        ``applied_as``, ``read_as``, ``tolerance``, ``points`` (five mappings of ``applied`` and the four cells,
        as typed), ``dip`` (``kind``, ``measured``, ``indicated``, ``tolerance``), ``control_in_manual`` and
        ``control_restored``.
    chain, tank
        What is proved, and the tank as it is surveyed.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    Proof
        Never raises for what is typed: problems stand at the fields.
    """
    bench = _Bench(chain, tank, system)
    tolerance = read_tolerance(bench, entries.get("tolerance"), "tolerance")
    applied_as = str(entries.get("applied_as", ""))
    read_as = str(entries.get("read_as", ""))
    there = _judge_places(bench, applied_as, read_as)
    given = entries.get("points", []) if there else []
    points = tuple(
        _judge_point(bench, given[i] if i < len(given) else {}, i, (applied_as, read_as), tolerance)
        for i in range(POINTS)
    )
    runs = {}
    for name in RUNS:
        run = _judge_run(points, name, bench.span_m)
        if run is not None:
            runs[name] = run
    dip = _judge_dip(bench, entries.get("dip", {}), read_as) if there else None
    missing = _missing(entries, points, runs, tolerance)
    verdict = _verdict(runs, dip, bool(missing or bench.problems))
    return Proof(tolerance, bench.span_m, points, runs, dip, verdict, tuple(bench.problems), missing)


def _judge_places(bench: _Bench, applied_as: str, read_as: str) -> bool:
    """Whether the chain has both stations, the one read after the one applied."""
    stations = bench.chain.stations
    if applied_as not in stations:
        bench.problems.append(Problem("applied_as", f"this chain has no {_name(applied_as)}: choose another"))
        return False
    if read_as in DISPLAYS:
        return True
    if read_as not in stations:
        bench.problems.append(Problem("read_as", f"this chain has no {_name(read_as)}: choose another"))
        return False
    if stations.index(read_as) <= stations.index(applied_as):
        what = f"{_name(read_as)} comes before what is applied: read something after it"
        bench.problems.append(Problem("read_as", what))
        return False
    return True


def _name(key: str) -> str:
    return PLACES.get(key, key).split(":")[0].lower()


def read_tolerance(bench: _Bench, text: Any, where: str) -> float | None:
    """Read a tolerance in per cent of span or as a length [m]; a bare number is per cent."""
    if not isinstance(text, str) or not text.strip():
        return None
    ratio = "%" in text or text.strip()[-1].isdigit()
    value = bench.quantity(text, "ratio" if ratio else "length", where)
    if value is None:
        return None
    tolerance = value * bench.span_m if ratio else value
    if not 0 < tolerance <= bench.span_m / 2:
        bench.problems.append(
            Problem(where, "must be more than 0 and at most half the span: for instance 0.5 % or 5 mm")
        )
        return None
    return tolerance


def _applied(bench: _Bench, text: Any, kind: str, where: str) -> float | None:
    """Read what was applied; a signal is held to what a source may give."""
    value = bench.value(text, kind, where)
    signal = bench.chain.signal
    if value is None or kind not in ("sent", "arriving") or signal is None:
        return value
    least, most = signal.fault_low - signal.span / 160, signal.fault_high + signal.span / 8
    if least <= value <= most:
        return value
    texts = [value_text(bench.chain, kind, v, bench.system) for v in (value, least, most)]
    bench.problems.append(Problem(where, f"{texts[0]} is outside {texts[1]} to {texts[2]}"))
    return None


def _judge_point(
    bench: _Bench, given: Mapping[str, Any], index: int, kinds: tuple[str, str], tolerance: float | None
) -> Point:
    applied_as, read_as = kinds
    where = f"points[{index}]"
    applied = _applied(bench, given.get("applied"), applied_as, f"{where}.applied")
    expected, shown, true = None, "", 0.0
    if applied is not None:
        expected, shown = bench.due(applied_as, applied, read_as)
        true = bench.chain.level_from(applied_as, applied)
        if not math.isfinite(expected):
            what = "no level stands for what would be read there: apply another value"
            bench.problems.append(Problem(f"{where}.applied", what))
            applied = expected = None
    cells = {}
    for name in CELLS:
        read = bench.value(given.get(name), read_as, f"{where}.{name}")
        if read is None or expected is None:
            continue
        level = bench.innage(read_as, read)
        if not math.isfinite(level):
            bench.problems.append(Problem(f"{where}.{name}", "no level gives such a reading: read it again"))
            continue
        error = level - expected
        passes = tolerance is not None and abs(error) <= tolerance + 1e-9
        cells[name] = Cell(error, error / bench.span_m, passes, bench.split(read_as, true, read))
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
    indicated = bench.value(given.get("indicated"), read_as, "dip.indicated")
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
    if not math.isfinite(shown):
        bench.problems.append(Problem("dip.indicated", "no level gives such a reading: read it again"))
        return None
    inside = min(max(shown, 0.0), tank.inside_height)
    volume = float(tank.volume(inside) - tank.volume(dipped))
    return Dip(
        dipped,
        shown,
        shown - dipped,
        volume,
        volume / tank.capacity,
        allowed is not None and abs(shown - dipped) <= allowed + 1e-9,
    )


def _missing(
    entries: Mapping[str, Any], points: tuple[Point, ...], runs: Mapping[str, Run], tolerance: float | None
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
    # A level or a distance that is only simulated moves pumps as a current does.
    if not entries.get("control_in_manual"):
        missing.append("the word that control was in manual and the operator told")
    if not entries.get("control_restored"):
        missing.append("the word that control is restored")
    return tuple(missing)


def _verdict(runs: Mapping[str, Run], dip: Dip | None, unfinished: bool) -> Verdict:
    last = runs.get("left") or runs.get("found")
    if last is None or unfinished or last.verdict == "incomplete":
        return "incomplete"
    return "fail" if last.verdict == "fail" or (dip is not None and not dip.passes) else "pass"
