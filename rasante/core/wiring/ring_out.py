"""Ringing out a cable: from ohms between pins and conductors to which is which."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.errors import InputError, Problem
from ..quantities.typed import read_quantity

#: At most so much is a connection, and at least so much is none [Ω]; between them is doubtful. Common practice,
#: no published source.
JOINED_OHM, OPEN_OHM = 50.0, 1e6
MOST = 24
#: How people write that the meter shows nothing.
_NOTHING = {"ol", "o.l", "o.l.", "open", "∞", "inf", "—", "no"}


@dataclass(frozen=True)
class Finding:
    """What one pin is: the conductor it goes to, or why that cannot be said.

    Parameters
    ----------
    pin : str
        The pin.
    state : {"joined", "open", "short", "doubtful", "unread"}
        What was found.
    conductors : tuple of str
        The conductors that it is joined to; those in doubt of a doubtful one.
    says : str
        In words.
    """

    pin: str
    state: str
    conductors: tuple[str, ...]
    says: str


@dataclass(frozen=True)
class RingOut:
    """A cable rung out.

    Parameters
    ----------
    findings : tuple of Finding
        Pin by pin.
    swapped : tuple of (str, str)
        Pins whose conductors changed places against the drawing, in pairs.
    unused : tuple of str
        Conductors that were measured against every pin and go to none.
    """

    findings: tuple[Finding, ...]
    swapped: tuple[tuple[str, str], ...]
    unused: tuple[str, ...]


def read_ohms(text: str, where: str) -> float | None:
    """Read one cell: ohms, ``OL`` for nothing [inf], empty for not measured (None).

    Raises
    ------
    InputError
        At `where`.
    """
    typed = text.strip()
    if not typed:
        return None
    if typed.lower() in _NOTHING:
        return float("inf")
    value = read_quantity(typed, "resistance", "metric", where)
    if value < 0:
        raise InputError.at(where, "ohms are never below 0: zero the meter with its leads together")
    return value


def ring_out(
    pins: Sequence[str], conductors: Sequence[str], ohms: Sequence[Sequence[str]], drawn: Sequence[str] = ()
) -> RingOut:
    """Tell which conductor goes to which pin.

    Parameters
    ----------
    pins, conductors : sequence of str
        Their names.
    ohms : sequence of sequence of str
        What the meter showed, a row for each pin, as typed.
    drawn : sequence of str
        The conductor that the drawing has at each pin, if there is one.

    Raises
    ------
    InputError
        At ``ohms[i][j]``, or if there are too many.

    Notes
    -----
    At most 50 Ω is joined, 1 MΩ or more is open, what lies between is doubtful: moisture, a bad crimp, or a part in
    between. Where every pin has one conductor the assignment is read off; otherwise each pin says what hinders.
    """
    if not 1 <= len(pins) <= MOST or not 1 <= len(conductors) <= MOST:
        raise InputError.at("pins", f"1 to {MOST} pins and conductors can be rung out at once")
    if len(set(pins)) != len(pins) or len(set(conductors)) != len(conductors):
        raise InputError.at("pins", "two pins or two conductors have the same name: tell them apart")
    table = np.full((len(pins), len(conductors)), np.nan)
    problems: list[Problem] = []
    for i in range(len(pins)):
        row = ohms[i] if i < len(ohms) else ()
        for j in range(min(len(row), len(conductors))):
            try:
                value = read_ohms(row[j], f"ohms[{i}][{j}]")
            except InputError as error:
                problems.extend(error.problems)
                continue
            table[i, j] = np.nan if value is None else value
    if problems:
        raise InputError(*problems)
    joined = table <= JOINED_OHM
    doubtful = (table > JOINED_OHM) & (table < OPEN_OHM)
    findings = tuple(_finding(i, pins, conductors, table, joined, doubtful) for i in range(len(pins)))
    unused = tuple(name for j, name in enumerate(conductors) if bool(np.all(table[:, j] >= OPEN_OHM)))
    return RingOut(findings, _swapped(findings, drawn), unused)


def _finding(
    i: int,
    pins: Sequence[str],
    conductors: Sequence[str],
    table: np.ndarray,
    joined: np.ndarray,
    doubtful: np.ndarray,
) -> Finding:
    pin = pins[i]
    mine = [conductors[j] for j in map(int, np.flatnonzero(joined[i]))]
    unsure = [conductors[j] for j in map(int, np.flatnonzero(doubtful[i]))]
    if np.isnan(table[i]).all():
        return Finding(pin, "unread", (), "not measured yet")
    if len(mine) > 1:
        return Finding(pin, "short", tuple(mine), f"joined to {' and '.join(mine)}: they are shorted to one another")
    if mine:
        j = conductors.index(mine[0])
        others = [pins[k] for k in map(int, np.flatnonzero(joined[:, j])) if k != i]
        if others:
            return Finding(pin, "short", tuple(mine), f"{mine[0]} also goes to {' and '.join(others)}: a short")
        if unsure:
            shown = f"{table[i, conductors.index(unsure[0])]:.4g} Ω"
            return Finding(
                pin, "doubtful", tuple(mine), f"{mine[0]}, but {shown} to {unsure[0]}: leakage, look for water"
            )
        return Finding(pin, "joined", tuple(mine), f"{mine[0]}, {table[i, j]:.3g} Ω")
    if unsure:
        shown = f"{table[i, conductors.index(unsure[0])]:.4g} Ω"
        return Finding(pin, "doubtful", tuple(unsure), f"{shown} to {unsure[0]}: a bad crimp, or a part in between")
    if np.isnan(table[i]).any():
        return Finding(pin, "unread", (), "open so far: not measured against every conductor yet")
    return Finding(pin, "open", (), "open: no conductor goes to it")


def _swapped(findings: Sequence[Finding], drawn: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Pins whose conductors changed places against the drawing."""
    want = {f.pin: name for f, name in zip(findings, drawn, strict=False) if name}
    have = {f.pin: f.conductors[0] for f in findings if f.state == "joined"}
    pairs = []
    for first, one in have.items():
        for second, other in have.items():
            if first < second and want.get(first) == other and want.get(second) == one and one != other:
                pairs.append((first, second))
    return tuple(pairs)
