"""The contents of tanks in time: between two switchings every tank fills and empties along a straight line."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..scaling.volumes import curve_of
from .flows import Flow, Pump, Vessel, temperature

#: Contents nearer to a limit than this are at it [m³].
_AT = 1e-9
_MOST_SWITCHINGS = 1_000_000


@dataclass(frozen=True)
class State:
    """A plant at one moment.

    Parameters
    ----------
    time_s : float
        When [s since 1970-01-01 UTC].
    volumes : mapping of str to float
        What is in each vessel [m³].
    running : frozenset of str
        Pumps that run.
    hands : mapping of str to bool
        Flows and pumps that a person opened or shut, whatever their calendar or level says.
    moved : mapping of str to float
        What went through each flow and pump since the beginning [m³].
    spilled : mapping of str to float
        What ran over [m³].
    """

    time_s: float
    volumes: Mapping[str, float]
    running: frozenset[str] = frozenset()
    hands: Mapping[str, bool] = field(default_factory=dict)
    moved: Mapping[str, float] = field(default_factory=dict)
    spilled: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Course:
    """How a plant went from one moment to another: what was in each vessel at every switching.

    Parameters
    ----------
    times : array of shape (n,)
        Of the switchings [s].
    volumes : mapping of str to array of shape (n,)
        Contents of each vessel then [m³]; straight lines between.
    moved : mapping of str to array of shape (n,)
        What had gone through each flow and pump by then [m³].
    running : mapping of str to array of shape (n,)
        Whether each flow was open and each pump ran from then on.
    """

    times: Array
    volumes: Mapping[str, Array]
    moved: Mapping[str, Array]
    running: Mapping[str, Array]

    def volume(self, vessel: str, when_s: Array) -> Array:
        """Contents of a vessel at times within the course [m³]."""
        return np.interp(when_s, self.times, self.volumes[vessel])

    def through(self, flow: str, when_s: Array) -> Array:
        """What had gone through a flow by then [m³]."""
        return np.interp(when_s, self.times, self.moved[flow])

    def ran(self, pump: str, when_s: Array) -> Array:
        """Whether a pump ran at times (bool)."""
        at = np.clip(np.searchsorted(self.times, when_s, side="right") - 1, 0, len(self.times) - 1)
        return np.asarray(self.running[pump][at] > 0)


@dataclass(frozen=True)
class Plant:
    """Tanks, and what flows between them.

    Parameters
    ----------
    vessels, flows, pumps : tuple
        What there is.
    seed : int
        Whose chance its weather and its instruments follow.
    mean_c, swing_k : float
        Temperature over the day: mean [°C] and half its swing [K].
    """

    vessels: tuple[Vessel, ...]
    flows: tuple[Flow, ...] = ()
    pumps: tuple[Pump, ...] = ()
    seed: int = 1
    mean_c: float = 9.0
    swing_k: float = 3.0

    def __post_init__(self) -> None:
        names = {vessel.name for vessel in self.vessels}
        for one in self.movers:
            if not one.rate > 0:
                raise InputError.at("rate", f"{one.name} must move more than nothing")
            for end in (one.source, one.target):
                if end is not None and end not in names:
                    raise InputError.at("flows", f"{one.name} names no vessel of this plant: {end}")

    @cached_property
    def movers(self) -> tuple[Flow | Pump, ...]:
        """All that moves something: its flows, then its pumps."""
        return (*self.flows, *self.pumps)

    @cached_property
    def _vessel(self) -> dict[str, Vessel]:
        return {vessel.name: vessel for vessel in self.vessels}

    def vessel(self, name: str) -> Vessel:
        """One of its vessels, by its name."""
        return self._vessel[name]

    def start(self, time_s: float) -> State:
        """How it stands at its beginning."""
        state = State(time_s, {vessel.name: vessel.start_m3 for vessel in self.vessels})
        return self._switched(state)

    def _switched(self, state: State) -> State:
        running = frozenset(
            pump.name
            for pump in self.pumps
            if state.hands.get(pump.name, pump.switched(pump.name in state.running, state.volumes[pump.watches]))
        )
        return replace(state, running=running)

    def hand(self, state: State, name: str, opened: bool | None) -> State:
        """Open or shut a flow, start or stop a pump by hand; None leaves it to itself again.

        Raises
        ------
        InputError
            If there is none of the name.
        """
        if name not in {one.name for one in self.movers}:
            raise InputError.at("name", f"nothing is called {name} here")
        hands = {key: value for key, value in state.hands.items() if key != name}
        return self._switched(replace(state, hands=hands if opened is None else {**hands, name: opened}))

    def put(self, state: State, vessel: str, volume_m3: float) -> State:
        """Fill or empty a vessel at once.

        Raises
        ------
        InputError
            If it does not hold so much.
        """
        capacity = self.vessel(vessel).tank.capacity
        if not 0 <= volume_m3 <= capacity:
            raise InputError.at("volume", f"{vessel} holds 0 to {capacity * 1000:.0f} L")
        return self._switched(replace(state, volumes={**state.volumes, vessel: volume_m3}))

    def _rates(self, state: State) -> tuple[dict[str, float], dict[str, float]]:
        """What every flow and pump moves now, and what every vessel gains [m³/s]."""
        moving = {one.name: one.rate for one in self.pumps if one.name in state.running}
        for flow in self.flows:
            if state.hands.get(flow.name, flow.calendar.on(state.time_s)):
                moving[flow.name] = flow.rate
        every = [one for one in self.movers if one.name in moving]
        # What an empty vessel does not get it cannot give; that may starve the next one.
        for _ in self.vessels:
            for vessel in self.vessels:
                if state.volumes[vessel.name] > _AT:
                    continue
                coming = sum(moving[one.name] for one in every if one.target == vessel.name)
                going = sum(moving[one.name] for one in every if one.source == vessel.name)
                if going > coming:
                    for one in every:
                        if one.source == vessel.name:
                            moving[one.name] *= coming / going
        gains = {vessel.name: 0.0 for vessel in self.vessels}
        for one in every:
            if one.source is not None:
                gains[one.source] -= moving[one.name]
            if one.target is not None:
                gains[one.target] += moving[one.name]
        return moving, gains

    def _next(self, state: State, gains: Mapping[str, float], until_s: float) -> float:
        """When something is switched next, or a vessel runs empty or full [s]."""
        times = [until_s]
        times += [one.calendar.next_edge(state.time_s) for one in self.flows if one.name not in state.hands]
        for name, gain in gains.items():
            if not gain:
                continue
            volume, capacity = state.volumes[name], self.vessel(name).tank.capacity
            marks = [0.0, capacity]
            for pump in self.pumps:
                if pump.watches == name:
                    marks += [pump.start_m3, pump.stop_m3]
            away = [(mark - volume) / gain for mark in marks]
            # A hundredth of a second beyond a mark, so that it has been passed for certain.
            times += [state.time_s + wait + 0.01 for wait in away if wait > 1e-9]
        return min(time for time in times if time > state.time_s)

    def advance(self, state: State, until_s: float) -> tuple[State, Course]:
        """Let it go on.

        Parameters
        ----------
        state : State
            How it stands.
        until_s : float
            Until when [s since 1970-01-01 UTC]; not before the state's own time.

        Returns
        -------
        State, Course
            How it stands then, and how it came there.
        """
        if until_s < state.time_s:
            raise InputError.at("until", "time goes forward only")
        states = [state]
        rows: list[frozenset[str]] = []
        for _ in range(_MOST_SWITCHINGS):
            moving, gains = self._rates(state)
            rows.append(frozenset(moving))
            if state.time_s >= until_s:
                break
            when = self._next(state, gains, until_s)
            state = self._after(state, moving, gains, when)
            states.append(state)
        return state, _course(self, states, rows)

    def _after(self, state: State, moving: Mapping[str, float], gains: Mapping[str, float], when: float) -> State:
        passed = when - state.time_s
        volumes, spilled = dict(state.volumes), dict(state.spilled)
        for name, gain in gains.items():
            wanted = volumes[name] + gain * passed
            capacity = self.vessel(name).tank.capacity
            if wanted > capacity:
                spilled[name] = spilled.get(name, 0.0) + wanted - capacity
            volumes[name] = min(max(wanted, 0.0), capacity)
        moved = dict(state.moved)
        for name, rate in moving.items():
            moved[name] = moved.get(name, 0.0) + rate * passed
        return self._switched(replace(state, time_s=when, volumes=volumes, moved=moved, spilled=spilled))

    def temperature(self, when_s: Array) -> Array:
        """Temperature of what is in its tanks [°C]."""
        return temperature(when_s, self.mean_c, self.swing_k, self.seed)

    def level(self, vessel: str, volume_m3: Array, when_s: Array) -> Array:
        """Innage of a vessel's contents, grown with their warmth [m].

        Parameters
        ----------
        vessel : str
            Which.
        volume_m3, when_s : array of shape (n,)
            What is in it at the plant's mean temperature [m³], and when [s].
        """
        one = self.vessel(vessel)
        grown = volume_m3 * (1 + one.expansion * (self.temperature(when_s) - self.mean_c))
        return np.asarray(curve_of(one.tank).level(np.clip(grown, 0.0, one.tank.capacity)))


def _course(plant: Plant, states: list[State], rows: list[frozenset[str]]) -> Course:
    rows += [rows[-1]] * (len(states) - len(rows))
    names = [one.name for one in plant.movers]
    return Course(
        np.array([state.time_s for state in states]),
        {one.name: np.array([state.volumes[one.name] for state in states]) for one in plant.vessels},
        {name: np.array([state.moved.get(name, 0.0) for state in states]) for name in names},
        {name: np.array([float(name in row) for row in rows]) for name in names},
    )
