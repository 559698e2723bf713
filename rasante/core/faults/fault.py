"""What may be wrong, as data: every kind of fault with its edits, its prior, and the part or setting it blames."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np

from ..scaling.edits import Edit
from .installation import Installation
from .making import MAKERS

#: An installation counts as young below this age, and as old above that [years].
YOUNG, OLD = 0.5, 8.0
#: How many cases of its own an installation must have before they count as much as the trade's experience.
OWN_CASES = 20.0
#: What the trade's weights add up to, whatever installation they are taken for.
_TOTAL = 100.0


@dataclass(frozen=True)
class Repair:
    """What puts a fault right, how long that takes [min], and with what."""

    do: str
    minutes: float
    kit: tuple[str, ...]


@dataclass(frozen=True)
class FaultKind:
    """A kind of fault.

    Parameters
    ----------
    key, part, says : str
        Its own key, the part or setting that it blames (a key of `parts`), and its words.
    wrong : tuple of mapping
        What makes the wrong installation from the right one: see `MAKERS`.
    values : tuple of float
        What its value may be; one 0 where it has none. A share of a span, a factor, ohms or amperes, by its maker.
    smooth : bool
        Whether what lies between two of them may be as well.
    when : tuple of str
        What an installation must have, of `Installation.has`.
    each_conductor : bool
        Whether each conductor is a fault of its own.
    prior : float
        Its weight against the others; `old` and `young` and `by` (by technology) multiply it.
    why : str
        Why it is as likely as that: common practice, no published source.
    look : str
        What its readings look like over minutes.
    signs : mapping of str to str
        What is seen of it, by the sign.
    dips : bool
        Whether it is the dip that is off, by the value.
    repair : Repair
    """

    key: str
    part: str
    says: str
    wrong: tuple[Mapping[str, Any], ...]
    values: tuple[float, ...]
    smooth: bool
    when: tuple[str, ...]
    each_conductor: bool
    prior: float
    old: float
    young: float
    by: Mapping[str, float]
    why: str
    look: str
    signs: Mapping[str, str]
    dips: bool
    repair: Repair

    def weight(self, at: Installation) -> float:
        """How likely it is at an installation, against the others [1]."""
        found = self.prior * self.by.get(at.technology, 1.0)
        if at.age_years >= OLD:
            found *= self.old
        elif at.age_years < YOUNG:
            found *= self.young
        return found


@dataclass(frozen=True)
class Fault:
    """One fault, with its value: something that may be wrong with this very installation.

    Parameters
    ----------
    kind : FaultKind
    value : float
        Of `FaultKind.values`.
    conductor : str
        The sensor's terminal that the conductor leads to, of a fault that is one conductor's.
    edits : tuple of Edit
        What makes the wrong installation from the right one.
    """

    kind: FaultKind
    value: float
    conductor: str
    edits: tuple[Edit, ...]

    @property
    def says(self) -> str:
        """Its words, with the conductor where it is one's."""
        return f"{self.kind.says} ({self.conductor})" if self.conductor else self.kind.says


def fault_schema() -> dict[str, Any]:
    """Return the JSON Schema of the file of faults."""
    words, number = {"type": "string", "minLength": 1}, {"type": "number", "exclusiveMinimum": 0}
    value = {
        "oneOf": [
            {
                "type": "object",
                "additionalProperties": False,
                "required": ["from", "to", "count"],
                "properties": {
                    "from": {"type": "number"},
                    "to": {"type": "number"},
                    "count": {"type": "integer", "minimum": 2},
                    "log": {"type": "boolean"},
                    "near": {"type": "number"},
                    "least": number,
                },
            },
            {
                "type": "object",
                "additionalProperties": False,
                "required": ["choices"],
                "properties": {"choices": {"type": "array", "minItems": 1, "items": {"type": "number"}}},
            },
        ]
    }
    repair = {
        "type": "object",
        "additionalProperties": False,
        "required": ["do", "minutes", "kit"],
        "properties": {"do": words, "minutes": number, "kit": {"type": "array", "items": words}},
    }
    fault = {
        "type": "object",
        "additionalProperties": False,
        "required": ["key", "part", "says", "wrong", "prior", "why", "repair"],
        "properties": {
            "key": {"type": "string", "pattern": "^[a-z-]+$"},
            "part": {"enum": list(parts())},
            "says": words,
            "wrong": {
                "type": "array",
                "items": {"type": "object", "required": ["op"], "properties": {"op": {"enum": list(MAKERS)}}},
            },
            "value": value,
            "when": {"type": "array", "items": words},
            "each": {"const": "conductor"},
            "prior": number,
            "old": number,
            "young": number,
            "by": {"type": "object", "additionalProperties": number},
            "why": words,
            "look": {"enum": list(LOOKS)},
            "signs": {"type": "object", "additionalProperties": words},
            "dips": {"type": "boolean"},
            "repair": repair,
        },
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Faults that are looked for",
        "type": "object",
        "additionalProperties": False,
        "required": ["parts", "faults"],
        "properties": {
            "parts": {
                "type": "object",
                "additionalProperties": {
                    "type": "object",
                    "additionalProperties": False,
                    "required": ["says", "at", "hop"],
                    "properties": {
                        "says": words,
                        "at": {"type": "array", "items": words},
                        "hop": {"type": "string"},
                    },
                },
            },
            "faults": {"type": "array", "minItems": 1, "items": fault},
        },
    }


#: What readings look like over minutes.
LOOKS: dict[str, str] = {
    "live": "they move as a level does, or stand with their usual unrest",
    "frozen": "the very same value again and again",
    "noisy": "they jump wildly",
    "periodic": "they swing to and fro, evenly",
    "drifting": "they creep, or come late",
    "stale": "nothing new arrives",
}


@cache
def _data() -> Any:
    return json.loads(resources.files(__package__).joinpath("faults.json").read_text(encoding="utf-8"))


@dataclass(frozen=True)
class PartNamed:
    """A part or setting that can be replaced or put right: its words, what it is in the circuit, and its hop."""

    key: str
    says: str
    at: tuple[str, ...]
    hop: str


@cache
def parts() -> dict[str, PartNamed]:
    """Every part or setting that a fault may blame, by its key."""
    return {key: PartNamed(key, one["says"], tuple(one["at"]), one["hop"]) for key, one in _data()["parts"].items()}


def _values(told: Mapping[str, Any] | None) -> tuple[tuple[float, ...], bool]:
    if told is None:
        return (0.0,), False
    if "choices" in told:
        return tuple(float(x) for x in told["choices"]), False
    space = np.geomspace if told.get("log") else np.linspace
    every = space(told["from"], told["to"], told["count"])
    near = [float(x) for x in every if abs(x - told.get("near", 0.0)) >= told.get("least", 0.0) - 1e-12]
    return tuple(near), True


@cache
def fault_kinds() -> dict[str, FaultKind]:
    """Every kind of fault, by its key."""
    found = {}
    for one in _data()["faults"]:
        values, smooth = _values(one.get("value"))
        found[one["key"]] = FaultKind(
            key=one["key"],
            part=one["part"],
            says=one["says"],
            wrong=tuple(one["wrong"]),
            values=values,
            smooth=smooth,
            when=tuple(one.get("when", ())),
            each_conductor="each" in one,
            prior=one["prior"],
            old=one.get("old", 1.0),
            young=one.get("young", 1.0),
            by=one.get("by", {}),
            why=one["why"],
            look=one.get("look", ""),
            signs=one.get("signs", {}),
            dips=one.get("dips", False),
            repair=Repair(one["repair"]["do"], one["repair"]["minutes"], tuple(one["repair"]["kit"])),
        )
    return found


def priors(at: Installation) -> dict[str, float]:
    """How likely each kind of fault is at an installation; they add up to 1.

    Notes
    -----
    The trade's weights by technology and age, as if seen in `OWN_CASES` cases, and this installation's own closed
    cases beside them (the mean of a Dirichlet distribution).
    """
    weights = {key: kind.weight(at) for key, kind in fault_kinds().items() if at.fits(kind.when)}
    total = sum(weights.values())
    own = {key: count for key, count in at.closed if key in weights}
    whole = OWN_CASES + sum(own.values())
    return {key: (OWN_CASES * w / total + own.get(key, 0)) / whole for key, w in weights.items()}


def faults_of(at: Installation) -> list[Fault]:
    """Everything that may be wrong with an installation, the values of one kind after one another."""
    return [fault for kind in fault_kinds().values() if at.fits(kind.when) for fault in faults_of_kind(at, kind)]


def faults_of_kind(at: Installation, kind: FaultKind, values: tuple[float, ...] | None = None) -> list[Fault]:
    """One kind of fault at an installation, with each of its values, or with others."""
    found: list[Fault] = []
    terminals = at.wired.sensor.terminals if kind.each_conductor and at.wired is not None else ("",)
    for terminal in terminals:
        for value in values or kind.values:
            edits = _edits(at, kind, value, terminal)
            if edits is not None:
                found.append(Fault(kind, value, terminal, edits))
    return found


def _edits(at: Installation, kind: FaultKind, value: float, terminal: str) -> tuple[Edit, ...] | None:
    found: list[Edit] = []
    for told in kind.wrong:
        made = list(MAKERS[told["op"]](at, told, value, terminal))
        if not made:
            return None
        found += made
    return tuple(found)
