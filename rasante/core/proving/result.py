"""What was made of a proof: its points, its runs, its dip, and the verdict."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..quantities.errors import Problem

Verdict = Literal["pass", "fail", "incomplete"]
#: The verdicts in words.
VERDICTS: Mapping[Verdict, str] = {"pass": "Passes", "fail": "Does not pass", "incomplete": "Not complete"}


@dataclass(frozen=True)
class Split:
    """Where the difference between a volume read and the tank's own comes from [m³].

    Parameters
    ----------
    table_m3 : float
        The issued table against the tank as it is surveyed.
    points_m3 : float
        The device's own points against the issued table.
    instrument_m3 : float
        The rest: what sensor, signal and devices do.
    """

    table_m3: float
    points_m3: float
    instrument_m3: float


@dataclass(frozen=True)
class Cell:
    """One reading: how far it is off [m of innage; share of span], whether that is allowed, a volume's parts."""

    error_m: float
    error_ratio: float
    passes: bool
    split: Split | None = None


@dataclass(frozen=True)
class Point:
    """One point: what it stands for, what should be read there in words, and its readings by ``found_up`` …"""

    applied: float | None
    expected_innage_m: float | None
    expected_read: str
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
        Error at the lowest and at the highest point of the straight line through the errors, and the largest
        error that setting both ends right would leave [m].
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
    span_m : float
        Size of the sensor's range, as level [m].
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
    span_m: float
    points: tuple[Point, ...]
    runs: Mapping[str, Run]
    dip: Dip | None
    verdict: Verdict
    problems: tuple[Problem, ...]
    missing: tuple[str, ...]
