"""The checks of a program: what a careful colleague would write in the margin."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from enum import StrEnum

from .anatomy import STAGE_ORDER, SideSeconds
from .card import CeilingBasis
from .cautions import Cautions, Effect
from .dose_line import DoseLineError
from .program import Line
from .rungs import GROWTH_LIMIT
from .text import clock, join_words, list_weeks, percent

SESSION_GROWTH_LIMIT = 1.25
"""Most that the contraction of a whole session may rise from one week to the next."""
GROWTH_FLOOR_S = 30.0
"""Below this a session is so short that its growth in percent says nothing."""


class Weight(StrEnum):
    """How much a note weighs: stop refuses assignment, watch asks for a look, remark reminds, fine reassures."""

    STOP = "stop"
    WATCH = "watch"
    REMARK = "remark"
    FINE = "fine"


@dataclass(frozen=True, slots=True)
class Note:
    """One sentence in the margin with its next step, and the cells that it speaks of."""

    rule: str
    weight: Weight
    text: str
    remedy: str = ""
    line: str | None = None
    weeks: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class WeekFacts:
    """What the checks need to know of one week: seconds a session, and contraction on the busier side."""

    seconds: float
    contraction_s: float


def unreadable(line: Line, errors: dict[int, DoseLineError]) -> Note:
    week, error = next(iter(errors.items()))
    return Note(
        "unreadable",
        Weight.STOP,
        f"{line.card.name}, week {week}: {error.message}.",
        "What you typed is kept; correct it before assigning.",
        line.id,
        tuple(errors),
    )


def ceiling(line: Line, used: dict[int, SideSeconds]) -> Note | None:
    """A line that passes its exercise's daily ceiling; ``used`` holds the seconds of each week."""
    limit = line.card.ceiling
    over = {week: max(s.right, s.left) for week, s in used.items() if max(s.right, s.left) > limit.seconds + 1e-9}
    if not over:
        return None
    worst = max(over, key=lambda week: over[week])
    side, most = used[worst].busier, over[worst]
    who = "Each side" if line.card.style.side_rule.value == "together" else f"The {side.value} side"
    what = "works" if limit.basis is CeilingBasis.CONTRACTION else "is handled"
    return Note(
        "ceiling",
        Weight.STOP,
        f"{line.card.name}, {list_weeks(tuple(over))}: {who.lower()} {what} {clock(most)} a day; the ceiling is {clock(limit.seconds)}.",
        "Shorten the hold, or take a set or repetitions away.",
        line.id,
        tuple(over),
    )


def steep_line(line: Line, loads: dict[int, float]) -> Note | None:
    """A line whose load rises by more than about 30 % from one week to the next."""
    weeks = [w for w in loads if w - 1 in loads and loads[w - 1] > 0 and loads[w] > loads[w - 1] * GROWTH_LIMIT + 1e-9]
    if not weeks or not line.card.family.contracts:
        return None
    worst = max(weeks, key=lambda w: loads[w] / loads[w - 1])
    return Note(
        "steep-line",
        Weight.WATCH,
        f"{line.card.name} rises {percent(loads[worst] / loads[worst - 1] - 1)} into week {worst}; about 30 % is the most.",
        "Put a rung in between.",
        line.id,
        tuple(weeks),
    )


def steep_session(facts: dict[int, WeekFacts]) -> Note | None:
    """A session whose contraction rises by more than about 25 % in a week."""

    def ratio(week: int) -> float:
        return facts[week].contraction_s / max(facts[week - 1].contraction_s, GROWTH_FLOOR_S)

    weeks = [w for w in facts if w - 1 in facts and ratio(w) > SESSION_GROWTH_LIMIT + 1e-9]
    if not weeks:
        return None
    worst = max(weeks, key=ratio)
    return Note(
        "steep-session",
        Weight.WATCH,
        f"The session's contraction rises {percent(ratio(worst) - 1)} into week {worst}; 25 % is the most.",
        "Let some lines wait a week.",
        None,
        tuple(weeks),
    )


def over_budget(minutes: int | None, facts: dict[int, WeekFacts]) -> Note | None:
    """A session longer than the minutes that the client really has."""
    if minutes is None:
        return None
    weeks = [w for w, f in facts.items() if f.seconds > minutes * 60 + 0.5]
    if not weeks:
        return None
    most = max(facts[w].seconds for w in weeks) - minutes * 60
    return Note(
        "budget",
        Weight.WATCH,
        f"{list_weeks(tuple(weeks)).capitalize()} pass the {minutes} minutes that the client has, by up to {clock(most)}."
        if len(weeks) > 1
        else f"Week {weeks[0]} passes the {minutes} minutes that the client has by {clock(most)}.",
        "Leave an exercise out, or take a set away.",
        None,
        tuple(weeks),
    )


def foundations(lines: tuple[Line, ...]) -> list[Note]:
    """An exercise whose foundation is missing or comes after it."""
    place = {line.card.id: i for i, line in reversed(list(enumerate(lines)))}
    out = []
    for i, line in enumerate(lines):
        for needed, name in line.card.after:
            if needed not in place:
                out.append(
                    Note(
                        "foundation",
                        Weight.WATCH,
                        f"{line.card.name} builds on {name}, which this program leaves out.",
                        f"Add {name} above it.",
                        line.id,
                    )
                )
            elif place[needed] > i:
                out.append(
                    Note(
                        "foundation",
                        Weight.WATCH,
                        f"{line.card.name} stands before its foundation, {name}.",
                        "Move it below.",
                        line.id,
                    )
                )
    return out


def stage_order(lines: tuple[Line, ...]) -> list[Note]:
    """A line that stands in an earlier stage than the line above it."""
    return [
        Note(
            "stage-order",
            Weight.WATCH,
            f"{below.card.name} belongs to {below.stage.value}, which comes before {above.stage.value}.",
            "Move it up among its stage.",
            below.id,
        )
        for above, below in itertools.pairwise(lines)
        if STAGE_ORDER[below.stage] < STAGE_ORDER[above.stage]
    ]


def ends_calm(lines: tuple[Line, ...]) -> Note | None:
    """A hard contraction is never the last thing done to a muscle."""
    if lines and lines[-1].card.family.contracts and lines[-1].stage.value == "work":
        return Note(
            "ends-calm", Weight.WATCH, "The session ends on hard work.", "Add a release, a drain or a close after it.", lines[-1].id
        )
    return None


_CAUTION_WEIGHT = {Effect.LOCK: Weight.STOP, Effect.EASE: Weight.WATCH, Effect.REMIND: Weight.REMARK}
_CAUTION_REMEDY = {Effect.EASE: "The eased version is shown to the client.", Effect.REMIND: ""}


def cautions(lines: tuple[Line, ...], standing: Cautions) -> list[Note]:
    """What the client's cautions say of this program: one note for each caution and effect, with the exercises it
    reaches. A lock refuses assignment and cannot be silenced here."""
    out = []
    for held in standing.held:
        for effect in Effect:
            reached = [line for line in lines if held.on(line.card) is effect]
            if not reached:
                continue
            names = list(dict.fromkeys(line.card.name for line in reached))
            who = join_words(names) if len(names) <= 4 else f"{len(names)} exercises"
            verb = {Effect.LOCK: "Locked", Effect.EASE: "Eased", Effect.REMIND: "Remember for"}[effect]
            out.append(
                Note(
                    f"caution-{effect.value}",
                    _CAUTION_WEIGHT[effect],
                    f"{held.reason} {verb}: {who}.",
                    held.remedy if effect is Effect.LOCK else _CAUTION_REMEDY[effect],
                    reached[0].id if len(reached) == 1 else None,
                )
            )
    return out
