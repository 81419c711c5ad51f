"""What the logs of a day say to the day itself: what it has had, how far a session has come, where it was tender."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose import Dose
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.programs.daily_ceilings import NOTHING, Spent, practised, stayed
from dimbo.core.programs.program import Settings, read_cell
from dimbo.core.sessions.crediting import Progress, Stretch
from dimbo.core.sessions.eased_tracks import progress_eased
from dimbo.core.sessions.eased_version import eased_item
from dimbo.core.sessions.log_identity import share_done
from dimbo.core.sessions.timeline import Item
from dimbo.core.text import join_words
from dimbo.store.database import Conn
from dimbo.store.practice import practice_logs
from dimbo.store.practice.practice_logs import Line, Log

from .client_sessions import Session, Standing


@dataclass(frozen=True)
class Begun:
    """A session of which a part was handed in: by which log, and how far it has come."""

    log: UUID
    progress: Progress


def used_on(conn: Conn, at: Standing, logs: Sequence[Log], day: date) -> Spent:
    """What was done on a day, as its ceilings count it: each logged exercise by its own dose and the share that was done."""
    today = {x.id: x for x in logs if x.day == day}
    if not today:
        return NOTHING
    sides = practice_logs.sides(conn, list(today))
    total = NOTHING
    for line in practice_logs.lines_of(conn, list(today)):
        log = today[line.log_id]
        plan = at.plans.get((log.assignment_id, log.plan))
        card = at.cards[plan.id, plan.plan].get(line.exercise_id) if plan else None
        works = sides.get((line.log_id, line.place), ())
        if plan is None or card is None or not works:
            continue
        logged = _logged_dose(card, line)
        if logged is not None:
            version, dose = logged
            pace_s = Settings(**plan.settings).pace_s
            # What was done before the change to the eased version counts as well: by seconds, not by its share of the plan.
            planned = {w.side: version.works_s(dose, w.side, pace_s) if line.eased else w.planned_s for w in works}
            share = {w.side: w.done_s / planned[w.side] if planned[w.side] else 0.0 for w in works}
            total = total.plus(practised(version, dose, share, pace_s))
            total = total.plus(stayed(card, [(Side(s["side"]) if s["side"] else None, float(s["seconds"])) for s in line.stays]))
    return total


TENDER_DAYS = 28
"""For so many days a tender spot is pointed out again."""


def tender_words(last: practice_logs.Tender) -> str:
    """Where an exercise was held longer last time, in a sentence."""
    seconds = sum(float(s["seconds"]) for s in last.stays)
    places = dict.fromkeys(
        join_words([x for x in (f"your {s['side']} side" if s["side"] else "", s["where"]) if x], "at") for s in last.stays
    )
    named = join_words([p for p in places if p][:2])
    return f"Last time you stayed {seconds:.0f} s longer{f': {named}' if named else ''}."


def share_of(conn: Conn, own: Sequence[Log]) -> float:
    """Share of a session that its logs have done; nothing without a log."""
    if not own:
        return 0.0
    best: dict[tuple[UUID, int], tuple[float, float, str]] = {}
    for log in own:
        for n in practice_logs.lines_of(conn, [log.id]):
            planned, done, what = best.get((log.assignment_id, n.place), (n.planned_s, 0.0, ""))
            best[log.assignment_id, n.place] = planned, done + n.done_s, "hurt" if "hurt" in (what, n.outcome) else n.outcome
    return share_done(best.values())


def begun_part(conn: Conn, found: Session, own: Sequence[Log]) -> Begun | None:
    """How far a session has come that was handed in in part; None where it was told by hand, in several reports, or is
    another session now."""
    reports = {x.session_id for x in own}
    if len(reports) != 1 or not own or any(x.source != "player" for x in own):
        return None
    lines = sorted(practice_logs.lines_of(conn, [x.id for x in own]), key=lambda n: n.place)
    if not same_items(lines, found.plain) or any(n.outcome == "hurt" for n in lines):
        return None
    stretches = [Stretch(float(s["from_s"]), to_s=float(s["to_s"]), at=datetime.fromisoformat(s["at"])) for s in own[0].stretches]
    (report,) = reports
    return Begun(report or own[0].id, progress_eased(found.plain, found.cues, found.tracks, stretches, found.settings))


def dose_of(item: Item) -> str:
    """The dose of an item as a log keeps it."""
    return print_line(item.dose, item.card.style)


def same_items(lines: Sequence[Line], items: Sequence[Item]) -> bool:
    """Whether logged exercises, in their order, are those of a session, each with its dose or that of its eased version."""
    return len(lines) == len(items) and all(
        n.exercise_id == i.card.id and (n.dose == dose_of(i) or (n.eased and n.dose == dose_of(eased_item(i))))
        for n, i in zip(lines, items, strict=True)
    )


def _logged_dose(card: Card, line: Line) -> tuple[Card, Dose] | None:
    """The dose that a logged exercise was done with, and the version in which it was done."""
    for version in (card.easier, card) if line.eased else (card,):
        if version is not None and (dose := read_cell(line.dose, version).dose) is not None:
            return version, dose
    return None
