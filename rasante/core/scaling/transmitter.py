"""A 4–20 mA transmitter that reports level or distance: forward, backward, and how its range fits the tank."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt

from ..errors import InputError, Problem
from ..judgement import Judgement
from ..tanks.sections import Array
from ..tanks.tank import Tank
from ..units import System, read_quantity, show

Reports = Literal["level", "distance"]
REPORTS: dict[str, str] = {
    "level": "Level, counted up from its zero",
    "distance": "Distance, counted down from its face",
}

LOW_A, HIGH_A = 0.004, 0.020
SPAN_A = HIGH_A - LOW_A
#: Where a transmitter saturates while still measuring, and beyond which it signals a fault [A].
#: NAMUR NE 43, from memory: measuring 3.8 to 20.5 mA, fault at or below 3.6 or at or above 21.0 mA.
MEASURING_A = (0.0038, 0.0205)
FAULT_A = (0.0036, 0.0210)

_KEYS = ("reports", "value_at_4ma_mm", "value_at_20ma_mm", "datum_offset_mm")
_LARGEST_MM = 100_000.0


@dataclass(frozen=True)
class Transmitter:
    """A linear 4–20 mA transmitter.

    Parameters
    ----------
    reports : {"level", "distance"}
        What its range is written in.
    at_4_m, at_20_m : float
        Value at 4 mA and at 20 mA [m]; either may be the larger.
    datum_offset_m : float
        For level: height of its zero above the tank's inside bottom [m]. For distance: height of its face above
        the reference point [m], negative if it hangs below.
    """

    reports: Reports
    at_4_m: float
    at_20_m: float
    datum_offset_m: float = 0.0

    @property
    def span_m(self) -> float:
        """Size of the range [m]."""
        return abs(self.at_20_m - self.at_4_m)

    def sensed(self, tank: Tank, innage: npt.ArrayLike) -> Array:
        """What it senses [m] with liquid to `innage` [m]."""
        h = np.asarray(innage, dtype=float)
        if self.reports == "level":
            return h - self.datum_offset_m
        return tank.reference_height_m + self.datum_offset_m - h

    def innage_of(self, tank: Tank, sensed: npt.ArrayLike) -> Array:
        """Innage [m] at which it senses a value [m]."""
        value = np.asarray(sensed, dtype=float)
        if self.reports == "level":
            return value + self.datum_offset_m
        return tank.reference_height_m + self.datum_offset_m - value

    def current(self, tank: Tank, innage: npt.ArrayLike) -> Array:
        """Current [A] on the straight line through 4 and 20 mA, not limited, at `innage` [m]."""
        share = (self.sensed(tank, innage) - self.at_4_m) / (self.at_20_m - self.at_4_m)
        return LOW_A + SPAN_A * share

    def innage(self, tank: Tank, current: npt.ArrayLike) -> Array:
        """Innage [m] that a current [A] stands for, on the straight line; the inverse of `current`."""
        share = (np.asarray(current, dtype=float) - LOW_A) / SPAN_A
        return self.innage_of(tank, self.at_4_m + (self.at_20_m - self.at_4_m) * share)

    def signal(self, tank: Tank, innage: npt.ArrayLike) -> Array:
        """Current [A] that it really sends: as `current`, held within the measuring limits."""
        return np.clip(self.current(tank, innage), *MEASURING_A)


def check_transmitter(document: Mapping[str, Any]) -> Transmitter:
    """Build a transmitter from its document.

    Parameters
    ----------
    document : mapping
        ``reports``, ``value_at_4ma_mm``, ``value_at_20ma_mm`` and optionally ``datum_offset_mm``.

    Raises
    ------
    InputError
        With every problem at its key.
    """
    problems = [Problem(key, "this key is not known here") for key in document if key not in _KEYS]
    if document.get("reports") not in REPORTS:
        problems.append(Problem("reports", "choose whether it reports level or distance"))
    values: dict[str, float] = {"datum_offset_mm": 0.0}
    for key in _KEYS[1:]:
        value = document.get(key, values.get(key))
        if isinstance(value, bool) or not isinstance(value, int | float) or not abs(value) <= _LARGEST_MM:
            problems.append(Problem(key, "must be a length of at most 100 m"))
        else:
            values[key] = float(value)
    if problems:
        raise InputError(*problems)
    low, high = values["value_at_4ma_mm"], values["value_at_20ma_mm"]
    if abs(high - low) < 1:
        raise InputError.at("value_at_20ma_mm", f"is {high:g} mm, the same as at 4 mA: such a range measures nothing")
    return Transmitter(document["reports"], low / 1000, high / 1000, values["datum_offset_mm"] / 1000)


def read_transmitter(entries: Mapping[str, str], system: System) -> dict[str, Any]:
    """Read a transmitter as it is typed.

    Parameters
    ----------
    entries : mapping of str to str
        Text by the keys of the document; an empty offset is none.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    dict
        The document, checked.

    Raises
    ------
    InputError
        With every problem at its field.
    """
    document: dict[str, Any] = {"reports": entries.get("reports", "")}
    problems: list[Problem] = []
    for key in _KEYS[1:]:
        text = entries.get(key, "")
        if key == "datum_offset_mm" and not text.strip():
            document[key] = 0.0
            continue
        try:
            document[key] = round(read_quantity(text, "length", system, key) * 1000, 9)
        except InputError as error:
            problems.extend(error.problems)
    if problems:
        raise InputError(*problems)
    check_transmitter(document)
    return document


def judge_range(transmitter: Transmitter, tank: Tank, system: System) -> list[Judgement]:
    """Judge whether a range covers a tank, wastes its span, or runs backwards.

    Parameters
    ----------
    transmitter, tank
        What is scaled, and for which tank.
    system : {"metric", "us"}
        The units of the words.

    Returns
    -------
    list of Judgement
        At least one; the heaviest first.
    """

    def length(value: float) -> str:
        return show(value, "length", system)

    height, capacity = tank.inside_height, tank.capacity
    ends = [float(transmitter.innage(tank, current)) for current in (LOW_A, HIGH_A)]
    low, high = min(ends), max(ends)
    found: list[Judgement] = []
    tolerance = 1e-6
    if high <= tolerance or low >= height - tolerance:
        return [
            Judgement(
                "stop",
                "outside",
                f"The range lies outside the tank: it runs from {length(low)} to {length(high)} of innage, the tank "
                f"from 0 to {length(height)}.",
            )
        ]
    if high < height - tolerance:
        lost = capacity - float(tank.volume(high))
        found.append(
            Judgement(
                "stop",
                "top-unread",
                f"The top {length(height - high)} is not read: above {length(high)} of innage "
                f"({show(lost, 'volume', system)}, {lost / capacity:.1%} of capacity) the signal stands still.",
            )
        )
    if low > tolerance:
        lost = float(tank.volume(low))
        found.append(
            Judgement(
                "watch",
                "bottom-unread",
                f"The lowest {length(low)} is not read: {show(lost, 'volume', system)} "
                f"({lost / capacity:.1%} of capacity) shows as nothing.",
            )
        )
    used = (min(high, height) - max(low, 0.0)) / transmitter.span_m
    if used < 0.5:
        found.append(
            Judgement(
                "watch",
                "wasted-span",
                f"Only {used:.0%} of the span is used: an error of 1 % of span is "
                f"{length(transmitter.span_m * 0.01)}, against {length(height * 0.01)} for a range cut to this tank.",
            )
        )
    if transmitter.reports == "distance":
        found += _judge_face(transmitter, tank, length)
    if ends[0] > ends[1]:
        found.append(
            Judgement(
                "watch",
                "falls",
                "The current falls as the tank fills: a receiver that expects level will read backwards, "
                f"full ({length(height)}) as {length(float(transmitter.sensed(tank, height)))}.",
            )
        )
    if not any(judgement.code in ("top-unread", "bottom-unread", "wasted-span") for judgement in found):
        found.append(
            Judgement(
                "good",
                "covers",
                f"The range covers the tank, with {used:.0%} of the span used: {length(transmitter.span_m / 16)} a "
                "milliampere.",
            )
        )
    order = {"stop": 0, "watch": 1, "good": 2}
    return sorted(found, key=lambda judgement: order[judgement.weight])


def _judge_face(transmitter: Transmitter, tank: Tank, length: Any) -> list[Judgement]:
    clear = tank.reference_height_m + transmitter.datum_offset_m - tank.inside_height
    if clear < 0:
        return [
            Judgement(
                "watch",
                "face-wet",
                f"The face hangs {length(-clear)} below the inside top: liquid can reach it, and nothing is read "
                "nearer than its blanking distance.",
            )
        ]
    return []
