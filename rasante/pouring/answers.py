"""What the API answers of pours. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..answer import told
from ..core.quantities.form import FormField
from ..tanks import answers as tanks


@dataclass(frozen=True)
class PointOfRun:
    """A volume with its reading; row −1 is the start."""

    row: int
    reading: float
    volume_l: float


@dataclass(frozen=True, kw_only=True)
class PourCurve:
    """The curve through what was poured, with its ±."""

    reading: list[float]
    volume_l: list[float]
    half_l: list[float]
    worst_l: float
    at: list[PointOfRun]


@dataclass(frozen=True, kw_only=True)
class PourAdvice:
    """What to pour next; less than 0 to draw off."""

    amount_l: float
    to_volume_l: float
    to_reading: float | None
    now_l: float
    then_l: float
    to_go: int
    enough: bool
    minutes_to_go: float | None
    cans: int = told("How many whole cans it is; 0 where it is none")
    can_l: float


@dataclass(frozen=True)
class Misfit:
    """The step that does not fit."""

    row: int
    amount_l: float
    should_be_l: float
    half_l: float
    looks: Literal["left out", "twice", "other"]


@dataclass(frozen=True)
class PourPattern:
    """How far something is from what was surveyed."""

    label: str
    value: float
    half: float
    unit: str


@dataclass(frozen=True)
class JoinedShape:
    """The shape that survey and pours tell together."""

    fits: bool
    worst_l: float
    moves: list[PourPattern]


@dataclass(frozen=True, kw_only=True)
class BesideShape:
    """Pours beside the survey."""

    agrees: bool
    worst_l: float
    patterns: list[PourPattern]
    joined: JoinedShape | None


@dataclass(frozen=True, kw_only=True)
class RunReading:
    """A run of pours as far as it has been typed."""

    fields_read: list[FormField]
    ways: dict[str, str]
    reads: dict[str, str]
    does: dict[str, str]
    meters: dict[str, str]
    top_l: float
    target_l: float
    factor: float | None
    pulses_per_l: float | None = told("To be set anew")
    pours: int
    curve: PourCurve | None
    advice: PourAdvice | None
    misfit: Misfit | None
    shape: BesideShape | None
    judgements: list[tanks.Judgement]


@dataclass(frozen=True)
class SeenDelivery:
    """A delivery as the tank's readings saw it; its amount by the table of now."""

    start: datetime
    volume_l: float
    before_mm: float
    after_mm: float


@dataclass(frozen=True)
class PourRecord:
    """A run of which a table was issued."""

    id: int
    number: int
    table: int | None
    issued_at: datetime
    issued_by: str
    why: str
    take: Literal["pours", "shape"]
    reads: str
    pours: int
    worst_l: float


@dataclass(frozen=True)
class PourFileRead:
    """What was read of them: the columns as taken, and a run's entries to look at before they are kept."""

    columns: dict[str, int]
    headings: list[str]
    entries: dict[str, str]
