"""What can be done with trouble at a tank: a case followed and kept, and closed with what was wrong."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Count, Max
from django.utils import timezone

from ..accounts.models import name_of
from ..core.faults.advice import words_of
from ..core.faults.case_form import MOST_FINDINGS, CaseForm, Step, read_case
from ..core.faults.case_words import percent, reading_text
from ..core.faults.fault import fault_kinds, parts
from ..core.faults.fault_test import FaultTest
from ..core.faults.installation import Installation
from ..core.faults.series import look_of
from ..core.products.registry import product_of
from ..core.quantities.errors import InputError
from ..core.quantities.form import Form
from ..core.quantities.units import System
from ..core.readings.condition import CONDITIONS
from ..core.scaling.chain_values import read_value
from ..core.scaling.parting_form import count_rows
from ..core.wiring.circuit import circuit_document
from ..gauges.services import gauge_of, model_of
from ..planned.services import keep_planned, kept_entries, planned_of, renew
from ..readings.watching import now_of
from ..scaling.chains import former_chains, readings_of, scaled_chain
from ..seals.services import seal
from ..tanks.models import Tank
from ..wiring.services import circuit_of
from .models import FaultCase, FaultPlan

#: Fields of a case that stay when it is closed: what kind of installation it is.
_STAYS = ("technology", "age", "hazardous", "radio", "floats")
_YEAR_S = 365.25 * 86_400
#: What it is called when it is none of the faults that are known.
OTHER = "other"


def plan_of(tank: Tank) -> FaultPlan | None:
    """Return the case that is kept of a tank, or None before one is."""
    return planned_of(FaultPlan, tank)


def installation_of(tank: Tank, system: System) -> Installation:
    """A tank's chain and circuit as they are kept, and what else is known of them.

    Raises
    ------
    InputError
        If what was kept no longer makes a chain.
    """
    model, gauge = model_of(tank), gauge_of(tank)
    product = product_of(tank.product)
    closed = tank.fault_cases.exclude(fault="").values_list("fault").annotate(Count("pk")).order_by("fault")
    technology = model.technology if model is not None else "hydrostatic"
    age = 3.0
    if gauge is not None:
        first = gauge.history.order_by("history_date").first()
        since = first.history_date if first is not None else gauge.changed_at
        age = round((timezone.now() - since).total_seconds() / _YEAR_S, 1)
    return Installation(
        chain=scaled_chain(tank, system),
        circuit=circuit_of(tank),
        technology=technology,
        age_years=age,
        hazardous=product.flammable,
        pressurised=product.pressurised,
        # A unit under a vessel has a battery and a radio of its own: common practice.
        radio=technology == "sonar",
        closed=tuple((str(key), int(count)) for key, count in closed),
        former=tuple(former_chains(tank, system)),
    )


def live_look(tank: Tank) -> tuple[str, str] | None:
    """What the newest readings of a tank look like to the fault finder, and in words; None where nothing is live."""
    now = now_of(tank)
    if now is None or now.condition.key in ("none", "typed"):
        return None
    return look_of(now.condition.key), CONDITIONS[now.condition.key]


@dataclass(frozen=True)
class Along:
    """Something that was read along the chain and kept, and would be a finding of a case.

    Parameters
    ----------
    test : FaultTest
        The test that reads that station as it stands.
    typed, says : str
        As it was typed, and with its unit.
    """

    test: FaultTest
    typed: str
    says: str


def along_the_chain(tank: Tank, found: CaseForm, system: System) -> tuple[datetime | None, list[Along]]:
    """What was read along a tank's chain and kept, its newest column, as far as it is no finding of a case yet.

    Returns
    -------
    datetime, list of Along
        When it was kept. Nothing of before the last case was closed: that was another installation.
    """
    kept, last = readings_of(tank), tank.fault_cases.order_by("-closed_at").first()
    if kept is None or (last is not None and kept.changed_at <= last.closed_at):
        return None, []
    newest = count_rows(Form(kept.entries, system)) - 1
    done = {one.test for one in found.findings}
    given = []
    for station in found.at.sound.stations:
        typed = str(kept.entries.get(f"rows[{newest}].{station}", "")).strip()
        test = next((one for one in found.table.every_test if one.reads == {"station": station}), None)
        if not typed or test is None or test.key in done:
            continue
        # What the chain of now cannot read is no finding.
        with contextlib.suppress(InputError):
            value = read_value(found.at.sound, station, typed, system)
            given.append(Along(test, typed, reading_text(found.at, test, value, system)))
    return kept.changed_at, given


def read_tank_case(tank: Tank, entries: Mapping[str, str], system: System) -> CaseForm:
    """Read a case as far as it has been typed, and say what to do next."""
    return read_case(entries, installation_of(tank, system), system)


@transaction.atomic
def keep_case(tank: Tank, entries: Mapping[str, str], system: System, person: User, revision: int) -> FaultPlan:
    """Keep a case as far as it has come.

    Raises
    ------
    InputError
        At fields that cannot be read.
    Conflict
        If someone else has kept another meanwhile.
    """
    found = read_tank_case(tank, entries, system)
    found.form.require()
    planned = renew(FaultPlan, tank, revision)
    now = kept_entries(entries, found.form.kept)
    require_gates(tank, found, planned.entries if planned.pk is not None else {}, now)
    share = found.advice.belief.by_part[found.advice.part]
    summary = f"{words_of(found.advice.part)} {percent(share)}" if found.findings else ""
    return keep_planned(
        planned,
        tank,
        now,
        {"findings": len(found.findings), "gates": _signed_gates(found, planned.document, person)},
        (summary, bool(found.findings)),
        person,
    )


@transaction.atomic
def close_case(tank: Tank, closing: Mapping[str, Any], system: System, person: User, revision: int) -> FaultCase:
    """Close the case that is kept, with what was wrong; the next begins anew.

    Parameters
    ----------
    tank : Tank
    closing : mapping
        ``fault`` (a key of the core's faults, or `OTHER`), ``did`` (what was done), and ``restored`` and ``proven``.
    system : {"metric", "us"}
        The units of the words in the record.
    person : User
    revision : int
        Of the case, as whoever closes it saw it.

    Raises
    ------
    InputError
        If nothing was found yet, it is not said what was done, or control is not restored.
    Conflict
        If someone else has kept another meanwhile.
    """
    tank = Tank.objects.select_related("site").get(pk=tank.pk)
    planned = renew(FaultPlan, tank, revision)
    if planned.pk is None or not planned.document.get("findings"):
        raise InputError.at("", "nothing is kept of this case yet: keep what was found first")
    key = str(closing["fault"])
    if key != OTHER and key not in fault_kinds():
        raise InputError.at("fault", "choose what was wrong, or that it was something else")
    if not str(closing["did"]).strip():
        raise InputError.at("did", "say what was done about it")
    found = read_tank_case(tank, planned.entries, system)
    found.form.require()
    if moved(found) and not closing["restored"]:
        raise InputError.at("restored", "control was put in manual for a test: restore it, and say so")
    if key not in (OTHER, "nothing") and not closing["proven"]:
        raise InputError.at("proven", "prove it again after the repair, and say so")
    number = (tank.fault_cases.aggregate(Max("number"))["number__max"] or 0) + 1
    record = FaultCase(
        tank=tank,
        number=number,
        fault="" if key == OTHER else key,
        document=_document(tank, found, planned.entries, closing, planned.document.get("gates", {}))
        | {"closed_by": name_of(person)},
        closed_by=person,
    )
    record.save()
    seal(record)
    keep_planned(planned, tank, {k: v for k, v in planned.entries.items() if k in _STAYS}, {}, ("", False), person)
    return record


#: What tells one finding from another, whatever row it stands in.
_FINDING = ("test", "value", "outcome", "put_in", "red", "black")


def _finding_at(entries: Mapping[str, str], row: int) -> tuple[str, ...]:
    return tuple(str(entries.get(f"rows[{row}].{column}", "")) for column in _FINDING)


def _read_along(found: CaseForm, key: str, value: str, along: Mapping[str, str]) -> bool:
    """Whether a test's reading is one that was kept along the chain, at the very station that the test reads."""
    test = next((one for one in found.table.every_test if one.key == key), None)
    station = "" if test is None else str(test.reads.get("station", ""))
    if test is None or test.reads != {"station": station}:
        return False
    column = re.compile(rf"rows\[\d+\]\.{re.escape(station)}")
    return any(column.fullmatch(path) and str(text).strip() == value.strip() for path, text in along.items())


def require_gates(tank: Tank, found: CaseForm, kept: Mapping[str, str], entries: Mapping[str, str]) -> None:
    """Refuse findings whose gates are not ticked; what was kept before stays, here or along the chain.

    Raises
    ------
    InputError
        At the first gate that is not ticked.
    """
    count = Form(kept, found.form.system).count("rows", "test", MOST_FINDINGS)
    before = {_finding_at(kept, row) for row in range(count)}
    readings = readings_of(tank)
    along = readings.entries if readings is not None else {}
    for step in found.steps:
        finding = _finding_at(entries, step.row)
        # What was read along the chain and kept is done: taken over, it opens nothing anew.
        taken = _read_along(found, finding[0], finding[1], along)
        for gate in step.gates:
            if not gate.ticked_at and finding not in before and not taken:
                raise InputError.at(
                    f"rows[{step.row}].gate.{gate.key}", f"tick it before “{step.do}” is entered: {gate.says}"
                )


def _signed_gates(found: CaseForm, document: Mapping[str, Any], person: User) -> dict[str, dict[str, str]]:
    """Who ticked each gate, and when: whoever keeps it first has ticked it."""
    before = document.get("gates", {})
    signed = {}
    for step in found.steps:
        for gate in step.gates:
            if gate.ticked_at:
                key = f"{step.do}|{gate.key}|{gate.ticked_at}"
                signed[key] = before.get(key) or {"at": gate.ticked_at, "by": name_of(person)}
    return signed


def _gates_of(step: Step, signed: Mapping[str, Mapping[str, str]]) -> list[dict[str, str]]:
    """The gates of a finding for the record: what had to be so, with who ticked it and when."""
    ticked = ((gate, signed.get(f"{step.do}|{gate.key}|{gate.ticked_at}", {})) for gate in step.gates)
    return [{"says": gate.says, "by": one.get("by", ""), "at": one.get("at", "")} for gate, one in ticked]


def moved(found: CaseForm) -> bool:
    """Whether any test of a case needed control in manual."""
    tests = (found.table.column(one.test, one.put_in).test for one in found.findings)
    return any("manual" in test.gates for test in tests)


def _document(
    tank: Tank,
    found: CaseForm,
    entries: Mapping[str, str],
    closing: Mapping[str, Any],
    signed: Mapping[str, Mapping[str, str]],
) -> dict[str, Any]:
    key = str(closing["fault"])
    kind = fault_kinds().get(key)
    belief = found.advice.belief
    circuit = found.at.wired
    return {
        "format": "rasante.closed-case/1",
        "tank": tank.name,
        "site": tank.site.name,
        "fault": key,
        "was": kind.says if kind is not None else "something that is in no list",
        "part": parts()[kind.part].says if kind is not None else "",
        "did": str(closing["did"]).strip(),
        "restored": bool(closing["restored"]),
        "proven": bool(closing["proven"]),
        "minutes": found.minutes,
        "named_first": kind is not None and found.advice.part == kind.part,
        "share": round(belief.by_part.get(kind.part if kind is not None else "unknown", 0.0), 4),
        "trail": [
            {"did": one.do, "read": one.read, "says": one.says, "gates": _gates_of(one, signed)}
            for one in found.steps
        ],
        "entries": dict(entries),
        "settings": {path: str(value) for path, value in found.at.sound.settings().items()},
        "circuit": None if circuit is None else circuit_document(circuit),
    }
