"""Doses said by rungs: how a template keeps them, so that it fits another count pace, another practice, another card version.

``rung 4/10`` is the fourth of ten rungs between an exercise's start and target. Read against a ladder of another length it
becomes the rung at the same share of the way. A dose that is no rung is kept as its line.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from dimbo.core.exercises.card import Axis, Card
from dimbo.core.exercises.dose_line import print_line

from .program import Settings, read_cell
from .progression import card_ladder

_RUNG = re.compile(r"^rung (\d{1,3})/(\d{1,3})$")


def relative_cells(card: Card, cells: Sequence[str], settings: Settings, axes: Sequence[Axis] | None = None) -> list[str]:
    """Cells by rungs, where they stand on one."""
    rungs = [print_line(r.dose, card.style) for r in card_ladder(card, settings, axes=axes).rungs]
    place = {line: i for i, line in reversed(list(enumerate(rungs, start=1)))}
    out = []
    for text in cells:
        dose = read_cell(text, card).dose
        line = print_line(dose, card.style) if dose else text
        out.append(f"rung {place[line]}/{len(rungs)}" if line in place else text)
    return out


def resolved_cells(card: Card, cells: Sequence[str], settings: Settings, axes: Sequence[Axis] | None = None) -> tuple[str, ...]:
    """Cells as dose lines again. Raises ValueError for a rung beyond its own count."""
    rungs = [print_line(r.dose, card.style) for r in card_ladder(card, settings, axes=axes).rungs]
    out = []
    for text in cells:
        match = _RUNG.match(text.strip())
        if match is None:
            out.append(text)
            continue
        at, of = int(match[1]), int(match[2])
        if not 1 <= at <= of:
            raise ValueError(f"{card.name}: there is no rung {at} of {of}")
        share = (at - 1) / (of - 1) if of > 1 else 0.0
        out.append(rungs[round(share * (len(rungs) - 1))])
    return tuple(out)
