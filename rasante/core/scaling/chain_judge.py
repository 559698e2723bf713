"""What to make of a scaling chain: settings that do not agree, limits met, and faults that look like levels."""

from __future__ import annotations

from ..judgement import Judgement
from ..units import System, Words
from . import registers
from .chain import SIGNALS, Chain, path_of
from .chain_line import FAULT_CURRENTS, fault_is_told, fault_values, slopes_at, steps_at
from .chain_settings import FOLLOWING, SETTINGS, asked, raw_ends, settle, text_of
from .chain_values import places_text, value_text
from .hops import innage_taken, level_from, run, sensed

#: A coarser step than this of the inside height is told [1]: common practice, no published source.
_COARSE = 0.005


def judge_chain(c: Chain, system: System) -> list[Judgement]:
    """Judge a chain; the heaviest first.

    Parameters
    ----------
    c : Chain
        The chain.
    system : {"metric", "us"}
        The units of the words.
    """
    w = Words(system)
    found = [
        *_agrees(c, w),
        *_range(c, w),
        *_register(c, w),
        *_digits(c, w),
        *_card(c),
        *_fault(c, w),
        *_coarse(c, w),
    ]
    if not any(judgement.weight == "stop" for judgement in found):
        ends = [run(c, level)["shown"] for level in (0.0, c.tank.inside_height)]
        texts = [value_text(c, "shown", value, system) for value in ends]
        found.append(
            Judgement("good", "agrees", f"Every hop agrees with the next: empty shows {texts[0]}, full {texts[1]}.")
        )
    order = {"stop": 0, "watch": 1, "good": 2}
    return sorted(found, key=lambda judgement: order[judgement.weight])


def differing(c: Chain) -> list[str]:
    """Return the settings that are not what the others ask for."""
    usual = (c.counts_low, c.counts_high) == raw_ends(c.signal_kind, c.counts_bits)
    # A card with raw ends of its own has signals of its own for them: 0 mA for 0 is as right as 4 mA for 6553.
    own = frozenset() if usual else frozenset(("counts_at_low", "counts_at_high"))
    right = settle(c, own)
    return [name for name in FOLLOWING if name in asked(c) and _differs(getattr(c, name), getattr(right, name))]


def _differs(first: object, second: object) -> bool:
    if isinstance(first, float | int) and isinstance(second, float | int):
        return abs(first - second) > 1e-6 * max(abs(first), abs(second), 1e-6)
    return first != second


def _agrees(c: Chain, w: Words) -> list[Judgement]:
    """Whether the screen's level is the tank's at a tenth and at nine tenths of what is read of it."""
    low, high = readable(c)
    if high - low < 1e-6:
        return []
    steps = steps_at(c, slopes_at(c, (low + high) / 2))
    allowed = 0.002 * c.tank.inside_height + max(steps.values(), default=0.0)
    for share in (0.9, 0.1):
        level = low + share * (high - low)
        taken = innage_taken(c, run(c, level)["read"])
        if not abs(taken - level) <= allowed:
            right, names = settle(c), differing(c)
            wrong = "; ".join(
                f"{SETTINGS[n].label.lower()} ({path_of(n)}) is {text_of(c, n, w.system)}, the rest asks for "
                f"{text_of(right, n, w.system)}"
                for n in names[:3]
            )
            has = w.length(taken) if abs(taken) < 1e4 else f"{taken:.3g} m"
            text = f"With {w.length(level)} in the tank the screen has {has}"
            return [Judgement("stop", "parts", f"{text}: {wrong}." if wrong else f"{text}.")]
    return []


def readable(c: Chain) -> tuple[float, float]:
    """Lowest and highest innage that the signal tells apart [m]; equal if it tells none."""
    ends = sorted(level_from(c, "sensed", end) for end in (c.sensor_low, c.sensor_high))
    low, high = max(ends[0], 0.0), min(ends[1], c.tank.inside_height)
    return (low, high) if high > low else (0.0, 0.0)


def _range(c: Chain, w: Words) -> list[Judgement]:
    low, high = readable(c)
    height = c.tank.inside_height
    if high <= low:
        return [Judgement("stop", "outside", "The sensor's range lies outside the tank: nothing of it is read.")]
    found = []
    if high < height - 1e-3:
        text = f"The sensor's range ends at {w.length(high)}: the top {w.length(height - high)} all shows alike."
        found.append(Judgement("watch", "top-unread", text))
    if low > 1e-3:
        text = f"The sensor's range begins at {w.length(low)}: below it all shows alike."
        found.append(Judgement("watch", "bottom-unread", text))
    least, most = sorted((c.sensor_low, c.sensor_high))
    used = abs(sensed(c, high) - sensed(c, low)) / (most - least)
    if used < 0.5:
        percent = w.length((high - low) / used / 100)
        text = f"Only {used:.0%} of the sensor's range is used: 1 % of its span is {percent}."
        found.append(Judgement("watch", "wasted-span", text))
    return found


def _register(c: Chain, w: Words) -> list[Judgement]:
    """Where the register does not hold the number: at the tank's ends and where the signal ends."""
    for level in (c.tank.inside_height, 0.0):
        scaled = run(c, level)["scaled"]
        raw = scaled * c.register_multiplier + c.register_offset
        if not registers.fits(c.register_type, raw):
            least, most = registers.bounds(c.register_type)
            turns = places_text(registers.wrapped(raw, c.register_type), 0)
            text = (
                f"At {w.length(level)} the register would be {places_text(raw, 0)}: "
                f"{registers.TYPES[c.register_type][0]} holds {least:.6g} to {most:.6g}, so it turns into {turns}."
            )
            return [Judgement("stop", "register", text)]
    return []


def _digits(c: Chain, w: Words) -> list[Judgement]:
    if not c.scaled_digits:
        return []
    most = (10.0**c.scaled_digits - 1) / 10.0 ** max(c.scaled_decimals, 0)
    full = max((run(c, level)["scaled"] for level in (0.0, c.tank.inside_height)), key=abs)
    if abs(full) < most:
        return []
    level = level_from(c, "scaled", most if full > 0 else -most)
    ends = places_text(most, max(c.scaled_decimals, 0))
    text = f"{c.scaled_digits} digits end at {ends}: from {w.length(level)} on it stands still."
    return [Judgement("stop", "digits", text)]


def _card(c: Chain) -> list[Judgement]:
    if c.digital or c.counts_over == "wrap":
        return []
    most = 2.0**c.counts_bits - 1 if c.counts_over == "clip" else max(c.counts_low, c.counts_high)
    if max(c.counts_low, c.counts_high) > 2.0**c.counts_bits - 1:
        text = f"{max(c.counts_low, c.counts_high):.0f} counts need more than {c.counts_bits} bits."
        return [Judgement("stop", "bits", text)]
    if max(c.counts_low, c.counts_high) >= most:
        text = "The card is full at the signal's high end: what lies beyond it cannot be seen in the counts."
        return [Judgement("watch", "over-range", text)]
    return []


def _fault(c: Chain, w: Words) -> list[Judgement]:
    """Whether a lost echo or a failed sensor looks like a level."""
    if c.digital:
        return []
    if "hold" in (c.signal_fault, c.shown_error):
        who = "the sensor" if c.signal_fault == "hold" else "the screen"
        text = f"On a fault {who} holds its last value: it looks like a still tank. Show the reading's age."
        return [Judgement("watch", "fault-holds", text)]
    current = c.signal_kind in ("ma4", "ma0")
    sent = f"{FAULT_CURRENTS[c.signal_fault] * 1000:g} mA" if current else f"a {c.signal_fault} signal"
    return [_told(c, sent) if fault_is_told(c) else _looks(c, sent, w)]


def _told(c: Chain, sent: str) -> Judgement:
    """A fault that the screen takes for one; unless it takes a working sensor for failed as well."""
    least, most = c.signal_limits
    if least <= c.shown_below or most >= c.shown_above:
        text = "A working sensor at the end of its range is taken for a failed one: its limits overlap."
        return Judgement("watch", "fault-overlaps", text)
    return Judgement("good", "fault-seen", f"A failed sensor ({sent}) is shown as an error.")


def _looks(c: Chain, sent: str, w: Words) -> Judgement:
    """What a fault shows that nobody looks out for."""
    values = fault_values(c)
    assert values is not None
    ends = sorted(run(c, level)["shown"] for level in (0.0, c.tank.inside_height))
    shown = value_text(c, "shown", values["shown"], w.system)
    if c.signal_kind != "ma4" and c.signal_fault == "low":
        text = f"A broken wire reads like the low end of {SIGNALS[c.signal_kind][0]}: it shows {shown}, like a level."
        return Judgement("watch", "fault-looks-like-a-level", text)
    if ends[0] <= values["shown"] <= ends[1]:
        text = f"A failed sensor ({sent}) shows {shown}, as a level would: give the screen an error value for it."
        return Judgement("watch", "fault-looks-like-a-level", text)
    return Judgement("good", "fault-seen", f"A failed sensor ({sent}) shows {shown}, which no level does.")


def _coarse(c: Chain, w: Words) -> list[Judgement]:
    low, high = readable(c)
    level = (low + high) / 2
    steps = steps_at(c, slopes_at(c, level))
    if not steps:
        return []
    station = max(steps, key=lambda s: steps[s])
    if steps[station] <= _COARSE * c.tank.inside_height:
        return []
    volume = w.volume(steps[station] * float(c.tank.surface(level)))
    names = {"counts": "count", "scaled": "step of the scaled number", "register": "step of the register"}
    text = f"One {names.get(station, 'step of the screen')} is {w.length(steps[station])}, {volume} at mid-tank."
    return [Judgement("watch", "coarse", text)]
