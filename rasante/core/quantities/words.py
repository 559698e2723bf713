"""Words: the one place where numbers in SI become text in somebody's units."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from string import Formatter
from typing import Any

from .judgement import Judgement, Number, Phrase
from .odd_units import show_temperature
from .units import SYSTEM_UNITS, UNITS, System, show

#: Lengths from here on are written in metres or feet where a long one is asked for [m].
_LONG_M = 20.0
#: Lengths below it are small differences and steps, told to a tenth of a millimetre [m].
_SHORT_M = 0.01


class _Writer(Formatter):
    """Fills the places of a sentence; ``{x:length}`` is written in the units of one system."""

    def __init__(self, system: System) -> None:
        self.system = system

    def format_field(self, value: Any, format_spec: str) -> str:
        """Write one number: by its quantity where that is named, as Python formats it otherwise."""
        if format_spec == "run":
            return run_text(float(value), self.system)
        if format_spec == "length":
            return tape_text(float(value), self.system)
        if format_spec == "temperature":
            return show_temperature(float(value), self.system)
        if format_spec in SYSTEM_UNITS[self.system]:
            return show(float(value), format_spec, self.system)
        return str(super().format_field(value, format_spec))


def tape_text(metres: float, system: System) -> str:
    """Write a length as a tape carries it: to the millimetre, a short one to a tenth; in inches to a hundredth."""
    if system == "metric" and abs(metres) >= _SHORT_M:
        # Half a millimetre goes up, as the screen writes it; the dust of a factor decides nothing.
        whole = int(round(abs(metres) * 1000, 6) + 0.5)
        return f"{'-' if metres < 0 else ''}{whole} {UNITS['mm'].name}"
    return show(metres, "length", system)


def run_text(metres: float, system: System) -> str:
    """Write a cable run or another length that nobody measures to the millimetre: to a tenth of a metre or a foot."""
    unit = UNITS["m" if system == "metric" else "ft"]
    size = metres / unit.si
    return f"{size:.0f} {unit.name}" if abs(size) >= _LONG_M else f"{size:.1f} {unit.name}"


def places_by(half: float, decimals: int) -> int:
    """Count the places that a half-width bears: two digits that count, and at most one beyond a reading's own.

    Parameters
    ----------
    half : float
        The half-width, in any unit; 0 says nothing.
    decimals : int
        Places that a reading in that unit is shown with.

    Returns
    -------
    int
        Places; below 0 for tens and hundreds.
    """
    if half == 0:
        return decimals
    return min(1 - int(f"{abs(half):.1e}".partition("e")[2]), decimals + 1)


@dataclass(frozen=True)
class Words:
    """Writes SI values, and sentences with such values in them, in one system's units.

    Parameters
    ----------
    system : {"metric", "us"}
        Whose units.
    """

    system: System

    def length(self, metres: float) -> str:
        """Write a length."""
        return show(metres, "length", self.system)

    def volume(self, m3: float) -> str:
        """Write a volume."""
        return show(m3, "volume", self.system)

    def worth(self, m3: float, u95_m3: float | None = None) -> str:
        """Write a volume to what it is worth: to the second digit of its half-width, or to four digits without one.

        Parameters
        ----------
        m3, u95_m3 : float, float or None
            The volume and its half-width at k = 2 [m³].

        References
        ----------
        JCGM 100:2008, 7.2.6: at most two significant digits for an expanded uncertainty, and the estimate rounded to
        go with it.
        """
        unit = UNITS[SYSTEM_UNITS[self.system]["volume"]]
        value, half = m3 / unit.si, None if u95_m3 is None else u95_m3 / unit.si
        places = places_by(half or abs(value) / 100 or 10.0, unit.decimals)
        text = f"{round(value, places):.{max(places, 0)}f}"
        if half:
            text += f" ± {round(half, places):.{max(places, 0)}f}"
        return f"{text} {unit.name}"

    def fill(self, sentence: str, numbers: Mapping[str, Number]) -> str:
        """Fill the places of a sentence."""
        return _Writer(self.system).vformat(sentence, (), dict(numbers))

    def say(self, said: Judgement | Phrase) -> str:
        """Write a judgement, or a phrase."""
        return self.fill(said.sentence, said.numbers)
