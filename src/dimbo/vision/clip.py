"""Reading a clip of an exercise: cut, no larger than a phone's screen, in one format that every browser plays, and without anything
that the file tells of where and with what it was taken."""

from __future__ import annotations

import hashlib
import io
import tempfile
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.audio.resampler import AudioResampler
from av.audio.stream import AudioStream
from av.container import InputContainer, OutputContainer
from av.error import FFmpegError
from av.video.frame import VideoFrame
from PIL import Image

from .terms import Clip, ClipError, Cut

FORMATS = ("mov", "matroska")
"""MP4 and MOV; WebM."""
ONLY = {"format_whitelist": "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm", "protocol_whitelist": "file"}
"""Lists of other files and addresses are formats, too: none of them is opened, and nothing that a file names besides itself."""
SHORT_EDGE, MOST_EDGE = 540, 4096
RATE = 30
"""Pictures a second at most."""
QUALITY = {"crf": "26", "preset": "superfast", "profile": "main"}
STILL_AT = 0.2
"""Where in the clip its still is taken, as a share: after the hands have come."""
SOUND_RATE = 48_000
_TICKS = Fraction(1, 90_000)


def _open(path: Path, name: str) -> InputContainer:
    try:
        found = av.open(str(path), options=ONLY)
    except (FFmpegError, OSError, ValueError) as error:
        raise ClipError(f"{name} is no clip that can be read. Use MP4, MOV or WebM.") from error
    if not any(known in found.format.name for known in FORMATS) or not found.streams.video:
        found.close()
        raise ClipError(f"{name} is no clip that can be read. Use MP4, MOV or WebM.")
    width, height = found.streams.video[0].width, found.streams.video[0].height
    if not width or not height or max(width, height) > MOST_EDGE:
        found.close()
        raise ClipError(f"{name} is larger than {MOST_EDGE} pixels. Record it in a lower resolution.")
    return found


def _upright(frame: VideoFrame) -> VideoFrame:
    """A frame turned as it was held, its short edge no longer than ``SHORT_EDGE``, in even numbers of pixels."""
    small = min(1.0, SHORT_EDGE / min(frame.width, frame.height))
    width, height = (max(2, 2 * round(edge * small / 2)) for edge in (frame.width, frame.height))
    turns = round(frame.rotation / 90) % 4
    if not turns:
        return frame.reformat(width=width, height=height, format="yuv420p", interpolation="FAST_BILINEAR")
    pixels = frame.reformat(width=width, height=height, format="rgb24").to_ndarray()
    return VideoFrame.from_ndarray(np.ascontiguousarray(np.rot90(pixels, turns), dtype=np.uint8), format="rgb24").reformat(format="yuv420p")


def _pictures(source: InputContainer, cut: Cut) -> Iterator[tuple[float, VideoFrame]]:
    """The frames of the cut with their seconds from its start, no more than ``RATE`` a second."""
    stream = source.streams.video[0]
    stream.thread_type = "AUTO"
    if cut.from_s > 0:
        source.seek(int(cut.from_s * av.time_base))
    last = -1.0
    for frame in source.decode(stream):
        at = (frame.time or 0.0) - cut.from_s
        if at >= cut.seconds:
            return
        if at < 0 or at - last < 0.9 / RATE:
            continue
        last = at
        yield at, _upright(frame)


def _with_pictures(source: InputContainer, to: OutputContainer, cut: Cut) -> tuple[float, bytes]:
    """Write the pictures of the cut; returns how long they last, in seconds, and the still as JPEG."""
    stream, picture, first, at = None, None, -1.0, 0.0
    for at, frame in _pictures(source, cut):
        if stream is None:
            first = at
            stream = to.add_stream("libx264", rate=RATE, options=QUALITY)
            stream.width, stream.height, stream.pix_fmt = frame.width, frame.height, "yuv420p"
            stream.codec_context.time_base = _TICKS
        if (frame.width, frame.height) != (stream.width, stream.height):
            frame = frame.reformat(width=stream.width, height=stream.height)
        if picture is None or at <= STILL_AT * cut.seconds:
            picture = frame
        frame.pts, frame.time_base = round((at - first) / _TICKS), _TICKS
        to.mux(stream.encode(frame))
    if stream is None or picture is None:
        raise ClipError("Nothing is seen in this part of the clip. Choose another part.")
    to.mux(stream.encode())
    out = io.BytesIO()
    Image.fromarray(picture.to_ndarray(format="rgb24")).save(out, "JPEG", quality=82)
    return at - first + 1 / RATE, out.getvalue()


def _with_sound(path: Path, to: OutputContainer, stream: AudioStream, cut: Cut) -> None:
    """Write the sound of the cut beside its pictures."""
    with av.open(str(path), options=ONLY) as source:
        resampler = AudioResampler(format="fltp", layout="mono", rate=SOUND_RATE)
        if cut.from_s > 0:
            source.seek(int(cut.from_s * av.time_base))
        written = 0
        for frame in source.decode(source.streams.audio[0]):
            at = (frame.time or 0.0) - cut.from_s
            if at >= cut.seconds:
                break
            if at < 0:
                continue
            for heard in resampler.resample(frame):
                heard.pts, heard.time_base = written, Fraction(1, SOUND_RATE)
                written += heard.samples
                to.mux(stream.encode(heard))
        to.mux(stream.encode())


def read_clip(path: str, cut: Cut, *, name: str, sound: bool) -> Clip:
    """The cut of a file as MP4 (H.264, and AAC where sound is wanted). Raises ClipError with a plain message."""
    with tempfile.TemporaryDirectory() as folder, _open(Path(path), name) as source:
        made = Path(folder) / "clip.mp4"
        try:
            with av.open(str(made), "w", options={"movflags": "+faststart", "fflags": "+bitexact"}) as to:
                voice = to.add_stream("aac", rate=SOUND_RATE, layout="mono") if sound and source.streams.audio else None
                seconds, still = _with_pictures(source, to, cut)
                if voice is not None:
                    _with_sound(Path(path), to, voice, cut)
        except FFmpegError as error:
            raise ClipError(f"{name} is damaged and cannot be read to its end. Record it again.") from error
        data = made.read_bytes()
    return Clip(mp4=data, still=still, seconds=round(seconds, 2), sound=voice is not None, hash=hashlib.sha256(data).hexdigest())
