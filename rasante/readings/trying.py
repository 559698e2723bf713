"""A source tried out: read once, with every hop that its values are taken through; nothing is kept."""

from __future__ import annotations

import asyncio

import numpy as np

from ..core.readings.channels import FACTORS, MEANINGS
from ..core.scaling.chain import Chain
from .intake import channels_of, through_of
from .models import Channel, Source
from .polling import NoAnswer, Polled, poll


def try_source(source: Source) -> tuple[str, list[Polled]]:
    """Read a source once.

    Returns
    -------
    str, list of Polled
        What went wrong with the whole of it, in words; and the value of each channel. Of what sends by itself it is
        the newest that came.
    """
    channels = list(channels_of(source).values())
    if source.kind == "modbus":
        try:
            return "", asyncio.run(asyncio.wait_for(poll(source, channels), 10 + 3 * source.timeout_s))
        except (NoAnswer, TimeoutError) as error:
            return str(error) or "it did not answer in time", []
    found = []
    for channel in channels:
        newest = getattr(channel, "newest", None)
        problem = "nothing has come of it yet" if newest is None else ""
        found.append(Polled(channel, (), None if newest is None else newest.raw, problem))
    return "", found


def hops_of(channel: Channel, value: float | None) -> tuple[Chain | None, list[tuple[str, float]]]:
    """Every station of the chain with what a value comes to there: back to the level, and on from it."""
    if value is None or channel.tank is None or channel.kind in MEANINGS:
        return None, []
    chain = through_of(channel.tank).chain
    if chain is None or channel.kind not in chain.stations:
        return None, []
    at = value * FACTORS.get(channel.unit, 1.0)
    level = chain.level_from(channel.kind, at)
    if not np.isfinite(level):
        return chain, [(channel.kind, at)]
    told = {**chain.at(level, exact=False), channel.kind: at, "level": level}
    return chain, [(station, told[station]) for station in chain.stations]
