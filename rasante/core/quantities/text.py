"""What can be kept, sent and printed: text without half characters and control signs, and no boundless numbers."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from itertools import chain, islice
from math import isfinite
from typing import Any

from .errors import InputError, Problem

#: Half of a surrogate pair by itself, and control signs other than tab and line ends.
_BAD = re.compile("[\ud800-\udfff\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")
#: How deep objects and lists of a document may lie in one another.
DEEPEST = 100
#: Whole numbers beyond it are not the same to every reader of JSON: RFC 8259, section 6.
LARGEST_WHOLE = 2**53 - 1
#: More than so many signs that cannot be kept are not told one by one.
_MOST_PROBLEMS = 20


def bad_at(text: str) -> int | None:
    """Where in a text the first sign stands that cannot be kept, from 1; None where all can."""
    found = _BAD.search(text)
    return None if found is None else found.start() + 1


def mended(value: Any) -> Any:
    """A value read from JSON with every sign that cannot be kept replaced by �, keys included."""
    if isinstance(value, str):
        return _BAD.sub("\ufffd", value)
    if isinstance(value, Mapping):
        return {mended(key): mended(one) for key, one in value.items()}
    return [mended(one) for one in value] if isinstance(value, list) else value


def bad_places(value: Any, where: str = "") -> Iterator[tuple[str, int]]:
    """Every text of a value read from JSON that cannot be kept: its place, and where in it."""
    if isinstance(value, str):
        at = bad_at(value)
        if at is not None:
            yield where, at
    elif isinstance(value, Mapping):
        for key, one in value.items():
            place = f"{where}.{mended(str(key))}" if where else mended(str(key))
            if bad_at(str(key)) is not None:
                yield place, bad_at(str(key)) or 1
            yield from bad_places(one, place)
    elif isinstance(value, list):
        for index, one in enumerate(value):
            yield from bad_places(one, f"{where}[{index}]")


def bad_numbers(value: Any, where: str = "") -> Iterator[str]:
    """The place of every number of a value read from JSON that is too large for every reader to take."""
    if isinstance(value, bool):
        return
    if isinstance(value, int):
        if abs(value) > LARGEST_WHOLE:
            yield where
    elif isinstance(value, float):
        if not isfinite(value):
            yield where
    elif isinstance(value, Mapping):
        for key, one in value.items():
            yield from bad_numbers(one, f"{where}.{mended(str(key))}" if where else mended(str(key)))
    elif isinstance(value, list):
        for index, one in enumerate(value):
            yield from bad_numbers(one, f"{where}[{index}]")


def refuse_what_cannot_be_kept(value: Any) -> None:
    """Raise `InputError` at every text and number of a value read from JSON that cannot be kept."""
    signs = (
        Problem(where, f"has a sign at place {at} that cannot be kept: delete it, or type it again")
        for where, at in bad_places(value)
    )
    numbers = (
        Problem(where, "is not finite, or too large for any measurement: type it again")
        for where in bad_numbers(value)
    )
    found = list(islice(chain(signs, numbers), _MOST_PROBLEMS))
    if found:
        raise InputError(*found)


def depth_of(text: str) -> int:
    """How deep brackets and braces lie in one another in the text of a document, what stands in quotes left out."""
    deepest = depth = 0
    for sign in re.finditer(r'"(?:[^"\\]|\\.)*"|[\[\]{}]', text):
        if sign[0] in "[{":
            depth += 1
            deepest = max(deepest, depth)
        elif sign[0] in "]}":
            depth -= 1
    return deepest
