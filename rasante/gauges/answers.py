"""What the API answers of gauges. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from ..answer import one_of, told
from ..core.quantities.form import FormField
from ..tanks import answers as tanks


@dataclass(frozen=True)
class UncertainPart:
    """What one cause adds to a level's uncertainty."""

    name: str
    u95_mm: float


@dataclass(frozen=True, kw_only=True)
class Verdict:
    """A gauge model judged for a tank; the uncertainty is null for one that tells no level."""

    key: str
    name: str
    technology: str
    verdict: str = one_of(("fits", "fits_if", "no"))
    words: str
    reasons: list[tanks.Judgement]
    outputs: list[str]
    install_min: float
    u95_l: float | None
    u95_pct: float | None
    u95_at_mm: float | None
    u95_level_mm: float | None
    table_u95_l: float | None
    parts: list[UncertainPart]


@dataclass(frozen=True)
class Situation:
    """What a gauge meets, and what was taken as usual of it."""

    lowest_mm: float
    highest_mm: float
    temperature_c: list[float]
    pressure_bar: float
    density_kg_m3: list[float]
    zone: str
    vapour: str
    x_mm: float
    y_mm: float
    face_mm: float
    depth_mm: float
    assumed: list[str]


@dataclass(frozen=True)
class PlanView:
    """A tank seen from above."""

    outline_mm: list[list[float]]
    low_mm: list[float]
    high_mm: list[float]


@dataclass(frozen=True)
class Obstacle:
    """Something that stands in the tank."""

    kind: str
    name: str
    x_mm: float
    y_mm: float
    radius_mm: float


@dataclass(frozen=True)
class School:
    """A probe's length by one school of gap; null where the tank is too deep for it."""

    key: str
    label: str
    cut_mm: float | None


@dataclass(frozen=True)
class Probe:
    """A probe's cut."""

    school: str
    depth_mm: float
    gap_mm: float
    cut_mm: float
    pieces_mm: list[float]
    schools: list[School]
    wet_l: float | None
    steps: list[str]
    judgements: list[tanks.Judgement]


@dataclass(frozen=True)
class Cable:
    """A submersible sensor's cable."""

    down_mm: float
    run_mm: float
    loop_mm: float
    need_mm: float
    off_floor_mm: float
    stock_mm: float | None
    have_mm: float | None
    range_mm: float
    judgements: list[tanks.Judgement]


@dataclass(frozen=True)
class Rod:
    """A rod."""

    key: str
    name: str
    tip_mm: float
    length_mm: float
    sheath_mm: float
    pieces_mm: list[float]
    couplings: int


@dataclass(frozen=True, kw_only=True)
class RelayState:
    """What the relays do."""

    fill: bool
    cutout: bool
    pump: bool
    booster: bool


@dataclass(frozen=True, kw_only=True)
class Band:
    """A band of levels, and what holds in it while the level rises and while it falls."""

    from_mm: float
    to_mm: float
    wet: list[str]
    rising: RelayState
    falling: RelayState
    filling: RelayState = told("After a fill relay that was energised")
    resting: RelayState = told("After one that was not")


@dataclass(frozen=True, kw_only=True)
class RodSet:
    """Rods and their relays."""

    rods: list[Rod]
    spacer_mm: float
    engaged_mm: float = told("How far each rod goes into its coupling")
    pump_on: str
    booster_on: str
    terminals: list[str]
    bands: list[Band]
    judgements: list[tanks.Judgement]


@dataclass(frozen=True, kw_only=True)
class DrawnGauge:
    """A kept gauge in the long section: heights above the lowest inside point; foot null for what does not hang."""

    mount: str
    x_mm: float
    face_mm: float
    floor_mm: float
    foot_mm: float | None
    blanking_mm: float


@dataclass(frozen=True, kw_only=True)
class GaugeReading:
    """A gauge's plan as it was understood."""

    fields_read: list[FormField]
    situation: Situation
    verdicts: list[Verdict]
    chosen: Verdict | None
    output: str
    drawn: DrawnGauge | None
    beam_reach_mm: float = told("Half the beam's width at the floor; 0 without a beam")
    plan: PlanView | None
    obstacles: list[Obstacle]
    pad_tilt_deg: float
    placement: list[tanks.Judgement]
    probe: Probe | None
    cable: Cable | None
    rods: RodSet | None


@dataclass(frozen=True)
class Tilt:
    """The error of a level sensor over a tilting tank's plan; null beside the tank."""

    fields_read: list[FormField]
    pitch_deg: float
    roll_deg: float
    fills_pct: list[float]
    x_mm: list[float]
    y_mm: list[float]
    worst_l: list[list[float | None]]
    best_mm: list[float]
    best_l: float
    middle_l: float
    along_l: float
    across_l: float
    along_off_mm: float
    across_off_mm: float


@dataclass(frozen=True)
class Technology:
    """A way of measuring."""

    key: str
    name: str
    mount: str
    senses: str
    works: str
    caution: str


@dataclass(frozen=True)
class GaugeWords:
    """The words that the gauges' screens are built from."""

    technologies: list[Technology]
    verdicts: dict[str, str]
    zones: dict[str, str]
    amounts: dict[str, str]
    walls: dict[str, str]
    obstacles: dict[str, str]
    schools: dict[str, str]
    rods: dict[str, str]
    contacts: dict[str, str]
    outputs: list[str]
    materials: dict[str, str]


@dataclass(frozen=True)
class LibraryEntry:
    """A gauge model of the library; ``id`` is null for a generic one."""

    key: str
    id: int | None
    revision: int | None
    document: dict[str, Any]


@dataclass(frozen=True)
class ImportedModels:
    """What an import did."""

    added: int
    changed: int


@dataclass(frozen=True)
class WetEnd:
    """One wet end."""

    end: Literal["full", "empty"]
    label: str
    spread: float | None
    still: bool
    counts: float | None


@dataclass(frozen=True)
class WetEnds:
    """The wet ends of a probe."""

    fields_read: list[FormField]
    ends: list[WetEnd]
    limit: float
    ready: bool
    judgements: list[tanks.Judgement]
