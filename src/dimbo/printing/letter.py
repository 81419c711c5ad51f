"""A letter as PDF, with the product's own fonts: what the client reads on the screen, on paper."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory

import typst

from dimbo.core.results.letter import Letter
from dimbo.core.text import long_date

_HERE = Path(__file__).parent


@dataclass(frozen=True)
class PaperPicture:
    """A pair of photographs as one JPEG, and what it shows in words."""

    jpeg: bytes
    alt: str


def letter_pdf(letter: Letter, pictures: Sequence[PaperPicture], at: datetime, paper: str = "a4") -> bytes:
    """The letter, made at a moment (UTC); ``pictures`` are those of its pairs, in their order. Tagged (PDF/UA-1, PDF/A-2a)."""
    waiting = list(enumerate(pictures))
    passages = []
    for p in letter.passages:
        pairs = []
        for pair in p.pairs:
            number, picture = waiting.pop(0)
            pairs.append({"file": f"{number}.jpg", "alt": picture.alt, "sentences": pair.sentences})
        passages.append({"heading": p.heading, "paragraphs": p.paragraphs, "pairs": pairs})
    data = {
        "paper": paper,
        "title": letter.title,
        "author": letter.practice,
        "at": [at.year, at.month, at.day, at.hour, at.minute, at.second],
        "day": long_date(letter.written),
        "greeting": letter.greeting,
        "passages": passages,
        "signed": letter.signed,
    }
    with TemporaryDirectory() as folder:
        for number, picture in enumerate(pictures):
            (Path(folder) / f"{number}.jpg").write_bytes(picture.jpeg)
        (Path(folder) / "letter.typ").write_bytes((_HERE / "letter.typ").read_bytes())
        return bytes(
            typst.compile(
                Path(folder) / "letter.typ",
                format="pdf",
                font_paths=[_HERE / "fonts"],
                ignore_system_fonts=True,
                sys_inputs={"data": json.dumps(data)},
                pdf_standards=["ua-1", "a-2a"],
                timestamp=at.replace(microsecond=0),
            )
        )
