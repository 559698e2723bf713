"""Who may do what."""

from __future__ import annotations

from urllib.parse import unquote

from rest_framework import exceptions
from rest_framework.permissions import SAFE_METHODS, BasePermission

from .models import LEAD, role_of


class AnotherPerson(exceptions.APIException):
    """What one person typed came with the session of another who has signed in on the same device since."""

    status_code = 401


class SignedInAndOnlyALeadDeletes(BasePermission):
    """Everything asks for a signed-in person; deleting asks for a lead, or for its maker where a view says so."""

    message = "Only a lead deletes: ask one."

    def has_permission(self, request, view) -> bool:
        """Tell whether this request may go on."""
        if not request.user or not request.user.is_authenticated:
            return False
        writer = unquote(request.headers.get("X-Rasante-Person", ""))
        if request.method not in SAFE_METHODS and writer and writer != request.user.username:
            raise AnotherPerson(f"{request.user.username} is signed in here now, not {writer}: nothing was kept")
        own = getattr(view, "own_may_be_deleted", False)
        return request.method != "DELETE" or own or role_of(request.user) == LEAD


def may_delete(person, maker) -> bool:
    """Tell whether a person may delete what somebody made: a lead, or the maker."""
    return role_of(person) == LEAD or (maker is not None and maker.pk == person.pk)


class OnlyLeads(SignedInAndOnlyALeadDeletes):
    """For leads alone."""

    def has_permission(self, request, view) -> bool:
        """Tell whether this request may go on."""
        return super().has_permission(request, view) and role_of(request.user) == LEAD
