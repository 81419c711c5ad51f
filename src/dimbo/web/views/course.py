"""From the core's values to what goes over the wire."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.calendar.schedule import DAY_CLOSES, week_of, zone
from dimbo.core.review.adherence import RULES as ADHERENCE_RULES
from dimbo.core.review.adherence import WINDOWS, is_overdone
from dimbo.core.review.course_weeks import course_length
from dimbo.core.safety.pain import tender_muscles
from dimbo.store.people.clients import Client
from dimbo.store.plans.assignments import Assignment
from dimbo.web import schemas as s
from dimbo.web.schemas import intake as intake_s
from dimbo.work.review.course import Course
from dimbo.work.review.course_ends import WAYS, End
from dimbo.work.review.week_facts import in_places
from dimbo.work.shared.bringing_back import KEPT

from . import intake as intake_views
from . import programs as program_views
from . import review as review_views
from . import sittings as sitting_views


def _age(client: Client, today: date) -> int | None:
    return today.year - client.birth_year if client.birth_year else None


def _sore(c: Course) -> str:
    if c.sore is None:
        return ""
    until = "until you have asked what it was, or decided a review" if c.sore.rule == "sore-stop" else "today"
    return f"{c.sore.because} Strength is left out {until}."


_KINDS: dict[str, Literal["assigned", "changed", "resumed", "break", "review", "repeat"]] = {
    "assigned": "assigned",
    "changed": "changed",
    "resumed": "resumed",
    "break": "break",
    "review": "review",
    "repeat": "repeat",
}


def _assignment(x: Assignment, newest: int, group: str | None, end: End, now: datetime) -> s.AssignmentView:
    part: Literal["morning", "evening"] | None = "morning" if x.as_part == "morning" else "evening" if x.as_part else None
    plan = s.WishView(weekdays=x.weekdays, times=x.times, remind_min=x.remind_min, as_part=part, end_date=x.end_date)
    return s.AssignmentView(
        id=x.id,
        program_id=x.program_id,
        title=x.title,
        start_date=x.start_date,
        weeks=course_length(x.start_date, anchor=x.anchor, steps=len(x.steps)),
        running=x.ended_at is None,
        ended_at=x.ended_at,
        may_run_again=x.ended_at is not None and now - x.ended_at < KEPT,
        version=x.program_version,
        newest_version=newest,
        group=group,
        plan=plan,
        end=_end(end),
    )


def _end(end: End) -> s.EndView:
    ways = [s.WayView(id=way.value, name=name, about=about) for way, (name, about) in WAYS.items()]
    return s.EndView(
        last_day=end.last_day,
        near=end.near,
        sentence=end.sentence,
        lines=[s.LineEndView.model_validate(x) for x in end.lines],
        ways=ways if end.near else [],
    )


def _patterns(c: Course) -> s.PatternsView:
    p = c.patterns
    return s.PatternsView(
        windows=[
            s.WindowView(
                name=name,
                days=WINDOWS[name],
                sessions=s.AdherenceView.model_validate(w.sessions),
                contraction=s.DoseShare.model_validate(w.dose["contraction"]),
                hands_on=s.DoseShare.model_validate(w.dose["hands-on"]),
                work=s.DoseShare.model_validate(w.dose["work"]),
            )
            for name, w in p.windows.items()
        ],
        weekdays={k: s.AdherenceView.model_validate(v) for k, v in p.weekdays.items()},
        parts={k: s.AdherenceView.model_validate(v) for k, v in p.parts.items()},
        left_out=[
            s.SkippedView(
                exercise_id=t.exercise_id,
                name=c.cards[t.exercise_id].name if t.exercise_id in c.cards else t.exercise_id,
                sessions=t.sessions,
                left_out=t.left_out,
                share=t.share,
            )
            for t in p.left_out
        ],
        took=s.TookView.model_validate(p.took) if p.took else None,
        rules=[review_views.rule(i) for i in ADHERENCE_RULES],
    )


def _days(c: Course, start: date) -> list[s.CourseDay]:
    out = []
    for d in c.days:
        dose, told = c.doses.get(d.day), c.check_ins.get(d.day)
        out.append(
            s.CourseDay(
                day=d.day,
                week=week_of(start, day=d.day),
                state=d.state.value,
                share=d.share,
                planned_s=dose.planned_s if dose else 0.0,
                over_s=d.over_s,
                over_share=d.over_share,
                overdone=is_overdone(d, c.rules.over_share),
                right_s=dose.right_s if dose else 0.0,
                left_s=dose.left_s if dose else 0.0,
                hands_on_s=dose.hands_on_s if dose else 0.0,
                soreness=told.soreness if told else None,
                sore_at=in_places(told.places) if told else "",
                logs=[s.LogView.model_validate(x) for x in c.logs.get(d.day, ())],
            )
        )
    return out


def course(c: Course, now: datetime) -> s.CourseView:
    shipped = shipped_catalogue()
    start = min((a.start_date for a in c.assignments), default=c.today)
    days = _days(c, start)
    newest = {p.id: p.version for p in c.programs}
    blocks = [
        week_of(start, day=a.start_date) - 1 + course_length(a.start_date, anchor=a.anchor, steps=len(a.steps))
        for a in c.assignments
        if a.ended_at is None
    ]
    return s.CourseView(
        id=c.client.id,
        name=c.client.name,
        age=_age(c.client, c.today),
        time_zone=c.client.time_zone,
        local_time=now.astimezone(zone(c.client.time_zone)),
        day_closes=DAY_CLOSES,
        minutes=c.client.minutes,
        concerns=program_views.named(c.client.concerns, shipped.concerns),
        goals=c.client.goals,
        has_account=c.client.has_account,
        coach_id=c.client.coach_id,
        today=c.today,
        assignments=[
            _assignment(x, newest.get(x.program_id, x.program_version), c.groups.get(x.group_id), c.ends[x.id], now) for x in c.assignments
        ],
        start_date=start if c.assignments else None,
        weeks=max([d.week for d in days] + blocks, default=0),
        days=days,
        pauses=[s.PauseView.model_validate(p) for p in c.pauses if p.last_day is None or p.last_day >= p.first_day],
        plans=[
            s.PlanView(
                assignment_id=p.id,
                number=p.plan,
                from_day=p.from_day,
                version=p.program_version,
                kind=_KINDS[p.kind],
                reason=p.reason,
                made_at=p.made_at,
                made_by=c.plan_makers.get((p.id, p.plan), ""),
            )
            for p in c.plans
        ],
        unread=c.unread,
        patterns=_patterns(c),
        reviews=[review_views.kept(x, differs) for x, differs in c.reviews],
        pains=[s.PainView.model_validate(x) for x in c.pains],
        sitting_due=c.sitting_due,
        missed=c.missed,
        returns=c.returns,
        programs=[s.ProgramRow.model_validate(p) for p in c.programs],
        stopped=[
            s.StoppedView(
                exercise_id=x.exercise_id,
                name=c.cards[x.exercise_id].name,
                day=x.day,
                side=x.pain_side,
                level=x.pain_level,
                where=x.pain_where,
                since=x.pain_since,
            )
            for x in c.stopped
        ],
        sittings=[sitting_views.brief(c.measurement, x, c.photographs) for x in c.sittings],
        urgent=intake_views.urgent(c.cautions),
        held=intake_views.held(c.cautions),
        tender={
            m: intake_s.RatingView(right=t.right, left=t.left)
            for m, t in tender_muscles((c.cards[x.exercise_id], x.pain_side, x.pain_level) for x in c.stopped).items()
        },
        severity={m: intake_s.RatingView(right=r.right, left=r.left) for m, r in c.severity.items()},
        holds=intake_views.holds(c.cautions.regions(shipped_intake().tables.regions)),
        own_intake=c.own_intake,
        asked=c.asked,
        sore=_sore(c),
        sore_stops=c.sore is not None and c.sore.rule == "sore-stop",
    )
