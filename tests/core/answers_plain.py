"""Answers of the core as mappings, lists, numbers and words, to be written down."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from typing import Any

import numpy as np

from rasante.core.quantities.form import Form
from rasante.core.quantities.judgement import Judgement, Phrase
from rasante.core.quantities.units import System
from rasante.core.scaling.chain import Chain
from rasante.core.tanks.tank import Tank
from rasante.core.tanks.tank_file import TankFile
from rasante.core.wiring.circuit import Circuit

from .said import said


def plain(value: Any, system: System = "metric") -> Any:
    """An answer as mappings, lists, numbers and words; what is large and known stays out."""
    match value:
        case Judgement():
            return f"{value.weight} {value.code}: {said(value, system)}"
        case Phrase():
            return said(value, system)
        case Tank() | TankFile() | Circuit() | Chain() | Form():
            return None
        case np.ndarray():
            return plain(value.tolist(), system)
        case np.generic():
            return plain(value.item(), system)
        case float() if np.isnan(value) or value in (float("inf"), float("-inf")):
            return str(value)
        case Mapping():
            return {str(key): plain(one, system) for key, one in value.items()}
        case list() | tuple():
            return [plain(one, system) for one in value]
        case set() | frozenset():
            return sorted(map(str, value))
        case _ if dataclasses.is_dataclass(value) and not isinstance(value, type):
            there = {one.name: getattr(value, one.name) for one in dataclasses.fields(value) if one.repr}
            return {key: plain(one, system) for key, one in there.items()}
        case str() | bool() | int() | float() | None:
            return value
    return str(value) if not callable(value) else None
