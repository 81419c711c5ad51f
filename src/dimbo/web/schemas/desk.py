"""The desk and the groups."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .intake import RatingView
from .people import AdherenceView, ClientRow, DayMark
from .wire import Wire


class AlarmView(Wire):
    """Why a client needs the coach: the reason with its numbers, the next step, and the evidence in a few words."""

    kind: str
    name: str
    urgency: Literal["before anything else", "today", "this week"]
    text: str
    short: str
    """The reason in one line."""
    also: str
    """Its name in a few words, behind a graver one."""
    step: str
    key: str
    marks: list[str]
    may_settle: bool
    may_wait: bool
    """Whether it can be put off until tomorrow."""
    does: Literal["open", "confirm", "write"]
    opens: Literal["client", "intake", "decide", "words", "review"]
    assignment_id: UUID | None
    """Whose week is reviewed, where the step leads there."""
    first_day: date | None
    """The first day of that week."""
    first_words: str
    """What a message about it begins with."""


class ProgramAtView(Wire):
    assignment_id: UUID
    program_id: UUID
    title: str
    week: int
    weeks: int
    group_id: UUID | None


class DueReviewView(Wire):
    """A week that waits for its review; ``verdict`` is what the rules say."""

    assignment_id: UUID
    title: str
    first_day: date
    last_day: date
    verdict: Literal["advance", "hold", "ease back", "stop"]
    because: str


class FeelDay(Wire):
    day: date
    effort: int | None
    soreness: int | None


class DeskRow(ClientRow):
    stopped: int
    missed: int
    own_intake: bool
    unread: int
    """Messages that no coach has read."""
    alarms: list[AlarmView]
    programs: list[ProgramAtView]
    reviews: list[DueReviewView]
    feel: list[FeelDay]
    next_day: date | None
    shots_due: date | None
    coach_id: UUID | None
    today: date
    holds: dict[str, Literal["lock", "ease"]]
    """Muscles under a caution that locks or eases, where a caution is the reason."""
    tender: dict[str, RatingView]
    """Muscles where an exercise hurt, 0 to 10 by side, where pain is the reason."""
    phone: str
    """The client's telephone number, where a sudden sign is the reason; empty where none is known."""
    first_shot: UUID | None
    """The first photograph, where photographs are the reason."""


class AheadView(Wire):
    """Something of the days to come, on the client's own day."""

    day: date
    client_id: UUID
    name: str
    what: str


class Appointment(Wire):
    """Something of the coach's own day: when in the coach's hours, for how long it is the right time, with whom."""

    client_id: UUID
    name: str
    what: Literal["sitting", "review"]
    text: str
    from_at: datetime | None
    to_at: datetime | None
    done: bool


class GroupRef(Wire):
    id: UUID
    name: str


class CoachRef(Wire):
    id: UUID
    name: str


class DeskView(Wire):
    now: datetime
    clients: list[DeskRow]
    day: list[Appointment]
    ahead: list[AheadView]
    groups: list[GroupRef]
    coaches: list[CoachRef]
    rules: dict[str, str]
    """What the rule of each kind of alarm says."""


class SettleRequest(Wire):
    client_id: UUID
    kind: Annotated[str, Field(max_length=40)]
    key: Annotated[str, Field(max_length=120)]
    until_tomorrow: bool = False
    """Whether it is only put off, until the client's tomorrow."""


class HitView(Wire):
    """Something that was found by words. A message or a note has its client's id."""

    kind: Literal["client", "program", "exercise", "template", "message", "note"]
    id: str
    name: str
    beside: str
    """What stands beside the name: whose it is, or the words around."""
    at: datetime | None
    """When it was written, of a message or a note."""


class FoundView(Wire):
    """What was found, the nearest first within each kind."""

    hits: list[HitView]
    more: dict[str, int]
    """How many more there are of a kind than are shown."""


class GroupWeek(Wire):
    """A week of the group's ruler: the fullest planned day in seconds, middle effort and worst soreness told, of 10."""

    week: int
    right_s: float
    left_s: float
    hands_on_s: float
    effort: float | None
    soreness: int | None


class JoinRequest(Wire):
    """Who starts later, and on which day."""

    client_id: UUID
    start: date


class GroupMember(Wire):
    client_id: UUID
    assignment_id: UUID
    name: str
    title: str
    ended: bool
    today: date
    days: list[DayMark]
    whole: AdherenceView
    last_week: AdherenceView
    missed: int
    has_account: bool
    """Whether they can sign in and read what is written to them."""
    behind: str
    """Why they are behind; empty when they are not."""
    ahead: str
    """That they do more than planned, which is no credit; empty when they do not."""
    week: int
    """The week of their own course; below 1 before it begins."""
    program_weeks: int
    weeks: list[GroupWeek]
    photographs: date | None
    """Since when photographs are due, or when they will be."""


class GroupView(Wire):
    id: UUID
    name: str
    made_at: datetime
    first_day: date
    weeks: int
    middle: float | None
    rule: str
    members: list[GroupMember]
    next_class: list[str]
    """What the next class is for, the gravest first."""


class GroupMessage(Wire):
    id: UUID
    clients: Annotated[list[UUID], Field(min_length=1, max_length=200)]
    text: Annotated[str, Field(min_length=1, max_length=2000)]
    written_at: datetime
