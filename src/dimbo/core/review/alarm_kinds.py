"""The kinds of quiet alarms: the rule of each, when it must be looked at, and what a coach may do about it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from dimbo.core.rules import Rule
from dimbo.core.safety.consent import RUNNING_OUT_DAYS


class Urgency(StrEnum):
    """When somebody must be looked after."""

    FIRST = "before anything else"
    TODAY = "today"
    WEEK = "this week"


FIRST_WORDS = "Dear {name}, "
"""What a message begins with where a kind of alarm has no words of its own."""


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

    ``also`` names it in two or three words behind a graver one. ``first_words`` begin a message about it: kind, without
    blame, and never a promise; {name} is the client's first name.
    """

    rule: Rule
    also: str
    urgency: Urgency
    may_settle: bool = True
    does: Does = Does.OPEN
    opens: Opens = Opens.CLIENT
    first_words: str = ""

    @property
    def id(self) -> str:
        return self.rule.id.removeprefix("desk-")

    @property
    def may_wait(self) -> bool:
        """Whether it may be put off until tomorrow: whatever need not come before anything else."""
        return self.urgency is not Urgency.FIRST


def _kind(
    kind: str,
    *,
    name: str,
    also: str,
    says: str,
    urgency: Urgency,
    may_settle: bool = True,
    does: Does = Does.OPEN,
    opens: Opens = Opens.CLIENT,
    first_words: str = "",
) -> Kind:
    return Kind(Rule(f"desk-{kind}", name=name, says=says), also, urgency, may_settle, does=does, opens=opens, first_words=first_words)


KINDS: Mapping[str, Kind] = {
    k.id: k
    for k in (
        _kind(
            "urgent",
            name="Sudden sign",
            also="sudden sign",
            says="A sudden sign stands first of all: urgent care, and everything is locked until a clearance is recorded.",
            urgency=Urgency.FIRST,
            may_settle=False,
            opens=Opens.INTAKE,
        ),
        _kind(
            "record",
            name="Record that cannot be worked out",
            also="record not worked out",
            says="Something kept of a client cannot be worked out. Their line says so, and everybody else's stays.",
            urgency=Urgency.FIRST,
            may_settle=False,
        ),
        _kind(
            "pain",
            name="Pain",
            also="pain",
            says="An exercise that hurt is left out of every session until the coach decides.",
            urgency=Urgency.FIRST,
            may_settle=False,
            opens=Opens.DECIDE,
        ),
        _kind(
            "lock",
            name="Lock",
            also="locked",
            says="A caution locks a region or exercise until a clearance is recorded.",
            urgency=Urgency.FIRST,
            may_settle=False,
            opens=Opens.INTAKE,
        ),
        _kind(
            "sore",
            name="Soreness",
            also="sore",
            says="Next-day soreness above {soreness_ease} of 10 in the last 7 days.",
            urgency=Urgency.TODAY,
            opens=Opens.REVIEW,
            first_words="Dear {name}, thank you for telling me how sore you are. Go easy today and leave out what hurts. "
            "I look at the doses before your next week.",
        ),
        _kind(
            "overdone",
            name="Overdone",
            also="overdone",
            says="More than {over_share} above plan on two days of the last 7.",
            urgency=Urgency.TODAY,
            opens=Opens.REVIEW,
            first_words="Dear {name}, some of your sessions were longer than planned. More strains the muscles and brings "
            "nothing sooner. Please stay with the plan, I look at the doses with you this week.",
        ),
        _kind(
            "missed",
            name="Missed",
            also="days missed",
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
            also="new message",
            says="A message of the client that no coach has read.",
            urgency=Urgency.TODAY,
            may_settle=False,
            opens=Opens.WORDS,
        ),
        _kind(
            "intake",
            name="Intake",
            also="intake to read",
            says="An intake that the client filled in waits to be looked through.",
            urgency=Urgency.TODAY,
            may_settle=False,
            opens=Opens.INTAKE,
        ),
        _kind(
            "review",
            name="Review due",
            also="review due",
            says="The last week that is over has not been reviewed. An earned program repeats its week until it is.",
            urgency=Urgency.WEEK,
            may_settle=False,
            does=Does.CONFIRM,
            opens=Opens.REVIEW,
        ),
        _kind(
            "corrected",
            name="Log after the review",
            also="log after the review",
            says="Logs of a reviewed week arrived or were corrected after the review, and its numbers differ now.",
            urgency=Urgency.WEEK,
            opens=Opens.REVIEW,
        ),
        _kind(
            "sitting",
            name="Sitting due",
            also="photographs due",
            says="Photographs are due at the start and every fourth week; a sitting up to a week early counts.",
            urgency=Urgency.WEEK,
            does=Does.WRITE,
            first_words="Dear {name}, your photographs are due. In the same place and light and at the same hour as the "
            "first ones, before practice, please.",
        ),
        _kind(
            "consent",
            name="Consent",
            also="consent runs out",
            says=f"A consent runs out within {RUNNING_OUT_DAYS} days, or has run out.",
            urgency=Urgency.WEEK,
            does=Does.WRITE,
            first_words="Dear {name}, one of the things you agreed to runs out soon. Could you look at your agreements "
            "and choose again? Whatever you choose is fine.",
        ),
        _kind(
            "over",
            name="Program at its end",
            also="program ended",
            says="The last planned day has passed, and nothing follows.",
            urgency=Urgency.WEEK,
            first_words="Dear {name}, your program has come to its end. I plan what follows and write to you.",
        ),
    )
}
"""Every kind of alarm, the most urgent first."""
ORDER = {key: place for place, key in enumerate(KINDS)}
