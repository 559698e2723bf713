"""Judgements: what the core thinks of a value, in words, with the number behind them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Weight = Literal["good", "watch", "stop"]


@dataclass(frozen=True)
class Judgement:
    """One judgement.

    Parameters
    ----------
    weight : {"good", "watch", "stop"}
        Fit to go on; go on with care; do not go on like this.
    code : str
        A short name for it, the same whatever the units.
    text : str
        The judgement with its number and what to do.
    """

    weight: Weight
    code: str
    text: str
