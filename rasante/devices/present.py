"""How rescalings are written for the API."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..core.devices.rescale import Rescale


def rescale(found: Rescale) -> dict[str, Any]:
    """Write what a change asks for."""
    return {
        "changes": [asdict(change) for change in found.changes],
        "level_mm": found.level_m * 1000,
        "right": found.right,
        "forgotten": found.forgotten,
        "ratio": found.ratio,
        "rounding_mm": found.rounding_m * 1000,
    }
