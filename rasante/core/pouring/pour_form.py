"""A run of pours as it is typed: meter and start, what was poured, and all that follows from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from ..quantities.errors import InputError
from ..quantities.form import Form
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from ..quantities.units import System
from .advice import Advice, advise
from .meter import Factor, pulses_anew
from .misfit import CAN_BE_TOLD, Misfit, find_misfit, spilled_amounts
from .pour_fields import MOST_CANS, READS, WAYS, Vessel, read_instruments, read_meter, read_pours, read_start
from .poured import Instruments, Pour, Poured, Start, put_together, run_of
from .shape import Against, Joined, against_shape, join_shape

#: What stands where nothing is typed: common practice, no published source.
#: Where no safe fill is stated the survey's brim is no place to stop at: it may be what is wrong.
_TARGET, _WAIT_MIN, _BELOW_BRIM = 0.005, 2.0, 0.95


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
    pulses : float or None
        To be set a m³, so that the meter says what is true; None where it counts none, or no factor is known.
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
    pulses: float | None
    top: float
    target: float
    judgements: list[Judgement] = field(default_factory=list)


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
    top = form.quantity("top", "volume", 1e-4, usual=round(_usual_top(vessel), 6))
    if top > vessel.safe * (1 + 1e-6):
        text = "{value:volume} is above the {limit:volume} that the survey gives as safe fill: be sure of it first."
        judgements.append(watch("top-above-safe", text, value=top, limit=vessel.safe))
    target = form.quantity("target", "volume", 1e-5, usual=round(_TARGET * top, 6))
    factor, pulses = read_meter(form, vessel.product, judgements)
    instruments = read_instruments(form, reads, factor, vessel, judgements)
    start = read_start(form, reads)
    rate = form.quantity("rate", "volume", 1e-6)
    pours = read_pours(form, way, reads, (pulses, rate), instruments.reading_half, judgements)
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
        proven = factor is not None or bool(cans) or bool(form.entries.get("meter.half", "").strip())
        advice = _advise(form, poured, start, pours, top, target, cans, other, proven, judgements)
    against, joined = None, None
    if poured is not None and reads == "level":
        against, joined = _beside(vessel, poured, misfit is None, judgements)
    if misfit is not None:
        judgements.insert(0, _misfit_words(misfit, instruments.factor))
    judgements += [] if poured is None else _plateaus(poured, reads)
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
        form, way, reads, factor, instruments, start, pours, poured, misfit, advice, against, joined, minutes,
        None if factor is None or pulses is None else pulses_anew(pulses, factor.factor), top,
        target, by_weight(judgements),
    )  # fmt: skip


def _usual_top(vessel: Vessel) -> float:
    """The most that may be in it where nobody says [m³]: the safe fill that is stated, or a little below the brim."""
    return min(vessel.safe, _BELOW_BRIM * vessel.brim)


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
    other: float | None, proven: bool, judgements: list[Judgement],
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
    elif found.enough and curve is not None and not proven:
        judgements.append(
            watch(
                "enough-unproven",
                "The table is off by {value:volume} at most if the meter is as good as its type; it was held against "
                "nothing. Prove it before the table is called good.",
                value=found.now,
            )
        )
        found = replace(found, enough=False)
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


def _plateaus(poured: Poured, reads: str) -> list[Judgement]:
    """Readings that stood while more went in than what they are good for: said, each with what went in."""
    unit = {"level": "length", "current": "current"}.get(reads, "number")
    return [
        stop(
            "plateau",
            "The reading stood at {at:" + ("g" if unit == "number" else unit) + "} while {value:volume} went in: a "
            "sensor that is stuck, a weir, or a compartment that fills first. The table is not known there.",
            at=one.reading,
            value=one.volume,
        )
        for one in poured.plateaus
    ]


def _misfit_words(misfit: Misfit, factor: float) -> Judgement:
    looks = {
        "left out": "it looks like one can left out",
        "twice": "it looks like one can written down twice",
        "other": "look at its amount and its reading",
    }[misfit.looks]
    return watch(
        "misfit",
        "Pour {row} does not fit the others: {value:volume} is entered, {limit:volume} would fit; " + looks + ".",
        row=misfit.row + 1,
        # In the meter's own amounts, as they were typed.
        value=abs(misfit.amount) / factor,
        limit=abs(misfit.should_be) / factor,
    )
