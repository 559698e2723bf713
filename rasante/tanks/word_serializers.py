"""The forms of the words and units that the screens are built from."""

from __future__ import annotations
