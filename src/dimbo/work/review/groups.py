"""A group start seen together: dose, days and feel of each on one ruler, who is behind or ahead, what the next class is for, and one
message to all or to some."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from statistics import fmean
from uuid import UUID, uuid5

from dimbo.core.calendar.photo_due import next_sitting
from dimbo.core.calendar.schedule import DAYS, practice_day, week_of, zone
from dimbo.core.calendar.time_zones import off_days
from dimbo.core.review.adherence import Adherence, Day, SessionRow, days_of, missed_in_a_row, overdone, session_adherence
from dimbo.core.review.cohort import CLASS_DAYS, ClassMember, ahead, behind, middle, next_class
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments, groups
from dimbo.store.plans.assignments import Assignment
from dimbo.store.plans.groups import Member, Outcome
from dimbo.store.practice import daily, log_sums
from dimbo.store.practice.log_sums import DayDose
from dimbo.store.sittings import sittings
from dimbo.work.exercises.shelf import shelf
from dimbo.work.intake.consenting import NOT_TAKEN
from dimbo.work.intake.looking import PHOTOGRAPHS, consents_of
from dimbo.work.messages.messaging import Said, say_as_coach
from dimbo.work.shared.errors import Refused, Why

from .week_facts import practice_rules


@dataclass(frozen=True, slots=True)
class WeekAt:
    """A week of the group's ruler for one of them: the fullest planned day in seconds, middle effort and worst soreness told."""

    week: int
    right_s: float
    left_s: float
    hands_on_s: float
    effort: float | None
    soreness: int | None


@dataclass(frozen=True, kw_only=True)
class MemberAt:
    """A member on their own day: days of the group's program, weeks with dose and feel, adherence so far, and why they are behind
    or ahead, if they are."""

    member: Member
    today: date
    days: list[Day]
    weeks: list[WeekAt]
    week: int
    """The week of their own course; below 1 before it begins."""
    whole: Adherence
    last_week: Adherence
    missed: int
    behind: str
    ahead: str
    photographs: date | None
    """Since when photographs are due, or when they will be."""


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
    next_class: list[str]
    """What the next class is for, the gravest first."""


@dataclass(frozen=True, kw_only=True)
class _Seen:
    """What is read of a member."""

    member: Member
    today: date
    rows: list[SessionRow]
    days: list[Day]
    doses: list[DayDose]
    soreness: Mapping[date, int]
    photographs: date | None

    @property
    def recent(self) -> list[Day]:
        return [d for d in self.days if self.today - timedelta(days=CLASS_DAYS) < d.day <= self.today]


def _see(conn: Conn, member: Member, now: datetime) -> _Seen:
    today = practice_day(now, zone(member.time_zone))
    pauses = [p.pause for p in assignments.pauses(conn, member.client_id)]
    stays = assignments.stays(conn, member.client_id)
    rows = [r for r in log_sums.sessions_of(conn, member.client_id) if r.assignment_id == member.assignment_id]
    agreed = consents_of(conn, clients.one(conn, member.client_id), now)
    refused = next(c for c in agreed if c.text.id == PHOTOGRAPHS).state in NOT_TAKEN
    course = [] if member.ended else [(member.start_date, member.weeks)]
    return _Seen(
        member=member,
        today=today,
        rows=rows,
        days=days_of(rows, today, off_days(pauses, stays)),
        doses=log_sums.doses_of(conn, member.client_id),
        soreness={c.day: c.soreness for c in daily.check_ins(conn, member.client_id)},
        photographs=next_sitting(course, sittings.taken_days(conn, member.client_id), today, refused=refused),
    )


def _weeks(seen: _Seen, first: date, weeks: int) -> list[WeekAt]:
    """The weeks of the ruler in which anything is planned or was told."""
    doses: dict[int, list[DayDose]] = defaultdict(list)
    for dose in seen.doses:
        doses[week_of(first, day=dose.day)].append(dose)
    efforts: dict[int, list[int]] = defaultdict(list)
    for r in seen.rows:
        if r.effort is not None:
            efforts[week_of(first, day=r.day)].append(r.effort)
    sore: dict[int, list[int]] = defaultdict(list)
    for day, level in seen.soreness.items():
        sore[week_of(first, day=day)].append(level)
    out = []
    for n in range(1, weeks + 1):
        fullest = max(doses[n], key=lambda d: (d.right_s + d.left_s, d.hands_on_s), default=None)
        if fullest is None and not efforts[n] and not sore[n]:
            continue
        out.append(
            WeekAt(
                n,
                right_s=fullest.right_s if fullest else 0.0,
                left_s=fullest.left_s if fullest else 0.0,
                hands_on_s=fullest.hands_on_s if fullest else 0.0,
                effort=round(fmean(efforts[n]), 1) if efforts[n] else None,
                soreness=max(sore[n], default=None),
            )
        )
    return out


def _begins(of: Assignment, names: Mapping[str, str]) -> dict[str, date]:
    """When each exercise of the program is practised first, by name, where the calendar moves it on."""
    if of.document.get("mode") == "earned":
        return {}
    out = {}
    for line in of.document["lines"]:
        first = next((n for n, cell in enumerate(line["cells"]) if cell), None)
        if first:
            out[names.get(line["exercise"], line["exercise"])] = of.start_date + timedelta(days=DAYS * first)
    return out


def _class(seen: Sequence[_Seen], outcomes: Iterable[Outcome], names: Mapping[str, str], over_share: float) -> list[ClassMember]:
    left: dict[UUID, set[str]] = defaultdict(set)
    hurt: dict[UUID, set[str]] = defaultdict(set)
    for o in outcomes:
        if o.outcome in ("skipped", "hurt"):
            (left if o.outcome == "skipped" else hurt)[o.client_id].add(names.get(o.exercise_id, o.exercise_id))
    return [
        ClassMember(
            name=x.member.name.split()[0],
            practised=any(d.practised for d in x.recent),
            left_out=frozenset(left[x.member.client_id]),
            hurt=frozenset(hurt[x.member.client_id]),
            efforts=tuple(r.effort for r in x.rows if r.effort is not None and r.day > x.today - timedelta(days=CLASS_DAYS)),
            overdone=bool(ahead(len(overdone(x.recent, over_share)))),
            photographs=x.photographs,
        )
        for x in seen
        if not x.member.ended
    ]


def group(db: Database, coach: Person, group_id: UUID, now: datetime) -> GroupAt:
    """A group as it stands now. Raises NotThere."""
    with db.of(coach) as conn:
        known = assignments.group(conn, group_id)
        if known is None:
            raise NotThere("There is no such group.")
        people = groups.members(conn, group_id)
        seen = [_see(conn, m, now) for m in people]
        rules = practice_rules(conn)
        names = {i: c.name for i, c in shelf(conn, coach.practice_id).cards.items()}
        since = min((x.today for x in seen), default=now.date()) - timedelta(days=CLASS_DAYS - 1)
        told = groups.outcomes(conn, [m.assignment_id for m in people], since)
        earliest = min(people, key=lambda m: m.start_date, default=None)
        begins = _begins(assignments.one(conn, earliest.assignment_id), names) if earliest else {}
    median = middle([session_adherence(x.days, x.today).share for x in seen])
    first = min((m.start_date for m in people), default=now.date())
    weeks = max((week_of(first, day=x.days[-1].day) for x in seen if x.days), default=1)
    return GroupAt(
        id=known.id,
        name=known.name,
        made_at=known.made_at,
        first=first,
        weeks=weeks,
        members=[_member(x, first, weeks, median=median, over_share=rules.over_share) for x in seen],
        middle=median,
        next_class=next_class(_class(seen, told, names, rules.over_share), begins, min((x.today for x in seen), default=now.date())),
    )


def _member(x: _Seen, first: date, weeks: int, *, median: float | None, over_share: float) -> MemberAt:
    share = session_adherence(x.days, x.today)
    missed = missed_in_a_row([d for d in x.days if d.day <= x.today])
    return MemberAt(
        member=x.member,
        today=x.today,
        days=x.days,
        weeks=_weeks(x, first, weeks),
        week=week_of(x.member.start_date, day=x.today),
        whole=share,
        last_week=session_adherence(x.days, x.today, CLASS_DAYS),
        missed=missed,
        behind=behind(share.share, median=median, missed=missed),
        ahead=ahead(len(overdone(x.recent, over_share))),
        photographs=x.photographs,
    )


def take_out(db: Database, coach: Person, group_id: UUID, assignment_id: UUID) -> None:
    """Take somebody out of a group; their own program goes on. Raises NotThere."""
    with db.of(coach) as conn:
        groups.take_out(conn, group_id, assignment_id=assignment_id)


def put_back(db: Database, coach: Person, group_id: UUID, assignment_id: UUID) -> None:
    """Put a program back into the group that it was taken out of. Raises NotThere."""
    with db.of(coach) as conn:
        groups.put_back(conn, group_id, assignment_id=assignment_id)


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
