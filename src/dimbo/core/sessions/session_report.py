"""A session as a client's device tells it: what cannot have been, and two parts of one session put together."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.anatomy import Side

from .crediting import Stay, Stretch

LONGEST_SESSION = timedelta(hours=6)
MOST_STRETCHES = 400
"""A stop every minute of the longest session, and some more: a device that sends more is at fault."""
MOST_STAYED_S = 600.0
"""Most seconds that one exercise can be held longer in a session."""
MOST_NOTE = 2000
SLACK_S = 5.0
"""A device rounds its times; so much more may have been played than the session lasted."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PartReport:
    """Which session of which plan was practised."""

    assignment_id: UUID
    plan: int
    week: int
    place: int
    back: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemReport:
    """One exercise in the order of practice. ``counts`` (sets, repetitions a set) tell practice without the player;
    ``in_eased_version`` that it was played as the eased version that is an exercise of its own."""

    assignment_id: UUID
    line_id: str
    hurt: bool = False
    pain_side: str | None = None
    pain_level: int | None = None
    pain_where: str = ""
    eased: bool = False
    skip_reason: str = ""
    counts: Mapping[Side, tuple[int, int]] | None = None
    in_eased_version: bool = False
    pain_since: str = ""
    stays: Sequence[Stay] = ()
    known_pain: bool = False
    """Whether the pain was told in an earlier part of the same session."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Report:
    """A session as a client's device tells it; ``id`` is made there, so that sending twice is harmless.

    All times are by the device's clock; ``sent_at`` is when it was sent, which tells how far that clock is off.
    """

    id: UUID
    day: date
    part: str
    source: str
    parts: Sequence[PartReport]
    items: Sequence[ItemReport]
    stretches: Sequence[Stretch]
    started_at: datetime
    ended_at: datetime
    sent_at: datetime
    effort: int | None = None
    form: str | None = None
    note: str = ""
    replaces: UUID | None = None
    continues: UUID | None = None
    """The report of the first part of the same session, which this one goes on with; both become one log."""

    @property
    def stays(self) -> tuple[Stay, ...]:
        return tuple(s for i in self.items for s in i.stays)


@dataclass(frozen=True, slots=True, kw_only=True)
class Impossible:
    """Why a report cannot be true, as a sentence that says what to check; ``field`` is what of it."""

    field: str
    says: str


def impossible(report: Report) -> Iterator[Impossible]:
    """Whatever of a report cannot have been, by itself. Practice that nobody did must not become progress."""
    lasted = report.ended_at - report.started_at
    if lasted < timedelta() or lasted > LONGEST_SESSION:
        yield Impossible(field="ended_at", says="The session ends before it starts, or lasts longer than six hours. Check both times.")
    if len(report.stretches) > MOST_STRETCHES:
        yield Impossible(field="stretches", says=f"A session is interrupted at most {MOST_STRETCHES} times.")
    if any(s.to_s < s.from_s or s.from_s < 0 for s in report.stretches):
        yield Impossible(field="stretches", says="A stretch of the session ends before it begins.")
    if sum(s.length_s for s in report.stretches) > lasted.total_seconds() + SLACK_S:
        yield Impossible(field="stretches", says="More was played than the session lasted. Check the start and the end.")
    for item in report.items:
        if any(s.seconds <= 0 or s.at_s < 0 for s in item.stays) or sum(s.seconds for s in item.stays) > MOST_STAYED_S:
            yield Impossible(field="stays", says=f"A release is held at most {MOST_STAYED_S / 60:.0f} minutes longer in one session.")


def joined(first: Report, report: Report) -> Report:
    """One report of both parts of a session: their stretches one after the other, and what was told in either.

    ``first`` has the items of ``report`` in the same order, and its times by the same clock. It is replaced by the result.
    """
    return replace(
        report,
        started_at=min(first.started_at, report.started_at),
        stretches=[*first.stretches, *report.stretches],
        items=[_both(then, now=now) for then, now in zip(first.items, report.items, strict=True)],
        effort=report.effort if report.effort is not None else first.effort,
        form=report.form or first.form,
        note=" ".join(t for t in (first.note, report.note.strip()) if t)[:MOST_NOTE],
        replaces=report.continues,
    )


def _both(then: ItemReport, now: ItemReport) -> ItemReport:
    """What was told of an exercise in both parts of a session; pain that was told before stays told, once."""
    both = replace(now, eased=now.eased or then.eased, skip_reason=now.skip_reason or then.skip_reason, stays=(*then.stays, *now.stays))
    if now.hurt or not then.hurt:
        return both
    return replace(
        both,
        hurt=True,
        pain_side=then.pain_side,
        pain_level=then.pain_level,
        pain_where=then.pain_where,
        pain_since=then.pain_since,
        known_pain=True,
    )
