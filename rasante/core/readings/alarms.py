"""Marks that readings cross: noticed after a delay, over only when well past, so that no ripple rings twice."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

#: Marks that are crossed upwards, and downwards.
ABOVE, BELOW = ("overfill", "high"), ("reorder", "low", "empty")
#: What a level must go back by before a crossing is over, by the tank's height; and how long it must last [s].
HYSTERESIS, DELAY_S = 0.005, 30.0

#: Every kind of event, with what is said of it; marks are said by their names.
EVENTS: dict[str, str] = {
    "mark": "mark crossed",
    "stale": "late: no reading when one was due",
    "lost": "nothing arrives any more",
    "frozen": "frozen: the very same value again and again",
    "fault": "fault signalled",
    "apart": "two gauges are further apart than their ± allows",
    "full": "fuller than the tank can be",
    "clock": "the source's clock is wrong",
}


@dataclass(frozen=True)
class Watched:
    """A mark that is watched.

    Parameters
    ----------
    key : str
        Of the tank's marks.
    level_m : float
        Where it stands [m].
    above : bool
        Whether it is crossed upwards.
    back_m : float
        By how much a level must go back before it is over [m].
    delay_s : float
        How long a level must stay beyond before it counts [s].
    """

    key: str
    level_m: float
    above: bool
    back_m: float
    delay_s: float = DELAY_S


@dataclass(frozen=True)
class Standing:
    """How a watched mark stands: beyond it since when, and whether that has been told."""

    beyond_since_s: float | None = None
    open: bool = False


@dataclass(frozen=True)
class Crossing:
    """A mark crossed, or no longer crossed."""

    key: str
    what: Literal["opened", "closed"]
    at_s: float
    level_m: float


def watched_of(marks: Iterable[tuple[str, float]], height_m: float) -> list[Watched]:
    """What is watched of a tank's marks, by their keys and levels [m]; those of pumps are not."""
    back = HYSTERESIS * height_m
    return [Watched(key, level, key in ABOVE, back) for key, level in marks if key in (*ABOVE, *BELOW)]


def follow(
    watched: Watched, standing: Standing, times_s: Sequence[float], levels_m: Sequence[float]
) -> tuple[Standing, list[Crossing]]:
    """Follow readings past a mark.

    Parameters
    ----------
    watched, standing
        The mark, and how it stood after the reading before.
    times_s, levels_m : sequence of float of shape (n,)
        Newer readings, in the order of time [s], [m].

    Returns
    -------
    Standing, list of Crossing
        How it stands now, and what happened.
    """
    sign = 1.0 if watched.above else -1.0
    found = []
    for when, level in zip(times_s, levels_m, strict=True):
        past = sign * (level - watched.level_m)
        if standing.open:
            if past < -watched.back_m:
                standing = Standing()
                found.append(Crossing(watched.key, "closed", when, level))
        elif past >= 0:
            since = when if standing.beyond_since_s is None else standing.beyond_since_s
            standing = replace(standing, beyond_since_s=since)
            if when - since >= watched.delay_s:
                standing = replace(standing, open=True)
                found.append(Crossing(watched.key, "opened", since, level))
        else:
            standing = Standing()
    return standing, found
