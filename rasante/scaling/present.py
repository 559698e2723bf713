"""How transmitters, the line and proofs are written for the API: millimetres, litres and milliamperes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from ..core.scaling.line import LineReading
from ..core.scaling.proof import READ, Proof, Worst
from ..core.scaling.proof_entries import CURRENTS_MA
from ..core.scaling.transmitter import MEASURING_A, Transmitter
from ..core.tanks.table import curve_nodes
from ..core.tanks.tank import Tank
from ..core.tanks.tank_file import TankFile
from ..core.tanks.uncertainty import volume_uncertainty
from ..core.units import System, show


def _mm(value: float | None) -> float | None:
    return None if value is None else value * 1000


def line(reading: LineReading) -> dict[str, Any]:
    """Write what reads at the line."""
    return {
        "innage_mm": reading.innage_m * 1000,
        "ullage_mm": reading.ullage_m * 1000,
        "volume_l": reading.volume_m3 * 1000,
        "u95_l": _mm(reading.u95_m3),
        "volume_pct": reading.volume_ratio * 100,
        "linear_pct": reading.linear_ratio * 100,
        "surface_m2": reading.surface_m2,
        "sensed_mm": _mm(reading.sensed_m),
        "current_ma": _mm(reading.current_a),
        "signal_ma": _mm(reading.signal_a),
    }


def curve(file: TankFile, transmitter: Transmitter | None) -> dict[str, Any]:
    """Write the nodes from which a screen follows the line without asking."""
    innage, volume, surface = curve_nodes(file.tank)
    u95 = volume_uncertainty(file, innage)
    return {
        "innage_mm": innage * 1000,
        "volume_l": volume * 1000,
        # One square metre of surface is one litre a millimetre.
        "slope_l_per_mm": surface,
        "u95_l": None if u95 is None else u95 * 1000,
        "sensed_mm": None if transmitter is None else transmitter.sensed(file.tank, innage) * 1000,
        "current_ma": None if transmitter is None else transmitter.current(file.tank, innage) * 1000,
        "measuring_ma": [limit * 1000 for limit in MEASURING_A],
        "inside_height_mm": file.tank.inside_height * 1000,
        "reference_height_mm": file.tank.reference_height_m * 1000,
        "capacity_l": file.tank.capacity * 1000,
    }


def marks(transmitter: Transmitter, tank: Tank) -> list[dict[str, float]]:
    """Write the levels that the five usual currents stand for."""
    return [
        {"current_ma": float(ma), "innage_mm": float(transmitter.innage(tank, ma / 1000)) * 1000}
        for ma in CURRENTS_MA
    ]


def _worst(worst: Worst | None) -> dict[str, Any] | None:
    if worst is None:
        return None
    return {
        "point": worst.point + 1,
        "direction": worst.direction,
        "value_mm": worst.value_m * 1000,
        "value_pct": worst.value_ratio * 100,
    }


def proof_result(
    proof: Proof, entries: Mapping[str, Any], tank: Tank, transmitter: Transmitter, system: System
) -> dict[str, Any]:
    """Write what was made of a proof."""
    span = transmitter.span_m
    quantity = READ[entries["read_as"]][1]
    points = [
        {
            "should_read": "" if point.expected_read is None else show(point.expected_read, quantity, system),
            "innage_mm": _mm(point.expected_innage_m),
            "cells": {
                name: {"error_mm": c.error_m * 1000, "error_pct": c.error_ratio * 100, "passes": c.passes}
                for name, c in point.cells.items()
            },
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
        "tolerance_pct": None if proof.tolerance_m is None else proof.tolerance_m / span * 100,
        "span_mm": span * 1000,
        "points": points,
        "runs": runs,
        "dip": dip,
        "verdict": proof.verdict,
        "problems": [{"where": problem.where, "what": problem.what} for problem in proof.problems],
        "missing": list(proof.missing),
        "capacity_l": float(np.asarray(tank.capacity)) * 1000,
    }
