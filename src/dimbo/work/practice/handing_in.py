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
from dimbo.core.sessions.session_report import ItemReport, Report, impossible, joined
from dimbo.core.sessions.timeline import timeline
from dimbo.core.text import join_words
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import PlannedDay
from dimbo.store.practice import practice_logs
from dimbo.store.practice.practice_logs import Line, Log, LogLine
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.messages.messaging import tell_coach
from dimbo.work.plans.plan_calendar import is_planned, program_of
from dimbo.work.shared.errors import Refused, Why

from .client_sessions import Part, merged_items
from .day_logs import dose_of, same_items
from .days import own_client

Cards = Mapping[tuple[UUID, int], Mapping[str, Card]]
"""Cards by assignment and plan."""


@dataclass(frozen=True)
class Kept:
    """What became of something that was handed in. ``said`` is for the client, sentence by sentence."""

    new: bool
    said: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class _Read:
    """A report read by the plan it was practised with."""

    parts: Sequence[Part]
    order: Sequence[Owned[UUID]]
    """The items as they were played."""
    works: tuple[ItemWork, ...]
    eased: Mapping[int, Track]
    """The eased versions that the client changed over to, by item."""
    report: Report
    """The whole session: with what came before, where it goes on with an earlier part."""
    off: timedelta
    """How far the device's clock is behind."""
    day: date
    plan_changed: bool


def _check(report: Report) -> None:
    """Raises Refused for what cannot have been."""
    for found in impossible(report):
        raise Refused(Why.CLASH, found.says, found.field)


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


def _whole(conn: Conn, client_id: UUID, report: Report, order: Sequence[Owned[UUID]], off: timedelta) -> Report:
    """The report together with the earlier part that it goes on with; alone, where that is not there or was of another plan."""
    logs = practice_logs.of_report(conn, client_id, session_id=report.continues) if report.continues else []
    lines = sorted(practice_logs.lines_of(conn, [x.id for x in logs]), key=lambda n: n.place)
    if not logs or not same_items(lines, [o.item for o in order]):
        return report
    return joined(_told_before(logs[0], lines, report, off), report=report)


def _told_before(log: Log, lines: Sequence[Line], report: Report, off: timedelta) -> Report:
    """What was kept of the earlier part, told as a report by the same device: its times set back to that clock."""
    return replace(
        report,
        started_at=log.started_at - off,
        stretches=[Stretch(float(s["from_s"]), to_s=float(s["to_s"]), at=datetime.fromisoformat(s["at"]) - off) for s in log.stretches],
        items=[
            replace(
                item,
                hurt=line.outcome == "hurt",
                pain_side=line.pain_side,
                pain_level=line.pain_level,
                pain_where=line.pain_where,
                pain_since=line.pain_since,
                eased=line.eased,
                skip_reason=line.skip_reason,
                stays=tuple(
                    Stay(s["at_s"], seconds=s["seconds"], side=Side(s["side"]) if s["side"] else None, where=s["where"]) for s in line.stays
                ),
            )
            for item, line in zip(report.items, lines, strict=True)
        ],
        effort=log.effort,
        form=log.form,
        note=log.note,
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
    with db.of(person, client_id) as conn:
        # Two devices may hand in the same session at the same moment; the second must see what the first has kept.
        practice_logs.hold_client(conn, client_id)
        if practice_logs.has(conn, report.id):
            return Kept(False)
        _check(report)
        read = _read(conn, person.practice_id, client_id, report, now)
        return _keep(conn, person, client_id, read, now)


def _read(conn: Conn, practice_id: UUID, client_id: UUID, report: Report, now: datetime) -> _Read:
    """Raises Refused, NotThere."""
    parts, cards, changed = _parts(conn, practice_id, client_id, report)
    rows, settings = merged_items(parts, cards)
    order = _played_order(rows, report)
    off = clock_error(report.sent_at, told=report.ended_at, received_at=now)
    # The day is that of the part which is handed in now, even where the earlier one began before midnight.
    day = _day(conn, client_id, report, report.started_at + off, off=off, now=now)
    whole = _whole(conn, client_id, report, order, off)
    works, eased = _works(order, settings, whole)
    return _Read(parts=parts, order=order, works=works, eased=eased, report=whole, off=off, day=day, plan_changed=changed)


def _keep(conn: Conn, person: Person, client_id: UUID, read: _Read, now: datetime) -> Kept:
    """One log for each program of the session; the coach is told of pain once, when anything of it is new."""
    said: list[str] = []
    pain: list[str] = []
    new = False
    for nth, part in enumerate(read.parts):
        lines = _lines(read, part.assignment.id)
        if not lines:
            continue
        replaces = _replaced(conn, client_id, read.report, part.assignment.id)
        log, twin = _against_twins(conn, _log(read, part, lines, nth=nth, replaces=replaces))
        said += twin
        new = practice_logs.add(conn, person.practice_id, client_id, log, lines) or new
        pain += _hurts(read, lines)
    if new and pain:
        key, subject = f"pain:{read.report.id}", f"{person.name} reported pain"
        tell_coach(conn, person, client_id, "pain", key=key, subject=subject, body=" ".join(pain), now=now)
    return Kept(new, tuple(dict.fromkeys([*said, *_remarks(read)])))


def _lines(read: _Read, assignment_id: UUID) -> list[LogLine]:
    """What is kept of each exercise of one program."""
    played = zip(read.order, read.report.items, read.works, strict=True)
    return [
        _line(read, place, owned, told=told, work=work) for place, (owned, told, work) in enumerate(played) if owned.owner == assignment_id
    ]


def _line(read: _Read, place: int, owned: Owned[UUID], told: ItemReport, work: ItemWork) -> LogLine:
    card, over_to = owned.item.card, read.eased.get(place)
    return LogLine(
        place=place,
        exercise_id=card.id,
        dose=dose_of(over_to.eased if over_to else owned.item),
        planned_s=work.planned_s,
        done_s=work.done_s,
        outcome=outcome(work, hurt=told.hurt, told_by_hand=told.counts is not None),
        pain_side=told.pain_side,
        pain_level=told.pain_level,
        pain_where=told.pain_where,
        eased=told.eased or told.in_eased_version or over_to is not None,
        skip_reason=told.skip_reason,
        pauses=work.pauses,
        paused_s=work.paused_s,
        sides=work.sides,
        pain_since=told.pain_since,
        stays=[{"at_s": s.at_s, "seconds": s.seconds, "side": s.side, "where": s.where} for s in told.stays],
        known_pain=told.known_pain,
        loads=card.family.contracts,
        credit_s=credit_s(work.planned_s, done_s=work.done_s, sides=work.sides),
        over_s=round(over_s(card, work.sides), 1),
    )


def _log(read: _Read, part: Part, lines: Sequence[LogLine], nth: int, replaces: UUID | None) -> Log:
    """The log of one program of a session. The first has the report's id, by which the device knows it; those of further
    programs are made from it, so that sending twice makes none of them twice."""
    report = read.report
    count, paused_s = pauses(report.stretches, report.stays)
    return Log(
        id=report.id if nth == 0 else uuid5(report.id, str(part.assignment.id)),
        assignment_id=part.assignment.id,
        day=read.day,
        started_at=report.started_at + read.off,
        ended_at=report.ended_at + read.off,
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
        replaces=replaces,
    )


def _hurts(read: _Read, lines: Sequence[LogLine]) -> list[str]:
    """A sentence for each exercise that hurt, and was not told before."""
    names = {o.item.card.id: o.item.card.name for o in read.order}
    return [_pain(names[n.exercise_id], n) for n in lines if n.outcome == "hurt" and not n.known_pain]


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


def _remarks(read: _Read) -> list[str]:
    """What the client is told: a caution for too much, and whatever was decided for them."""
    out = []
    over = sum(over_s(o.item.card, w.sides) for o, w in zip(read.order, read.works, strict=True))
    if over >= OVER_S:
        minutes, seconds = divmod(round(over), 60)
        out.append(
            f"That was {minutes}:{seconds:02d} minutes more than planned, and it is kept as such. More strains the muscles and brings "
            "nothing sooner; please stay with the plan next time."
        )
    if read.off:
        out.append("The clock of your phone is off; the times were set right by the server’s clock.")
    if read.day != read.report.day:
        out.append(f"This counts for {read.day:%A, %-d %B}: a day closes at 3 in the morning.")
    if read.plan_changed:
        out.append("Your coach changed the plan meanwhile. What you did is kept as you did it; from now on the new plan holds.")
    return out
