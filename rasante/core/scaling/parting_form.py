"""Readings along a scaling chain as they are typed, and in words what they tell of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..errors import InputError
from ..form import Form, FormField
from ..units import System, Words
from . import registers
from .agreement import hops_between
from .chain import STATIONS, Chain, path_of
from .chain_settings import SETTINGS, text_of
from .chain_values import read_value, value_text
from .parting import MOST_ROWS, Explanation, Parting, find_parting, hop_names


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
    count = max((form.count("rows", station, MOST_ROWS) for station in STATIONS), default=0)
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
    if station == "register":
        says += f" ({registers.show_words(registers.encode(value, c.register_type, c.register_order))})"
    form.fields[path] = FormField(path, "read", typed, says)
    return value


def suspect_text(c: Chain, explanation: Explanation, index: int, system: System) -> str:
    """Write one setting of an explanation: what it would be, and what it should be."""
    suspect, wrong = explanation.suspects[index], explanation.chains[index]
    texts = {name: (text_of(wrong, name, system), text_of(c, name, system)) for name in suspect.settings}
    parts = [
        f"{SETTINGS[name].label.lower()} ({path_of(name)}) {there} instead of {right}"
        for name, (there, right) in texts.items()
        if there != right or len(texts) == 1
    ]
    return f"{suspect.why}: {'; '.join(parts)}"


def _says(c: Chain, rows: Sequence[Mapping[str, float]], parting: Parting, w: Words) -> str:
    if not parting.stretches:
        return "Type what was read at two places of the chain at least; a dipped level makes one of them the truth."
    if not parting.hops:
        unread = [hop for hop, state in parting.judged.items() if state == "unread"]
        made = f"{len(parting.stretches)} comparison{'s' if len(parting.stretches) != 1 else ''}"
        text = f"Nothing parts beyond what the instruments allow, over {made}."
        return text + (f" Not judged: {hop_names(unread)}." if unread else "")
    accused = [s for s in parting.stretches if set(parting.hops) & set(hops_between(c, s.start, s.end))]
    first = max(accused, key=lambda s: abs(s.off))
    expected = value_text(c, first.end, first.expected, w.system)
    read = value_text(c, first.end, first.read, w.system)
    begun = value_text(c, first.start, rows[first.row][first.start], w.system)
    several = ": read between them to tell which" if len(parting.hops) > 1 else ""
    text = (
        f"Truth and reading part at the {hop_names(parting.hops)}{several}. From {STATIONS[first.start].lower()} "
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
    elif len(parting.explanations[0].suspects) > 1:
        text += " No reading can tell the settings of the first explanation apart: look at the settings themselves."
    return text
