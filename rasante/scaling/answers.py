"""What the API answers of lines, chains, slopes, partings and marks. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from rest_framework import serializers

from ..answer import column, column_or_none, given, one_of, told
from ..core.quantities.arrays import Array
from ..core.quantities.form import FormField
from ..core.scaling.chain import STATIONS
from ..core.scaling.marks import KINDS, MARKS
from ..tanks import answers as tanks

HOPS = [station for station in STATIONS if station != "level"]


@dataclass(frozen=True, kw_only=True)
class StationText:
    """A station of the chain, and what it reads."""

    key: str = one_of(HOPS)
    label: str
    text: str


@dataclass(frozen=True, kw_only=True)
class Line:
    """All that reads at one level."""

    innage_mm: float
    ullage_mm: float
    volume_l: float
    u95_l: float | None
    volume_pct: float
    linear_pct: float
    surface_m2: float
    stations: list[StationText]


@dataclass(frozen=True, kw_only=True)
class StationCurve:
    """A station's values at the nodes, in its own unit."""

    key: str = one_of(HOPS)
    label: str
    unit: str
    decimals: int
    values: Array = column()


@dataclass(frozen=True)
class SignalMark:
    """A value of the signal, and the level that it stands for, in the tank or outside it."""

    text: str
    innage_mm: float


@dataclass(frozen=True, kw_only=True)
class Curve:
    """Nodes for cubic Hermite interpolation of the volume; the rest is straight between them."""

    innage_mm: Array = column()
    volume_l: Array = column()
    slope_l_per_mm: Array = column()
    u95_l: Array | None = column_or_none()
    stations: list[StationCurve]
    signal_marks: list[SignalMark]
    inside_height_mm: float
    reference_height_mm: float
    capacity_l: float


@dataclass(frozen=True)
class Slope:
    """One school's line; standard errors and the correlation are of a fit alone."""

    school: str
    label: str
    zero_mm: float
    full_mm: float
    per_unit_mm: float
    residuals_mm: list[float]
    worst_mm: float
    zero_se_mm: float | None
    per_unit_se_mm: float | None
    r: float | None
    says: str


@dataclass(frozen=True, kw_only=True)
class Slopes:
    """A sensor's slope by every school; a reading is its signal and its level in millimetres."""

    fields_read: list[FormField]
    signal: str
    signals: dict[str, str]
    schools: dict[str, str]
    zero: float
    full: float
    readings: list[list[float]]
    outlier: int | None
    slopes: list[Slope]
    judgements: list[tanks.Judgement]


@dataclass(frozen=True, kw_only=True)
class Setting:
    """A setting of a chain: where it is typed, and what is taken where nothing is."""

    path: str
    hop: str = one_of(HOPS)
    label: str
    kind: str
    options: dict[str, str]
    usual: str
    follows: bool = told("Whether it follows from the others where nothing is typed")


@dataclass(frozen=True, kw_only=True)
class HopName:
    """A hop by the station that it leads to, and its name."""

    key: str = one_of(HOPS)
    label: str


@dataclass(frozen=True, kw_only=True)
class ChainReading:
    """A chain as far as it has been typed."""

    fields_read: list[FormField]
    settings: list[Setting]
    hops: list[HopName] = told("By the stations they lead to, in order")
    table_number: int = told("The issued table that volumes come from; 0 for the survey")
    judgements: list[tanks.Judgement]


@dataclass(frozen=True, kw_only=True)
class FoundLevel:
    """A level."""

    innage_mm: float


@dataclass(frozen=True, kw_only=True)
class Stop:
    """A station of the chain at the line."""

    station: str = one_of(list(STATIONS))
    label: str
    hop: str
    text: str
    words: str
    step_mm: float | None
    step_l: float | None
    u95_mm: float
    u95_l: float


@dataclass(frozen=True)
class UnsurePart:
    """One thing that makes the answer unsure."""

    station: str
    name: str
    u95_mm: float


@dataclass(frozen=True)
class Trap:
    """What the screen has at a level, right, and with level and distance confused."""

    level_mm: float
    right_mm: float
    wrong_mm: float


@dataclass(frozen=True)
class Labelled:
    """A value with its name."""

    label: str
    text: str


@dataclass(frozen=True)
class MeterEnds:
    """What a panel meter shows at the signal's ends."""

    signal_low: str
    signal_high: str
    low: str
    high: str
    decimals: int
    error_mm: float
    falls: bool


@dataclass(frozen=True)
class ChainLine:
    """A chain at one level; null while something that is typed is wrong."""

    stops: list[Stop]
    parts: list[UnsurePart]
    u95_mm: float
    u95_l: float
    trap: list[Trap]
    fault: list[Labelled]
    beyond: list[Labelled]
    meter: MeterEnds | None
    meter_problem: str


@dataclass(frozen=True, kw_only=True)
class ChainAtLine:
    """The answer to a chain and a level."""

    line: ChainLine | None


@dataclass(frozen=True, kw_only=True)
class JudgedHop:
    """A hop, and what the readings say of it."""

    key: str = one_of(HOPS)
    label: str
    state: str = one_of(("agrees", "parts", "after", "unread"))
    accused: bool


@dataclass(frozen=True, kw_only=True)
class StationName:
    """A station of the chain, and its name."""

    key: str = one_of(list(STATIONS))
    label: str


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """Two neighbouring readings of a row."""

    row: int
    start: str = one_of(list(STATIONS))
    end: str = one_of(list(STATIONS))
    expected: str
    read: str
    off: float = told("In standard deviations")


@dataclass(frozen=True, kw_only=True)
class Explanation:
    """Settings that would explain the readings; several where no reading tells them apart."""

    texts: list[str]
    hops: Any = given(serializers.ListField(child=serializers.ChoiceField(HOPS)))
    off: float


@dataclass(frozen=True, kw_only=True)
class Telling:
    """The reading that would tell the first explanation from another."""

    other: int = told("Which explanation, counted from 0")
    station: str
    level: str
    first: str
    second: str


@dataclass(frozen=True, kw_only=True)
class Parting:
    """Where truth and reading part."""

    fields_read: list[FormField]
    stations: list[StationName]
    hops: list[JudgedHop]
    says: str
    stretches: list[Stretch]
    explanations: list[Explanation]
    telling: Telling | None


@dataclass(frozen=True, kw_only=True)
class BareStop:
    """One value of a line without a tank: what stands there, and whether it is the one that was taken."""

    key: str
    label: str
    text: str = told("Empty while no value is typed")
    words: str = told("Of a register: its words")
    taken: bool


@dataclass(frozen=True)
class Meaning:
    """What the value stands for if one thing that nobody typed is otherwise."""

    unless: str
    level: str


@dataclass(frozen=True, kw_only=True)
class BareLine:
    """A line without a tank, as far as it is typed."""

    fields_read: list[FormField]
    settings: list[Setting]
    height_mm: float
    level_mm: float | None
    stops: list[BareStop]
    signal_marks: list[SignalMark]
    says: str
    meanings: list[Meaning]
    judgements: list[tanks.Judgement]
    parting: Parting | None


@dataclass(frozen=True, kw_only=True)
class Mark:
    """One mark, where it stands by the table."""

    key: str = one_of(list(MARKS))
    label: str
    kind: str = one_of(list(KINDS))
    level_mm: float
    volume_l: float
    volume_pct: float
    signal: str
    shown: str


@dataclass(frozen=True, kw_only=True)
class Moved:
    """One mark, as kept and as derived anew from a table that was revised."""

    key: str
    label: str
    old: str
    new: str
    level_mm: float | None
    volume_l: float | None
    problem: str


@dataclass(frozen=True, kw_only=True)
class Marks:
    """Marks as far as they have been typed."""

    fields_read: list[FormField]
    names: dict[str, str]
    pumps: dict[str, str]
    marks: list[Mark]
    to_brim_min: float | None
    table_number: int = told("0 before a table is issued")
    moved: list[Moved]
    judgements: list[tanks.Judgement]
