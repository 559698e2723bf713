"""What the API answers of trouble. Units stand in the names."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from ..answer import one_of, told
from ..core.quantities.form import FormField
from ..wiring import answers as wiring


@dataclass(frozen=True, kw_only=True)
class Suspect:
    """A part or setting, with how likely it is to be what is wrong."""

    part: str
    says: str
    share: float
    at: list[str] = told("Parts of the circuit that it is")
    hop: str = told("Station of the chain that it leads to")


@dataclass(frozen=True)
class TestGate:
    """What must be so before a test."""

    key: str
    says: str


@dataclass(frozen=True)
class TestGateTick:
    """A gate that was ticked before a finding: by whom and when, both empty where it was not."""

    says: str
    by: str
    at: str


@dataclass(frozen=True, kw_only=True)
class FaultChoice:
    """A test that may be done next."""

    test: str
    do: str
    place: str
    set_up: str
    minutes: float = told("From where one stands")
    bits: float = told("What it is expected to tell")
    worth: bool = told("Whether that is worth its way")
    gates: list[TestGate]
    acts: list[str] = told("What it does to the loop, the vessel or a person")
    kit: list[str]
    dial: str
    leads: list[str]
    put_in: str = told("What the calibrator is set to; empty where nothing is put in")
    outcomes: list[str]
    station: str = told("Of the chain, where it is read as it stands: a live value may be taken")


@dataclass(frozen=True)
class FaultMeaning:
    """One thing that the advised test may find."""

    share: float
    reads: str
    means: str


@dataclass(frozen=True)
class FaultTest:
    """A test that can be done at this installation."""

    key: str
    do: str
    place: str
    outcomes: list[str]
    gates: list[TestGate]
    injects: bool


@dataclass(frozen=True)
class FaultStep:
    """One finding, with what it ruled out."""

    row: int
    do: str
    read: str
    says: str
    doubtful: bool
    gates: list[str] = told("What had to be so before it and was not ticked")


@dataclass(frozen=True, kw_only=True)
class SeriesLook:
    """What some minutes of readings look like."""

    look: str
    says: str


@dataclass(frozen=True, kw_only=True)
class Along:
    """Something that was read along the chain and kept, as a finding of the case."""

    test: str
    label: str = told("The station that was read")
    typed: str
    says: str = told("The same with its unit")


@dataclass(frozen=True, kw_only=True)
class CaseReading:
    """A case of trouble as far as it has been typed."""

    fields_read: list[FormField]
    technologies: dict[str, str]
    places: dict[str, str]
    schools: dict[str, str]
    school_minutes: dict[str, int]
    kit: list[str]
    gates: dict[str, str]
    at: str
    verdict: str = one_of(("go-on", "found", "nothing-fits", "cannot-tell"))
    because: str = told("Why the first test goes before others that tell more by the minute")
    says: list[str] = told("The verdict in words, then what to do about it")
    parts: list[Suspect]
    fault_key: str
    why: str
    drawing: wiring.WiringDrawing | None
    choices: list[FaultChoice]
    means: list[FaultMeaning]
    tests: list[FaultTest]
    dial_gates: dict[str, list[TestGate]] = told("Of readings across any two terminals, by the dial")
    terminals: dict[str, str]
    stations: dict[str, str]
    faults: dict[str, str]
    steps: list[FaultStep]
    series: SeriesLook | None = told("Those that were pasted")
    live: SeriesLook | None = told("Those that arrive")
    along_at: datetime | None = told("When that was kept")
    along: list[Along] = told("What was read along the chain, and is no finding yet")
    minutes: float
    restore: bool = told("Whether control has to be restored")


@dataclass(frozen=True)
class FarBranch:
    """What the test after the next may find."""

    reads: str
    means: str


@dataclass(frozen=True)
class NearBranch(FarBranch):
    """What the next test may find, and what to do then."""

    verdict: str
    then: str
    minutes: float
    branches: Sequence[FarBranch]


@dataclass(frozen=True)
class Branch(NearBranch):
    """What the advised test may find, and what to do then."""

    branches: Sequence[NearBranch]


@dataclass(frozen=True)
class Ahead:
    """The next three tests, for whatever they find."""

    do: str
    branches: list[Branch]


@dataclass(frozen=True)
class Trail:
    """One finding of a closed case."""

    did: str
    read: str
    says: str
    gates: list[TestGateTick]


@dataclass(frozen=True)
class FaultCase:
    """A closed case."""

    id: int
    number: int
    closed_at: datetime
    closed_by: str
    was: str
    part: str
    did: str
    minutes: float
    trail: list[Trail]
