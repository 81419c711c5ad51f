"""What a comparison says, in the client's words. Never stronger than the verdict that it stands for."""

from __future__ import annotations

from collections.abc import Sequence

from dimbo.core.sittings.comparison import Change, Direction, Verdict
from dimbo.core.sittings.readings import Reading
from dimbo.core.sittings.shot import JudgedShot
from dimbo.core.text import join_words

NO_CHANGE = "no change that a photograph could show"
FIRST = "in the first photographs"
UNSURE = "Whether your left and right are more alike cannot be told."


def plain_sentence(reading: Reading, change: Change, since: str = FIRST) -> str:
    """A change in a client's words; ``since`` says of what it is said, as in: than in the first photographs."""
    if change.verdict is Verdict.NOT_COMPARABLE:
        return f"{reading.name}: these photographs cannot be held against each other. {change.reason}".rstrip()
    if change.verdict is Verdict.WITHIN:
        return f"{reading.name}: {NO_CHANGE}."
    if not reading.paired:
        size = "larger" if change.direction is Direction.UP else "smaller"
        return f"{reading.name}: {size} than {since}, by more than taking the photographs again would explain."
    moved = [s for s in change.sides if s.beyond]
    if len(moved) == 1:
        words = reading.more if moved[0].amount > 0 else reading.less
        told = {Direction.TOWARD: "Your left and right are more alike.", Direction.AWAY: "Your left and right are less alike."}
        return f"Your {moved[0].side.value} {words} than {since}. {told.get(change.direction or Direction.OPEN, UNSURE)}"
    how = {Direction.TOWARD: "more alike", Direction.AWAY: "less alike"}.get(change.direction or Direction.OPEN)
    if how is None:
        return f"{reading.name}: your two sides stand otherwise to each other than {since}. {UNSURE}"
    return f"{reading.name}: left and right are {how} than {since}."


_ASPECT = {
    "edge": "framing",
    "colour": "light",
    "dark": "light",
    "light": "light",
    "exposure": "light",
    "highlights": "light",
    "shadows": "light",
    "turn": "turn of the head",
    "nod": "tilt of the head",
    "tilt": "tilt of the head",
    "size": "distance",
    "distance": "distance",
    "sharp": "sharpness",
    "eyes": "expression",
    "expression": "expression",
    "clock": "time of day",
    "untimed": "time of day",
}
"""What a check of a photograph is about, by its id."""
SAME = "Taken under the same conditions, as far as they are measured."


def conditions(shots: Sequence[JudgedShot]) -> str:
    """Whether photographs were taken alike, by what was noted about each; empty when nothing is known of one."""
    if not shots or any(not j.checks for j in shots):
        return ""
    noted = dict.fromkeys(_ASPECT.get(c.id, c.name) for j in shots for c in j.checks if c.weight != "fine")
    return f"Not taken alike, or not known to be: {join_words(list(noted))}." if noted else SAME
