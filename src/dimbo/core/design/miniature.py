"""A program at a glance: how long each week's session is, which rows are in it and how they grow, and what of the face works."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from dimbo.core.anatomy import SideSeconds
from dimbo.core.sessions.muscle_load import added

from .weeks import Compiled


@dataclass(frozen=True, slots=True, kw_only=True)
class MiniatureRow:
    """An exercise: its name, stage and family, and by week its time as a share (0 to 1) of its own longest week, 0 where it rests."""

    name: str
    stage: str
    family: str
    shares: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Miniature:
    """``minutes`` is the longest session of each week; ``days`` how many sessions it has.

    ``regions`` are the shares (0 to 1) of the muscle that works most over the whole program, by side: contraction, or hands-on
    time where nothing contracts.
    """

    rows: tuple[MiniatureRow, ...]
    minutes: tuple[float, ...]
    days: tuple[float, ...]
    regions: Mapping[str, SideSeconds]


def miniature(compiled: Compiled) -> Miniature:
    """Of a program that is worked out."""
    pace_s, numbers = compiled.settings.pace_s, [w.number for w in compiled.weeks]
    rows = []
    for line in compiled.program.lines:
        of_line = compiled.items[line.id]
        seconds = [of_line[n].dose.practice_s(pace_s) if n in of_line else 0.0 for n in numbers]
        most = max(seconds, default=0.0)
        # What is done in passing takes no time of its own, and is there all the same.
        shares = tuple((s / most if most else 1.0) if n in of_line else 0.0 for n, s in zip(numbers, seconds, strict=True))
        rows.append(MiniatureRow(name=line.card.name, stage=line.stage.value, family=line.card.family.value, shares=shares))
    works = added([(1.0, w.muscles) for w in compiled.weeks])
    loads = works if any(x.right or x.left for x in works.values()) else added([(1.0, w.hands_on) for w in compiled.weeks])
    most = max((max(x.right, x.left) for x in loads.values()), default=0.0)
    return Miniature(
        rows=tuple(rows),
        minutes=tuple(w.seconds / 60 for w in compiled.weeks),
        days=tuple(w.sessions for w in compiled.weeks),
        regions={m: SideSeconds(x.right / most, left=x.left / most) for m, x in loads.items() if most and (x.right or x.left)},
    )
