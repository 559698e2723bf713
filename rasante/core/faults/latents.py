"""What several readings of one installation share: where in its cell a fault's value and the level are, and what each
instrument is off by, all at one.
"""

from __future__ import annotations

from functools import cache

from .fault_test import shared_accuracies

#: Where a fault's value and the level are within their cells, by standard deviations of half a cell.
VALUE, LEVEL = 0, 1
#: By how much of a cell's width its values are taken to lie about its middle, as a standard deviation: normal
#: distributions so wide, a cell apart, add up to an even density (within 2 %).
CELL_SD = 0.5


@cache
def latent_names() -> tuple[str, ...]:
    """Every latent variable, in the order of the cells' state: ``value``, ``level``, then what instruments share."""
    return ("value", "level", *shared_accuracies())


@cache
def latent(name: str) -> int:
    """The place of a latent variable in the cells' state."""
    return latent_names().index(name)
