"""Files as cameras write them: turned by a tag, with places and times inside, in every format."""

import io
from datetime import timedelta

import numpy as np
import pillow_heif
import pytest
from PIL import Image

from dimbo.vision.photograph import LONG_EDGE, read_photograph
from dimbo.vision.terms import PhotographError

pillow_heif.register_heif_opener()


def two_tone(width=800, height=600) -> Image.Image:
    """Left half red, right half blue, so that every turn shows."""
    image = Image.new("RGB", (width, height), "red")
    image.paste("blue", (width // 2, 0, width, height))
    return image


def file(image, form, **kw) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **kw)
    return out.getvalue()


def turned_tag(orientation: int) -> Image.Exif:
    exif = Image.Exif()
    exif[0x0112] = orientation
    return exif


def pixels(photo) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(photo.jpeg)))


def colour(photo, x, y):
    return "red" if pixels(photo)[y, x][0] > 128 else "blue"


@pytest.mark.parametrize(("form", "options"), [("JPEG", {}), ("PNG", {}), ("WEBP", {}), ("HEIF", {"quality": 90})])
def test_every_format_is_read(form, options):
    photo = read_photograph(file(two_tone(), form, **options), "x")
    assert photo.size == (800, 600)
    assert colour(photo, 100, 300) == "red" and colour(photo, 700, 300) == "blue"


@pytest.mark.parametrize("form", ["JPEG", "HEIF"])
def test_the_orientation_is_applied_once(form):
    stored = two_tone().rotate(90, expand=True)  # 600 x 800; 6 asks for a quarter turn clockwise
    data = file(stored, form, exif=turned_tag(6).tobytes())  # as bytes, HEIC gets its own rotation property too
    assert form == "JPEG" or b"irot" in data
    photo = read_photograph(data, "x")
    assert photo.size == (800, 600)
    assert colour(photo, 100, 300) == "red" and colour(photo, 700, 300) == "blue"
    again = Image.open(io.BytesIO(photo.jpeg))
    assert again.size == (800, 600) and again.getexif().get(0x0112, 1) == 1


def test_a_heic_with_the_tag_alone_is_not_turned():
    """The file format turns by its own property; a bare tag only repeats it and must not turn again."""
    data = file(two_tone(), "HEIF", exif=turned_tag(6))
    assert b"irot" not in data
    assert read_photograph(data, "x").size == (800, 600)


def test_only_the_capture_time_survives():
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0x9003] = "2026:05:04 08:15:00"
    exif.get_ifd(0x8769)[0x9011] = "+02:00"
    exif.get_ifd(0x8825)[1] = "N"
    exif[0x010F] = "Some Camera"
    photo = read_photograph(file(two_tone(), "JPEG", exif=exif), "x")
    assert photo.taken_at is not None
    assert photo.taken_at.isoformat() == "2026-05-04T08:15:00+02:00" and photo.taken_at.utcoffset() == timedelta(hours=2)
    kept = Image.open(io.BytesIO(photo.jpeg)).getexif()
    assert not dict(kept) and not kept.get_ifd(0x8825)


@pytest.mark.parametrize("value", ["", "0000:00:00 00:00:00", "yesterday"])
def test_nonsense_times_are_no_time(value):
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0x9003] = value
    assert read_photograph(file(two_tone(), "JPEG", exif=exif), "x").taken_at is None


def test_large_pictures_are_bounded_and_others_left_alone():
    photo = read_photograph(file(two_tone(4000, 3000), "JPEG"), "x")
    assert photo.size == (LONG_EDGE, LONG_EDGE * 3 // 4)


@pytest.mark.parametrize("mode", ["L", "CMYK", "RGBA", "I;16"])
def test_unusual_colour_modes_become_plain_colour(mode):
    if mode == "I;16":
        image = Image.fromarray(np.full((600, 800), 40_000, np.uint16))
        data = file(image, "PNG")
    else:
        image = two_tone().convert(mode)
        data = file(image, "JPEG" if mode == "CMYK" else "PNG")
    photo = read_photograph(data, "x")
    assert pixels(photo).shape == (600, 800, 3)
    if mode == "I;16":
        assert 140 < pixels(photo).mean() < 170


def test_a_file_cut_short_is_refused():
    data = file(two_tone(), "JPEG")
    with pytest.raises(PhotographError, match="damaged"):
        read_photograph(data[: len(data) // 2], "cut.jpg")
