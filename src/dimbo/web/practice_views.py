"""The client's days, logs and calendars as they go over the wire, and reports as they come."""

from __future__ import annotations

from datetime import datetime, time

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import STAYS, Side, SideSeconds
from dimbo.core.cautions import URGENT
from dimbo.core.cue_words import rhythm, word, works
from dimbo.core.dose_line import print_line
from dimbo.core.figure import hands_at_length, hands_in_short, places_of_hands
from dimbo.core.playback import LOADING, Stay, Stretch, counts_toward_ceiling, planned_counts
from dimbo.core.session import Cue, to_prepare
from dimbo.work.assigning import Prepared, Wish
from dimbo.work.days import ClientDay, Days
from dimbo.work.handing_in import ItemReport, PartReport, Report
from dimbo.work.reading_logs import ReadLog
from dimbo.work.sessions import Part, Session

from . import sheet_views
from .schemas import assigning as a
from .schemas import practice as s
from .schemas.intake import ConsentTextView
from .schemas.messaging import MessageView


def _clock(at: time | None) -> str | None:
    return f"{at:%H:%M}" if at else None


def _sides(seconds: SideSeconds) -> dict[s.OneSide, float]:
    return {"right": round(seconds.right, 1), "left": round(seconds.left, 1)}


def session(found: Session, changed: tuple[str, ...], first_time: frozenset[str]) -> s.SessionView:
    pace_s = found.settings.pace_s
    cards = [None, *(i.card for i in found.plain)]
    cues: dict[int, list[Cue]] = {}
    for cue in found.cues:
        cues.setdefault(cue.item, []).append(cue)
    items = []
    for n, owned in enumerate(found.items):
        i = owned.item
        spare = found.spare[i.card.id]
        items.append(
            s.SessionItem(
                assignment_id=owned.owner,
                line_id=i.line.id,
                exercise=i.card.id,
                name=i.card.name,
                family=i.card.family,
                stage=i.line.stage,
                dose=print_line(i.dose, i.card.style),
                seconds=round(i.seconds(found.settings), 1),
                cues=list(i.card.cues),
                key_cue=i.card.key_cue,
                first_time=i.card.id in first_time,
                prepare=list(to_prepare(cards[n], i.card)),
                hands=hands_in_short(i.card.figure),
                hands_long=hands_at_length(i.card.figure),
                places=list(places_of_hands(i.card.figure)),
                regions=sorted(i.card.regions),
                beat_s=rhythm(i).every_s,
                tender=found.tender.get(i.card.id, ""),
                may_stay=i.card.family in STAYS and bool(i.card.touches),
                felt_at=i.card.felt_at,
                needs=list(i.card.needs),
                position=i.card.position,
                eased="" if i.card.is_eased else i.card.eased,
                in_eased_version=i.card.is_eased,
                eased_for=found.eased.get(i.card.id, ""),
                stop_rule=i.card.stop_rule,
                muscles=i.card.shares,
                figure=sheet_views.figure(i.card),
                note=i.line.note,
                train=sheet_views.train(i.dose, pace_s),
                counts={
                    side.value: s.PlannedCounts(sets=sets, reps=reps) for side, (sets, reps) in planned_counts(i, cues.get(n, [])).items()
                },
                spare_s=_sides(spare.exercise),
                spare_muscles={m: _sides(s) for m, s in spare.muscles.items()},
            )
        )
    return s.SessionView(
        key=found.key,
        part="evening" if found.part == "evening" else "morning",
        title=found.title,
        seconds=round(found.seconds, 1),
        pace_s=pace_s,
        items=items,
        cues=[
            s.CueView(
                start_s=c.start_s,
                length_s=c.length_s,
                beat=c.beat,
                item=c.item,
                side=c.side.value if c.side else None,
                set_number=c.set_number,
                sets=c.sets,
                rep=c.rep,
                reps=c.reps,
                phase=c.phase,
                direction=c.direction,
                counts=counts_toward_ceiling(found.plain[c.item], c),
                word=word(found.plain[c.item], c),
                works=side.value if (side := works(found.plain[c.item], c)) else None,
                loads=found.plain[c.item].card.family.contracts and c.beat in LOADING,
            )
            for c in found.cues
        ],
        left_out=[s.LeftOutOfSession(name=n, reason=why) for n, why in found.left_out],
        changed=list(changed),
    )


def _part(x: Part) -> s.PlayedPart:
    d = x.planned
    return s.PlayedPart(assignment_id=x.assignment.id, plan=x.assignment.plan, week=d.week, place=d.place, back=d.back)


def _day(d: ClientDay) -> s.DayView:
    return s.DayView(
        day=d.day,
        opens_at=d.opens_at,
        closes_at=d.closes_at,
        parts=[
            s.DuePartView(
                part="evening" if p.part == "evening" else "morning",
                at=_clock(p.at),
                session=p.session,
                parts=[_part(x) for x in p.parts],
                done_at=p.done_at,
                done_share=round(p.done_share, 3),
                begun=s.BegunView(log=p.begun.log, at_s=round(p.begun.progress.at_s, 3), done=list(p.begun.progress.done))
                if p.begun
                else None,
            )
            for p in d.parts
        ],
        habits=[s.HabitView.model_validate(h) for h in d.habits],
        paused=d.paused,
    )


def days(found: Days, now: datetime) -> s.DaysView:
    told = found.checked_in
    return s.DaysView(
        made_at=now,
        name=found.client.name,
        practice_name=found.practice_name,
        coach_name=found.coach_name,
        time_zone=found.client.time_zone,
        today=found.today,
        titles=list(found.titles),
        days=[_day(d) for d in found.days],
        sessions={k: session(x, found.changed[k], found.first_time) for k, x in found.sessions.items()},
        halt=found.halt,
        questions=[s.HealthQuestion.model_validate(r) for r in found.questions],
        to_agree=ConsentTextView.model_validate(found.to_agree) if found.to_agree else None,
        signs=[s.SignView.model_validate(r) for r in shipped_intake().tables.cautions if r.group == URGENT],
        regions=list(shipped_intake().tables.regions),
        notes=list(found.notes),
        next_day=found.next_day,
        done=found.done,
        planned=found.planned,
        missed=found.missed,
        check_in_about=found.check_in_about,
        checked_in=s.CheckInView(soreness=told.soreness, places=[s.SoreView(**p) for p in told.places]) if told else None,
        photo_due=found.photo_due,
        messages=[MessageView.model_validate(m) for m in found.messages],
        muscles=[s.MuscleName(id=m.id, name=m.name) for m in shipped_catalogue().muscles.values()],
    )


def report(told: s.LogIn, sent_at: datetime) -> Report:
    """A log as the core's callers read it; a time without a zone is refused by the schema."""
    return Report(
        told.id,
        told.day,
        told.part,
        told.source,
        [PartReport(p.assignment_id, p.plan, p.week, p.place, p.back) for p in told.parts],
        [
            ItemReport(
                i.assignment_id,
                i.line_id,
                i.hurt,
                i.pain_side,
                i.pain_level,
                i.pain_where,
                i.eased,
                i.skip_reason,
                {Side(k): (c.sets, c.reps) for k, c in i.counts.items()} if i.counts is not None else None,
                i.in_eased_version,
                i.pain_since,
                tuple(Stay(x.at_s, x.seconds, Side(x.side) if x.side else None, x.where) for x in i.stays),
            )
            for i in told.items
        ],
        [Stretch(x.from_s, x.to_s, x.at) for x in told.stretches],
        told.started_at,
        told.ended_at,
        sent_at,
        told.effort,
        told.form,
        told.note,
        told.replaces,
        told.continues,
    )


def logged(read: ReadLog) -> s.LoggedSession:
    x = read.log
    return s.LoggedSession(
        id=x.id,
        day=x.day,
        part="evening" if x.part == "evening" else "morning",
        started_at=x.started_at,
        ended_at=x.ended_at,
        source="manual" if x.source == "manual" else "player",
        effort=x.effort,
        form=x.form,
        note=x.note,
        pauses=x.pauses,
        paused_s=x.paused_s,
        clock_off_s=x.clock_off_s,
        named_day=x.named_day,
        stands=read.stands,
        items=[
            s.LoggedItem.model_validate({**vars(line), "name": name, "sides": [s.SideView.model_validate(w) for w in sides]})
            for line, name, sides in read.lines
        ],
    )


def wish(told: a.WishIn) -> Wish:
    times = [(part, _clock(at)) for part, at in (("morning", told.times.morning), ("evening", told.times.evening))]
    said = tuple((part, at) for part, at in times if at)
    return Wish(told.start, told.end, tuple(sorted(set(told.weekdays))), said, told.remind_min, told.as_part)


def prepared(p: Prepared) -> a.PreparedView:
    weeks = []
    for w in p.weeks:
        row = []
        for d in w.days:
            parts = dict(d.parts)
            row.append(
                a.CalendarDayView(
                    day=d.day,
                    morning_s=parts.get("morning", 0.0),
                    evening_s=parts.get("evening", 0.0),
                    beside_s=d.beside_s,
                    paused=d.paused,
                )
            )
        weeks.append(a.CalendarWeekView(number=w.number, days=row, total_s=w.total_s))
    return a.PreparedView(
        client_id=p.client.id,
        client_name=p.client.name,
        time_zone=p.client.time_zone,
        unasked=p.unasked,
        refusals=list(p.refusals),
        weeks=weeks,
        sessions=len(p.days),
        last_day=p.days[-1].day if p.days else None,
    )
