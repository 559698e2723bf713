"""The tank file as a line of text for a label: short enough for a QR code, and read back by paste or picture."""

from __future__ import annotations

import base64
import binascii
import json
import zlib
from collections.abc import Mapping
from typing import Any

from ..quantities.errors import InputError
from .tank_file import LARGEST_FILE, TankFile, read_tank_file, write_tank_file

PREFIX = "RASANTE1:"
#: Characters that the largest QR code holds in its alphanumeric mode, at its lowest error correction.
LONGEST = 4296


def write_label(document: Mapping[str, Any]) -> str:
    """Write a document as the text of a label.

    Parameters
    ----------
    document : mapping
        A checked tank file.

    Returns
    -------
    str
        Capital letters, digits and a colon only: what QR codes hold most of.

    Raises
    ------
    InputError
        If it does not fit one code.

    Notes
    -----
    The file's JSON without spaces, compressed by zlib (RFC 1950), in Base32 (RFC 4648) without padding.
    """
    tight = json.dumps(json.loads(write_tank_file(document)), separators=(",", ":"), ensure_ascii=False)
    packed = base64.b32encode(zlib.compress(tight.encode(), 9)).decode().rstrip("=")
    text = PREFIX + packed
    if len(text) > LONGEST:
        raise InputError.at(
            "",
            f"this tank file takes {len(text)} characters and a label holds {LONGEST}: hand it on as a tank file, or "
            "give the label's tank fewer points",
        )
    return text


def is_label(text: str) -> bool:
    """Tell whether a text is a label's rather than JSON."""
    return text.strip().upper().startswith(PREFIX[:7])


def read_label(text: str) -> TankFile:
    """Read the text of a label.

    Parameters
    ----------
    text : str
        As `write_label` makes it; spaces, line breaks and small letters do not matter.

    Raises
    ------
    InputError
        If it is no label, is cut short, or holds no good tank file.
    """
    tidy = "".join(text.split()).upper()
    if not tidy.startswith(PREFIX):
        raise InputError.at("", f"a label's text begins with {PREFIX} and this does not: paste all of it")
    body = tidy.removeprefix(PREFIX)
    try:
        packed = base64.b32decode(body + "=" * (-len(body) % 8))
        unpack = zlib.decompressobj()
        plain = unpack.decompress(packed, LARGEST_FILE)
        if not unpack.eof:
            raise InputError.at("", "the label's text is cut short, or far too large: paste all of it")
        return read_tank_file(plain.decode())
    except (binascii.Error, zlib.error, UnicodeDecodeError):
        raise InputError.at("", "the label's text is damaged: a letter is wrong or missing, copy it again") from None
