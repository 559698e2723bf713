"""How the line, chains, slopes and partings are written for the API: millimetres and litres from SI."""

from __future__ import annotations

import numpy as np

from ..core.quantities.judgement import stops as stops_of
from ..core.quantities.units import System, show
from ..core.quantities.words import Words
from ..core.scaling.bare import BESIDE, Bare, length_text
from ..core.scaling.chain import STATIONS, Chain, all_settings
from ..core.scaling.chain_form import ChainForm
from ..core.scaling.chain_judge import judge_chain
from ..core.scaling.chain_line import ChainLine
from ..core.scaling.chain_values import fault_texts, value_text, words_at
from ..core.scaling.hop import Setting
from ..core.scaling.line import LineReading
from ..core.scaling.panel_meter import MeterEnds
from ..core.scaling.parting_form import PartingForm, guess_text
from ..core.scaling.read_out import read_out, station_unit
from ..core.scaling.slopes import READ_IN, SCHOOLS, Slopes
from ..core.tanks.table import curve_nodes
from ..core.tanks.tank_file import TankFile
from ..core.tanks.uncertainty import volume_uncertainty
from ..planned.present import fields
from ..tanks.present import judgements
from . import answers
from .slopes import slopes_document


def line(reading: LineReading, chain: Chain | None, system: System) -> answers.Line:
    """Write what reads at the line."""
    return answers.Line(
        innage_mm=reading.innage_m * 1000,
        ullage_mm=reading.ullage_m * 1000,
        volume_l=reading.volume_m3 * 1000,
        u95_l=None if reading.u95_m3 is None else reading.u95_m3 * 1000,
        volume_pct=reading.volume_ratio * 100,
        linear_pct=reading.linear_ratio * 100,
        surface_m2=reading.surface_m2,
        stations=[
            answers.StationText(key=station, label=STATIONS[station], text=read_out(chain, station, value, system))
            for station, value in reading.stations.items()
            if chain is not None and station != "level"
        ],
    )


def curve(file: TankFile, chain: Chain | None, system: System) -> answers.Curve:
    """Write the nodes from which a screen follows the line without asking."""
    innage, volume, surface = curve_nodes(file.tank)
    u95 = volume_uncertainty(file, innage)
    stations = []
    if chain is not None:
        for station, values in chain.run(innage, exact=False).items():
            if station == "level":
                continue
            unit, size, decimals = station_unit(chain, station, system)
            finite = np.where(np.isfinite(values), values, 0.0)
            stations.append(
                answers.StationCurve(
                    key=station, label=STATIONS[station], unit=unit, decimals=decimals, values=finite / size
                )
            )
    return answers.Curve(
        innage_mm=innage * 1000,
        volume_l=volume * 1000,
        # One square metre of surface is one litre a millimetre.
        slope_l_per_mm=surface,
        u95_l=None if u95 is None else u95 * 1000,
        stations=stations,
        signal_marks=[] if chain is None else signal_marks(chain),
        inside_height_mm=file.tank.inside_height * 1000,
        reference_height_mm=file.tank.reference_height_m * 1000,
        capacity_l=file.tank.capacity * 1000,
    )


def signal_marks(chain: Chain) -> list[answers.SignalMark]:
    """Write the levels that five values of a chain's signal stand for; none of one that sends none."""
    if chain.signal is None:
        return []
    values = np.linspace(chain.signal.low, chain.signal.high, 5)
    levels = chain.backward("sent", "level", values)
    return [
        answers.SignalMark(text=value_text(chain, "sent", float(value), "metric"), innage_mm=float(level) * 1000)
        for value, level in zip(values, levels, strict=True)
    ]


def setting(path: str, station: str, one: Setting, usual: str) -> answers.Setting:
    """Write a setting of a chain."""
    return answers.Setting(
        path=path,
        hop=station,
        label=one.label,
        kind=one.kind,
        options=dict(one.options),
        usual=usual,
        follows=one.follows,
    )


def settings(found: ChainForm) -> list[answers.Setting]:
    """Write the settings that mean something in a chain, hop by hop; all of them while something is wrong."""
    known = found.chain.known() if found.chain is not None else all_settings()
    return [setting(path, station, one, str(found.usual.get(path, ""))) for path, (station, one) in known.items()]


def hop_names(found: ChainForm) -> list[answers.HopName]:
    """Name a chain's hops by the stations they lead to, in order; none while something is wrong."""
    return (
        [] if found.chain is None else [answers.HopName(key=hop.station, label=hop.name) for hop in found.chain.hops]
    )


def chain_line(
    c: Chain, found: ChainLine, meter: answers.MeterEnds | None, meter_problem: str, system: System
) -> answers.ChainLine:
    """Write a chain at one level, with what a panel meter on it is set to or why it cannot be."""
    return answers.ChainLine(
        stops=[
            answers.Stop(
                station=stop.station,
                label=STATIONS[stop.station],
                hop=c.hop(stop.station).name if stop.station != "level" else "",
                text=value_text(c, stop.station, stop.value, system),
                words=words_at(c, stop.value) if stop.station == "words" else "",
                step_mm=None if stop.step_m is None else stop.step_m * 1000,
                step_l=None if stop.step_m3 is None else stop.step_m3 * 1000,
                u95_mm=stop.u95_m * 1000,
                u95_l=stop.u95_m3 * 1000,
            )
            for stop in found.stops
        ],
        parts=[answers.UnsurePart(part.station, part.name, part.u95_m * 1000) for part in found.parts],
        u95_mm=found.u95_m * 1000,
        u95_l=found.u95_m3 * 1000,
        trap=[answers.Trap(trap.level_m * 1000, trap.right_m * 1000, trap.wrong_m * 1000) for trap in found.trap],
        fault=[answers.Labelled(STATIONS[station], text) for station, text in fault_texts(c, system)],
        beyond=[
            answers.Labelled(value_text(c, "sent", sent, system), value_text(c, "shown", shown, system))
            for sent, shown in found.beyond
        ],
        meter=meter,
        meter_problem=meter_problem,
    )


def bare_line(found: Bare, system: System) -> answers.BareLine:
    """Write a line without a tank."""
    c = found.chain.chain
    stops = [] if c is None else [_bare_stop(found, c, key, system) for key in (*c.stations, *BESIDE)]
    if "tank.diameter" not in found.form.entries or not found.form.entries["tank.diameter"].strip():
        stops = [stop for stop in stops if stop.key != "volume" or stop.taken]
    judged = judge_chain(c, system) if c is not None else []
    return answers.BareLine(
        fields_read=[*fields(found.form), *fields(found.chain.form)],
        settings=settings(found.chain),
        height_mm=found.file.tank.inside_height * 1000,
        level_mm=None if found.level_m is None else found.level_m * 1000,
        stops=stops,
        signal_marks=[] if c is None else signal_marks(c),
        says=found.says,
        meanings=[
            answers.Meaning(unless=one.unless, level=length_text(one.level_m, system)) for one in found.meanings
        ],
        judgements=judgements(stops_of(judged), system),
        parting=None if found.parting is None or c is None else parting(c, found.parting, system),
    )


def _bare_stop(found: Bare, c: Chain, key: str, system: System) -> answers.BareStop:
    text = words = ""
    if found.line is not None and found.level_m is not None:
        values = {stop.station: stop.value for stop in found.line.stops}
        if key == "level":
            text = length_text(found.level_m, system)
        elif key == "volume":
            text = "" if found.volume_m3 is None else show(found.volume_m3, "volume", system)
        elif key == "span_pct":
            low, high = c.sensor.range_low, c.sensor.range_high
            text = show((values["sensed"] - low) / (high - low), "ratio", system)
        else:
            text = value_text(c, key, values[key], system)
            words = words_at(c, values[key]) if key == "words" else ""
    label = BESIDE.get(key) or STATIONS[key]
    return answers.BareStop(key=key, label=label, text=text, words=words, taken=key == found.at)


def meter(c: Chain, ends: MeterEnds, system: System) -> answers.MeterEnds:
    """Write a panel meter's ends."""
    return answers.MeterEnds(
        signal_low=value_text(c, "sent", ends.signal_low, system),
        signal_high=value_text(c, "sent", ends.signal_high, system),
        low=f"{ends.low:.{ends.decimals}f}",
        high=f"{ends.high:.{ends.decimals}f}",
        decimals=ends.decimals,
        error_mm=ends.error_m * 1000,
        falls=ends.falls,
    )


def parting(c: Chain, found: PartingForm, system: System) -> answers.Parting:
    """Write where truth and reading part."""
    w, telling = Words(system), found.parting.telling
    return answers.Parting(
        fields_read=fields(found.form),
        stations=[answers.StationName(key=station, label=STATIONS[station]) for station in c.stations],
        hops=[
            answers.JudgedHop(
                key=hop.station,
                label=hop.name,
                state=found.parting.judged[hop.station],
                accused=hop.station in found.parting.hops,
            )
            for hop in c.hops
        ],
        says=found.says,
        stretches=[
            answers.Stretch(
                row=stretch.row,
                start=stretch.start,
                end=stretch.end,
                expected=value_text(c, stretch.end, stretch.expected, system),
                read=value_text(c, stretch.end, stretch.read, system),
                off=stretch.off,
            )
            for stretch in found.parting.stretches
        ],
        explanations=[
            answers.Explanation(
                texts=[guess_text(c, explanation, i, system) for i in range(len(explanation.hypotheses))],
                hops=sorted({guess.hop for guess in explanation.hypotheses}),
                off=explanation.off,
            )
            for explanation in found.parting.explanations
        ],
        telling=None
        if telling is None
        else answers.Telling(
            other=telling.other,
            station=STATIONS[telling.station],
            level=w.length(telling.level_m),
            first=value_text(c, telling.station, telling.first, system),
            second=value_text(c, telling.station, telling.second, system),
        ),
    )


def slopes(found: Slopes) -> answers.Slopes:
    """Write every school's answer: levels in millimetres."""
    return answers.Slopes(
        fields_read=[field for field in found.form.fields.values() if field.state != "empty"],
        signal=found.signal,
        signals={key: one.name for key, one in READ_IN.items()},
        schools=SCHOOLS,
        zero=found.zero,
        full=found.full,
        readings=[[float(x), float(level) * 1000] for x, level in zip(found.signals, found.levels, strict=True)],
        outlier=found.outlier,
        slopes=[answers.Slope(**one) for one in slopes_document(found)],
        judgements=judgements(found.judgements, found.form.system),
    )
