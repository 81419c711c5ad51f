"""A group start seen together: adherence of each on one ruler, who is behind, and one message to all or to some."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID, uuid5

from dimbo.core.calendar.schedule import practice_day, week_of, zone
from dimbo.core.calendar.time_zones import off_days
from dimbo.core.review.adherence import Adherence, Day, days_of, missed_in_a_row, session_adherence
from dimbo.core.review.cohort import behind, middle
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments, groups
from dimbo.store.plans.groups import Member
from dimbo.store.practice import log_sums
from dimbo.work.messages.messaging import Said, say_as_coach
from dimbo.work.shared.errors import Refused, Why


@dataclass(frozen=True, kw_only=True)
class MemberAt:
    """A member on their own day: days of the group's program, adherence so far, and why they are behind, if they are."""

    member: Member
    today: date
    days: list[Day]
    whole: Adherence
    last_week: Adherence
    missed: int
    behind: str


@dataclass(frozen=True, kw_only=True)
class GroupAt:
    id: UUID
    name: str
    made_at: datetime
    first: date
    weeks: int
    members: list[MemberAt]
    middle: float | None
    """The middle adherence of the group, 0 to 1."""


def _at(conn: Conn, member: Member, now: datetime) -> tuple[date, list[Day]]:
    today = practice_day(now, zone(member.time_zone))
    pauses = [p.pause for p in assignments.pauses(conn, member.client_id)]
    stays = assignments.stays(conn, member.client_id)
    rows = [r for r in log_sums.sessions_of(conn, member.client_id) if r.assignment_id == member.assignment_id]
    return today, days_of(rows, today, off_days(pauses, stays))


def group(db: Database, coach: Person, group_id: UUID, now: datetime) -> GroupAt:
    """A group as it stands now. Raises NotThere."""
    with db.of(coach) as conn:
        known = assignments.group(conn, group_id)
        if known is None:
            raise NotThere("There is no such group.")
        people = groups.members(conn, group_id)
        seen = [(m, *_at(conn, m, now)) for m in people]
    shares = [session_adherence(days, today).share for _, today, days in seen]
    median = middle(shares)
    out = []
    for (m, today, days), share in zip(seen, shares, strict=True):
        missed = missed_in_a_row([d for d in days if d.day <= today])
        told = behind(share, median=median, missed=missed)
        out.append(
            MemberAt(
                member=m,
                today=today,
                days=days,
                whole=session_adherence(days, today),
                last_week=session_adherence(days, today, 7),
                missed=missed,
                behind=told,
            )
        )
    first = min((m.start_date for m in people), default=now.date())
    weeks = max((week_of(first, day=days[-1].day) for _, _, days in seen if days), default=1)
    return GroupAt(id=known.id, name=known.name, made_at=known.made_at, first=first, weeks=weeks, members=out, middle=median)


def write(db: Database, coach: Person, group_id: UUID, client_ids: Sequence[UUID], said: Said, now: datetime) -> int:
    """One message to the members that are named, each as their own; returns how many got it. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        members = {m.client_id for m in groups.members(conn, group_id)}
        if not members:
            raise NotThere("There is no such group.")
        strangers = [c for c in client_ids if c not in members]
        if strangers or not client_ids:
            raise Refused(Why.NEEDED, "Choose members of this group to write to.", "clients")
        for client_id in dict.fromkeys(client_ids):
            own = Said(id=uuid5(said.id, str(client_id)), text=said.text, written_at=said.written_at)
            say_as_coach(conn, coach, client_id, own, now)
        return len(set(client_ids))
