"""How scaling chains are written for the API: millimetres and litres from SI."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..core.scaling.chain import HOPS, STATIONS, Chain, path_of
from ..core.scaling.chain_form import ChainForm
from ..core.scaling.chain_line import ChainLine
from ..core.scaling.chain_settings import FOLLOWING, SETTINGS, asked
from ..core.scaling.chain_values import value_text
from ..core.scaling.panel_meter import MeterEnds
from ..core.scaling.parting_form import PartingForm, suspect_text
from ..core.scaling.rescale import Rescale
from ..core.units import System, Words
from ..gauges.present import fields


def settings(found: ChainForm) -> list[dict[str, Any]]:
    """Write the settings that mean something in a chain, hop by hop; all of them while something is wrong."""
    names = asked(found.chain) if found.chain is not None else list(SETTINGS)
    return [
        {
            "path": path_of(name),
            "hop": SETTINGS[name].hop,
            "label": SETTINGS[name].label,
            "kind": SETTINGS[name].kind,
            "options": dict(SETTINGS[name].options),
            "usual": str(found.usual.get(path_of(name), "")),
            "follows": name in FOLLOWING,
        }
        for name in names
    ]


def line(found: ChainLine) -> dict[str, Any]:
    """Write a chain at one level."""
    return {
        "stops": [
            {
                "station": stop.station,
                "label": stop.label,
                "hop": stop.hop,
                "text": stop.text,
                "words": stop.words,
                "step_mm": None if stop.step_m is None else stop.step_m * 1000,
                "step_l": None if stop.step_m3 is None else stop.step_m3 * 1000,
                "u95_mm": stop.u95_m * 1000,
                "u95_l": stop.u95_m3 * 1000,
            }
            for stop in found.stops
        ],
        "parts": [{"station": part.station, "name": part.name, "u95_mm": part.u95_m * 1000} for part in found.parts],
        "u95_mm": found.u95_m * 1000,
        "u95_l": found.u95_m3 * 1000,
        "trap": [
            {"level_mm": trap.level_m * 1000, "right_mm": trap.right_m * 1000, "wrong_mm": trap.wrong_m * 1000}
            for trap in found.trap
        ],
        "fault": [{"label": label, "text": text} for label, text in found.fault],
        "beyond": [{"label": label, "text": text} for label, text in found.beyond],
    }


def meter(c: Chain, ends: MeterEnds, system: System) -> dict[str, Any]:
    """Write a panel meter's ends."""
    return {
        "signal_low": value_text(c, "signal", ends.signal_low, system),
        "signal_high": value_text(c, "signal", ends.signal_high, system),
        "low": f"{ends.low:.{ends.decimals}f}",
        "high": f"{ends.high:.{ends.decimals}f}",
        "decimals": ends.decimals,
        "error_mm": ends.error_m * 1000,
        "falls": ends.falls,
    }


def parting(c: Chain, found: PartingForm, system: System) -> dict[str, Any]:
    """Write where truth and reading part."""
    w = Words(system)
    telling = found.parting.telling
    return {
        "fields_read": fields(found.form),
        "stations": [{"key": station, "label": STATIONS[station]} for station in c.stations],
        "hops": [
            {
                "key": hop,
                "label": HOPS[hop],
                "state": found.parting.judged[hop],
                "accused": hop in found.parting.hops,
            }
            for hop in c.stations[1:]
        ],
        "says": found.says,
        "stretches": [
            {
                "row": stretch.row,
                "start": stretch.start,
                "end": stretch.end,
                "expected": value_text(c, stretch.end, stretch.expected, system),
                "read": value_text(c, stretch.end, stretch.read, system),
                "off": stretch.off,
            }
            for stretch in found.parting.stretches
        ],
        "explanations": [
            {
                "texts": [suspect_text(c, explanation, i, system) for i in range(len(explanation.suspects))],
                "hops": sorted({suspect.hop for suspect in explanation.suspects}),
                "off": explanation.off,
            }
            for explanation in found.parting.explanations
        ],
        "telling": None
        if telling is None
        else {
            "other": telling.other,
            "station": STATIONS[telling.station],
            "level": w.length(telling.level_m),
            "first": value_text(c, telling.station, telling.first, system),
            "second": value_text(c, telling.station, telling.second, system),
        },
    }


def rescale(found: Rescale) -> dict[str, Any]:
    """Write what a change asks for."""
    return {
        "changes": [asdict(change) for change in found.changes],
        "level_mm": found.level_m * 1000,
        "right": found.right,
        "forgotten": found.forgotten,
        "ratio": found.ratio,
        "rounding_mm": found.rounding_m * 1000,
    }
