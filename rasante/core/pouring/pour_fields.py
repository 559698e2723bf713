"""The fields of a run of pours: the meter and its draws, what readings are good for, the start, and every pour."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..products.liquid import density_at
from ..products.registry import Product
from ..quantities.errors import InputError
from ..quantities.form import Form
from ..quantities.judgement import Judgement, good, stop, watch
from .meter import METER_NAMES, REPEATS, UNPROVEN, Factor, meter_factor
from .poured import Instruments, Pour, Start

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
_METER, _CONTAINER = 0.005, 0.001
#: A sensor further from the middle than the tank is wide is mistyped [m].
_FARTHEST = 30.0


@dataclass(frozen=True)
class Vessel:
    """What is known of the tank that is poured.

    Parameters
    ----------
    document : mapping
        Its tank document.
    safe, brim : float
        Where filling ends, and where it runs over, by that [m³].
    product : Product
        What it holds.
    """

    document: Mapping[str, Any]
    safe: float
    brim: float
    product: Product


def read_meter(form: Form, product: Product, judgements: list[Judgement]) -> tuple[Factor | None, float | None]:
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


def read_instruments(
    form: Form, reads: str, factor: Factor | None, vessel: Vessel, judgements: list[Judgement]
) -> Instruments:
    kind = form.choice("meter.kind", METER_NAMES, "pulse")
    # Cans hold what they hold; a meter that was held against nothing is as good as its type.
    usual = _METER if form.count("cans", "size", MOST_CANS) and "meter.kind" not in form.entries else UNPROVEN[kind]
    half = form.quantity("meter.half", "ratio", 0.0, 0.2, usual=usual)
    if factor is not None:
        half = factor.half
    repeat = REPEATS[kind]
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
                "From the first pour to the last it went from {first:temperature} to {last:temperature}: that alone "
                "is {value:.2%} of the volume, and is counted in.",
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


def read_start(form: Form, reads: str) -> Start | None:
    volume = form.quantity("start.volume", "volume", 0.0, usual=0.0)
    half = form.quantity("start.half", "volume", 0.0, usual=0.0)
    reading = _reading(form, "start.reading", reads)
    if reading is None:
        return None
    return Start(volume, half, reading)


def read_pours(
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
