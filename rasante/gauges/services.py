"""What can be done with gauge models and the gauge of a tank."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.utils.text import slugify

from ..conflict import Conflict
from ..core.gauges.model import GaugeModel as CoreModel
from ..core.gauges.model import check_model, generic_models, read_models, write_models
from ..core.gauges.plan import GaugePlan as CorePlan
from ..core.gauges.plan import all_judgements, read_gauge_plan
from ..core.quantities.errors import InputError
from ..core.quantities.judgement import stops
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..planned.services import keep_planned, kept_entries, planned_of, remembered, renew
from ..tanks.models import Tank
from .drawn import drawn_gauge
from .models import GaugeModel, GaugePlan

_model = remembered(check_model)


def library() -> dict[str, dict[str, Any]]:
    """Return the documents of all gauge models by their keys: the generic ones, and those that people added."""
    found = {f"generic-{slugify(document['name'])}": document for document in generic_models()}
    return found | {f"own-{model.pk}": model.document for model in GaugeModel.objects.all()}


def _checked(documents: Mapping[str, dict[str, Any]]) -> dict[str, CoreModel]:
    return {key: _model(document) for key, document in documents.items()}


@transaction.atomic
def add_model(document: dict[str, Any], person: User) -> GaugeModel:
    """Add a gauge model.

    Raises
    ------
    InputError
        At its keys, or if there is one of that name already.
    """
    name = check_model(document).name
    if GaugeModel.objects.filter(name=name).exists() or any(one["name"] == name for one in generic_models()):
        raise InputError.at("name", f"there is a model “{name}” already: name it apart")
    model = GaugeModel(document=document, changed_by=person)
    model.save()
    return model


@transaction.atomic
def change_model(model: GaugeModel, document: dict[str, Any], revision: int, person: User) -> GaugeModel:
    """Change a gauge model. Gauges planned with it keep it as it was until they are planned again.

    Raises
    ------
    InputError
        At its keys.
    Conflict
        If someone else has changed it meanwhile.
    """
    model = GaugeModel.objects.get(pk=model.pk)
    if model.revision != revision:
        raise Conflict("someone else has changed this model meanwhile: look at it before you keep yours")
    model.document, model.changed_by = document, person
    model.revision += 1
    try:
        with transaction.atomic():
            model.save()
    except IntegrityError:
        raise InputError.at("name", "there is another model of that name already: name it apart") from None
    return model


@transaction.atomic
def import_models(text: str, person: User) -> tuple[int, int]:
    """Add the models of a file; one of a name that is known is brought up to date.

    Returns
    -------
    (int, int)
        How many were added, and how many changed.

    Raises
    ------
    InputError
        At ``models[i].key``; nothing is kept then.
    """
    added = changed = 0
    generic = {document["name"]: document for document in generic_models()}
    for index, document in enumerate(read_models(text)):
        name = document["name"]
        if name in generic:
            if document != generic[name]:
                what = f"“{name}” is the name of a generic model, with other figures: name yours apart"
                raise InputError.at(f"models[{index}].name", what)
            continue
        known = GaugeModel.objects.filter(name=name).first()
        if known is None:
            add_model(document, person)
            added += 1
        elif known.document != document:
            change_model(known, document, known.revision, person)
            changed += 1
    return added, changed


def export_models() -> str:
    """Write all gauge models as a file."""
    return write_models(list(library().values()))


def gauge_of(tank: Tank) -> GaugePlan | None:
    """Return the gauge planned for a tank, or None before there is one."""
    return planned_of(GaugePlan, tank)


def _models_for(tank: Tank) -> dict[str, dict[str, Any]]:
    """The library, and the model that the tank's gauge was planned with where that has been deleted since."""
    found = library()
    kept = gauge_of(tank)
    if kept is not None and kept.document.get("model"):
        found.setdefault(kept.entries.get("choice.model", ""), kept.document["model"])
    return found


def read_gauge(tank: Tank, entries: Mapping[str, str], system: System) -> CorePlan:
    """Read a gauge's plan as far as it has been typed."""
    double = tank.entries.get("how.shape.diameter_mm") == "double_wall"
    return read_gauge_plan(entries, tank.file, tank.ports, _checked(_models_for(tank)), system, double)


@transaction.atomic
def keep_gauge(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> GaugePlan:
    """Keep a gauge's plan.

    Parameters
    ----------
    tank, person
        The tank and who plans it.
    entries, system
        The fields as typed, and what a bare number means.
    revision : int
        The revision that the change began from; 0 where there was none.

    Raises
    ------
    InputError
        At the fields that are wrong; a choice against the advice asks for its reason.
    Conflict
        If someone else has kept another meanwhile.
    """
    plan = read_gauge(tank, entries, system)
    plan.form.require()
    w, document = Words(system), {}
    if plan.verdict is not None:
        document = {
            "model": _models_for(tank)[plan.key],
            "verdict": plan.verdict.verdict,
            "reasons": [w.say(reason) for reason in plan.verdict.reasons if reason.weight != "good"],
            "output": plan.output,
            "reason": plan.reason,
            # How it stands in the section, for every page of the tank: worked out once.
            "drawn": drawn_gauge(plan),
        }
    planned = renew(GaugePlan, tank, revision)
    return keep_planned(planned, tank, kept_entries(entries, plan.form.kept), document, _gauge_standing(plan), person)


def _gauge_standing(plan: CorePlan) -> tuple[str, bool]:
    """Say in a line how a gauge's plan stands, and whether that asks for a person."""
    if plan.verdict is None:
        return "no gauge chosen yet", False
    name = plan.verdict.model.name
    if plan.against:
        return f"{name}, against the advice", False
    worst = next(iter(stops(all_judgements(plan))), None)
    return (f"{name}: {Words(plan.form.system).say(worst)}", True) if worst else (name, False)


def model_of(tank: Tank) -> CoreModel | None:
    """The model of a tank's gauge as it was when it was planned, or None before one is."""
    gauge = gauge_of(tank)
    return _model(gauge.document["model"]) if gauge is not None and gauge.document.get("model") else None


def output_of(tank: Tank) -> str:
    """The output that a tank's gauge is wired for; empty before one is planned."""
    gauge = gauge_of(tank)
    return str(gauge.document.get("output", "")) if gauge is not None else ""


def mounted_of(tank: Tank) -> tuple[float | None, float | None]:
    """Where a tank's gauge has its foot and its face [m]; None where that is not known."""
    gauge = gauge_of(tank)
    drawn = (gauge.document.get("drawn") if gauge is not None else None) or {}
    foot, face = (drawn.get(key) for key in ("foot_mm", "face_mm"))
    return (None if foot is None else foot / 1000), (None if face is None else face / 1000)
