"""What the demo's clients did since their programs began: sessions as a phone would tell them, check-ins, habits, words."""

from __future__ import annotations

import random
from datetime import date, datetime, time, timedelta
from uuid import UUID, uuid5

from dimbo.core.calendar.schedule import zone
from dimbo.core.review.apply_review import THE_WEEK
from dimbo.core.review.weekly import Verdict
from dimbo.core.sessions.crediting import Stretch
from dimbo.core.sessions.session_report import ItemReport, PartReport, Report
from dimbo.store.database import Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.work.messages import feed, messaging
from dimbo.work.practice import checking_in, client_sessions, days, handing_in, reminding
from dimbo.work.practice.client_sessions import Session
from dimbo.work.review import deciding, reviewing

from .people import Story

SPACE = UUID("6b1f63c0-3a52-4b8e-9f0e-d1b0a3c5e7aa")
"""Namespace of the ids that devices would have made."""


def _spans(session: Session, share: float, over: float, hurt_at: int | None) -> list[tuple[float, float]]:
    """Which stretches of the timeline were played: up to a share of it, some of it again, and past what hurt."""
    end = session.seconds * share
    spans = [(0.0, end)]
    if hurt_at is not None:
        own = [c for c in session.cues if c.item == hurt_at]
        stop = own[0].start_s + 0.4 * sum(c.length_s for c in own)
        after = next((c.start_s for c in session.cues if c.item > hurt_at), session.seconds)
        spans = [(0.0, stop), (after, session.seconds)]
    if over > 1:
        spans.append((session.seconds * 0.3, session.seconds * (over - 0.7)))
    return [(round(a, 1), round(b, 1)) for a, b in spans if b > a]


def practise(db: Database, coach: Person, client: Person, story: Story, today: date, rng: random.Random) -> None:
    """Every past session of the running programs as the story tells it, week by week with the coach's reviews between."""
    client_id = client.client_id
    assert client_id is not None
    tz = zone(story.time_zone)
    with db.of(client, client_id) as conn:
        at = client_sessions.standing(conn, client.practice_id, clients.one(conn, client_id), datetime.combine(today, time(12), tz))
        first = min(a.start_date for a in at.running)
        days = sorted(client_sessions.parts_on(conn, at, first, last=today - timedelta(days=1)))
        pauses = [p.pause for p in assignments.pauses(conn, client_id)]
    past = [k for k in days if (today - k[0]).days > story.silent_days and not any(p.holds(k[0]) for p in pauses)]
    practised = [k for k in past if k == past[-1] or rng.random() < story.habit]
    reviewed = 0
    for nth, key in reversed(list(enumerate(reversed(practised), start=1))):
        while reviewed < story.reviewed and key[0] >= first + timedelta(days=7 * (reviewed + 1)):
            reviewed += 1
            _review(db, coach, client_id, story, week=reviewed, on=first + timedelta(days=7 * reviewed))
        session = _compiled(db, client, key, datetime.combine(key[0], time(12), tz))
        if session is not None:
            _session(db, client, story, session, nth=nth, today=today, rng=rng)


def _compiled(db: Database, client: Person, key: tuple[date, str], now: datetime) -> Session | None:
    """The session of a day as the plan has it that holds then."""
    client_id = client.client_id
    assert client_id is not None
    with db.of(client, client_id) as conn:
        at = client_sessions.standing(conn, client.practice_id, clients.one(conn, client_id), now)
        parts = client_sessions.parts_on(conn, at, key[0], last=key[0]).get(key)
        return client_sessions.compile_session(at, parts) if parts else None


def _review(db: Database, coach: Person, client_id: UUID, story: Story, week: int, on: date) -> None:
    """The coach's review of a week, on the morning after it; where the story has other words, they decide otherwise."""
    now = datetime.combine(on, time(6, 30), zone(story.time_zone))
    with db.of(coach) as conn:
        running = assignments.running_of(conn, client_id)[0]
    seen = reviewing.look(db, coach, running.id, None, now)
    if seen.refused or seen.reviewed:
        return
    verdicts = {}
    reason = story.otherwise.get(week, "")
    if reason:
        verdicts = {n.outlook.line_id: Verdict.HOLD for n in seen.lines if n.judgement.verdict == Verdict.ADVANCE}
        if seen.whole.verdict == Verdict.ADVANCE:
            verdicts[THE_WEEK] = Verdict.HOLD
    words = story.review_words.get(week, "")
    decision = reviewing.Decision(
        id=uuid5(SPACE, f"review {client_id} {week}"), first_day=seen.week.first, verdicts=verdicts, bias=(), reason=reason, words=words
    )
    deciding.confirm(db, coach, running.id, decision, now)


def _session(db: Database, client: Person, story: Story, session: Session, nth: int, today: date, rng: random.Random) -> None:
    tz = zone(story.time_zone)
    share = 1.0 if nth == 1 or rng.random() < 0.85 else rng.uniform(0.5, 0.9)
    over = 1.4 if (today - session.day).days in story.overdoes else 1.0
    hurt = story.hurt if nth == 1 else None
    hurt_at = next((n for n, i in enumerate(session.plain) if hurt and i.card.id == hurt[0]), None)
    start = datetime.combine(session.day, time(20 if session.part == "evening" else 7, rng.randrange(5, 50)), tz)
    stretches, now = [], start
    for a, b in _spans(session, 1.0 if hurt_at is not None else share, over=over, hurt_at=hurt_at):
        stretches.append(Stretch(a, to_s=b, at=now))
        now += timedelta(seconds=b - a + rng.uniform(1, 20))
    items = []
    for n, owned in enumerate(session.items):
        if hurt and n == hurt_at:
            items.append(
                ItemReport(
                    assignment_id=owned.owner,
                    line_id=owned.item.line.id,
                    hurt=True,
                    pain_side=hurt[1],
                    pain_level=hurt[2],
                    pain_where=hurt[3],
                )
            )
        else:
            items.append(ItemReport(assignment_id=owned.owner, line_id=owned.item.line.id))
    effort = max(1, min(10, story.effort + rng.choice((-1, 0, 0, 0, 1)) + (2 if over > 1 else 0)))
    parts = [
        PartReport(assignment_id=p.assignment.id, plan=p.planned.plan, week=p.planned.week, place=p.planned.place, back=p.planned.back)
        for p in session.parts
    ]
    report = Report(
        id=uuid5(SPACE, f"{client.client_id} {session.day} {session.part}"),
        day=session.day,
        part=session.part,
        source="player",
        parts=parts,
        items=items,
        stretches=stretches,
        started_at=start,
        ended_at=now,
        sent_at=now,
        effort=effort,
        form="partly" if rng.random() < 0.15 else "yes",
        note=story.note if nth == 1 else "",
    )
    handing_in.hand_in(db, client, report, now + timedelta(seconds=20))
    _day_after(db, client, story, session, over=over, hurt=hurt is not None, rng=rng)


def _day_after(db: Database, client: Person, story: Story, session: Session, over: float, hurt: bool, rng: random.Random) -> None:
    """The check-in of the morning after, where there was one."""
    at = datetime.combine(session.day + timedelta(days=1), time(8, rng.randrange(60)), zone(story.time_zone))
    if rng.random() > 0.8 or at > datetime.now(at.tzinfo):
        return
    soreness = min(10, max(0, story.effort - 4 + rng.choice((-1, 0, 0, 1)) + (4 if over > 1 else 0) + 2 * hurt))
    places = [checking_in.Sore("masseter", side="left")] if soreness > 3 else []
    said = checking_in.CheckInSaid(
        id=uuid5(SPACE, f"sore {client.client_id} {session.day}"), soreness=soreness, places=places, said_at=at, sent_at=at
    )
    checking_in.check_in(db, client, said, at)


def live(db: Database, coach: Person, client: Person, story: Story, now: datetime) -> None:
    """Words between coach and client, the habit tasks of today, the calendar and the wishes of those who sign in."""
    client_id = client.client_id
    assert client_id is not None
    for days_ago, by_coach, text in story.words:
        said = messaging.Said(
            id=uuid5(SPACE, f"{story.name} {days_ago} {text[:12]}"), text=text, written_at=now - timedelta(days=days_ago, hours=2)
        )
        if by_coach:
            messaging.write_as_coach(db, coach, client_id, said, now - timedelta(days=days_ago))
        else:
            messaging.write_as_client(db, client, client_id, said, now - timedelta(days=days_ago))
    if story.sore is not None:
        places = [checking_in.Sore("mentalis", side="left"), checking_in.Sore("mentalis", side="right")]
        told = now - timedelta(minutes=5)
        checking_in.check_in(
            db,
            client,
            checking_in.CheckInSaid(id=uuid5(SPACE, f"today {story.name}"), soreness=story.sore, places=places, said_at=told, sent_at=told),
            now,
        )
    if story.email is None:
        return
    for habit in days.begin_day(db, client, now).days[0].habits:
        tick = checking_in.TickSaid(
            id=uuid5(SPACE, f"{story.name} {habit.exercise_id}"),
            assignment_id=habit.assignment_id,
            exercise_id=habit.exercise_id,
            amount=1,
            said_at=now,
            sent_at=now,
        )
        checking_in.tick(db, client, tick, now)
    feed.open_feed(db, client, client_id, now)
    reminding.choose(db, client, client_id, reminding.Choice(True, time(21), quiet_last=time(7)), now)
