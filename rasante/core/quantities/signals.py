"""Signals: the one list of what a level sensor may send, with its ends and limits, and of the outputs that send it.

A kind of signal is one row of ``signals.json``; models, circuits, chains, slopes and proofs all read it here.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from typing import Any


@dataclass(frozen=True)
class Signal:
    """A kind of signal; its numbers are in SI [A, V, or V by V].

    Parameters
    ----------
    key, name : str
        Its tag, and its name.
    quantity : str
        ``current``, ``voltage``, ``bridge`` (by the supply's volt), or empty where nothing is converted.
    low, high : float
        Its two ends.
    least, most : float
        What a working sensor sends at least and at most.
    fault_low, fault_high : float
        Where a reader takes the sensor for failed: at and below, at and above.
    source : str
        Where the limits come from.
    """

    key: str
    name: str
    quantity: str
    low: float
    high: float
    least: float
    most: float
    fault_low: float
    fault_high: float
    source: str

    @property
    def digital(self) -> bool:
        """Whether nothing is converted: the sensor's own number goes on."""
        return not self.quantity

    @property
    def span(self) -> float:
        """From its low to its high end."""
        return self.high - self.low

    @property
    def nothing(self) -> float:
        """What is read of it where no source drives it: no current, no voltage."""
        return 0.0

    @property
    def live_zero(self) -> bool:
        """Whether a broken wire can be told from an empty tank."""
        return self.nothing <= self.fault_low

    def fault(self, which: str) -> float:
        """What a failed sensor sends when it goes ``low`` or ``high``; without a live zero low is nothing."""
        if which == "high":
            return self.fault_high
        return self.fault_low if self.live_zero else self.nothing

    def by(self, ratio: float) -> Signal:
        """The signal of a bridge that gives so much at its high end [V by V]."""
        names = ("low", "high", "least", "most", "fault_low", "fault_high")
        return replace(self, **{name: getattr(self, name) * ratio for name in names})


@dataclass(frozen=True)
class Output:
    """How a sensor gives its signal.

    Parameters
    ----------
    name : str
        As it stands on a data sheet.
    signal : str
        The signal's key; empty for one that switches.
    link : str
        The kind of circuit that carries it.
    wires : int
        How many wires it takes.
    """

    name: str
    signal: str
    link: str
    wires: int


@cache
def _data() -> Any:
    return json.loads(resources.files(__package__).joinpath("signals.json").read_text("utf-8"))


def _signals() -> dict[str, Signal]:
    return {row["key"]: Signal(**row) for row in _data()["signals"]}


def _outputs() -> dict[str, Output]:
    return {row["name"]: Output(**row) for row in _data()["outputs"]}


SIGNALS: dict[str, Signal] = _signals()
OUTPUTS: dict[str, Output] = _outputs()


def link_of(output: str) -> str:
    """The kind of circuit that carries an output; empty for one that is not listed."""
    found = OUTPUTS.get(output)
    return found.link if found else ""
