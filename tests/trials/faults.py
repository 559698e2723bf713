"""The fault finder at loops that are none of its making: does it name the right part, how soon, how sure when wrong.

``CASES=`` says how many with one fault (300 by default); a fifth as many with two.
"""

from __future__ import annotations

import os
import random
from collections.abc import Sequence

import numpy as np

from .fault_cases import Course, textbook, work
from .loop_rig import SITES


def _worked(count: int, begin: int, faults: int) -> list[Course]:
    """Cases at all sites in turn, every third by somebody who often follows an order of his own."""
    names = list(SITES)
    return [work(names[at % len(names)], at, faults, None, at % 3 == 0) for at in range(begin, begin + count)]


def _single(count: int, begin: int) -> tuple[list[str], list[str]]:
    """One fault each: what was measured, and what does not hold."""
    found = _worked(count, begin, 1)
    named = sum(one.named for one in found) / count
    sure = [one for one in found if one.share >= 0.9]
    right, claimed = (float(np.mean([getattr(one, of) for one in sure])) for of in ("named", "share"))
    good = [one for one in found if "sensor" not in one.right]
    condemned = sum(one.condemns_a_good_sensor for one in good)
    names = list(SITES)
    fixed = [textbook(names[at % len(names)], at) for at in range(begin, begin + count) if at % 3]
    advised = [one for at, one in enumerate(found, begin) if at % 3]
    ratio = float(np.median([one.minutes for one in advised]) / np.median([one.minutes for one in fixed]))
    slow = sum(one.minutes > 1.3 * other.minutes for one, other in zip(advised, fixed, strict=True))
    said = [
        f"{named:.1%} of {count} named right",
        f"{right:.1%} of {len(sure)} at 90 % or more are so, {claimed:.1%} claimed",
        f"{condemned} of {len(good)} good sensors condemned", f"minutes {ratio:.2f} of the fixed order's",
        f"{slow} of {len(advised)} over 130 % of it",
        f"slowest advice {1000 * np.quantile([one.slowest_s for one in found], 0.95):.0f} ms (95 %)",
    ]  # fmt: skip
    held = {
        "named right": named >= 0.96,
        "calibrated": right >= claimed - 0.01,
        "condemned": condemned <= max(0.001 * len(good), 1),
        "minutes": ratio <= 0.4,
        "over 130 %": slow == 0,
    }
    return said, [name for name, holds in held.items() if not holds]


def _two(found: Sequence[Course]) -> tuple[str, bool]:
    """Two faults at once: never sure of a third."""
    wrong = sum(one.share > 0.95 and not one.named for one in found)
    return f"sure of a wrong one in {wrong} of {len(found)} with two faults", wrong <= 0.02 * len(found)


def faults() -> str:
    """Work through cases as advised, and hold what comes of it against what is asked of it."""
    count, begin = int(os.environ.get("CASES", "300")), random.randrange(10**6)
    said, broken = _single(count, begin)
    two, careful = _two(_worked(max(count // 5, 10), begin, 2))
    broken += [] if careful else ["two faults"]
    text = "; ".join([*said, two])
    assert not broken, f"{', '.join(broken)}: {text}"
    return text
