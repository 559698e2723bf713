"""What flows into, out of and between tanks, and when: by a calendar, by hand, or by a pump that watches a level."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.errors import InputError
from ..tanks.tank import Tank
from .chance import seed_of, uniform

DAY_S = 86400.0


@dataclass(frozen=True)
class Calendar:
    """When something is on: spans of time, in order, none over another [s].

    Parameters
    ----------
    starts, ends : tuple of float
        Of each span, on one clock.
    """

    starts: tuple[float, ...] = ()
    ends: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        edges = [edge for span in zip(self.starts, self.ends, strict=True) for edge in span]
        if edges != sorted(edges):
            raise InputError.at("calendar", "spans must be in the order of time, none over another")

    def on(self, when: float) -> bool:
        """Whether it is on; a span begins with its start and ends before its end."""
        at = bisect_right(self.starts, when) - 1
        return at >= 0 and when < self.ends[at]

    def next_edge(self, when: float) -> float:
        """When it is next switched; infinite after the last span."""
        after = [*self.starts[bisect_right(self.starts, when) :][:1], *self.ends[bisect_right(self.ends, when) :][:1]]
        return min(after, default=float("inf"))


#: A calendar that is never on.
NEVER = Calendar()


def every_day(
    begin_s: float,
    end_s: float,
    hour: float,
    length_s: float,
    days: Sequence[int] = range(7),
    jitter_s: float = 0.0,
    seed: int = 0,
) -> Calendar:
    """Make a calendar that switches on at an hour of chosen days, somewhat earlier or later each time.

    Parameters
    ----------
    begin_s, end_s : float
        From when to when [s since 1970-01-01 UTC].
    hour : float
        Hour of the day, UTC.
    length_s : float
        How long it stays on [s].
    days : sequence of int
        Days of the week: 0 for Monday.
    jitter_s : float
        By how much the start is earlier or later at most [s].
    seed : int
        Whose chance it is.
    """
    first, last = int(begin_s // DAY_S), int(end_s // DAY_S) + 1
    starts: list[float] = []
    for day in range(first, last + 1):
        # Day 0 of the count was a Thursday.
        if (day + 3) % 7 in days:
            late = (2 * float(uniform(seed, np.array([day]))[0]) - 1) * jitter_s
            start = day * DAY_S + hour * 3600 + late
            if begin_s <= start < end_s:
                starts.append(start)
    return Calendar(tuple(starts), tuple(start + length_s for start in starts))


@dataclass(frozen=True)
class Vessel:
    """A tank in the plant.

    Parameters
    ----------
    name : str
        What it is called.
    tank : Tank
        Its true shape.
    start_m3 : float
        What is in it at the beginning [m³].
    expansion : float
        By how much its liquid grows with a kelvin, by its size [1/K].
    """

    name: str
    tank: Tank
    start_m3: float
    expansion: float = 0.0


@dataclass(frozen=True)
class Flow:
    """A flow while its calendar or a person's hand has it open.

    Parameters
    ----------
    name : str
        What it is called.
    source, target : str or None
        Vessels; None for the world outside.
    rate : float
        How much flows while it is open [m³/s].
    calendar : Calendar
        When it is open by itself.
    """

    name: str
    source: str | None
    target: str | None
    rate: float
    calendar: Calendar = NEVER


@dataclass(frozen=True)
class Pump:
    """A pump that a tank's level switches.

    Parameters
    ----------
    name : str
        What it is called.
    source, target : str or None
        What it takes from and gives to.
    rate : float
        How much it moves [m³/s].
    watches : str
        The vessel whose contents switch it.
    start_m3, stop_m3 : float
        Contents at which it starts and stops; it fills that vessel if it starts at the lower [m³].
    """

    name: str
    source: str | None
    target: str | None
    rate: float
    watches: str
    start_m3: float
    stop_m3: float

    def switched(self, running: bool, volume: float) -> bool:
        """Whether it runs, once what it watches holds a volume [m³]; it stays as it is between its marks."""
        fills = self.start_m3 < self.stop_m3
        if volume <= self.start_m3 if fills else volume >= self.start_m3:
            return True
        if volume >= self.stop_m3 if fills else volume <= self.stop_m3:
            return False
        return running


def temperature(when_s: float | np.ndarray, mean_c: float, swing_k: float, seed: int) -> np.ndarray:
    """Temperature over the day, warmest at three in the afternoon, with weather from day to day [°C].

    Parameters
    ----------
    when_s : float or array of any shape
        Times [s since 1970-01-01 UTC].
    mean_c, swing_k : float
        Mean [°C], and half of what a day swings by [K].
    seed : int
        Whose weather it is.
    """
    when = np.asarray(when_s, dtype=float)
    day = np.floor(when / DAY_S).astype(np.int64)
    within = when / DAY_S - day
    weather = seed_of(seed, "weather")
    warm = uniform(weather, day) * (1 - within) + uniform(weather, day + 1) * within
    wave = np.cos(2 * np.pi * (within - 15 / 24))
    return np.asarray(mean_c + swing_k * wave + swing_k * (2 * warm - 1))
