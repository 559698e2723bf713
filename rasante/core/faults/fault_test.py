"""What can be done next, as data: every test with where it is done, how long it takes, and what it reads."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from typing import Any

from .fault import LOOKS
from .installation import Installation
from .loops import can_be_met


@dataclass(frozen=True)
class Place:
    """Where a test is done, or how things are set up for it: its words, how long that takes [min], what it does."""

    key: str
    says: str
    minutes: float
    does: tuple[str, ...] = ()


@dataclass(frozen=True)
class Act:
    """Something that a test does to the loop, the vessel or a person: its words, and the gates that it asks for."""

    key: str
    says: str
    gates: tuple[str, ...]


@dataclass(frozen=True)
class FaultTest:
    """One test.

    Parameters
    ----------
    key, do : str
        Its own key, and what to do in words.
    place, rig : str
        Where it is done, and how things must be set up: keys of `places` and `rigs`.
    minutes : float
        What it takes by itself [min].
    kit : tuple of str
        What it takes in the hand.
    does : tuple of str
        What it does beside what follows from its place, its rig and what it reads, of `acts`.
    isolates : tuple of str
        What it tells a sensor from for good, of `sensor_rivals`.
    reads : mapping
        What it reads: ``station`` (of the chain; ``reader`` is the counts, or the panel meter), ``alone`` (the sensor
        from a place), ``volts`` or ``ohms`` across two points, or a ``sign`` with what it may be.
    share : float
        How good its reading is, by the station's span [1].
    when, unless : tuple of str
        What an installation must have, and must not.
    school : str
        Whose first test it is: ``sensor`` or ``input``.
    """

    key: str
    do: str
    place: str
    rig: str
    minutes: float
    kit: tuple[str, ...]
    does: tuple[str, ...]
    reads: Mapping[str, Any]
    share: float
    when: tuple[str, ...]
    unless: tuple[str, ...]
    school: str
    isolates: tuple[str, ...] = ()

    @property
    def outcomes(self) -> tuple[str, ...]:
        """What it may find, of a test that reads a sign; empty where it reads a number."""
        if "sign" not in self.reads:
            return ()
        return tuple(LOOKS) if self.reads["sign"] == "look" else tuple(self.reads["of"])

    @property
    def acts(self) -> tuple[str, ...]:
        """What it does to the loop, the vessel or a person, of `acts`: by its place, its rig and what it reads."""
        follows = [(key, act) for key, act in _FOLLOWS.items() if key in self.reads]
        every = [*places()[self.place].does, *rigs()[self.rig].does, *self.does, *(act for _, act in follows)]
        return tuple(key for key in acts() if key in every)

    @property
    def gates(self) -> tuple[str, ...]:
        """What must be so before it, of `gates`: all that its acts ask for."""
        asked = {gate for act in self.acts for gate in acts()[act].gates}
        return tuple(key for key in gates() if key in asked)

    @property
    def injects(self) -> bool:
        """Whether a signal is put in, of which the finding says how much it was."""
        return "inject" in self.reads or "simulate" in self.reads

    def with_input(self, value: float | None) -> FaultTest:
        """The same test with a signal put in [A or V], as it was typed; without one as it is written."""
        return self if value is None else replace(self, reads={**self.reads, "put_in": value})


#: What follows from how a test reads.
_FOLLOWS = {
    "volts": "touches-live",
    "ohms": "tests-resistance",
    "alone": "touches-live",
    "inject": "touches-live",
    "simulate": "touches-live",
    "held": "moves-sensor",
}


@cache
def _data() -> Any:
    return json.loads(resources.files(__package__).joinpath("fault_tests.json").read_text(encoding="utf-8"))


@cache
def places() -> dict[str, Place]:
    """Everywhere that tests are done."""
    return _places("places")


@cache
def rigs() -> dict[str, Place]:
    """How things may be set up for tests, with the time that it takes [min]."""
    return _places("rigs")


def _places(name: str) -> dict[str, Place]:
    rows = _data()[name].items()
    return {key: Place(key, one["says"], one["minutes"], tuple(one.get("does", ()))) for key, one in rows}


@cache
def acts() -> dict[str, Act]:
    """Everything that a test may do to the loop, the vessel or a person."""
    return {key: Act(key, one["says"], tuple(one["gates"])) for key, one in _data()["acts"].items()}


@cache
def sensor_rivals() -> dict[str, tuple[str, ...]]:
    """What a good sensor is condemned for: groups of parts that it must be told from before it is named."""
    return {key: tuple(parts) for key, parts in _data()["groups"].items()}


@cache
def shared_accuracies() -> dict[str, float]:
    """What an instrument is off by at all its readings, as a standard deviation by its span; common practice."""
    return {key: float(one["share"]) for key, one in _data()["shared"].items()}


@cache
def gates() -> dict[str, str]:
    """What must be so before some tests, in words."""
    return dict(_data()["gates"])


@cache
def fault_tests() -> dict[str, FaultTest]:
    """Every test, by its key."""
    return {
        one["key"]: FaultTest(
            key=one["key"],
            do=one["do"],
            place=one["place"],
            rig=one.get("rig", ""),
            minutes=one["minutes"],
            kit=tuple(one.get("kit", ())),
            does=tuple(one.get("does", ())),
            reads=one["reads"],
            share=one.get("share", 0.004),
            when=tuple(one.get("when", ())),
            unless=tuple(one.get("unless", ())),
            school=one.get("school", ""),
            isolates=tuple(one.get("isolates_sensor_from", ())),
        )
        for one in _data()["tests"]
    }


def tests_of(at: Installation) -> list[FaultTest]:
    """The tests that can be done at an installation."""
    return [one for one in fault_tests().values() if at.fits(one.when, one.unless) and _readable(at, one)]


def test_between(key: str) -> FaultTest:
    """The test of two terminals that no test of the list names: ``volts|red|black`` or ``ohms|red|black``."""
    dial, red, black = key.split("|")
    words = "Volts" if dial == "volts" else "Ohms, power off,"
    reads: dict[str, Any] = {dial: [red, black]}
    rig = "off" if dial == "ohms" else ""
    return FaultTest(
        key, f"{words} from {red} to {black}", "panel", rig, 2.0, ("meter",), (), reads, 0.004, (), (), ""
    )


def _readable(at: Installation, test: FaultTest) -> bool:
    """Whether its chain has the station, and its circuit the points: somebody may have moved a wire."""
    station = test.reads.get("station")
    if station not in (None, "reader", *at.sound.stations):
        return False
    pair = test.reads.get("volts") or test.reads.get("ohms")
    return pair is None or (at.wired is not None and can_be_met(at.wired, pair, test.reads.get("far", "")))


def test_schema() -> dict[str, Any]:
    """Return the JSON Schema of the file of tests."""
    words, number = {"type": "string", "minLength": 1}, {"type": "number", "minimum": 0}
    row, known = {"type": "array", "items": words}, list(_data()["acts"])
    named = {
        "type": "object",
        "additionalProperties": {
            "type": "object",
            "additionalProperties": False,
            "required": ["says", "minutes"],
            "properties": {"says": words, "minutes": number, "does": {"type": "array", "items": {"enum": known}}},
        },
    }
    act = {
        "type": "object",
        "additionalProperties": False,
        "required": ["says", "gates"],
        "properties": {
            "says": words,
            "gates": {"type": "array", "minItems": 1, "items": {"enum": list(_data()["gates"])}},
        },
    }
    shared = {
        "type": "object",
        "additionalProperties": False,
        "required": ["says", "share"],
        "properties": {"says": words, "share": {"type": "number", "exclusiveMinimum": 0, "maximum": 0.5}},
    }
    test = {
        "type": "object",
        "additionalProperties": False,
        "required": ["key", "do", "place", "minutes", "reads"],
        "properties": {
            "key": {"type": "string", "pattern": "^[a-z0-9-]+$"},
            "do": words,
            "place": {"enum": list(_data()["places"])},
            "rig": {"enum": list(_data()["rigs"])},
            "minutes": {"type": "number", "exclusiveMinimum": 0},
            "kit": row,
            "does": {"type": "array", "items": {"enum": known}},
            "isolates_sensor_from": {"type": "array", "items": {"enum": list(_data()["groups"])}},
            "share": {"type": "number", "exclusiveMinimum": 0, "maximum": 0.2},
            "when": row,
            "unless": row,
            "school": {"enum": ["sensor", "input"]},
            "reads": {
                "type": "object",
                "additionalProperties": False,
                "minProperties": 1,
                "properties": {
                    "station": words,
                    "spare": {"const": True},
                    "direct": {"const": True},
                    "fresh": {"const": True},
                    "held": {"type": "number", "minimum": 0, "maximum": 1},
                    "alone": {"enum": ["panel", "box", "sensor"]},
                    "without": words,
                    "inject": {"anyOf": [{"const": "same"}, {"type": "number", "minimum": 0, "maximum": 1}]},
                    "simulate": {"type": "number", "minimum": 0, "maximum": 1},
                    "volts": {**row, "minItems": 2, "maxItems": 2},
                    "ohms": {**row, "minItems": 2, "maxItems": 2},
                    "apart": {"const": True},
                    "far": {"enum": ["free", "joined", "box"]},
                    "from": {"enum": ["box", "beyond"]},
                    "sign": words,
                    "of": {**row, "minItems": 2},
                },
            },
        },
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Tests that find a fault",
        "type": "object",
        "additionalProperties": False,
        "required": ["places", "rigs", "gates", "acts", "groups", "shared", "tests"],
        "properties": {
            "places": named,
            "rigs": named,
            "gates": {"type": "object", "additionalProperties": words},
            "acts": {"type": "object", "additionalProperties": act},
            "groups": {"type": "object", "additionalProperties": row},
            "shared": {"type": "object", "additionalProperties": shared},
            "tests": {"type": "array", "minItems": 1, "items": test},
        },
    }
