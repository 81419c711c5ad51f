"""Made-up films: a bar that fills from the left, with a tone where sound is wanted."""

from __future__ import annotations

import io
from fractions import Fraction

import av
import numpy as np


def film(
    seconds: float, size: tuple[int, int] = (320, 240), rate: int = 15, shade: int = 160, form: str = "webm", sound: bool = False
) -> bytes:
    """A film as a phone or a browser would send it: WebM with VP8, or MP4 with H.264."""
    out, (width, height) = io.BytesIO(), size
    with av.open(out, "w", format=form) as to:
        stream = to.add_stream("libvpx" if form == "webm" else "libx264", rate=rate, options={"deadline": "realtime"})
        stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p"
        voice = to.add_stream("libopus" if form == "webm" else "aac", rate=48_000, layout="mono") if sound else None
        count = round(seconds * rate)
        for n in range(count):
            pixels = np.zeros((height, width, 3), np.uint8)
            pixels[:, : width * n // count] = (40, shade, 200)
            frame = av.VideoFrame.from_ndarray(pixels, format="rgb24")
            frame.pts, frame.time_base = n, Fraction(1, rate)
            to.mux(stream.encode(frame))
        to.mux(stream.encode())
        if voice is not None:
            tone = (0.3 * np.sin(np.arange(round(48_000 * seconds)) / 20)).astype(np.float32)
            for at in range(0, len(tone), 960):
                heard = av.AudioFrame.from_ndarray(tone[None, at : at + 960], format="flt", layout="mono")
                heard.sample_rate, heard.pts, heard.time_base = 48_000, at, Fraction(1, 48_000)
                to.mux(voice.encode(heard))
            to.mux(voice.encode())
    return out.getvalue()


def read(data: bytes) -> tuple[dict[str, str], list[np.ndarray], dict[str, str]]:
    """The codec of each stream by its kind, the pictures, and what the file tells of itself."""
    with av.open(io.BytesIO(data)) as source:
        kinds = {s.type: s.codec_context.name for s in source.streams}
        return kinds, [f.to_ndarray(format="rgb24") for f in source.decode(video=0)], dict(source.metadata)
