"""Findings and shares in words."""

from __future__ import annotations

from ..quantities.units import System
from ..scaling.chain import STATIONS
from ..scaling.chain_values import value_text
from .advice import Advice, words_of
from .belief import Belief, Finding
from .fault_test import FaultTest
from .installation import Installation
from .loops import OPEN_OHM
from .predict import reader_station
from .table import Table

#: A share that moved by less than this is not told of.
_MOVED = 0.02

#: Why a test goes before others that tell more by the minute.
BECAUSE = {
    "again": "What it gave fits nothing: it is taken again before anything is concluded.",
    "input": "All speaks for the sensor: before it is condemned, a reading tells it from the input.",
}


def verdict_text(advice: Advice) -> tuple[str, ...]:
    """What stands, then what to do about it; nothing while there is a test to go on with."""
    part, share = words_of(advice.part), percent(advice.belief.by_part[advice.part])
    if advice.verdict == "found":
        repair = advice.fault.kind.repair
        kit = f", with {', '.join(repair.kit)}" if repair.kit else ""
        return (
            f"It is {part}: {advice.fault.says}, {share}",
            f"{repair.do} About {repair.minutes:g} min{kit}. Then prove it, and restore control.",
        )
    if advice.verdict == "nothing-fits":
        where = where_text(advice)
        return (
            "Nothing that is known here fits",
            *([where] if where else []),
            "It may be two faults at once, one that comes and goes, or one that is in no list. Take doubtful "
            "findings again; log the readings over night at Watch, and look when it goes wrong.",
        )
    if advice.verdict == "cannot-tell":
        together = ", ".join(words_of(one) for one in advice.together)
        return (
            f"What can be done now does not tell apart: {together}"
            if len(advice.together) > 1
            else f"Most likely {part}; nothing that can be done now makes it surer",
            f"Bring what is missing, or change the likeliest first and prove it: {part}, {share}.",
        )
    return ()


def where_text(advice: Advice) -> str:
    """Between which stations it sits where nothing fits; empty where that is not told."""
    if advice.verdict != "nothing-fits" or not advice.astray:
        return ""
    stations = advice.belief.table.at.sound.stations
    before, here = (STATIONS[stations[stations.index(advice.astray) + by]] for by in (-1, 0))
    return (
        f"Most likely it lies between “{before}” and “{here}”: what comes before is as it should be, and "
        "all that comes after follows from it."
    )


def station_of(at: Installation, test: FaultTest) -> str:
    """At which station of the chain a test reads; empty for volts and ohms."""
    if "volts" in test.reads or "ohms" in test.reads:
        return ""
    station = "sent" if "alone" in test.reads else str(test.reads["station"])
    return reader_station(at) if station == "reader" else station


def reading_text(at: Installation, test: FaultTest, value: float, system: System) -> str:
    """A reading with its unit, to what it is worth."""
    if "ohms" in test.reads:
        return "open" if value >= 0.99 * OPEN_OHM else _ohm_text(value)
    if "volts" in test.reads:
        return f"{value:.1f} V"
    return value_text(at.sound, station_of(at, test), value, system)


def _ohm_text(ohm: float) -> str:
    for limit, unit in ((1e6, "MΩ"), (1e3, "kΩ")):
        if ohm >= limit:
            return f"{ohm / limit:.2g} {unit}"
    return f"{ohm:.3g} Ω"


def because_text(advice: Advice) -> str:
    """Why the first test is advised although others tell more by the minute; empty where it tells most."""
    return BECAUSE[advice.because] if advice.because else ""


def finding_text(table: Table, finding: Finding, system: System) -> str:
    """What was found, in words."""
    if finding.outcome:
        return finding.outcome.replace("-", " ")
    if finding.value is None:
        return "nothing"
    column = table.column(finding.test, finding.put_in)
    read = reading_text(table.at, column.test, finding.value, system)
    if finding.put_in is None:
        return read
    return f"{read}, with {value_text(table.at.sound, 'sent', finding.put_in, system)} put in"


def percent(share: float) -> str:
    """A share in words, no finer than it is worth."""
    if share >= 0.995:
        return "over 99 %"
    return "under 1 %" if share < 0.01 else f"{100 * share:.0f} %"


def moved_text(before: Belief, after: Belief) -> str:
    """What a finding ruled out, and what it made likelier, part by part."""
    pairs = [(part, share, after.by_part[part]) for part, share in before.by_part.items()]
    down = [one for one in pairs if one[1] >= _MOVED and one[2] < one[1] / 3]
    up = [one for one in pairs if one[2] >= _MOVED and one[2] > one[1] * 1.5]
    down.sort(key=lambda one: one[2] - one[1])
    up.sort(key=lambda one: one[1] - one[2])
    told = []
    if down:
        told.append("Against " + ", ".join(f"{words_of(p)} ({percent(b)} → {percent(a)})" for p, b, a in down[:4]))
    if up:
        told.append("For " + ", ".join(f"{words_of(p)} ({percent(b)} → {percent(a)})" for p, b, a in up[:3]))
    return ". ".join(told) + "." if told else "It told little."
