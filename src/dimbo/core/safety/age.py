"""Age, from the year of birth: nobody under 16 practises or is photographed, and under 18 a guardian agrees as well.

Only the year is known, so everybody is counted as young as they may be: as if the birthday were the last day of the year.
Local law comes first; these are the least.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date
from enum import StrEnum

from .consent import Consent, ConsentState

YOUNGEST, OF_AGE = 16, 18
"""Years from which somebody practises at all, and from which nobody agrees for them."""
GUARDIANS: Mapping[str, str] = {"practise": "guardian-practise", "photographs": "guardian-photographs"}
"""Consents that a guardian must give besides, for those who are not of age; photographs apart."""
NOT_UNDER_AGE = frozenset({"practise", "photographs", "second-coach", "comparison", "show-others", "learn"})


class Age(StrEnum):
    UNKNOWN = "unknown"
    TOO_YOUNG = "too young"
    GUARDED = "with a guardian"
    OF_AGE = "of age"


def age(birth_year: int | None, today: date) -> Age:
    if birth_year is None:
        return Age.UNKNOWN
    years = today.year - birth_year - 1
    return Age.TOO_YOUNG if years < YOUNGEST else Age.GUARDED if years < OF_AGE else Age.OF_AGE


def for_age(known: Iterable[Consent], birth_year: int | None, today: date) -> list[Consent]:
    """The consents as they hold for somebody of this age: a guardian's only where one is needed, and then nothing without
    it; none at all for those who are too young."""
    state = {c.text.id: c for c in known}
    old = age(birth_year, today)
    if old is Age.GUARDED:
        for own, guardian in GUARDIANS.items():
            if state[own].in_force and guardian in state and not state[guardian].in_force:
                state[own] = replace(state[own], state=ConsentState.GUARDIAN)
        return list(state.values())
    out = [c for i, c in state.items() if i not in GUARDIANS.values()]
    if old is Age.TOO_YOUNG:
        return [replace(c, state=ConsentState.TOO_YOUNG) if c.text.id in NOT_UNDER_AGE else c for c in out]
    return out
