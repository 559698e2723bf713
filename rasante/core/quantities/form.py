"""Fields as people type them, read one by one: what each was understood as, what is kept, and what is wrong."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal, overload

from .errors import InputError, Problem
from .odd_units import ODD
from .typed import read_number, read_quantity, with_unit
from .units import UNITS, System, show, show_in

State = Literal["empty", "read", "wrong"]


@dataclass(frozen=True)
class FormField:
    """One field.

    Parameters
    ----------
    path : str
        Its name.
    state : {"empty", "read", "wrong"}
        Whether anything is typed, and whether it was accepted.
    kept : str
        What was typed, with its unit added if it had none.
    says : str
        What it was understood as, in both systems' units.
    problem : str
        What is wrong with it and what to do.
    usual : str
        What stands where nothing is typed; empty where nothing does.
    """

    path: str
    state: State
    kept: str = ""
    says: str = ""
    problem: str = ""
    usual: str = ""


class Form:
    """Reads text by path; problems stay at their fields, and reading goes on.

    Parameters
    ----------
    entries : mapping of str to str
        What was typed.
    system : {"metric", "us"}
        What a bare number means.
    start : mapping of str to str, optional
        What stands where nothing is typed, with its units.

    Notes
    -----
    A field that was asked for stands in `fields`, typed or not: those are the fields that apply.
    """

    def __init__(self, entries: Mapping[str, str], system: System, start: Mapping[str, str] | None = None) -> None:
        self.entries, self.system, self.start = entries, system, start or {}
        self.fields: dict[str, FormField] = {}

    def stand_in(self, path: str, usual: str) -> None:
        """Say what stands in a field that was read where nothing is typed; what it starts from goes before."""
        if usual and not self.fields[path].usual:
            self.fields[path] = replace(self.fields[path], usual=usual)

    def _given(self, path: str) -> tuple[str, bool]:
        """What is typed in a field, or what it starts from; and whether it was typed."""
        typed = str(self.entries.get(path, ""))
        return (typed, True) if typed.strip() else (self.start.get(path, ""), False)

    def _put(self, field: FormField, typed: bool) -> None:
        start = self.start.get(field.path, "")
        if field.state == "read" and not typed:
            # Nothing is typed: what was read is what stands in.
            field = FormField(field.path, "empty", usual=start)
        self.fields[field.path] = replace(field, usual=start)

    @property
    def problems(self) -> list[Problem]:
        """Everything that is wrong, at its field."""
        return [Problem(field.path, field.problem) for field in self.fields.values() if field.state == "wrong"]

    @property
    def kept(self) -> dict[str, str]:
        """What is worth keeping of what was typed, units named."""
        return {path: field.kept for path, field in self.fields.items() if field.kept}

    def require(self) -> None:
        """Raise `InputError` with all that is wrong, if anything is."""
        if self.problems:
            raise InputError(*self.problems)

    def text(self, path: str, longest: int = 200) -> str:
        """Read plain text."""
        given, typed = self._given(path)
        given = given.strip()
        if len(given) > longest:
            problem = f"must be at most {longest} characters long"
            self._put(FormField(path, "wrong", given, problem=problem), typed)
            return given[:longest]
        self._put(FormField(path, "read" if given else "empty", given), typed)
        return given

    def choice(self, path: str, options: Mapping[str, str], default: str = "") -> str:
        """Read one of some options, by its key; `default` where nothing is chosen."""
        given, typed = self._given(path)
        chosen = given.strip()
        if chosen and chosen not in options:
            known = ", ".join(options)
            self._put(FormField(path, "wrong", problem=f"“{chosen[:24]}” is not one of {known}"), typed)
        else:
            self._put(FormField(path, "read" if chosen else "empty", chosen, options.get(chosen, "")), typed)
        self.stand_in(path, default)
        return chosen if chosen in options else default

    def flag(self, path: str, default: bool = False) -> bool:
        """Read a yes or no."""
        return self.choice(path, {"yes": "yes", "no": "no"}, "yes" if default else "no") == "yes"

    def blame(self, path: str, what: str) -> None:
        """Lay a problem at a field."""
        old = self.fields.get(path, FormField(path, "empty"))
        self.fields[path] = replace(old, state="wrong", says="", problem=what)

    def _read(
        self,
        path: str,
        read: Callable[[str], float],
        keep: Callable[[str], str],
        says: Callable[[float], str],
        least: float | None,
        most: float | None,
    ) -> float | None:
        given, typed = self._given(path)
        if not given.strip():
            self._put(FormField(path, "empty"), typed)
            return None
        try:
            value = read(given)
            if least is not None and value < least:
                raise InputError.at(path, f"must be at least {says(least)}")
            if most is not None and value > most:
                raise InputError.at(path, f"must be at most {says(most)}")
        except InputError as error:
            self._put(FormField(path, "wrong", given, problem=error.problems[0].what), typed)
            return None
        self._put(FormField(path, "read", keep(given), says(value)), typed)
        return value

    @overload
    def quantity(
        self, path: str, quantity: str, least: float | None = ..., most: float | None = ..., *, usual: float
    ) -> float: ...

    @overload
    def quantity(
        self, path: str, quantity: str, least: float | None = ..., most: float | None = ..., *, usual: None = ...
    ) -> float | None: ...

    def quantity(
        self,
        path: str,
        quantity: str,
        least: float | None = 0.0,
        most: float | None = None,
        *,
        usual: float | None = None,
    ) -> float | None:
        """Read a quantity held to bounds.

        Parameters
        ----------
        path : str
            The field.
        quantity : str
            As `typed.read_quantity`, and so is the unit of what is returned.
        least, most : float or None
            Bounds, in that unit; None for none.
        usual : float or None
            What is taken where nothing is typed or it is wrong, in that unit.

        Returns
        -------
        float or None
            The quantity, or else `usual`.
        """
        value = self._read(
            path,
            lambda typed: read_quantity(typed, quantity, self.system, path),
            lambda typed: with_unit(typed, quantity, self.system),
            lambda value: understood(value, quantity),
            least,
            most,
        )
        if usual is None:
            return value
        self.stand_in(path, usual_text(usual, quantity, self.system))
        return usual if value is None else value

    def number(self, path: str, least: float | None = 0.0, most: float | None = None, unit: str = "") -> float | None:
        """Read a number without a unit, or with `unit` behind it."""

        def read(typed: str) -> float:
            bare = typed.strip()
            return read_number(bare[: -len(unit)] if unit and bare.casefold().endswith(unit.casefold()) else bare)

        return self._read(path, read, str.strip, lambda value: f"{value:g} {unit}".strip(), least, most)

    def count(self, path: str, column: str, most: int) -> int:
        """Count the rows typed under ``path[i].column``."""
        pattern = re.compile(re.escape(path) + r"\[(\d{1,4})\]\." + re.escape(column))
        found = [int(match[1]) for match in map(pattern.fullmatch, self.entries) if match]
        return min(max(found, default=-1) + 1, most)


def usual_text(value: float, quantity: str, system: System) -> str:
    """Write what stands where nothing is typed, in the units of one system."""
    if quantity in ODD:
        return understood(value, quantity)
    if quantity == "resistance" and value >= 1000.0:
        return show_in(value, UNITS["megohm" if value >= 1e6 else "kohm"])
    return show(value, quantity, system)


#: Quantities whose value is already in the unit that they are said in.
_KEPT_AS_SAID = ("slope", "temperature", "density", "angle", "wire")
_PAIRS = {"length": ("mm", "in"), "volume": ("l", "usgal"), "pressure": ("bar", "psi")}


def understood(value: float, quantity: str) -> str:
    """Write what a quantity was understood as: in both systems' units where people use both."""
    if quantity in ODD:
        odd = ODD[quantity]
        unit = odd.bare["metric"]
        size = value if quantity in _KEPT_AS_SAID else value / odd.units[unit.lower()](1.0)
        return f"{size:.4g}{'' if unit == '°' else ' '}{unit}"
    if quantity == "length" and abs(value) >= 20.0:
        return " · ".join(show_in(value, UNITS[key]) for key in ("m", "ft"))
    if quantity in _PAIRS:
        return " · ".join(show_in(value, UNITS[key]) for key in _PAIRS[quantity])
    return show_in(value, next(unit for unit in UNITS.values() if unit.quantity == quantity))
