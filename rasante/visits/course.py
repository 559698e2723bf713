"""How a visit stands: what its entries add up to, which gates hold, what comes next, and when it will be over."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property, lru_cache
from typing import Any

from django.utils import timezone

from ..accounts.models import name_of
from ..core.procedures.compose import Procedure, compose, matters
from ..core.procedures.facts import check_facts, hazards_of, link_of_output
from ..core.procedures.step import Step, procedure_data, with_own
from ..core.procedures.timing import Schedule, learn, three_finishes
from ..core.quantities.errors import InputError
from ..gauges.services import gauge_of, output_of
from ..register.models import TankFacts
from ..tanks.models import Tank
from ..wiring.services import wiring_of
from .models import Entry, Visit, VisitRecord

#: What may be done at a step, with its words in a record.
DID = {"begin": "begun", "done": "done", "skip": "left out", "override": "overridden", "undo": "taken back"}
OVER = ("done", "skip", "override")


@dataclass
class Standing:
    """How one step stands.

    Parameters
    ----------
    step : Step
        The step.
    state : str
        ``open``, ``running`` (a wait that has begun), or one of `OVER`.
    values : dict
        What was typed, by where it was written.
    shown : dict
        What the stations said of it then.
    by, reason : str
        Who did it last, and why so.
    at, began, ends : datetime or None
        When it was over, begun, and when a wait is likely to be over.
    minutes : float or None
        What it took [min].
    """

    step: Step
    state: str = "open"
    values: dict[str, str] = field(default_factory=dict)
    shown: dict[str, Any] = field(default_factory=dict)
    by: str = ""
    reason: str = ""
    at: datetime | None = None
    began: datetime | None = None
    ends: datetime | None = None
    minutes: float | None = None

    @property
    def over(self) -> bool:
        """Whether it needs nobody any more."""
        return self.state in OVER


@dataclass(frozen=True)
class GateStanding:
    """Whether a gate holds: by which step, or by whose word."""

    key: str
    title: str
    hold: str
    holds: bool
    by: str
    reason: str


@dataclass(frozen=True)
class Course:
    """How a whole visit stands.

    Parameters
    ----------
    visit : Visit
        The visit.
    procedure : Procedure
        Its steps.
    steps : dict of str to Standing
        By their keys, in their order.
    gates : tuple of GateStanding
        Those that apply.
    at : datetime
        When.
    entered : int
        How many entries it has.
    """

    visit: Visit
    procedure: Procedure
    steps: dict[str, Standing]
    gates: tuple[GateStanding, ...]
    at: datetime
    entered: int

    @cached_property
    def finishes(self) -> tuple[Schedule, Schedule, Schedule]:
        """What is left, at its least, likely and most minutes."""
        running = {
            key: max((self.at - one.began).total_seconds() / 60, 0.0)
            for key, one in self.steps.items()
            if one.state == "running" and one.began is not None
        }
        over = [key for key, one in self.steps.items() if one.over]
        return three_finishes(self.procedure, over, running, learned_minutes(self.procedure.steps))

    def value(self, path: str) -> str:
        """What was typed into a field of the visit, at whichever step; empty before."""
        to = f"visit:{path}"
        return next((one.values[to] for one in self.steps.values() if one.over and to in one.values), "")

    def missing_gates(self, step: Step) -> list[GateStanding]:
        """The gates that must hold before a step and do not."""
        return [gate for gate in self.gates if gate.key in step.needs and not gate.holds]

    def open_before(self, step: Step) -> list[Step]:
        """The steps that a step itself names to come before it, and that are not over."""
        first = set(step.after)
        return [one.step for one in self.steps.values() if one.step.key in first and not one.over]


def procedure_of(visit: Visit) -> Procedure:
    """Compose the steps of a visit from its facts, with the shop's own as they were when it was opened.

    Notes
    -----
    The hazards are those of what the tank holds today; of a closed visit, or where today's product does not go with
    the facts any more, of what it held when the visit was opened.
    """
    then = str(visit.found.get("product", visit.tank.product))
    products = [visit.tank.product, then] if visit.state == Visit.OPEN else [then]
    typed = json.dumps([visit.facts, visit.own], sort_keys=True)
    for product in products[:-1]:
        try:
            return _composed(typed, product)
        except InputError:
            continue
    return _composed(typed, products[-1])


@lru_cache(maxsize=256)
def _composed(typed: str, product: str) -> Procedure:
    """The steps by facts and a shop's own steps, as JSON: each visit is asked for many times."""
    facts, own = json.loads(typed)
    return compose(check_facts(facts, procedure_data(), product), with_own(own))


def _fold(procedure: Procedure, entries: Sequence[Entry]) -> dict[str, Standing]:
    steps = {step.key: Standing(step) for step in procedure.steps}
    for entry in entries:
        # A step that fell away with its facts keeps its entries; they count again if it comes back.
        one = steps.get(entry.step)
        if one is None:
            continue
        if entry.did == "undo":
            steps[entry.step] = Standing(one.step)
        elif entry.did == "begin":
            one.state, one.began, one.by = "running", entry.at, name_of(entry.by)
            one.ends = entry.at + timedelta(minutes=one.step.minutes[1])
        else:
            began = one.began or entry.begun_at
            one.state, one.values, one.by, one.reason = entry.did, entry.values, name_of(entry.by), entry.reason
            one.at, one.began, one.shown = entry.at, began, entry.shown
            if began is not None and entry.did != "skip" and entry.at >= began:
                one.minutes = (entry.at - began).total_seconds() / 60
    return steps


def _gates(procedure: Procedure, steps: Mapping[str, Standing]) -> tuple[GateStanding, ...]:
    found = []
    for gate in procedure.gates.values():
        givers = [one for one in steps.values() if gate.key in one.step.gives]
        given = next((one for one in givers if one.state in ("done", "override")), None)
        taken = any(gate.key in one.step.takes and one.state in ("done", "override") for one in steps.values())
        reason = given.reason if given is not None and given.state == "override" else ""
        by = given.by if given is not None else ""
        found.append(GateStanding(gate.key, gate.title, gate.hold, given is not None and not taken, by, reason))
    return tuple(found)


#: How many earlier visits are looked at for what a step takes.
_EARLIER = 40


def learned_minutes(steps: Sequence[Step]) -> dict[str, tuple[float, float, float]]:
    """Return each step's minutes after what it took at earlier visits, signed ones alone."""
    taken: dict[str, list[float]] = {}
    for record in VisitRecord.objects.order_by("-pk").values_list("pk", "signed_at")[:_EARLIER]:
        for key, minutes in _taken(*record):
            taken.setdefault(key, []).append(minutes)
    return {step.key: learn(step.minutes, taken[step.key]) for step in steps if step.key in taken}


@lru_cache(maxsize=4 * _EARLIER)
def _taken(pk: int, signed_at: datetime) -> tuple[tuple[str, float], ...]:
    """What the steps of a signed visit took [min]: it never changes, and is read once."""
    document = VisitRecord.objects.values_list("document", flat=True).get(pk=pk, signed_at=signed_at)
    return tuple((row["key"], row["minutes"]) for row in document["steps"] if row.get("minutes"))


def course_of(visit: Visit, now: datetime | None = None) -> Course:
    """Tell how a visit stands."""
    procedure = procedure_of(visit)
    # Many entries are by few people: each of them is read once.
    entries = list(visit.entries.prefetch_related("by"))
    steps = _fold(procedure, entries)
    return Course(visit, procedure, steps, _gates(procedure, steps), now or timezone.now(), len(entries))


def proposed_facts(tank: Tank) -> dict[str, str]:
    """Propose the facts of a visit: those of the last one, else from what is kept of gauge, openings and wiring."""
    facts = _from_plans(tank)
    last = tank.visits.exclude(state=Visit.DROPPED).first()
    if last is None:
        return facts
    # What there is to do is another thing each time; how it is measured may have been planned anew since.
    again = {key: value for key, value in last.facts.items() if key in facts and key not in ("job", "method")}
    return facts | (again if last.facts.get("method") == facts["method"] else {})


def _from_plans(tank: Tank) -> dict[str, str]:
    gauge, wiring = gauge_of(tank), wiring_of(tank)
    hazards = hazards_of(tank.product)
    model = (gauge.document.get("model") if gauge is not None else None) or {}
    method = str(model.get("technology", "sonar" if hazards["pressurised"] == "yes" else "hydrostatic"))
    kind = str(wiring.document.get("kind", "")) if wiring is not None else ""
    link = "relay" if method == "rods" else link_of_output(output_of(tank), kind or "two_wire")
    sends = tank.channels.filter(on=True, source__kind__in=("push", "mqtt")).exists()
    if method == "sonar" and (sends or wiring is None):
        link = "radio"
    noted = TankFacts.objects.filter(tank=tank).first()
    theirs = hazards["pressurised"] == "yes" and noted is not None and noted.owner == "customer"
    uses = {use for port in tank.ports for use in port.get("uses", ())}
    port = next((use for use in ("spare", "vent", "fill") if use in uses), "spare")
    first = {key: next(iter(row["options"])) for key, row in procedure_data()["facts"].items()}
    return first | {
        "job": "check",
        "method": method,
        "vessel": "customer" if theirs else "storage",
        "port": "none" if method == "sonar" else port,
        "power": "battery" if link == "radio" else "mains" if method == "rods" else "loop",
        "link": link,
        "double_wall": "yes" if tank.entries.get("how.shape.diameter_mm") == "double_wall" else "no",
        "pumps": "yes" if link == "relay" else "no",
    }


@dataclass(frozen=True)
class Preview:
    """What a visit with some facts would be: which of them matter, what is against them, its steps and minutes."""

    matters: list[str]
    against: list[tuple[str, str]]
    steps: int
    finishes: tuple[Schedule, Schedule, Schedule] | None


def preview(tank: Tank, chosen: Mapping[str, str], own: list[dict[str, Any]]) -> Preview:
    """Tell what a visit would be before it is opened; of facts that are not known those proposed are taken."""
    data, known = procedure_data(), proposed_facts(tank)
    facts = known | {key: value for key, value in chosen.items() if key in known}
    which = matters(facts, data, hazards_of(tank.product))
    try:
        procedure = compose(check_facts(facts, data, tank.product), with_own(own))
    except InputError as error:
        return Preview(which, [(one.where, one.what) for one in error.problems], 0, None)
    finishes = three_finishes(procedure, [], {}, learned_minutes(procedure.steps))
    return Preview(which, [], len(procedure.steps), finishes)
