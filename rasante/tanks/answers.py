"""What the API answers of tanks and tables. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..answer import told
from ..core.products.cautions import Caution
from ..core.quantities.units import Unit
from ..core.tanks.helpers import Measured
from ..core.tanks.tolerances import Tolerance


@dataclass(frozen=True, kw_only=True)
class Judgement:
    """A judgement with its number."""

    weight: Literal["good", "watch", "stop"]
    code: str
    text: str
    value: float | None = told("What was judged, in SI")
    limit: float | None = told("What it was judged by, in SI")


@dataclass(frozen=True)
class Drawing:
    """The tank's sections, to be drawn to scale."""

    kind: str
    along_mm: list[list[float]]
    across_mm: list[list[float]]
    seams_mm: list[list[list[float]]]
    inside_height_mm: float
    reference_height_mm: float
    gauge_position_mm: float
    slope_mm_per_m: float
    upright: bool
    deadwood_mm: list[list[float]]


@dataclass(frozen=True)
class Limits:
    """Levels and volumes that bound a tank's use."""

    brim_level_mm: float
    brim_l: float
    safe_level_mm: float
    safe_l: float
    filling_level_mm: float | None
    filling_l: float | None
    outlet_level_mm: float | None
    unpumpable_l: float
    usable_l: float
    below_gauge_l: float
    above_gauge_l: float


@dataclass(frozen=True, kw_only=True)
class Facts:
    """What is true of a whole tank."""

    name: str
    product: str
    pattern: str
    capacity_l: float
    inside_height_mm: float
    limits: Limits
    drawing: Drawing
    cautions: list[Caution]


@dataclass(frozen=True, kw_only=True)
class Field:
    """A field as it was understood."""

    path: str
    state: Literal["empty", "read", "wrong"]
    value_mm: float | None
    kept: str
    problem: str
    says: str = told("What was understood, where it is no length")


@dataclass(frozen=True)
class Movement:
    """How far a solved dimension moves with one input; null where there is no answer at its ends."""

    label: str
    half_width: float
    unit: str
    moves_mm: float | None


@dataclass(frozen=True)
class Solution:
    """A dimension found from the capacity."""

    path: str
    label: str
    value_mm: float
    half_width_mm: float | None
    movements: list[Movement]


@dataclass(frozen=True, kw_only=True)
class Dip:
    """A dip by tape and paste, with what it stands for."""

    level_mm: float
    water_mm: float
    total_l: float
    water_l: float
    product_l: float


@dataclass(frozen=True, kw_only=True)
class SurveyReading:
    """A survey as it was understood; the facts are there once it can be drawn, named or not."""

    fields_read: list[Field]
    complete: bool
    facts: Facts | None
    solution: Solution | None
    dip: Dip | None
    tolerances: list[Tolerance]
    crossing_mm: list[float] | None = told("Where a traced section crosses itself, if it does")
    judgements: list[Judgement]
    port_positions_mm: list[float | None]


@dataclass(frozen=True, kw_only=True)
class Followed:
    """The profile of a tank, and how the tank stands to it."""

    id: int
    name: str
    revision: int = told("The revision that the tank took over")
    profile_revision: int = told("The revision that the profile is at")
    standing: Literal["same", "newer", "own"]


@dataclass(frozen=True)
class TankRow:
    """A tank in the list of all."""

    id: int
    site_name: str
    changed_at: datetime
    facts: Facts


@dataclass(frozen=True)
class Label:
    """The text of a label, or the tank file that one holds."""

    text: str


@dataclass(frozen=True)
class Dimension:
    """A number that a kind asks for."""

    key: str
    label: str
    hint: str
    optional: bool
    signed: bool
    quantity: str


@dataclass(frozen=True)
class Part:
    """A head or a section that a shape has, and the kinds it may be."""

    key: str
    label: str
    family: str
    kinds: list[str]
    optional: bool


@dataclass(frozen=True)
class Rows:
    """A list that a kind asks for."""

    key: str
    label: str
    columns: list[Dimension]
    fewest: int
    most: int


@dataclass(frozen=True)
class Choice:
    """One of a few words."""

    key: str
    label: str
    options: dict[str, str]


@dataclass(frozen=True)
class Kind:
    """A kind of shape, head or section."""

    kind: str
    label: str
    dimensions: list[Dimension]
    parts: list[Part]
    rows: list[Rows]
    choices: list[Choice]
    sloping: bool


@dataclass(frozen=True)
class Helper:
    """A way to work a dimension out."""

    key: str
    label: str
    fields_filled: list[str]
    measures: list[Measured]
    formula: str
    method: str


@dataclass(frozen=True, kw_only=True)
class Pattern:
    """A named head and what its fields are filled with."""

    label: str
    kind: str
    entries: dict[str, str]


@dataclass(frozen=True, kw_only=True)
class Words:
    """The words and units that the screens are built from."""

    shapes: list[Kind]
    heads: list[Kind]
    sections: list[Kind]
    helpers: list[Helper]
    methods: dict[str, str]
    dip_read: dict[str, str]
    patterns: list[Pattern]
    port_uses: dict[str, str]
    products: list[str]
    standing_caution: str
    units: list[Unit]
    bare_units: dict[str, dict[str, str]] = told(
        "The unit that a bare number of a quantity means, by system, where it is none of the units above"
    )
    systems: dict[str, dict[str, str]]


@dataclass(frozen=True, kw_only=True)
class WorstGauge:
    """Where a gauge that is linear in height is farthest off."""

    innage_mm: float
    difference_pct: float = told("What it shows less the true per cent: above 0 it reads high")


@dataclass(frozen=True, kw_only=True)
class Liquid:
    """A liquid as it was understood."""

    standard: str
    density: str
    density_in_tank: str
    temperature: str
    correction: float
    water_mm: float
    assumed: str


@dataclass(frozen=True, kw_only=True)
class Table:
    """A volume table by columns, every list with one entry a row."""

    step: str
    issued: int | None = told("The number it was issued under, if it was")
    innage_mm: list[float]
    volume_l: list[float]
    u95_l: list[float] | None
    ullage_mm: list[float]
    volume_pct: list[float]
    linear_pct: list[float]
    gap_pct: list[float] = told("What a linear float gauge shows less the true per cent")
    standard_l: list[float] | None
    mass_kg: list[float] | None
    worst_gauge: WorstGauge
    liquid: Liquid | None


@dataclass(frozen=True)
class Share:
    """What one dimension adds to the uncertainty."""

    label: str
    half_width: float
    unit: str
    stated: bool
    method: str
    share_pct: float


@dataclass(frozen=True)
class Budget:
    """The uncertainty at one level, and what would better it."""

    innage_mm: float
    u95_l: float | None
    shares: list[Share]
    unstated: list[str]
    better_half_width: float | None
    better_by: str
    better_u95_l: float | None


@dataclass(frozen=True)
class Contents:
    """What a tank holds at a level."""

    innage_mm: float
    gross_l: float
    water_l: float
    standard_l: float
    mass_kg: float
    liquid: Liquid


@dataclass(frozen=True)
class DevicePoints:
    """Points for a device, and the worst error of its lines."""

    level_mm: list[float]
    volume_l: list[float]
    error_l: float
    error_pct: float
    error_at_mm: float


@dataclass(frozen=True)
class Fitted:
    """Three ways of choosing a device's points."""

    even: DevicePoints
    on_curve: DevicePoints
    free: DevicePoints


@dataclass(frozen=True, kw_only=True)
class Comparison:
    """Two tables side by side: the second less the first."""

    first: str
    second: str
    innage_mm: list[float]
    first_l: list[float]
    second_l: list[float]
    difference_l: list[float]
    worst_level_mm: float
    worst_l: float
    worst_pct: float
    mean_l: float


@dataclass(frozen=True, kw_only=True)
class ProfileUser:
    """A tank that uses a profile."""

    id: int
    name: str
    site_name: str
    revision: int = told("The profile's revision that it took over")
    standing: Literal["same", "newer", "own"]


@dataclass(frozen=True)
class Applied:
    """A survey's fields with a profile's dimensions."""

    entries: dict[str, str]
