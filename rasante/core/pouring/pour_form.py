"""A run of pours as it is typed: meter and start, what was poured, and all that follows from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from ..products.liquid import density_at
from ..products.registry import Product
from ..quantities.errors import InputError
from ..quantities.form import Form
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from ..quantities.units import System
from .advice import Advice, advise
from .meter import METER_NAMES, REPEATS, Factor, meter_factor
from .misfit import CAN_BE_TOLD, Misfit, find_misfit, spilled_amounts
from .poured import Instruments, Pour, Poured, Start, put_together, run_of
from .shape import Against, Joined, against_shape, join_shape

WAYS = {
    "fill": "Fill up in steps",
    "draw": "Draw down in steps",
    "rate": "Fill at a known rate, by the utility meter",
    "deliveries": "Deliveries as they come",
    "sister": "Prove a sister tank's table",
}
READS = {
    "level": "Level, by a dip or the sensor",
    "sent": "The sensor's signal, mA",
    "number": "A number that it shows",
}
DOES = {"in": "poured in", "out": "drawn off"}
MOST_POURS, MOST_DRAWS, MOST_CANS = 120, 20, 4
#: What stands where nothing is typed: common practice, no published source.
_READING = {"level": 1e-3, "sent": 4e-6, "number": 1.0}
_TARGET, _METER, _CONTAINER, _WAIT_MIN = 0.005, 0.005, 0.001, 2.0
#: A sensor further from the middle than the tank is wide is mistyped [m].
_FARTHEST = 30.0


@dataclass(frozen=True)
class PourForm:
    """A run as far as it has been typed.

    Parameters
    ----------
    form : Form
        Its fields.
    way, reads : str
        Keys of `WAYS` and `READS`.
    factor : Factor or None
        The meter's, where it was held against a container.
    instruments : Instruments
    start : Start or None
    pours : list of Pour
    poured : Poured or None
        Put together; None before there are two readings, or while something is wrong.
    misfit : Misfit or None
        The step that does not fit.
    advice : Advice or None
        What to do next; None while the start is not known.
    against : Against or None
        Beside the tank's geometry, where it has one and levels are read.
    joined : Joined or None
        Geometry and pours together, where they can be.
    minutes_to_go : float or None
        How long the rest takes.
    top, target : float
        The most that may be in it, and the error that is good enough, k = 2 [m³].
    judgements : list of Judgement
        The heaviest first.
    """

    form: Form
    way: str
    reads: str
    factor: Factor | None
    instruments: Instruments
    start: Start | None
    pours: list[Pour]
    poured: Poured | None
    misfit: Misfit | None
    advice: Advice | None
    against: Against | None
    joined: Joined | None
    minutes_to_go: float | None
    top: float
    target: float
    judgements: list[Judgement] = field(default_factory=list)


@dataclass(frozen=True)
class Vessel:
    """What is known of the tank that is poured.

    Parameters
    ----------
    document : mapping
        Its tank document.
    capacity : float
        All that it holds by that [m³].
    product : Product
        What it holds.
    """

    document: Mapping[str, Any]
    capacity: float
    product: Product


def read_run(entries: Mapping[str, str], vessel: Vessel, system: System) -> PourForm:
    """Read a run as it is typed.

    Parameters
    ----------
    entries : mapping of str to str
        ``way``, ``reads``, ``start.volume``, ``start.half``, ``start.reading``, ``top``, ``target``,
        ``reading_half``, ``other``, ``rate``, ``wait``, ``back``; ``meter.kind``, ``meter.half``,
        ``meter.container``, ``meter.pulses``, ``meter.at``, ``container.at``, ``draws[i].metered`` and ``.drawn``;
        ``cans[i].size``; ``temperature.first`` and ``.last``; ``tilt`` and ``offset``, ``foam``;
        ``pours[i].amount``, ``.pulses`` or ``.minutes``, ``.does``, ``.reading``, ``.later``, ``.spilled``,
        ``.sure``, ``.resumed``.
    vessel : Vessel
        The tank.
    system : {"metric", "us"}
        What a bare number means.
    """
    form = Form(entries, system)
    judgements: list[Judgement] = []
    way = form.choice("way", WAYS, "fill")
    reads = form.choice("reads", READS, "level")
    form.choice("back", {"yes": "yes", "no": "no"}, "yes")
    top = form.quantity("top", "volume", 1e-4, usual=round(0.95 * vessel.capacity, 6))
    target = form.quantity("target", "volume", 1e-5, usual=round(_TARGET * top, 6))
    factor, pulses = _read_meter(form, vessel.product, judgements)
    instruments = _read_instruments(form, reads, factor, vessel, judgements)
    start = _read_start(form, reads)
    rate = form.quantity("rate", "volume", 1e-6)
    pours = _read_pours(form, way, reads, (pulses, rate), instruments.reading_half, judgements)
    cans = [
        size
        for i in range(form.count("cans", "size", MOST_CANS - 1) + 1)
        if (size := form.quantity(f"cans[{i}].size", "volume", 1e-5)) is not None
    ]
    other = form.quantity("other", "volume", 1e-4)
    wait = form.number("wait", 0.0, 240.0, "min")
    poured, misfit = _put(form, start, pours, instruments, cans, judgements)
    advice = None
    if start is not None and not form.problems:
        advice = _advise(form, poured, start, pours, top, target, cans, other, judgements)
    against, joined = None, None
    if poured is not None and reads == "level":
        against, joined = _beside(vessel, poured, misfit is None, judgements)
    if misfit is not None:
        judgements.insert(0, _misfit_words(misfit))
    if advice is not None and advice.enough and poured is not None and len(poured.readings) < CAN_BE_TOLD:
        judgements.append(
            watch(
                "unchecked",
                "With {value:.0f} readings a can left out cannot be told: draw back to half, read, and enter both.",
                value=len(poured.readings),
            )
        )
    minutes = None
    if advice is not None:
        each = (wait if wait is not None else _WAIT_MIN) + 1.0
        minutes = advice.to_go * each + (0.0 if not rate else abs(advice.amount) * advice.to_go / rate)
    return PourForm(
        form, way, reads, factor, instruments, start, pours, poured, misfit, advice, against, joined, minutes, top,
        target, by_weight(judgements),
    )  # fmt: skip


def _read_meter(form: Form, product: Product, judgements: list[Judgement]) -> tuple[Factor | None, float | None]:
    """The meter's factor from the draws that are typed, and the pulses a m³ that it counts."""
    kind = form.choice("meter.kind", METER_NAMES, "pulse")
    half = form.quantity("meter.container", "ratio", 0.0, 0.1, usual=_CONTAINER)
    at, held = (
        form.quantity("meter.at", "temperature", -45.0, 90.0),
        form.quantity("container.at", "temperature", -45.0, 90.0),
    )
    pulses = form.number("meter.pulses", 1e-3, 1e6)
    metered, drawn = [], []
    for i in range(form.count("draws", "metered", MOST_DRAWS - 1) + 1):
        said = form.quantity(f"draws[{i}].metered", "volume", 1e-6)
        stood = form.quantity(f"draws[{i}].drawn", "volume", 1e-6)
        if said is not None and stood is not None:
            metered.append(said)
            drawn.append(stood)
        elif said is not None:
            judgements.append(watch("draw-open", "Draw {row} waits for what stood in the container.", row=i + 1))
    if not metered:
        judgements.append(
            watch(
                "meter-unproven",
                "Hold the meter against a measuring container first, three draws at least: nobody knows yet what "
                "it is off by.",
            )
        )
        return None, None if pulses is None else pulses * 1000
    warmer = 0.0 if at is None or held is None else at - held
    found = meter_factor(metered, drawn, kind, half, _expansion(product, at if at is not None else 15.0), warmer)
    if found.draws > 1 and not found.repeats:
        judgements.append(
            stop(
                "meter-repeats",
                "The draws differ by {value:.2%}; a meter of this type repeats to {limit:.2%}: look for air, a "
                "slow start or a worn meter, and draw again.",
                value=found.spread,
                limit=found.limit,
            )
        )
    elif found.draws > 1:
        judgements.append(
            good(
                "meter-factor",
                "Meter factor {value:.4f} ± {half:.4f}; its draws differ by {spread:.2%}.",
                value=found.factor,
                half=found.half,
                spread=found.spread,
            )
        )
    else:
        judgements.append(
            watch("meter-once", "One draw tells a factor, and not whether it repeats: draw twice more.")
        )
    return found, None if pulses is None else pulses * 1000


def _expansion(product: Product, celsius: float) -> float:
    """Volume expansion of a product [1/K]; 0 where it is not known."""
    try:
        cold, warm = density_at(product, celsius - 1.0), density_at(product, celsius + 1.0)
    except InputError:
        return 0.0
    return float((cold - warm) / (cold + warm))


def _read_instruments(
    form: Form, reads: str, factor: Factor | None, vessel: Vessel, judgements: list[Judgement]
) -> Instruments:
    half = form.quantity("meter.half", "ratio", 0.0, 0.2, usual=_METER)
    if factor is not None:
        half = factor.half
    repeat = REPEATS[form.choice("meter.kind", METER_NAMES, "pulse")]
    own = _READING[reads]
    if reads == "number":
        reading = form.number("reading_half", 0.0)
        reading = own if reading is None else reading
    else:
        reading = form.quantity("reading_half", "length" if reads == "level" else "current", 0.0, usual=own)
    extra = 0.0
    first, last = (form.quantity(f"temperature.{one}", "temperature", -45.0, 90.0) for one in ("first", "last"))
    if first is not None and last is not None and first != last:
        extra = abs(_expansion(vessel.product, (first + last) / 2) * (last - first))
        judgements.append(
            watch(
                "temperature",
                "From the first pour to the last it went from {first:.0f} to {last:.0f} °C: that alone is "
                "{value:.2%} of the volume, and is counted in.",
                first=first,
                last=last,
                value=extra,
            )
        )
    tilt = form.quantity("tilt", "angle", 0.0, 30.0)
    offset = form.quantity("offset", "length", 0.0, _FARTHEST, usual=0.0)
    if tilt and reads == "level":
        off = float(np.tan(np.radians(tilt))) * offset
        reading = float(np.hypot(reading, off))
        judgements.append(
            watch(
                "tilt",
                "The tank stood {tilt:.1f}° off level: {value:length} at the sensor, counted in. The table holds "
                "for a level tank only as far as the sensor is in its middle.",
                tilt=tilt,
                value=off,
            )
        )
    if form.flag("foam"):
        judgements.append(
            watch(
                "foam", "Foam: wait until it is gone; a sensor from above reads its top, and the curve bends there."
            )
        )
    return Instruments(factor.factor if factor else 1.0, half, repeat, max(reading, 1e-9), extra)


def _reading(form: Form, path: str, reads: str) -> float | None:
    if reads == "number":
        return form.number(path, None)
    return form.quantity(path, "length" if reads == "level" else "current", 0.0)


def _read_start(form: Form, reads: str) -> Start | None:
    volume = form.quantity("start.volume", "volume", 0.0, usual=0.0)
    half = form.quantity("start.half", "volume", 0.0, usual=0.0)
    reading = _reading(form, "start.reading", reads)
    if reading is None:
        return None
    return Start(volume, half, reading)


def _read_pours(
    form: Form,
    way: str,
    reads: str,
    by: tuple[float | None, float | None],
    good_for: float,
    judgements: list[Judgement],
) -> list[Pour]:
    """Every pour as it is typed; `by` is the pulses a m³ and the rate a minute that amounts may be reckoned by."""
    pulses, rate = by
    usual = "out" if way == "draw" else "in"
    found = []
    rows = max(
        form.count("pours", column, MOST_POURS) for column in ("amount", "pulses", "minutes", "reading", "does")
    )
    for row in range(rows):
        path = f"pours[{row}]"
        amount = form.quantity(f"{path}.amount", "volume", 0.0)
        counted = form.number(f"{path}.pulses", 0.0) if pulses is not None else None
        minutes = form.number(f"{path}.minutes", 0.0, None, "min") if way == "rate" else None
        if amount is None and counted is not None and pulses is not None:
            amount = counted / pulses
            form.stand_in(f"{path}.amount", _litres(amount))
        if amount is None and minutes is not None and rate is not None:
            amount = minutes * rate
            form.stand_in(f"{path}.amount", _litres(amount))
        does = form.choice(f"{path}.does", DOES, usual)
        reading = _reading(form, f"{path}.reading", reads)
        later = _reading(form, f"{path}.later", reads)
        if reading is not None and later is not None:
            if abs(later - reading) > good_for:
                text = "Pour {row} still moved, {value}: wait, and read again."
                moved = form.fields[f"{path}.later"].kept
                judgements.append(
                    watch(
                        "still-moving", text, row=row + 1, value=f"{form.fields[f'{path}.reading'].kept} to {moved}"
                    )
                )
            reading = later
        resumed = _reading(form, f"{path}.resumed", reads)
        spilled, sure = form.flag(f"{path}.spilled"), form.flag(f"{path}.sure")
        if amount is None:
            # It is still under way: what comes after it waits with it.
            if reading is not None or row + 1 < rows:
                judgements.append(
                    watch(
                        "pour-open",
                        "Pour {row} waits for its amount: it and what follows do not count yet.",
                        row=row + 1,
                    )
                )
            break
        found.append(Pour(amount if does == "in" else -amount, reading, spilled, resumed, row, sure))
    return found


def _litres(m3: float) -> str:
    return f"{m3 * 1000:.6g} L"


def _put(
    form: Form, start: Start | None, pours: list[Pour], instruments: Instruments, cans: list[float],
    judgements: list[Judgement],
) -> tuple[Poured | None, Misfit | None]:  # fmt: skip
    """Put the run together; what goes with nothing stays at its field."""
    if start is None:
        if pours:
            judgements.append(
                watch("start-reading", "Say what it read before the first pour: without it the first tells nothing.")
            )
        return None, None
    try:
        spilled = [pour.row for pour in pours if pour.spilled]
        if spilled:
            came = spilled_amounts(run_of(start, pours, instruments), spilled)
            for row in spilled:
                if row not in came:
                    judgements.append(
                        watch(
                            "spilled-unknown",
                            "How much came with pour {row} of which some went beside is told once two more on "
                            "either side of it are read.",
                            row=row + 1,
                        )
                    )
                else:
                    judgements.append(
                        watch(
                            "spilled",
                            "Of pour {row} {value:volume} came, as its neighbours tell.",
                            row=row + 1,
                            value=abs(came[row][0]),
                        )
                    )
            again = [
                replace(one, amount=came[one.row][0] / instruments.factor) if one.row in came else one
                for one in pours
            ]
            off = float(np.sqrt(sum(half**2 for _, half in came.values())))
            start = replace(start, half=float(np.hypot(start.half, off)))
            pours = again
        poured = put_together(start, pours, instruments)
    except InputError as error:
        for problem in error.problems:
            form.blame(problem.where, problem.what)
        return None, None
    return poured, None if poured is None else find_misfit(
        poured, instruments, cans, [one.row for one in pours if one.sure]
    )


def _advise(
    form: Form, poured: Poured | None, start: Start, pours: list[Pour], top: float, target: float, cans: list[float],
    other: float | None, judgements: list[Judgement],
) -> Advice | None:  # fmt: skip
    now = start.volume if poured is None else poured.volume
    now += sum(one.amount for one in pours[_last_read(pours) + 1 :])
    if now > top * (1 + 1e-6):
        judgements.append(
            stop(
                "over-top",
                "More is in it than the {limit:volume} that may be: draw off before anything else.",
                value=now,
                limit=top,
            )
        )
        return None
    curve = None if poured is None else poured.curve
    found = advise(curve, now, top, target, cans, form.flag("back", True), other)
    if other is not None and other < top - now and not form.flag("back", True):
        judgements.append(
            watch(
                "other-tank",
                "The other tank has {value:volume}; {limit:volume} are missing to safe fill: fetch more, or draw "
                "down and up.",
                value=other,
                limit=top - now,
            )
        )
    floor = 0.0 if curve is None else float(np.hypot(curve.random, curve.common).max())
    if floor > 0.9 * target:
        judgements.append(
            watch(
                "target-below-meter",
                "Meter and readings alone are off by up to {value:volume}, and you ask for {limit:volume}: no number "
                "of pours mends that; a meter held against a container may.",
                value=floor,
                limit=target,
            )
        )
    elif found.enough and curve is not None:
        judgements.append(
            good(
                "enough",
                "The table is off by at most {value:volume}: good enough for the {limit:volume} that you asked for.",
                value=found.now,
                limit=target,
            )
        )
    return found


def _last_read(pours: list[Pour]) -> int:
    return max((at for at, one in enumerate(pours) if one.reading is not None), default=-1)


def _beside(
    vessel: Vessel, poured: Poured, fits: bool, judgements: list[Judgement]
) -> tuple[Against | None, Joined | None]:
    """What was poured beside the tank's own geometry; joined with it only where every pour fits the others."""
    curve = poured.curve
    half = np.hypot(curve.random, curve.common)
    against = against_shape(vessel.document, curve.reading, curve.volume, np.maximum(half, 1e-5))
    joined = None
    if fits and vessel.document["shape"]["kind"] != "points" and len(curve.reading) >= 3:
        try:
            joined = join_shape(
                vessel.document,
                curve.reading,
                curve.volume,
                np.maximum(curve.random, 1e-5),
                np.maximum(curve.common, 1e-6),
            )
        except InputError:
            return against, None
    if against.agrees:
        judgements.append(
            good("agrees", "What was poured agrees with the shape as surveyed: you may take the shape instead.")
        )
    elif against.patterns:
        best = against.patterns[0]
        judgements.append(
            watch(
                "pattern",
                "What was poured differs from the survey as if one thing were off: {what}, {value:+.3g} ± "
                "{half:.2g} {unit}.",
                what=best.label,
                value=best.value,
                half=best.half,
                unit=best.unit,
            )
        )
    return against, joined


def _misfit_words(misfit: Misfit) -> Judgement:
    looks = {
        "left out": "it looks like one can left out",
        "twice": "it looks like one can written down twice",
        "other": "look at its amount and its reading",
    }[misfit.looks]
    return watch(
        "misfit",
        "Pour {row} does not fit the others: {value:volume} is entered, {limit:volume} would fit; " + looks + ".",
        row=misfit.row + 1,
        value=abs(misfit.amount),
        limit=abs(misfit.should_be),
    )
