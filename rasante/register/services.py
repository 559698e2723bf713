"""What can be done with the register: customers, places, whose a tank is, and devices moved about."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.db import models, transaction
from django.utils import timezone

from ..conflict import Conflict
from ..core.quantities.errors import InputError, Problem
from ..core.quantities.typed import read_number
from ..tanks.models import Site, Tank
from .models import Customer, Device, Fitting, SiteFacts, TankFacts

Row = TypeVar("Row", bound=models.Model)


def _newest(row: Row, revision: int, what: str) -> Row:
    """Read a row anew and refuse one that was changed since."""
    fresh = type(row)._default_manager.get(pk=row.pk)
    if fresh.revision != revision:  # type: ignore[attr-defined]
        raise Conflict(f"{what} was changed meanwhile: look at it, then change it")
    return fresh


def _changed(row: models.Model, facts: Mapping[str, Any]) -> bool:
    """Set facts on a row, and tell whether any is another than before: what did not change is no revision."""
    changed = [name for name, value in facts.items() if getattr(row, name) != value]
    for name in changed:
        setattr(row, name, facts[name])
    return bool(changed)


def _required(facts: Mapping[str, Any], *names: str) -> None:
    lacking = [Problem(name, "is required") for name in names if not str(facts.get(name, "")).strip()]
    if lacking:
        raise InputError(*lacking)


def _refuse_namesake(customer: Customer) -> None:
    same = Customer.objects.filter(name__iexact=customer.name, branch__iexact=customer.branch).exclude(pk=customer.pk)
    if same.exists():
        raise InputError.at("name", f"there is {customer} already: choose it, or name the branch")


@transaction.atomic
def keep_customer(
    facts: Mapping[str, Any], person: User, customer: Customer | None = None, revision: int = 0
) -> Customer:
    """Make a customer, or change one.

    Raises
    ------
    InputError
        Without a name, or if there is one of this name and branch.
    Conflict
        If it was changed meanwhile.
    """
    _required(facts, "name")
    row = Customer(revision=0) if customer is None else _newest(customer, revision, str(customer))
    for name, value in facts.items():
        setattr(row, name, value.strip())
    _refuse_namesake(row)
    row.revision += 1
    row.changed_by = person
    row.save()
    return row


@transaction.atomic
def delete_customer(customer: Customer) -> None:
    """Delete a customer to whom nothing belongs.

    Raises
    ------
    Conflict
        If sites or tanks are theirs.
    """
    if customer.sites.exists() or customer.tanks.exists():
        raise Conflict(f"{customer} has sites or tanks: give them to another first")
    customer.delete()


@transaction.atomic
def keep_site_facts(site: Site, facts: Mapping[str, Any], person: User, revision: int) -> SiteFacts:
    """Keep where a site is and whose; its coordinates come as typed.

    Raises
    ------
    InputError
        If a coordinate cannot be read, or only one is given.
    Conflict
        If it was changed meanwhile.
    """
    row = SiteFacts.objects.filter(site=site).first() or SiteFacts(site=site)
    if row.revision != revision:
        raise Conflict(f"{site} was changed meanwhile: look at it, then change it")
    place = {name: _degrees(name, facts[name], most) for name, most in _PLACE.items() if name in facts}
    if not _changed(row, {**facts, **place}):
        return row
    if (row.latitude is None) != (row.longitude is None):
        raise InputError.at("longitude" if row.longitude is None else "latitude", "give both coordinates, or neither")
    row.revision += 1
    row.changed_by = person
    row.save()
    return row


#: The coordinates of a place, and how far each goes either way [°].
_PLACE = {"latitude": 90.0, "longitude": 180.0}


def _degrees(name: str, typed: str | float | None, most: float) -> float | None:
    """Read a coordinate in degrees; a letter of the compass may stand behind it."""
    text = "" if typed is None else str(typed).strip().rstrip("°").strip()
    if not text:
        return None
    sign = -1.0 if text[-1:].upper() in ("S", "W") else 1.0
    try:
        value = sign * read_number(text.rstrip("NSEWnsew").strip().rstrip("°").strip())
    except InputError as error:
        raise InputError.at(name, f"{error.problems[0].what}: write degrees, as 57.4021 or 4.25 W") from None
    if abs(value) > most:
        raise InputError.at(name, f"must be −{most:g}° to {most:g}°")
    return value


@transaction.atomic
def keep_tank_facts(tank: Tank, facts: Mapping[str, Any], person: User, revision: int) -> TankFacts:
    """Keep whose a tank is and what is painted on it.

    Raises
    ------
    InputError
        If another tank of its site bears the same, or a customer's tank names no customer.
    Conflict
        If it was changed meanwhile.
    """
    row = TankFacts.objects.filter(tank=tank).first() or TankFacts(tank=tank)
    if row.revision != revision:
        raise Conflict(f"{tank} was changed meanwhile: look at it, then change it")
    if not _changed(row, {**facts, "painted": facts["painted"].strip()}):
        return row
    if row.owner == "customer" and row.customer_id is None:
        raise InputError.at("customer", "say whose tank it is")
    twins = TankFacts.objects.filter(tank__site=tank.site, painted__iexact=row.painted).exclude(tank=tank)
    twin = twins.select_related("tank").first() if row.painted else None
    if twin is not None:
        raise InputError.at("painted", f"{twin.tank.name} bears “{row.painted}” at this site: tell the two apart")
    row.revision += 1
    row.changed_by = person
    row.save()
    return row


@transaction.atomic
def keep_register(tank: Tank, own: Mapping[str, Any], place: Mapping[str, Any], person: User, revision: int) -> None:
    """Keep what is noted of a tank and of its site: both, or nothing.

    Parameters
    ----------
    tank : Tank
    own, place : mapping
        What is noted of the tank, and of its site.
    person : User
    revision : int
        The sum of both revisions that it follows: neither ever falls, so the sum tells whether either has risen.

    Raises
    ------
    InputError
        As each of the two.
    Conflict
        If either was changed meanwhile.
    """
    of_tank = TankFacts.objects.filter(tank=tank).first() or TankFacts(tank=tank)
    of_site = SiteFacts.objects.filter(site=tank.site_id).first() or SiteFacts(site_id=tank.site_id)
    if of_tank.revision + of_site.revision != revision:
        raise Conflict(f"what is noted of {tank} or its site was changed meanwhile: look at it, then change it")
    keep_tank_facts(tank, own, person, of_tank.revision)
    keep_site_facts(tank.site, place, person, of_site.revision)


def missing_facts(tank: Tank) -> list[str]:
    """Tell what is required of a tank before it is handed over, and not noted yet."""
    facts = TankFacts.objects.filter(tank=tank).first()
    place = SiteFacts.objects.filter(site=tank.site_id).first()
    found = []
    if not tank.product:
        found.append("product (Survey)")
    if facts is None or not facts.owner:
        found.append("own stock or a customer's tank (Register)")
    if (facts is None or not facts.painted) and tank.site.tanks.count() > 1:
        found.append("what is painted on it (Register)")
    if place is None or place.latitude is None:
        found.append("the site's place (Register)")
    return found


@transaction.atomic
def keep_device(facts: Mapping[str, Any], person: User, device: Device | None = None, revision: int = 0) -> Device:
    """Make a device, or change what is noted of one.

    Raises
    ------
    InputError
        Without part and serial, or if there is one of both already.
    Conflict
        If it was changed meanwhile.
    """
    row = Device(revision=0) if device is None else _newest(device, revision, str(device))
    for name, value in facts.items():
        setattr(row, name, value.strip() if isinstance(value, str) else value)
    _required({"part": row.part, "serial": row.serial}, "part", "serial")
    twin = Device.objects.filter(part__iexact=row.part, serial__iexact=row.serial).exclude(pk=row.pk).first()
    if twin is not None:
        raise InputError.at("serial", f"{twin} is there already, {twin.get_state_display().lower()}")
    row.revision += 1
    row.changed_by = person
    row.save()
    return row


@transaction.atomic
def move_device(
    device: Device, state: str, tank: Tank | None, why: str, person: User, revision: int, at: datetime | None = None
) -> Device:
    """Fit a device on a tank, put it on the shelf, or out of use; what it did before stays with it.

    Raises
    ------
    InputError
        If it is to be fitted on no tank, or before it was taken off the last.
    Conflict
        If it was changed meanwhile.
    """
    row, when = _newest(device, revision, str(device)), at or timezone.now()
    if (state == Device.FITTED) != (tank is not None):
        raise InputError.at("tank", "say on which tank it is fitted, and only then")
    last = row.fittings.first()
    if last is not None and when < (last.until or last.since):
        raise InputError.at("at", "is before it was moved last")
    if last is not None and last.until is None:
        last.until = when
        last.save()
    if tank is not None:
        Fitting.objects.create(device=row, tank=tank, since=when, why=why, by=person)
    row.state, row.tank, row.changed_by = state, tank, person
    row.revision += 1
    row.save()
    return row


def devices_by(serial: str, part: str = "") -> list[Device]:
    """Find the devices that bear a serial, of one part where that is given."""
    found = Device.objects.select_related("tank__site").filter(serial__iexact=serial.strip())
    return list(found.filter(part__iexact=part.strip()) if part.strip() else found)


@transaction.atomic
def fit_device(tank: Tank, serial: str, part: str, address: str, why: str, person: User, at: datetime) -> Device:
    """Fit the device that bears a serial on a tank; one that is not known comes into the register first.

    Raises
    ------
    InputError
        At ``part``, if several bear the serial, or a new one has no part.
    """
    known = devices_by(serial)
    alike = [one for one in known if one.part.casefold() == part.strip().casefold()]
    if len(known) > 1 and len(alike) != 1:
        raise InputError.at("part", f"{len(known)} devices bear this serial: say which part it is")
    if not known:
        if not part.strip():
            raise InputError.at("part", "is not known here yet: type the part that stands on the label")
        device = keep_device({"part": part, "serial": serial, "address": address}, person)
    else:
        device = alike[0] if len(alike) == 1 else known[0]
        if address.strip() and address.strip() != device.address:
            device = keep_device({"address": address}, person, device, device.revision)
    if device.tank_id == tank.pk:
        return device
    last = device.fittings.first()
    when = at if last is None else max(at, last.until or last.since)
    return move_device(device, Device.FITTED, tank, why, person, device.revision, when)
