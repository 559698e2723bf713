"""The steps of one visit: those whose facts hold, each with what must come before it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..quantities.errors import InputError
from .facts import Facts, clash, holds, settle
from .step import Gate, Step, gates, standard_steps

#: The phases that are over before the next begins.
PHASES_FIRST = ("plan", "arrive")


@dataclass(frozen=True)
class Procedure:
    """The steps of one visit.

    Parameters
    ----------
    facts : mapping of str to str
        What it was composed from.
    steps : tuple of Step
        In an order that breaks no condition.
    before : mapping of str to frozenset of str
        The steps that must be over before each, by their keys.
    gates : mapping of str to Gate
        The gates that apply.
    """

    facts: Facts
    steps: tuple[Step, ...]
    before: Mapping[str, frozenset[str]]
    gates: Mapping[str, Gate]

    def step(self, key: str) -> Step:
        """Return a step by its key.

        Raises
        ------
        InputError
            If this visit has no such step.
        """
        for step in self.steps:
            if step.key == key:
                return step
        raise InputError.at("step", f"this visit has no step {key}")

    def needs_of(self, step: Step) -> tuple[Gate, ...]:
        """The gates that must hold before a step, of those that apply."""
        return tuple(self.gates[key] for key in step.needs if key in self.gates)


def compose(facts: Facts, steps: Sequence[Step] | None = None) -> Procedure:
    """Compose the steps of a visit.

    Parameters
    ----------
    facts : mapping of str to str
        Settled ones (`facts.settle`).
    steps : sequence of Step, optional
        All that there are; Rasante's own where none are given.

    Raises
    ------
    InputError
        If conditions go in a circle, or a gate that is needed is given by no step: the data is wrong then.
    """
    chosen = [step for step in (standard_steps() if steps is None else steps) if holds(step.when, facts)]
    applying = {key: gate for key, gate in gates().items() if holds(gate.when, facts)}
    before = _before(chosen, applying)
    return Procedure(facts, _ordered(chosen, before), before, applying)


def _before(chosen: Sequence[Step], applying: Mapping[str, Gate]) -> dict[str, frozenset[str]]:
    keys = {step.key for step in chosen}
    before = {step.key: set(step.after) & keys for step in chosen}
    for step in chosen:
        for gate in (key for key in step.needs if key in applying):
            givers = {one.key for one in chosen if gate in one.gives}
            if not givers:
                raise InputError.at(step.key, f"nothing in this visit gives the gate {gate}")
            before[step.key] |= givers - {step.key}
        for gate in step.takes:
            # What needs a gate comes before it is taken back.
            before[step.key] |= {
                one.key for one in chosen if gate in one.needs and one.key != step.key and not one.last
            }
        if step.last:
            before[step.key] |= keys - {step.key}
        # What belongs before driving, and on arrival, comes before the work.
        for phase in PHASES_FIRST[: PHASES_FIRST.index(step.phase) if step.phase in PHASES_FIRST else None]:
            before[step.key] |= {one.key for one in chosen if one.phase == phase}
    return {key: frozenset(first) for key, first in before.items()}


def _ordered(chosen: Sequence[Step], before: Mapping[str, frozenset[str]]) -> tuple[Step, ...]:
    """Keep the order of the data, but each after what must come before it."""
    left, done, order = list(chosen), set[str](), list[Step]()
    while left:
        ready = next((step for step in left if before[step.key] <= done), None)
        if ready is None:
            raise InputError.at(left[0].key, f"these steps wait for one another: {', '.join(s.key for s in left)}")
        left.remove(ready)
        done.add(ready.key)
        order.append(ready)
    return tuple(order)


def matters(chosen: Facts, data: Mapping[str, Any], hazards: Facts) -> list[str]:
    """Tell which facts change anything at a visit, the others being as they are.

    Parameters
    ----------
    chosen : mapping of str to str
        Facts as chosen, not settled.
    data : mapping
        ``procedures.json``.
    hazards : mapping of str to str
        The product's.

    Returns
    -------
    list of str
        The facts of the data by which steps come or go, or that do not go with the others as they are.
    """
    options = {key: row["options"] for key, row in data["facts"].items()}
    now = settle({**chosen, **hazards})
    against = {key for key, _ in clash(now)}
    found = []
    for key, words in options.items():
        others = [settle({**chosen, **hazards, key: value}) for value in words if value != chosen[key]]
        here = _keys(now)
        if key in against or any(_keys(other) != here for other in others if not clash(other)):
            found.append(key)
    return found


def _keys(facts: Facts) -> frozenset[str]:
    return frozenset(step.key for step in standard_steps() if holds(step.when, facts))


def kit_of(procedure: Procedure, extra: Sequence[str] = ()) -> list[tuple[str, int]]:
    """Return what to bring: every tool once, every part as often as it is used up, in the order of the steps.

    Parameters
    ----------
    procedure : Procedure
        The visit's steps.
    extra : sequence of str
        What the tank's own gauge and wiring ask for beside it.
    """
    counts: dict[str, int] = {}
    for step in procedure.steps:
        for name in step.kit:
            counts.setdefault(name, 1)
        for name, count in step.parts:
            counts[name] = counts.get(name, 0) + count
    known = {name.casefold() for name in counts}
    return [*counts.items(), *((name, 1) for name in dict.fromkeys(extra) if name.casefold() not in known)]
