"""The harbour of Skerrow: loads ``scenario.json`` through the same services that the screens use."""

from __future__ import annotations

import json
from importlib import resources
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..accounts.models import name_of
from ..accounts.services import make_person
from ..core.scaling.proof_entries import blank_proof
from ..scaling import services as scaling
from ..tanks.models import Site, Tank
from ..tanks.services import survey_tank


def read_scenario() -> dict[str, Any]:
    """Return the scenario as it is written."""
    scenario: dict[str, Any] = json.loads(resources.files(__package__).joinpath("scenario.json").read_text("utf-8"))
    return scenario


@transaction.atomic
def load() -> bool:
    """Load the scenario into an empty database.

    Returns
    -------
    bool
        Whether anything was loaded; a database that has people already is left as it is.
    """
    if User.objects.exists():
        return False
    scenario = read_scenario()
    people = {
        one["username"]: make_person(one["username"], one["name"], one["password"], one["role"])
        for one in scenario["people"]
    }
    sites = {site["name"]: Site.objects.create(**site) for site in scenario["sites"]}
    for item in scenario["tanks"]:
        person = people[item["by"]]
        facts = {"notes": item["notes"], "ports": [{"size": "", "note": "", **port} for port in item["ports"]]}
        tank = survey_tank(sites[item["site"]], item["entries"], "metric", person, facts)
        if "scale" in item:
            scaling.scale_tank(tank, item["scale"], "metric", item["serial"], person, 0)
        if "proof" in item:
            _prove(tank, item["proof"], person)
    return True


def _prove(tank: Tank, readings: dict[str, Any], person: User) -> None:
    """Take a proof by injected current, as found and perhaps as left, and sign it if the scenario says so."""
    proof = scaling.begin_proof(tank, "metric", person)
    entries = blank_proof()
    entries["tolerance"] = readings["tolerance"]
    for column, name in (("read", "found_up"), ("down", "found_down"), ("left", "left_up")):
        for point, text in zip(entries["points"], readings.get(column, [""] * 5), strict=True):
            point[name] = text
    if "dip" in readings:
        measured, indicated = readings["dip"]
        entries["dip"] |= {"measured": measured, "indicated": indicated}
    signed = readings["signed"]
    entries |= {"control_in_manual": True, "control_restored": signed}
    proof = scaling.keep_draft(proof, entries, proof.kept)
    if signed:
        scaling.sign_proof(proof, name_of(person), proof.kept, person)
