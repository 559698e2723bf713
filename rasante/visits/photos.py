"""Photographs: made small, turned upright, and without their place unless it is kept on purpose."""

from __future__ import annotations

import io
from datetime import datetime

from django.contrib.auth.models import User
from django.db import transaction
from PIL import Image, ImageOps

from ..core.quantities.errors import InputError
from ..pictures import opened
from .course import procedure_of
from .models import Photo, Visit
from .services import open_one

LONGEST_SIDE = 1600
MOST_PHOTOS = 200
_GPS = 0x8825


def _degrees(parts: object, ref: object) -> float | None:
    try:
        whole, minutes, seconds = (float(part) for part in parts)  # type: ignore[attr-defined]
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    size = whole + minutes / 60 + seconds / 3600
    return -size if ref in ("S", "W") else size


def _place(image: Image.Image) -> list[float] | None:
    gps = image.getexif().get_ifd(_GPS)
    lat, lon = _degrees(gps.get(2), gps.get(1)), _degrees(gps.get(4), gps.get(3))
    return None if lat is None or lon is None else [round(lat, 6), round(lon, 6)]


def prepared(content: bytes) -> tuple[bytes, int, int, list[float] | None]:
    """Make a picture ready to be kept.

    Returns
    -------
    (bytes, int, int, list or None)
        A JPEG of at most 1600 pixels a side, upright, with nothing but its pixels; its width and height; and where it
        was taken, if it says so.

    Raises
    ------
    InputError
        If it is no picture that can be read.
    """
    with opened(content) as image:
        place = _place(image)
        upright = ImageOps.exif_transpose(image).convert("RGB")
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue(), upright.width, upright.height, place


@transaction.atomic
def add_photo(
    visit: Visit, uid: str, step: str, content: bytes, note: str, keep_place: bool, at: datetime, person: User
) -> Photo:
    """Add a photograph to a step; sent twice, it is kept once.

    Raises
    ------
    InputError
        If it is no picture, the step is not of this visit, or there are too many.
    Conflict
        If the visit is closed.
    """
    there = visit.photos.filter(uid=uid).first()
    if there is not None:
        return there
    visit = open_one(visit)
    procedure_of(visit).step(step)
    if visit.photos.count() >= MOST_PHOTOS:
        raise InputError.at("picture", f"a visit holds at most {MOST_PHOTOS} photographs")
    jpeg, width, height, place = prepared(content)
    photo = Photo(
        visit=visit, uid=uid, step=step, jpeg=jpeg, width=width, height=height, note=note.strip(),
        place=place if keep_place else None, at=at, by=person,
    )  # fmt: skip
    photo.save()
    return photo
