"""Quiet alarms: who needs the coach, why, and what comes next; the most urgent first."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any
from uuid import UUID

from dimbo.core.rules import Judgement, tenths
from dimbo.core.safety.consent import RUNNING_OUT_DAYS
from dimbo.core.text import join_words, percent

from .adherence import Day, missed_days, overdone
from .alarm_kinds import KINDS, ORDER, Does, Kind, Urgency
from .breaks import BACK_ONE_FROM_DAYS, returns
from .course_weeks import CourseWeek
from .thresholds import SHIPPED, ReviewRules
from .weekly import Pain, Verdict, WeekFacts, evidence_words

MISSED_IN_A_ROW = 3
OVERDONE_TIMES = 2
LOOK_BACK_DAYS = 7
"""Days in which overdoing and soreness are counted, today among them."""
DAYS_NAMED = 7
"""A day that lies less far back is said by its weekday."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DueReview:
    """A week that waits for its review: of which assignment and program, and what the rules say of it."""

    assignment: UUID
    title: str
    week: CourseWeek
    facts: WeekFacts
    judgement: Judgement

    @property
    def reviewed(self) -> ReviewWeek:
        return ReviewWeek(self.assignment, self.week.first)


@dataclass(frozen=True, kw_only=True)
class Known:
    """What is known of a client on their own day ``today``. ``days`` are the planned days of the last two weeks or more."""

    today: date
    urgent: Sequence[str] = ()
    locks: Sequence[Locked] = ()
    """The cautions that lock."""
    hurts: Sequence[Pain] = ()
    """Exercises that hurt and wait."""
    days: Sequence[Day] = ()
    soreness: Sequence[tuple[date, int, str]] = ()
    """Check-ins: day, level of 10, and where in words."""
    unread: int = 0
    newest_unread: datetime | None = None
    """When the newest message that no coach has read was written."""
    own_intake: bool = False
    reviews: Sequence[DueReview] = ()
    corrected: Sequence[Corrected] = ()
    """Reviewed weeks whose numbers have changed: first day, and how."""
    sitting_due: date | None = None
    consents: Sequence[tuple[str, date]] = ()
    """Consents in force, or run out, with the day on which they end: name and day."""
    ended: date | None = None
    """The last planned day of the last program, when nothing runs after it."""
    rules: ReviewRules = SHIPPED
    unread_record: bool = False
    """Whether what is kept of them could not be worked out, so that nothing else here is known."""
    practised_before: date | None = None
    """The last day practised before ``days``, where it is known."""


@dataclass(frozen=True, slots=True)
class Locked:
    """A caution that locks: where it stands in a few words, and the reason in full."""

    short: str
    reason: str


@dataclass(frozen=True, slots=True)
class Aside:
    """An occurrence of an alarm that a coach put aside as seen, or put off ``until`` a day on which it speaks again."""

    kind: str
    key: str
    until: date | None = None


@dataclass(frozen=True, slots=True)
class ReviewWeek:
    """A week of an assignment, by its first day."""

    assignment: UUID
    first_day: date


@dataclass(frozen=True, slots=True)
class Corrected:
    """A reviewed week whose numbers differ now, and how."""

    week: ReviewWeek
    how: str


def _eases(k: Known) -> dict[str, Any]:
    """The review in which a dose is eased back; while none waits, a message."""
    if not k.reviews:
        return {"step": "Write", "does": Does.WRITE}
    return {"step": "Ease back", "week": k.reviews[0].reviewed}


@dataclass(frozen=True, slots=True, kw_only=True)
class Alarm:
    """One alarm: its kind, the reason with its numbers, the next step, and the key of this occurrence."""

    kind: Kind
    text: str
    step: str
    key: str
    """Of this occurrence, compared and never read."""
    short: str = ""
    """The reason in one line, where ``text`` is longer than one."""
    also: str = ""
    """Its name behind a graver one, where it says more than the kind's."""
    marks: tuple[str, ...] = ()
    """The evidence in a few words, the gravest first."""
    does: Does | None = None
    """Where the step is another one than the kind's."""
    week: ReviewWeek | None = None
    """The week that is reviewed, where the step leads there."""


Finder = Callable[[Known], Alarm | None]


def _urgent(k: Known) -> Alarm | None:
    if not k.urgent:
        return None
    sign = k.urgent[0].partition(". ")[0].rstrip(".")
    return Alarm(
        kind=KINDS["urgent"],
        text=k.urgent[0],
        short=f"{sign}: urgent medical care now, no exercises.",
        step="Health answers",
        key="standing",
        marks=("everything is locked",),
    )


def _record(k: Known) -> Alarm | None:
    if not k.unread_record:
        return None
    text = "What is kept of them could not be worked out, so nothing here says how they are doing. Look at their page, and ask them."
    return Alarm(kind=KINDS["record"], text=text, step="Open their page", key="standing", marks=("not worked out",))


def _pain(k: Known) -> Alarm | None:
    if not k.hurts:
        return None
    rest = "It is left out, the rest of the session goes on." if len(k.hurts) == 1 else "They are left out until you decide."
    told = join_words([p.sentence for p in k.hurts])
    first, more = k.hurts[0], f" and {len(k.hurts) - 1} more" if len(k.hurts) > 1 else ""
    return Alarm(
        kind=KINDS["pain"],
        text=f"{told}. {rest}",
        short=f"{first.name}{more} hurt, {first.short}: left out until you decide.",
        step="Read and decide",
        key="standing",
        marks=tuple(f"{p.day:%A}, {p.short}" for p in k.hurts),
    )


def _lock(k: Known) -> Alarm | None:
    if not k.locks:
        return None
    more = f" And {len(k.locks) - 1} more." if len(k.locks) > 1 else ""
    first = k.locks[0]
    return Alarm(kind=KINDS["lock"], text=f"{first.reason}{more}", short=f"{first.short}{more}", step="Health answers", key="standing")


def _recent(k: Known) -> list[Day]:
    return [d for d in k.days if k.today - timedelta(days=LOOK_BACK_DAYS - 1) <= d.day <= k.today]


def _sore(k: Known) -> Alarm | None:
    since = k.today - timedelta(days=LOOK_BACK_DAYS - 1)
    told = [s for s in k.soreness if s[0] >= since and s[1] > k.rules.soreness_ease]
    if not told:
        return None
    day, level, where = max(told, key=lambda s: (s[1], s[0]))
    text = f"Soreness {level} of 10 told on {day:%A}{f', {where}' if where else ''}. Above {tenths(k.rules.soreness_ease)}: ease back."
    return Alarm(kind=KINDS["sore"], text=text, key=f"{max(s[0] for s in told)}", marks=(f"soreness {level} of 10",), **_eases(k))


def _overdone(k: Known) -> Alarm | None:
    over = overdone(_recent(k), k.rules.over_share)
    if len(over) < OVERDONE_TIMES:
        return None
    marks = tuple(f"{d.day:%a} +{percent(d.over_share)}" for d in over)
    text = f"Overdone by more than {percent(k.rules.over_share)} on {len(over)} days. The rule says ease back one rung."
    return Alarm(kind=KINDS["overdone"], text=text, key=f"{over[-1].day}", marks=marks, **_eases(k))


def _missed(k: Known) -> Alarm | None:
    missed = missed_days(k.days)
    if len(missed) < MISSED_IN_A_ROW:
        return None
    weeks = (k.today - missed[0]).days // BACK_ONE_FROM_DAYS
    seen = any(d.practised for d in k.days)
    # Without a practised day in sight the run began out of sight; it speaks again every week.
    key = f"{missed[0]} {weeks}" if seen else "gone {}-{}".format(*k.today.isocalendar())
    last = max((d.day for d in k.days if d.practised), default=k.practised_before)
    rule = returns(last, missed, k.today)
    marks = (f"{missed[0]:%a} to {missed[-1]:%a}", f"last done {last:%a} {last.day}" if last else "not practised yet")
    many = f"{len(missed)} planned days missed in a row"
    return Alarm(
        kind=KINDS["missed"],
        text=f"{many}. {rule}",
        short=f"{many}, {marks[1]}.",
        also=f"{len(missed)} days missed",
        step="Write",
        key=key,
        marks=marks,
    )


def _words(k: Known) -> Alarm | None:
    if not k.unread:
        return None
    text = "Wrote to you." if k.unread == 1 else f"Wrote to you, {k.unread} messages."
    return Alarm(kind=KINDS["words"], text=text, step="Read", key=f"{k.newest_unread}")


def _intake(k: Known) -> Alarm | None:
    return (
        Alarm(kind=KINDS["intake"], text="Has filled in the intake; it waits for you.", step="Review it", key="standing")
        if k.own_intake
        else None
    )


def _review(k: Known) -> Alarm | None:
    if not k.reviews:
        return None
    due = k.reviews[0]
    verdict = Verdict(due.judgement.verdict)
    if verdict is Verdict.ADVANCE:
        text, short = f"Review due. {evidence_words(due.facts)}: the rule says advance.", f"{evidence_words(due.facts)}: advance."
    else:
        text, short = f"Review due. {due.judgement.because}", due.judgement.because
    more = (f"and {len(k.reviews) - 1} more program",) if len(k.reviews) > 1 else ()
    return Alarm(
        kind=KINDS["review"],
        text=text,
        short=short,
        step=f"Confirm: {verdict.value}",
        key=f"{due.week.first}",
        marks=(f"week {due.week.week} is over", *more),
        week=due.reviewed,
    )


def _corrected(k: Known) -> Alarm | None:
    if not k.corrected:
        return None
    week, how = k.corrected[0].week, k.corrected[0].how
    first = week.first_day
    return Alarm(
        kind=KINDS["corrected"],
        text=f"Logs came in after the review of the week from {first.day} {first:%B}: {how}.",
        short=f"Logs came in after the review: {how}.",
        step="Look again",
        key=f"{first} {how}",
        week=week,
    )


def _sitting(k: Known) -> Alarm | None:
    due = k.sitting_due
    if due is None or due > k.today:
        return None
    since = (k.today - due).days
    when = f"since {due:%A}" if since < DAYS_NAMED else f"since {due.day} {due:%B}"
    due_since = f"Photographs are due {when if since else 'today'}"
    text = f"{due_since}, in the light and at the hour of the first ones."
    return Alarm(
        kind=KINDS["sitting"],
        text=text,
        short=f"{due_since}.",
        step="Ask for them",
        key=f"{due} {since // 7}",
        marks=(f"due {due.day} {due:%b}",),
    )


def _consent(k: Known) -> Alarm | None:
    ending = [c for c in k.consents if c[1] <= k.today + timedelta(days=RUNNING_OUT_DAYS)]
    if not ending:
        return None
    name, until = min(ending, key=lambda c: c[1])
    left = (until - k.today).days
    how = f"ran out on {until.day} {until:%B}" if left < 0 else "runs out today" if left == 0 else f"runs out in {left} days"
    return Alarm(
        kind=KINDS["consent"],
        text=f"Consent to {name} {how}. Ask again.",
        step="Ask for consent",
        key=f"{name} {until}",
        marks=(f"to {until.day} {until:%b}",),
    )


def _over(k: Known) -> Alarm | None:
    if k.ended is None or k.ended >= k.today:
        return None
    return Alarm(
        kind=KINDS["over"],
        text=f"The program ended on {k.ended.day} {k.ended:%B}, and nothing follows.",
        step="Plan what follows",
        key=f"{k.ended}",
    )


_FINDERS: Mapping[str, Finder] = {
    "urgent": _urgent,
    "record": _record,
    "pain": _pain,
    "lock": _lock,
    "sore": _sore,
    "overdone": _overdone,
    "missed": _missed,
    "words": _words,
    "intake": _intake,
    "review": _review,
    "corrected": _corrected,
    "sitting": _sitting,
    "consent": _consent,
    "over": _over,
}


def alarms(known: Known, aside: Iterable[Aside] = ()) -> list[Alarm]:
    """Everything that needs the coach, the most urgent first; what was put aside, or off to a day that has not come, is left out.

    While a sudden sign stands, only what comes before anything else is said.
    """
    away = {(x.kind, x.key): x.until for x in aside}

    def left_out(a: Alarm) -> bool:
        if (a.kind.id, a.key) not in away:
            return False
        until = away[a.kind.id, a.key]
        return a.kind.may_settle if until is None else a.kind.may_wait and known.today < until

    found = [a for find in _FINDERS.values() if (a := find(known)) is not None]
    found = [a for a in found if not left_out(a)]
    if known.urgent:
        found = [a for a in found if a.kind.urgency is Urgency.FIRST]
    return sorted(found, key=lambda a: ORDER[a.kind.id])


def rank(found: Sequence[Alarm]) -> tuple[int, int]:
    """Where a client stands in the list: by their most urgent alarm, then by how many there are."""
    return (ORDER[found[0].kind.id], -len(found)) if found else (len(ORDER), 0)
