"""What is new in a session against the one practised last, in one sentence to the client."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from dimbo.core.anatomy import Side
from dimbo.core.exercises.dose import Apart, Dose, Span, Unit
from dimbo.core.text import join_words

from .timeline import Item


def _held(span: Span) -> str:
    amount = f"{span.amount:g}"
    return f"{amount} counts" if span.unit is Unit.COUNTS else f"{amount} seconds"


def _sets(dose: Dose) -> str:
    if isinstance(dose.sides, Apart):
        return join_words([f"{dose.runs_of(s)} on your {s.value}" for s in Side if dose.runs_of(s)])
    return "1 set" if dose.sides.sets == 1 else f"{dose.sides.sets} sets"


def change(before: Dose, after: Dose) -> str:
    """From one dose of an exercise to another, said of the exercise: "now holds 6 counts". Empty when nothing differs."""
    if before == after:
        return ""
    if len(before.phases) == len(after.phases) and not before.uneven and not after.uneven:
        out = []
        for p, q in zip(before.phases, after.phases, strict=True):
            if p.hold != q.hold:
                out.append(f"holds {_held(q.hold)}")
            if p.reps != q.reps:
                out.append(f"has {q.reps} repetitions" if q.reps != 1 else "has one repetition")
        if before.sides != after.sides:
            out.append(f"has {_sets(after)}")
        if out:
            return f"now {join_words(list(dict.fromkeys(out)))}"
    return "is done differently now"


def news(before: Sequence[Item], after: Sequence[Item], explained: Collection[str] = ()) -> tuple[str, ...]:
    """Sentences about exercises that are new or have another dose than last time, in the order of the session, and those that
    are not done this time. ``explained`` names exercises whose absence is told elsewhere, with its reason."""
    known = {i.card.id: i.dose for i in before}
    eased = {i.card.id for i in before if i.card.is_eased}
    out = []
    for item in {i.card.id: i for i in after}.values():
        name = item.card.name
        if item.card.id not in known:
            out.append(f"{name} is new.")
        elif item.card.is_eased and item.card.id not in eased:
            out.append(f"{name.removesuffix(', eased')} is done in its eased version.")
        elif said := change(known[item.card.id], after=item.dose):
            out.append(f"{name} {said}.")
    here = {x.card.id for x in after}
    gone = {i.card.id: i.card.name for i in before if i.card.id not in here and i.card.name not in explained}
    if gone:
        out.append(f"{join_words(list(gone.values()))} {'is' if len(gone) == 1 else 'are'} not done this time.")
    return tuple(out)
