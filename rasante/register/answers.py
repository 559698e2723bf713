"""What the API answers of the register. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class RegisterOfTank:
    """Whose a tank is, where its site is, and what is still to be noted."""

    owner: Literal["", "own", "customer"]
    customer: int | None
    customer_name: str
    painted: str
    revision: int
    site_customer: int | None
    latitude: float | None
    longitude: float | None
    contact: str
    telephone: str
    missing: list[str]


@dataclass(frozen=True)
class MadeTanks:
    """The tanks that were made."""

    made: list[str]
