"""A tank that is listened to: a unit that sends its level and what its card shows."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from rasante.readings.intake import Batch, channels_of, take_in
from rasante.readings.models import Channel, Source
from rasante.readings.services import keep_source, renew_token
from rasante.scaling.chains import keep_chain

from .base import SENSOR, ApiTest

NOW = 1_760_000_000_000

DAY = 86_400_000


def iso(ms: int) -> str:
    """A moment as the API writes it."""
    return datetime.fromtimestamp(ms / 1000, UTC).isoformat().replace("+00:00", "Z")


class ReadingsTest(ApiTest):
    """A tank with a chain, and a unit that sends its level and what its card shows."""

    source: Source
    token: str

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        keep_chain(cls.tank, SENSOR, "metric", cls.technician, 0)
        cls.source = cls.make(
            "push", channels=[("level", "level"), ("counts", "counts"), ("temperature", "temperature")]
        )
        _, cls.token = renew_token(cls.source, cls.technician)

    @classmethod
    def make(cls, kind: str, channels: list[tuple[str, str]], **more: str) -> Source:
        entries = {"kind": kind, "name": f"{kind} source", **more}
        for number, (name, meaning) in enumerate(channels):
            entries |= {f"channels[{number}].name": name, f"channels[{number}].kind": meaning}
            entries[f"channels[{number}].tank"] = str(cls.tank.pk)
        return keep_source(None, entries, "metric", cls.technician, 0)

    def channel(self, name: str) -> Channel:
        return channels_of(self.source)[name]

    def push(self, rows: Any, token: str | None = None):
        self.client.logout()
        head = {"HTTP_AUTHORIZATION": f"Bearer {self.token if token is None else token}"}
        return self.client.post("/api/push/", data={"readings": rows}, content_type="application/json", **head)

    def fill(
        self, name: str, values: list[float], start: int = NOW, step: int = 10_000, now: int | None = None
    ) -> Any:
        at = [start + i * step for i in range(len(values))]
        batch = Batch(at, list(values), [0] * len(values))
        return take_in({self.channel(name): batch}, now or at[-1] + 1000)
