"""What the API answers of the board. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..answer import told
from ..tanks import answers as tanks


@dataclass(frozen=True, kw_only=True)
class Station:
    """A station of the work on a tank, and how far it has come."""

    key: Literal["survey", "table", "gauge", "wiring", "scale", "prove", "watch"]
    label: str
    state: Literal["not started", "in hand", "done", "needs you"]
    words: str


@dataclass(frozen=True, kw_only=True)
class DippedLevel:
    """The level last read or dipped, with its age."""

    read: bool = told("Whether it was read by a gauge that sends; else it was dipped")
    live: bool = told("Whether it is no older than its source sends")
    innage_mm: float
    volume_l: float
    volume_pct: float
    at: datetime
    age_days: float


@dataclass(frozen=True)
class Card:
    """A tank on the board."""

    id: int
    site_name: str
    facts: tanks.Facts
    stations: list[Station]
    level: DippedLevel | None


@dataclass(frozen=True)
class Attention:
    """Something that needs a person."""

    tank: int
    name: str
    site_name: str
    station: str
    words: str
    state: str


@dataclass(frozen=True, kw_only=True)
class Backup:
    """The last backup."""

    at: datetime | None
    age_days: float | None
    pressing: bool


@dataclass(frozen=True, kw_only=True)
class Board:
    """The board."""

    attention: list[Attention]
    attention_count: int
    calls_a_page: int
    tanks_a_page: int
    tanks: list[Card]
    tank_count: int
    backup: Backup | None = told("For leads alone")
