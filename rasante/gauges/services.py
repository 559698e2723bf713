"""What can be done with gauge models, the gauge of a tank, and its wiring."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.utils.text import slugify

from ..core.cautions import product_facts
from ..core.errors import InputError
from ..core.gauges.circuit import circuit_document
from ..core.gauges.circuit_kinds import LINKS, WiringForm, read_wiring
from ..core.gauges.circuit_rules import judge_circuit
from ..core.gauges.loop_budget import loop_budget
from ..core.gauges.model import GaugeModel as CoreModel
from ..core.gauges.model import check_model, generic_models, read_models, write_models
from ..core.gauges.plan import GaugePlan as CorePlan
from ..core.gauges.plan import all_judgements, link_of, read_gauge_plan, wiring_defaults
from ..core.judgement import Judgement
from ..core.units import System
from ..http import Conflict
from ..tanks.models import Tank
from .models import GaugeModel, GaugePlan, Planned, Wiring
from .present import drawn_gauge

Kept = TypeVar("Kept", bound=Planned)


def library() -> dict[str, dict[str, Any]]:
    """Return the documents of all gauge models by their keys: the generic ones, and those that people added."""
    found = {f"generic-{slugify(document['name'])}": document for document in generic_models()}
    return found | {f"own-{model.pk}": model.document for model in GaugeModel.objects.all()}


def _checked(documents: Mapping[str, dict[str, Any]]) -> dict[str, CoreModel]:
    return {key: check_model(document) for key, document in documents.items()}


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
    return GaugePlan.objects.select_related("changed_by").filter(tank=tank).first()


def wiring_of(tank: Tank) -> Wiring | None:
    """Return the wiring planned for a tank, or None before there is one."""
    return Wiring.objects.select_related("changed_by").filter(tank=tank).first()


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


def kept_entries(entries: Mapping[str, str], kept: Mapping[str, str]) -> dict[str, str]:
    """What is kept of the fields: as understood where they were read, as typed where they wait for another choice."""
    return {path: text for path, text in entries.items() if text.strip()} | dict(kept)


def renew(kind: type[Kept], tank: Tank, revision: int) -> Kept:
    """Return what is kept of a kind for a tank, or a new one, unless someone else has kept another meanwhile."""
    old = kind.objects.filter(tank=tank).first()
    if (old.revision if old else 0) != revision:
        raise Conflict("someone else has kept this meanwhile: look at the newer one before you keep yours")
    return old or kind(tank=tank, revision=0)


def keep_planned(
    planned: Kept,
    tank: Tank,
    entries: dict[str, str],
    document: dict[str, Any],
    standing: tuple[str, bool],
    person: User,
) -> Kept:
    """Keep what was planned: a new revision where it differs."""
    changed = planned.entries != entries or planned.document != document or planned.tank_revision != tank.revision
    planned.entries, planned.document, planned.tank_revision = entries, document, tank.revision
    planned.revision += 1 if changed or not planned.revision else 0
    planned.summary, planned.pressing = standing[0][:300], standing[1]
    planned.changed_by = person
    planned.save()
    return planned


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
    document: dict[str, Any] = {}
    if plan.verdict is not None:
        document = {
            "model": _models_for(tank)[plan.key],
            "verdict": plan.verdict.verdict,
            "reasons": [reason.text for reason in plan.verdict.reasons if reason.weight != "good"],
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
    worst = next((judgement for judgement in all_judgements(plan) if judgement.weight == "stop"), None)
    return (f"{name}: {worst.text}", True) if worst else (name, False)


def started_wiring(tank: Tank, entries: Mapping[str, str]) -> dict[str, str]:
    """The wiring's fields with what the tank's gauge says of those that nobody typed."""
    return {**wiring_start(tank), **{path: text for path, text in entries.items() if text.strip()}}


def wiring_start(tank: Tank) -> dict[str, str]:
    """What the gauge of a tank says of its wiring, by the wiring's fields."""
    gauge = gauge_of(tank)
    if gauge is None or not gauge.document.get("model"):
        return {}
    flammable = bool(product_facts(tank.product).get("flammable"))
    return wiring_defaults(check_model(gauge.document["model"]), gauge.document.get("output", ""), flammable)


def sends(tank: Tank) -> bool:
    """Whether the gauge of a tank sends anything to be wired; True before one is kept."""
    gauge = gauge_of(tank)
    return gauge is None or not gauge.document.get("model") or bool(gauge.document.get("output"))


def judge_wiring(tank: Tank, wiring: WiringForm) -> list[Judgement]:
    """Judge a tank's wiring by the rules, and by what its gauge sends; the heaviest first."""
    found = judge_circuit(wiring.circuit, bool(product_facts(tank.product).get("flammable")))
    gauge = gauge_of(tank)
    output = gauge.document.get("output", "") if gauge else ""
    if output and link_of(output) != wiring.circuit.kind:
        text = f"The gauge of this tank sends {output}; this circuit is for {LINKS[wiring.circuit.kind]}."
        found = [Judgement("stop", "other-link", text), *[j for j in found if j.code != "wired"]]
    return found


def read_tank_wiring(tank: Tank, entries: Mapping[str, str], system: System) -> WiringForm:
    """Read a tank's wiring as far as it has been typed."""
    return read_wiring(started_wiring(tank, entries), system)


@transaction.atomic
def keep_wiring(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> Wiring:
    """Keep a tank's wiring, right or wrong as it may be wired; its fields must be readable.

    Raises
    ------
    InputError
        At the fields that are wrong.
    Conflict
        If someone else has kept another meanwhile.
    """
    wiring = read_tank_wiring(tank, entries, system)
    wiring.form.require()
    planned = renew(Wiring, tank, revision)
    kept = kept_entries(entries, {path: text for path, text in wiring.form.kept.items() if entries.get(path)})
    return keep_planned(planned, tank, kept, circuit_document(wiring.circuit), _wiring_standing(tank, wiring), person)


def _wiring_standing(tank: Tank, wiring: WiringForm) -> tuple[str, bool]:
    """Say in a line how a wiring stands, and whether that asks for a person."""
    budget = loop_budget(wiring.circuit, wiring.hottest_c)
    found = [*judge_wiring(tank, wiring), *(budget.judgements if budget else ())]
    worst = next((judgement for judgement in found if judgement.weight == "stop"), None)
    if worst:
        return worst.text, True
    name = LINKS[wiring.circuit.kind]
    return (f"{name}, margin {budget.at[-1].margin_v:.1f} V" if budget else name), False
