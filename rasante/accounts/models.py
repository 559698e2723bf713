"""Roles, and where each person is signed in. People are Django's own users; a role is a group of that name."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models
from simple_history import register

TECHNICIAN, LEAD = "technician", "lead"
ROLES = (TECHNICIAN, LEAD)

# Who was called what, and since when; never a password.
register(User, app="rasante.accounts", excluded_fields=["password", "last_login"])


class SignIn(models.Model):
    """One device on which a person is signed in."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sign_ins")
    #: The session's key; never given out.
    session = models.CharField(max_length=40, unique=True)
    agent = models.CharField(max_length=300, blank=True)
    address = models.GenericIPAddressField(null=True)
    begun_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-begun_at"]

    def __str__(self) -> str:
        return f"{self.person} from {self.address}"


def role_of(user: User) -> str:
    """Return a person's role; whoever is in no group is a technician."""
    if user.is_superuser or any(group.name == LEAD for group in user.groups.all()):
        return LEAD
    return TECHNICIAN


def name_of(user: User | None) -> str:
    """Return a person's name as it stands on a sheet."""
    return (user.get_full_name() or user.get_username()) if user else ""
