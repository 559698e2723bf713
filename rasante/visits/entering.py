"""What is entered at the steps of a visit: read, judged by the stations, written to the plans, kept for good."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from ..accounts.models import LEAD, role_of
from ..conflict import Conflict
from ..core.gauges.model import technologies
from ..core.procedures.step import Step, StepField
from ..core.quantities.errors import InputError, Problem
from ..core.quantities.judgement import stops
from ..core.quantities.typed import read_number, read_quantity, with_unit
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..gauges.services import gauge_of, keep_gauge, model_of
from ..gauges.wet_ends import keep_wet_ends, wet_ends_of
from ..readings.typed import add_typed
from ..register.services import fit_device
from ..tanks.models import Tank
from ..tanks.services import resurvey_tank
from ..wiring.services import keep_wiring, wiring_of
from .course import DID, Course, course_of
from .models import Entry, Visit
from .services import open_one
from .shown import Shown, shown_document
from .shows import show_step

#: The field that says which device it is, and that of a dip.
SERIAL, DIP = "visit:serial", "visit:dip"
#: How far ahead of the server a phone's clock may be [s].
_AHEAD_S = 300


def read_field(field: StepField, text: str, system: System) -> tuple[str, str]:
    """Read what was typed in a field of a visit.

    Returns
    -------
    (str, str)
        What is kept, its unit named; and why it is outside its limits, empty where it is not.

    Raises
    ------
    InputError
        If it cannot be read.
    """
    bare = text.strip()
    if field.quantity in ("text", "reading"):
        if len(bare) > 400:
            raise InputError.at(field.to, "must be at most 400 characters long")
        return bare, ""
    if field.quantity in ("count", "number", "percent", "angle"):
        unit = {"percent": "%", "angle": "°"}.get(field.quantity, "")
        value = read_number(bare.removesuffix(unit))
        if field.quantity == "count" and (value != int(value) or not 1 <= value <= 1000):
            raise InputError.at(field.to, "must be a whole number, from 1")
        if field.quantity == "percent" and not 0 <= value <= 100:
            raise InputError.at(field.to, "must be 0 to 100 %")
        kept = f"{bare.removesuffix(unit).strip()} {unit}".strip()
        # A tilt is as bad to the one side as to the other.
        value = abs(value) if field.quantity == "angle" else value
    else:
        value = read_quantity(bare, field.quantity, system, field.to)
        kept = with_unit(bare, field.quantity, system)
    low, high = field.least, field.most
    outside = (low is not None and value < low - 1e-9) or (high is not None and value > high + 1e-9)
    return kept, (field.limit_words or "outside its limits") if outside else ""


def check_values(
    step: Step, values: Mapping[str, str], system: System
) -> tuple[dict[str, str], list[Problem], list[Problem]]:
    """Read what is typed at a step.

    Returns
    -------
    (dict, list of Problem, list of Problem)
        What is kept; what cannot be read or is missing; and what is outside its limits.
    """
    kept, wrong, outside = {}, [], []
    known = {field.to for field in step.fields}
    wrong += [
        Problem(to, "is not asked for at this step") for to in values if to not in known and to != "visit:choice"
    ]
    for field in step.fields:
        text = values.get(field.to, "")
        if not text.strip():
            if not field.optional:
                wrong.append(Problem(field.to, f"{field.label} is still to be noted"))
            continue
        try:
            kept[field.to], limit = read_field(field, text, system)
        except InputError as error:
            wrong.append(Problem(field.to, error.problems[0].what))
            continue
        if limit:
            outside.append(Problem(field.to, f"outside {limit}"))
    if step.kind == "choose":
        choice = values.get("visit:choice", "")
        if choice in (step.options or {}):
            kept["visit:choice"] = choice
        else:
            wrong.append(Problem("visit:choice", f"choose one of {', '.join(step.options or {})}"))
    return kept, wrong, outside


def _write_plans(course: Course, step: Step, kept: dict[str, str], person: User) -> None:
    """Write what was measured into the tank's plans, with the visit as its source."""
    tank, system = course.visit.tank, course.visit.system
    reason = f"visit {course.visit.number}: {step.title}"[:100]
    for target, plan_of, keep in (
        ("gauge", gauge_of, keep_gauge),
        ("wiring", wiring_of, keep_wiring),
        ("wet_ends", wet_ends_of, keep_wet_ends),
    ):
        typed = {field.path: kept[field.to] for field in step.fields if field.target == target and field.to in kept}
        if not typed:
            continue
        plan = plan_of(tank)
        entries = {**(plan.entries if plan is not None else {}), **typed}
        try:
            written = keep(tank, entries, system, person, plan.revision if plan is not None else 0)
        except InputError as error:
            raise (
                error.under(target)
                if any(p.where not in typed for p in error.problems)
                else InputError(*(Problem(f"{target}:{p.where}", p.what) for p in error.problems))
            ) from None
        latest = written.history.first()
        latest.history_change_reason = reason
        latest.save(update_fields=["history_change_reason"])


def _write_survey(course: Course, step: Step, kept: Mapping[str, str], person: User) -> None:
    """Write what was measured of the tank itself into its survey, as a new revision where it differs."""
    typed = {field.path: kept[field.to] for field in step.fields if field.target == "survey" and field.to in kept}
    if not typed:
        return
    visit = course.visit
    tank = Tank.objects.select_related("site", "profile").get(pk=visit.tank_id)
    facts = {"notes": tank.notes, "ports": tank.ports}
    entries = {**tank.entries, **typed}
    try:
        tank = resurvey_tank(tank, entries, visit.system, person, facts, tank.revision, tank.profile)
    except InputError as error:
        raise InputError(*(Problem(f"survey:{one.where}", one.what) for one in error.problems)) from None
    visit.tank = tank


def _write_dip(course: Course, kept: Mapping[str, str], at: datetime, person: User) -> None:
    """Put a dip among the tank's readings, where Watch and the line find it."""
    if DIP not in kept:
        return
    visit = course.visit
    try:
        add_typed(visit.tank, "level", kept[DIP], at.isoformat(), visit.system, person)
    except InputError as error:
        wrong = [Problem(DIP, one.what) for one in error.problems if one.where == "text"]
        # One of this very moment is there already, or it is older than readings are kept: it stands at the visit.
        if wrong:
            raise InputError(*wrong) from None


def refuse_over_gates(course: Course, step: Step) -> None:
    """Refuse a step before what must hold first does."""
    missing = course.missing_gates(step)
    if missing:
        words = "; ".join(f"{gate.title} must hold first: {gate.hold}" for gate in missing)
        raise InputError.at("step", f"{words}. A lead may override with a reason")


def _refuse_stops(shown: Shown, outside: list[Problem], system: System) -> None:
    found = stops(shown.judgements)
    if outside or found:
        words = [Words(system).say(one) for one in found]
        over = " ".join([*words, "Change it, or have a lead override it with a reason."])
        raise InputError(*outside, Problem("step", over))


def _refuse_did(step: Step, did: str, reason: str, person: User) -> None:
    """Refuse what may not be done at a step, or not by this person."""
    if step.kind == "sign" and did != "undo":
        raise InputError.at("step", "a visit is signed with name and password")
    if did in ("skip", "override") and not reason.strip():
        raise InputError.at("reason", "say why")
    if did == "skip" and step.gives:
        raise InputError.at("step", "a gate is not left out: a lead may override it with a reason")
    if did == "override" and role_of(person) != LEAD:
        raise InputError.at("step", "only a lead overrides: ask one to sign in")
    if did == "begin" and not step.waits:
        raise InputError.at("did", "only a wait is begun by itself")


def _read(
    course: Course, step: Step, did: str, values: Mapping[str, str], system: System
) -> tuple[dict[str, str], list[Problem]]:
    """Read what was typed at a step; refuse what is missing or wrong, or done before its gates hold.

    Returns
    -------
    (dict, list of Problem)
        What is kept, and what of it is outside its limits.
    """
    visit = course.visit
    kept, wrong, outside = check_values(step, values, system)
    if wrong and (did == "done" or any(problem.where in values for problem in wrong)):
        raise InputError(*wrong)
    if did == "done":
        if step.kind == "photo" and not visit.photos.filter(step=step.key).exists():
            raise InputError.at("photo", "take a photograph first, or leave the step out and say why")
        refuse_over_gates(course, step)
    return kept, outside


@transaction.atomic
def enter(
    visit: Visit,
    uid: str,
    step_key: str,
    did: str,
    values: Mapping[str, str],
    reason: str,
    at: datetime,
    begun_at: datetime | None,
    system: System,
    person: User,
) -> Visit:
    """Enter what was done at a step.

    Parameters
    ----------
    visit : Visit
        An open one.
    uid : str
        The entry's own name, made where it was typed: sent twice, it is entered once.
    step_key, did : str
        Which step; one of `DID`.
    values : mapping of str to str
        What was typed, by where it is written.
    reason : str
        Why it was left out or overridden.
    at, begun_at : datetime
        When it was done and begun, by the clock where it was done.
    system : {"metric", "us"}
        What a bare number meant where it was typed.
    person : User
        Who did it.

    Raises
    ------
    InputError
        If a gate does not hold, something is missing, cannot be read or is outside its limits.
    Conflict
        If the visit is closed, or someone else has done the step meanwhile.
    """
    if visit.entries.filter(uid=uid).exists():
        return visit
    visit = open_one(visit)
    if did not in DID:
        raise InputError.at("did", f"must be one of {', '.join(DID)}")
    if at > timezone.now() + timedelta(seconds=_AHEAD_S):
        raise InputError.at("at", "lies ahead: set the clock of this device")
    course = course_of(visit)
    step = course.procedure.step(step_key)
    standing = course.steps[step_key]
    if standing.over and did != "undo":
        raise Conflict(f"{step.title}: {standing.by} has done it meanwhile; take it back first to do it again")
    _refuse_did(step, did, reason, person)
    kept: dict[str, str] = {}
    shown = Shown()
    if did == "begin":
        refuse_over_gates(course, step)
    if did in ("done", "override"):
        kept, outside = _read(course, step, did, values, system)
        # Written before it is judged: what the stations make of it is what it is judged by. A refusal undoes it all.
        _write_survey(course, step, kept, person)
        _write_plans(course, step, kept, person)
        _write_dip(course, kept, at, person)
        shown = show_step(course, step, kept, visit.system)
        if did == "done":
            _refuse_stops(shown, outside, visit.system)
        _fit_device(visit, kept, at, person)
    Entry(
        visit=visit, uid=uid, step=step_key, did=did, values=kept, reason=reason.strip(), at=at, begun_at=begun_at,
        shown=shown_document(shown, visit.system), by=person,
    ).save()  # fmt: skip
    return visit


def _fit_device(visit: Visit, kept: Mapping[str, str], at: datetime, person: User) -> None:
    """Fit the device whose serial was noted on the visit's tank; one that is new comes into the register."""
    if SERIAL not in kept:
        return
    model = model_of(visit.tank)
    # Without a part on the label it is called by what it is: nobody is held up by a name.
    usual = model.name if model is not None else technologies()[visit.facts["method"]].name
    part = kept.get("visit:part", "") or usual
    why = f"visit {visit.number}"
    try:
        fit_device(visit.tank, kept[SERIAL], part, kept.get("visit:address", ""), why, person, at)
    except InputError as error:
        raise InputError(*(Problem(f"visit:{one.where}", one.what) for one in error.problems)) from None
