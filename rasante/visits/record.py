"""What a signed visit holds: everything that the signature covers, so that it is printed from itself alone."""

from __future__ import annotations

from hashlib import sha256
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from ..accounts.models import name_of
from ..core.procedures.step import procedure_data
from ..core.products.cautions import cautions_for, standing_caution
from ..core.quantities.words import Words
from .course import DID, Course, Standing
from .shows import Context, office_lines, show_step

FORMAT = "rasante.visit/1"


def _labels(standing: Standing) -> dict[str, str]:
    found = {field.to: field.label for field in standing.step.fields}
    return found | {"visit:choice": "Chosen"}


def _step_document(course: Course, standing: Standing) -> dict[str, Any]:
    step, system = standing.step, course.visit.system
    # What was computed when it was signed: the same answers that stood beside the step.
    shown = show_step(course, step, standing.values, system) if step.shows and step.kind != "sign" else None
    labels, w = _labels(standing), Words(system)
    return {
        "key": step.key,
        "phase": step.phase,
        "title": step.title,
        "state": standing.state,
        "by": standing.by,
        "at": standing.at.isoformat() if standing.at else "",
        "minutes": None if standing.minutes is None else round(standing.minutes, 2),
        "planned_minutes": list(step.minutes),
        "reason": standing.reason,
        "values": [
            {
                "label": labels[to],
                "text": (step.options or {}).get(text, text) if to == "visit:choice" else text,
                "to": to,
            }
            for to, text in standing.values.items()
        ],
        "figures": [
            {
                "label": line.label,
                "text": line.text,
                "formula": line.formula,
                "inputs": [list(pair) for pair in line.inputs],
                "source": line.source,
            }
            for line in (shown.lines if shown else [])
        ],
        "minded": [{"weight": one.weight, "text": w.say(one)} for one in (shown.judgements if shown else [])],
    }


def _papers(course: Course) -> list[dict[str, str]]:
    """The tables, device sheets and signed proofs that came about at the visit."""
    tank, since = course.visit.tank, course.visit.opened_at
    found = [
        {"kind": "table", "number": str(one.number), "says": one.why}
        for one in tank.issued_tables.filter(issued_at__gte=since).defer("rows").order_by("number")
    ]
    found += [
        {"kind": "device sheet", "number": str(one.number), "says": one.note}
        for one in tank.device_sheets.filter(made_at__gte=since).order_by("number")
    ]
    found += [
        {"kind": "proof", "number": str(one.pk), "says": (one.record or {})["result"]["verdict"]}
        for one in tank.proofs.filter(state="signed", signed_at__gte=since).order_by("pk")
    ]
    return found


def record_document(course: Course, left: dict[str, int], person: User) -> dict[str, Any]:
    """Write all that a visit's record holds.

    Parameters
    ----------
    course : Course
        The visit as it stands.
    left : dict of str to int
        Revisions of tank, plans and table as they are left.
    person : User
        Who signs.
    """
    visit, tank = course.visit, course.visit.tank
    photos = visit.photos.select_related("by")
    context = Context(course, {}, visit.system)
    data = procedure_data()
    facts = {
        "job": data["jobs"][visit.facts["job"]],
        **{row["title"]: row["options"][visit.facts[key]] for key, row in data["facts"].items()},
    }
    return {
        "format": FORMAT,
        "number": visit.number,
        "site": tank.site.name,
        "tank": tank.document,
        "product": tank.product,
        "system": visit.system,
        "facts": facts,
        "opened_at": visit.opened_at.isoformat(),
        "opened_by": name_of(visit.opened_by),
        "signed_at": timezone.now().isoformat(),
        "signed_by": name_of(person),
        "found": visit.found,
        "left": left,
        "steps": [_step_document(course, one) for one in course.steps.values() if one.step.kind != "sign"],
        "gates": [{"title": gate.title, "by": gate.by, "reason": gate.reason} for gate in course.gates],
        "entries": [
            {
                "uid": one.uid,
                "step": one.step,
                "did": DID[one.did],
                "values": one.values,
                "reason": one.reason,
                "at": one.at.isoformat(),
                "arrived_at": one.arrived_at.isoformat(),
                "by": name_of(one.by),
            }
            for one in visit.entries.select_related("by")
        ],
        "photos": [
            {
                "id": one.pk,
                "step": one.step,
                "note": one.note,
                "at": one.at.isoformat(),
                "by": name_of(one.by),
                "sha256": sha256(bytes(one.jpeg)).hexdigest(),
            }
            for one in photos
        ],
        "papers": _papers(course),
        "office": office_lines(context),
        "cautions": [standing_caution(), *(one.text for one in cautions_for(tank.product))],
    }
