"""Which gauge for this tank: every model judged, with its reasons, and ranked by what it would know of the volume."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from ..quantities.judgement import Judgement, by_weight
from ..tanks.uncertainty import volume_uncertainty
from .model import GaugeModel
from .situation import Situation
from .suit_rules import RULES, WATER, Case

#: The verdicts, best first.
VERDICTS: dict[str, str] = {"fits": "Fits", "fits_if": "Fits if", "no": "Does not fit"}
_LEVELS = 61


@dataclass(frozen=True)
class Part:
    """What one cause adds to a level's uncertainty: its name, and U alone at the worst level (k = 2) [m]."""

    name: str
    u95_m: float


@dataclass(frozen=True)
class Expected:
    """What a gauge would know of the volume at its worst working level.

    Parameters
    ----------
    u95_m3 : float
        Of the volume, the table's own included (k = 2) [m³].
    at_m : float
        At which innage [m].
    u95_level_m : float
        Of the level there (k = 2) [m].
    table_u95_m3 : float
        The table's own there [m³]; 0 where it states none.
    parts : tuple of Part
        Where the level's comes from, the largest first.
    """

    u95_m3: float
    at_m: float
    u95_level_m: float
    table_u95_m3: float
    parts: tuple[Part, ...]


@dataclass(frozen=True)
class Verdict:
    """A model judged: ``fits``, ``fits_if`` or ``no``, its reasons, and what it would know, if it can."""

    model: GaugeModel
    verdict: str
    reasons: tuple[Judgement, ...]
    expected: Expected | None


def level_parts(model: GaugeModel, there: Situation, innage: Array) -> dict[str, Array]:
    """What each cause adds to the uncertainty of a level (k = 2) [m], by its name, shape of `innage`.

    Notes
    -----
    Shares of the range and of the reading go by what the model senses: distance from its face, or the height of
    liquid above it; a pressure sensor's range is in water, and its reading goes with the liquid's density. Half of
    the spread between the lightest and the heaviest liquid, and half of the resolution, count as half-widths.
    """
    ones = np.ones_like(innage)
    per_range = model.range_m * (WATER / there.density_mean if model.kind.weighs else 1.0)
    sensed = np.maximum(there.face_m - innage, 0.0) if model.kind.senses == "distance" else innage
    off = max(abs(celsius - 20.0) for celsius in there.temperature_c)
    parts = {
        "accuracy": (model.accuracy_span * per_range + model.accuracy_m) * ones,
        "accuracy by reading": model.accuracy_reading * sensed,
        "temperature": model.temperature_span * per_range * off / 10 * ones,
        "resolution": model.resolution_m / 2 * ones,
    }
    if model.kind.weighs:
        low, high = there.density
        parts["density"] = (high - low) / (high + low) * innage
    return {name: part for name, part in parts.items() if np.any(part > 0)}


def expect(model: GaugeModel, there: Situation, levels: Array, surface: Array, table: Array) -> Expected | None:
    """Work out what a model would know of the volume; None for one that tells no level.

    Parameters
    ----------
    levels, surface, table : ndarray
        Working levels [m], the liquid's surface there [m²], and the table's own U there [m³], of one shape.

    References
    ----------
    .. [1] JCGM 100:2008, 5.1.2: independent causes combine by the root of the sum of their squares.
    """
    if model.kind.senses == "points":
        return None
    parts = level_parts(model, there, levels)
    level = np.sqrt(sum((part**2 for part in parts.values()), np.zeros_like(levels)))
    if model.kind.linear_share:
        level = np.maximum(level, model.kind.linear_share * there.tank.capacity / np.maximum(surface, 1e-9))
    volume = np.hypot(np.minimum(level * surface, there.tank.capacity), table)
    worst = int(np.argmax(volume))
    named = sorted((Part(name, float(part[worst])) for name, part in parts.items()), key=lambda p: -p.u95_m)
    return Expected(
        float(volume[worst]), float(levels[worst]), float(level[worst]), float(table[worst]), tuple(named)
    )


def judge_models(there: Situation, models: Sequence[GaugeModel]) -> list[Verdict]:
    """Judge models for a situation.

    Parameters
    ----------
    there : Situation
        What they meet.
    models : sequence of GaugeModel
        The models.

    Returns
    -------
    list of Verdict
        What fits before what fits if, and that before what does not; within each by the uncertainty of the volume
        at the worst working level, then by the minutes to install.
    """
    low, high = there.lowest_m, max(there.highest_m, there.lowest_m + 1e-6)
    levels = np.linspace(low, high, _LEVELS)
    surface = there.tank.surface(levels)
    stated = volume_uncertainty(there.file, levels, every=False)
    table = np.zeros_like(levels) if stated is None else stated
    found = []
    for model in models:
        case = Case(model, there)
        reasons = [reason for rule in RULES if (reason := rule(case)) is not None]
        weights = {reason.weight for reason in reasons}
        verdict = "no" if "stop" in weights else "fits_if" if "watch" in weights else "fits"
        reasons = by_weight(reasons)
        found.append(Verdict(model, verdict, tuple(reasons), expect(model, there, levels, surface, table)))
    ranks = list(VERDICTS)
    return sorted(
        found,
        key=lambda v: (
            ranks.index(v.verdict),
            v.expected.u95_m3 if v.expected else float("inf"),
            v.model.install_min,
            v.model.name,
        ),
    )
