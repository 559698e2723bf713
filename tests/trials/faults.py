"""The fault finder on cases at random: does it name the right part, how soon, and how sure is it when it is wrong.

``CASES=`` says how many with one fault (1000 by default); a tenth as many with two, and with one not known to it.
"""

from __future__ import annotations

import os
import random
import time
from dataclasses import replace

import numpy as np

from rasante.core.faults.predict import Wrong
from tests.core.fault_cases import Case, cases, draw_fault, strange_at, textbook, unknown_faults, work_through


def _single(count: int, begin: int) -> tuple[list[str], list[str]]:
    """One fault each: what was measured, and what does not hold."""
    right, sure, condemned, sound, lost, slow = 0, [], 0, 0, 0, 0
    minutes, ordered, each = [], [], []
    for case in cases(count, begin):
        start = time.perf_counter()
        course = work_through(case)
        each.append((time.perf_counter() - start) / max(len(course.findings) - 1, 1))
        told = course.advice.part in case.parts
        right += told
        sure += [told] if course.share >= 0.9 else []
        if "sensor" not in case.parts:
            sound += 1
            condemned += course.advice.verdict == "found" and course.advice.part == "sensor"
        lost += course.advice.verdict == "nothing-fits"
        other = work_through(case, textbook, 60)
        minutes.append(course.minutes)
        ordered.append(other.minutes)
        slow += course.minutes > 1.3 * other.minutes
    ratio = float(np.median(minutes) / np.median(ordered))
    said = [
        f"{right / count:.1%} named right", f"{np.mean(sure):.1%} of {len(sure)} at 90 % or more are so",
        f"{condemned} of {sound} good sensors condemned", f"nothing fits in {lost / count:.1%}",
        f"{np.median(minutes):.0f} min against {np.median(ordered):.0f} in textbook order ({ratio:.2f})",
        f"{slow} of {count} over 130 % of it", f"{1000 * np.median(each):.0f} ms an advice",
    ]  # fmt: skip
    held = {
        "named right": right >= 0.95 * count,
        "calibrated": float(np.mean(sure)) >= 0.9,
        "condemned": condemned <= 0.01 * sound,
        "nothing fits": lost <= 0.02 * count,
        "minutes": ratio <= 0.6,
        "over 130 %": slow == 0,
    }
    return said, [name for name, holds in held.items() if not holds]


def _unknown(count: int, begin: int) -> tuple[str, bool]:
    """Faults that are not in its list: whether that is said, and where they sit."""
    fits, where = 0, []
    for case in unknown_faults(count, begin):
        advice = work_through(case).advice
        if advice.verdict == "nothing-fits":
            fits += 1
            where += [advice.astray in strange_at(case)] if advice.astray else []
    told = f"it says where in {len(where)}, rightly in {sum(where)}"
    return f"nothing fits in {fits / count:.0%} of {count} that it does not know ({told})", fits >= 0.8 * count


def _two(count: int, begin: int) -> tuple[str, bool]:
    """Two faults at once: never sure of a third."""
    wrong = 0
    for case in cases(count, begin):
        course = work_through(_with_another(case))
        wrong += course.advice.verdict == "found" and course.advice.part not in _with_another(case).parts
    return f"sure of a wrong one in {wrong} of {count} with two faults", wrong <= 0.05 * count


def _with_another(case: Case) -> Case:
    rng = np.random.default_rng(case.seed + 10**6)
    first = case.wrong.fault
    other = draw_fault(case.at, rng)
    while other.kind.part == first.kind.part or not other.edits or not first.edits:
        first, other = draw_fault(case.at, rng), draw_fault(case.at, rng)
    both = replace(first, edits=(*first.edits, *other.edits))
    return replace(case, wrong=Wrong(case.at, both), parts=frozenset((first.kind.part, other.kind.part)))


def faults() -> str:
    """Work through cases as advised, and hold what comes of it against what is asked of it."""
    count, begin = int(os.environ.get("CASES", "1000")), random.randrange(10**6)
    said, broken = _single(count, begin)
    unknown, knows = _unknown(max(count // 10, 10), begin)
    two, careful = _two(max(count // 10, 10), begin)
    broken += [] if knows else ["unknown faults"]
    broken += [] if careful else ["two faults"]
    text = "; ".join([*said, unknown, two])
    assert not broken, f"{', '.join(broken)}: {text}"
    return text
