"""What a check is: a rule with an id, that looks at a compiled program and says what it finds."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from enum import StrEnum

from dimbo.core.design.weeks import Compiled
from dimbo.core.programs.program import Program


class Weight(StrEnum):
    """How much a note weighs: stop refuses assignment, watch asks for a look, remark reminds, fine reassures."""

    STOP = "stop"
    WATCH = "watch"
    REMARK = "remark"
    FINE = "fine"


@dataclass(frozen=True, slots=True)
class Fix:
    """A remedy that can be taken with one key: what it says, and what it makes of the program."""

    label: str
    apply: Callable[[Program], Program]


class Way(StrEnum):
    """A next step that lies outside the program."""

    ANSWER_HEALTH = "answer-health"
    """Answer the open health questions under Intake, with the client."""
    SEND_QUESTIONS = "send-questions"
    """Send the client the link to their own intake."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Note:
    """One sentence in the margin with its next step, and the cells that it speaks of."""

    rule: str
    weight: Weight
    text: str
    remedy: str = ""
    line: str | None = None
    weeks: tuple[int, ...] = ()
    fix: Fix | None = field(default=None, compare=False)
    ways: tuple[Way, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """One rule of the margin. ``why`` tells the rule in a sentence and where it comes from."""

    id: str
    title: str
    weight: Weight
    why: str
    find: Callable[[Compiled], Iterable[Note]]
