"""When each device was heard last, and its battery, as far as a channel of its tank says so."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from ..core.readings.channels import UNIT_NAMES
from ..readings.models import Channel
from ..readings.watching import channel_now, leading
from ..tanks.models import Tank


def with_heard(devices: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Add to devices that are fitted when their tank was heard last, and its battery."""
    tanks = {tank.pk: tank for tank in Tank.objects.filter(pk__in=[one["tank"] for one in devices if one["tank"]])}
    heard: dict[int, tuple[Any, str]] = {}
    for pk, tank in tanks.items():
        lead = leading(tank)
        now = channel_now(lead) if lead is not None else None
        battery = Channel.objects.filter(tank=tank, on=True, kind="battery").select_related("source").first()
        state = channel_now(battery) if battery is not None else None
        said = ""
        if battery is not None and state is not None and state.raw is not None:
            said = f"{state.raw:g} {UNIT_NAMES[battery.unit]}".strip()
        heard[pk] = (now.at_s if now is not None and now.raw is not None else None, said)
    return [{**one, **_heard(heard.get(one["tank"]))} for one in devices]


def _heard(found: tuple[Any, str] | None) -> dict[str, Any]:
    if found is None or found[0] is None:
        return {"heard_at": None, "battery": found[1] if found else ""}
    return {"heard_at": datetime.fromtimestamp(found[0], UTC), "battery": found[1]}
