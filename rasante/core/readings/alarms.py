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
        How long a level must stay beyond before it counts [s], where readings come faster than that.
    off_delay_s : float
        How long it must stay back before it is over [s], likewise.
    period_s : float
        From one reading to the next [s]; 0 where that is not known.
    """

    key: str
    level_m: float
    above: bool
    back_m: float
    delay_s: float = DELAY_S
    off_delay_s: float = DELAY_S
    period_s: float = 0.0

    def waits(self, delay_s: float) -> float:
        """How long is waited before something counts [s]: not at all where the next reading comes later than that."""
        return 0.0 if self.period_s >= delay_s else delay_s


@dataclass(frozen=True)
class Standing:
    """How a watched mark stands: beyond it since when, whether that has been told, and back since when."""

    beyond_since_s: float | None = None
    open: bool = False
    back_since_s: float | None = None


@dataclass(frozen=True)
class Crossing:
    """A mark crossed, or no longer crossed."""

    key: str
    what: Literal["opened", "closed"]
    at_s: float
    level_m: float


def watched_of(marks: Iterable[tuple[str, float]], height_m: float, period_s: float = 0.0) -> list[Watched]:
    """What is watched of a tank's marks, by their keys and levels [m]; those of pumps are not.

    Parameters
    ----------
    marks : iterable of (str, float)
        Keys and levels [m].
    height_m : float
        The tank's inside height [m].
    period_s : float
        From one reading to the next [s].
    """
    back = HYSTERESIS * height_m
    return [
        Watched(key, level, key in ABOVE, back, period_s=period_s) for key, level in marks if key in (*ABOVE, *BELOW)
    ]


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

    Notes
    -----
    A mark that is passed counts at once where the next reading is an on-delay away or more. Where readings come
    faster, it counts when a reading beyond it comes after the delay, and none went back by the deadband meanwhile: a
    level that ripples about its mark is at it.

    Returns
    -------
    Standing, list of Crossing
        How it stands now, and what happened.
    """
    sign = 1.0 if watched.above else -1.0
    found = []
    for when, level in zip(times_s, levels_m, strict=True):
        past = sign * (level - watched.level_m)
        back = past < -watched.back_m
        if standing.open:
            since = standing.back_since_s if standing.back_since_s is not None else when
            standing = replace(standing, back_since_s=since if back else None)
            if back and when - since >= watched.waits(watched.off_delay_s):
                standing = Standing()
                found.append(Crossing(watched.key, "closed", when, level))
        elif past >= 0:
            since = when if standing.beyond_since_s is None else standing.beyond_since_s
            standing = replace(standing, beyond_since_s=since)
            if when - since >= watched.waits(watched.delay_s):
                standing = replace(standing, open=True)
                found.append(Crossing(watched.key, "opened", since, level))
        elif back:
            standing = Standing()
    return standing, found
