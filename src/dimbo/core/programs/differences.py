"""What changed between two versions of a program, in sentences that a coach would say."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import days_in_words
from dimbo.core.exercises.dose import Apart, Dose, Together, print_span
from dimbo.core.text import join_words, list_weeks

from .program import Cell, Line, Program, read_cell


@dataclass(frozen=True, slots=True)
class Change:
    """One sentence, and the row and weeks that it speaks of."""

    text: str
    line: str | None = None
    weeks: tuple[int, ...] = ()


def _sets(dose: Dose) -> str:
    if isinstance(dose.sides, Together):
        return f"{dose.sides.sets} set{'s' if dose.sides.sets != 1 else ''}"
    return f"right {dose.sides.right_sets}, left {dose.sides.left_sets}"


def _sides_apart(a: Dose, b: Dose) -> str:
    """The change of doses whose sides do not the same, side by side."""
    if not (isinstance(a.sides, Apart) and isinstance(b.sides, Apart)):
        return f"{_sets(a)} to {_sets(b)}"
    pairs = {s: [Dose(d.phases_of(s), Apart(d.runs_of(s) or 1, left_sets=0), d.rest) for d in (a, b)] for s in Side}
    return "; ".join(f"{s.value}: {said}" for s, (x, y) in pairs.items() if (said := dose_change(x, b=y)))


def dose_change(a: Dose, b: Dose) -> str:
    """From one dose to another: "6 to 5 repetitions, hold 4 to 5 s"."""
    out = []
    if len(a.phases) != len(b.phases):
        return f"{len(a.phases)} to {len(b.phases)} parts"
    if a.uneven or b.uneven:
        return _sides_apart(a, b=b)
    for p, q in zip(a.phases, b.phases, strict=True):
        if p.reps != q.reps:
            out.append(f"{p.reps} to {q.reps} repetitions")
        for what, x, y in (
            ("window", p.window, q.window),
            ("hold", p.hold, q.hold),
            ("lead", p.lead, q.lead),
            ("release", p.release, q.release),
        ):
            if x != y:
                out.append(
                    f"{what} {print_span(x) if x else 'none'} to {print_span(y) + ('' if y.unit.value == 'c' else ' s') if y else 'none'}"
                )
        if len(p.directions) != len(q.directions):
            out.append(f"{len(p.directions)} to {len(q.directions)} directions")
    if a.sides != b.sides:
        turn = isinstance(a.sides, Apart) and isinstance(b.sides, Apart) and all(a.runs_of(s) == b.runs_of(s) for s in Side)
        out.append("the sides take turns otherwise" if turn else f"{_sets(a)} to {_sets(b)}")
    if a.rest != b.rest:
        out.append(f"rest {print_span(a.rest)} to {print_span(b.rest)} s")
    return ", ".join(dict.fromkeys(out))


def _cell_change(a: Cell, b: Cell, before: str, after: str) -> str:
    if a.dose and b.dose:
        return dose_change(a.dose, b=b.dose)
    return f"{before.strip() or 'rest'} becomes {after.strip() or 'rest'}"


def _cells(a: Line, b: Line) -> Iterator[Change]:
    """Changed cells of a row; weeks in a row with the same change are told together."""
    run: list[int] = []
    told = ""
    for week in range(1, max(len(a.cells), len(b.cells)) + 1):
        before = a.cells[week - 1] if week <= len(a.cells) else None
        after = b.cells[week - 1] if week <= len(b.cells) else None
        text = ""
        if before is not None and after is not None and before != after:
            text = _cell_change(read_cell(before, a.card), b=read_cell(after, b.card), before=before, after=after)
        if text != told and run:
            yield Change(f"{list_weeks(run)}, {b.card.name}: {told}", line=b.id, weeks=tuple(run))
            run = []
        told = text
        if text:
            run.append(week)
    if run:
        yield Change(f"{list_weeks(run)}, {b.card.name}: {told}", line=b.id, weeks=tuple(run))


def _rows(a: Line, b: Line) -> Iterator[Change]:
    if a.card is not b.card and a.card.version != b.card.version:
        yield Change(f"{b.card.name}: version {a.card.version} to {b.card.version} of the exercise", line=b.id)
    if a.stage != b.stage:
        yield Change(f"{b.card.name}: from {a.stage.value} to {b.stage.value}", line=b.id)
    if a.flows != b.flows:
        yield Change(f"{b.card.name}: {'flows on from the row above' if b.flows else 'has its change-over again'}", line=b.id)
    if a.when != b.when:
        yield Change(f"{b.card.name}: {a.when.value} to {b.when.value}", line=b.id)
    if a.days != b.days:
        yield Change(f"{b.card.name}: other days a week", line=b.id)
    if a.note != b.note:
        yield Change(f"{b.card.name}: the note for the client", line=b.id)
    yield from _cells(a, b=b)


def _by_week(what: str, a: Sequence[float], b: Sequence[float]) -> Iterator[Change]:
    weeks = [w for w, (x, y) in enumerate(zip(a, b, strict=False), start=1) if x != y]
    if weeks:
        pair = f"{days_in_words(a[weeks[0] - 1])} to {days_in_words(b[weeks[0] - 1])}" if len(weeks) == 1 else "changed"
        yield Change(f"{list_weeks(weeks)}: {what} {pair}", line=None, weeks=tuple(weeks))


def differences(a: Program, b: Program) -> list[Change]:
    """Everything that differs from ``a`` to ``b``: title, frame, rows gone and new, moved, and each changed dose."""
    out: list[Change] = []
    for what, x, y in (
        ("title", a.title, b.title),
        ("weeks", a.weeks, b.weeks),
        ("minutes", a.minutes, b.minutes),
        ("mode", a.mode.value, b.mode.value),
        ("approach", a.approach, b.approach),
    ):
        if x != y:
            out.append(Change(f"{what}: {x if x is not None else 'none'} to {y if y is not None else 'none'}"))
    if a.expectations != b.expectations:
        out.append(Change("the words on what to expect"))
    out += _by_week("days", a.sessions, b=b.sessions)
    if a.lighter != b.lighter:
        out.append(Change(f"lighter weeks: {join_words([str(w) for w in sorted(b.lighter)]) or 'none'}"))
    if a.circuits != b.circuits:
        out.append(Change("circuits changed"))
    before, after = {n.id: n for n in a.lines}, {n.id: n for n in b.lines}
    out += [Change(f"{n.card.name}: taken out", line=n.id) for i, n in before.items() if i not in after]
    out += [Change(f"{n.card.name}: new", line=n.id) for i, n in after.items() if i not in before]
    for i, line in after.items():
        if i in before:
            out += _rows(before[i], b=line)
    both_a, both_b = [i for i in before if i in after], [i for i in after if i in before]
    if both_a != both_b:
        moved = [after[i].card.name for x, i in zip(both_a, both_b, strict=True) if x != i]
        out.append(Change(f"order: {join_words(moved[:3])}{' and more' if len(moved) > 3 else ''} moved"))
    return [Change(c.text[0].upper() + c.text[1:], line=c.line, weeks=c.weeks) for c in out]
