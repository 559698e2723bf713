"""What can be done with accounts."""

from __future__ import annotations

from django.contrib.auth.models import Group, User
from django.db import transaction

from .models import ROLES


@transaction.atomic
def make_person(username: str, full_name: str, password: str, role: str) -> User:
    """Make a person who may sign in.

    Parameters
    ----------
    username, full_name, password : str
        As they sign in, as they are called, and the secret.
    role : {"technician", "lead"}
        What they may do.
    """
    if role not in ROLES:
        raise ValueError(f"{role} is no role: use {' or '.join(ROLES)}")
    first, _, last = full_name.partition(" ")
    person = User.objects.create_user(username, password=password, first_name=first, last_name=last)
    person.groups.add(Group.objects.get(name=role))
    return person
