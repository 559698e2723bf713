"""Readings along a scaling chain as they are typed, and in words what they tell of it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.errors import InputError
from ..quantities.form import Form, FormField
from ..quantities.units import System
from ..quantities.words import Words
from .agreement import hops_between
from .chain import STATIONS, Chain, Clip, Stick
from .chain_settings import write_setting
from .chain_values import read_value, value_text, words_at
from .edits import Edit, Set
from .parting import MOST_ROWS, Explanation, Parting, find_parting


@dataclass(frozen=True)
class PartingForm:
    """Readings as far as they have been typed, and what they tell.

    Parameters
    ----------
    form : Form
        The fields: ``rows[i].level`` and the other stations of the chain.
    rows : tuple of mapping
        What was read, by stations.
    parting : Parting
        What was found.
    says : str
        The same in a sentence or two.
    """

    form: Form
    rows: tuple[dict[str, float], ...]
    parting: Parting
    says: str


def read_parting(entries: Mapping[str, str], c: Chain, system: System, former: Sequence[Chain] = ()) -> PartingForm:
    """Read readings, and find where truth and reading part.

    Parameters
    ----------
    entries : mapping of str to str
        ``rows[i].station``: a bare number is in the station's own unit; a register is its words (``0x420A 0x6666``,
        ``16906 26214``) or its number.
    c : Chain
        The chain as it should be set.
    system : {"metric", "us"}
        What a bare level means, and the units of the words.
    former : sequence of Chain
        The chain as it was set before, newest first.

    Returns
    -------
    PartingForm
        Never raises for what is typed: problems stand at the fields.
    """
    form = Form(entries, system)
    count = count_rows(form)
    rows: list[dict[str, float]] = []
    for index in range(count):
        row = {}
        for station in c.stations:
            value = _read(form, c, station, f"rows[{index}].{station}")
            if value is not None:
                row[station] = value
        rows.append(row)
    parting = find_parting(c, rows, former)
    return PartingForm(form, tuple(rows), parting, _says(c, rows, parting, Words(system)))


def count_rows(form: Form) -> int:
    """Count the moments at which something is typed."""
    return max(form.count("rows", station, MOST_ROWS) for station in STATIONS)


def _read(form: Form, c: Chain, station: str, path: str) -> float | None:
    typed = str(form.entries.get(path, "")).strip()
    if not typed:
        form.fields[path] = FormField(path, "empty")
        return None
    try:
        value = read_value(c, station, typed, form.system)
    except InputError as error:
        form.fields[path] = FormField(path, "wrong", typed, problem=error.problems[0].what)
        return None
    says = value_text(c, station, value, form.system)
    if station == "words":
        says += f" ({words_at(c, value)})"
    form.fields[path] = FormField(path, "read", typed, says)
    return value


def hop_names(c: Chain, hops: Sequence[str]) -> str:
    """Name hops in a sentence."""
    names = [c.hop(hop).name.lower() for hop in hops]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"


def guess_text(c: Chain, explanation: Explanation, index: int, system: System) -> str:
    """Write one hypothesis of an explanation: what it would be, and what it should be."""
    guess, wrong = explanation.hypotheses[index], explanation.chains[index]
    parts = [_edit_text(c, wrong, edit, system) for edit in guess.edits]
    told = [part for part in parts if part]
    return f"{guess.why}: {'; '.join(told)}" if told else guess.why


def _edit_text(c: Chain, wrong: Chain, edit: Edit, system: System) -> str:
    if isinstance(edit, Set):
        one = c.known().get(edit.path) or wrong.known()[edit.path]
        # A value that was sought is worth no more digits than the readings that it comes from.
        value = float(f"{edit.value:.4g}") if isinstance(edit.value, float) and edit.value % 1 else edit.value
        there = write_setting(wrong, one[1], value, system)
        right = write_setting(c, one[1], c.settings()[edit.path], system)
        return f"{one[1].label.lower()} ({edit.path}) {there} instead of {right}" if there != right else ""
    if isinstance(edit, Stick):
        return f"{STATIONS[edit.station].lower()} stands at {value_text(c, edit.station, edit.value, system)}"
    if isinstance(edit, Clip):
        lower = math.isfinite(edit.low)
        end = edit.low if lower else edit.high
        before = c.stations[c.stations.index(edit.station) - 1]
        # Where the part would have been at that value, had it followed.
        from_ = value_text(c, before, float(c.backward(edit.station, before, np.array([end]))[0]), system)
        how = f"until {from_}" if lower else f"from {from_} on"
        return f"{STATIONS[edit.station].lower()} stand at {value_text(c, edit.station, end, system)} {how}"
    return ""


def _says(c: Chain, rows: Sequence[Mapping[str, float]], parting: Parting, w: Words) -> str:
    if not parting.stretches:
        return "Type what was read at two places of the chain at least; a dipped level makes one of them the truth."
    if not parting.hops:
        unread = [hop for hop, state in parting.judged.items() if state == "unread"]
        made = f"{len(parting.stretches)} comparison{'s' if len(parting.stretches) != 1 else ''}"
        text = f"Nothing parts beyond what the instruments allow, over {made}."
        return text + (f" Not judged: {hop_names(c, unread)}." if unread else "")
    accused = [s for s in parting.stretches if set(parting.hops) & set(hops_between(c, s.start, s.end))]
    first = max(accused, key=lambda s: abs(s.off))
    expected = value_text(c, first.end, first.expected, w.system)
    read = value_text(c, first.end, first.read, w.system)
    begun = value_text(c, first.start, rows[first.row][first.start], w.system)
    several = ": read between them to tell which" if len(parting.hops) > 1 else ""
    text = (
        f"Truth and reading part at the {hop_names(c, parting.hops)}{several}. From {STATIONS[first.start].lower()} "
        f"{begun}, {STATIONS[first.end].lower()} should be {expected} and is {read}."
    )
    if not parting.explanations:
        return f"{text} No single setting explains it: two may be wrong, or the part has failed."
    if parting.telling is not None:
        t = parting.telling
        values = [value_text(c, t.station, value, w.system) for value in (t.first, t.second)]
        if values[0] == values[1]:
            return text
        text += (
            f" To tell the first explanation from number {t.other + 1}, read {STATIONS[t.station].lower()} at a "
            f"level of {w.length(t.level_m)}: {values[0]} for the first, {values[1]} for the other."
        )
    elif len(parting.explanations[0].hypotheses) > 1:
        text += " No reading can tell the settings of the first explanation apart: look at the settings themselves."
    return text
