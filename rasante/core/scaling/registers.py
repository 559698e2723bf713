"""Registers: how a number lies in 16-bit words, in every type and order that devices use."""

from __future__ import annotations

import math
import re
import struct

from ..errors import InputError

#: Types: their names, how many words, and the letter of `struct`.
TYPES: dict[str, tuple[str, int, str]] = {
    "int16": ("16 bits, signed", 1, "h"),
    "uint16": ("16 bits, unsigned", 1, "H"),
    "int32": ("32 bits, signed", 2, "i"),
    "uint32": ("32 bits, unsigned", 2, "I"),
    "float32": ("32 bits, floating point (IEEE 754)", 2, "f"),
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
    return kind == "float32"


def bounds(kind: str) -> tuple[float, float]:
    """Least and most that a type holds."""
    if is_float(kind):
        most = float(struct.unpack(">f", b"\x7f\x7f\xff\xff")[0])
        return -most, most
    bits = 16 * TYPES[kind][1]
    return (0.0, 2.0**bits - 1) if kind.startswith("u") else (-(2.0 ** (bits - 1)), 2.0 ** (bits - 1) - 1)


def fits(kind: str, number: float) -> bool:
    """Whether a type holds a number, once rounded."""
    least, most = bounds(kind)
    return math.isfinite(number) and least <= (number if is_float(kind) else round(number)) <= most


def _ordered(data: bytes, order: str) -> bytes:
    if order in ("BADC", "DCBA"):
        data = b"".join(data[i : i + 2][::-1] for i in range(0, len(data), 2))
    if order in ("CDAB", "DCBA"):
        data = b"".join(data[i : i + 2] for i in range(len(data) - 2, -1, -2))
    return data


def encode(number: float, kind: str = "int16", order: str = "ABCD") -> tuple[int, ...]:
    """Write a number into words.

    Parameters
    ----------
    number : float
        The number; rounded to a whole one where the type keeps no fractions.
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
    .. [1] IEEE 754-2019, binary32; by way of Python's `struct`.
    """
    if not fits(kind, number):
        least, most = bounds(kind)
        raise InputError.at("", f"{number:g} does not fit {TYPES[kind][0]}: it holds {least:g} to {most:g}")
    _, _, letter = TYPES[kind]
    data = struct.pack(f">{letter}", number if is_float(kind) else round(number))
    data = _ordered(data, order)
    return tuple(int.from_bytes(data[i : i + 2], "big") for i in range(0, len(data), 2))


def decode(words: tuple[int, ...], kind: str = "int16", order: str = "ABCD") -> float:
    """Read a number from words; the inverse of `encode`.

    Raises
    ------
    InputError
        If there are fewer or more words than the type has, or one is no word.
    """
    _, count, letter = TYPES[kind]
    if len(words) != count:
        raise InputError.at("", f"{TYPES[kind][0]} has {count} word{'s' * (count > 1)}, not {len(words)}")
    if any(not 0 <= word <= 0xFFFF for word in words):
        raise InputError.at("", "a word is 0 to 65535, or 0x0000 to 0xFFFF")
    data = b"".join(word.to_bytes(2, "big") for word in words)
    # Every order is its own inverse.
    return float(struct.unpack(f">{letter}", _ordered(data, order))[0])


def wrapped(number: float, kind: str) -> float:
    """What a device that does not look keeps of a number: a whole one wraps round, a floating one loses digits."""
    if is_float(kind):
        least, most = bounds(kind)
        if not math.isfinite(number):
            return number
        return decode(encode(min(max(number, least), most), kind), kind)
    least, most = bounds(kind)
    return (round(number) - least) % (most - least + 1) + least if math.isfinite(number) else 0.0


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
    if len(parts) != TYPES[kind][1] or not all(_WORD.fullmatch(p) or re.fullmatch(r"-?\d+", p) for p in parts):
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
