"""How rescalings are written for the API."""

from __future__ import annotations

from ..core.devices.rescale import Rescale
from . import answers


def rescale(found: Rescale) -> answers.Rescale:
    """Write what a change asks for."""
    return answers.Rescale(
        changes=list(found.changes),
        level_mm=found.level_m * 1000,
        right=found.right,
        forgotten=found.forgotten,
        ratio=found.ratio,
        rounding_mm=found.rounding_m * 1000,
    )
