"""The client's days, logs and calendars as they go over the wire, and reports as they come."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime, time

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import STAYS, Side, SideSeconds
from dimbo.core.calendar.schedule import DAY_CLOSES, EVENING_FROM
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose_in_words import in_words
from dimbo.core.exercises.figure import hands_at_length, hands_in_short, places_of_hands
from dimbo.core.programs.daily_ceilings import loads_of
from dimbo.core.programs.program import Settings
from dimbo.core.safety.cautions import URGENT, CautionRule, Effect, stop_words
from dimbo.core.safety.pain import GRAVE_LEVEL, GRAVE_PLACES, PLACES_OF_JOINTS, at_place, stopped_with
from dimbo.core.sessions.crediting import LOADING, WORKING, Stay, Stretch, counts_toward_ceiling, planned_counts
from dimbo.core.sessions.cue_words import breath, rhythm, spot, with_breath, word, works
from dimbo.core.sessions.log_identity import DONE_FOR_TODAY
from dimbo.core.sessions.session_report import ItemReport, PartReport, Report
from dimbo.core.sessions.timeline import Cue, Item, oiled_before, timeline, to_prepare
from dimbo.web.schemas import plans as a
from dimbo.web.schemas import practice as s
from dimbo.web.schemas.exercise_looks import PlayedView
from dimbo.web.schemas.intake import ConsentTextView
from dimbo.web.schemas.messages import MessageView
from dimbo.work.plans.assigning import Prepared, Wish
from dimbo.work.practice.client_sessions import Part, Session
from dimbo.work.practice.days import ClientDay, Days
from dimbo.work.practice.reading_logs import ReadLog

from . import programs as program_views


def _clock(at: time | None) -> str | None:
    return f"{at:%H:%M}" if at else None


def _sides(seconds: SideSeconds) -> dict[s.OneSide, float]:
    return {"right": round(seconds.right, 1), "left": round(seconds.left, 1)}


def _loads(item: Item, cue: Cue) -> bool:
    """Whether the time of a cue loads what its exercise loads."""
    return bool(loads_of(item.card)) and cue.beat in (LOADING if item.card.family.contracts else WORKING)


def _taught(i: Item, settings: Settings) -> dict[str, object]:
    """The fields of ``TaughtVersion``."""
    return {
        "name": i.card.name,
        "dose": in_words(i.dose, settings.pace_s),
        "seconds": round(i.seconds(settings), 1),
        "cues": list(i.card.cues),
        "key_cue": i.card.key_cue,
        "hands": hands_in_short(i.card.figure),
        "hands_long": hands_at_length(i.card.figure),
        "places": list(places_of_hands(i.card.figure)),
        "beat_s": rhythm(i).every_s,
        "felt_at": i.card.felt_at,
        "needs": list(i.card.needs),
        "position": i.card.position,
        "in_eased_version": i.card.is_eased,
        "figure": program_views.figure(i.card.figure),
        "clip": program_views.clip(i.card),
        "picture": i.card.picture,
        "train": program_views.train(i.dose, settings.pace_s),
    }


def played(item: Item, settings: Settings) -> PlayedView:
    """An exercise as it would be practised, alone."""
    return PlayedView(
        item=s.TaughtVersion.model_validate(_taught(item, settings)),
        cues=[_cue(c, item) for c in timeline([item], settings)],
        pace_s=settings.pace_s,
    )


def _cue(c: Cue, item: Item) -> s.CueView:
    return s.CueView(
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
        direction=c.direction or spot(item, c),
        counts=counts_toward_ceiling(item, c),
        word=word(item, c),
        breath=breath(item, c),
        with_breath=with_breath(item, c),
        works=side.value if (side := works(item, c)) else None,
        loads=_loads(item, c),
    )


def session(found: Session, changed: tuple[str, ...], first_time: frozenset[str]) -> s.SessionView:
    cards = [None, *(i.card for i in found.plain)]
    cues: dict[int, list[Cue]] = {}
    for cue in found.cues:
        cues.setdefault(cue.item, []).append(cue)
    items = []
    oiled = oiled_before([o.item.card for o in found.items])
    for n, owned in enumerate(found.items):
        i = owned.item
        spare = found.spare[i.card.id]
        items.append(
            s.SessionItem.model_validate(
                _taught(i, found.settings)
                | {
                    "assignment_id": owned.owner,
                    "line_id": i.line.id,
                    "exercise": i.card.id,
                    "family": i.card.family,
                    "stage": i.line.stage,
                    "first_time": i.card.id in first_time,
                    "prepare": list(to_prepare(cards[n], after=i.card, oiled=oiled[n])),
                    "regions": sorted(i.card.regions),
                    "tender": found.tender.get(i.card.id, ""),
                    "may_stay": i.card.family in STAYS and bool(i.card.touches),
                    "eased": "" if i.card.is_eased else i.card.eased,
                    "eased_for": found.eased.get(i.card.id, ""),
                    "stop_rule": i.card.stop_rule,
                    "note": i.line.note,
                    "muscles": loads_of(i.card),
                    "counts": {
                        side.value: s.PlannedCounts(sets=sets, reps=reps)
                        for side, (sets, reps) in planned_counts(i, cues.get(n, [])).items()
                    },
                    "spare_s": _sides(spare.exercise),
                    "spare_muscles": {m: _sides(s) for m, s in spare.muscles.items()},
                    "strength": i.card.strength,
                    "stops_with": sorted(stopped_with(i.card, "", (o.item.card for o in found.items)) - {i.card.id}),
                }
            )
        )
    return s.SessionView(
        key=found.key,
        part="evening" if found.part == "evening" else "morning",
        title=found.title,
        seconds=round(found.seconds, 1),
        pace_s=found.settings.pace_s,
        items=items,
        cues=[_cue(c, found.plain[c.item]) for c in found.cues],
        tracks=[
            s.EasedTrack.model_validate(_taught(t.eased, found.settings) | {"item": t.item, "start_s": t.start_s}) for t in found.tracks
        ],
        eased_cues=[_cue(c, t.eased) for t in found.tracks for c in t.cues],
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


def _question(r: CautionRule) -> dict[str, object]:
    return {name: getattr(r, name) for name in s.HealthQuestion.model_fields}


def _waits(r: CautionRule, card: Card) -> bool:
    """Whether a card waits once this is told and no region is noted: it is locked, or strains and is to be eased."""
    return any(t.effect is not Effect.REMIND and t.may_reach(card) and (t.effect is Effect.LOCK or card.strong) for t in r.touches)


def signs(emergency_number: str) -> list[s.SignView]:
    """The sudden signs, with what is said once one was told."""
    return [
        s.SignView.model_validate(_question(r) | {"same_day": r.same_day, "kin": r.kin, "stop_words": stop_words([r], emergency_number)})
        for r in shipped_intake().tables.cautions
        if r.group == URGENT
    ]


def changes(played: Collection[Card]) -> list[s.ChangeQuestion]:
    """Every other condition that can have changed, with those of the cards that wait for it."""
    return [
        s.ChangeQuestion.model_validate(_question(r) | {"reaches": sorted(c.id for c in played if _waits(r, c))})
        for r in shipped_intake().tables.cautions
        if r.group != URGENT
    ]


def days(found: Days, now: datetime) -> s.DaysView:
    told = found.checked_in
    played = {o.item.card.id: o.item.card for x in found.sessions.values() for o in x.items}.values()
    return s.DaysView(
        made_at=now,
        name=found.client.name,
        practice_name=found.practice_name,
        coach_name=found.coach_name,
        time_zone=found.client.time_zone,
        today=found.today,
        day_closes=DAY_CLOSES.hour,
        evening_from=EVENING_FROM.hour,
        done_from=DONE_FOR_TODAY,
        titles=list(found.titles),
        days=[_day(d) for d in found.days],
        sessions={k: session(x, found.changed[k], first_time=found.first_time) for k, x in found.sessions.items()},
        halt=found.halt,
        no_age=found.no_age,
        ask=s.AskAgain(because=found.ask.because, first=found.ask.first) if found.ask else None,
        changes=changes(played),
        at_place={where: sorted(c.id for c in played if at_place(where, c)) for where in PLACES_OF_JOINTS},
        grave_places=sorted(GRAVE_PLACES),
        grave_level=GRAVE_LEVEL,
        sore_above=found.sore_above,
        emergency_number=found.emergency_number,
        lenses=found.lenses,
        questions=[s.HealthQuestion.model_validate(r) for r in found.questions],
        to_agree=ConsentTextView.model_validate(found.to_agree) if found.to_agree else None,
        signs=signs(found.emergency_number),
        regions=list(shipped_intake().tables.regions),
        notes=list(found.notes),
        next_day=found.next_day,
        done=found.week.done,
        planned=found.week.planned,
        missed=found.week.missed,
        check_in_about=found.check_in_about,
        checked_in=s.CheckInView(soreness=told.soreness, places=[s.SoreView(**p) for p in told.places]) if told else None,
        photo_due=found.photo_due,
        messages=[MessageView.model_validate(m) for m in found.messages],
        muscles=[s.MuscleName(id=m.id, name=m.name) for m in shipped_catalogue().muscles.values()],
    )


def report(told: s.LogIn, sent_at: datetime) -> Report:
    """A log as the core's callers read it; a time without a zone is refused by the schema."""
    return Report(
        id=told.id,
        day=told.day,
        part=told.part,
        source=told.source,
        parts=[PartReport(assignment_id=p.assignment_id, plan=p.plan, week=p.week, place=p.place, back=p.back) for p in told.parts],
        items=[
            ItemReport(
                assignment_id=i.assignment_id,
                line_id=i.line_id,
                hurt=i.hurt,
                pain_side=i.pain_side,
                pain_level=i.pain_level,
                pain_where=i.pain_where,
                eased=i.eased,
                skip_reason=i.skip_reason,
                counts={Side(k): (c.sets, c.reps) for k, c in i.counts.items()} if i.counts is not None else None,
                in_eased_version=i.in_eased_version,
                pain_since=i.pain_since,
                stays=tuple(Stay(x.at_s, seconds=x.seconds, side=Side(x.side) if x.side else None, where=x.where) for x in i.stays),
            )
            for i in told.items
        ],
        stretches=[Stretch(x.from_s, to_s=x.to_s, at=x.at) for x in told.stretches],
        started_at=told.started_at,
        ended_at=told.ended_at,
        sent_at=sent_at,
        effort=told.effort,
        form=told.form,
        note=told.note,
        replaces=told.replaces,
        continues=told.continues,
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
    return Wish(
        start=told.start,
        end=told.end,
        weekdays=tuple(sorted(set(told.weekdays))),
        times=said,
        remind_min=told.remind_min,
        as_part=told.as_part,
    )


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
        remarks=list(p.remarks),
        refusals=list(p.refusals),
        weeks=weeks,
        sessions=len(p.days),
        last_day=p.days[-1].day if p.days else None,
        first=a.FirstSessionView.model_validate(p.first) if p.first else None,
    )
