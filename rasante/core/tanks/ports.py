"""Openings in the top of a tank, and what must be true of them before a sensor takes one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..quantities.errors import InputError, Problem
from ..quantities.judgement import Judgement, good, stop, watch
from ..quantities.typed import read_quantity, with_unit
from ..quantities.units import System

#: What an opening can be used for, with the word on the screen.
USES: dict[str, str] = {
    "fill": "Fill",
    "vent": "Vent",
    "gauge": "Sensor or gauge",
    "draw": "Draw-off",
    "spare": "Unused",
}
MOST_PORTS = 24
_KEYS = {"name", "uses", "size", "position", "note"}


@dataclass(frozen=True)
class Port:
    """One opening.

    Parameters
    ----------
    name : str
        What people at the tank call it.
    uses : tuple of str
        What it is used for, keys of `USES`.
    size : str
        Its thread or bore as written on it.
    position : str
        Where along the tank, as typed.
    note : str
        Anything else.
    """

    name: str
    uses: tuple[str, ...]
    size: str = ""
    position: str = ""
    note: str = ""


def read_ports(value: Any) -> tuple[Port, ...]:
    """Check a list of openings.

    Raises
    ------
    InputError
        With each problem at ``ports[i].key``.
    """
    if not isinstance(value, list):
        raise InputError.at("ports", "must be a list of openings")
    if len(value) > MOST_PORTS:
        raise InputError.at("ports", f"has {len(value)} openings; at most {MOST_PORTS} are kept")
    problems: list[Problem] = []
    ports = []
    for index, item in enumerate(value):
        where = f"ports[{index}]"
        if not isinstance(item, Mapping) or set(item) - _KEYS:
            problems.append(Problem(where, f"must have the keys {', '.join(sorted(_KEYS))} and no others"))
            continue
        uses = item.get("uses", [])
        if not isinstance(uses, list) or any(use not in USES for use in uses) or not uses:
            problems.append(Problem(f"{where}.uses", f"choose at least one use: {', '.join(USES.values())}"))
            continue
        texts = {key: item.get(key, "") for key in ("name", "size", "position", "note")}
        long = [key for key, text in texts.items() if not isinstance(text, str) or len(text) > 200]
        problems.extend(Problem(f"{where}.{key}", "must be text of at most 200 characters") for key in long)
        if not long:
            ports.append(Port(uses=tuple(uses), **texts))
    if problems:
        raise InputError(*problems)
    return tuple(ports)


def read_position(text: str, system: System) -> tuple[float | None, str]:
    """Read where along the tank an opening is.

    Parameters
    ----------
    text : str
        A length from the left tangent line or wall, or words (``edge``).
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    float or None
        The position [mm]; None where it is said in words or not at all.
    str
        What was typed, with its unit added if it is a bare number.
    """
    try:
        position = read_quantity(text, "length", system) * 1000
    except InputError:
        return None, text
    return round(position, 9), with_unit(text, "length", system)


def judge_ports(ports: Sequence[Port]) -> list[Judgement]:
    """Judge the openings: a tank must breathe while it is filled and while a sensor stands in it.

    Common practice, no published source: the vent is never blocked, and an opening that both fills and holds
    the sensor is not a vent.
    """
    if not ports:
        return [watch("ports-unknown", "No openings are recorded: find the vent before choosing a port.")]
    found = []
    vents = [port for port in ports if "vent" in port.uses]
    if not vents:
        text = "No vent is recorded: an unvented tank must not be filled or emptied. Find it."
        found.append(stop("no-vent", text))
    for port in vents:
        others = [USES[use].lower() for use in port.uses if use not in ("vent", "spare")]
        if others:
            text = "{port} is also used for {others}: fit a wye, so that the vent is never blocked."
            found.append(watch("shared-vent", text, port=port.name or "The vent", others=" and ".join(others)))
    for port in ports:
        if "fill" in port.uses and "gauge" in port.uses:
            text = "{port} both fills and holds the sensor: fit a tee with a flapper, and count it as no vent."
            found.append(watch("shared-fill", text, port=port.name or "One opening"))
    return found or [good("vented", "The vent has an opening of its own.")]
