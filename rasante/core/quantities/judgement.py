"""Judgements: what the core thinks of a value, with the number behind it; the words are made where they are shown.

A judgement is written as a sentence with places for its numbers, each with its quantity: ``{value:length}`` is a
length in SI, and stands in millimetres or inches only once `words.Words` has written it for somebody.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

Weight = Literal["good", "watch", "stop"]
#: From the heaviest down: do not go on like this; go on with care; fit to go on.
WEIGHTS: tuple[Weight, ...] = ("stop", "watch", "good")
Number = float | int | str


@dataclass(frozen=True)
class Phrase:
    """Words with numbers in them, whose units are not chosen yet: ``order {stock:length} of cable``."""

    sentence: str = ""
    numbers: Mapping[str, Number] = field(default_factory=dict)


def phrase(sentence: str, **numbers: Number) -> Phrase:
    """Put numbers into words."""
    return Phrase(sentence, numbers)


@dataclass(frozen=True)
class Judgement:
    """One judgement.

    Parameters
    ----------
    weight : {"stop", "watch", "good"}
        Do not go on like this; go on with care; fit to go on.
    code : str
        A short name for it, the same whatever the units.
    sentence : str
        What is so and what to do about it, with a place for each number: ``{value:length}``.
    numbers : mapping of str to float or str
        The numbers, in SI, and names; ``value`` is what was judged and ``limit`` what it was judged by, where there
        are such.
    """

    weight: Weight
    code: str
    sentence: str
    numbers: Mapping[str, Number] = field(default_factory=dict)

    @property
    def value(self) -> float | None:
        """What was judged, in SI, if it is a number."""
        return _amount(self.numbers.get("value"))

    @property
    def limit(self) -> float | None:
        """What it was judged by, in SI, if it is a number."""
        return _amount(self.numbers.get("limit"))


def _amount(number: Number | None) -> float | None:
    return None if number is None or isinstance(number, str) else float(number)


def stop(code: str, sentence: str, **numbers: Number) -> Judgement:
    """Judge that nobody should go on like this."""
    return Judgement("stop", code, sentence, numbers)


def watch(code: str, sentence: str, **numbers: Number) -> Judgement:
    """Judge that it needs care."""
    return Judgement("watch", code, sentence, numbers)


def good(code: str, sentence: str, **numbers: Number) -> Judgement:
    """Judge that it is fit to go on."""
    return Judgement("good", code, sentence, numbers)


def by_weight(found: Iterable[Judgement]) -> list[Judgement]:
    """Return judgements with the heaviest first, each weight in the order in which they were found."""
    return sorted(found, key=lambda judgement: WEIGHTS.index(judgement.weight))


def stops(found: Iterable[Judgement]) -> list[Judgement]:
    """Return those that forbid going on."""
    return [judgement for judgement in found if judgement.weight == "stop"]
