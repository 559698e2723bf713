"""What a step holds one number against another by: numbers in, a judgement out."""

from __future__ import annotations

from ..quantities.judgement import Judgement, good, stop, watch

#: How far what a screen stands for may be from a dip [m]. Common practice, no published source.
DIP_M = 0.010
#: Float gauges are 5–10 % out: common practice, no published source.
DIAL = (0.05, 0.10)
#: What twice the depth may be off by in a bucket, of the first reading [1]. Common practice, no published source.
DOUBLE = 0.10
#: How far the height by counted courses may be from the survey's [1]: a judgement, no published source.
COURSES = 0.02


def _within(size: float, limit: float) -> bool:
    """Whether a number lies within a limit: ten millimetres are within ten, whatever the last bit says."""
    return abs(size) <= limit + 1e-9


def judge_against_dip(level_m: float, dip_m: float) -> Judgement:
    """Judge the level that a screen, a meter or a far end stands for against a dip.

    Parameters
    ----------
    level_m, dip_m : float
        Innage by the chain, and by the tape [m].
    """
    off = level_m - dip_m
    judge = good if _within(off, DIP_M) else watch if _within(off, 5 * DIP_M) else stop
    text = "It stands for {level:length}: {off:length} from the dip, {limit:length} is allowed."
    return judge("against-dip", text, value=abs(off), limit=DIP_M, level=level_m, off=off)


def judge_against_dial(linear: float, dial: float) -> Judgement:
    """Judge a sensor against a float's dial, both by height: a dial knows nothing of volume.

    Parameters
    ----------
    linear, dial : float
        The sensor's level, and the dial's, of the inside height [1].
    """
    off = abs(linear - dial)
    judge = good if _within(off, DIAL[0]) else watch if _within(off, DIAL[1]) else stop
    text = "By height the two are {value:.0%} apart; a float gauge may be {limit:.0%} to {most:.0%} out."
    return judge("against-float", text, value=off, limit=DIAL[0], most=DIAL[1])


def depth_ratio(dry: float, first: float, twice: float) -> float | None:
    """By how much a reading above its zero grows when the depth is doubled [1]; None where nothing is measured.

    Parameters
    ----------
    dry, first, twice : float
        Readings dry, at a depth, and at twice that depth, in one unit.
    """
    return None if abs(first - dry) < 1e-6 else (twice - dry) / (first - dry)


def judge_doubling(ratio: float | None) -> Judgement:
    """Judge a bench test of two depths: twice the depth doubles the reading above zero."""
    if ratio is None:
        return stop("bench-dead", "It reads the same wet and dry: nothing is measured.")
    judge = good if _within(ratio - 2, DOUBLE) else stop
    text = "Twice the depth gives {value:.2f} times the reading above zero; {limit:.0f} is right."
    return judge("bench", text, value=ratio, limit=2.0)


def judge_courses(height_m: float, inside_m: float) -> Judgement:
    """Judge the height to the overflow by counted shell courses against the inside height of the survey [m]."""
    off = height_m - inside_m
    judge = good if _within(off, COURSES * inside_m) else watch
    text = "The survey says {inside:length} inside: {off:length} apart."
    return judge("courses", text, value=abs(off), limit=COURSES * inside_m, inside=inside_m, off=off)
