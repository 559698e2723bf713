"""Live values that may be taken instead of being typed: where a channel stands at a station, and once it is still."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..core.readings.channels import MEANINGS
from ..core.readings.condition import CONDITIONS
from ..tanks.models import Tank
from .models import Channel
from .watching import Now, channel_now, channels_at, raw_values

#: What is said of a value that is not taken yet.
_WHY = {
    "moving": "it moves",
    "unsteady": "it swings more than the instrument does",
    "too few": "too few readings yet",
}


@dataclass(frozen=True)
class Take:
    """A live value.

    Parameters
    ----------
    channel : Channel
        Where it comes from.
    now : Now
        What is known of it now.
    raw : float
        Its median over the time in which it stood still, in the channel's unit.
    still : bool
        Whether it can be taken.
    words : str
        Why not, and how long yet; or over how long it stood still.
    """

    channel: Channel
    now: Now
    raw: float
    still: bool
    words: str


def takes_of(tank: Tank) -> list[Take]:
    """The live values of a tank, one for each channel that stands at a station and sends by itself."""
    found = []
    for channel in channels_at(tank):
        if channel.kind in MEANINGS or channel.source.kind in ("hand", "csv"):
            continue
        now = channel_now(channel)
        if now is None or now.raw is None or now.stillness is None:
            continue
        still = now.stillness
        raw = raw_values(channel, now.at_s - min(still.window_s, 3600.0))
        value = float(np.median(raw)) if len(raw) else now.raw
        found.append(Take(channel, now, value, still.state == "still" and now.condition.live, _words(now)))
    return found


def _words(now: Now) -> str:
    still = now.stillness
    assert still is not None
    if not now.condition.live:
        return CONDITIONS[now.condition.key]
    if still.state == "still":
        return f"stood still over {min(still.window_s, 3600.0):.0f} s"
    wait = f"; about {still.to_go_s:.0f} s yet" if np.isfinite(still.to_go_s) and still.to_go_s < 7200 else ""
    return _WHY[still.state] + wait
