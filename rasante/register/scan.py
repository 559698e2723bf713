"""What stands in a code on a label: QR, Data Matrix, Code 128, read from a picture."""

from __future__ import annotations

import re
from dataclasses import dataclass

import zxingcpp

from ..core.quantities.errors import InputError
from ..pictures import opened


@dataclass(frozen=True)
class Scanned:
    """A code: what stands in it, and what of it is a part, a serial and an address, as far as it says so."""

    text: str
    kind: str
    part: str
    serial: str
    address: str


#: GS1 application identifiers, as they stand in many labels: 240 and 241 part, 21 serial (GS1 General
#: Specifications, from memory).
_GS1 = {"240": "part", "241": "part", "21": "serial"}
_NAMED = {"part": "part", "pn": "part", "p/n": "part", "serial": "serial", "sn": "serial", "s/n": "serial",
          "address": "address", "addr": "address", "id": "address"}  # fmt: skip


def facts_in(text: str) -> dict[str, str]:
    """Tell what of a code's text is part, serial and address.

    Parameters
    ----------
    text : str
        ``(240)PT-4(21)SK-1``, ``PN:PT-4;SN:SK-1``, or a bare serial.
    """
    found = {"part": "", "serial": "", "address": ""}
    for key, value in re.findall(r"\((\d{2,3})\)([^(]+)", text):
        if key in _GS1:
            found[_GS1[key]] = value.strip()
    for key, value in re.findall(r"([A-Za-z/]{2,8})\s*[:=]\s*([^;,|\n]+)", text):
        name = _NAMED.get(key.casefold())
        if name:
            found[name] = value.strip()
    if not any(found.values()) and len(text.strip()) <= 60:
        found["serial"] = text.strip()
    return found


def scan(content: bytes) -> list[Scanned]:
    """Read every code in a picture.

    Raises
    ------
    InputError
        If it is no picture, or no code can be made out in it.
    """
    with opened(content) as image:
        grey = image.convert("L")
    found = [
        Scanned(code.text, str(code.format).rpartition(".")[2], **facts_in(code.text))
        for code in zxingcpp.read_barcodes(grey)
        if code.text.strip()
    ]
    if not found:
        raise InputError.at("picture", "no code can be made out in it: nearer, sharper, without glare; or type it")
    return found
