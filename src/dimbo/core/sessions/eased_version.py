"""The eased version of an exercise in a session: its own cues, figure and dose, in the place of the full one, and never
more of it than was planned."""

from __future__ import annotations

from dataclasses import replace

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose import DEFAULT_PACE_S, Apart, Dose, Together
from dimbo.core.exercises.dose_line import parse

from .timeline import Item


def eased_item(item: Item) -> Item:
    """An item of a session in its eased version; one without a version of its own is given back as it is.

    The dose is the eased version's own, never longer for a weaker side: a side that is not worked at all stays so. Where
    less was planned than it holds, as in a first or a lighter week, sets and then repetitions are taken away.
    """
    card = item.card.easier
    if card is None:
        return item
    dose = _on_planned_sides(parse(card.start_line, card.style), planned=item.dose)
    planned = _works_s(item.card, item.dose)
    while _works_s(card, dose) > planned and (less := _less(dose)) is not None:
        dose = less
    return replace(item, line=replace(item.line, card=card), dose=dose)


def _works_s(card: Card, dose: Dose) -> float:
    return max(card.ceiling.used_s(dose, side, DEFAULT_PACE_S) for side in Side)


def _less(dose: Dose) -> Dose | None:
    """A set less, or else a repetition less of the longest phase; None for once of everything."""
    s = dose.sides
    if isinstance(s, Together) and s.sets > 1:
        return replace(dose, sides=Together(s.sets - 1))
    if isinstance(s, Apart) and max(s.right_sets, s.left_sets) > 1:
        return replace(dose, sides=replace(s, right_sets=min(s.right_sets, 1), left_sets=min(s.left_sets, 1)))
    most = max((p.reps for p in dose.all_phases if p.window is None), default=1)
    if most == 1:
        return None
    at = next(n for n, p in enumerate(dose.all_phases) if p.window is None and p.reps == most)
    return dose.with_phases(tuple(replace(p, reps=most - 1) if n == at else p for n, p in enumerate(dose.all_phases)))


def _on_planned_sides(dose: Dose, planned: Dose) -> Dose:
    if not (isinstance(dose.sides, Apart) and isinstance(planned.sides, Apart)):
        return dose
    right, left = min(dose.sides.right_sets, planned.sides.right_sets), min(dose.sides.left_sets, planned.sides.left_sets)
    return replace(dose, sides=Apart(right, left_sets=left, alternate=planned.sides.alternate)) if right + left else dose
