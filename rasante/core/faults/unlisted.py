"""What is in no list: how likely it is, and what it would read where it sits at one station of the chain."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..scaling.chain import Stick
from .fault import fault_kinds, faults_of_kind
from .fault_test import FaultTest
from .installation import Installation
from .predict import Expected, Reader, Wrong, read, station_of

#: What stands for everything that is not known, beside the parts.
UNKNOWN = "unknown"
#: How likely it is beforehand that what is wrong is nothing that is known here, and how many of its readings are then
#: anything at all.
UNKNOWN_PRIOR, UNKNOWN_OUTLIERS = 0.05, 0.25
#: How much of that sits at one station alone: what is read before it is sound, and after it all follows from it.
AT_ONE_STATION = 0.6
#: Stations at which something may sit that is in no list, and how finely its value is told: from a tenth of the span
#: below an empty tank to a tenth above a full one. Before the input, what is listed leaves nothing out.
_STATIONS, _VALUES, _BEYOND = ("counts", "number", "words", "shown"), 9, 0.1


@dataclass(frozen=True)
class Stray:
    """Something that is in no list and sits at a station: whatever comes before it, this value stands there now."""

    station: str
    value: float


def strays_of(at: Installation) -> list[Stray]:
    """Every such thing of an installation, station by station, the values of one after another."""
    found = []
    for station in _STATIONS:
        # A digital sensor's number is its own: what is off there is the sensor, whatever it is.
        if station not in at.sound.stations or (station == "number" and at.sound.signal is None):
            continue
        low, high = sorted(at.ends[station])
        if station == "counts" and at.sound.card is not None:
            low, high = sorted((at.sound.card.low, at.sound.card.high))
        beyond = _BEYOND * (high - low)
        found += [Stray(station, float(x)) for x in np.linspace(low - beyond, high + beyond, _VALUES)]
    return found


class Sound:
    """What every test reads where nothing is wrong, each worked out once."""

    def __init__(self, reader: Reader) -> None:
        self.at, self.level, self.common, self._reader = reader.at, reader.level, reader.common, reader
        self._found: dict[tuple[str, object], Expected] = {}

    def read(self, test: FaultTest) -> Expected:
        """What a test would read."""
        key = (test.key, test.reads.get("put_in"))
        if key not in self._found:
            self._found[key] = read(self._reader, test)
        return self._found[key]


class StrayReader:
    """Reads an installation with such a thing in it, at levels."""

    def __init__(self, at: Installation, stray: Stray, sound: Sound) -> None:
        self.stray, self.sound = stray, sound
        nothing = faults_of_kind(at, fault_kinds()["nothing"])[0]
        stuck = replace(nothing, edits=(Stick(stray.station, stray.value),))
        self.stuck = Reader(Wrong(at, stuck), sound.common)

    def read(self, test: FaultTest) -> Expected:
        """What a test would read.

        Notes
        -----
        Before the station as it should be; after it what follows from the value. What it makes of a value that is put
        in before it nobody knows: anything.
        """
        sound = self.sound.read(test)
        if test.outcomes:
            even = UNKNOWN_OUTLIERS / len(test.outcomes)
            return replace(sound, shares=tuple((1 - UNKNOWN_OUTLIERS) * one + even for one in sound.shares))
        if not test.reads.get("station"):
            return sound
        at, station = self.sound.at, station_of(test, self.sound.at)
        stations = at.sound.stations
        if stations.index(station) < stations.index(self.stray.station):
            return sound
        if {"inject", "simulate", "held"}.intersection(test.reads):
            middle = np.full_like(sound.mean, np.mean(at.ends[station]))
            return Expected(middle, np.full_like(middle, at.spans[station] / 2))
        return read(self.stuck, test)
