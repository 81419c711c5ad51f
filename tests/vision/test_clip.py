"""A clip is cut to the frame, made small and upright, and says nothing but what it shows."""

import io

import av
import numpy as np
import pytest

from dimbo.vision import clip
from dimbo.vision.terms import ClipError, Cut
from tests.clips import film, read

ALL = Cut(from_s=0, seconds=60)


def cut_of(tmp_path, data, cut=ALL, sound=False):
    path = tmp_path / "film"
    path.write_bytes(data)
    return clip.read_clip(str(path), cut, name="film", sound=sound)


def filled(picture):
    """The share of a picture that the bar has filled."""
    return float((picture[picture.shape[0] // 2, :, 2] > 100).mean())


@pytest.mark.parametrize("form", ["webm", "mp4"])
def test_the_cut_begins_and_ends_where_it_was_said(tmp_path, form):
    made = cut_of(tmp_path, film(4, form=form), Cut(from_s=1.5, seconds=1.5))
    kinds, pictures, _ = read(made.mp4)
    assert kinds == {"video": "h264"} and made.seconds == pytest.approx(1.5, abs=0.1)
    assert filled(pictures[0]) == pytest.approx(1.5 / 4, abs=0.04) and filled(pictures[-1]) == pytest.approx(3 / 4, abs=0.04)


@pytest.mark.parametrize("sound", [True, False])
def test_there_is_no_sound_unless_it_is_wanted(tmp_path, sound):
    made = cut_of(tmp_path, film(2, sound=True), Cut(from_s=0.5, seconds=1), sound=sound)
    assert ("audio" in read(made.mp4)[0]) is sound is made.sound


def test_sound_that_is_wanted_and_not_there_is_no_sound(tmp_path):
    assert cut_of(tmp_path, film(1), sound=True).sound is False


def test_it_is_no_larger_than_a_phone_needs_and_even(tmp_path):
    shape = read(cut_of(tmp_path, film(0.5, size=(1278, 722))).mp4)[1][0].shape
    assert shape[0] == clip.SHORT_EDGE and shape[1] % 2 == 0 and shape[1] / shape[0] == pytest.approx(1278 / 722, rel=0.01)
    assert read(cut_of(tmp_path, film(0.5, size=(120, 90))).mp4)[1][0].shape == (90, 120, 3), "nothing is made larger"


def test_no_more_pictures_a_second_than_are_seen(tmp_path):
    assert len(read(cut_of(tmp_path, film(1, rate=60, size=(160, 120))).mp4)[1]) <= clip.RATE + 1


def test_what_was_held_sideways_stands_upright():
    lying = av.VideoFrame.from_ndarray(np.pad(np.full((90, 20, 3), 200, np.uint8), ((0, 0), (0, 100), (0, 0))), format="rgb24")

    class Held:
        width, height, rotation = lying.width, lying.height, -90
        reformat = staticmethod(lying.reformat)

    upright = clip._upright(Held()).to_ndarray(format="rgb24")
    assert upright.shape == (120, 90, 3)
    assert upright[:15].mean() > 150 and upright[60:].mean() < 40, "its left edge is on top, as a phone held that way tells"


def test_the_file_tells_nothing_of_where_it_was_taken(tmp_path):
    out = io.BytesIO()
    with (
        av.open(io.BytesIO(film(1, form="mp4"))) as source,
        av.open(out, "w", format="mp4", options={"movflags": "use_metadata_tags"}) as to,
    ):
        to.metadata.update({"location": "+51.50-000.12/", "make": "A phone", "comment": "at home"})
        stream = to.add_stream_from_template(source.streams.video[0])
        for packet in source.demux(video=0):
            if packet.dts is not None:
                packet.stream = stream
                to.mux(packet)
    assert b"A phone" in out.getvalue()
    made = cut_of(tmp_path, out.getvalue())
    assert not {"location", "make", "comment"} & set(read(made.mp4)[2])
    assert b"A phone" not in made.mp4 and b"+51.50" not in made.mp4


def test_the_still_is_a_picture_of_it_and_the_hash_its_name(tmp_path):
    data = film(2)
    made, again = (cut_of(tmp_path, data) for _ in range(2))
    assert made.still[:2] == b"\xff\xd8" and len(made.hash) == 64 and made.hash == again.hash


@pytest.mark.parametrize("form", ["ffconcat version 1.0\nfile {}\n", "#EXTM3U\n#EXTINF:1,\n{}\n#EXT-X-ENDLIST\n"])
def test_a_list_of_other_files_is_never_opened(tmp_path, form):
    (tmp_path / "other.mp4").write_bytes(film(1, form="mp4"))
    with pytest.raises(ClipError, match="no clip that can be read") as told:
        cut_of(tmp_path, form.format("other.mp4").encode())
    assert told.value.__cause__ is not None, "refused by whom it would be read, and not only for what it was after it had been read"


@pytest.mark.parametrize("data", [b"", b"no film", film(1)[:200], film(1, form="mp4")[:400]])
def test_what_cannot_be_read_is_refused(tmp_path, data):
    with pytest.raises(ClipError):
        cut_of(tmp_path, data)
