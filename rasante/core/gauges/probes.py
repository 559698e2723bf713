"""How long to cut a probe, by each school of bottom gap."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, pi

from ..quantities.form import Form
from ..quantities.judgement import Judgement, Phrase, by_weight, good, phrase, stop, watch
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
    steps : tuple of Phrase
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
    steps: tuple[Phrase, ...]
    judgements: tuple[Judgement, ...]


def proposed_school(depth_m: float, sediment_m: float) -> tuple[str, str]:
    """Propose a school, and say why: a foot holds a long probe still; a free gap stays clear of what lies there."""
    if sediment_m > 0:
        return "free", "something lies on the floor: keep clear of it"
    if depth_m <= 0.7 + 1e-9:
        return "hard", "shallow: a probe this short stands still without a foot"
    return "sprung", "deep: the foot keeps it from swinging"


def probe_length(depth_m: float, gap_m: float) -> float:
    """Length to cut a probe to [m]: the depth at the very spot, less the gap under it."""
    return depth_m - gap_m


def wet_volume(tube_inside_m: float, rod_outside_m: float, length_m: float) -> float | None:
    """Product that fills a probe's own tube for a wet calibration [m³]; None where tube and rod are not known."""
    if not tube_inside_m > rod_outside_m > 0:
        return None
    return pi / 4 * (tube_inside_m**2 - rod_outside_m**2) * max(length_m, 0.0)


@dataclass(frozen=True)
class Tape:
    """What was measured and chosen for a cut; None where nothing was.

    Parameters
    ----------
    depth_m : float or None
        From the flange to the floor at the very spot [m].
    school : str
        Of `SCHOOLS`; empty for the proposed one.
    gap_m : float or None
        The gap under a probe [m].
    done_m : float or None
        A probe as it was cut [m].
    """

    depth_m: float | None = None
    school: str = ""
    gap_m: float | None = None
    done_m: float | None = None


def read_tape(form: Form, depth_m: float) -> Tape:
    """Read what was measured for a probe.

    Parameters
    ----------
    form : Form
        ``cut.depth`` (as measured at the very spot), ``cut.school``, ``cut.gap``, ``cut.done`` (what was cut).
    depth_m : float
        The depth by the drawing, where none is typed [m].
    """
    measured = form.quantity("cut.depth", "length", 0.02, 30.0)
    return Tape(
        measured,
        form.choice("cut.school", {school.key: school.label for school in SCHOOLS.values()}),
        form.quantity("cut.gap", "length", 0.0, depth_m if measured is None else measured),
        form.quantity("cut.done", "length", 0.0, 40.0),
    )


def cut_probe(tape: Tape, there: Situation, model: GaugeModel) -> ProbeCut:
    """Work a probe's length out.

    Parameters
    ----------
    tape : Tape
        What was measured; the depth is the drawing's where none was.
    there : Situation
        The tank, with the spot.
    model : GaugeModel
        The probe.
    """
    depth = there.depth_m if tape.depth_m is None else tape.depth_m
    proposed, why = proposed_school(depth, there.sediment_m)
    school = SCHOOLS[tape.school or proposed]
    gap = sum(school.gap_m) / 2 + there.sediment_m if tape.gap_m is None else tape.gap_m
    cut = probe_length(depth, gap)
    found = [good("school", "Proposed: {school}; {why}.", school=SCHOOLS[proposed].label.lower(), why=why)]
    if tape.depth_m is None:
        found.append(watch("depth-drawn", "The depth is the drawing's: measure it at the very spot before the saw."))
    elif abs(tape.depth_m - there.depth_m) > 0.01:
        text = "Measured {off:length} {way} than the drawing says: a riser, a slope, sediment, or the wrong spot?"
        off, way = abs(tape.depth_m - there.depth_m), "more" if tape.depth_m > there.depth_m else "less"
        found.append(watch("depth-differs", text, value=tape.depth_m, limit=there.depth_m, off=off, way=way))
    found += _judge_gap(school, depth, gap, there.sediment_m)
    pieces, most = _pieces(cut, model), model.section_m * model.sections
    if most and cut > most:
        text = "{value:length} is more than this probe can be joined to, {limit:length}."
        found.append(stop("too-long-to-make", text, value=cut, limit=most))
    if tape.done_m is not None:
        found += judge_cut(there, school, depth, gap, tape.done_m)
    wet = wet_volume(model.tube_inside_m, model.rod_outside_m, cut)
    each = tuple((one, _by_school(one, depth, there.sediment_m)) for one in SCHOOLS.values())
    steps = _steps(school, len(pieces), cut, wet, model.tube_inside_m > 0)
    return ProbeCut(school, depth, gap, cut, pieces, each, wet, steps, tuple(by_weight(found)))


def _by_school(school: School, depth: float, sediment: float) -> float | None:
    if school.deepest_m is not None and depth > school.deepest_m + 1e-9:
        return None
    return depth - sum(school.gap_m) / 2 - sediment


def _judge_gap(school: School, depth: float, gap: float, sediment: float) -> list[Judgement]:
    low, high = school.gap_m
    found = []
    if school.deepest_m is not None and depth > school.deepest_m + 1e-9:
        text = "{school} is for tanks up to {limit:length} deep; this is {value:length}."
        found.append(stop("school-depth", text, value=depth, limit=school.deepest_m, school=school.label))
    if school.spring_m and gap < school.spring_m:
        text = "With a gap of {value:length} the spring has bottomed: it cannot be latched by hand."
        found.append(stop("spring", text, value=gap, limit=school.spring_m))
    elif not low - 1e-9 <= gap - sediment <= high + 1e-9:
        span = "{low:length} to {high:length}" if high > low else "{low:length}"
        over = " over the sediment" if sediment else ""
        text = "{school} leaves " + span + "{over}: here {value:length}."
        limit = low if gap - sediment < low else high
        found.append(watch("gap", text, value=gap, limit=limit, low=low, high=high, school=school.label, over=over))
    return found


def judge_cut(there: Situation, school: School, depth: float, gap: float, done: float) -> list[Judgement]:
    """Judge a probe as it was cut: what it now can read, and what can be rescued.

    Parameters
    ----------
    there : Situation
        The tank.
    school : School
        The school.
    depth, gap, done : float
        Depth at the spot, the gap that was wanted, and the probe as cut [m].
    """
    left, wanted = depth - done, probe_length(depth, gap)
    off = done - wanted
    if abs(off) < 0.002:
        return [good("cut-right", "Cut right: {left:length} under it.", value=done, limit=wanted, left=left)]
    if off > 0:
        numbers = {"value": done, "limit": wanted, "off": off, "left": left}
        if left <= 0:
            text = "{off:length} too long: it stands on the floor before it seats. Cut it again."
            return [stop("cut-long", text, **numbers)]
        if school.spring_m and left < school.spring_m:
            return [stop("cut-long", "{off:length} too long: the spring bottoms. Cut that much off.", **numbers)]
        return [watch("cut-long", "{off:length} too long: {left:length} are left under it.", **numbers)]
    unread = max(left + there.floor_m, 0.0)
    lost = float(there.tank.volume(min(unread, there.tank.inside_height)))
    text = "{off:length} too short: it reads from {unread:length} up, and the lowest {lost:volume} show as empty."
    numbers = {"value": done, "limit": wanted, "off": -off, "unread": unread, "lost": lost}
    if unread <= there.lowest_m:
        rescue = " Nothing is lost of what is worked with: set its empty end there."
        return [watch("cut-short", text + rescue, **numbers)]
    if school.spring_m and left - 0.03 < 0.03:
        return [stop("cut-short", text + " A longer foot takes that up.", **numbers)]
    rescue = " Rescue: a longer foot or an extension piece; else set its empty end there and post the low mark above."
    return [stop("cut-short", text + rescue, **numbers)]


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


def _steps(school: School, pieces: int, cut: float, wet: float | None, tubes: bool) -> tuple[Phrase, ...]:
    """What to do to a probe, in its order: one of two tubes, or a rod."""
    both = ", both tubes alike" if tubes else ""
    steps = [
        phrase("Mark {cut:length} from under the flange{both}; check the mark against the tape.", cut=cut, both=both)
    ]
    if pieces > 1:
        how = "plug, stud and sleeve; the outer tubes must touch." if tubes else "stud and lock nut, tight."
        text = "Join {pieces:d} pieces at {joints:d} joint{s}: " + how
        steps.append(phrase(text, pieces=pieces, joints=pieces - 1, s="s" if pieces > 2 else ""))
    saw = "Saw square, away from the tank; file off every burr"
    steps.append(Phrase(saw + ("; blow the tubes out." if tubes else ".")))
    if tubes:
        text = "End cap on, sealant to about {fill:.0%} of it; clean the electrode."
        steps.append(phrase(text, fill=CAP_FILL))
    if school.spring_m:
        steps.append(Phrase("Sprung foot on: it must latch by hand. If it does not, the probe is too long."))
    if tubes:
        steps.append(Phrase("Trim before calibrating, never after."))
    else:
        steps.append(phrase("Type its new length into the sensor, {cut:length}: it counts from there.", cut=cut))
    if wet is not None:
        text = "Wet ends: full takes {wet:volume} of the same fuel; then drained, each when it stands still."
        how = " Upside-down: tape the joints and the drain holes first." if pieces > 1 else ""
        steps.append(phrase(text + how, wet=wet))
    if pieces > 1:
        steps.append(Phrase("Tape off; centring spacer on after that." if tubes else "Centring spacer on."))
    return tuple(steps)
