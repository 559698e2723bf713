"""How answers are written to be kept: line by line, so that a difference says what has moved."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

#: What differs from one making of the demo to the next, and what a fit ends at: its last figures are a machine's own.
PASSING = {
    "id", "tank", "revision", "changed_at", "changed_by", "made_at", "made_by", "signed_at", "age", "now", "site",
    "table_id", "error_at_mm", "joined", "patterns",
}  # fmt: skip
#: A day in words: that of the making of the demo, today.
DAY = re.compile(r"\b\d{1,2} [A-Z][a-z]{2}( \d{4})?\b")


def text_of(value: Any) -> str:
    """A leaf as it is compared: six figures of a number, as machines agree on them."""
    if isinstance(value, float):
        return "0" if abs(value) < 1e-9 else f"{value:.6g}"
    return DAY.sub("(a day)", str(value))


def lines(value: Any, path: str = "") -> Iterator[str]:
    """Every leaf of an answer with its path; a flat row on one line; a long list by where it begins and ends."""
    if isinstance(value, Mapping):
        there = {key: one for key, one in value.items() if key not in PASSING and not _empty(one)}
        flat = {key: one for key, one in there.items() if not isinstance(one, (Mapping, list))}
        if flat:
            yield f"{path}: " + "; ".join(f"{key}={text_of(one)}" for key, one in flat.items())
        for key, one in there.items():
            if key not in flat:
                yield from lines(one, f"{path}.{key}" if path else key)
    elif isinstance(value, list) and value and not isinstance(value[0], (Mapping, list)):
        numbers = [one for one in value if isinstance(one, (int, float))]
        some = [*value[:3], "…", value[len(value) // 2], "…", *value[-2:]] if len(value) > 12 else value
        total = f" of {len(value)}, together {sum(numbers):.6g}" if len(value) > 12 and numbers else ""
        yield f"{path}: [{', '.join(map(text_of, some))}]{total}"
    elif isinstance(value, list):
        shown = value if len(value) <= 40 else [*value[:3], value[len(value) // 2], *value[-3:]]
        for index, one in enumerate(shown):
            yield from lines(one, f"{path}[{index}]")
    else:
        yield f"{path}: {text_of(value)}"


def _empty(value: Any) -> bool:
    return value is None or (isinstance(value, (str, list, dict)) and not value)


def moved(kept: Sequence[str], found: Sequence[str], most: int = 12) -> list[tuple[str, str]]:
    """The first lines that are other than they were kept, with what was; and that there are more or less of them."""
    differ = [(was, now) for was, now in zip(kept, found, strict=False) if was != now]
    if len(kept) != len(found):
        differ.append((f"{len(kept)} lines", f"{len(found)} lines"))
    return differ[:most]
