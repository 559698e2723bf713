"""What the API answers of wirings. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass

from ..answer import one_of, told
from ..core.wiring.circuit_drawing import Box
from ..tanks import answers as tanks


@dataclass(frozen=True, kw_only=True)
class EntityField:
    """A value of a certificate: its field, its symbol with the part, and what it is."""

    path: str
    label: str
    hint: str


@dataclass(frozen=True, kw_only=True)
class WiringWords:
    """The words that the wiring's screens are built from."""

    links: dict[str, str]
    input_modes: dict[str, str]
    voltages: list[str]
    shields: dict[str, str]
    settings: dict[str, str]
    outputs: dict[str, str] = told("What a sensor may send")
    entity: list[EntityField]
    pins: dict[str, str]
    most_runs: int


@dataclass(frozen=True)
class CircuitChoices:
    """The fields that a circuit is made from."""

    entries: dict[str, str]


@dataclass(frozen=True, kw_only=True)
class Spot:
    """A terminal as it is drawn."""

    point: str
    x: float
    y: float
    label: str
    side: str
    name: str


@dataclass(frozen=True, kw_only=True)
class WireLine:
    """A wire as it is drawn."""

    id: str
    number: int
    points: list[list[float]]
    mark: str
    planned: bool
    number_at: list[float] = told("Where its number stands")


@dataclass(frozen=True)
class WiringDrawing:
    """A wiring drawing."""

    width: float
    height: float
    boxes: list[Box]
    spots: list[Spot]
    lines: list[WireLine]


@dataclass(frozen=True)
class PlannedWire:
    """A wire with the ends that it should have."""

    id: str
    a: str
    b: str


@dataclass(frozen=True)
class CircuitPart:
    """A part of the circuit."""

    id: str
    kind: str
    name: str
    label: str


@dataclass(frozen=True)
class VoltsAt:
    """What a two-wire transmitter has at one current."""

    current_ma: float
    flows_ma: float
    volts: float
    margin_v: float


@dataclass(frozen=True)
class ShareOfVolts:
    """What one part takes."""

    name: str
    volts: float


@dataclass(frozen=True)
class CableFor:
    """How long the run may be in one wire size; null where it carries no loop at all."""

    name: str
    longest_m: float | None


@dataclass(frozen=True)
class LoopBudget:
    """A loop's budget."""

    at: list[VoltsAt]
    lift_off_v: float
    shares: list[ShareOfVolts]
    cables: list[CableFor]
    smallest: str | None
    run_m: float
    burden_margin_v: float
    most_v: float
    judgements: list[tanks.Judgement]


@dataclass(frozen=True)
class VoltageAt:
    """A three-wire link at one output; millimetres and litres as for a scale over the whole tank."""

    share: float
    meant_v: float
    read_v: float
    lift_v: float
    loading_v: float
    error_share: float
    error_mm: float
    error_l: float


@dataclass(frozen=True)
class VoltageLink:
    """A three-wire link."""

    at: list[VoltageAt]
    sensor_v: float
    lift_off_v: float
    judgements: list[tanks.Judgement]


@dataclass(frozen=True, kw_only=True)
class Received:
    """One line of the receiving check; ``agrees`` is null before it is typed."""

    key: str
    label: str
    ordered: str
    arrived: str
    agrees: bool | None
    says: str


@dataclass(frozen=True, kw_only=True)
class MeterReading:
    """What the meter shows, and what to mind."""

    shows: str
    says: str
    caution: bool
    current_ma: float = told("What the sensor meant to send")
    least_ma: float
    most_ma: float


@dataclass(frozen=True, kw_only=True)
class Finding:
    """What one pin is."""

    pin: str
    state: str = one_of(("joined", "open", "short", "doubtful", "unread"))
    conductors: list[str]
    says: str


@dataclass(frozen=True)
class RungOut:
    """A cable rung out."""

    findings: list[Finding]
    swapped: list[list[str]]
    unused: list[str]
