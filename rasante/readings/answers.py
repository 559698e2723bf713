"""What the API answers of sources, readings and events. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..answer import moment, one_of, told
from ..core.quantities.form import FormField
from ..core.readings.condition import CONDITIONS
from ..core.readings.source_form import SOURCES


@dataclass(frozen=True, kw_only=True)
class Channel:
    """A channel, and what it is."""

    id: int
    name: str
    kind: str
    label: str
    source: str
    source_kind: str = one_of(list(SOURCES))
    period_s: float


@dataclass(frozen=True, kw_only=True)
class SourceChannel(Channel):
    """A channel of a source, with its tank."""

    on: bool
    tank: int | None
    tank_name: str


@dataclass(frozen=True, kw_only=True)
class SourceState:
    """How a source does."""

    key: Literal["off", "failing", "late", "waiting", "heard"]
    words: str


@dataclass(frozen=True, kw_only=True)
class Source:
    """A source of readings."""

    id: int
    name: str
    kind: str = one_of(list(SOURCES))
    entries: dict[str, str]
    on: bool
    revision: int
    changed_at: datetime
    changed_by: str
    token_end: str = told("The last letters of its token; empty where it has none")
    heard_at: datetime | None
    state: SourceState
    channels: list[SourceChannel]


@dataclass(frozen=True, kw_only=True)
class Token:
    """A token, shown once."""

    token: str
    source: Source


@dataclass(frozen=True, kw_only=True)
class SourceForm:
    """A source as far as it has been typed."""

    fields_read: list[FormField]
    units: dict[str, list[str]] = told("What each channel may come in, by path")


@dataclass(frozen=True)
class Hop:
    """What a value comes to at one station."""

    station: str
    label: str
    text: str


@dataclass(frozen=True)
class Tried:
    """One value read on trial."""

    channel: str
    words: str
    value: str
    problem: str
    hops: list[Hop]


@dataclass(frozen=True, kw_only=True)
class Trial:
    """What a source gave when it was tried."""

    problem: str
    values: list[Tried]


@dataclass(frozen=True, kw_only=True)
class Rate:
    """How fast contents change."""

    l_min: float
    u95_l_min: float
    over_s: int
    moves: bool = told("Whether it is told from standing still")


@dataclass(frozen=True)
class Reached:
    """When a mark is reached if it goes on so."""

    key: str
    label: str
    in_s: int
    soonest_s: int
    latest_s: int | None


@dataclass(frozen=True, kw_only=True)
class Stillness:
    """Whether the newest readings stand still, and how long it takes yet."""

    state: Literal["still", "moving", "unsteady", "too few"]
    to_go_s: float | None


@dataclass(frozen=True, kw_only=True)
class Now:
    """What a tank has now, by its newest reading."""

    channel: Channel
    at: str = moment()
    arrived: str = moment()
    age_s: float
    age: str
    condition: str = one_of(list(CONDITIONS))
    words: str
    live: bool
    sound: bool
    quality: str
    raw: str
    level_mm: float | None
    level_u95_mm: float | None
    volume_l: float | None
    volume_u95_l: float | None
    volume_pct: float | None
    rate: Rate | None
    reached: list[Reached]
    stillness: Stillness | None


@dataclass(frozen=True, kw_only=True)
class NowAnswer:
    """What a tank has now; null where nothing brings its level."""

    now: Now | None


@dataclass(frozen=True, kw_only=True)
class Take:
    """A live value that can be taken instead of being typed."""

    station: str
    channel: int
    source: str
    text: str = told("As it would be typed at its station")
    at: datetime
    age: str
    still: bool
    live: bool
    words: str = told("Why not, and how long yet")


@dataclass(frozen=True, kw_only=True)
class Takes:
    """The live values of one tank."""

    takes: list[Take]


@dataclass(frozen=True, kw_only=True)
class Series:
    """Readings over time, in columns of equal length."""

    channel: Channel
    unit: str
    size_s: int = told("Span of one point; 0 for the readings themselves")
    at: list[float] = told("Seconds since 1970-01-01 UTC")
    value: list[float | None]
    least: list[float | None]
    most: list[float | None]
    volume_l: list[float | None]
    volume_least_l: list[float | None]
    volume_most_l: list[float | None]
    worst: list[int]


@dataclass(frozen=True, kw_only=True)
class Move:
    """A delivery or a draw."""

    start: str = moment()
    end: str = moment()
    volume_l: float
    u95_l: float


@dataclass(frozen=True, kw_only=True)
class Moves:
    """What came and went."""

    deliveries: list[Move]
    draws: list[Move]
    words: str = told("What is said where there are none: that, or why it cannot be told")


@dataclass(frozen=True, kw_only=True)
class Transfer:
    """What went from one tank to another."""

    source: str
    target: str
    start: str = moment()
    left_l: float
    came_l: float
    differs_l: float
    u95_l: float


@dataclass(frozen=True)
class AsNow:
    """Older readings as today's chain and table would have them."""

    at: list[float]
    level_mm: list[float | None]
    volume_l: list[float | None]


@dataclass(frozen=True)
class Event:
    """Something that readings tell of."""

    id: int
    kind: str
    words: str
    pressing: bool
    tank: int | None
    tank_name: str
    site_name: str
    source: str
    opened_at: datetime
    closed_at: datetime | None
    acknowledged_at: datetime | None
    acknowledged_by: str
    word: str


@dataclass(frozen=True)
class WatchMark:
    """A mark drawn as a line."""

    key: str
    label: str
    level_mm: float
    volume_l: float


@dataclass(frozen=True)
class Watch:
    """What a tank's readings show over a span."""

    begin: datetime
    end: datetime
    series: list[Series]
    as_now: AsNow | None
    moves: Moves
    transfers: list[Transfer]
    marks: list[WatchMark]
    events: list[Event]
    now: Now | None


@dataclass(frozen=True)
class EventList:
    """The events that ask for a person, or are not over."""

    events: list[Event]
