"""How tanks and tables are written for the API and for files: millimetres and litres from metres."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import Any

import numpy as np
import orjson

from ..core.products.cautions import cautions_for
from ..core.products.correction import STANDARD_NAMES
from ..core.products.liquid import Liquid
from ..core.products.registry import product_of
from ..core.quantities.judgement import Judgement
from ..core.quantities.odd_units import show_density, show_temperature
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.tanks.device_points import DevicePoints
from ..core.tanks.helpers import Dip
from ..core.tanks.kinds import SHAPES
from ..core.tanks.limits import limits_of
from ..core.tanks.polygon import find_crossing
from ..core.tanks.solve import Solution
from ..core.tanks.tank import Tank as CoreTank
from ..core.tanks.tank_file import TankFile, check_document
from . import answers
from .columns import LITRE, MM, rounded


def judgements(found: Iterable[Judgement], system: System) -> list[answers.Judgement]:
    """Write judgements in somebody's units, each with its number and its limit in SI."""
    w = Words(system)
    return [
        answers.Judgement(weight=one.weight, code=one.code, text=w.say(one), value=one.value, limit=one.limit)
        for one in found
    ]


def drawing(tank: CoreTank, document: dict[str, Any]) -> answers.Drawing:
    """Write what the section drawing needs [mm]."""
    outline = tank.shape.outline()
    return answers.Drawing(
        kind=tank.shape.kind,
        along_mm=np.round(outline.along * 1000, 3).tolist(),
        across_mm=np.round(outline.across * 1000, 3).tolist(),
        seams_mm=np.round(np.array(outline.seams).reshape(-1, 2, 2) * 1000, 3).tolist(),
        inside_height_mm=tank.inside_height * 1000,
        reference_height_mm=round(tank.reference_height_m * 1000, 9),
        gauge_position_mm=document.get("gauge_position_mm", outline.gauge_x * 1000),
        slope_mm_per_m=document.get("slope_mm_per_m", 0),
        upright=not SHAPES[tank.shape.kind].sloping,
        deadwood_mm=[[part["from_mm"], part["to_mm"]] for part in document.get("deadwood", [])],
    )


def facts(file: TankFile) -> answers.Facts:
    """Write what is true of a whole tank."""
    return _facts(orjson.dumps(file.document))


@lru_cache(maxsize=1024)
def _written_facts(document: bytes) -> orjson.Fragment:
    return orjson.Fragment(orjson.dumps(_facts(document), option=orjson.OPT_SERIALIZE_NUMPY))


def written_facts(document: Mapping[str, Any]) -> orjson.Fragment:
    """The facts of a tank by its document, as JSON already: a list writes the same ones again and again."""
    return _written_facts(orjson.dumps(document))


@lru_cache(maxsize=1024)
def _facts(document: bytes) -> answers.Facts:
    # Lists of tanks show the same documents again and again: what does not change is worked out once.
    file = check_document(orjson.loads(document))
    return answers.Facts(
        name=file.name,
        product=file.product,
        pattern=product_of(file.product).pattern,
        capacity_l=file.tank.capacity * 1000,
        inside_height_mm=file.tank.inside_height * 1000,
        limits=limits(file.tank),
        drawing=drawing(file.tank, dict(file.document)),
        cautions=cautions_for(file.product),
    )


def solution(found: Solution) -> answers.Solution:
    """Write a dimension found from the capacity, and how far it moves with each input."""
    return answers.Solution(
        path=found.path,
        label=found.label,
        value_mm=found.value_mm,
        half_width_mm=_finite(found.half_width_mm),
        movements=[answers.Movement(m.label, m.half_width, m.unit, _finite(m.moves_mm)) for m in found.movements],
    )


def _finite(value: float) -> float | None:
    return value if np.isfinite(value) else None


def dip(found: Dip, tank: CoreTank) -> answers.Dip:
    """Write a dip with what it stands for in the tank."""
    total, water = (float(tank.volume(level)) * 1000 for level in (found.level_m, found.water_m))
    water = water if found.water_m > 0 else 0.0
    return answers.Dip(
        level_mm=found.level_m * 1000,
        water_mm=found.water_m * 1000,
        total_l=total,
        water_l=water,
        product_l=total - water,
    )


def liquid(found: Liquid, system: System) -> answers.Liquid:
    """Write a liquid as it was understood."""
    return answers.Liquid(
        standard=STANDARD_NAMES[found.standard],
        density=show_density(found.density, system),
        density_in_tank=show_density(found.density_in_tank, system),
        temperature=show_temperature(found.temperature_c, system),
        correction=found.correction,
        water_mm=found.water_m * 1000,
        assumed=found.assumed,
    )


def device_points(points: DevicePoints, tank: CoreTank) -> answers.DevicePoints:
    """Write a device's points and the worst error of its lines."""
    return answers.DevicePoints(
        level_mm=rounded(points.levels_m, MM).tolist(),
        volume_l=rounded(points.volumes_m3, LITRE).tolist(),
        error_l=points.error_m3 * 1000,
        error_pct=points.error_m3 / tank.capacity * 100,
        error_at_mm=points.error_at_m * 1000,
    )


def crossing(document: Mapping[str, Any]) -> list[float] | None:
    """Tell where a traced section crosses itself, in its corners' own frame [mm]; None if it does not."""
    section = document.get("shape", {}).get("section", {})
    points = [(x / 1000, z / 1000) for x, z in section.get("points_mm", ())]
    found = find_crossing(points) if len(points) > 3 else None
    return None if found is None else [round(v * 1000, 3) for v in found[2]]


def limits(tank: CoreTank) -> answers.Limits:
    """Write the levels and volumes that bound a tank's use [mm], [L]."""
    found = limits_of(tank)
    return answers.Limits(
        brim_level_mm=found.brim_level_m * 1000,
        brim_l=found.brim_m3 * 1000,
        safe_level_mm=found.safe_level_m * 1000,
        safe_l=found.safe_m3 * 1000,
        filling_level_mm=_thousandfold(found.filling_level_m),
        filling_l=_thousandfold(found.filling_m3),
        outlet_level_mm=_thousandfold(found.outlet_level_m),
        unpumpable_l=found.unpumpable_m3 * 1000,
        usable_l=found.usable_m3 * 1000,
        below_gauge_l=found.below_gauge_m3 * 1000,
        above_gauge_l=found.above_gauge_m3 * 1000,
    )


def _thousandfold(value: float | None) -> float | None:
    return None if value is None else value * 1000
