"""The forms of what the board's API gives."""

from __future__ import annotations
