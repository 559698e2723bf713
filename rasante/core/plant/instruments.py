"""What instruments make of the plant: the surface they see, their chain with what is wrong with it, their link."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..scaling.chain import Chain, Delay, Noise
from ..scaling.edits import Edit, edit_chain
from .chance import normal, seed_of, uniform
from .flows import DAY_S, NEVER, Calendar
from .plant import Course, Plant

#: How finely time is told apart by chance: a tenth of a second.
_TENTHS = 10.0


@dataclass(frozen=True)
class Surface:
    """How restless a surface is.

    Parameters
    ----------
    still_m : float
        Standard deviation of a surface at rest, as the instrument sees it [m].
    slosh_m : float
        Height of its waves while it sloshes [m].
    period_s : float
        Of those waves [s].
    storms : Calendar
        When it sloshes.
    boil_m : float
        Standard deviation while a liquefied gas boils, as when it is drawn from [m].
    boils : Calendar
        When it boils.
    """

    still_m: float = 0.0
    slosh_m: float = 0.0
    period_s: float = 3.0
    storms: Calendar = NEVER
    boil_m: float = 0.0
    boils: Calendar = NEVER

    def heave(self, seed: int, when_s: Array) -> Array:
        """By how much the surface at the instrument is off its mean level, at times [m]."""
        ticks = np.round(when_s * _TENTHS).astype(np.int64)
        off = self.still_m * normal(seed_of(seed, "still"), ticks)
        if self.slosh_m and self.storms.starts:
            storm = np.array([self.storms.on(float(when)) for when in when_s])
            # Waves keep their beat for some twenty of them; then wind and hull have made others of them.
            block = when_s / (20 * self.period_s)
            place = np.floor(block).astype(np.int64)
            beat = seed_of(seed, "waves")
            turn = uniform(beat, place) * (1 - (block - place)) + uniform(beat, place + 1) * (block - place)
            swell = 0.5 + uniform(seed_of(seed, "swell"), place)
            wave = 2 * swell * np.sin(2 * np.pi * (when_s / self.period_s + 4 * turn))
            off = off + np.where(storm, self.slosh_m / 2 * wave, 0.0)
        if self.boil_m and self.boils.starts:
            boil = np.array([self.boils.on(float(when)) for when in when_s])
            off = off + np.where(boil, self.boil_m * normal(seed_of(seed, "boil"), ticks), 0.0)
        return np.asarray(off)


@dataclass(frozen=True)
class Instrument:
    """A tank's measuring chain as it stands in the plant.

    Parameters
    ----------
    vessel : str
        What it measures.
    chain : Chain
        As it should be.
    edits : tuple of Edit
        What is wrong with it.
    surface : Surface
        What it sees of the surface.
    drift_m_s : float
        By how much its reading walks away [m/s], since a moment.
    drift_since_s : float
        That moment [s].
    name : str
        Whose chance its noise is.
    """

    vessel: str
    chain: Chain
    edits: tuple[Edit, ...] = ()
    surface: Surface = Surface()
    drift_m_s: float = 0.0
    drift_since_s: float = 0.0
    name: str = ""

    @cached_property
    def wrong(self) -> Chain:
        """Its chain with what is wrong with it."""
        return edit_chain(self.chain, self.edits)

    @cached_property
    def lag_s(self) -> float:
        """By how much it is behind [s]."""
        return sum(edit.s for edit in self.edits if isinstance(edit, Delay))

    def true_level(self, plant: Plant, course: Course, when_s: Array) -> Array:
        """The mean level of what is in its vessel [m]."""
        return plant.level(self.vessel, course.volume(self.vessel, when_s), when_s)

    def read(self, plant: Plant, course: Course, station: str, when_s: Array) -> Array:
        """What stands at one station of its chain, at times within a course.

        Parameters
        ----------
        plant, course
            The world, and how it went.
        station : str
            Of the chain's stations.
        when_s : array of shape (n,)
            When it is read [s].

        Returns
        -------
        array of shape (n,)
            In the station's own unit.
        """
        if station not in self.wrong.stations:
            raise InputError.at("station", f"this instrument has no station {station}")
        when = np.asarray(when_s, dtype=float)
        seed = seed_of(plant.seed, self.name or self.vessel)
        before = np.maximum(when - self.lag_s, course.times[0])
        level = self.true_level(plant, course, before) + self.surface.heave(seed, before)
        level = level + self.drift_m_s * np.maximum(before - self.drift_since_s, 0.0)
        level = np.clip(level, 0.0, self.chain.top_m)
        ticks = np.round(when * _TENTHS).astype(np.int64)
        value = level
        for one in self.wrong.stations[: self.wrong.stations.index(station) + 1]:
            value = value if one == "level" else self.wrong.over(one, value)
            for edit in self.edits:
                if isinstance(edit, Noise) and edit.station == one:
                    value = value + edit.sd * normal(seed_of(seed, f"noise {one}"), ticks)
        return np.asarray(value)


@dataclass(frozen=True)
class Link:
    """How readings travel.

    Parameters
    ----------
    period_s : float
        From one report to the next [s].
    delay_s : float
        How long one travels [s].
    loss : float
        Share of reports that never arrive [1].
    outages : Calendar
        When nothing gets through.
    keeps : bool
        Whether the sender keeps what did not get through, and sends it when the link is back.
    """

    period_s: float
    delay_s: float = 0.0
    loss: float = 0.0
    outages: Calendar = NEVER
    keeps: bool = False

    def sent_at(self, begin_s: float, end_s: float) -> Array:
        """When reports are sent within a span: at whole periods [s]."""
        first, last = int(np.ceil(begin_s / self.period_s)), int(np.floor(end_s / self.period_s))
        return np.asarray(np.arange(first, last + 1) * self.period_s)

    def arrivals(self, seed: int, name: str, sent_s: Array) -> tuple[NDArray[np.bool_], Array]:
        """Which reports arrive, and when [s]."""
        places = np.round(sent_s / self.period_s).astype(np.int64)
        through = uniform(seed_of(seed, f"link {name}"), places) >= self.loss
        arrive = sent_s + self.delay_s
        for at, when in enumerate(sent_s):
            if self.outages.on(float(when)):
                back = self.outages.next_edge(float(when))
                through[at] &= self.keeps
                arrive[at] = back + self.delay_s
        return through, arrive


@dataclass(frozen=True)
class FlowMeter:
    """A pulse meter in a pipe.

    Parameters
    ----------
    flow : str
        What it measures.
    pulses_per_m3 : float
        As its plate has it.
    factor : float
        What truly went through, by what it counts.
    """

    flow: str
    pulses_per_m3: float
    factor: float = 1.0

    def count(self, course: Course, when_s: Array) -> Array:
        """Its whole pulses by then [1]."""
        return np.floor(course.through(self.flow, when_s) / self.factor * self.pulses_per_m3 + 1e-9)

    def rate(self, course: Course, when_s: Array, over_s: float = 10.0) -> Array:
        """Flow by what it counted over the last seconds [m³/s]."""
        before = np.maximum(when_s - over_s, course.times[0])
        return np.asarray((self.count(course, when_s) - self.count(course, before)) / self.pulses_per_m3 / over_s)


def nightly(begin_s: float, end_s: float, hour: float, length_s: float) -> Calendar:
    """The same hours of every night [s since 1970-01-01 UTC]."""
    days = range(int(begin_s // DAY_S), int(end_s // DAY_S) + 1)
    starts = tuple(day * DAY_S + hour * 3600 for day in days)
    return Calendar(starts, tuple(start + length_s for start in starts))


def readings_of(
    plant: Plant, course: Course, instrument: Instrument, station: str, link: Link, sent_s: Sequence[float] | Array
) -> tuple[Array, Array, Array]:
    """What arrives of an instrument over its link.

    Returns
    -------
    times, arrivals, values : arrays of shape (m,)
        When each was read [s], when it arrived [s], and what it reads, in the station's unit.
    """
    sent = np.asarray(sent_s, dtype=float)
    through, arrive = link.arrivals(plant.seed, instrument.name or instrument.vessel, sent)
    values = instrument.read(plant, course, station, sent)
    return sent[through], arrive[through], values[through]
