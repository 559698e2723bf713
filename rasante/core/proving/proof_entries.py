"""The entries of a proof: their form, apart from what is typed in them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from ..quantities.errors import InputError, Problem
from ..quantities.units import System
from ..scaling.chain import Chain
from ..scaling.chain_line import readable
from ..scaling.chain_values import value_text
from .places import APPLIED, CELLS, POINTS, READ


def usual_points(chain: Chain, applied_as: str, system: System) -> list[str]:
    """Return what is usually applied at the five points, as it is written in a proof.

    Parameters
    ----------
    chain : Chain
        What is to be proved.
    applied_as : str
        A station of the chain: its signal from end to end in four equal steps, and what those give further on; the
        sensor's own range likewise; levels from a tenth to nine tenths of what can be read.
    system : {"metric", "us"}
        The units that lengths and pressures are written in.

    Returns
    -------
    list of str
        Five texts that `read_value` reads back.
    """
    signal = chain.signal
    if applied_as == "sensed":
        values = np.linspace(chain.sensor.range_low, chain.sensor.range_high, POINTS)
    elif signal is not None and applied_as != "level":
        values = np.linspace(signal.low, signal.high, POINTS)
        if applied_as not in ("sent", "arriving"):
            values = chain.forward("arriving", applied_as, values)
    else:
        low, high = readable(chain)
        values = np.round(low + (high - low) * np.linspace(0.1, 0.9, POINTS), 3)
        if applied_as != "level":
            values = chain.forward("level", applied_as, values)
    return [value_text(chain, applied_as, float(value), system) for value in values]


def blank_proof(chain: Chain | None = None, system: System = "metric") -> dict[str, Any]:
    """Return the entries of a proof that nothing has been read into.

    Parameters
    ----------
    chain : Chain or None
        What is to be proved: its signal at five values from end to end against what its screen shows; a chain that
        sends none by five levels.
    system : {"metric", "us"}
        The units of what is applied.
    """
    applied_as = "arriving" if chain is None or chain.signal is not None else "level"
    texts = [""] * POINTS if chain is None else usual_points(chain, applied_as, system)
    return {
        "applied_as": applied_as,
        "read_as": "shown",
        "tolerance": "0.5 %",
        "points": [{"applied": text, **dict.fromkeys(CELLS, "")} for text in texts],
        "dip": {"kind": "innage", "measured": "", "indicated": "", "tolerance": "10 mm"},
        "control_in_manual": False,
        "control_restored": False,
        "remarks": "",
    }


def check_entries(entries: Any) -> dict[str, Any]:
    """Check the form of a proof's entries, not what is typed in them.

    Returns
    -------
    dict
        The entries with every key there, as `blank_proof` has them.

    Raises
    ------
    InputError
        If a key is not known, a choice is none of the offered, or a text is longer than people type.
    """
    if not isinstance(entries, Mapping):
        raise InputError.at("entries", "must be an object")
    whole = blank_proof()
    problems = [Problem(f"entries.{key}", "this key is not known here") for key in entries if key not in whole]
    whole.update({key: value for key, value in entries.items() if key in whole})
    for key, known in (("applied_as", APPLIED), ("read_as", READ)):
        if not isinstance(whole[key], str) or whole[key] not in known:
            problems.append(Problem(f"entries.{key}", f"must be one of {', '.join(known)}"))
    for key in ("control_in_manual", "control_restored"):
        if not isinstance(whole[key], bool):
            problems.append(Problem(f"entries.{key}", "must be true or false"))
    problems += _check_texts({"tolerance": whole["tolerance"]}, ("tolerance",), "entries", 60)
    problems += _check_texts({"remarks": whole["remarks"]}, ("remarks",), "entries", 2000)
    problems += _check_texts(whole["dip"], ("kind", "measured", "indicated", "tolerance"), "entries.dip", 60)
    points = whole["points"]
    if not isinstance(points, list) or len(points) != POINTS:
        problems.append(Problem("entries.points", f"must be a list of {POINTS} points"))
    else:
        for index, point in enumerate(points):
            problems += _check_texts(point, ("applied", *CELLS), f"entries.points[{index}]", 60)
    if problems:
        raise InputError(*problems)
    return whole


def _check_texts(value: Any, keys: tuple[str, ...], where: str, longest: int) -> list[Problem]:
    if not isinstance(value, Mapping) or set(value) - set(keys):
        return [Problem(where, f"must have the keys {', '.join(keys)} and no others")]
    return [
        Problem(f"{where}.{key}", f"must be text of at most {longest} characters")
        for key in keys
        if not isinstance(value.get(key, ""), str) or len(value.get(key, "")) > longest
    ]
