"""The yard in motion: one plant on one clock that can be run faster, with everything that a person does to it."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np

from ..core.plant.instruments import Instrument
from ..core.plant.plant import Course, State
from ..core.scaling.edits import Clip, Delay, Edit, Gain, Noise, Offset, Set, Stick
from ..core.wiring.edits import Leak, Lift, Series, Swap
from .yard_file import Yard

#: How much of the past a lagging instrument can show [s].
_PAST_S = 1800.0
#: Whatever can be put in by hand: its name, and how its three fields make the edit.
EDITS: dict[str, Callable[[str, str, str], Edit]] = {
    "Stick": lambda a, b, c: Stick(a, float(b)),
    "Gain": lambda a, b, c: Gain(a, float(b)),
    "Offset": lambda a, b, c: Offset(a, float(b)),
    "Clip": lambda a, b, c: Clip(a, float(b), float(c)),
    "Noise": lambda a, b, c: Noise(a, float(b)),
    "Delay": lambda a, b, c: Delay(a, float(b)),
    "Set": lambda a, b, c: Set(a, _value(b)),
    "Series": lambda a, b, c: Series(a, float(b)),
    "Leak": lambda a, b, c: Leak(a, b, float(c)),
    "Lift": lambda a, b, c: Lift(a),
    "Swap": lambda a, b, c: Swap(a, b),
}


def _value(text: str) -> float | str:
    try:
        return float(text)
    except ValueError:
        return text


@dataclass
class Sensor:
    """How a sonar sits under its vessel: tilted [°], and slid from bottom centre [mm]."""

    tilt_x: float = 0.4
    tilt_y: float = -0.3
    slide_mm: float = 0.0

    @property
    def quality(self) -> float:
        """Per cent of the echo that comes back: it falls with tilt, and off the centre."""
        tilt = float(np.hypot(self.tilt_x, self.tilt_y))
        return 96.0 * float(np.exp(-((tilt / 4.0) ** 2)) * np.exp(-((self.slide_mm / 120.0) ** 2)))


def _joined(past: Course, more: Course, since_s: float, at_once: bool = False) -> Course:
    """Two courses, the one going on from the other, without what is long past; `at_once`: by a step."""
    after = 0 if at_once else 1
    times = np.concatenate([past.times, more.times[after:]])
    first = max(int(np.searchsorted(times, since_s, side="right")) - 1, 0)

    def join(a: Any, b: Any) -> dict[str, Any]:
        return {name: np.concatenate([a[name], b[name][after:]])[first:] for name in a}

    before = {name: past.running[name] if at_once else past.running[name][:-1] for name in past.running}
    running = {name: np.concatenate([before[name], more.running[name]])[first:] for name in before}
    return Course(times[first:], join(past.volumes, more.volumes), join(past.moved, more.moved), running)


class World:
    """A yard in motion; safe to use from many threads."""

    def __init__(self, yard: Yard, state: State, keep: Path | None = None, speed: float = 1.0) -> None:
        self.yard, self.plant, self.keep = yard, yard.plant, keep
        self.lock = threading.RLock()
        self.speed = speed
        self.base_real, self.base_s = time.time(), max(state.time_s, 0.0)
        self.edits: dict[str, tuple[Edit, ...]] = {}
        self.sensors: dict[str, Sensor] = {}
        self.state, self.course = self.plant.advance(state, state.time_s)
        # What went on while nobody looked.
        self.base_s = time.time()
        self._go_on(self.base_s)

    def now(self) -> float:
        """The yard's own time [s]."""
        return self.base_s + (time.time() - self.base_real) * self.speed

    def run_at(self, speed: float) -> None:
        """Let its clock run so many times as fast."""
        with self.lock:
            here = self._go_on(self.now())
            self.base_real, self.base_s, self.speed = time.time(), here, speed

    def _go_on(self, until: float) -> float:
        if until > self.state.time_s:
            self.state, more = self.plant.advance(self.state, until)
            self.course = _joined(self.course, more, until - _PAST_S)
        return self.state.time_s

    def go_on(self) -> float:
        """Bring everything to this moment; returns the yard's time [s]."""
        with self.lock:
            return self._go_on(self.now())

    def hand(self, name: str, opened: bool | None) -> None:
        """Open or shut, start or stop by hand; None leaves it to itself."""
        with self.lock:
            self._go_on(self.now())
            self.state = self.plant.hand(self.state, name, opened)
            self.save()

    def put(self, vessel: str, volume_m3: float) -> None:
        """Fill or empty a vessel at once."""
        with self.lock:
            here = self._go_on(self.now())
            self.state = self.plant.put(self.state, vessel, volume_m3)
            self.course = _joined(self.course, self.plant.advance(self.state, here)[1], here - _PAST_S, at_once=True)
            self.save()

    def edit(self, vessel: str, edits: tuple[Edit, ...]) -> None:
        """Put into an instrument what is wrong with it; an empty tuple mends it."""
        with self.lock:
            # Whatever does not fit the chain is refused before it is put in.
            _ = replace(self.yard.instruments[vessel], edits=edits).wrong
            self.edits[vessel] = edits

    def instrument(self, vessel: str) -> Instrument:
        """A tank's instrument with what is wrong with it."""
        return replace(self.yard.instruments[vessel], edits=self.edits.get(vessel, ()))

    def read(self, vessel: str, station: str, delay_s: float = 0.0) -> float:
        """What stands now at a station of a tank's chain, or what stood there when a link is slow [s]."""
        with self.lock:
            here = np.array([self.go_on()])
            one = self.instrument(vessel)
            if delay_s:
                one = replace(one, edits=(*one.edits, Delay(station, delay_s)))
            return float(one.read(self.plant, self.course, station, here)[0])

    def level(self, vessel: str) -> float:
        """The true level, as a careful dip has it [m]."""
        with self.lock:
            here = np.array([self.go_on()])
            return float(self.plant.level(vessel, self.course.volume(vessel, here), here)[0])

    def volume(self, vessel: str) -> float:
        """What is truly in a vessel [m³]."""
        with self.lock:
            self.go_on()
            return float(self.state.volumes[vessel])

    def moved(self, name: str) -> float:
        """What has gone through a flow since the beginning [m³]."""
        with self.lock:
            self.go_on()
            return float(self.state.moved.get(name, 0.0))

    def running(self, name: str) -> bool:
        """Whether a pump runs, or a flow is open, now."""
        with self.lock:
            here = self.go_on()
            if name in {pump.name for pump in self.plant.pumps}:
                return name in self.state.running
            flow = next(one for one in self.plant.flows if one.name == name)
            return self.state.hands.get(name, flow.calendar.on(here))

    def temperature(self) -> float:
        """Temperature now [°C]."""
        return float(self.plant.temperature(np.array([self.go_on()]))[0])

    def save(self) -> None:
        """Keep how it stands, to go on from there after a restart."""
        if self.keep is None:
            return
        with self.lock:
            kept = {**asdict(self.state), "running": sorted(self.state.running)}
            part = self.keep.with_suffix(".part")
            part.write_text(json.dumps(kept), "utf-8")
            part.replace(self.keep)


def read_state(path: Path) -> State:
    """How a yard stood when it was kept."""
    kept = json.loads(path.read_text("utf-8"))
    return State(**{**kept, "running": frozenset(kept["running"])})


def write_state(path: Path, state: State) -> None:
    """Keep how a yard stands."""
    path.write_text(json.dumps({**asdict(state), "running": sorted(state.running)}), "utf-8")
