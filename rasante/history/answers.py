"""What the API answers of a tank's history. Units stand in the names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from ..answer import one_of
from .services import KINDS


@dataclass(frozen=True, kw_only=True)
class FieldChange:
    """A field as it was and as it became."""

    path: str
    old: Any | None
    new: Any | None


@dataclass(frozen=True, kw_only=True)
class Keeping:
    """One keeping."""

    kind: str = one_of(list(KINDS))
    label: str
    id: int
    at: datetime
    by: str
    why: str
    revision: int
    current: bool
    changes: list[FieldChange]


@dataclass(frozen=True)
class History:
    """A page of a tank's history, and the revisions that stand now."""

    count: int
    results: list[Keeping]
    revisions: dict[str, int]
