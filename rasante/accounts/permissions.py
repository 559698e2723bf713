"""Who may do what."""

from __future__ import annotations

from rest_framework.permissions import BasePermission

from .models import LEAD, role_of


class SignedInAndOnlyALeadDeletes(BasePermission):
    """Everything asks for a signed-in person; deleting asks for a lead."""

    message = "Only a lead deletes: ask one."

    def has_permission(self, request, view) -> bool:
        """Tell whether this request may go on."""
        if not request.user or not request.user.is_authenticated:
            return False
        return request.method != "DELETE" or role_of(request.user) == LEAD
