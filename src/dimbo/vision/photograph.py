"""Reading a photograph: what it is, upright, bounded in size, and with nothing but its capture time kept."""

from __future__ import annotations

import hashlib
import io
from datetime import datetime, timedelta, timezone

import pillow_heif
from PIL import Image, ImageOps, UnidentifiedImageError

from .terms import MAX_BYTES, Photograph, PhotographError

pillow_heif.register_heif_opener()
Image.MAX_IMAGE_PIXELS = None  # the bound below is ours, and it is checked before any pixel is decoded

FORMATS = ("JPEG", "PNG", "WEBP", "HEIF")
MAX_PIXELS, MAX_REDUCED = 24_000_000, 60_000_000
"""Pixels that are decoded at most; and those of a JPEG that is reduced while it is decoded, so that no more ever stand in memory.
One whose lines come in several passes is held whole and counts as any other format."""
MIN_EDGE = 480
LONG_EDGE = 2000
THUMBNAIL_EDGE = 320
_EXIF_IFD, _TAKEN, _OFFSET = 0x8769, 0x9003, 0x9011


def _open(data: bytes, name: str) -> Image.Image:
    if not data:
        raise PhotographError(f"{name} is empty. Choose the photograph again.")
    if len(data) > MAX_BYTES:
        raise PhotographError(f"{name} is larger than {MAX_BYTES // 2**20} MB. Save it smaller and try again.")
    try:
        image = Image.open(io.BytesIO(data), formats=FORMATS)
    except (UnidentifiedImageError, OSError, ValueError) as error:
        raise PhotographError(f"{name} is not a photograph that can be read. Use JPEG, PNG, WebP or HEIC.") from error
    if image.format in ("PNG", "WEBP") and getattr(image, "is_animated", False):
        raise PhotographError(f"{name} is animated. Send a single picture.")
    width, height = image.size
    reduces = image.format == "JPEG" and not image.info.get("progressive")
    most = MAX_REDUCED if reduces else MAX_PIXELS
    if width * height > most:
        raise PhotographError(
            f"{name} has {round(width * height / 1e6)} megapixels; at most {most // 10**6} can be read. "
            f"Save it smaller{'' if reduces else ', or as a plain JPEG'}, and try again."
        )
    if min(width, height) < MIN_EDGE:
        raise PhotographError(f"{name} is only {width} by {height} pixels. At least {MIN_EDGE} each way are needed.")
    return image


def _taken_at(image: Image.Image) -> datetime | None:
    """Capture time from the file. Cameras write the local time bare; without an offset it has no zone."""
    details = image.getexif().get_ifd(_EXIF_IFD)
    try:
        moment = datetime.strptime(str(details[_TAKEN]).strip("\0 "), "%Y:%m:%d %H:%M:%S")
    except (KeyError, ValueError):
        return None
    offset = str(details.get(_OFFSET, "")).strip("\0 ")
    if not offset:
        return moment
    try:
        sign = -1 if offset[0] == "-" else 1
        hours, minutes = offset[1:].split(":")
        zone = timezone(sign * timedelta(hours=int(hours), minutes=int(minutes)))
    except (ValueError, IndexError):
        return moment
    return moment.replace(tzinfo=zone)


def _jpeg(image: Image.Image, quality: int) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=quality)
    return out.getvalue()


def decode(data: bytes, name: str) -> Image.Image:
    """The upright RGB image of a file, no larger than ``LONG_EDGE``. Raises PhotographError."""
    image = _open(data, name)
    try:
        image.draft("RGB", (LONG_EDGE, LONG_EDGE))
        upright = ImageOps.exif_transpose(image)
        if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
            paper = Image.new("RGBA", upright.size, "white")
            upright = Image.alpha_composite(paper, upright.convert("RGBA"))
        elif upright.mode.startswith("I"):
            upright = upright.point(lambda v: v / 256).convert("L")
        upright = upright.convert("RGB")
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise PhotographError(f"{name} is damaged and cannot be read to its end. Send it again.") from error
    upright.thumbnail((LONG_EDGE, LONG_EDGE), Image.Resampling.LANCZOS, reducing_gap=2.0)
    return upright


def read_photograph(data: bytes, name: str) -> Photograph:
    """Read and normalise an uploaded file. Raises PhotographError with a plain message."""
    taken_at = _taken_at(_open(data, name))
    upright = decode(data, name)
    small = upright.copy()
    small.thumbnail((THUMBNAIL_EDGE, THUMBNAIL_EDGE))
    return Photograph(
        jpeg=_jpeg(upright, 92),
        thumbnail=_jpeg(small, 85),
        size=upright.size,
        taken_at=taken_at,
        source_hash=hashlib.sha256(data).digest(),
    )
