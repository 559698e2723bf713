"""What the API answers of loads. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..answer import told
from ..core.quantities.form import FormField
from ..readings import answers as readings
from ..tanks import answers as tanks


@dataclass(frozen=True, kw_only=True)
class LoadTargets:
    """How much may be in the vessel."""

    by_weight_l: float | None
    with_vapour_l: float | None
    by_filling_l: float
    rule: Literal["weight", "filling"]
    target_l: float
    target_pct: float
    mass_kg: float
    vapour_kg: float
    full_at: str = told("Temperature at which it would be all liquid; empty beyond what is met")


@dataclass(frozen=True, kw_only=True)
class LoadProgress:
    """How far the load has come."""

    volume_l: float
    volume_pct: float
    mass_kg: float
    left_l: float
    stop_l: float
    stop_pct: float
    to_stop_s: float | None
    overshoot_l: float
    state: Literal["load", "stop", "over"]


@dataclass(frozen=True, kw_only=True)
class LoadReading:
    """A load as far as it has been typed."""

    fields_read: list[FormField]
    places: dict[str, str]
    density_at: dict[str, str]
    listed: str = told("What is listed for this mixture, in words")
    source: str = told("Where the filling limit comes from")
    filling_pct: float
    table_pct: float | None
    capacity_l: float
    targets: LoadTargets | None
    progress: LoadProgress | None
    loaded_l: float | None
    float_short_l: list[float]
    judgements: list[tanks.Judgement]
    live: readings.Now | None


@dataclass(frozen=True)
class LoadRecord:
    """A load as it was closed."""

    id: int
    number: int
    closed_at: datetime
    closed_by: str
    contents_l: float
    loaded_l: float | None
    target_l: float
    rule: Literal["weight", "filling"]
