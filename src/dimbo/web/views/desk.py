"""The desk and the groups, from values to what goes over the wire."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any, Literal

from pydantic import TypeAdapter

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.review.adherence import Adherence, Day
from dimbo.core.review.alarm_kinds import FIRST_WORDS, KINDS, Urgency
from dimbo.core.review.alarms import Alarm
from dimbo.core.review.cohort import RULE
from dimbo.core.rule_book import said
from dimbo.core.safety.pain import tender_muscles
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.web.schemas import desk as d
from dimbo.web.schemas import people as p
from dimbo.web.schemas.intake import RatingView
from dimbo.work.review.client_list import Listed
from dimbo.work.review.desk import Desk
from dimbo.work.review.desk_rows import ClientLine
from dimbo.work.review.groups import GroupAt
from dimbo.work.shared.remembered import Remembered

from .intake import holds
from .review import verdict

_URGENCY: dict[Urgency, Literal["before anything else", "today", "this week"]] = {
    Urgency.FIRST: "before anything else",
    Urgency.TODAY: "today",
    Urgency.WEEK: "this week",
}


def _alarm(a: Alarm, name: str) -> d.AlarmView:
    return d.AlarmView.model_construct(
        kind=a.kind.id,
        name=a.kind.rule.name,
        urgency=_URGENCY[a.kind.urgency],
        text=a.text,
        short=a.short or a.text,
        also=a.also or a.kind.also,
        step=a.step,
        key=a.key,
        marks=list(a.marks),
        may_settle=a.kind.may_settle,
        may_wait=a.kind.may_wait,
        does=(a.does or a.kind.does).value,
        opens=a.kind.opens.value,
        assignment_id=a.week.assignment if a.week else None,
        first_day=a.week.first_day if a.week else None,
        first_words=(a.kind.first_words or FIRST_WORDS).format(name=name.split()[0]),
    )


_DAYS = TypeAdapter(list[p.DayMark])
_FEEL = TypeAdapter(list[d.FeelDay])


def _adherence(a: Adherence) -> p.AdherenceView:
    return p.AdherenceView.model_construct(done=a.done, planned=a.planned)


# The desk is built from values that are right already, three hundred clients at a time, so nothing is validated twice.
def _person(client: Client, today: date, days: Sequence[Day], week: Adherence) -> dict[str, Any]:
    concerns = shipped_catalogue().concerns
    return {
        "id": client.id,
        "name": client.name,
        "age": today.year - client.birth_year if client.birth_year else None,
        "has_account": client.has_account,
        "concerns": [concerns[c].name for c in client.concerns if c in concerns],
        "status": client.status,
        "days": _DAYS.validate_python(days, from_attributes=True),
        "week": _adherence(week),
    }


def client_row(x: Listed) -> p.ListedClient:
    return p.ListedClient.model_construct(
        **_person(x.client, x.today, x.days, x.week),
        urgent=x.urgent,
        archived=x.client.archived_at is not None,
        at=x.at.value,
        programs=[p.ListedProgram.model_construct(title=a.title, week=a.week, weeks=a.weeks) for a in x.programs],
        last_practised=x.last_practised,
        photographs=x.photographs,
        coach_id=x.client.coach_id,
        today=x.today,
    )


_shown: Remembered[tuple[ClientLine, d.DeskRow]] = Remembered(5000)


def _desk_row(line: ClientLine) -> d.DeskRow:
    """A line as it is shown; the same line is not laid out twice."""
    known = _shown.get(line.client.id)
    if known and known[0] is line:
        return known[1]
    row = _laid_out(line)
    _shown.keep(line.client.id, (line, row))
    return row


def _laid_out(line: ClientLine) -> d.DeskRow:
    efforts, soreness = dict(line.efforts), dict(line.soreness)
    return d.DeskRow.model_construct(
        **_person(line.client, line.today, line.days, line.week)
        | {
            "urgent": bool(line.cautions.urgent),
            "stopped": line.stopped,
            "missed": line.missed,
            "own_intake": line.own_intake,
            "unread": line.unread,
            "alarms": [_alarm(a, line.client.name) for a in line.alarms],
            "programs": [
                d.ProgramAtView.model_construct(
                    assignment_id=x.assignment_id, program_id=x.program_id, title=x.title, week=x.week, weeks=x.weeks, group_id=x.group_id
                )
                for x in line.programs
            ],
            "reviews": [
                d.DueReviewView.model_construct(
                    assignment_id=x.assignment,
                    title=x.title,
                    first_day=x.week.first,
                    last_day=x.week.last,
                    verdict=verdict(x.judgement.verdict),
                    because=x.judgement.because,
                )
                for x in line.reviews
            ],
            "feel": _FEEL.validate_python(
                [{"day": day, "effort": efforts.get(day), "soreness": soreness.get(day)} for day in sorted({*efforts, *soreness})]
            ),
            "next_day": line.next_day,
            "shots_due": line.shots_due,
            "coach_id": line.client.coach_id,
            "today": line.today,
            "holds": {},
            "tender": {},
            "first_shot": None,
            "phone": "",
        }
    )


_AT_A_PLACE = ("urgent", "pain", "lock")
"""Kinds of alarms that are about a place of the face."""


def _with_evidence(row: d.DeskRow, line: ClientLine, found: Desk, coach: Person) -> d.DeskRow:
    """A row with what its first reason is about: the places under a caution or in pain, or the first photograph."""
    kind = line.alarms[0].kind.id if line.alarms else ""
    own = line.client.coach_id in (None, coach.id)
    if kind == "sitting" and own and line.client.id in found.first_shots:
        return row.model_copy(update={"first_shot": found.first_shots[line.client.id]})
    if kind not in _AT_A_PLACE:
        return row
    tender = tender_muscles(found.hurts.get(line.client.id, ()))
    return row.model_copy(
        update={
            "holds": holds(line.cautions.regions(shipped_intake().tables.regions)),
            "phone": line.client.phone if kind == "urgent" else "",
            "tender": {m: RatingView.model_construct(right=t.right, left=t.left) for m, t in tender.items()},
        }
    )


def desk(found: Desk, coach: Person, now: datetime) -> d.DeskView:
    return d.DeskView.model_construct(
        now=now,
        clients=[_with_evidence(_desk_row(n), n, found, coach) for n in found.lines],
        ahead=[d.AheadView.model_validate(a) for a in found.ahead],
        day=[d.Appointment.model_validate(a) for a in found.day],
        groups=[d.GroupRef(id=i, name=name) for i, name, _ in found.groups],
        coaches=[d.CoachRef(id=i, name=name) for i, name in found.coaches.items()],
        rules={k: said(kind.rule.id) for k, kind in KINDS.items()},
    )


def group(g: GroupAt) -> d.GroupView:
    return d.GroupView(
        id=g.id,
        name=g.name,
        made_at=g.made_at,
        first_day=g.first,
        weeks=g.weeks,
        middle=g.middle,
        rule=RULE.says,
        members=[
            d.GroupMember(
                client_id=m.member.client_id,
                assignment_id=m.member.assignment_id,
                name=m.member.name,
                title=m.member.title,
                ended=m.member.ended,
                today=m.today,
                days=[p.DayMark.model_validate(x) for x in m.days],
                whole=p.AdherenceView.model_validate(m.whole),
                last_week=p.AdherenceView.model_validate(m.last_week),
                missed=m.missed,
                has_account=m.member.has_account,
                behind=m.behind,
                ahead=m.ahead,
                week=m.week,
                program_weeks=m.member.weeks,
                weeks=[d.GroupWeek.model_validate(w) for w in m.weeks],
                photographs=m.photographs,
            )
            for m in g.members
        ],
        next_class=g.next_class,
    )
