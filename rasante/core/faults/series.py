"""Some minutes of readings, pasted or live, judged for the fault finder: what they look like, and their period."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..quantities.judgement import Phrase, phrase
from ..quantities.typed import read_number
from ..readings.condition import Expected, tell

#: What each condition of a row of readings is to the fault finder, of `fault.LOOKS`.
_LOOKS = {
    "frozen": "frozen",
    "floor": "frozen",
    "ceiling": "frozen",
    "noisy": "noisy",
    "stepping": "noisy",
    "periodic": "periodic",
    "drifting": "drifting",
    "lost": "stale",
    "stale": "stale",
}
#: So many readings tell something.
LEAST, MOST = 8, 5000


@dataclass(frozen=True)
class Series:
    """What a row of readings looks like.

    Parameters
    ----------
    look : str
        Of `fault.LOOKS`.
    condition : str
        Of `readings.condition.CONDITIONS`.
    says : Phrase
        The same in words, with the number that was found.
    """

    look: str
    condition: str
    says: Phrase


def look_of(condition: str) -> str:
    """What a condition of `readings.condition.CONDITIONS` is to the fault finder, of `fault.LOOKS`."""
    return _LOOKS.get(condition, "live")


def read_series(text: str) -> Array:
    """Read values as they are pasted: one a line, or with spaces between; of a table the last column.

    Raises
    ------
    InputError
        At ``series``, with the line that cannot be read, or if there are too few or too many.
    """
    found: list[float] = []
    lines = [line for line in text.splitlines() if line.strip()]
    for number, line in enumerate(lines, start=1):
        words = [word for word in re.split(r"[;\t]|\s+|,\s+", line.strip()) if word]
        for word in words if len(lines) == 1 else words[-1:]:
            try:
                found.append(read_number(word))
            except InputError as error:
                if number == 1 and len(lines) > 1:
                    # A heading.
                    continue
                raise InputError.at("series", f"line {number}: {error.problems[0].what}") from None
    if not LEAST <= len(found) <= MOST:
        raise InputError.at("series", f"{len(found)} readings: paste {LEAST} to {MOST} of them, one a line")
    return np.array(found)


def judge_series(values: Sequence[float] | Array, every_s: float, low: float, high: float, noise: float) -> Series:
    """Tell what a row of readings looks like.

    Parameters
    ----------
    values : sequence of float
        Evenly taken, in any unit.
    every_s : float
        From one to the next [s].
    low, high : float
        The lowest and highest that can be read, in that unit.
    noise : float
        Its usual standard deviation, in that unit; 0 where that is not known.
    """
    read = np.asarray(values, dtype=float)
    times = np.arange(len(read), dtype=float) * every_s
    span = abs(high - low) or 1.0
    if np.ptp(read) == 0 and low < read[-1] < high:
        return Series("frozen", "frozen", phrase("the very same value {count} times", count=len(read)))
    # A level that a tank can follow: a fiftieth of its height a minute.
    expected = Expected(every_s, low, high, 0.0, noise or span * 1e-3, span / 50 / 60)
    found = tell(list(times), list(read), float(times[-1]), expected)
    look = look_of(found.key)
    if found.key == "periodic" and found.number:
        return Series(
            look,
            found.key,
            phrase("it swings every {value:.3g} s{cause}", value=found.number, cause=_cause(found.number)),
        )
    said = {
        "floor": "it stands at the lowest that it can read",
        "ceiling": "it stands at the highest that it can read",
        "frozen": "the very same value again and again",
        "noisy": "it is more restless than it should be, by a standard deviation of {value:.3g}, as pasted",
        "stepping": "it jumps by {value:.3g}, as pasted, at once: no pipe fills so fast",
        "drifting": "it creeps by {value:.2g} a second, as pasted",
    }.get(found.key, "it moves as a level does, or stands with its usual unrest")
    return Series(look, found.key, phrase(said, value=found.number or 0.0))


def _cause(period_s: float) -> str:
    """What usually swings so fast: common practice, no published source."""
    if period_s < 2:
        return ": mains, or what is left of it between two readings"
    if period_s < 20:
        return ": waves, or an agitator"
    return ": a pump or a valve that hunts" if period_s < 900 else ": the sun, or a timer"
