"""Pictures that people send: taken out of Base64, and opened with an eye to what they might be."""

from __future__ import annotations

import base64
import binascii
import io
from collections.abc import Iterator
from contextlib import contextmanager

from PIL import Image, UnidentifiedImageError

from .core.quantities.errors import InputError

#: The largest that is taken [bytes]: in Base64 it still fits into a body that is read at all.
LARGEST = 8_800_000
#: A small file may unpack to a picture that fills the memory.
_MOST_PIXELS = 120_000_000


def from_base64(text: str) -> bytes:
    """Take a picture out of Base64.

    Raises
    ------
    InputError
        At ``picture``, if it did not arrive whole.
    """
    try:
        return base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError):
        raise InputError.at("picture", "did not arrive whole: pick it again") from None


@contextmanager
def opened(content: bytes) -> Iterator[Image.Image]:
    """Open a PNG, JPEG or WebP picture; what is done with it inside is held to the same guards.

    Raises
    ------
    InputError
        At ``picture``, if it is too large, or no picture that can be read.
    """
    if len(content) > LARGEST:
        raise InputError.at("picture", f"this is {len(content) / 1e6:.1f} MB; at most {LARGEST / 1e6:g} MB")
    try:
        with Image.open(io.BytesIO(content), formats=("PNG", "JPEG", "WEBP")) as image:
            if image.width * image.height > _MOST_PIXELS:
                raise InputError.at("picture", "has far too many pixels: take it smaller")
            yield image
    except InputError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise InputError.at("picture", "is no picture that can be read: take a PNG, JPEG or WebP") from None
