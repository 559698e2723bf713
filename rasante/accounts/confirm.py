"""Asking for the password again before something that cannot be undone."""

from __future__ import annotations

from django.contrib.auth import authenticate
from rest_framework.request import Request

from ..core.quantities.errors import InputError


def confirm_password(request: Request, password: str) -> None:
    """Make sure that whoever is signed in is there: wrong passwords count as they do at the door.

    Raises
    ------
    InputError
        At ``password``, if it is not the person's own.
    """
    person = authenticate(request._request, username=request.user.get_username(), password=password)
    if person is None or person.pk != request.user.pk:
        locked = getattr(request._request, "axes_locked_out", False)
        what = "too many wrong passwords: wait 15 minutes, then try again" if locked else "this is not your password"
        raise InputError.at("password", what)
