"""The demo's customers, devices and visits, made through the same services that the screens use."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import timedelta
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from django.contrib.auth.models import User
from django.utils import timezone

from ..accounts.models import name_of
from ..core.procedures.step import procedure_data
from ..register.services import keep_customer, keep_device, keep_site_facts, keep_tank_facts, move_device
from ..tanks.models import Site, Tank
from ..visits.course import course_of
from ..visits.entering import enter
from ..visits.handing_over import sign_visit
from ..visits.record import digest_of, record_document
from ..visits.services import open_visit


def load(scenario: Mapping[str, Any], people: Mapping[str, User]) -> None:
    """Load customers, places, owners, devices and visits."""
    person = next(iter(people.values()))
    tanks = {tank.name: tank for tank in Tank.objects.select_related("site")}
    customers = {one["name"]: keep_customer(one, person) for one in scenario["customers"]}
    for one in scenario["places"]:
        facts = {key: value for key, value in one.items() if key != "site"}
        keep_site_facts(Site.objects.get(name=one["site"]), facts, person, 0)
    for one in scenario["owners"]:
        facts = {"owner": one["owner"], "customer": customers.get(one.get("customer", "")), "painted": one["painted"]}
        keep_tank_facts(tanks[one["tank"]], facts, person, 0)
    for one in scenario["devices"]:
        device = keep_device({key: one[key] for key in ("part", "serial", "address")}, person)
        for i, name in enumerate(one["tanks"]):
            at = timezone.now() - timedelta(days=200 - 150 * i)
            device = move_device(device, "fitted", tanks[name], "installed", person, device.revision, at)
    for one in scenario["visits"]:
        _visit(one, tanks[one["tank"]], people[one["by"]])


def _visit(item: Mapping[str, Any], tank: Tank, person: User) -> None:
    """Walk a visit as its person did; sign it if the scenario says so."""
    usual = {key: next(iter(row["options"])) for key, row in procedure_data()["facts"].items()}
    visit = open_visit(tank, usual | item["facts"], "metric", person)
    at = timezone.now() - timedelta(hours=2)
    for step in course_of(visit).procedure.steps:
        if step.key == item.get("until"):
            break
        begun, at = at, at + timedelta(minutes=item["minutes"])
        uid = str(uuid5(NAMESPACE_URL, f"{visit.pk}/{step.key}"))
        reason = item["left_out"].get(step.key, "")
        if step.kind == "sign":
            break
        if step.waits:
            enter(visit, f"begin-{uid[:20]}", step.key, "begin", {}, "", begun, begun, "metric", person)
        did = "skip" if reason else "done"
        enter(visit, uid, step.key, did, item["values"].get(step.key, {}), reason, at, begun, "metric", person)
    if item["signed"]:
        seen = digest_of(record_document(course_of(visit), person))
        sign_visit(visit, name_of(person), seen, person)
