"""What the API answers of people and sessions. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass

from ..answer import one_of
from .models import ROLES


@dataclass(frozen=True, kw_only=True)
class Person:
    """The person who is signed in."""

    username: str
    name: str
    role: str = one_of(ROLES)


@dataclass(frozen=True)
class Session:
    """Who is signed in, if anyone."""

    person: Person | None
