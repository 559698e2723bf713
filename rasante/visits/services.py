"""What can be done with visits: opened, walked step by step, photographed, signed, shown to a customer."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime, timedelta
from hashlib import sha256
from secrets import token_urlsafe
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F, Max
from django.utils import timezone

from ..accounts.models import LEAD, name_of, role_of
from ..conflict import Conflict
from ..core.procedures.facts import check_facts
from ..core.procedures.step import Step, StepField, procedure_data, with_own
from ..core.quantities.errors import InputError, Problem
from ..core.quantities.judgement import stops
from ..core.quantities.typed import read_number, read_quantity, with_unit
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..gauges.services import gauge_of, keep_gauge
from ..gauges.wet_ends import keep_wet_ends, wet_ends_of
from ..readings.typed import add_typed
from ..register.services import device_by_serial, move_device
from ..scaling.chains import chain_of, newest_table
from ..seals.services import seal
from ..tanks.models import Tank
from ..tanks.services import resurvey_tank
from ..wiring.services import keep_wiring, wiring_of
from .course import DID, OVER, Course, course_of
from .models import CustomerLink, Entry, OwnSteps, Visit, VisitRecord
from .record import record_document
from .shows import Shown, show_step

#: The field that says which device it is.
SERIAL = "visit:serial"
#: The field of a dip.
DIP = "visit:dip"
#: How far ahead of the server a phone's clock may be [s].
_AHEAD_S = 300
LINK_DAYS = 365


def own_steps() -> OwnSteps:
    """Return the shop's own steps; empty before there are any."""
    return OwnSteps.objects.first() or OwnSteps()


@transaction.atomic
def keep_own_steps(rows: list[dict[str, Any]], person: User, revision: int) -> OwnSteps:
    """Keep the shop's own steps; visits that are open stay as they are.

    Raises
    ------
    InputError
        At what is wrong in them.
    Conflict
        If others were kept meanwhile.
    """
    kept = own_steps()
    if kept.revision != revision:
        raise Conflict("the shop's own steps were changed meanwhile: look at them, then change them")
    kept.steps, kept.changed_by = rows, person
    kept.revision += 1
    kept.save()
    return kept


def _as_found(tank: Tank) -> dict[str, int]:
    gauge, wiring, chain, table = gauge_of(tank), wiring_of(tank), chain_of(tank), newest_table(tank)
    return {
        "tank": tank.revision,
        "gauge": gauge.revision if gauge else 0,
        "wiring": wiring.revision if wiring else 0,
        "chain": chain.revision if chain else 0,
        "table": table.number if table else 0,
    }


@transaction.atomic
def open_visit(
    tank: Tank, facts: Mapping[str, Any], system: System, person: User, planned_for: date | None = None
) -> Visit:
    """Open a visit: its steps are composed from its facts.

    Raises
    ------
    InputError
        At the facts that are missing or do not go together.
    """
    check_facts(facts, procedure_data(), tank.product)
    number = (tank.visits.aggregate(Max("number"))["number__max"] or 0) + 1
    visit = Visit(
        tank=tank,
        number=number,
        facts=dict(facts),
        own=own_steps().steps,
        system=system,
        found={**_as_found(tank), "product": tank.product},
        opened_by=person,
        planned_for=planned_for,
    )
    visit.save()
    return visit


def open_one(visit: Visit) -> Visit:
    visit = Visit.objects.select_related("tank__site", "opened_by").get(pk=visit.pk)
    if visit.state != Visit.OPEN:
        raise Conflict(f"this visit is {visit.get_state_display().lower()}: open a new one")
    return visit


@transaction.atomic
def change_facts(visit: Visit, facts: Mapping[str, Any], revision: int) -> Visit:
    """Change the facts of an open visit: its steps follow, what was done stays done.

    Raises
    ------
    InputError
        At the facts that are missing or do not go together.
    Conflict
        If the visit is closed, or was changed meanwhile.
    """
    visit = open_one(visit)
    if visit.revision != revision:
        raise Conflict("this visit was changed meanwhile: look at it, then change it")
    check_facts(facts, procedure_data(), visit.tank.product)
    visit.facts = dict(facts)
    visit.found = {**visit.found, "product": visit.tank.product}
    visit.revision += 1
    visit.save()
    return visit


@transaction.atomic
def drop_visit(visit: Visit, revision: int) -> Visit:
    """Drop a visit that will not be made; what was done at it is kept.

    Raises
    ------
    Conflict
        If the visit is closed, or was changed meanwhile.
    """
    visit = open_one(visit)
    if visit.revision != revision:
        raise Conflict("this visit was changed meanwhile: look at it, then drop it")
    visit.state = Visit.DROPPED
    visit.revision += 1
    visit.save()
    return visit


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
        kept = f"{bare.removesuffix(unit).strip()} {unit}".strip()
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
        plan = plan_of(tank)
        if not typed:
            continue
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


def _refuse_over_gates(course: Course, step: Step) -> None:
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


def _read(course: Course, step: Step, did: str, values: Mapping[str, str]) -> tuple[dict[str, str], list[Problem]]:
    """Read what was typed at a step; refuse what is missing or wrong, or done before its gates hold.

    Returns
    -------
    (dict, list of Problem)
        What is kept, and what of it is outside its limits.
    """
    visit = course.visit
    kept, wrong, outside = check_values(step, values, visit.system)
    if wrong and (did == "done" or any(problem.where in values for problem in wrong)):
        raise InputError(*wrong)
    if did == "done":
        if step.kind == "photo" and not visit.photos.filter(step=step.key).exists():
            raise InputError.at("photo", "take a photograph first, or leave the step out and say why")
        _refuse_over_gates(course, step)
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
    if did == "begin":
        _refuse_over_gates(course, step)
    if did in ("done", "override"):
        kept, outside = _read(course, step, did, values)
        # Written before it is judged: what the stations make of it is what it is judged by. A refusal undoes it all.
        _write_survey(course, step, kept, person)
        _write_plans(course, step, kept, person)
        _write_dip(course, kept, at, person)
        if did == "done":
            _refuse_stops(show_step(course, step, kept, visit.system), outside, visit.system)
        _move_device(visit, kept, at, person)
    Entry(
        visit=visit, uid=uid, step=step_key, did=did, values=kept, reason=reason.strip(), at=at, begun_at=begun_at,
        by=person,
    ).save()  # fmt: skip
    return visit


def _move_device(visit: Visit, kept: Mapping[str, str], at: datetime, person: User) -> None:
    """Fit the device whose serial was noted on the visit's tank, if it is in the register."""
    device = device_by_serial(kept[SERIAL]) if SERIAL in kept else None
    if device is not None and device.tank_id != visit.tank_id:
        now = max(at, device.fittings.first().since) if device.fittings.exists() else at
        move_device(device, "fitted", visit.tank, f"visit {visit.number}", person, device.revision, now)


@transaction.atomic
def sign_visit(visit: Visit, signature: str, seen: int, person: User) -> VisitRecord:
    """Sign a visit. From then on it never changes.

    Parameters
    ----------
    visit : Visit
        An open one.
    signature : str
        The signer's own name, typed.
    seen : int
        How many entries the record had that was looked at.
    person : User
        Who is signed in, and has just shown it by the password.

    Raises
    ------
    InputError
        If steps are open, a gate does not hold, or the name is not the person's own.
    Conflict
        If something was entered since it was looked at.
    """
    visit = open_one(visit)
    if visit.entries.count() + visit.photos.count() != seen:
        raise Conflict(
            "something was entered at this visit since you looked at it: look at the record anew, then sign"
        )
    course = course_of(visit)
    left = [one.step.title for one in course.steps.values() if not one.over and one.step.kind != "sign"]
    if left:
        raise InputError.at("", f"cannot be signed yet; still open: {'; '.join(left)}")
    last = course.procedure.steps[-1]
    _refuse_over_gates(course, last)
    if signature.strip().casefold() != name_of(person).casefold():
        raise InputError.at("signature", f"type your own name as it is known here: {name_of(person)}")
    record = VisitRecord(
        visit=visit, signed_by=person, document=record_document(course, _as_found(visit.tank), person)
    )
    record.save()
    seal(record)
    visit.state = Visit.SIGNED
    visit.revision += 1
    visit.save()
    return record


@transaction.atomic
def make_link(record: VisitRecord, days: int, live: bool, note: str, person: User) -> tuple[CustomerLink, str]:
    """Make a link by which a customer reads a record.

    Returns
    -------
    (CustomerLink, str)
        The link, and what stands in it: shown once, kept only as its SHA-256.
    """
    if not 1 <= days <= LINK_DAYS:
        raise InputError.at("days", f"must be 1 to {LINK_DAYS}")
    token = token_urlsafe(24)
    link = CustomerLink.objects.create(
        record=record,
        token=sha256(token.encode()).hexdigest(),
        live=live,
        note=note,
        expires_at=timezone.now() + timedelta(days=days),
        made_by=person,
    )
    return link, token


@transaction.atomic
def withdraw_link(link: CustomerLink) -> CustomerLink:
    """Withdraw a link: it opens nothing from now on."""
    link = CustomerLink.objects.get(pk=link.pk)
    link.withdrawn_at = link.withdrawn_at or timezone.now()
    link.save()
    return link


@transaction.atomic
def opened_by_link(token: str) -> CustomerLink | None:
    """Count an opening, and return the link; None if there is none, or it has expired or was withdrawn."""
    link = (
        CustomerLink.objects.select_related("record__visit__tank__site")
        .filter(token=sha256(token.encode()).hexdigest(), withdrawn_at=None, expires_at__gt=timezone.now())
        .first()
    )
    if link is not None:
        CustomerLink.objects.filter(pk=link.pk).update(openings=F("openings") + 1, opened_at=timezone.now())
    return link


def check_own(rows: Any) -> None:
    """Refuse own steps that are wrong, before they are kept."""
    with_own(rows)


def open_steps(course: Course) -> list[str]:
    """The titles of the steps that are not over."""
    return [one.step.title for one in course.steps.values() if one.state not in OVER]
