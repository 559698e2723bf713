"""The flow meter against a container: its factor, how well it repeats, and pulses set anew."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from ..quantities.errors import InputError

#: The most that draws through a meter may differ by, by their mean [1], by its type: common practice, no published
#: source.
REPEATS = {"displacement": 0.0005, "turbine": 0.001, "pulse": 0.002}
#: What a meter of each type may be off by before it was held against anything, k = 2 [1]: common practice, no
#: published source.
UNPROVEN = {"displacement": 0.005, "turbine": 0.01, "pulse": 0.03}
METER_NAMES = {"displacement": "Positive displacement", "turbine": "Turbine", "pulse": "Small pulse meter"}


@dataclass(frozen=True)
class Factor:
    """What a meter's amounts are multiplied by.

    Parameters
    ----------
    factor : float
        True amount by metered amount [1].
    half : float
        What it may be off by, k = 2, as a share [1].
    spread : float
        Largest less smallest of the draws' factors, by their mean [1]; 0 for a single draw.
    repeats : bool
        Whether that is within what a meter of its type repeats to.
    limit : float
        That limit [1].
    draws : int
        How many draws it is of.
    """

    factor: float
    half: float
    spread: float
    repeats: bool
    limit: float
    draws: int


def meter_factor(
    metered_m3: Sequence[float],
    drawn_m3: Sequence[float],
    kind: str,
    container_half: float,
    expansion: float = 0.0,
    warmer_k: float = 0.0,
) -> Factor:
    """Find a meter's factor from draws into a measuring container.

    Parameters
    ----------
    metered_m3, drawn_m3 : sequence of float, shape (n,)
        What the meter said, and what stood in the container [m³].
    kind : str
        A key of `REPEATS`.
    container_half : float
        What the container may be off by, k = 2, as a share [1].
    expansion : float
        Volume expansion of the liquid [1/K].
    warmer_k : float
        How much warmer it was at the meter than in the container [K].

    Raises
    ------
    InputError
        Without a draw, or if an amount is not more than 0.

    Notes
    -----
    The mean of n draws is off by t·s/√n at 95 % (Student), with what the container may be off by as the root of the
    sum of squares, and no less than what its type repeats to by √n. What has cooled in the container took more
    room at the meter: V(1 + β ΔT). A single draw repeats as its type does.

    References
    ----------
    .. [1] JCGM 100:2008, 4.2 and G.3 (mean of repeated draws, Student's t).
    """
    metered, drawn = np.asarray(metered_m3, dtype=float), np.asarray(drawn_m3, dtype=float)
    if not len(metered) or metered.shape != drawn.shape:
        raise InputError.at("draws", "give what the meter said and what stood in the container, for each draw")
    if not (np.all(metered > 0) and np.all(drawn > 0)):
        raise InputError.at("draws", "every amount must be more than 0")
    found = drawn * (1 + expansion * warmer_k) / metered
    mean, count, limit = float(found.mean()), len(found), REPEATS[kind]
    spread = float(np.ptp(found)) / mean
    own = limit
    if count > 1:
        own = float(scipy.special.stdtrit(count - 1, 0.975) * found.std(ddof=1) / np.sqrt(count)) / mean
        # Draws that happen to be alike make no meter better than its type repeats.
        own = max(own, limit / np.sqrt(count))
    return Factor(mean, float(np.hypot(own, container_half)), spread, spread <= limit, limit, count)


def pulses_anew(pulses_per_m3: float, factor: float) -> float:
    """Return the pulses a m³ to set so that a meter says what is true [1/m³].

    Parameters
    ----------
    pulses_per_m3 : float
        As it is set now [1/m³].
    factor : float
        True amount by metered amount [1].
    """
    return pulses_per_m3 / factor
