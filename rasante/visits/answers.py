"""What the API answers of visits. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..answer import one_of, told
from ..core.procedures.step import KINDS, QUANTITIES
from ..core.quantities.errors import Problem
from ..core.quantities.units import SYSTEMS
from ..tanks import answers as tanks
from .models import Visit as VisitModel


@dataclass(frozen=True)
class FactOption:
    """Something to choose."""

    key: str
    label: str


@dataclass(frozen=True)
class Fact:
    """A fact, and what it may be."""

    key: str
    title: str
    options: list[FactOption]


@dataclass(frozen=True, kw_only=True)
class ProposedVisit:
    """What a visit to a tank may be opened with."""

    jobs: list[FactOption]
    methods: list[FactOption]
    facts: list[Fact]
    proposed: dict[str, str]


@dataclass(frozen=True, kw_only=True)
class Preview:
    """What a visit would be."""

    matters: list[str] = told("Facts by which steps come or go")
    against: list[Problem]
    steps: int
    minutes: float | None
    in_a_row: float | None


@dataclass(frozen=True, kw_only=True)
class VisitInList:
    """A visit in a list."""

    id: int
    number: int
    tank: int
    tank_name: str
    site_name: str
    job: str
    state: str = one_of(VisitModel.STATES)
    planned_at: datetime | None
    opened_at: datetime
    opened_by: str
    changed_at: datetime


@dataclass(frozen=True, kw_only=True)
class StepField:
    """A field of a step."""

    to: str
    label: str
    quantity: str = one_of(QUANTITIES)
    optional: bool
    limit_words: str


@dataclass(frozen=True, kw_only=True)
class Photo:
    """A photograph."""

    id: int
    step: str
    width: int
    height: int
    note: str
    place: list[float] | None = told("Latitude, longitude [°]")
    at: datetime
    by: str


@dataclass(frozen=True, kw_only=True)
class Step:
    """A step as it stands."""

    key: str
    phase: str
    title: str
    instruction: str
    why: str
    hazard: str
    who: str
    kind: str = one_of(KINDS)
    minutes: list[float] = told("Least, likely, most")
    fields: list[StepField]
    options: list[FactOption]
    shows: bool
    needs: list[str] = told("Gates that do not hold yet")
    gives: list[str]
    before: list[str] = told("Steps that come first and are open")
    state: str = one_of(("open", "running", "done", "skip", "override"))
    by: str
    at: datetime | None
    began: datetime | None
    ends: datetime | None
    reason: str
    took: float | None = told("min")
    values: dict[str, str]
    photos: list[Photo]


@dataclass(frozen=True)
class Gate:
    """A gate."""

    title: str
    hold: str
    holds: bool
    by: str
    reason: str


@dataclass(frozen=True)
class PlannedStep:
    """When a step is likely to begin and end, from now [min]."""

    key: str
    begin: float
    end: float
    waits: bool


@dataclass(frozen=True, kw_only=True)
class Minutes:
    """How long is left [min]."""

    least: float
    likely: float
    most: float
    in_a_row: float
    critical: float


@dataclass(frozen=True, kw_only=True)
class Visit(VisitInList):
    """A visit as it stands."""

    facts: dict[str, str]
    system: str = one_of(SYSTEMS)
    revision: int
    entered: int = told("How many entries and photographs it has")
    steps: list[Step]
    gates: list[Gate]
    schedule: list[PlannedStep]
    minutes: Minutes
    record: bool = told("Whether it is signed")


@dataclass(frozen=True, kw_only=True)
class ReadField:
    """What was made of a field of a step."""

    to: str
    state: str = one_of(("empty", "read", "wrong"))
    says: str
    problem: str


@dataclass(frozen=True, kw_only=True)
class FigureInput:
    """A name and a value."""

    label: str
    text: str


@dataclass(frozen=True, kw_only=True)
class Figure(FigureInput):
    """A figure with its working."""

    formula: str
    inputs: list[FigureInput]
    source: str
    take: str = told("The start of the name of the field that it may be taken into")


@dataclass(frozen=True, kw_only=True)
class Shown:
    """What a step shows."""

    fields: list[ReadField]
    lines: list[Figure]
    judgements: list[tanks.Judgement]
    station: str = told("The station of the tank's page where it is worked out")


@dataclass(frozen=True)
class RecordedFigure:
    """A figure as it was signed."""

    label: str
    text: str
    formula: str
    inputs: list[list[str]]
    source: str


@dataclass(frozen=True)
class RecordedJudgement:
    """A judgement as it was signed."""

    weight: Literal["stop", "watch", "good"]
    text: str


@dataclass(frozen=True)
class RecordedValue:
    """A value as it was signed."""

    label: str
    text: str


@dataclass(frozen=True, kw_only=True)
class RecordedStep:
    """A step as it was signed."""

    key: str
    title: str
    state: str = one_of(("open", "running", "done", "skip", "override"))
    by: str
    at: str
    minutes: float | None
    planned_minutes: list[float]
    reason: str
    values: list[RecordedValue]
    figures: list[RecordedFigure]
    minded: list[RecordedJudgement]


@dataclass(frozen=True)
class RecordedGate:
    """What had to hold."""

    title: str
    by: str
    reason: str


@dataclass(frozen=True, kw_only=True)
class RecordedPaper:
    """A table, device sheet or proof that came about at the visit."""

    kind: str
    number: str
    says: str


@dataclass(frozen=True, kw_only=True)
class Recorded:
    """What a visit's record holds."""

    steps: list[RecordedStep]
    gates: list[RecordedGate]
    papers: list[RecordedPaper]
    office: list[str] = told("To read to the office")
    seen: str = told("Its digest, without who signs and when")


@dataclass(frozen=True, kw_only=True)
class SentMail:
    """A message that was written into a file."""

    to: str
    subject: str
    date: str
    text: str
    attached: list[str]


@dataclass(frozen=True, kw_only=True)
class CustomerLink:
    """A link for a customer."""

    id: int
    note: str
    live: bool
    openings: int
    opened_at: datetime | None
    expires_at: datetime
    withdrawn_at: datetime | None
    made_by: str
    path: str = told("What to send; only when it was just made")
