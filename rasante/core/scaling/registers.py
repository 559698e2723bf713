"""Registers: how a number lies in 16-bit words, in every type and order that devices use."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import cache

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .steps import stepped

Words = npt.NDArray[np.uint16]


@dataclass(frozen=True)
class RegisterType:
    """A type of register: its name, how many words it has, and how NumPy calls it, most significant byte first."""

    name: str
    words: int
    dtype: str

    @property
    def whole(self) -> bool:
        """Whether it keeps whole numbers only."""
        return self.dtype[1] != "f"


TYPES: dict[str, RegisterType] = {
    "int16": RegisterType("16 bits, signed", 1, ">i2"),
    "uint16": RegisterType("16 bits, unsigned", 1, ">u2"),
    "int32": RegisterType("32 bits, signed", 2, ">i4"),
    "uint32": RegisterType("32 bits, unsigned", 2, ">u4"),
    "float32": RegisterType("32 bits, floating point (IEEE 754)", 2, ">f4"),
}
#: Orders of the four bytes A (most significant) to D of a 32-bit number; of one word, whether its bytes are swapped.
ORDERS: dict[str, str] = {
    "ABCD": "high word first",
    "CDAB": "low word first",
    "BADC": "high word first, bytes swapped",
    "DCBA": "low word first, bytes swapped",
}
_WORD = re.compile(r"0[xX][0-9a-fA-F]{1,4}")


def is_float(kind: str) -> bool:
    """Whether a type keeps fractions."""
    return not TYPES[kind].whole


@cache
def bounds(kind: str) -> tuple[float, float]:
    """Least and most that a type holds."""
    if is_float(kind):
        most = float(np.finfo(np.float32).max)
        return -most, most
    ends = np.iinfo(np.dtype(TYPES[kind].dtype))
    return float(ends.min), float(ends.max)


def fit(kind: str, numbers: Array) -> npt.NDArray[np.bool_]:
    """Whether a type holds numbers, once rounded; shape of `numbers`."""
    least, most = bounds(kind)
    kept = numbers if is_float(kind) else stepped(numbers, 0)
    found: npt.NDArray[np.bool_] = np.isfinite(numbers) & (kept >= least) & (kept <= most)
    return found


def fits(kind: str, number: float) -> bool:
    """Whether a type holds a number, once rounded."""
    return bool(fit(kind, np.asarray(number, dtype=float)))


def _ordered(data: npt.NDArray[np.uint8], order: str) -> npt.NDArray[np.uint8]:
    """Put bytes, shape (n, bytes), into an order; each is its own inverse."""
    words = data.reshape(len(data), -1, 2)
    if order in ("BADC", "DCBA"):
        words = words[:, :, ::-1]
    if order in ("CDAB", "DCBA"):
        words = words[:, ::-1]
    return np.ascontiguousarray(words).reshape(len(data), -1)


def to_words(numbers: Array, kind: str, order: str) -> Words:
    """Write numbers that fit into words, shape (n, words), in the order of their addresses."""
    kept = numbers if is_float(kind) else stepped(numbers, 0)
    data = np.ascontiguousarray(kept.astype(TYPES[kind].dtype)).view(np.uint8).reshape(len(numbers), -1)
    return _ordered(data, order).view(">u2").astype(np.uint16)


def from_words(words: Words, kind: str, order: str) -> Array:
    """Read numbers from words, shape (n, words); the inverse of `to_words`."""
    data = np.ascontiguousarray(words.astype(">u2")).view(np.uint8).reshape(len(words), -1)
    with np.errstate(invalid="ignore"):
        # What is no number stays none, also the kind of which a processor would tell.
        return _ordered(data, order).view(TYPES[kind].dtype).astype(float).reshape(len(words))


def encode(number: float, kind: str = "int16", order: str = "ABCD") -> tuple[int, ...]:
    """Write a number into words.

    Parameters
    ----------
    number : float
        The number; rounded half away from zero to a whole one where the type keeps no fractions.
    kind : str
        Of `TYPES`.
    order : str
        Of `ORDERS`.

    Returns
    -------
    tuple of int
        One or two words of 0 to 65535, in the order of their addresses.

    Raises
    ------
    InputError
        If the type does not hold the number.

    References
    ----------
    .. [1] IEEE 754-2019, binary32; by way of NumPy.
    """
    if not fits(kind, number):
        least, most = bounds(kind)
        raise InputError.at("", f"{number:g} does not fit {TYPES[kind].name}: it holds {least:g} to {most:g}")
    return tuple(int(word) for word in to_words(np.array([number], dtype=float), kind, order)[0])


def decode(words: tuple[int, ...], kind: str = "int16", order: str = "ABCD") -> float:
    """Read a number from words; the inverse of `encode`.

    Raises
    ------
    InputError
        If there are fewer or more words than the type has, or one is no word.
    """
    count = TYPES[kind].words
    if len(words) != count:
        raise InputError.at("", f"{TYPES[kind].name} has {count} word{'s' * (count > 1)}, not {len(words)}")
    if any(not 0 <= word <= 0xFFFF for word in words):
        raise InputError.at("", "a word is 0 to 65535, or 0x0000 to 0xFFFF")
    return float(from_words(np.array([words], dtype=np.uint16), kind, order)[0])


def wrapped(numbers: Array, kind: str) -> Array:
    """What a device that does not look keeps of numbers: whole ones wrap round, floating ones lose digits."""
    least, most = bounds(kind)
    if is_float(kind):
        kept = np.clip(numbers, least, most).astype(np.float32).astype(float)
        return np.asarray(np.where(np.isfinite(numbers), kept, numbers), dtype=float)
    finite = np.where(np.isfinite(numbers), numbers, least)
    turned = np.mod(stepped(finite, 0) - least, most - least + 1) + least
    return np.asarray(np.where(np.isfinite(numbers), turned, 0.0), dtype=float)


def read_words(text: str, kind: str, signed: bool = True) -> tuple[int, ...] | None:
    """Read words as they are typed: ``0x420A 0x6666``, ``16906, 26214`` or ``346``.

    Parameters
    ----------
    text : str
        One word, or two apart by a space, a comma or a semicolon.
    kind : str
        The type that they make up.
    signed : bool
        Whether a word may be typed as −32768 to −1 as well.

    Returns
    -------
    tuple of int or None
        None if this is no list of as many words as the type has: a number, perhaps.

    Raises
    ------
    InputError
        If a word is out of range.
    """
    parts = [part for part in re.split(r"[\s,;]+", text.strip()) if part]
    if len(parts) != TYPES[kind].words or not all(_WORD.fullmatch(p) or re.fullmatch(r"-?\d+", p) for p in parts):
        return None
    words = []
    for part in parts:
        word = int(part, 16) if part[:2].lower() == "0x" else int(part)
        if signed and -0x8000 <= word < 0:
            word += 0x10000
        if not 0 <= word <= 0xFFFF:
            raise InputError.at("", f"“{part}” is no word: 0 to 65535, or 0x0000 to 0xFFFF")
        words.append(word)
    return tuple(words)


def show_words(words: tuple[int, ...]) -> str:
    """Write words as hexadecimal."""
    return " ".join(f"0x{word:04X}" for word in words)


def words_text(number: float, kind: str, order: str) -> str:
    """Write the words that a register's number lies in, wrapped round where it does not fit."""
    if not math.isfinite(number):
        return ""
    return show_words(encode(float(wrapped(np.array([number]), kind)[0]), kind, order))
