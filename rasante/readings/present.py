"""How sources, readings and events are written for the API: millimetres, litres, and seconds from SI."""

from __future__ import annotations

import math
from datetime import UTC, datetime

import numpy as np

from ..accounts.models import name_of
from ..core.quantities.arrays import Array
from ..core.quantities.units import System
from ..core.readings.ahead import Rate
from ..core.readings.changes import Change, Transfer
from ..core.readings.channels import FACTORS, KINDS, MEANINGS, UNIT_NAMES
from ..core.readings.condition import CONDITIONS
from ..core.readings.taken import QUALITIES
from ..core.scaling.chain import STATIONS, Chain
from ..core.scaling.chain_values import places_text, value_text
from ..core.scaling.marks import MARKS
from ..planned.present import fields
from . import answers, events
from .models import Channel, Event, Source
from .moves import Moves
from .polling import Polled
from .services import read_tank_source, state_of
from .watching import Now, Series

#: From which age on a reading is told in minutes, hours and days [s].
_AGES = ((2 * 86400.0, 86400.0, "days"), (2 * 3600.0, 3600.0, "h"), (120.0, 60.0, "min"), (0.0, 1.0, "s"))


def age_words(seconds: float) -> str:
    """Say how old something is: “12 s”, “3 h”, “5 days”."""
    for least, size, name in _AGES:
        if seconds >= least:
            return f"{seconds / size:.0f} {name}"
    return "0 s"


def raw_text(channel: Channel, raw: float | None) -> str:
    """Write a value as it came, with its unit."""
    if raw is None:
        return "no value"
    return f"{places_text(raw, 4)} {UNIT_NAMES[channel.unit]}".strip()


def taken_text(channel: Channel, chain: Chain | None, raw: float, system: System) -> str:
    """Write a value as somebody would type it at its station."""
    if chain is None or channel.kind in MEANINGS:
        return raw_text(channel, raw)
    return value_text(chain, channel.kind, raw * FACTORS.get(channel.unit, 1.0), system)


def _isoformat(seconds: float) -> str:
    return datetime.fromtimestamp(seconds, UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


def _sized(value: float | None, size: float, places: int = 3) -> float | None:
    if value is None or not math.isfinite(value):
        return None
    return round(value * size, places)


def listed(values: Array, size: float, places: int = 2) -> list[float | None]:
    """Write a column in another unit; null where there is no number."""
    rounded = np.round(np.asarray(values, dtype=float) * size, places)
    return [one if math.isfinite(one) else None for one in rounded.tolist()]


def rate(found: Rate | None) -> answers.Rate | None:
    """Write a rate of volume in litres a minute."""
    if found is None:
        return None
    return answers.Rate(
        l_min=round(found.rate * 60_000, 2),
        u95_l_min=round(found.u95 * 60_000, 2),
        over_s=round(found.over_s),
        moves=found.moves,
    )


def channel(one: Channel) -> answers.Channel:
    """Write what a channel is."""
    return answers.Channel(
        id=one.pk,
        name=one.name,
        kind=one.kind,
        label=KINDS[one.kind],
        source=one.source.name,
        source_kind=one.source.kind,
        period_s=one.source.period_s,
    )


def now(found: Now | None) -> answers.Now | None:
    """Write what a tank has now."""
    if found is None:
        return None
    stillness = found.stillness
    to_go = None if stillness is None else _sized(stillness.to_go_s, 1, 0)
    return answers.Now(
        channel=channel(found.channel),
        at=_isoformat(found.at_s),
        arrived=_isoformat(found.arrived_s),
        age_s=round(found.condition.age_s, 1),
        age=age_words(found.condition.age_s),
        condition=found.condition.key,
        words=CONDITIONS[found.condition.key],
        live=found.condition.live,
        sound=found.condition.sound,
        quality=QUALITIES[found.quality],
        raw=raw_text(found.channel, found.raw),
        level_mm=_sized(found.level, 1000, 2),
        level_u95_mm=_sized(found.level_u95, 1000, 2),
        volume_l=_sized(found.volume, 1000, 2),
        volume_u95_l=_sized(found.volume_u95, 1000, 2),
        volume_pct=_sized(found.share, 100, 2),
        rate=rate(found.rate),
        reached=[
            answers.Reached(
                key=one.key,
                label=MARKS[one.key],
                in_s=round(one.in_s),
                soonest_s=round(one.soonest_s),
                latest_s=None if math.isinf(one.latest_s) else round(one.latest_s),
            )
            for one in found.reached
        ],
        stillness=None if stillness is None else answers.Stillness(state=stillness.state, to_go_s=to_go),
    )


def series(found: Series) -> answers.Series:
    """Write a series for a chart: columns of equal length."""
    of_level = found.channel.kind not in MEANINGS
    size = 1000.0 if of_level else 1 / FACTORS.get(found.channel.unit, 1.0)
    return answers.Series(
        channel=channel(found.channel),
        unit="mm" if of_level else UNIT_NAMES[found.channel.unit],
        size_s=found.size,
        at=np.round(found.times, 3).tolist(),
        value=listed(found.values, size),
        least=listed(found.least, size),
        most=listed(found.most, size),
        volume_l=listed(found.volumes, 1000) if of_level else [],
        volume_least_l=listed(found.volume_least, 1000) if of_level else [],
        volume_most_l=listed(found.volume_most, 1000) if of_level else [],
        worst=found.worst.astype(int).tolist(),
    )


def change(one: Change) -> answers.Move:
    """Write a delivery or a draw."""
    return answers.Move(
        start=_isoformat(one.start_s),
        end=_isoformat(one.end_s),
        volume_l=round(one.volume_m3 * 1000, 1),
        u95_l=round(one.u95_m3 * 1000, 1),
    )


def moves(found: Moves) -> answers.Moves:
    """Write what came and went."""
    return answers.Moves(
        deliveries=[change(one) for one in found.deliveries],
        draws=[change(one) for one in found.draws],
        words=found.words,
    )


def transfer(one: Transfer) -> answers.Transfer:
    """Write what went from one tank to another."""
    return answers.Transfer(
        source=one.source,
        target=one.target,
        start=_isoformat(min(one.left.start_s, one.came.start_s)),
        left_l=round(-one.left.volume_m3 * 1000, 1),
        came_l=round(one.came.volume_m3 * 1000, 1),
        differs_l=round(one.differs_m3 * 1000, 1),
        u95_l=round(one.u95_m3 * 1000, 1),
    )


def event(one: Event, system: System) -> answers.Event:
    """Write an event."""
    return answers.Event(
        id=one.pk,
        kind=one.kind,
        words=events.words_of(one, system),
        pressing=one.pressing,
        tank=one.tank_id,
        tank_name=one.tank.name if one.tank else "",
        site_name=one.tank.site.name if one.tank else "",
        source=one.source.name if one.source else one.channel.source.name if one.channel else "",
        opened_at=one.opened_at,
        closed_at=one.closed_at,
        acknowledged_at=one.acknowledged_at,
        acknowledged_by=name_of(one.acknowledged_by),
        word=one.word,
    )


def source(one: Source) -> answers.Source:
    """Write a source with how it does."""
    state = getattr(one, "state", None)
    return answers.Source(
        id=one.pk,
        name=one.name,
        kind=one.kind,
        entries=one.entries,
        on=one.on,
        revision=one.revision,
        changed_at=one.changed_at,
        changed_by=name_of(one.changed_by),
        token_end=one.token_end,
        heard_at=state.heard_at if state else None,
        state=answers.SourceState(**state_of(one)),
        channels=[
            answers.SourceChannel(
                **vars(channel(each)),
                on=each.on,
                tank=each.tank_id,
                tank_name=each.tank.name if each.tank else "",
            )
            for each in one.channels.all()
        ],
    )


def source_form(entries: dict[str, str], system: System) -> answers.SourceForm:
    """Write what was made of a source as it is typed."""
    found = read_tank_source(entries, system)
    return answers.SourceForm(
        fields_read=fields(found.form), units={path: list(units) for path, units in found.units.items()}
    )


def polled(one: Polled, hops: list[tuple[str, float]], chain: Chain | None, system: System) -> answers.Tried:
    """Write one value read on trial, with every hop it is taken through."""
    return answers.Tried(
        channel=one.channel.name,
        words=" ".join(f"0x{word:04X}" for word in one.words),
        value=raw_text(one.channel, one.value) if one.value is not None else "",
        problem=one.problem,
        hops=[
            answers.Hop(
                station=station,
                label=STATIONS[station],
                text=value_text(chain, station, value, system) if chain is not None else "",
            )
            for station, value in hops
        ],
    )
