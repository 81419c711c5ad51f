"""From the core's values to what goes over the wire."""

from __future__ import annotations

from datetime import date, datetime

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.dose_line import print_line
from dimbo.core.schedule import zone
from dimbo.store.clients import Client
from dimbo.work.course import ClientLine, Course
from dimbo.work.practising import Session, Today

from . import intake_views, sheet_views, sitting_views
from . import schemas as s
from .schemas import intake as intake_s


def _age(client: Client, today: date) -> int | None:
    return today.year - client.birth_year if client.birth_year else None


def client_row(line: ClientLine, today: date) -> s.ClientRow:
    concerns = shipped_catalogue().concerns
    return s.ClientRow(
        id=line.client.id,
        name=line.client.name,
        age=_age(line.client, today),
        has_account=line.client.has_account,
        concerns=[concerns[c].name for c in line.client.concerns if c in concerns],
        stopped=line.stopped,
        missed=line.missed,
        urgent=intake_views.urgent(line.cautions),
        locks=[h.rule.name for h in line.cautions.locks],
        own_intake=line.own_intake,
        status=line.client.status,
        days=[s.DayMark.model_validate(d) for d in line.days],
        week=s.AdherenceView.model_validate(line.week),
    )


def _tender(c: Course) -> dict[str, intake_s.RatingView]:
    """Where stopped exercises hurt: 0 to 10 on the muscles that each works, by side."""
    out: dict[str, intake_s.RatingView] = {}
    for x in c.stopped:
        level, side = x.pain_level or 1, x.pain_side or "both"
        for muscle in c.cards[x.exercise_id].prime_movers:
            known = out.get(muscle, intake_s.RatingView(right=0, left=0))
            right = level if side in ("right", "both") else 0
            left = level if side in ("left", "both") else 0
            out[muscle] = intake_s.RatingView(right=max(known.right, right), left=max(known.left, left))
    return out


def course(c: Course, now: datetime) -> s.CourseView:
    shipped = shipped_catalogue()
    days = [
        s.CourseDay(
            day=p.day,
            week=p.week,
            state=d.state,
            share=d.share,
            planned_s=p.planned_s,
            over_s=d.over_s,
            right_s=p.contraction_right_s,
            left_s=p.contraction_left_s,
            logs=[s.LogView.model_validate(x) for x in logs],
        )
        for p, d, logs in c.days
    ]
    running = c.assignment
    return s.CourseView(
        id=c.client.id,
        name=c.client.name,
        age=_age(c.client, c.today),
        time_zone=c.client.time_zone,
        local_time=now.astimezone(zone(c.client.time_zone)),
        minutes=c.client.minutes,
        concerns=sheet_views.named(c.client.concerns, shipped.concerns),
        goals=c.client.goals,
        has_account=c.client.has_account,
        today=c.today,
        assignment=s.AssignmentView(
            id=running.id,
            program_id=running.program_id,
            title=running.title,
            start_date=running.start_date,
            weeks=int(running.document["weeks"]),
            running=running.ended_at is None,
        )
        if running
        else None,
        days=days,
        last_week=s.AdherenceView.model_validate(c.last_week),
        whole=s.AdherenceView.model_validate(c.whole),
        missed=c.missed,
        programs=[s.ProgramRow.model_validate(p) for p in c.programs],
        stopped=[
            s.StoppedView(
                exercise_id=x.exercise_id,
                name=c.cards[x.exercise_id].name,
                day=x.day,
                side=x.pain_side,
                level=x.pain_level,
                where=x.pain_where,
            )
            for x in c.stopped
        ],
        sittings=[sitting_views.brief(c.measurement, x, c.photographs) for x in c.sittings],
        urgent=intake_views.urgent(c.cautions),
        held=intake_views.held(c.cautions),
        tender=_tender(c),
        severity={m: intake_s.RatingView(right=r.right, left=r.left) for m, r in c.severity.items()},
        holds=intake_views.holds(c.cautions.regions(shipped_intake().tables.regions)),
        own_intake=c.own_intake,
    )


def session(found: Session) -> s.SessionView:
    items = [
        s.SessionItem(
            line_id=i.line.id,
            exercise=i.card.id,
            name=i.card.name,
            family=i.card.family,
            stage=i.line.stage,
            dose=print_line(i.dose, i.card.style),
            seconds=round(i.seconds(found.settings), 1),
            cues=list(i.card.cues),
            felt_at=i.card.felt_at,
            needs=list(i.card.needs),
            position=i.card.position,
            eased=i.card.eased,
            eased_for=found.eased.get(i.card.id, ""),
            stop_rule=i.card.stop_rule,
            muscles=i.card.shares,
            figure=sheet_views.figure(i.card),
            note=i.line.note,
            train=sheet_views.train(i.dose, found.settings.pace_s),
        )
        for i in found.items
    ]
    return s.SessionView(
        assignment_id=found.assignment.id,
        day=found.day,
        part=found.part,
        week=found.week,
        title=found.assignment.title,
        seconds=round(found.seconds, 1),
        pace_s=found.settings.pace_s,
        items=items,
        cues=[s.CueView.model_validate(c) for c in found.cues],
        left_out=list(found.left_out),
    )


def today(t: Today) -> s.TodayView:
    return s.TodayView(
        name=t.name,
        practice_name=t.coach_practice,
        day=t.day,
        title=t.title,
        session=session(t.session) if t.session else None,
        done_at=t.log.ended_at if t.log else None,
        next_day=t.next_day,
        done=t.done,
        planned=t.planned,
        changed=t.changed,
        halt=t.halt,
        habits=[s.HabitView.model_validate(h) for h in t.habits],
    )
