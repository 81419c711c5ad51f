"""The eased version of an exercise in a session: its own cues, figure and dose, in the place of the full one."""

from __future__ import annotations

from dataclasses import replace

from .dose import Apart, Dose
from .dose_line import parse
from .session import Item


def eased_item(item: Item) -> Item:
    """An item of a session in its eased version; one without a version of its own is given back as it is.

    The dose is the eased version's own, never longer for a weaker side: a side that is not worked at all stays so.
    """
    card = item.card.easier
    if card is None:
        return item
    return Item(replace(item.line, card=card), _on_planned_sides(parse(card.start_line, card.style), item.dose))


def _on_planned_sides(dose: Dose, planned: Dose) -> Dose:
    if not (isinstance(dose.sides, Apart) and isinstance(planned.sides, Apart)):
        return dose
    right, left = min(dose.sides.right_sets, planned.sides.right_sets), min(dose.sides.left_sets, planned.sides.left_sets)
    return replace(dose, sides=Apart(right, left, planned.sides.alternate)) if right + left else dose
