"""What a row of readings is doing, in one word: live or not, and standing, moving, stuck or restless."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from ..quantities.arrays import Array
from .series import fit_slope
from .stillness import find_spikes, noise_of

#: Every condition, the most pressing first, with what is said of it.
CONDITIONS: dict[str, str] = {
    "none": "nothing has arrived yet",
    "fault": "the sensor tells of a fault",
    "lost": "nothing arrives any more",
    "stale": "late: not live",
    "typed": "typed, or from a file: nothing sends it",
    "ceiling": "at the highest it can read: it may be more",
    "floor": "at the lowest it can read: it may be less",
    "frozen": "the very same value again and again: frozen, or nothing moves",
    "stepping": "it jumped at once: no pipe fills so fast",
    "periodic": "it swings to and fro",
    "noisy": "restless: more than it usually is",
    "drifting": "it creeps, evenly and slowly",
    "filling": "filling",
    "drawing": "going down",
    "still": "standing still",
}
#: Reports that may be missing before a reading is late, and before nothing arrives any more.
LATE, LOST = 3.0, 20.0
#: Never late sooner than this [s].
_LEAST_LATE_S = 20.0
#: So many alike in a row are frozen, where the instrument is known to move by itself.
_ALIKE = 30


@dataclass(frozen=True)
class Expected:
    """What is known of a source beforehand.

    Parameters
    ----------
    period_s : float
        From one report to the next [s]; 0 of what is typed or comes from a file.
    low, high : float
        Lowest and highest that it can read.
    resolution : float
        Step of its values.
    noise : float
        Its usual standard deviation; 0 where that is not known.
    fastest : float
        The most that it can truly change by the second; infinite where that is not known.
    """

    period_s: float
    low: float = -float("inf")
    high: float = float("inf")
    resolution: float = 0.0
    noise: float = 0.0
    fastest: float = float("inf")


@dataclass(frozen=True)
class Condition:
    """What a row of readings is doing.

    Parameters
    ----------
    key : str
        Of `CONDITIONS`.
    age_s : float
        How old the newest reading is [s]; infinite before there is one.
    number, limit : float or None
        What was found, and what it was held against, in the unit of the values or in seconds.
    """

    key: str
    age_s: float
    number: float | None = None
    limit: float | None = None

    @property
    def live(self) -> bool:
        """Whether its newest reading can be taken for now."""
        return self.key not in ("none", "fault", "lost", "stale", "typed")

    @property
    def sound(self) -> bool:
        """Whether what it reads can be believed as it is."""
        return self.key in ("still", "filling", "drawing", "drifting", "noisy", "periodic")


def late_after(period_s: float) -> float:
    """From which age on a reading is late [s]."""
    return max(LATE * period_s, _LEAST_LATE_S)


def _alike(values: Array) -> int:
    """How many at the end are the very same."""
    differ = np.flatnonzero(values != values[-1])
    return len(values) - (int(differ[-1]) + 1 if len(differ) else 0)


def _swing(times: Array, values: Array, noise: float) -> float:
    """Period of a swing that stands out of the noise [s]; 0 where none does.

    Notes
    -----
    The largest line of the periodogram of the readings without their slope: more than three tenths of all the power,
    and a swing of more than twice the noise. Readings must come evenly for that.
    """
    count = len(values)
    if count < 24:
        return 0.0
    steps = np.diff(times)
    if np.ptp(steps) > 0.5 * float(np.median(steps)):
        return 0.0
    centred = times - times.mean()
    rest = values - values.mean() - float(centred @ values) / float(centred @ centred) * centred
    power = np.abs(np.fft.rfft(rest * np.hanning(count))) ** 2
    power[:3] = 0.0
    at = int(np.argmax(power))
    near = power[max(at - 1, 0) : at + 2].sum()
    if power.sum() <= 0 or near < 0.45 * power.sum() or float(np.std(rest)) < 1.2 * noise:
        return 0.0
    return float((times[-1] - times[0]) * count / (count - 1) / at)


def tell(
    times_s: Sequence[float] | Array,
    values: Sequence[float] | Array,
    now_s: float,
    expected: Expected,
    faulty: bool = False,
) -> Condition:
    """Tell what a row of readings is doing.

    Parameters
    ----------
    times_s, values : sequence of float of shape (n,)
        The newest readings, in the order of time [s].
    now_s : float
        What time it is [s].
    expected : Expected
        What is known of the source.
    faulty : bool
        Whether the newest reading carries a fault.

    Returns
    -------
    Condition
    """
    times, read = np.asarray(times_s, dtype=float), np.asarray(values, dtype=float)
    there = np.isfinite(read)
    if not len(times):
        return Condition("none", float("inf"))
    age, late = now_s - float(times[-1]), late_after(expected.period_s)
    if expected.period_s <= 0:
        return Condition("typed", age)
    if age > late * LOST / LATE:
        return Condition("lost", age, age, late * LOST / LATE)
    if faulty or not there[-1]:
        return Condition("fault", age)
    if age > late:
        return Condition("stale", age, age, late)
    times, read = times[there], read[there]
    return _told(times, read, age, expected)


def _told(times: Array, read: Array, age: float, expected: Expected) -> Condition:
    newest, step = float(read[-1]), max(expected.resolution, 0.0)
    edge = max(step, 1e-9 * (abs(expected.high) if np.isfinite(expected.high) else 1.0))
    if newest >= expected.high - edge:
        return Condition("ceiling", age, newest, expected.high)
    if newest <= expected.low + edge:
        return Condition("floor", age, newest, expected.low)
    if len(read) < 5:
        return Condition("still", age)
    alike = _alike(read)
    # What moves by less than its own step stands still by nature: only of what is known to jitter it can be told.
    if alike >= _ALIKE and expected.noise > step:
        return Condition("frozen", age, float(times[-1] - times[-alike]), None)
    usual = max(expected.noise, step / np.sqrt(12), 1e-12)
    spikes = find_spikes(read, usual)
    when, kept = times[~spikes], read[~spikes]
    own = noise_of(kept, step)
    jump = _jump(when, kept, max(usual, own), expected.fastest)
    if jump:
        return Condition("stepping", age, jump, 8 * max(usual, own))
    # With all its readings: a swing's own turning points are no spikes.
    period = _swing(times[-128:], read[-128:], usual)
    if period:
        return Condition("periodic", age, period, None)
    if expected.noise and own > 4 * usual:
        return Condition("noisy", age, own, 4 * usual)
    return _moving(when, kept, max(own, usual), step, age)


def _jump(when: Array, kept: Array, noise: float, fastest: float) -> float:
    """The largest step between two neighbours that holds, is far beyond the noise and too fast to be true; or 0."""
    if len(kept) < 8 or not np.isfinite(fastest):
        return 0.0
    smooth = scipy.ndimage.median_filter(kept, size=3, mode="nearest")
    steps, waits = np.diff(smooth), np.maximum(np.diff(when), 1e-9)
    jumps = (np.abs(steps) > 8 * noise) & (np.abs(steps) > fastest * waits + 8 * noise)
    return float(steps[np.argmax(np.where(jumps, np.abs(steps), 0.0))]) if jumps.any() else 0.0


def _moving(when: Array, kept: Array, noise: float, step: float, age: float) -> Condition:
    """Filling, drawing or still, by the newest readings; creeping where it took all of them to tell."""
    for count in (8, 16, 32, 64, 128):
        if len(when) < count:
            break
        times, read = when[-count:], kept[-count:]
        line = fit_slope(times, read, noise)
        slope, sure = line.slope, line.half_width
        # A reading that went by a single step has not moved yet.
        if abs(slope) > sure and abs(slope) * (times[-1] - times[0]) > max(2 * noise, 2 * step):
            if count >= 64:
                return Condition("drifting", age, slope, sure)
            return Condition("filling" if slope > 0 else "drawing", age, slope, sure)
    return Condition("still", age)
