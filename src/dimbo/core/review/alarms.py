"""Quiet alarms: who needs the coach, why, and what comes next; the most urgent first."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from typing import Any
from uuid import UUID

from dimbo.core.rules import Judgement, Rule, tenths
from dimbo.core.safety.consent import RUNNING_OUT_DAYS
from dimbo.core.text import join_words, percent

from .adherence import Day, missed_days, overdone
from .breaks import BACK_ONE_FROM_DAYS, returns
from .course_weeks import CourseWeek
from .thresholds import SHIPPED, ReviewRules
from .weekly import Pain, Verdict, WeekFacts, evidence_words


class Urgency(StrEnum):
    """When somebody must be looked after."""

    FIRST = "before anything else"
    TODAY = "today"
    WEEK = "this week"


FIRST_WORDS = "Dear {name}, "
"""What a message begins with where a kind of alarm has no words of its own."""
MISSED_IN_A_ROW = 3
OVERDONE_TIMES = 2
LOOK_BACK_DAYS = 7
"""Days in which overdoing and soreness are counted, today among them."""
DAYS_NAMED = 7
"""A day that lies less far back is said by its weekday."""


class Does(StrEnum):
    """What the step of an alarm does."""

    OPEN = "open"
    """Leads to where the matter is looked at."""
    CONFIRM = "confirm"
    """Takes what the rules suggest, without opening it."""
    WRITE = "write"
    """Begins a message."""


class Opens(StrEnum):
    """Where a matter is looked at: the client's page or one of its places, or the review of a week."""

    CLIENT = "client"
    INTAKE = "intake"
    DECIDE = "decide"
    WORDS = "words"
    REVIEW = "review"


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of alarm: its rule, when it must be looked at, whether a coach may put it aside as seen, and what its step does.

    ``first_words`` begin a message about it: kind, without blame, and never a promise; {name} is the client's first name.
    """

    rule: Rule
    urgency: Urgency
    may_settle: bool = True
    does: Does = Does.OPEN
    opens: Opens = Opens.CLIENT
    first_words: str = ""

    @property
    def id(self) -> str:
        return self.rule.id.removeprefix("desk-")


def _kind(
    kind: str,
    *,
    name: str,
    says: str,
    urgency: Urgency,
    may_settle: bool = True,
    does: Does = Does.OPEN,
    opens: Opens = Opens.CLIENT,
    first_words: str = "",
) -> Kind:
    return Kind(Rule(f"desk-{kind}", name=name, says=says), urgency, may_settle, does=does, opens=opens, first_words=first_words)


KINDS: Mapping[str, Kind] = {
    k.id: k
    for k in (
        _kind(
            "urgent",
            name="Sudden sign",
            says="A sudden sign stands first of all: urgent care, and everything is locked until a clearance is recorded.",
            urgency=Urgency.FIRST,
            may_settle=False,
            opens=Opens.INTAKE,
        ),
        _kind(
            "record",
            name="Record that cannot be worked out",
            says="Something kept of a client cannot be worked out. Their line says so, and everybody else's stays.",
            urgency=Urgency.FIRST,
            may_settle=False,
        ),
        _kind(
            "pain",
            name="Pain",
            says="An exercise that hurt is left out of every session until the coach decides.",
            urgency=Urgency.FIRST,
            may_settle=False,
            opens=Opens.DECIDE,
        ),
        _kind(
            "lock",
            name="Lock",
            says="A caution locks a region or exercise until a clearance is recorded.",
            urgency=Urgency.FIRST,
            may_settle=False,
            opens=Opens.INTAKE,
        ),
        _kind(
            "sore",
            name="Soreness",
            says="Next-day soreness above {soreness_ease} of 10 in the last 7 days.",
            urgency=Urgency.TODAY,
            opens=Opens.REVIEW,
            first_words="Dear {name}, thank you for telling me how sore you are. Go easy today and leave out what hurts. "
            "I look at the doses before your next week.",
        ),
        _kind(
            "overdone",
            name="Overdone",
            says="More than {over_share} above plan on two days of the last 7.",
            urgency=Urgency.TODAY,
            opens=Opens.REVIEW,
            first_words="Dear {name}, some of your sessions were longer than planned. More strains the muscles and brings "
            "nothing sooner. Please stay with the plan, I look at the doses with you this week.",
        ),
        _kind(
            "missed",
            name="Missed",
            says="Three planned days missed in a row, or more. Nothing is doubled; from 7 days on the rule for breaks "
            "decides where practice goes on.",
            urgency=Urgency.TODAY,
            does=Does.WRITE,
            first_words="Dear {name}, the last days went by without practice, and that happens. Go on with the next "
            "session as it stands in your plan; nothing is made up. Is something in the way that I can "
            "change?",
        ),
        _kind(
            "words",
            name="Words",
            says="A message of the client that no coach has read.",
            urgency=Urgency.TODAY,
            may_settle=False,
            opens=Opens.WORDS,
        ),
        _kind(
            "intake",
            name="Intake",
            says="An intake that the client filled in waits to be looked through.",
            urgency=Urgency.TODAY,
            may_settle=False,
            opens=Opens.INTAKE,
        ),
        _kind(
            "review",
            name="Review due",
            says="The last week that is over has not been reviewed. An earned program repeats its week until it is.",
            urgency=Urgency.WEEK,
            may_settle=False,
            does=Does.CONFIRM,
            opens=Opens.REVIEW,
        ),
        _kind(
            "corrected",
            name="Log after the review",
            says="Logs of a reviewed week arrived or were corrected after the review, and its numbers differ now.",
            urgency=Urgency.WEEK,
            opens=Opens.REVIEW,
        ),
        _kind(
            "sitting",
            name="Sitting due",
            says="Photographs are due at the start and every fourth week; a sitting up to a week early counts.",
            urgency=Urgency.WEEK,
            does=Does.WRITE,
            first_words="Dear {name}, your photographs are due. In the same place and light and at the same hour as the "
            "first ones, before practice, please.",
        ),
        _kind(
            "consent",
            name="Consent",
            says=f"A consent runs out within {RUNNING_OUT_DAYS} days, or has run out.",
            urgency=Urgency.WEEK,
            does=Does.WRITE,
            first_words="Dear {name}, one of the things you agreed to runs out soon. Could you look at your agreements "
            "and choose again? Whatever you choose is fine.",
        ),
        _kind(
            "over",
            name="Program at its end",
            says="The last planned day has passed, and nothing follows.",
            urgency=Urgency.WEEK,
            first_words="Dear {name}, your program has come to its end. I plan what follows and write to you.",
        ),
    )
}
"""Every kind of alarm, the most urgent first."""
_ORDER = {key: place for place, key in enumerate(KINDS)}


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
    locks: Sequence[str] = ()
    """Reasons of the cautions that lock."""
    hurts: Sequence[Pain] = ()
    """Exercises that hurt and wait."""
    days: Sequence[Day] = ()
    soreness: Sequence[tuple[date, int, str]] = ()
    """Check-ins: day, level of 10, and where in words."""
    unread: int = 0
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
    marks: tuple[str, ...] = ()
    """The evidence in a few words, the gravest first."""
    does: Does | None = None
    """Where the step is another one than the kind's."""
    week: ReviewWeek | None = None
    """The week that is reviewed, where the step leads there."""


Finder = Callable[[Known], Alarm | None]


def _urgent(k: Known) -> Alarm | None:
    return Alarm(kind=KINDS["urgent"], text=k.urgent[0], step="Call", key="standing", marks=("everything is locked",)) if k.urgent else None


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
    return Alarm(
        kind=KINDS["pain"],
        text=f"{told}. {rest}",
        step="Read and decide",
        key="standing",
        marks=tuple(f"{p.day:%A}, {p.short}" for p in k.hurts),
    )


def _lock(k: Known) -> Alarm | None:
    more = f" And {len(k.locks) - 1} more." if len(k.locks) > 1 else ""
    return Alarm(kind=KINDS["lock"], text=f"{k.locks[0]}{more}", step="Open the intake", key="standing") if k.locks else None


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
    return Alarm(kind=KINDS["missed"], text=f"{len(missed)} planned days missed in a row. {rule}", step="Write", key=key, marks=marks)


def _words(k: Known) -> Alarm | None:
    if not k.unread:
        return None
    text = "Wrote to you." if k.unread == 1 else f"Wrote to you, {k.unread} messages."
    return Alarm(kind=KINDS["words"], text=text, step="Read", key="standing")


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
        text = f"Review due. {evidence_words(due.facts)}: the rule says advance."
    else:
        text = f"Review due. {due.judgement.because}"
    more = (f"and {len(k.reviews) - 1} more program",) if len(k.reviews) > 1 else ()
    return Alarm(
        kind=KINDS["review"],
        text=text,
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
    text = f"Photographs are due {when if since else 'today'}, in the light and at the hour of the first ones."
    return Alarm(kind=KINDS["sitting"], text=text, step="Ask for them", key=f"{due} {since // 7}", marks=(f"due {due.day} {due:%b}",))


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


def alarms(known: Known, settled: Iterable[tuple[str, str]] = ()) -> list[Alarm]:
    """Everything that needs the coach, the most urgent first; what was put aside (kind and key) is left out.

    While a sudden sign stands, only what comes before anything else is said.
    """
    aside = set(settled)
    found = [a for find in _FINDERS.values() if (a := find(known)) is not None]
    found = [a for a in found if not (a.kind.may_settle and (a.kind.id, a.key) in aside)]
    if known.urgent:
        found = [a for a in found if a.kind.urgency is Urgency.FIRST]
    return sorted(found, key=lambda a: _ORDER[a.kind.id])


def rank(found: Sequence[Alarm]) -> tuple[int, int]:
    """Where a client stands in the list: by their most urgent alarm, then by how many there are."""
    return (_ORDER[found[0].kind.id], -len(found)) if found else (len(_ORDER), 0)
