"""A visit handed over: signed, and shown to a customer by a link."""

from __future__ import annotations

from datetime import timedelta
from hashlib import sha256
from secrets import token_urlsafe

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from ..accounts.models import name_of
from ..conflict import Conflict
from ..core.quantities.errors import InputError
from ..seals.services import seal
from .course import course_of
from .entering import refuse_over_gates
from .models import CustomerLink, Visit, VisitRecord
from .record import digest_of, record_document
from .services import open_one

#: How long a customer's link opens at most [days].
LINK_DAYS = 365


@transaction.atomic
def sign_visit(visit: Visit, signature: str, seen: str, person: User) -> VisitRecord:
    """Sign a visit. From then on it never changes.

    Parameters
    ----------
    visit : Visit
        An open one.
    signature : str
        The signer's own name, typed.
    seen : str
        The digest of the record that was looked at (`record.digest_of`).
    person : User
        Who is signed in, and has just shown it by the password.

    Raises
    ------
    InputError
        If steps are open, a gate does not hold, or the name is not the person's own.
    Conflict
        If something was entered since it was looked at.
    """
    visit = open_one(visit)
    course = course_of(visit)
    left = [one.step.title for one in course.steps.values() if not one.over and one.step.kind != "sign"]
    if left:
        raise InputError.at("", f"cannot be signed yet; still open: {'; '.join(left)}")
    last = course.procedure.steps[-1]
    refuse_over_gates(course, last)
    if signature.strip().casefold() != name_of(person).casefold():
        raise InputError.at("signature", f"type your own name as it is known here: {name_of(person)}")
    document = record_document(course, person)
    if digest_of(document) != seen:
        raise Conflict("something is other than in the record that you looked at: look at it anew, then sign")
    record = VisitRecord(visit=visit, signed_by=person, document=document)
    record.save()
    seal(record)
    visit.state = Visit.SIGNED
    visit.revision += 1
    visit.save()
    return record


@transaction.atomic
def make_link(record: VisitRecord, days: int, live: bool, note: str, person: User) -> tuple[CustomerLink, str]:
    """Make a link by which a customer reads a record.

    Returns
    -------
    (CustomerLink, str)
        The link, and what stands in it: shown once, kept only as its SHA-256.
    """
    if not 1 <= days <= LINK_DAYS:
        raise InputError.at("days", f"must be 1 to {LINK_DAYS}")
    token = token_urlsafe(24)
    link = CustomerLink.objects.create(
        record=record,
        token=sha256(token.encode()).hexdigest(),
        live=live,
        note=note,
        expires_at=timezone.now() + timedelta(days=days),
        made_by=person,
    )
    return link, token


@transaction.atomic
def withdraw_link(link: CustomerLink) -> CustomerLink:
    """Withdraw a link: it opens nothing from now on."""
    link = CustomerLink.objects.get(pk=link.pk)
    link.withdrawn_at = link.withdrawn_at or timezone.now()
    link.save()
    return link


@transaction.atomic
def opened_by_link(token: str) -> CustomerLink | None:
    """Count an opening, and return the link; None if there is none, or it has expired or was withdrawn."""
    link = (
        CustomerLink.objects.select_related("record__visit__tank__site")
        .filter(token=sha256(token.encode()).hexdigest(), withdrawn_at=None, expires_at__gt=timezone.now())
        .first()
    )
    if link is not None:
        CustomerLink.objects.filter(pk=link.pk).update(openings=F("openings") + 1, opened_at=timezone.now())
    return link
