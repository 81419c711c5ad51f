"""When somebody is asked again whether something has changed in their health."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from dimbo.core.rules import Rule
from dimbo.core.text import long_date

PAUSE_DAYS = 7
"""Days without practice after which health is asked before practice goes on."""
EVERY_DAYS = 7
"""So often it is asked besides, for the weekly review."""

RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule(
            "ask-pause",
            name="Asked after a pause",
            says=f"After {PAUSE_DAYS} days without practice health is asked before the first session.",
        ),
        Rule(
            "ask-weekly",
            name="Asked every week",
            says=f"Every {EVERY_DAYS} days the client is asked whether something has changed, so that a review knows it.",
        ),
        Rule(
            "ask-sitting",
            name="Asked before photographs",
            says="Before photographs of today are taken it is asked whether something has "
            "changed; an answer of the same day counts, and older photographs that are added later ask nothing.",
        ),
    )
}


@dataclass(frozen=True, slots=True)
class Asking:
    """That health is to be asked: why, for the client, and whether practice waits for it."""

    rule: str
    because: str
    first: bool


def asking(today: date, *, asked: date | None, practised: date | None) -> Asking | None:
    """Whether health is to be asked again on a day. ``asked`` is the day of the last answer of any kind, None for somebody
    who was never asked (who is asked everything anyway); ``practised`` that of the last practice."""
    if asked is None:
        return None
    if practised is not None:
        over = practised + timedelta(days=PAUSE_DAYS)
        if today > over and asked < over:
            return Asking("ask-pause", because=f"You have not practised since {long_date(practised)}.", first=True)
    if (today - asked).days >= EVERY_DAYS:
        return Asking("ask-weekly", because=f"You were last asked on {long_date(asked)}.", first=False)
    return None


def asked_before_sitting(today: date, *, taken_on: date, asked: date | None) -> Asking | None:
    """Whether health is to be asked before photographs are taken. ``taken_on`` is the day of the sitting, which for a client
    who takes them alone is always today; ``asked`` that of the last answer of any kind, None for somebody never asked."""
    if taken_on < today or (asked is not None and asked >= today):
        return None
    since = f"You were last asked on {long_date(asked)}." if asked else "You were not asked yet."
    return Asking("ask-sitting", because=since, first=True)
