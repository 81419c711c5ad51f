"""What may be entered in an intake, one shape for each kind of fact; everything else is refused by name."""

from __future__ import annotations

import re
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, StringConstraints, ValidationError

from dimbo.core.calendar.schedule import zone
from dimbo.core.intake.conclusions import MOST_AGREED_GOALS, MOST_SEVERE, Tables
from dimbo.core.safety.cautions import CautionRule
from dimbo.core.text import join_words, long_date
from dimbo.work.shared.errors import Refused, Why

_EMAIL = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")
EARLIEST = date(1900, 1, 1)


def _severity(value: object) -> object:
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value <= MOST_SEVERE:
        raise ValueError(f"severity lies between 0 (none) and {MOST_SEVERE} (marked), not {value}")
    return value


Severity = Annotated[int, BeforeValidator(_severity)]
Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]
Long = Annotated[str, StringConstraints(strip_whitespace=True, max_length=4000)]


class _Value(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class RatingValue(_Value):
    right: Severity
    left: Severity


class AnswerValue(_Value):
    """``answer`` is empty when an answer is taken back."""

    answer: Literal["yes", "no", "unsure", ""]


class CauseValue(_Value):
    """``cause`` is empty when the coach goes back to the suggestion."""

    cause: Line


class TestValue(_Value):
    answer: Line


class HabitValue(_Value):
    agreed: bool


class CautionValue(_Value):
    answer: Literal["yes", "no", "unsure"]
    regions: tuple[Line, ...] = ()
    event_on: date | None = None
    note: Long = ""


class ClearanceValue(_Value):
    by_name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)]
    role: Line
    given_on: date
    says: Long
    regions: tuple[Line, ...] = ()
    valid_from: date | None = None
    until: date | None = None


class ProfileValue(_Value):
    value: str | int | list[str] | list[int] | None


class NoteValue(_Value):
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=4000)]


SHAPES: dict[str, type[_Value]] = {
    "rating": RatingValue,
    "answer": AnswerValue,
    "cause": CauseValue,
    "test": TestValue,
    "habit": HabitValue,
    "caution": CautionValue,
    "clearance": ClearanceValue,
    "profile": ProfileValue,
    "note": NoteValue,
}


def shape(kind: str, value: dict[str, Any]) -> _Value:
    """A value in the shape of its kind. Raises Refused that names the field."""
    try:
        return SHAPES[kind].model_validate(value)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(p) for p in first["loc"]) or kind
        said = str(first["ctx"]["error"]) if "error" in first.get("ctx", {}) else first["msg"]
        if first["type"].startswith("date"):
            said = f"“{first['input']}” is not a day. Write it like 2026-03-31"
        raise Refused(Why.UNREADABLE, f"{field.replace('_', ' ').capitalize()}: {said}.", field) from error


def check_key(tables: Tables, kind: str, key: str, value: _Value) -> None:
    """Whether a fact speaks of something that exists. Raises Refused."""
    if isinstance(value, RatingValue):
        concern = tables.concerns.get(key)
        if concern is None:
            raise Refused(Why.UNKNOWN, f"There is no concern “{key}”.", "key")
        if not concern.paired and value.right != value.left:
            raise Refused(Why.CLASH, f"{concern.name} has no sides; right and left must be the same.", "left")
    elif isinstance(value, AnswerValue):
        concern_id, _, question = key.partition(".")
        entry = tables.reasoning.get(concern_id)
        if entry is None or all(q.id != question for q in entry.questions):
            raise Refused(Why.UNKNOWN, f"There is no question “{key}”. The table may have been edited; reload the page.", "key")
    elif isinstance(value, CauseValue):
        entry = tables.reasoning.get(key)
        if entry is None or (value.cause and all(c.id != value.cause for c in entry.causes)):
            raise Refused(
                Why.UNKNOWN, f"There is no cause “{value.cause}” for “{key}”. The table may have been edited; reload the page.", "cause"
            )
    elif isinstance(value, TestValue | HabitValue):
        test = tables.tests.get(key)
        if test is None or test.reading:
            raise Refused(Why.UNKNOWN, f"There is no side test “{key}” to note.", "key")
        if isinstance(value, TestValue) and value.answer and value.answer not in test.answers:
            raise Refused(Why.UNREADABLE, f"{test.name}: note {join_words(test.answers, 'or')}, not “{value.answer}”.", "answer")
        if isinstance(value, HabitValue) and test.task is None:
            raise Refused(Why.CLASH, f"{test.name} has no task.", "key")
    elif isinstance(value, NoteValue) and key:
        raise Refused(Why.CLASH, "A note has no key.", "key")


def rule_of(tables: Tables, key: str) -> CautionRule:
    """Raises Refused for a caution that does not exist."""
    rule = next((r for r in tables.cautions if r.id == key), None)
    if rule is None:
        raise Refused(Why.UNKNOWN, f"There is no caution “{key}”.", "key")
    return rule


def check_caution(tables: Tables, key: str, value: CautionValue, today: date) -> None:
    """Regions that exist, and a day that can be. Raises Refused."""
    rule = rule_of(tables, key)
    _known_regions(tables, value.regions)
    if value.regions and not rule.noted_regions:
        raise Refused(Why.CLASH, f"{rule.name} always means the same regions; none are noted with it.", "regions")
    if value.event_on is not None:
        if not rule.dated:
            raise Refused(Why.CLASH, f"{rule.name} has no date.", "event_on")
        _possible(value.event_on, today=today, field="event_on", what=f"{rule.name}: the day")


def check_clearance(
    tables: Tables, key: str, value: ClearanceValue, answer: str | None, noted: frozenset[str], event_on: date | None, today: date
) -> None:
    """A clearance names who, in what role, when, for what, and is later than what it clears. Raises Refused."""
    rule = rule_of(tables, key)
    if answer not in ("yes", "unsure"):
        raise Refused(Why.NOT_NOW, f"{rule.name} is not answered yes, so there is nothing to release.", "key")
    if not rule.locks:
        raise Refused(Why.CLASH, f"{rule.name} locks nothing; it needs no clearance.", "key")
    if len(value.by_name) < 2:
        raise Refused(Why.NEEDED, "Write the name of the person who gave the clearance.", "by_name")
    if value.role not in rule.roles:
        raise Refused(Why.NOT_YOURS, f"{rule.name} is released by the word of {join_words(rule.roles, 'or')} only.", "role")
    if rule.dated and event_on is None:
        raise Refused(Why.NOT_NOW, f"{rule.name}: note the day when it was before its clearance.", "event_on")
    if len(value.says) < 3:
        raise Refused(Why.NEEDED, f"Write what was said: {rule.says}", "says")
    _possible(value.given_on, today=today, field="given_on", what="The day of the clearance")
    if event_on and value.given_on < event_on:
        raise Refused(
            Why.CLASH,
            f"The clearance of {long_date(value.given_on)} is older than the event of {long_date(event_on)}. "
            "Ask for a new one, or correct the day.",
            "given_on",
        )
    if value.valid_from and value.valid_from < value.given_on:
        raise Refused(Why.CLASH, "The clearance cannot begin before the day it was given.", "valid_from")
    if value.until and value.until < (value.valid_from or value.given_on):
        raise Refused(Why.CLASH, "The clearance ends before it begins.", "until")
    _known_regions(tables, value.regions)
    if value.regions:
        own = frozenset().union(*(t.own_regions(noted) for t in rule.touches))
        if not all(t.by_region for t in rule.touches) or not frozenset(value.regions) <= own:
            raise Refused(Why.CLASH, f"{rule.name} can be released for {join_words(sorted(own)) or 'all of it'} only.", "regions")


def _known_regions(tables: Tables, regions: tuple[str, ...]) -> None:
    for region in regions:
        if region not in tables.regions:
            raise Refused(Why.UNKNOWN, f"There is no region “{region}”.", "regions")


def _possible(day: date, today: date, field: str, what: str) -> None:
    if day > today:
        raise Refused(Why.BOUNDS, f"{what}, {long_date(day)}, is in the future. Today is {long_date(today)}.", field)
    if day < EARLIEST:
        raise Refused(Why.BOUNDS, f"{what}, {long_date(day)}, is too long ago to be right.", field)


def profile(field: str, value: object, today: date) -> object:
    """A profile field as it is stored. Raises Refused that names the field and the remedy."""
    if field in ("name", "time_zone", "email", "phone", "goals", "status"):
        if not isinstance(value, str):
            raise Refused(Why.UNREADABLE, f"{field.replace('_', ' ').capitalize()} is text.", field)
        return _profile_text(field, text=value.strip())
    if field in ("birth_year", "minutes"):
        if value is None:
            return None
        if not isinstance(value, int) or isinstance(value, bool):
            raise Refused(Why.NEEDED, f"Write {'a year such as 1974' if field == 'birth_year' else 'whole minutes'}.", field)
        if field == "birth_year" and not 1900 <= value <= today.year:
            raise Refused(Why.BOUNDS, f"{value} cannot be a birth year. Write four digits between 1900 and {today.year}.", field)
        if field == "minutes" and not 1 <= value <= 120:
            raise Refused(Why.BOUNDS, "Minutes a day lie between 1 and 120.", field)
        return value
    if field == "days":
        if not isinstance(value, list) or any(d not in range(1, 8) for d in value):
            raise Refused(Why.BOUNDS, "Days are weekdays, Monday 1 to Sunday 7.", field)
        return sorted(set(value))
    if field == "agreed":
        goals = [str(g).strip() for g in value] if isinstance(value, list) else []
        goals = [g for g in goals if g]
        if len(goals) > MOST_AGREED_GOALS:
            raise Refused(Why.BOUNDS, f"Agree on at most {MOST_AGREED_GOALS} things to look at; there are {len(goals)}.", field)
        if any(len(g) > 200 for g in goals):
            raise Refused(Why.BOUNDS, "Keep each goal under 200 letters.", field)
        return goals
    raise Refused(Why.UNKNOWN, f"There is no field “{field}”.", "key")


def _profile_text(field: str, text: str) -> str:
    longest = {"name": 120, "email": 200, "phone": 60, "goals": 4000}.get(field, 100)
    if len(text) > longest:
        raise Refused(Why.BOUNDS, f"{field.capitalize()}: at most {longest} letters.", field)
    if field == "name" and not text:
        raise Refused(Why.NEEDED, "Write the client's name.", field)
    if field == "email" and text and not _EMAIL.fullmatch(text):
        raise Refused(Why.UNREADABLE, f"“{text[:60]}” is not an e-mail address. Write it like name@example.org.", field)
    if field == "phone" and text and not re.fullmatch(r"[+\d][\d\s()/.-]{3,}", text):
        raise Refused(Why.UNREADABLE, f"“{text[:40]}” is not a phone number. Write digits, with + for a country code.", field)
    if field == "status" and text not in ("enquiry", "active", "paused", "finished"):
        raise Refused(Why.UNREADABLE, "Status is enquiry, active, paused or finished.", field)
    if field == "time_zone":
        try:
            zone(text)
        except ValueError as error:
            raise Refused(Why.UNREADABLE, str(error), field) from error
    return text
