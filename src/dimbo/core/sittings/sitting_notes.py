"""The margin of a sitting: what a careful coach would say beside two sets of photographs, one rule per note."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from dimbo.core.text import join_words, long_date

from .comparison import Change, Verdict
from .protocol import NEUTRAL
from .quality import THRESHOLDS
from .reading_table import READINGS
from .sitting import DOUBLE_BASELINE_DAYS, MIN_SHOTS, Measurement, SittingRead


@dataclass(frozen=True, slots=True, kw_only=True)
class SittingNote:
    """One remark. ``action`` names a one-press remedy of the page, with the photograph it is about where there is one."""

    id: str
    weight: str
    text: str
    action: str = ""
    photograph: str = ""


@dataclass(frozen=True, kw_only=True)
class Look:
    """What the notes are about."""

    all: Measurement
    before: SittingRead | None
    after: SittingRead
    changes: Sequence[Change]
    practised: bool


_PERSON = "The proportions of this face differ strongly from the client's own. Is this the same person?"
_FLIP = "This photograph fits clearly better the other way round. It may be a mirrored selfie: check the hint."
_WAY = "Is the first photograph the right way round? A front camera may save what a mirror shows, and every side would be the other one."
_DOUBLE = (
    f"A second baseline within {DOUBLE_BASELINE_DAYS} days, before practice begins, shows how far two sittings of an unchanged face differ."
)
_CLEAN = (
    "The sittings that chose the side are no fair start: what looked weak by chance will look less so the next time, practised or not. "
    "Take one more baseline before practice begins; changes are held against that one."
)
_BY_HAND = "Set its points by hand if you can see them."
_WAIT = "Look after 2 to 4 weeks, and really look after 8 to 12."

Rule = Callable[[Look], Iterator[SittingNote]]


def _way(look: Look) -> Iterator[SittingNote]:
    first = next((j.shot.id for s in look.all.sittings for j in s.shots if j.asks_way), "")
    if first:
        yield SittingNote(id="way", weight="stop", text=_WAY, action="way", photograph=first)


def _questions(look: Look) -> Iterator[SittingNote]:
    """One question of a kind at a time; the next photograph asks when it is answered."""
    asked = set()
    for j in look.after.shots:
        kind = "person" if j.asks_person else "flip" if j.asks_flip else "" if j.shot.confirmed else "view"
        if not kind or kind in asked:
            continue
        asked.add(kind)
        if j.asks_person:
            yield SittingNote(
                id="person",
                weight="stop",
                text=_PERSON,
                action="person",
                photograph=j.shot.id,
            )
        elif j.asks_flip:
            yield SittingNote(
                id="flip",
                weight="stop",
                text=_FLIP,
                action="flip",
                photograph=j.shot.id,
            )
        else:
            yield SittingNote(
                id="view",
                weight="watch",
                text="A view was suggested from the expression and the turn. Confirm it.",
                action="view",
                photograph=j.shot.id,
            )


def _retake(look: Look) -> Iterator[SittingNote]:
    bad = [j for j in look.after.shots if j.standing == "to be retaken" and j.checks]
    if bad:
        first = bad[0].checks[0]
        many = f"{len(bad)} shots are" if len(bad) > 1 else "One shot is"
        yield SittingNote(
            id="retake",
            weight="stop",
            text=f"{many} to be retaken: {first.name}, {first.found}. {first.change}",
            action="retake",
            photograph=bad[0].shot.id,
        )


def _more_shots(look: Look) -> Iterator[SittingNote]:
    have = look.after.counted(NEUTRAL)
    if 0 < have < MIN_SHOTS:
        yield SittingNote(id="shots", weight="remark", text=f"{have} of {MIN_SHOTS} neutral shots count. More of them narrow the noise.")


def _double(look: Look) -> Iterator[SittingNote]:
    base = [s for s in look.all.sittings if s.kind == "baseline" and s.values]
    took = {s for part in look.all.chosen_by.values() for s in part}
    if took and not look.practised and all(s.id in took for s in base):
        yield SittingNote(id="clean-start", weight="watch", text=_CLEAN, action="double")
        return
    if look.all.double_baseline:
        yield SittingNote(id="double", weight="fine", text="Two baseline sittings: the noise of re-posing is partly this client's own.")
    elif base and not look.practised:
        yield SittingNote(
            id="double",
            weight="remark",
            text=_DOUBLE,
            action="double",
        )


def _primary(look: Look) -> Iterator[SittingNote]:
    if not look.all.primary and not look.practised and any(s.values for s in look.all.sittings):
        yield SittingNote(
            id="primary",
            weight="watch",
            text="Name up to three primary readings before practice begins; only they get a headline.",
            action="primary",
        )


def _light(look: Look) -> Iterator[SittingNote]:
    own = look.all.own
    if not own or any(j.asks_flip for j in look.after.shots):
        return
    lights = [j.shot.seen.light for j in look.after.shots if j.shot.seen and j.shot.view == NEUTRAL and j.counts]
    if lights and abs(lights[0] - own.light) > THRESHOLDS["light"].note:
        side = "left" if lights[0] > own.light else "right"
        yield SittingNote(
            id="light",
            weight="watch",
            text=f"The light comes more from the {side} than at the baseline. Folds and shadows are not compared; outlines are.",
            action="retake",
        )


def _excluded(look: Look) -> Iterator[SittingNote]:
    reasons: dict[str, list[str]] = {}
    for change in look.changes:
        if change.verdict is Verdict.NOT_COMPARABLE:
            reasons.setdefault(change.reason, []).append(READINGS[change.reading].name.lower())
    for reason, names in reasons.items():
        listed = join_words(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")
        yield SittingNote(id="not-comparable", weight="watch", text=f"Not compared: {listed}. {reason}")


def _unmeasured(look: Look) -> Iterator[SittingNote]:
    names = {
        READINGS[key].name.lower()
        for j in look.after.shots
        if j.counts
        for key, why in j.unmeasured.items()
        if key not in look.after.values and why.by_hand
    }
    if names:
        yield SittingNote(id="unmeasured", weight="remark", text=f"Cannot be measured here: {join_words(sorted(names))}. {_BY_HAND}")


def _soon(look: Look) -> Iterator[SittingNote]:
    if look.before:
        days = (look.after.taken_on - look.before.taken_on).days
        if 0 <= days < 14 and look.after.kind != "baseline":
            yield SittingNote(
                id="soon",
                weight="remark",
                text=f"{days} days after {long_date(look.before.taken_on)}. {_WAIT}",
            )


RULES: tuple[Rule, ...] = (_way, _questions, _retake, _excluded, _light, _primary, _double, _more_shots, _unmeasured, _soon)
"""In the order in which they are said."""


def sitting_notes(look: Look) -> list[SittingNote]:
    """Every note of two sittings, the most pressing first."""
    found = [note for rule in RULES for note in rule(look)]
    order = {"stop": 0, "watch": 1, "remark": 2, "fine": 3}
    return sorted(found, key=lambda n: order[n.weight])
