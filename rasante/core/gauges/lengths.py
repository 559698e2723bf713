"""How long to cut: probes by each school of bottom gap, and the cable of a submersible sensor."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, pi

from ..form import Form
from ..judgement import Judgement
from ..units import Words
from .model import GaugeModel
from .situation import Situation


@dataclass(frozen=True)
class School:
    """A school of the gap under a probe.

    Parameters
    ----------
    key, label : str
        Its tag and name.
    gap_m : (float, float)
        The gap it leaves, from and to [m].
    deepest_m : float or None
        The deepest tank that it is allowed for [m].
    spring_m : float
        The least gap at which a sprung foot still gives [m]; 0 without one.
    why : str
        What it is for.
    """

    key: str
    label: str
    gap_m: tuple[float, float]
    deepest_m: float | None
    spring_m: float
    why: str


#: Common practice, no published source. A sprung foot is taken to bottom at 15 mm.
SCHOOLS: dict[str, School] = {
    school.key: school
    for school in (
        School("free", "Free gap", (0.010, 0.020), None, 0.0, "dirt and water collect under it"),
        School("sprung", "Sprung foot", (0.025, 0.030), None, 0.015, "the foot holds it still on the floor"),
        School("hard", "Hard gap, no foot", (0.010, 0.010), 0.7, 0.0, "for shallow tanks, up to 700 mm deep"),
    )
}
#: Of a cap, this much is filled with sealant: common practice.
CAP_FILL = 0.10


@dataclass(frozen=True)
class ProbeCut:
    """A probe's length.

    Parameters
    ----------
    school : School
        By which school.
    depth_m, gap_m, cut_m : float
        From the flange to the floor, the gap, and the probe between [m].
    pieces_m : tuple of float
        Lengths of the pieces that it is joined from, the topmost first [m].
    by_school : tuple of (School, float or None)
        The length by each school [m]; None where the tank is too deep for it.
    wet_m3 : float or None
        Product for a wet calibration, full in its own tube [m³].
    steps : tuple of str
        What to do, in its order.
    judgements : tuple of Judgement
        What to mind.
    """

    school: School
    depth_m: float
    gap_m: float
    cut_m: float
    pieces_m: tuple[float, ...]
    by_school: tuple[tuple[School, float | None], ...]
    wet_m3: float | None
    steps: tuple[str, ...]
    judgements: tuple[Judgement, ...]


def proposed_school(depth_m: float, sediment_m: float) -> tuple[str, str]:
    """Propose a school, and say why: a foot holds a long probe still; a free gap stays clear of what lies there."""
    if sediment_m > 0:
        return "free", "something lies on the floor: keep clear of it"
    if depth_m <= 0.7 + 1e-9:
        return "hard", "shallow: a probe this short stands still without a foot"
    return "sprung", "deep: the foot keeps it from swinging"


def cut_probe(form: Form, there: Situation, model: GaugeModel) -> ProbeCut:
    """Work a probe's length out.

    Parameters
    ----------
    form : Form
        ``cut.depth`` (as measured at the very spot; from the drawing where it is empty), ``cut.school``, ``cut.gap``,
        ``cut.done`` (what was cut).
    there : Situation
        The tank, with the spot.
    model : GaugeModel
        The probe.
    """
    w = Words(form.system)
    measured = form.quantity("cut.depth", "length", 0.02, 30.0)
    depth = there.depth_m if measured is None else measured
    proposed, why = proposed_school(depth, there.sediment_m)
    school = SCHOOLS[form.choice("cut.school", {s.key: s.label for s in SCHOOLS.values()}, proposed)]
    usual = sum(school.gap_m) / 2 + there.sediment_m
    typed = form.quantity("cut.gap", "length", 0.0, depth)
    gap = usual if typed is None else typed
    cut = depth - gap
    found = [Judgement("good", "school", f"Proposed: {SCHOOLS[proposed].label.lower()}; {why}.")]
    if measured is None:
        text = "The depth is the drawing's: measure it at the very spot before the saw."
        found.append(Judgement("watch", "depth-drawn", text))
    elif abs(measured - there.depth_m) > 0.01:
        off = w.length(abs(measured - there.depth_m))
        way = "more" if measured > there.depth_m else "less"
        text = f"Measured {off} {way} than the drawing says: a riser, a slope, sediment, or the wrong spot?"
        found.append(Judgement("watch", "depth-differs", text))
    found += _judge_gap(school, depth, gap, there.sediment_m, w)
    pieces = _pieces(cut, model)
    most = model.section_m * model.sections
    if most and cut > most:
        text = f"{w.length(cut)} is more than this probe can be joined to, {w.length(most)}."
        found.append(Judgement("stop", "too-long-to-make", text))
    done = form.quantity("cut.done", "length", 0.0, 40.0)
    if done is not None:
        found += judge_cut(there, school, depth, gap, done, w)
    wet = None
    if model.tube_inside_m > model.rod_outside_m > 0:
        wet = pi / 4 * (model.tube_inside_m**2 - model.rod_outside_m**2) * max(cut, 0.0)
    order = {"stop": 0, "watch": 1, "good": 2}
    steps = _steps(school, len(pieces), cut, wet, w)
    each = tuple((one, _by_school(one, depth, there.sediment_m)) for one in SCHOOLS.values())
    minded = tuple(sorted(found, key=lambda j: order[j.weight]))
    return ProbeCut(school, depth, gap, cut, pieces, each, wet, steps, minded)


def _by_school(school: School, depth: float, sediment: float) -> float | None:
    if school.deepest_m is not None and depth > school.deepest_m + 1e-9:
        return None
    return depth - sum(school.gap_m) / 2 - sediment


def _judge_gap(school: School, depth: float, gap: float, sediment: float, w: Words) -> list[Judgement]:
    low, high = school.gap_m
    found = []
    if school.deepest_m is not None and depth > school.deepest_m + 1e-9:
        text = f"{school.label} is for tanks up to {w.length(school.deepest_m)} deep; this is "
        found.append(Judgement("stop", "school-depth", f"{text}{w.length(depth)}."))
    if school.spring_m and gap < school.spring_m:
        text = f"With a gap of {w.length(gap)} the spring has bottomed: it cannot be latched by hand."
        found.append(Judgement("stop", "spring", text))
    elif not low - 1e-9 <= gap - sediment <= high + 1e-9:
        span = f"{w.length(low)} to {w.length(high)}" if high > low else w.length(low)
        over = " over the sediment" if sediment else ""
        found.append(Judgement("watch", "gap", f"{school.label} leaves {span}{over}: here {w.length(gap)}."))
    return found


def judge_cut(there: Situation, school: School, depth: float, gap: float, done: float, w: Words) -> list[Judgement]:
    """Judge a probe as it was cut: what it now can read, and what can be rescued.

    Parameters
    ----------
    there : Situation
        The tank.
    school : School
        The school.
    depth, gap, done : float
        Depth at the spot, the gap that was wanted, and the probe as cut [m].
    w : Words
        Writes lengths and volumes.
    """
    left = depth - done
    off = done - (depth - gap)
    if abs(off) < 0.002:
        return [Judgement("good", "cut-right", f"Cut right: {w.length(left)} under it.")]
    if off > 0:
        long = w.length(off)
        if left <= 0:
            return [
                Judgement(
                    "stop", "cut-long", f"{long} too long: it stands on the floor before it seats. Cut it again."
                )
            ]
        if school.spring_m and left < school.spring_m:
            return [Judgement("stop", "cut-long", f"{long} too long: the spring bottoms. Cut that much off.")]
        return [Judgement("watch", "cut-long", f"{long} too long: {w.length(left)} are left under it.")]
    unread = max(left + there.floor_m, 0.0)
    lost = float(there.tank.volume(min(unread, there.tank.inside_height)))
    short = w.length(-off)
    text = f"{short} too short: it reads from {w.length(unread)} up, and the lowest {w.volume(lost)} show as empty."
    low = there.lowest_m
    if unread <= low:
        rescue = " Nothing is lost of what is worked with: set its empty end there."
    elif school.spring_m and left - 0.03 < 0.03:
        rescue = " A longer foot takes that up."
    else:
        rescue = (
            " Rescue: a longer foot or an extension piece; else set its empty end there and post the low mark above."
        )
    return [Judgement("watch" if unread <= low else "stop", "cut-short", text + rescue)]


def _pieces(cut: float, model: GaugeModel) -> tuple[float, ...]:
    """Whole pieces from the top, the rest below; never a stump of less than a tenth of a piece."""
    if not model.section_m or cut <= model.section_m:
        return (cut,)
    count = ceil(cut / model.section_m - 1e-9)
    pieces = [model.section_m] * (count - 1) + [cut - model.section_m * (count - 1)]
    if pieces[-1] < model.section_m / 10:
        share = (pieces[-2] + pieces[-1]) / 2
        pieces[-2:] = [share, share]
    return tuple(pieces)


def _steps(school: School, pieces: int, cut: float, wet: float | None, w: Words) -> tuple[str, ...]:
    """What to do to a probe, in its order."""
    steps = [f"Mark {w.length(cut)} from under the flange, both tubes alike; check the mark against the tape."]
    if pieces > 1:
        joints = pieces - 1
        steps.append(
            f"Join {pieces} pieces at {joints} joint{'s' if joints > 1 else ''}: plug, stud and sleeve; the outer "
            "tubes must touch."
        )
    steps += [
        "Saw square, away from the tank; file off every burr; blow the tubes out.",
        f"End cap on, sealant to about {CAP_FILL:.0%} of it; clean the electrode.",
    ]
    if school.spring_m:
        steps.append("Sprung foot on: it must latch by hand. If it does not, the probe is too long.")
    steps.append("Trim before calibrating, never after.")
    if wet is not None:
        fuel = w.volume(wet)
        how = " Upside-down: tape the joints and the drain holes first." if pieces > 1 else ""
        steps.append(
            f"Wet ends: full takes {fuel} of the same fuel; then drained for empty, each when it stands still.{how}"
        )
    if pieces > 1:
        steps.append("Tape off; centring spacer on after that.")
    return tuple(steps)


@dataclass(frozen=True)
class CableCut:
    """A submersible sensor's cable.

    Parameters
    ----------
    down_m, run_m, loop_m, need_m : float
        From the flange to the sensor, on to the box, the drip loop, and all of it [m].
    off_floor_m : float
        How far the sensor hangs above the floor [m].
    stock_m : float or None
        The length to order; None if none is long enough [m].
    have_m : float or None
        The length that arrived [m].
    range_m : float
        What the sensor measures, of water [m]: not its cable.
    judgements : tuple of Judgement
        What to mind.
    """

    down_m: float
    run_m: float
    loop_m: float
    need_m: float
    off_floor_m: float
    stock_m: float | None
    have_m: float | None
    range_m: float
    judgements: tuple[Judgement, ...]


def cut_cable(form: Form, there: Situation, model: GaugeModel) -> CableCut:
    """Work a submersible sensor's cable out.

    Parameters
    ----------
    form : Form
        ``cut.depth``, ``cable.off_floor``, ``cable.run``, ``cable.loop``, ``cable.have``.
    there : Situation
        The tank, with the spot.
    model : GaugeModel
        The sensor.

    Notes
    -----
    Need = depth − off the floor + run to the box + drip loop; the next stock length up. A sensor hangs 50 mm off the
    floor, or above its sediment, where nobody typed it; the drip loop is 0.3 m. Common practice, no published source.
    """
    w = Words(form.system)
    measured = form.quantity("cut.depth", "length", 0.02, 60.0)
    depth = there.depth_m if measured is None else measured
    off = form.quantity("cable.off_floor", "length", 0.0, depth)
    off_floor = max(0.05, there.sediment_m + 0.05) if off is None else off
    run = form.quantity("cable.run", "length", 0.0, 2000.0)
    loop = form.quantity("cable.loop", "length", 0.0, 20.0)
    have = form.quantity("cable.have", "length", 0.0, 5000.0)
    down, run_m, loop_m = depth - off_floor, 3.0 if run is None else run, 0.3 if loop is None else loop
    need = down + run_m + loop_m
    stock = min((length for length in model.cable_stock_m if length >= need - 1e-9), default=None)
    found = [_two_lengths(model, stock, have, w)]
    if run is None:
        found.append(Judgement("watch", "run", "The run to the box is taken as 3 m: measure it."))
    if stock is None and have is None:
        most = max(model.cable_stock_m, default=0.0)
        text = f"Needs {w.length(need)}; the longest that is sold is {w.length(most)}: "
        found.append(
            Judgement("stop", "stock", text + "a vented junction box nearer the tank, never a plain splice.")
        )
    lost = float(there.tank.volume(min(there.floor_m + off_floor, there.tank.inside_height)))
    text = f"Hangs {w.length(off_floor)} off the floor: set that as its offset, {w.volume(lost)} below it."
    found.append(Judgement("watch" if off_floor < there.sediment_m else "good", "off-floor", text))
    if have is not None and have < need - 1e-9:
        found.append(_too_short(there, need, have, off_floor, w))
    elif have is not None:
        spare = w.length(have - need)
        found.append(
            Judgement("good", "cable-enough", f"{spare} to spare: coil it in the box, never cut the vent tube short.")
        )
    order = {"stop": 0, "watch": 1, "good": 2}
    return CableCut(
        down, run_m, loop_m, need, off_floor, stock, have, model.range_m,
        tuple(sorted(found, key=lambda j: order[j.weight])),
    )  # fmt: skip


def _two_lengths(model: GaugeModel, stock: float | None, have: float | None, w: Words) -> Judgement:
    """Range and cable length, which one label carries and people confuse."""
    measures = w.length(model.range_m)
    if have is not None and abs(have - model.range_m) < 0.005 * model.range_m:
        text = (
            f"{measures} is the range on the label: is the cable that long as well? They are two different lengths."
        )
        return Judgement("watch", "range-or-cable", text)
    order = f", order {w.length(stock)} of cable" if stock else ""
    return Judgement("good", "range-or-cable", f"Measures {measures} of water{order}: two different lengths.")


def _too_short(there: Situation, need: float, have: float, off_floor: float, w: Words) -> Judgement:
    short = need - have
    hangs = off_floor + short
    unread = min(there.floor_m + hangs, there.tank.inside_height)
    lost = float(there.tank.volume(unread))
    text = (
        f"{w.length(short)} too short: hung where it reaches, it reads from {w.length(unread)} "
        f"up, and the lowest {w.volume(lost)} show as empty."
    )
    if unread <= there.lowest_m:
        return Judgement("watch", "cable-short", text + " Nothing is lost of what is worked with: set its offset.")
    return Judgement(
        "stop", "cable-short", text + " A shorter run, or a vented junction box at the tank, rescues it."
    )
