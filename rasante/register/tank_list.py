"""A customer's tanks from a CSV file: each from a profile that is known here."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction

from ..core.quantities.errors import InputError, Problem
from ..tanks.models import Profile, Site, Tank
from ..tanks.profiles import applied
from ..tanks.services import survey_tank
from .models import Customer, SiteFacts
from .services import keep_site_facts, keep_tank_facts

COLUMNS = ("site", "tank", "product", "profile", "painted")
MOST_ROWS = 500


@dataclass(frozen=True)
class TankRow:
    """One tank as it stands in the file."""

    row: int
    site: str
    tank: str
    product: str
    profile: str
    painted: str


def read_tank_list(text: str) -> list[TankRow]:
    """Read a file with the columns `COLUMNS`, in any order, separated by commas, semicolons or tabs.

    Raises
    ------
    InputError
        At the row and column that is wrong.
    """
    head = text.lstrip("\ufeff").splitlines()[:1]
    if not head:
        raise InputError.at("text", "is empty")
    separator = max(",;\t", key=head[0].count)
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")), delimiter=separator, strict=True)
    names = {(name or "").strip().casefold(): name for name in reader.fieldnames or ()}
    lacking = [column for column in COLUMNS[:4] if column not in names]
    if lacking:
        raise InputError.at("row 1", f"lacks {', '.join(lacking)}; the columns are {', '.join(COLUMNS)}")
    try:
        rows = list(reader)
    except csv.Error as error:
        raise InputError.at(f"row {reader.line_num}", str(error)) from None
    if not 1 <= len(rows) <= MOST_ROWS:
        raise InputError.at("text", f"has {len(rows)} tanks; 1 to {MOST_ROWS} are taken at once")
    found, problems = [], []
    for number, row in enumerate(rows, 2):
        facts = {column: str(row.get(names.get(column, ""), "") or "").strip() for column in COLUMNS}
        problems += [Problem(f"row {number}, {column}", "is empty") for column in COLUMNS[:4] if not facts[column]]
        found.append(TankRow(number, **facts))
    if problems:
        raise InputError(*problems)
    return found


@transaction.atomic
def import_tanks(customer: Customer, text: str, person: User) -> list[Tank]:
    """Make a customer's tanks from a file: all of them, or none.

    Raises
    ------
    InputError
        At the row that is wrong: a profile that is not known, or a tank that is there already.
    """
    made, problems = [], []
    for row in read_tank_list(text):
        at = f"row {row.row}"
        profile = Profile.objects.filter(name__iexact=row.profile).first()
        if profile is None:
            known = ", ".join(Profile.objects.values_list("name", flat=True)[:8]) or "none yet"
            problems.append(Problem(f"{at}, profile", f"“{row.profile}” is not known; known are {known}"))
            continue
        site = Site.objects.filter(name__iexact=row.site).first() or Site.objects.create(name=row.site)
        facts = SiteFacts.objects.filter(site=site).first()
        if facts is not None and facts.customer_id not in (None, customer.pk):
            problems.append(Problem(f"{at}, site", f"{site} belongs to {facts.customer}"))
            continue
        if facts is None or facts.customer_id is None:
            keep_site_facts(site, {"customer": customer}, person, facts.revision if facts else 0)
        entries = applied(profile, {"name": row.tank, "product": row.product})
        try:
            with transaction.atomic():
                tank = survey_tank(site, entries, "metric", person, {"notes": "", "ports": []}, profile)
                keep_tank_facts(tank, {"owner": "customer", "customer": customer, "painted": row.painted}, person, 0)
            made.append(tank)
        except InputError as error:
            problems += [Problem(f"{at}, {one.where or 'tank'}", one.what) for one in error.problems]
    if problems:
        raise InputError(*problems)
    return made
