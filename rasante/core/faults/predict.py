"""What every test would read, for everything that may be wrong and every level that the tank may stand at."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..quantities.arrays import Array
from ..quantities.signals import Signal
from ..scaling.chain import Chain, Delay, Noise, StationEdit, altered
from ..scaling.edits import edit_chain
from ..scaling.sending import Wires
from ..wiring.circuit import Circuit
from ..wiring.edits import WireEdit, edit_circuit
from .fault import Fault
from .fault_test import FaultTest
from .installation import Installation
from .loops import OPEN_OHM, alone, answers, arriving, ohms, starved, volts

#: How sure an inspection is: a label read wrongly, a spoilt breather taken for a good one. Common practice.
SIGN_SURE, LOOK_SURE = 0.95, 0.95
#: How good a hand-held meter is: volts, and ohms by the decade.
_VOLT_SHARE, _VOLT_LEAST, _OHM_DECADE = 0.005, 0.1, 0.045
#: From so many ohms on a reading says no more than that it is very high: damp, and the meter's own ranges [decades].
_HIGH_OHM, _HIGH_DECADE = 1e6, 0.7
#: How far volts may be off where a sensor lacks voltage: what it draws then is in no sheet.
_STARVED_V = 1.5
#: What a loop calibrator's own supply gives at most [A]; common practice.
_METER_AMP = 0.025
#: How far a lag leaves a reading off, as a share of the station's span: what a tank does in some minutes.
_LAG_SHARE = 0.1


@dataclass(frozen=True)
class Wrong:
    """An installation with one fault in it.

    Parameters
    ----------
    at : Installation
        As it should be.
    fault : Fault
        What is wrong.
    """

    at: Installation
    fault: Fault

    @property
    def circuit(self) -> Circuit | None:
        """Its circuit with what is wrong in it."""
        found = self.at.wired
        for edit in self.fault.edits:
            if isinstance(edit, WireEdit) and found is not None:
                found = edit_circuit(found, edit)
        return found

    @property
    def chain(self) -> Chain:
        """Its chain with what is wrong in it, without the circuit."""
        edits = [e for e in self.fault.edits if not isinstance(e, WireEdit) and getattr(e, "station", "") != "level"]
        return edit_chain(self.at.sound, edits)


class Common:
    """What the parts that are sound make of values that many faults begin from: each is worked out once for all.

    Parameters
    ----------
    at : Installation
    level : ndarray
        Levels at which all is read [m].
    shifts : mapping of str to ndarray
        By the station: what its instrument is off by at each of the levels, in the station's own unit.
    draws : ndarray, optional
        At each of the levels: how much of what a sensor that lacks voltage should draw it draws [1].
    lags : ndarray, optional
        At each of the levels: how many times the usual a reading that lags is behind [1].
    """

    def __init__(
        self,
        at: Installation,
        level: Array,
        shifts: Mapping[str, Array] | None = None,
        draws: Array | None = None,
        lags: Array | None = None,
    ) -> None:
        self.at, self.level, self.shifts, self.draws, self.lags = at, level, shifts or {}, draws, lags
        self._known: dict[int, Array] = {id(level): level}
        self._over: dict[tuple[str, int], Array] = {}
        self._put_in: dict[float, Array] = {}
        self._read: dict[Hashable, tuple[tuple[object, ...], Array]] = {}

    def put_in(self, value: float) -> Array:
        """One value at every level."""
        if value not in self._put_in:
            self._put_in[value] = np.full_like(self.level, value)
            self._known[id(self._put_in[value])] = self._put_in[value]
        return self._put_in[value]

    def over(self, station: str, x: Array, anew: Callable[[str, Array], Array]) -> Array:
        """Values over the sound hop to a station; of those that are no fault's own, as worked out before."""
        if id(x) not in self._known:
            return anew(station, x)
        key = (station, id(x))
        if key not in self._over:
            self._over[key] = anew(station, x)
            self._known[id(self._over[key])] = self._over[key]
        return self._over[key]

    def read_once(self, test: FaultTest, of: tuple[object, ...], read: Callable[[], Array]) -> Array:
        """What a test reads of some objects: the very same ones give the very same reading."""
        key = (test.key, *map(id, of))
        if key not in self._read:
            # They are kept beside what was read of them, so that no other object takes their place.
            self._read[key] = (of, read())
        return self._read[key][1]


class Reader:
    """Reads every station and point of one wrong installation, at the levels that it has in common with others."""

    def __init__(self, wrong: Wrong, common: Common) -> None:
        self.at, self.fault = wrong.at, wrong.fault
        self.common, self.level = common, common.level
        self.plan, self.circuit, self.chain = wrong.at.wired, wrong.circuit, wrong.chain
        self.rewired = any(isinstance(e, WireEdit) for e in self.fault.edits)
        self.values = self._run(self.level)

    @cached_property
    def shows_one(self) -> bool:
        """Whether the screen shows one and the same at whatever level, or nothing."""
        shown = self.values["shown"] if len(self.level) > 3 else self._run(self._over_the_height)["shown"]
        inside = (self.level > 0.2 * self.chain.top_m) & (self.level < 0.8 * self.chain.top_m)
        shown = shown[inside] if len(self.level) > 3 else shown
        return not np.all(np.isfinite(shown)) or float(np.ptp(shown)) < 0.03 * self.at.spans["shown"]

    @property
    def _over_the_height(self) -> Array:
        return np.linspace(0.2, 0.8, 4) * self.chain.top_m

    def _run(self, level: Array) -> dict[str, Array]:
        x = level
        for edit in self.fault.edits:
            if isinstance(edit, StationEdit) and edit.station == "level":
                x = np.clip(altered(edit, x), 0.0, self.chain.top_m)
        values = {"level": x}
        for station in self.chain.stations[1:]:
            x = self._over(station, x)
            values[station] = x
        return values

    def _over(self, station: str, x: Array) -> Array:
        sound = self.chain.hop(station) is self.at.sound.hop(station)
        wired = station in ("arriving", "number") and self.circuit is not self.plan
        if not sound or wired or any(edit.station == station for edit in self.chain.edits):
            return self._anew(station, x)
        return self.common.over(station, x, self._anew)

    def _anew(self, station: str, x: Array) -> Array:
        hop = self.chain.hop(station)
        if isinstance(hop, Wires) and self.circuit is not None and self.chain.signal is not None:
            x = self._let_arrive(self.circuit, self.chain.signal, x)
        x = np.where(np.isfinite(x), x, 0.0) if not isinstance(hop, Wires) and station == "sensed" else x
        x = self._hop(station, x)
        if station == "number" and self.chain.signal is None and self.rewired and self.plan and self.circuit:
            x = x if answers(self.plan, self.circuit) else np.full_like(x, np.nan)
        return x

    def _let_arrive(self, circuit: Circuit, signal: Signal, sent: Array) -> Array:
        """What the circuit lets arrive; of a sensor that lacks voltage nobody knows what it still draws."""
        x, draws = arriving(circuit, signal, sent), self.common.draws
        if draws is None or len(draws) != len(x):
            return x
        return np.where(starved(circuit, signal, sent), x * draws, x)

    def _hop(self, station: str, x: Array) -> Array:
        """Values over a hop, with what its instrument is off by."""
        with np.errstate(invalid="ignore"):
            x = self.chain.over(station, x, exact=False)
        shift, lags = self.common.shifts.get(station), self.common.lags
        if shift is not None and len(shift) == len(x):
            x = x + shift
        if lags is not None and len(lags) == len(x):
            for edit in self.chain.edits:
                if isinstance(edit, Delay) and edit.station == station:
                    x = x + lags * _LAG_SHARE * self.at.spans[station]
        return x

    @property
    def own(self) -> Array:
        """A digital sensor's own number, whatever its wires do."""
        before = self.chain.stations[self.chain.stations.index("number") - 1]
        return self._hop("number", self.values[before])

    def onward(self, start: str, end: str, x: Array) -> Array:
        """Take values put in at one station on to a later one."""
        stations = self.chain.stations
        for station in stations[stations.index(start) + 1 : stations.index(end) + 1]:
            x = self._over(station, x)
        return x

    def unrest(self, start: str, end: str, steady: bool) -> float:
        """Standard deviation that noise and lags between two stations leave at the later one, in its own unit."""
        stations = self.chain.stations
        inside = stations[stations.index(start) + 1 : stations.index(end) + 1]
        found = 0.0
        for edit in self.fault.edits:
            if isinstance(edit, Noise) and edit.station in inside:
                found += (edit.sd / self.at.spans[edit.station] * self.at.spans[end]) ** 2
            elif isinstance(edit, Delay) and edit.station in inside and not steady and self.common.lags is None:
                found += (_LAG_SHARE * self.at.spans[end]) ** 2
        return float(np.sqrt(found))


def reader_station(at: Installation) -> str:
    """Where what an input makes of a signal is read first."""
    return "counts" if at.sound.card is not None else "number"


@dataclass(frozen=True)
class Expected:
    """What a test would read: means and standard deviations at the levels; or how likely each of its outcomes is.

    Parameters
    ----------
    mean, sd : ndarray of shape (levels,)
        In the test's own scale; a mean of NaN where nothing is shown.
    shares : tuple of float
        Of a test that reads a sign: how likely each outcome is.
    """

    mean: Array
    sd: Array
    shares: tuple[float, ...] = ()


def scale(test: FaultTest, at: Installation) -> float:
    """How far a test's readings go from one end to the other, in its own scale."""
    reads = test.reads
    if "ohms" in reads:
        return float(np.log10(OPEN_OHM) + 1)
    if "volts" in reads:
        return 26.0
    if "alone" in reads:
        return at.spans["sent"]
    return at.spans[station_of(test, at)]


def station_of(test: FaultTest, at: Installation) -> str:
    """The station that a test reads; where an input is read, the first thing that it makes of a signal."""
    station = str(test.reads.get("station", "level"))
    return reader_station(at) if station == "reader" else station


def observed(test: FaultTest, value: float) -> float:
    """A reading in the test's own scale: ohms by their logarithm."""
    return float(np.log10(min(max(value, 0.1), OPEN_OHM))) if "ohms" in test.reads else value


def read(reader: Reader, test: FaultTest) -> Expected:
    """What a test would read of a wrong installation at every level.

    Parameters
    ----------
    reader : Reader
        The wrong installation.
    test : FaultTest
        One that the installation allows.
    """
    reads, at = test.reads, reader.at
    if "sign" in reads:
        none = reader.common.put_in(0.0)
        return Expected(none, none, _signs(reader, test))
    if "ohms" in reads:
        return _ohms(reader, test)
    if "volts" in reads:
        return _volts(reader, test)
    if "alone" in reads:
        sent = reader.values["sent"]
        if "held" in reads:
            # Held up, in a bucket or before a target: whatever is wrong with where it sits is left behind.
            sent = reader.onward("level", "sent", reader.common.put_in(reads["held"] * at.sound.top_m))
        elif reads.get("without") == reader.fault.kind.part:
            # With the part taken out it reads as if nothing were wrong.
            sent = _sound_sent(reader)
        mean = _alone(reader, test, sent)
        unrest = reader.unrest("level", "sent", False)
        return Expected(mean, reader.common.put_in(math.hypot(test.share * at.spans["sent"], unrest)))
    station = station_of(test, at)
    start, steady = "level", False
    if "inject" in reads or "simulate" in reads:
        steady, start = True, "arriving" if "inject" in reads else "sent"
        mean = reader.onward(start, station, _injected(reader, test))
    elif reads.get("direct"):
        mean = reader.own
    elif "held" in reads:
        mean = reader.onward("level", station, reader.common.put_in(reads["held"] * at.sound.top_m))
    elif station == "level":
        off = reader.fault.value * at.sound.top_m if reader.fault.kind.dips and not reads.get("fresh") else 0.0
        mean = np.clip(reader.level + off, 0.0, at.sound.top_m)
    elif reads.get("spare"):
        sound = at.sound.card
        assert sound is not None
        mean = sound.forward(reader.values["arriving"], exact=False)
    else:
        mean = reader.values[station]
    share = test.share if station != "shown" else max(test.share, 0.006)
    unrest = reader.unrest(start, station, steady) if station != "level" else 0.0
    return Expected(mean, reader.common.put_in(math.hypot(share * at.spans[station], unrest)))


def _sound_sent(reader: Reader) -> Array:
    """What the sensor would send with nothing wrong before its signal."""
    x = reader.level
    for station in reader.at.sound.stations[1 : reader.at.sound.stations.index("sent") + 1]:
        x = reader.at.sound.over(station, x, exact=False)
    shift = reader.common.shifts.get("sent")
    return x if shift is None else x + shift


def _injected(reader: Reader, test: FaultTest) -> Array:
    """What is put in [A or V]."""
    signal = reader.at.sound.signal
    assert signal is not None
    if "put_in" in test.reads:
        return reader.common.put_in(float(test.reads["put_in"]))
    told = test.reads.get("inject", test.reads.get("simulate"))
    assert told != "same", f"{test.key}: what was put in is not said"
    return reader.common.put_in(signal.low + float(told) * signal.span)


def _volts(reader: Reader, test: FaultTest) -> Expected:
    red, black = test.reads["volts"]
    signal = reader.chain.signal
    plan, circuit = reader.plan, reader.circuit
    assert plan is not None and circuit is not None
    sent = reader.values["sent"] if signal is not None else reader.common.put_in(0.012)
    mean = reader.common.read_once(test, (circuit, sent), lambda: volts(plan, circuit, signal, red, black, sent))
    sd = _VOLT_LEAST + _VOLT_SHARE * np.abs(mean)
    if reader.rewired and signal is not None:
        sd = np.where(starved(circuit, signal, sent), np.hypot(sd, _STARVED_V), sd)
    return Expected(mean, sd)


def _ohms(reader: Reader, test: FaultTest) -> Expected:
    plan, circuit = reader.plan, reader.circuit
    assert plan is not None and circuit is not None
    red, black = test.reads["ohms"]
    far, begin = str(test.reads.get("far", "")), str(test.reads.get("from", ""))
    apart = bool(test.reads.get("apart"))

    def measured() -> Array:
        return reader.common.put_in(math.log10(ohms(plan, circuit, red, black, far, begin, apart)))

    mean = reader.common.read_once(test, (circuit,), measured)
    sd = _HIGH_DECADE if mean[0] >= math.log10(_HIGH_OHM) else _OHM_DECADE
    return Expected(mean, reader.common.put_in(sd))


def _alone(reader: Reader, test: FaultTest, sent: Array) -> Array:
    signal, plan, circuit = reader.chain.signal, reader.plan, reader.circuit
    assert signal is not None
    if plan is None or circuit is None:
        return sent
    place = str(test.reads["alone"])
    mean = reader.common.read_once(test, (circuit, sent), lambda: arriving(alone(plan, circuit, place), signal, sent))
    # A meter's own supply gives no more than this, whatever lies across it.
    return np.minimum(mean, _METER_AMP) if signal.quantity == "current" else mean


def _signs(reader: Reader, test: FaultTest) -> tuple[float, ...]:
    """How likely each outcome of a sign is."""
    sign, outcomes = test.reads["sign"], test.outcomes
    kind = reader.fault.kind
    if sign == "look":
        return _look(reader, outcomes)
    if sign in ("steady", "alone-steady"):
        where = ("counts", "number") if sign == "steady" else ("level", "sensed", "sent")
        noisy = any(isinstance(e, Noise) and e.station in where for e in reader.fault.edits)
        return (1 - LOOK_SURE, LOOK_SURE) if noisy else (LOOK_SURE, 1 - LOOK_SURE)
    seen = kind.signs.get(sign, outcomes[0])
    rest = (1 - SIGN_SURE) / (len(outcomes) - 1)
    return tuple(SIGN_SURE if one == seen else rest for one in outcomes)


def _look(reader: Reader, outcomes: Sequence[str]) -> tuple[float, ...]:
    kind = reader.fault.kind
    shown = reader.values["shown"]
    if kind.look:
        likely = {kind.look: LOOK_SURE}
    elif not np.all(np.isfinite(shown)):
        likely = {"stale": 0.6, "frozen": 0.35}
    elif reader.shows_one:
        likely = {"frozen": 0.6, "live": 0.35}
    else:
        likely = {"live": LOOK_SURE}
    rest = (1 - sum(likely.values())) / (len(outcomes) - len(likely))
    return tuple(likely.get(one, rest) for one in outcomes)
