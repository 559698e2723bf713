"""Roles. People are Django's own users; a role is a group of that name."""

from __future__ import annotations

from django.contrib.auth.models import User

TECHNICIAN, LEAD = "technician", "lead"
ROLES = (TECHNICIAN, LEAD)


def role_of(user: User) -> str:
    """Return a person's role; whoever is in no group is a technician."""
    if user.is_superuser or user.groups.filter(name=LEAD).exists():
        return LEAD
    return TECHNICIAN


def name_of(user: User | None) -> str:
    """Return a person's name as it stands on a sheet."""
    return (user.get_full_name() or user.get_username()) if user else ""
