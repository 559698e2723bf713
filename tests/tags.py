"""Tags by which tests are chosen: ``--exclude-tag slow`` leaves out what `make quick` has no time for."""

from __future__ import annotations

from typing import TypeVar

Tagged = TypeVar("Tagged")


def slow(thing: Tagged) -> Tagged:
    """Tag a test, or all of a class, as slow; Django's runner reads it."""
    thing.tags = {"slow"}  # type: ignore[attr-defined]
    return thing
