"""How visits are written for the API."""

from __future__ import annotations

from collections.abc import Mapping

from ..accounts.models import name_of
from ..core.gauges.model import technologies
from ..core.procedures.step import PHASES, WHO, StepField, gates, procedure_data
from ..core.procedures.timing import Schedule
from ..core.quantities.errors import Problem
from ..core.quantities.units import System
from ..tanks.present import judgements
from . import answers
from .course import Course, Preview, Standing
from .models import CustomerLink, Photo, Visit
from .shown import Shown


def _options(words: Mapping[str, str]) -> list[answers.FactOption]:
    return [answers.FactOption(key, label) for key, label in words.items()]


def proposed(facts: dict[str, str]) -> answers.ProposedVisit:
    """Write what facts can be chosen from, and those that are proposed."""
    data = procedure_data()
    return answers.ProposedVisit(
        jobs=_options(data["jobs"]),
        facts=[answers.Fact(key, row["title"], _options(row["options"])) for key, row in data["facts"].items()],
        methods=_options({key: way.name for key, way in technologies().items()}),
        proposed=facts,
    )


def preview(found: Preview) -> answers.Preview:
    """Write what a visit would be."""
    likely = found.finishes[1] if found.finishes is not None else None
    return answers.Preview(
        matters=found.matters,
        against=[Problem(where, what) for where, what in found.against],
        steps=found.steps,
        minutes=None if likely is None else likely.minutes,
        in_a_row=None if likely is None else likely.in_a_row,
    )


def in_list(visit: Visit) -> answers.VisitInList:
    """Write a visit for a list."""
    return answers.VisitInList(
        id=visit.pk,
        number=visit.number,
        tank=visit.tank_id,
        tank_name=visit.tank.name,
        site_name=visit.tank.site.name,
        job=procedure_data()["jobs"].get(visit.facts.get("job", ""), ""),
        state=visit.state,
        planned_at=visit.planned_at,
        opened_at=visit.opened_at,
        opened_by=name_of(visit.opened_by),
        changed_at=visit.changed_at,
    )


def _field(field: StepField) -> answers.StepField:
    return answers.StepField(
        to=field.to,
        label=field.label,
        quantity=field.quantity,
        optional=field.optional,
        limit_words=field.limit_words,
    )


def _step(course: Course, one: Standing, photos: dict[str, list[Photo]]) -> answers.Step:
    step = one.step
    return answers.Step(
        key=step.key,
        phase=PHASES[step.phase],
        title=step.title,
        instruction=step.instruction,
        why=step.why,
        hazard=step.hazard,
        who=WHO[step.who],
        kind=step.kind,
        minutes=list(step.minutes),
        fields=[_field(field) for field in step.fields],
        options=_options(step.options or {}),
        shows=bool(step.shows),
        needs=[gate.title for gate in course.missing_gates(step)],
        gives=[gates()[key].title for key in step.gives],
        before=[before.title for before in course.open_before(step)],
        state=one.state,
        by=one.by,
        at=one.at,
        began=one.began,
        ends=one.ends,
        reason=one.reason,
        took=one.minutes,
        values=one.values,
        photos=[photo(one) for one in photos.get(step.key, [])],
    )


def photo(one: Photo) -> answers.Photo:
    """Write a photograph, without its picture."""
    return answers.Photo(
        id=one.pk,
        step=one.step,
        width=one.width,
        height=one.height,
        note=one.note,
        place=one.place,
        at=one.at,
        by=name_of(one.by),
    )


def _schedule(course: Course, likely: Schedule) -> list[answers.PlannedStep]:
    return [
        answers.PlannedStep(
            key=one.key, begin=round(one.begin, 2), end=round(one.end, 2), waits=course.steps[one.key].step.waits
        )
        for one in likely.steps
    ]


def visit(course: Course) -> answers.Visit:
    """Write a visit as it stands."""
    photos: dict[str, list[Photo]] = {}
    rows = list(course.visit.photos.defer("jpeg").select_related("by"))
    for one in rows:
        photos.setdefault(one.step, []).append(one)
    least, likely, most = course.finishes
    return answers.Visit(
        **vars(in_list(course.visit)),
        facts=course.visit.facts,
        system=course.visit.system,
        revision=course.visit.revision,
        entered=course.entered + len(rows),
        steps=[_step(course, one, photos) for one in course.steps.values()],
        gates=[answers.Gate(gate.title, gate.hold, gate.holds, gate.by, gate.reason) for gate in course.gates],
        schedule=_schedule(course, likely),
        minutes=answers.Minutes(
            least=least.minutes,
            likely=likely.minutes,
            most=most.minutes,
            in_a_row=likely.in_a_row,
            critical=likely.critical,
        ),
        record=getattr(course.visit, "record", None) is not None,
    )


def shown(found: Shown, fields: list[answers.ReadField], system: System) -> answers.Shown:
    """Write what a step shows while something is typed at it."""
    return answers.Shown(
        fields=fields,
        lines=[
            answers.Figure(
                label=line.label,
                text=line.text,
                formula=line.formula,
                inputs=[answers.FigureInput(label=name, text=text) for name, text in line.inputs],
                source=line.source,
                take=line.take,
            )
            for line in found.lines
        ],
        judgements=judgements(found.judgements, system),
        station=found.station,
    )


def link(one: CustomerLink, token: str = "") -> answers.CustomerLink:
    """Write a link; what stands in it only when it was just made."""
    return answers.CustomerLink(
        id=one.pk,
        note=one.note,
        live=one.live,
        openings=one.openings,
        opened_at=one.opened_at,
        expires_at=one.expires_at,
        withdrawn_at=one.withdrawn_at,
        made_by=name_of(one.made_by),
        path=f"/r/{token}/" if token else "",
    )
