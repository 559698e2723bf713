"""What was made of a proof, as it is shown and, once signed, frozen: millimetres and litres from SI."""

from __future__ import annotations

from typing import Any

from ..core.proving.result import VERDICTS, Cell, Proof, Worst
from ..core.tanks.tank import Tank


def _mm(value: float | None) -> float | None:
    return None if value is None else value * 1000


def _worst(worst: Worst | None) -> dict[str, Any] | None:
    if worst is None:
        return None
    return {
        "point": worst.point + 1,
        "direction": worst.direction,
        "value_mm": worst.value_m * 1000,
        "value_pct": worst.value_ratio * 100,
    }


def _cell(cell: Cell) -> dict[str, Any]:
    split = cell.split
    return {
        "error_mm": cell.error_m * 1000,
        "error_pct": cell.error_ratio * 100,
        "passes": cell.passes,
        "split": None
        if split is None
        else {
            "table_l": split.table_m3 * 1000,
            "points_l": split.points_m3 * 1000,
            "instrument_l": split.instrument_m3 * 1000,
        },
    }


def with_words(result: dict[str, Any]) -> dict[str, Any]:
    """A result, as it stands or as it was frozen, with its verdicts in words."""
    runs = {name: {**run, "says": VERDICTS[run["verdict"]]} for name, run in result["runs"].items()}
    return {**result, "runs": runs, "says": VERDICTS[result["verdict"]]}


def result_document(proof: Proof, tank: Tank) -> dict[str, Any]:
    """Write what was made of a proof."""
    points = [
        {
            "should_read": point.expected_read,
            "innage_mm": _mm(point.expected_innage_m),
            "cells": {name: _cell(cell) for name, cell in point.cells.items()},
        }
        for point in proof.points
    ]
    runs = {
        name: {
            "verdict": run.verdict,
            "worst": _worst(run.worst),
            "hysteresis": _worst(run.hysteresis),
            "zero_mm": _mm(run.zero_m),
            "full_mm": _mm(run.full_m),
            "rest_mm": _mm(run.rest_m),
        }
        for name, run in proof.runs.items()
    }
    dip = None
    if proof.dip is not None:
        dip = {
            "dipped_mm": proof.dip.dipped_m * 1000,
            "indicated_mm": proof.dip.indicated_m * 1000,
            "difference_mm": proof.dip.difference_m * 1000,
            "difference_l": proof.dip.difference_m3 * 1000,
            "difference_pct": proof.dip.difference_ratio * 100,
            "passes": proof.dip.passes,
        }
    return {
        "tolerance_mm": _mm(proof.tolerance_m),
        "tolerance_pct": None if proof.tolerance_m is None else proof.tolerance_m / proof.span_m * 100,
        "span_mm": proof.span_m * 1000,
        "points": points,
        "runs": runs,
        "dip": dip,
        "verdict": proof.verdict,
        "problems": [{"where": problem.where, "what": problem.what} for problem in proof.problems],
        "missing": list(proof.missing),
        "capacity_l": tank.capacity * 1000,
    }
