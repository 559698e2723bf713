"""What can be done with accounts: people made, changed, shut out; passwords; devices signed out."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth.models import Group, User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Q, Sum
from django.utils import timezone

from ..conflict import Conflict
from ..core.quantities.errors import InputError
from .models import LEAD, ROLES, SignIn, name_of, role_of


@dataclass(frozen=True)
class Standing:
    """What a lead may change of a person.

    Parameters
    ----------
    name, role : str
        As they stand on records, and what they may do.
    active : bool
        Whether they may sign in.
    """

    name: str
    role: str
    active: bool


def standing_of(person: User) -> Standing:
    """Return what stands of a person now."""
    return Standing(name_of(person), role_of(person), person.is_active)


def _put_name(person: User, name: str) -> None:
    name = " ".join(name.split())
    if not name:
        raise InputError.at("name", "type the full name, as it stands on signed records")
    if len(name) > 120:
        raise InputError.at("name", "is longer than any sheet has room for: at most 120 letters")
    same = (one for one in User.objects.exclude(pk=person.pk) if name_of(one).casefold() == name.casefold())
    if next(same, None) is not None:
        raise InputError.at("name", f"there is {name} already: a signature must tell who signed; add a middle name")
    person.first_name, _, person.last_name = name.partition(" ")


def _put_role(person: User, role: str) -> None:
    if role not in ROLES:
        raise InputError.at("role", f"must be {' or '.join(ROLES)}")
    person.groups.set([Group.objects.get(name=role)])


def check_new_password(password: str, person: User, where: str = "password") -> None:
    """Refuse a password that is short, common, or close to the person's own name.

    Raises
    ------
    InputError
        At `where`, with all that is wrong with it.
    """
    try:
        validate_password(password, person)
    except ValidationError as error:
        raise InputError.at(where, " ".join(error.messages)) from None


@transaction.atomic
def make_person(username: str, full_name: str, password: str, role: str, checked: bool = False) -> User:
    """Make a person who may sign in.

    Parameters
    ----------
    username, full_name, password : str
        As they sign in, as they are called, and the secret.
    role : {"technician", "lead"}
        What they may do.
    checked : bool
        Whether the password must pass the checks.

    Raises
    ------
    InputError
        At the field that is wrong.
    """
    username = username.strip()
    try:
        User.username_validator(username)
    except ValidationError:
        raise InputError.at("username", "letters, digits and @ . + - _ only") from None
    if User.objects.filter(username__iexact=username).exists():
        raise InputError.at("username", f"{username} may sign in already")
    person = User(username=username)
    _put_name(person, full_name)
    if checked:
        check_new_password(password, person)
    person.set_password(password)
    person.save()
    _put_role(person, role)
    return person


def _refuse_if_last_lead(person: User) -> None:
    leads = User.objects.filter(Q(groups__name=LEAD) | Q(is_superuser=True), is_active=True)
    if not leads.exclude(pk=person.pk).exists():
        raise InputError.at("role", f"{name_of(person)} is the last lead: make another one first")


@transaction.atomic
def change_person(person: User, wanted: Standing, was: Standing, by: User) -> User:
    """Rename a person, give another role, shut out or let in again.

    Parameters
    ----------
    person : User
        Whom.
    wanted, was : Standing
        What is to stand, and what stood when it was looked at.
    by : User
        The lead who does it.

    Raises
    ------
    InputError
        At the field that is wrong, or if no lead would be left.
    Conflict
        If somebody has changed the person meanwhile.
    """
    person = User.objects.get(pk=person.pk)
    now = standing_of(person)
    if now != was:
        raise Conflict(f"{now.name} was changed meanwhile: {now.role}, {'active' if now.active else 'shut out'}")
    if now.role == LEAD and (wanted.role != LEAD or not wanted.active):
        _refuse_if_last_lead(person)
    if wanted.name != now.name:
        _put_name(person, wanted.name)
    if wanted.role != now.role:
        _put_role(person, wanted.role)
    person.is_active = wanted.active
    person._change_reason = f"{now.role} → {wanted.role}, by {by.username}"[:100]
    person.save()
    if not wanted.active:
        end_sign_ins(person)
    return person


@transaction.atomic
def reset_password(person: User, password: str, by: User) -> None:
    """Give a person another password, and sign them out everywhere.

    Raises
    ------
    InputError
        If the password is none to be had.
    """
    person = User.objects.get(pk=person.pk)
    check_new_password(password, person)
    person.set_password(password)
    person._change_reason = f"password reset by {by.username}"[:100]
    person.save()
    end_sign_ins(person)


@transaction.atomic
def change_own_password(person: User, new: str) -> User:
    """Change one's own password; every other device is signed out by it.

    Raises
    ------
    InputError
        At ``new``.
    """
    person = User.objects.get(pk=person.pk)
    check_new_password(new, person, "new")
    person.set_password(new)
    person._change_reason = "changed their own password"
    person.save()
    return person


def note_sign_in(person: User, session: str, agent: str, address: str | None) -> None:
    """Note on which device a person has signed in."""
    SignIn.objects.update_or_create(
        session=session, defaults={"person": person, "agent": agent[:300], "address": address or None}
    )


def sign_ins_of(person: User) -> list[SignIn]:
    """Return where a person is signed in now; what has run out is taken off the list."""
    alive = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    SignIn.objects.filter(person=person).exclude(session__in=alive).delete()
    return list(SignIn.objects.filter(person=person))


@transaction.atomic
def end_sign_ins(person: User, only: int | None = None, but: str = "") -> int:
    """Sign a person out: everywhere, on one device, or everywhere but here; how many devices it were."""
    ended = SignIn.objects.filter(person=person).exclude(session=but)
    if only is not None:
        ended = ended.filter(pk=only)
    keys = list(ended.values_list("session", flat=True))
    Session.objects.filter(session_key__in=keys).delete()
    ended.delete()
    return len(keys)


def too_many_from(address: str) -> bool:
    """Whether one address has sent too many wrong passwords of late, for whatever names."""
    since = timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME)
    failed = AccessAttempt.objects.filter(ip_address=address, attempt_time__gt=since)
    count = failed.aggregate(count=Sum("failures_since_start"))["count"] or 0
    return count >= settings.MOST_FAILURES_OF_AN_ADDRESS
