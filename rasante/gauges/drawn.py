"""How a gauge stands in the long section: kept with its plan, for every page of the tank."""

from __future__ import annotations

from typing import Any

from ..core.gauges.plan import GaugePlan


def _mm(metres: float | None) -> float | None:
    return None if metres is None else round(metres * 1000, 6)


def drawn_gauge(plan: GaugePlan) -> dict[str, Any] | None:
    """Write how a gauge stands in the long section; None before one is chosen."""
    if plan.model is None:
        return None
    there, foot = plan.there, None
    if plan.probe is not None:
        foot = there.floor_m + plan.probe.gap_m
    elif plan.cable is not None:
        foot = there.floor_m + plan.cable.off_floor_m
    elif plan.rods is not None:
        foot = min(rod.tip_m for rod in plan.rods.rods)
    elif plan.model.kind.mount == "inside":
        foot = there.floor_m
    return {
        "mount": plan.model.kind.mount,
        "x_mm": _mm(there.x_m),
        "face_mm": _mm(there.face_m),
        "floor_mm": _mm(there.floor_m),
        "foot_mm": _mm(foot),
        "blanking_mm": _mm(plan.model.blanking_m),
    }
