"""Photographs of the work: known by what they are, not by their name; the place a camera writes is left out, bearing and time stay."""

from __future__ import annotations

import hashlib
import io
from datetime import UTC, datetime
from typing import Any

from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.commissioning.refused import EntryRefusedError

FORMATS = ("JPEG", "PNG", "WEBP")
LARGEST_BYTES = 12_000_000  # a phone shrinks its pictures before it sends them; this is one it could not
MOST_PIXELS = 60_000_000  # what is more than any phone takes is a bomb
LONGEST_PX, SMALL_PX = 1600, 240
QUALITY = 82  # of JPEG, at which no eye sees a difference


@record
class Taken:
    """A photograph ready to be kept: JPEG, upright, without the place."""

    sha256: str
    width: int
    height: int
    taken: datetime | None
    bearing: float | None
    content: bytes
    small: bytes


def photograph(content: bytes) -> Taken:
    """A picture as it is kept. Raises EntryRefusedError for what is too large, no picture, or more pixels than any camera takes."""
    if len(content) > LARGEST_BYTES:
        raise EntryRefusedError(
            tr(
                "a photograph may have {most} MB, this has {size}",
                most=LARGEST_BYTES // 1_000_000,
                size=f"{len(content) / 1e6:.0f}",
            )
        )
    try:
        picture = Image.open(io.BytesIO(content), formats=FORMATS)
        if picture.width * picture.height > MOST_PIXELS:
            raise EntryRefusedError("this picture has more pixels than any camera takes")
        taken, bearing = _told(picture)
        upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise EntryRefusedError("this is no photograph: JPEG, PNG and WebP are taken") from error
    whole = _jpeg(upright, LONGEST_PX)
    return Taken(
        hashlib.sha256(whole).hexdigest(),
        upright.width,
        upright.height,
        taken,
        bearing,
        whole,
        _jpeg(upright, SMALL_PX),
    )


def _jpeg(picture: Image.Image, longest: int) -> bytes:
    """A picture no longer than that, as a JPEG of nothing but its pixels."""
    made = picture.copy()
    made.thumbnail((longest, longest))
    out = io.BytesIO()
    made.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def _told(picture: Image.Image) -> tuple[datetime | None, float | None]:
    """When it was taken and where the camera looked [°], as the camera wrote it."""
    exif = picture.getexif()
    inside, place = exif.get_ifd(ExifTags.IFD.Exif), exif.get_ifd(ExifTags.IFD.GPSInfo)
    return _moment(inside.get(ExifTags.Base.DateTimeOriginal)), _number(place.get(ExifTags.GPS.GPSImgDirection))


def _moment(text: Any) -> datetime | None:
    try:
        return datetime.strptime(str(text), "%Y:%m:%d %H:%M:%S").replace(tzinfo=UTC)
    except ValueError:
        return None


def _number(value: Any) -> float | None:
    try:
        number = float(value)
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    return number if 0 <= number <= 360 else None
