"""How a dimension was measured, and what it may then be off by where nobody stated it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Method:
    """A way of measuring.

    Parameters
    ----------
    key, label : str
        Its tag in the tank file, and its name on the screen.
    least : float
        Half-width (k = 2) that it never gets below [mm].
    share : float
        Half-width by the length measured [1].
    """

    key: str
    label: str
    least: float
    share: float

    def half_width_mm(self, nominal_mm: float) -> float:
        """Half-width (k = 2) of a length measured this way [mm]."""
        return round(max(self.least, self.share * abs(nominal_mm)), 6)


#: Common practice with no published source: a plate's figures are nominal; a tape outside meets paint, seams and
#: sag; a tape inside meets only its own end; a strap goes round and divides what is read by π.
METHODS: dict[str, Method] = {
    method.key: method
    for method in (
        Method("data_plate", "Data plate or drawing", 10.0, 0.005),
        Method("tape_outside", "Tape, outside", 5.0, 0.001),
        Method("tape_inside", "Tape, inside", 3.0, 0.0005),
        Method("strapped", "Strapped", 1.0, 0.0002),
    )
}
#: Half-widths for what is no length, whatever it was measured with: slope by a good level, and points poured
#: through a meter. Common practice, no published source.
OTHER_HALF_WIDTHS = {"slope_mm_per_m": 1.0, "volume_pct": 0.5, "level_mm": 2.0}
BEST = "strapped"
BEST_WITHOUT_STRAP = "tape_inside"


def method_of(document: Mapping[str, Any], key: str) -> Method | None:
    """Return how a dimension was measured: by its own entry, or the one for all; None if nobody said."""
    ways: Mapping[str, str] = document.get("measured", {})
    return METHODS.get(ways.get(key, ways.get("all", "")))
