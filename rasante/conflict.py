"""What is raised where somebody else has changed the same thing meanwhile."""

from __future__ import annotations


class Conflict(Exception):
    """Someone else has changed the same thing meanwhile; its text says what to look at."""
