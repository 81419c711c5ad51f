"""Reviews, opened weeks and the client's own course, from values to what goes over the wire."""

from __future__ import annotations

from collections.abc import Mapping

from dimbo.core.calendar.schedule import EVERY_OTHER, days_in_words
from dimbo.core.exercises.dose import Dose
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.program import Program, Settings
from dimbo.core.review.thresholds import REVIEW_LIMITS, SHIPPED, ReviewRules
from dimbo.core.review.weekly import Verdict, evidence_words
from dimbo.core.rule_book import BOOK, EVERY, said
from dimbo.store.review.reviews import Review
from dimbo.web.schemas import people as p
from dimbo.web.schemas import review as r
from dimbo.web.schemas.exercises import TrainView
from dimbo.work.practice.own_course import OwnCourse
from dimbo.work.review.deciding import HOLD_INSTEAD, Checked
from dimbo.work.review.open_week import OpenWeek
from dimbo.work.review.reviewing import ReviewedLine, ReviewSheet
from dimbo.work.review.thresholds import Effect

from . import programs as program_views


def verdict(value: str) -> r.Verdict:
    known: Mapping[str, r.Verdict] = {"advance": "advance", "hold": "hold", "ease back": "ease back", "stop": "stop"}
    return known[value]


def rule(rule_id: str, rules: ReviewRules = SHIPPED) -> r.RuleView:
    return r.RuleView(id=rule_id, name=EVERY[rule_id].name, says=said(rule_id, rules))


def kept(review: Review, differs: str = "") -> r.KeptReview:
    lines = review.suggested.get("lines", {})
    decided = review.decided.get("lines", {})
    other = [f"{v['name']}: {v['verdict']} became {decided[k]}" for k, v in lines.items() if decided.get(k, v["verdict"]) != v["verdict"]]
    return r.KeptReview(
        id=review.id,
        assignment_id=review.assignment_id,
        first_day=review.first_day,
        last_day=review.last_day,
        suggested=verdict(review.suggested["whole"]),
        because=review.suggested["because"],
        decided=verdict(review.decided["whole"]),
        otherwise=other,
        reason=review.reason,
        words=review.words,
        holds_from=review.holds_from,
        made_at=review.made_at,
        differs=differs,
    )


def _dose(sheet_program: Program, settings: Settings, line_id: str, text: str) -> r.DoseAt:
    card = next(x.card for x in sheet_program.lines if x.id == line_id)
    return r.DoseAt(line=text, train=program_views.train(parse(text, card.style), settings.pace_s) if text else None)


def _days(sessions: float) -> str:
    return f"{sessions:g} day{'s' if sessions != 1 else ''}" if sessions != EVERY_OTHER else days_in_words(sessions)


def checked(found: Checked) -> r.CheckedView:
    return r.CheckedView(
        against=[r.AgainstView(text=n.text, remedy=HOLD_INSTEAD) for n in found.refusals],
        remarks=[r.AgainstView(text=n.text, remedy=n.remedy) for n in found.remarks],
        next={i: _dose(found.sheet.program, found.sheet.settings, i, text=text) for i, text in found.doses.items()},
        days=_days(found.sessions) if found.sessions is not None else "",
    )


def _of_week(sheet: ReviewSheet) -> r.WeekLineView | None:
    if sheet.of_week is None:
        return None
    return r.WeekLineView(
        suggested=verdict(sheet.whole.verdict),
        because=sheet.whole.because,
        now=_days(sheet.of_week.now),
        next={verdict(v.value): _days(n) for v, n in sheet.of_week.next.items()},
        entering=list(sheet.entering),
    )


def _line(n: ReviewedLine, sheet: ReviewSheet) -> r.ReviewLineView:
    def dose(text: str) -> r.DoseAt:
        return _dose(sheet.program, sheet.settings, n.outlook.line_id, text=text)

    return r.ReviewLineView(
        line_id=n.outlook.line_id,
        exercise_id=n.facts.exercise_id,
        name=n.facts.name,
        suggested=verdict(n.judgement.verdict),
        because=n.judgement.because,
        rule=n.judgement.rule,
        sessions=n.facts.sessions,
        share=n.facts.share,
        stopped=n.judgement.verdict == Verdict.STOP,
        now=dose(n.outlook.now),
        next={verdict(v.value): dose(n.outlook.next[v]) for v in Verdict},
    )


def review(sheet: ReviewSheet) -> r.ReviewView:
    spoken = dict.fromkeys([sheet.whole.rule, *(n.judgement.rule for n in sheet.lines), "review-doses", *(x.rule for x in sheet.remarks)])
    if sheet.earned:
        spoken["review-earned"] = None
    return r.ReviewView(
        client_id=sheet.client.id,
        client_name=sheet.client.name,
        assignment_id=sheet.assignment.id,
        title=sheet.assignment.title,
        week=sheet.number,
        first_day=sheet.week.first,
        last_day=sheet.week.last,
        earned=sheet.earned,
        waiting=bool(sheet.ahead and sheet.ahead.waiting),
        refused=sheet.refused,
        evidence=evidence_words(sheet.facts),
        sessions=p.AdherenceView.model_validate(sheet.facts.adherence()),
        days=[p.DayMark.model_validate(d) for d in sheet.facts.days],
        efforts=list(sheet.facts.efforts),
        effort=sheet.facts.effort,
        soreness=[r.ToldSoreness(day=day, level=level) for day, level in sheet.facts.soreness],
        suggested=verdict(sheet.whole.verdict),
        because=sheet.whole.because,
        rules=[rule(i, sheet.rules) for i in spoken],
        holds_from=sheet.ahead.from_day if sheet.ahead else None,
        of_week=_of_week(sheet),
        lines=[_line(n, sheet) for n in sheet.lines],
        bias=[r.WeekBiasView(key=b.key, text=b.text, label=b.label) for b in sheet.bias],
        remarks=[x.text for x in sheet.remarks] + ([sheet.end.sentence] if sheet.end.sentence else []),
        kept=[kept(x) for x in sheet.reviewed],
    )


def thresholds(rules: ReviewRules) -> r.ThresholdsView:
    return r.ThresholdsView(
        thresholds=[
            r.ThresholdView(
                key=k,
                name=limit.name,
                unit=limit.unit,
                least=limit.least,
                most=limit.most,
                about=limit.about,
                value=getattr(rules, k),
                shipped=getattr(SHIPPED, k),
            )
            for k, limit in REVIEW_LIMITS.items()
        ],
        rules={section: [rule(x.id, rules) for x in own] for section, own in BOOK.items()},
    )


def week_judged(e: Effect) -> r.WeekJudged:
    return r.WeekJudged(
        client_id=e.client_id,
        client=e.client,
        title=e.title,
        before=verdict(e.before.verdict),
        after=verdict(e.after.verdict),
        because=e.after.because,
    )


def open_week(week: OpenWeek) -> r.OpenWeekView:
    trains: dict[tuple[Dose, float], int] = {}
    drawn: list[TrainView] = []

    def place(dose: Dose, pace_s: float) -> int:
        if (dose, pace_s) not in trains:
            trains[dose, pace_s] = len(drawn)
            drawn.append(program_views.train(dose, pace_s))
        return trains[dose, pace_s]

    def at(line: str, dose: Dose | None, pace_s: float) -> r.DoseAt:
        return r.DoseAt(line=line, train=program_views.train(dose, pace_s) if dose else None)

    return r.OpenWeekView(
        sessions=[
            r.DrawnSessionView(
                day=x.day,
                part="evening" if x.part == "evening" else "morning",
                title=x.title,
                seconds=round(x.seconds, 1),
                items=[
                    r.DrawnItemView.model_validate(
                        {
                            "name": i.name,
                            "train": place(i.dose, i.pace_s),
                            "start_s": round(i.start_s, 1),
                            "length_s": round(i.length_s, 1),
                            "done": round(i.done, 3),
                            "outcome": i.outcome,
                        }
                    )
                    for i in x.items
                ],
            )
            for x in week.sessions
        ],
        moves=[
            r.DoseMoveView(name=m.name, before=at(m.before, m.before_dose, m.pace_s), after=at(m.after, m.after_dose, m.pace_s))
            for m in week.moves
        ],
        trains=drawn,
    )


def own_course(c: OwnCourse) -> r.OwnCourseView:
    return r.OwnCourseView.model_validate(c)
