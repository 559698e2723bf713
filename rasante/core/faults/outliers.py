"""Readings that have nothing to do with what is there: how often they come, and how likely each is."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .fault_test import FaultTest
from .installation import Installation
from .loops import OPEN_OHM
from .predict import station_of

#: How often somebody reads or writes down something else than what was there; common practice.
OUTLIERS = 0.02
#: How many of such readings show nothing, and how many lie beyond what the tank can give.
SHOWS_NOTHING, BEYOND = 0.1, 0.4
#: How likely it is that something was typed that the instrument cannot show, by the width of what the tank can give.
_MISTYPED = 1e-6
#: What a hand-held meter shows of volts at a loop [V], and of milliamperes [A].
_MOST_VOLT, _MOST_AMP = 40.0, 0.025


@dataclass(frozen=True)
class Outliers:
    """How readings that could be anything are spread: evenly where the tank can be, thinning out as far as the
    instrument can show.

    Parameters
    ----------
    low, high : float
        Between what the tank can give, in the test's own scale.
    least, most : float
        The least and the most that the instrument can show; infinite where it has no end.
    """

    low: float
    high: float
    least: float = -float("inf")
    most: float = float("inf")

    def density(self, value: float | None) -> float:
        """How likely a reading is: a share where nothing is shown, else a density; they add up to 1 over all."""
        if value is None:
            return SHOWS_NOTHING
        width = self.high - self.low
        below, above = self._tail(self.low - self.least), self._tail(self.most - self.high)
        beyond = BEYOND if below + above > 0 else 0.0
        found = (1 - beyond) / width if self.low <= value <= self.high else 0.0
        far = max(self.low - value, value - self.high)
        if far > 0:
            far = min(far, 1e6 * width)
            found = beyond * width / (width + far) ** 2 / max(below + above, 1e-3)
            if not self.least <= value <= self.most:
                # However absurd, it stays possible: what an instrument cannot show may have been mistyped.
                found = _MISTYPED / width
        return (1 - SHOWS_NOTHING) * found

    def _tail(self, room: float) -> float:
        """How much of ∫ w/(w + x)² dx lies within the room that there is."""
        width = self.high - self.low
        return 1.0 if room == float("inf") else max(room, 0.0) / (width + max(room, 0.0))


def outliers_of(test: FaultTest, at: Installation) -> Outliers:
    """How a test's outliers are spread at an installation."""
    reads = test.reads
    if "ohms" in reads:
        return Outliers(-1.0, math.log10(OPEN_OHM), -1.0, math.log10(OPEN_OHM))
    if "volts" in reads:
        return Outliers(-5.0, 26.0, -_MOST_VOLT, _MOST_VOLT)
    station = "sent" if "alone" in reads else station_of(test, at)
    low, high = sorted(at.ends[station])
    if high <= low:
        high = low + at.spans[station]
    if station in ("sent", "arriving"):
        assert at.sound.signal is not None
        most = _MOST_AMP if at.sound.signal.quantity == "current" else 1.25 * at.sound.signal.high
        return Outliers(0.0, min(at.sound.signal.fault_high, most), 0.0, most)
    if station == "counts" and at.sound.card is not None:
        return Outliers(min(0.0, low), at.sound.card.most, min(0.0, low), at.sound.card.most)
    if station == "level":
        return Outliers(0.0, at.sound.top_m, 0.0, 2 * at.sound.top_m)
    return Outliers(low, high)
