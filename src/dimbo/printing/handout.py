"""The hand-out of one week: order, figures, dose in words, pulse train, cues, faults and cautions; readable in black and white."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import typst

from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose_in_words import in_words
from dimbo.core.exercises.figure import words
from dimbo.core.exercises.pulse_train import pulse_train
from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.core.sessions.timeline import Item
from dimbo.core.text import clock

from .figure_drawing import figure_svg, moves
from .train_drawing import train_svg

PAPERS = {"a4": "a4", "letter": "us-letter"}
"""What they are called here, and by the typesetter."""
_HERE = Path(__file__).parent

CARE = (
    "Pain means stop, and less pressure next time. Breathe through every hold, teeth apart. Fingers hold still; skin is never "
    "dragged or stretched. More than this page says does not get there sooner."
)


@dataclass(frozen=True)
class Sheet:
    """One session of a week as it is printed."""

    heading: str
    items: tuple[Item, ...]
    seconds: float


@dataclass(frozen=True)
class Doses:
    """An exercise with its doses in words, each with the weeks that have it."""

    name: str
    weeks: tuple[tuple[str, str], ...]


@dataclass(frozen=True, kw_only=True)
class Handout:
    """Everything on the paper. ``eased`` names why an exercise is done in its eased version, by exercise."""

    practice: str
    client: str
    title: str
    week: int
    weeks: int
    days: str
    sheets: tuple[Sheet, ...]
    habits: tuple[tuple[str, str, str], ...]
    """Name, how often, and words of the habit tasks."""
    expectations: str
    cautions: tuple[str, ...]
    eased: dict[str, str]
    pace_s: float
    signs: tuple[tuple[str, tuple[str, ...]], ...] = ()
    """What to do, and the sudden signs that ask for it."""
    course: tuple[Doses, ...] = ()
    """Of a whole program: the doses week by week; then nothing is said of one week."""


@dataclass(frozen=True, kw_only=True)
class Print:
    """How it is printed: on which paper, in large print, with a page to tick."""

    paper: str = "a4"
    large: bool = False
    tick: bool = False


def _figures(card: Card) -> list[dict[str, str]]:
    """How an exercise begins and ends, or the one picture of what only stays."""
    states = (("How it begins", False), ("How it ends", True)) if moves(card.figure) else (("How it is done", True),)
    seen = {"front": "as in a mirror", "behind": "from behind", "side": "from the side"}[card.figure.view]
    return [{"svg": figure_svg(card.figure, end=end), "alt": f"{word}, {seen}: {' '.join(words(card.figure))}"} for word, end in states]


def _item(place: int, item: Item, made: Handout, longest_s: float) -> dict[str, object]:
    card = item.card
    train = pulse_train(item.dose, made.pace_s)
    needs = f" With: {', '.join(card.needs)}." if card.needs else ""
    said = [(f"{f}?", r) for f, r in card.faults[:2]]
    if item.line.note:
        said.append(("From your coach:", item.line.note))
    if card.id in made.eased:
        said.append((f"Eased for you ({made.eased[card.id]}):", "this is the eased version." if card.is_eased else card.eased))
    said.append(("", " ".join((card.stop_rule, *card.care))))
    return {
        "place": place,
        "name": card.name,
        "stage": item.line.stage.value,
        "clock": clock(train.total_s + card.setup_s + card.settle_s),
        "dose": in_words(item.dose, made.pace_s),
        "figures": _figures(card),
        "train": train_svg(train, longest_s),
        "drawn": f"Its course in time: {in_words(item.dose, made.pace_s)}",
        "how": " ".join((f"{card.position}{needs}", *words(card.figure))),
        "cues": card.cues,
        "said": [{"head": head, "text": text} for head, text in said],
    }


def _session(sheet: Sheet, made: Handout) -> dict[str, object]:
    longest = max((pulse_train(i.dose, made.pace_s).total_s for i in sheet.items), default=1.0)
    items = [_item(n, item, made, longest) for n, item in enumerate(sheet.items, start=1)]
    return {"heading": f"{sheet.heading}, {clock(sheet.seconds)} in all" if sheet.seconds else sheet.heading, "items": items}


def _to_tick(made: Handout) -> list[dict[str, str]]:
    """Sessions and habits of the week, each with how often it is done."""
    sessions = [{"name": s.heading, "often": f"{made.days}, {clock(s.seconds)}"} for s in made.sheets]
    return sessions + [{"name": name, "often": often} for name, often, _ in made.habits]


def handout_pdf(made: Handout, at: datetime, how: Print = Print()) -> bytes:
    """The hand-out as PDF, made at a moment (UTC). The same input gives the same bytes. Raises KeyError for another
    paper.

    It is tagged for screen readers (PDF/UA-1) and whole for archives (PDF/A-2a); what would break either is an error.
    """
    data = {
        "paper": PAPERS[how.paper],
        "large": how.large,
        "tick": _to_tick(made) if how.tick else [],
        "tick_when": f"week {made.week} of {made.weeks}",
        "title": made.title if made.course else f"{made.title}, week {made.week}",
        "author": made.practice,
        "at": [at.year, at.month, at.day, at.hour, at.minute, at.second],
        "heading": made.title,
        "client": made.client,
        "when": f"{made.weeks} weeks. {made.practice}."
        if made.course
        else f"week {made.week} of {made.weeks}, {made.days}. {made.practice}.",
        "course": [{"name": c.name, "weeks": c.weeks} for c in made.course],
        "expectations": made.expectations,
        "mind": made.cautions,
        "sessions": [_session(s, made) for s in made.sheets],
        "habits": made.habits,
        "signs": [(what, f"{'; '.join(names)}.") for what, names in made.signs],
        "care": f"{CARE} {STANDING_LINE}",
    }
    return bytes(
        typst.compile(
            _HERE / "handout.typ",
            format="pdf",
            font_paths=[_HERE / "fonts"],
            ignore_system_fonts=True,
            sys_inputs={"data": json.dumps(data)},
            pdf_standards=["ua-1", "a-2a"],
            timestamp=at.replace(microsecond=0),
        )
    )
