"""What a broker passes on: each channel is a topic, its value the payload or a place in its JSON."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from typing import Any

import orjson
import paho.mqtt.client as paho
from paho.mqtt.enums import CallbackAPIVersion

from ..core.readings.taken import BAD, GOOD
from .models import Channel, Source
from .polling import address_of
from .pushing import moment_ms

Heard = Callable[[Channel, int, float | None, int], None]
_QOS = 1


def value_in(payload: bytes, path: str) -> tuple[float | None, int | None]:
    """The number in a payload, and when it is from [ms] where the payload says so (``at``).

    Parameters
    ----------
    payload : bytes
        A number as text, or JSON.
    path : str
        Place of the number in JSON (``tank.level``); empty where the payload itself is the number.

    Raises
    ------
    ValueError
        If there is no number.
    """
    content: Any = orjson.loads(payload)
    at = content.get("at") if isinstance(content, dict) else None
    for key in path.split(".") if path else []:
        content = content[int(key)] if isinstance(content, list) else content[key]
    if isinstance(content, dict) and not path:
        content = content["value"]
    if content is None:
        return None, None if at is None else moment_ms(at)
    if isinstance(content, bool):
        content = float(content)
    if isinstance(content, str):
        content = float(content)
    if not isinstance(content, (int, float)) or not math.isfinite(content):
        raise ValueError
    return float(content), None if at is None else moment_ms(at)


class Broker:
    """A connection to a broker that comes back by itself."""

    def __init__(self, source: Source, channels: list[Channel], heard: Heard, lost: Callable[[str], None]) -> None:
        self.source, self.heard, self.lost = source, heard, lost
        self.topics: dict[str, list[Channel]] = {}
        for channel in channels:
            self.topics.setdefault(address_of(channel).topic, []).append(channel)
        self.client = paho.Client(CallbackAPIVersion.VERSION2, client_id=f"rasante-{source.pk}-{int(time.time())}")
        self.client.reconnect_delay_set(1, 60)
        self.client.on_connect = self._connected
        self.client.on_connect_fail = lambda *_: self.lost(self._away())
        self.client.on_disconnect = self._disconnected
        self.client.on_message = self._message

    def _away(self) -> str:
        return f"the broker at {self.source.host}, port {self.source.port}, cannot be reached"

    def start(self) -> None:
        """Begin; it connects in a thread of its own."""
        self.client.connect_async(self.source.host, self.source.port, keepalive=30)
        self.client.loop_start()

    def stop(self) -> None:
        """Leave the broker."""
        self.client.disconnect()
        self.client.loop_stop()

    def _connected(self, client: Any, userdata: Any, flags: Any, reason: Any, properties: Any) -> None:
        if reason.is_failure:
            self.lost(f"the broker refuses: {reason}")
            return
        client.subscribe([(topic, _QOS) for topic in self.topics])

    def _disconnected(self, client: Any, userdata: Any, flags: Any, reason: Any, properties: Any) -> None:
        if reason.is_failure:
            self.lost(self._away())

    def _message(self, client: Any, userdata: Any, message: Any) -> None:
        now = int(time.time() * 1000)
        for channel in self.topics.get(message.topic, []):
            try:
                value, at = value_in(message.payload, address_of(channel).path)
            except (ValueError, KeyError, IndexError, TypeError, OverflowError):
                self.lost(f"what came under {message.topic} has no number where one was expected")
                continue
            self.heard(channel, now if at is None else at, value, GOOD if value is not None else BAD)
