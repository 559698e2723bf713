"""What a signed visit holds: everything that the signature covers, so that it is printed from itself alone."""

from __future__ import annotations

import json
from hashlib import sha256
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from ..accounts.models import name_of
from ..core.procedures.step import procedure_data
from ..core.products.cautions import cautions_for, standing_caution
from .course import DID, Course, Standing
from .office import office_lines
from .services import revisions_of
from .shown import Context

FORMAT = "rasante.visit/1"


def digest_of(document: dict[str, Any]) -> str:
    """Return the SHA-256 of all that a record holds but who signs it and when: whoever signs has seen this."""
    seen = {key: value for key, value in document.items() if key not in ("signed_at", "signed_by")}
    return sha256(json.dumps(seen, sort_keys=True, ensure_ascii=True).encode()).hexdigest()


def _labels(standing: Standing) -> dict[str, str]:
    found = {field.to: field.label for field in standing.step.fields}
    return found | {"visit:choice": "Chosen"}


def _step_document(standing: Standing) -> dict[str, Any]:
    step, labels = standing.step, _labels(standing)
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
                "label": labels.get(to, to),
                "text": (step.options or {}).get(text, text) if to == "visit:choice" else text,
                "to": to,
            }
            for to, text in standing.values.items()
        ],
        # As the stations said it when it was entered: what they say today is of today.
        "figures": standing.shown.get("figures", []),
        "minded": standing.shown.get("minded", []),
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


def record_document(course: Course, person: User) -> dict[str, Any]:
    """Write all that a visit's record holds.

    Parameters
    ----------
    course : Course
        The visit as it stands.
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
        "left": revisions_of(tank),
        "steps": [_step_document(one) for one in course.steps.values() if one.step.kind != "sign"],
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
