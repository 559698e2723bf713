"""What each step of a visit shows, by the names in its data: the stations' own answers, each with its working."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from ..core.procedures.step import Step
from ..core.quantities.judgement import by_weight
from ..core.quantities.units import System
from . import at_levels, from_plans, office
from .course import Course
from .shown import Context, Shown

SHOWN: dict[str, Callable[[Context], Shown]] = {
    "asset": from_plans.asset,
    "identity": from_plans.identity,
    "kit": from_plans.kit,
    "received": from_plans.received,
    "spot": from_plans.spot,
    "cut": from_plans.cut,
    "rods": from_plans.rods,
    "wiring": from_plans.wiring,
    "chain": from_plans.chain,
    "rescale": from_plans.rescale,
    "marks": from_plans.marks,
    "table": from_plans.table,
    "trouble": from_plans.trouble,
    "proof": from_plans.proof,
    "now": at_levels.now,
    "should": at_levels.should,
    "linear": at_levels.linear,
    "courses": at_levels.courses,
    "bench": at_levels.bench,
    "device": at_levels.device,
    "office": office.office,
}


def show_step(course: Course, step: Step, values: Mapping[str, str], system: System) -> Shown:
    """Compute what a step shows, with what is being typed at it."""
    context, shown = Context(course, values, system), Shown()
    for key in step.shows:
        found = SHOWN[key](context)
        shown.lines += found.lines
        shown.judgements += found.judgements
        shown.station = shown.station or found.station
    shown.judgements = by_weight(shown.judgements)
    return shown
