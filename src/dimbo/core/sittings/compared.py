"""Two sittings side by side: what changed between them in words, the margin, and what the sides mean for a program."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from dimbo.core.anatomy import Side

from .bias import Bias, sides_of
from .comparison import Change, change_sentence
from .reading_table import READINGS
from .sitting import Measurement, SittingRead
from .sitting_notes import Look, SittingNote, sitting_notes


@dataclass(frozen=True)
class SaidChange:
    """A change with its headline."""

    change: Change
    sentence: str


@dataclass(frozen=True, kw_only=True)
class Compared:
    """What a comparison says. Without an earlier sitting there are no changes; without a later one nothing at all."""

    before: SittingRead | None = None
    after: SittingRead | None = None
    changes: Sequence[SaidChange] = ()
    notes: Sequence[SittingNote] = ()
    bias: Mapping[str, Bias] | None = None


def since(before: SittingRead, change: Change) -> str:
    """What is said of what a change was held against, as in: larger than at the baseline."""
    if change.start and change.start.stands_in:
        day = change.start.stands_in
        return f"at the baseline of {day.day} {day:%B}, which took no part in choosing the side"
    if change.start and change.start.both:
        return "at both baselines together"
    return "at the baseline" if before.kind == "baseline" else f"on {before.taken_on.day} {before.taken_on:%B}"


def compare(
    m: Measurement,
    *,
    before: SittingRead | None,
    after: SittingRead | None,
    practised: bool,
    asked_on: date | None,
    told: Mapping[str, Side] | None = None,
) -> Compared:
    """Compare two sittings; ``asked_on`` is the day on which somebody last asked about health, ``told`` the weaker side by reading as side
    tests say it. By default ``after`` is the newest sitting with shots and ``before`` the first with values; the same sitting is compared
    with nothing."""
    later = after or next((s for s in reversed(m.sittings) if s.shots), None)
    earlier = before or m.baseline
    if later is None:
        return Compared()
    if earlier is None or earlier.id == later.id:
        earlier = None
    changes = m.changes(earlier, later) if earlier else []
    paired = [k for k in m.headlines if READINGS[k].paired]
    return Compared(
        before=earlier,
        after=later,
        changes=[SaidChange(c, change_sentence(READINGS[c.reading], c, since(earlier, c))) for c in changes] if earlier else [],
        notes=sitting_notes(Look(all=m, before=earlier, after=later, changes=changes, practised=practised)),
        bias=sides_of(m, paired, at=later, told=told).told(asked_on),
    )
