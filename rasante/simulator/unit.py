"""A battery unit that sends by itself: it sleeps, wakes by its clock or its button, finds its network, and sends."""

from __future__ import annotations

import json
import threading
import time
import urllib.error
import urllib.request
from collections import deque
from typing import Any

import numpy as np

from ..core.plant.chance import normal, seed_of, uniform
from .world import Sensor, World

#: How long it takes to wake, and to find its network at least and at most, by the yard's clock [s].
_WAKES_S, _FINDS_S = 3.0, (30.0, 60.0)
_BATTERY_V = 3.62
#: Readings kept while nothing gets through.
_MOST_KEPT = 500


class Unit:
    """One unit."""

    def __init__(self, world: World, device: dict[str, Any], address: str, token: str) -> None:
        self.world, self.device, self.address, self.token = world, device, address, token
        self.tank = device["channels"][0]["tank"]
        self.sensor = Sensor()
        self.state, self.lamp = "asleep", "dark"
        self.said: deque[str] = deque(maxlen=8)
        self.kept: deque[dict[str, Any]] = deque(maxlen=_MOST_KEPT)
        self.pressed, self.stopping = threading.Event(), threading.Event()
        self.since = world.now()
        self.sent = 0

    def press(self) -> None:
        """Press its button, or hold a magnet to it."""
        self.pressed.set()

    def stop(self) -> None:
        """End it."""
        self.stopping.set()
        self.pressed.set()

    def _be(self, state: str, lamp: str, said: str = "") -> None:
        self.state, self.lamp, self.since = state, lamp, self.world.now()
        if said:
            self.said.append(f"{time.strftime('%H:%M:%S')} {said}")

    def _wait(self, seconds: float, wakes: bool = False) -> None:
        """Wait by the yard's clock; the button ends a sleep."""
        until = self.world.now() + seconds
        while not self.stopping.is_set() and self.world.now() < until:
            left = (until - self.world.now()) / self.world.speed
            if wakes and self.pressed.wait(min(left, 0.25)):
                return
            if not wakes:
                self.stopping.wait(min(left, 0.25))

    def run(self) -> None:
        """Live until it is stopped."""
        period = float(self.device["period"].split()[0])
        while not self.stopping.is_set():
            self._be("asleep", "dark")
            self._wait(period, wakes=True)
            by_hand = self.pressed.is_set()
            self.pressed.clear()
            if self.stopping.is_set():
                return
            self._be("waking", "blinks", "one beep: awake" if by_hand else "")
            self._wait(_WAKES_S)
            self.measure()
            self._be("searching its network", "blinks slowly")
            share = float(uniform(seed_of(self.world.plant.seed, self.tank), np.array([int(self.world.now())]))[0])
            self._wait(_FINDS_S[0] + share * (_FINDS_S[1] - _FINDS_S[0]))
            if not self.stopping.is_set():
                self.send()

    def measure(self) -> None:
        """Take a reading of everything, to be sent when the network is there."""
        at = time.strftime("%Y-%m-%dT%H:%M:%S", time.gmtime()) + "Z"
        for channel in self.device["channels"]:
            value = self.value(channel)
            self.kept.append({"channel": channel["name"], "at": at, "value": value, "fault": value is None})

    def value(self, channel: dict[str, Any]) -> float | None:
        """What it measures on one channel; None without an echo."""
        kind, sensor = channel["kind"], self.sensor
        noise = float(
            normal(seed_of(self.world.plant.seed, channel["name"]), np.array([int(self.world.now() * 10)]))[0]
        )
        if kind == "level":
            if self.device.get("sonar") and sensor.quality < 25:
                return None
            level = self.world.level(self.tank)
            tilt = np.radians(np.hypot(sensor.tilt_x, sensor.tilt_y)) if self.device.get("sonar") else 0.0
            return round(float(level / np.cos(tilt) + 0.0008 * noise) * 1000, 1)
        found: dict[str, float] = {
            "quality": sensor.quality + 0.8 * noise,
            "temperature": self.world.temperature() + 0.2 * noise,
            "battery": _BATTERY_V - 1e-4 * self.sent,
            "network": 71 + 3 * noise,
            "tilt": sensor.tilt_x if channel["name"].endswith("x") else sensor.tilt_y,
        }
        return round(found[kind], 2) if kind in found else None

    def send(self) -> None:
        """Send what is kept; what does not get through is kept for the next time."""
        body = json.dumps({"readings": list(self.kept)}).encode()
        head = {"Authorization": f"Bearer {self.token}", "Content-Type": "application/json"}
        request = urllib.request.Request(self.address, body, head, method="POST")
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                answer.read()
            self.sent += len(self.kept)
            self.kept.clear()
            self._be("on its network", "steady", "two beeps: sent")
        except (urllib.error.URLError, OSError) as error:
            self._be("no network", "red", f"long beep: {error}")
