"""What a step shows: figures with their working, and what is to be minded; and from what it is computed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from functools import cached_property
from typing import Any

from ..core.quantities.errors import InputError
from ..core.quantities.judgement import Judgement
from ..core.quantities.typed import read_number, read_quantity
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.scaling.chain import Chain
from ..scaling.chains import kept_chain
from ..tanks.models import Tank
from .course import Course


@dataclass(frozen=True)
class Line:
    """One figure that a step shows.

    Parameters
    ----------
    label, text : str
        Its name and its value, in the visit's units.
    formula, inputs, source : str, tuple of (str, str), str
        Its working: how it comes about, from what, and where a rule or constant is from.
    take : str
        The start of the name of the visit's field that it may be taken into; empty for none.
    """

    label: str
    text: str
    formula: str = ""
    inputs: tuple[tuple[str, str], ...] = ()
    source: str = ""
    take: str = ""


@dataclass
class Shown:
    """What a step shows.

    Parameters
    ----------
    lines : list of Line
        Figures.
    judgements : list of Judgement
        What is to be minded, the heaviest first; a stop holds the step up.
    station : str
        Where on the tank's page it is worked out; empty for nowhere.
    """

    lines: list[Line] = field(default_factory=list)
    judgements: list[Judgement] = field(default_factory=list)
    station: str = ""


@dataclass(frozen=True)
class Context:
    """What a step's answers are computed from: the visit as it stands, with what is being typed."""

    course: Course
    values: Mapping[str, str]
    system: System

    @property
    def tank(self) -> Tank:
        """The visit's tank."""
        return self.course.visit.tank

    @property
    def words(self) -> Words:
        """The visit's units."""
        return Words(self.system)

    @cached_property
    def chain(self) -> Chain | None:
        """The chain kept of the tank, or None."""
        return kept_chain(self.tank, self.system)

    def value(self, path: str) -> str:
        """What is typed in a field of the visit now, or was."""
        return self.values.get(f"visit:{path}", "") or self.course.value(path)

    def quantity(self, path: str, quantity: str) -> float | None:
        """The same, read; None where nothing is or it cannot be."""
        try:
            return read_quantity(self.value(path), quantity, self.system, path) if self.value(path) else None
        except InputError:
            return None

    def number(self, path: str) -> float | None:
        """The same as a plain number."""
        try:
            return read_number(self.value(path)) if self.value(path).strip() else None
        except InputError:
            return None

    def per_cent(self, path: str) -> float | None:
        """The same as a share [1]."""
        try:
            return read_number(self.value(path).strip().removesuffix("%")) / 100 if self.value(path).strip() else None
        except InputError:
            return None


def shown_document(shown: Shown, system: System) -> dict[str, Any]:
    """Write what a step showed, to be kept with what was entered at it."""
    w = Words(system)
    return {
        "figures": [{key: value for key, value in asdict(line).items() if key != "take"} for line in shown.lines],
        "minded": [{"weight": one.weight, "text": w.say(one)} for one in shown.judgements],
    }
