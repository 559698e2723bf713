"""The harbour of Skerrow: loads ``scenario.json`` through the same services that the screens use."""

from __future__ import annotations

import json
from importlib import resources
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ..accounts.models import name_of
from ..accounts.services import make_person
from ..core.tanks.chart_mapping import guess_mapping
from ..devices.rescales import begin_rescale, tick
from ..devices.services import keep_found, write_sheet
from ..gauges import services as gauges
from ..gauges.wet_ends import keep_wet_ends
from ..proving import services as proving
from ..scaling.chains import keep_chain, keep_readings
from ..scaling.marking import keep_marks, save_set
from ..scaling.slopes import keep_slopes
from ..tanks.charts import grid_of, keep_chart
from ..tanks.issued import issue_table
from ..tanks.models import Site, Tank
from ..tanks.profiles import applied, save_profile
from ..tanks.services import TableOrder, read_step, resurvey_tank, survey_tank
from ..wiring.services import keep_wiring
from . import visits, yard


def read_scenario() -> dict[str, Any]:
    """Return the scenario as it is written."""
    scenario: dict[str, Any] = json.loads(resources.files(__package__).joinpath("scenario.json").read_text("utf-8"))
    return scenario


@transaction.atomic
def load(data: Path | None = None) -> bool:
    """Load the scenario into an empty database.

    Parameters
    ----------
    data : Path, optional
        Where the yard keeps what is its own; without it there are no sources and no history.

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
        _make(item, sites[item["site"]], people[item["by"]])
    for one in scenario["mark_sets"]:
        save_set(one["name"], one["entries"], people[one["by"]])
    visits.load(scenario, people)
    if data is not None:
        yard.load(data, people[scenario["tanks"][0]["by"]])
    return True


def _make(item: dict[str, Any], site: Site, person: User) -> None:
    """Survey one tank as a person would, and do the work on it that the scenario tells of."""
    facts = {"notes": item["notes"], "ports": [{"size": "", "note": "", **port} for port in item["ports"]]}
    entries, profile = item["entries"], None
    if "from_profile" in item:
        profile = Tank.objects.get(document__name=item["from_profile"]).profile
        assert profile is not None
        entries = applied(profile, entries)
    earlier = item.get("before", [])
    first = {**entries, **earlier[0]["entries"]} if earlier else entries
    tank = survey_tank(site, first, "metric", person, facts, profile)
    for step in earlier:
        _issue(tank, step["issue"], person)
        tank = resurvey_tank(tank, entries, "metric", person, facts, tank.revision)
    if "issue" in item:
        _issue(tank, item["issue"], person)
    if "profile" in item:
        save_profile(tank, system="metric", person=person, **item["profile"])
    if "chart" in item:
        grid = grid_of(item["chart"]["text"], "")
        keep_chart(tank, item["chart"]["name"], grid, guess_mapping(grid), None, person)
    if "gauge" in item:
        gauges.keep_gauge(tank, item["gauge"], "metric", person, 0)
    if "wiring" in item:
        keep_wiring(tank, item["wiring"], "metric", person, 0)
    _follow_chain(tank, item, person)
    if "slopes" in item:
        keep_slopes(tank, item["slopes"], "metric", person, 0)
    if "proof" in item:
        _prove(tank, item["proof"], person)


def _follow_chain(tank: Tank, item: dict[str, Any], person: User) -> None:
    """Set a tank's chain, perhaps more than once, and do what comes after it."""
    for revision, entries in enumerate(item.get("chain", [])):
        keep_chain(tank, entries, "metric", person, revision)
    if "readings" in item:
        keep_readings(tank, item["readings"], "metric", person, 0)
    if "wet_ends" in item:
        keep_wet_ends(tank, item["wet_ends"], "metric", person, 0)
    if "marks" in item:
        keep_marks(tank, item["marks"], "metric", person, 0)
    if "sheet" in item:
        sheet = write_sheet(tank, "metric", item["sheet"]["note"], person)
        keys = {one["key"]: one for one in sheet.document["items"]}
        found = [{**keys[key], "value": value} for key, value in item["sheet"]["found"].items()]
        rest = [one for key, one in keys.items() if key not in item["sheet"]["found"]]
        keep_found(sheet, json.dumps({"items": [*rest, *found]}), "", person)
    if "rescale" in item:
        change = item["rescale"]
        level = tank.file.tank.inside_height / 2
        revision = len(item.get("chain", []))
        rescaling = begin_rescale(tank, change["entries"], level, "metric", change["why"], person, revision)
        for index in change["ticked"]:
            rescaling = tick(rescaling, index, True, rescaling.kept)


def _issue(tank: Tank, issue: dict[str, str], person: User) -> None:
    issue_table(tank, TableOrder(read_step(issue["step"], issue["unit"])), issue["why"], person, tank.revision)


def _prove(tank: Tank, readings: dict[str, Any], person: User) -> None:
    """Take a proof by injected current, as found and perhaps as left, and sign it if the scenario says so."""
    proof = proving.begin_proof(tank, "metric", person)
    entries = proof.entries | {"read_as": "innage", "tolerance": readings["tolerance"]}
    for column, name in (("read", "found_up"), ("down", "found_down"), ("left", "left_up")):
        for point, text in zip(entries["points"], readings.get(column, [""] * 5), strict=True):
            point[name] = text
    if "dip" in readings:
        measured, indicated = readings["dip"]
        entries["dip"] |= {"measured": measured, "indicated": indicated}
    signed = readings["signed"]
    entries |= {"control_in_manual": True, "control_restored": signed}
    proof = proving.keep_draft(proof, entries, proof.kept)
    if signed:
        proving.sign_proof(proof, name_of(person), proof.kept, person, proving.basis_of(proof.tank))
