"""Where each week of a program stands with whoever practises it: practised, eased back, missed, running now, ahead, or still a draft."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum


class WeekState(StrEnum):
    PRACTISED = "practised"
    EASED = "eased back"
    """Practised with doses one rung or more lower."""
    MISSED = "missed"
    """Over, and nothing of it was practised."""
    NOW = "now"
    AHEAD = "ahead"
    DRAFT = "draft"
    """Written in a version that does not hold yet, or in no plan."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedWeek:
    """A week of the program as it is laid out: its first and last planned day, rungs back at most, whether anything was practised,
    and the version of the program that its plan follows."""

    week: int
    first: date
    last: date
    back: int
    practised: bool
    version: int


@dataclass(frozen=True, slots=True)
class WeekStanding:
    week: int
    state: WeekState
    first: date | None


def standings(planned: Iterable[PlannedWeek], weeks: int, version: int, today: date) -> list[WeekStanding]:
    """Every week of a program of so many ``weeks`` whose newest version is ``version``; nothing for one that nobody practises."""
    laid_out = {w.week: w for w in planned}
    if not laid_out:
        return []
    return [_standing(n, laid_out.get(n), version, today) for n in range(1, weeks + 1)]


def _standing(number: int, at: PlannedWeek | None, version: int, today: date) -> WeekStanding:
    if at is None:
        return WeekStanding(number, WeekState.DRAFT, None)
    if at.last < today:
        state = WeekState.MISSED if not at.practised else WeekState.EASED if at.back else WeekState.PRACTISED
    elif at.first <= today:
        state = WeekState.NOW
    else:
        state = WeekState.AHEAD if at.version == version else WeekState.DRAFT
    return WeekStanding(number, state, at.first)
