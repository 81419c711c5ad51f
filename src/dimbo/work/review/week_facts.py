"""What happened in a week of an assignment, out of the rows of the store; the same for the desk, a review and the course."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from uuid import UUID

from dimbo.catalogue import shipped_catalogue
from dimbo.core.review.adherence import Day, SessionRow, days_of, overdone
from dimbo.core.review.course_weeks import CourseWeek, course_weeks
from dimbo.core.review.soreness import stops_on
from dimbo.core.review.thresholds import ReviewRules, checked_rules
from dimbo.core.review.weekly import Pain, WeekFacts, sore_muscles
from dimbo.core.rules import tenths
from dimbo.core.text import join_words
from dimbo.store.database import Conn
from dimbo.store.practice.hurts import Hurt
from dimbo.store.review.reviews import own_rules

Places = Sequence[Mapping[str, Any]]


@dataclass(frozen=True)
class Told:
    """A check-in: the day on which it was told, soreness 0 to 10, and the muscles and sides that were named."""

    day: date
    soreness: int
    places: Places


@dataclass(frozen=True)
class Weeks:
    """The weeks of one assignment with the state of each of its days."""

    weeks: tuple[CourseWeek, ...]
    states: Mapping[date, Day]
    rows: tuple[SessionRow, ...]


def weeks_of(
    rows: Iterable[SessionRow], anchors: Mapping[int, date], today: date, off: Callable[[date], bool], days: Sequence[Day] | None = None
) -> Weeks:
    """The weeks of an assignment; ``rows`` are its sessions in the order of days, and ``days`` their days where they are
    worked out already."""
    own = tuple(rows)
    days = days_of(own, today, off) if days is None else days
    planned = [(r.day, r.week, r.back or 0, r.plan) for r in own if r.week is not None and r.plan is not None and r.plan in anchors]
    return Weeks(tuple(course_weeks(planned, anchors)), {d.day: d for d in days}, own)


def week_facts(of: Weeks, week: CourseWeek, told: Iterable[Told], pains: Iterable[Pain], rules: ReviewRules) -> WeekFacts:
    """The facts of a week. Soreness is told on the day after, so the day after the week counts and its first day does not."""
    first, last = week.first, week.last
    days = tuple(d for day, d in sorted(of.states.items()) if first <= day <= last)
    efforts = tuple(r.effort for r in of.rows if first <= r.day <= last and r.effort is not None)
    told = tuple(told)
    newest = {t.day: t.soreness for t in told}
    checks = [t for t in told if first < t.day <= last + timedelta(days=1)]
    sore = sore_muscles(((t.soreness, [str(p["muscle"]) for p in t.places]) for t in checks), rules)
    hurt = tuple(p for p in pains if first <= p.day <= last)
    stop = next((said for t in reversed(checks) if (said := stops_on(newest, t.day, rules))), "")
    forms = tuple(r.form for r in of.rows if first <= r.day <= last and r.form is not None)
    return WeekFacts(
        days=days,
        efforts=efforts,
        soreness=tuple((t.day, t.soreness) for t in checks),
        sore_muscles=sore,
        pains=hurt,
        sore_stop=stop,
        forms=forms,
    )


def numbers(facts: WeekFacts, rules: ReviewRules) -> dict[str, Any]:
    """A week in the few numbers that are kept with its review."""
    known = facts.adherence()
    return {
        "done": round(known.done, 2),
        "planned": known.planned,
        "effort": facts.effort,
        "soreness": facts.sorest[1] if facts.sorest else None,
        "overdone": len(overdone(facts.days, rules.over_share)),
        "pain": [p.sentence for p in facts.pains],
    }


def differs(then: Mapping[str, Any], now: Mapping[str, Any]) -> str:
    """How the numbers of a week have changed since its review; empty when they have not."""
    out = []
    if (then.get("done"), then.get("planned")) != (now["done"], now["planned"]):
        out.append(f"{tenths(then.get('done') or 0)} of {then.get('planned')} sessions then, {tenths(now['done'])} of {now['planned']} now")
    if then.get("pain", []) != now["pain"]:
        out.append("pain was told since" if len(now["pain"]) > len(then.get("pain", [])) else "the pain was corrected since")
    if then.get("overdone") != now["overdone"]:
        out.append(f"{then.get('overdone')} overdone days then, {now['overdone']} now")
    return join_words(out)


def in_places(places: Places) -> str:
    """Where it is sore, in words: right and left masseter."""
    muscles = shipped_catalogue().muscles
    sides: dict[str, list[str]] = {}
    for p in places:
        sides.setdefault(str(p["muscle"]), []).append(str(p.get("side") or ""))
    out = []
    for muscle, own in sides.items():
        name = muscles[muscle].name if muscle in muscles else muscle
        said = join_words(sorted({s for s in own if s in ("left", "right")}, reverse=True))
        out.append(f"{said} {name}".strip())
    return join_words(out)


def practice_rules(conn: Conn) -> ReviewRules:
    """The practice's thresholds of the weekly review; a program's own are laid over them."""
    return checked_rules(own_rules(conn))


def pain_of(names: Mapping[str, str], hurt: Hurt) -> Pain:
    """What hurt, with the name of its exercise."""
    return Pain(
        exercise_id=hurt.exercise_id,
        name=names.get(hurt.exercise_id, hurt.exercise_id),
        day=hurt.day,
        side=hurt.side,
        level=hurt.level,
        where=hurt.where,
        since=hurt.since,
    )


def by_assignment(rows: Iterable[SessionRow]) -> dict[UUID, list[SessionRow]]:
    out: dict[UUID, list[SessionRow]] = {}
    for r in rows:
        out.setdefault(r.assignment_id, []).append(r)
    return out
