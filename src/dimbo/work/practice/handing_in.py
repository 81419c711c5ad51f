"""Handing in what was practised: the plan decides what was planned, the core what was done, and a log counts once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from uuid import UUID, uuid5

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import just_closed
from dimbo.core.calendar.time_zones import clock_error, clock_jumped, day_at, zone_at
from dimbo.core.exercises.card import Card
from dimbo.core.programs.program import Settings
from dimbo.core.sessions.crediting import ItemWork, Stay, Stretch, counted, pauses
from dimbo.core.sessions.eased_tracks import Track, credit_eased, tracks
from dimbo.core.sessions.eased_version import eased_item
from dimbo.core.sessions.log_identity import OVER_S, credit_s, outcome, over_s, same_practice, stands_before
from dimbo.core.sessions.merging import Owned
from dimbo.core.sessions.timeline import timeline
from dimbo.core.text import join_words
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import PlannedDay
from dimbo.store.practice import practice_logs
from dimbo.store.practice.practice_logs import Line, Log, LogLine
from dimbo.work.exercises import cards_of
from dimbo.work.messages.messaging import tell_coach
from dimbo.work.plans.plan_calendar import is_planned, program_of
from dimbo.work.shared.errors import Refused, Why

from .client_sessions import Part, merged_items
from .day_logs import dose_of, same_items
from .days import own_client

Cards = Mapping[tuple[UUID, int], Mapping[str, Card]]
"""Cards by assignment and plan."""
LONGEST_SESSION = timedelta(hours=6)
MOST_STRETCHES = 400


@dataclass(frozen=True, kw_only=True)
class PartReport:
    """Which session of which plan was practised."""

    assignment_id: UUID
    plan: int
    week: int
    place: int
    back: int = 0


@dataclass(frozen=True, kw_only=True)
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


@dataclass(frozen=True, kw_only=True)
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


@dataclass(frozen=True)
class Kept:
    """What became of something that was handed in. ``said`` is for the client, sentence by sentence."""

    new: bool
    said: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class _Read:
    """A report read by the plan it was practised with."""

    parts: Sequence[Part]
    works: tuple[ItemWork, ...]
    eased: Mapping[int, Track]
    """The eased versions that the client changed over to, by item."""
    report: Report
    """The whole session: with what came before, where it goes on with an earlier part."""
    started_at: datetime
    ended_at: datetime
    off: timedelta
    day: date
    plan_changed: bool


def _check_times(report: Report) -> None:
    if report.ended_at < report.started_at or report.ended_at - report.started_at > LONGEST_SESSION:
        raise Refused(Why.CLASH, "The session ends before it starts, or lasts longer than six hours. Check both times.", "ended_at")
    if len(report.stretches) > MOST_STRETCHES:
        raise Refused(Why.BOUNDS, f"A session is interrupted at most {MOST_STRETCHES} times.", "stretches")
    for a in report.stretches:
        if a.to_s < a.from_s or a.from_s < 0:
            raise Refused(Why.CLASH, "A stretch of the session ends before it begins.", "stretches")
    # A stretch that is longer than the time it had would be practice that nobody did.
    played = sum(s.length_s for s in report.stretches)
    if played > (report.ended_at - report.started_at).total_seconds() + 5:
        raise Refused(Why.CLASH, "More was played than the session lasted. Check the start and the end.", "stretches")


def _parts(conn: Conn, practice_id: UUID, client_id: UUID, report: Report) -> tuple[list[Part], Cards, bool]:
    """The sessions that were practised, by the plans they were practised with, and the cards of these; whether a plan has
    changed since. Raises Refused, NotThere."""
    parts: list[Part] = []
    cards: dict[tuple[UUID, int], Mapping[str, Card]] = {}
    changed = False
    for told in report.parts:
        plan = assignments.by_plan(conn, told.assignment_id, told.plan)
        if plan.client_id != client_id:
            raise NotThere("There is no such assignment.")
        known = cards[plan.id, plan.plan] = cards_of(conn, practice_id, plan)
        if not is_planned(plan, program_of(plan, known), report.day, told.week, place=told.place, back=told.back):
            raise Refused(Why.UNKNOWN, f"No session of “{plan.title}” is planned on {report.day:%d %B %Y}.", "day")
        now = [d for d in assignments.sessions(conn, plan.id, report.day, until=report.day) if d.part == report.part]
        changed = changed or not any((d.plan, d.week, d.place, d.back) == (told.plan, told.week, told.place, told.back) for d in now)
        parts.append(
            Part(
                plan,
                PlannedDay(
                    day=report.day,
                    week=told.week,
                    planned_s=0,
                    contraction_right_s=0,
                    contraction_left_s=0,
                    part=report.part,
                    place=told.place,
                    plan=told.plan,
                    back=told.back,
                ),
            )
        )
    if not parts:
        raise Refused(Why.UNKNOWN, "The log names no session.", "parts")
    return parts, cards, changed


def _played_order(rows: Sequence[Owned[UUID]], report: Report) -> tuple[Owned[UUID], ...]:
    """The items in the order in which the device played them. Raises Refused for one that the plan does not have."""
    known: dict[tuple[UUID, str], Owned[UUID]] = {}
    most: Counter[tuple[UUID, str]] = Counter()
    for owned in rows:
        key = owned.owner, owned.item.line.id
        known[key] = owned
        most[key] += 1
    told = Counter((i.assignment_id, i.line_id) for i in report.items)
    for key, times in told.items():
        if key not in known or times > most[key]:
            raise Refused(Why.UNKNOWN, f"Row “{key[1]}” is not part of this session.", "items")
    if not told:
        raise Refused(Why.UNKNOWN, "The log names no exercise.", "items")
    return tuple(_as_played(known[i.assignment_id, i.line_id], i) for i in report.items)


def _as_played(owned: Owned[UUID], told: ItemReport) -> Owned[UUID]:
    """The item in the version in which it was played. Raises Refused for a version that its card does not have."""
    if not told.in_eased_version:
        return owned
    if owned.item.card.easier is None:
        raise Refused(Why.CLASH, f"{owned.item.card.name} has no eased version of its own.", "items")
    return replace(owned, item=eased_item(owned.item))


def _works(order: Sequence[Owned[UUID]], settings: Settings, report: Report) -> tuple[tuple[ItemWork, ...], Mapping[int, Track]]:
    """What was done of each item, and the eased versions that were changed over to, by item."""
    items = [o.item for o in order]
    cues = timeline(items, settings)
    if report.source == "player":
        laid = tracks(items, cues, settings)
        end = max((c.start_s + c.length_s for c in (*cues[-1:], *(t.cues[-1] for t in laid[-1:]))), default=0.0)
        if any(s.to_s > end + 1 for s in report.stretches):
            raise Refused(Why.CLASH, "A stretch lies beyond the end of the session.", "stretches")
        return credit_eased(items, cues, laid, report.stretches, settings=settings, stays=report.stays)
    out = []
    for n, (item, told) in enumerate(zip(items, report.items, strict=True)):
        try:
            out.append(counted(item, [c for c in cues if c.item == n], told.counts or {}, settings))
        except ValueError as error:
            raise Refused(Why.UNREADABLE, f"{error}.", "counts") from error
    return tuple(out), {}


MOST_STAYED_S = 600.0
"""Most seconds that one exercise can be held longer in a session."""


def _check_stays(report: Report) -> None:
    for item in report.items:
        if any(s.seconds <= 0 or s.at_s < 0 for s in item.stays) or sum(s.seconds for s in item.stays) > MOST_STAYED_S:
            raise Refused(Why.BOUNDS, f"A release is held at most {MOST_STAYED_S / 60:.0f} minutes longer in one session.", "stays")


def _joined(conn: Conn, client_id: UUID, report: Report, order: Sequence[Owned[UUID]], off: timedelta) -> Report:
    """The report together with the earlier part that it goes on with: their stretches one after the other, and what was told
    in either. Alone, where that part is not there, or was of another plan.

    Times stay those of the device's clock, by which the report was made; what is kept of the earlier part is set back to it.
    """
    logs = practice_logs.of_report(conn, client_id, session_id=report.continues) if report.continues else []
    lines = sorted(practice_logs.lines_of(conn, [x.id for x in logs]), key=lambda n: n.place)
    if not logs or not same_items(lines, [o.item for o in order]):
        return report
    first = logs[0]
    before = [Stretch(float(s["from_s"]), to_s=float(s["to_s"]), at=datetime.fromisoformat(s["at"]) - off) for s in first.stretches]
    return replace(
        report,
        started_at=min(first.started_at - off, report.started_at),
        stretches=[*before, *report.stretches],
        items=[_with_earlier(now, then) for now, then in zip(report.items, lines, strict=True)],
        effort=report.effort if report.effort is not None else first.effort,
        form=report.form or first.form,
        note=" ".join(t for t in (first.note, report.note.strip()) if t)[:2000],
        replaces=report.continues,
    )


def _with_earlier(now: ItemReport, then: Line) -> ItemReport:
    """What was told of an exercise in both parts of a session; pain that was told before stays told, once."""
    stays = [Stay(s["at_s"], seconds=s["seconds"], side=Side(s["side"]) if s["side"] else None, where=s["where"]) for s in then.stays]
    both = replace(now, eased=now.eased or then.eased, skip_reason=now.skip_reason or then.skip_reason, stays=(*stays, *now.stays))
    if now.hurt or then.outcome != "hurt":
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


def _day(conn: Conn, client_id: UUID, report: Report, started: datetime, off: timedelta, now: datetime) -> date:
    """The day to which the session counts. Raises Refused for a day that has not begun by a clock that is right.

    Of a clock that was set to another time in between, only the day that the phone had from its plan can be believed.
    """
    stays = assignments.stays(conn, client_id)
    today = day_at(stays, now)
    if report.day > today and not off:
        raise Refused(Why.NOT_NOW, f"{report.day:%d %B %Y} has not begun yet. A session is handed in on its own day, or later.", "day")
    if report.source == "manual" or clock_jumped(report.sent_at, told=report.ended_at):
        return min(report.day, today)
    day = day_at(stays, started)
    if day - report.day == timedelta(days=1) and just_closed(report.day, started, zone_at(stays, started)):
        # Begun a little after three for the evening that is still open: it counts for that evening.
        days = (report.day, day)
        if not any(practice_logs.of_session(conn, told.assignment_id, d, report.part) for d in days for told in report.parts):
            return report.day
    return min(day, today)


def hand_in(db: Database, person: Person, report: Report, now: datetime) -> Kept:
    """Keep a practice log once. Raises Refused or NotThere for what cannot have been; nothing of it is kept then."""
    client_id = own_client(person)
    with db.practice(person.practice_id, client_id) as conn:
        practice_logs.hold_client(conn, client_id)
        if practice_logs.has(conn, report.id):
            return Kept(False)
        _check_times(report)
        _check_stays(report)
        parts, cards, changed = _parts(conn, person.practice_id, client_id, report)
        rows, settings = merged_items(parts, cards)
        order = _played_order(rows, report)
        off = clock_error(report.sent_at, told=report.ended_at, received_at=now)
        day = _day(conn, client_id, report, report.started_at + off, off=off, now=now)
        whole = _joined(conn, client_id, report, order, off)
        works, eased = _works(order, settings, whole)
        read = _Read(
            parts=parts,
            works=works,
            eased=eased,
            report=whole,
            started_at=whole.started_at + off,
            ended_at=report.ended_at + off,
            off=off,
            day=day,
            plan_changed=changed,
        )
        return _keep(conn, person, client_id, read, order=order, now=now)


def _keep(conn: Conn, person: Person, client_id: UUID, read: _Read, order: Sequence[Owned[UUID]], now: datetime) -> Kept:
    report = read.report
    count, paused_s = pauses(report.stretches, report.stays)
    said: list[str] = []
    pain: list[str] = []
    new = False
    for nth, part in enumerate(read.parts):
        lines = [
            LogLine(
                place=place,
                exercise_id=owned.item.card.id,
                dose=dose_of(read.eased[place].eased if place in read.eased else owned.item),
                planned_s=work.planned_s,
                done_s=work.done_s,
                outcome=outcome(work, hurt=told.hurt, told_by_hand=told.counts is not None),
                pain_side=told.pain_side,
                pain_level=told.pain_level,
                pain_where=told.pain_where,
                eased=told.eased or told.in_eased_version or place in read.eased,
                skip_reason=told.skip_reason,
                pauses=work.pauses,
                paused_s=work.paused_s,
                sides=work.sides,
                pain_since=told.pain_since,
                stays=[{"at_s": s.at_s, "seconds": s.seconds, "side": s.side, "where": s.where} for s in told.stays],
                known_pain=told.known_pain,
                loads=owned.item.card.family.contracts,
                credit_s=credit_s(work.planned_s, done_s=work.done_s, sides=work.sides),
                over_s=round(over_s(owned.item.card, work.sides), 1),
            )
            for place, (owned, told, work) in enumerate(zip(order, report.items, read.works, strict=True))
            if owned.owner == part.assignment.id
        ]
        if not lines:
            continue
        log = Log(
            id=report.id if nth == 0 else uuid5(report.id, str(part.assignment.id)),
            assignment_id=part.assignment.id,
            day=read.day,
            started_at=read.started_at,
            ended_at=read.ended_at,
            planned_s=round(sum(n.planned_s for n in lines), 1),
            done_s=round(sum(n.done_s for n in lines), 1),
            effort=report.effort,
            note=report.note.strip(),
            part=report.part,
            plan=part.assignment.plan,
            source=report.source,
            session_id=report.id,
            form=report.form,
            pauses=count,
            paused_s=round(paused_s, 1),
            clock_off_s=round(read.off.total_seconds(), 1),
            named_day=report.day if report.day != read.day else None,
            stretches=[{"from_s": s.from_s, "to_s": s.to_s, "at": (s.at + read.off).isoformat()} for s in report.stretches],
            replaces=_replaced(conn, client_id, report, part.assignment.id),
        )
        log, twin = _against_twins(conn, log)
        said += twin
        new = practice_logs.add(conn, person.practice_id, client_id, log, lines) or new
        names = {o.item.card.id: o.item.card.name for o in order}
        pain += [_pain(names[n.exercise_id], n) for n in lines if n.outcome == "hurt" and not n.known_pain]
    if new and pain:
        tell_coach(
            conn, person, client_id, "pain", key=f"pain:{report.id}", subject=f"{person.name} reported pain", body=" ".join(pain), now=now
        )
    return Kept(new, tuple(dict.fromkeys([*said, *_remarks(report, read, order)])))


def _pain(name: str, line: LogLine) -> str:
    where = join_words([x for x in (f"{line.pain_side} side" if line.pain_side else "", line.pain_where) if x])
    level = f"{line.pain_level} of 10" if line.pain_level is not None else "no level told"
    since = f", since {line.pain_since}" if line.pain_since else ""
    return f"{name} hurt: {level}{', ' + where if where else ''}{since}. It is stopped until you decide."


def _replaced(conn: Conn, client_id: UUID, report: Report, assignment_id: UUID) -> UUID | None:
    """The log of an assignment that a correction takes the place of. Raises Refused."""
    if report.replaces is None:
        return None
    found = practice_logs.of_report(conn, client_id, session_id=report.replaces)
    if not found:
        raise Refused(Why.UNKNOWN, "The log that this one corrects is not there.", "replaces")
    return next((x.id for x in found if x.assignment_id == assignment_id), None)


def _against_twins(conn: Conn, log: Log) -> tuple[Log, list[str]]:
    """The log beside others of its session: told twice it counts once, practised twice it counts twice."""
    twin = next((x for x in practice_logs.of_session(conn, log.assignment_id, log.day, log.part) if same_practice(log, b=x)), None)
    if twin is None or log.replaces is not None:
        return log, []
    said = "This session was handed in from another device too; it counts once."
    return (replace(log, replaces=twin.id) if stands_before(log, b=twin) else replace(log, replaced_by=twin.id)), [said]


def _remarks(report: Report, read: _Read, order: Sequence[Owned[UUID]]) -> list[str]:
    """What the client is told: a caution for too much, and whatever was decided for them."""
    out = []
    over = sum(over_s(o.item.card, w.sides) for o, w in zip(order, read.works, strict=True))
    if over >= OVER_S:
        minutes, seconds = divmod(round(over), 60)
        out.append(
            f"That was {minutes}:{seconds:02d} minutes more than planned, and it is kept as such. More strains the muscles and brings "
            "nothing sooner; please stay with the plan next time."
        )
    if read.off:
        out.append("The clock of your phone is off; the times were set right by the server’s clock.")
    if read.day != report.day:
        out.append(f"This counts for {read.day:%A, %-d %B}: a day closes at 3 in the morning.")
    if read.plan_changed:
        out.append("Your coach changed the plan meanwhile. What you did is kept as you did it; from now on the new plan holds.")
    return out
