"""Quality of a shot: what was measured on it, held against thresholds, and said in plain words with what to change.

Vision measures the numbers (``Seen``); the thresholds and their reasons stand here as data.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from dimbo.core.anatomy import Side
from dimbo.core.text import join_words

from .protocol import VIEWS, Face, Pose


@dataclass(frozen=True, slots=True, kw_only=True)
class Threshold:
    """``note`` is where a remark begins, ``stop`` where a shot is retaken (None: never); ``reason`` says why there."""

    id: str
    note: float
    stop: float | None
    unit: str
    reason: str


THRESHOLDS: dict[str, Threshold] = {
    t.id: t
    for t in (
        Threshold(id="edge", note=0.5, stop=0.5, unit="yes or no", reason="What lies outside the picture is guessed, and moves the rest."),
        Threshold(
            id="colour",
            note=4.0,
            stop=2.0,
            unit="CIELAB units from grey",
            reason="Without colour lips and lids cannot be told from skin; grey pictures show changes that are none.",
        ),
        Threshold(
            id="dark",
            note=60.0,
            stop=42.0,
            unit="lightness of the whites of the eyes",
            reason="Whites are as white on any skin. At 33, two fifths of the light, mouth corners move by more than their noise.",
        ),
        Threshold(
            id="turn",
            note=2.0,
            stop=5.0,
            unit="degrees",
            reason="Four degrees of turn move a lid by up to 0.7 mm; beyond two it begins to show.",
        ),
        Threshold(
            id="nod",
            note=3.0,
            stop=5.0,
            unit="degrees from the baseline",
            reason="Nodding lifts or lowers brows against the eyes; 5 degrees is the protocol's bound.",
        ),
        Threshold(
            id="tilt",
            note=5.0,
            stop=None,
            unit="degrees",
            reason="Tilt is taken out of the measurement, but a head this far over was not held straight.",
        ),
        Threshold(
            id="size",
            note=20.0,
            stop=12.0,
            unit="pixels across the iris",
            reason="Below 12 pixels one pixel is a millimetre; above 20 lids are placed to a tenth.",
        ),
        Threshold(
            id="sharp",
            note=0.55,
            stop=0.25,
            unit="of the sharpness of a sharp shot",
            reason="Blur moves the edge of a lid toward the brighter side.",
        ),
        Threshold(id="highlights", note=0.02, stop=0.10, unit="of the face", reason="Clipped skin has no edges and no colour left."),
        Threshold(id="shadows", note=0.02, stop=0.10, unit="of the face", reason="Black areas hide edges."),
        Threshold(
            id="light",
            note=0.12,
            stop=0.45,
            unit="lightness, cheek against cheek",
            reason="Light from one side makes folds and lids look different without any change.",
        ),
        Threshold(
            id="lips",
            note=0.06,
            stop=None,
            unit="gap against the mouth's width",
            reason="Neutral means the lips just touch; a gap moves both corners.",
        ),
        Threshold(
            id="corners",
            note=0.07,
            stop=None,
            unit="of the mouth's width, against the client's neutral",
            reason="A beginning smile widens the mouth.",
        ),
        Threshold(
            id="brows",
            note=0.07,
            stop=None,
            unit="of the brow's height, against the client's neutral",
            reason="Lifted brows pull the upper lids with them.",
        ),
        Threshold(
            id="eyes",
            note=0.55,
            stop=None,
            unit="evidence of the iris",
            reason="Where the iris is covered, by a lid, a glass or a hand, nothing of the eye can be measured.",
        ),
        Threshold(
            id="clock",
            note=120.0,
            stop=None,
            unit="minutes from the baseline's time of day",
            reason="Lids and cheeks are fuller in the morning; two hours is the protocol's bound.",
        ),
        Threshold(
            id="distance",
            note=0.018,
            stop=0.035,
            unit="of the face's width at the temples over that of the eyes, against the baseline",
            reason="A near lens narrows the outline against the eyes: by 0.02 from a metre to 45 cm, by 0.03 to 30; a turn or a nod of "
            "4 degrees or light from one side by less than 0.01, a wide smile by up to 0.015.",
        ),
    )
}
WEIGHTS = ("fine", "watch", "stop")
OUTLINE_MOVES = ("eyes-closed", "chin-up")
"""Views that move the outline against the corners of the eyes as much as a near lens does; no width is read in them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """Numbers of one shot. Ratios are without unit; ``light`` is the left cheek's lightness over the right one's, minus one;
    ``eye_trust`` the evidence 0..1 for each iris; ``temples`` the width of the face there over that of the eyes, ``white`` the
    lightness 0..100 of the whites of the eyes, ``colour`` how far the face's colours lie from grey (CIELAB), and ``cut`` whether the face
    runs over the edge; None where an earlier method did not look."""

    yaw_deg: float
    pitch_deg: float
    roll_deg: float
    iris_px: float
    sharp: float
    highlights: float
    shadows: float
    light: float
    lip_gap: float
    mouth: float
    brow: float
    eye_open: float
    lips: float
    eye_trust: dict[str, float] = field(default_factory=dict)
    temples: float | None = None
    white: float | None = None
    colour: float | None = None
    cut: bool = False

    @classmethod
    def kept(cls, stored: Mapping[str, Any]) -> Seen:
        """Numbers as they were stored; what an earlier method looked at and nobody reads any more is left out."""
        return cls(**{name: value for name, value in stored.items() if name in cls.__dataclass_fields__})

    @property
    def pose(self) -> Pose:
        return Pose(
            yaw_deg=self.yaw_deg,
            eye_open=self.eye_open,
            smile=self.mouth,
            brow=self.brow,
            lips=self.lips,
            lip_gap=self.lip_gap,
            pitch_deg=self.pitch_deg,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """One aspect of a shot: what was found, in words, and what to change (empty when it is fine)."""

    id: str
    name: str
    found: str
    weight: str
    change: str = ""

    @property
    def advice(self) -> str:
        """What was found and what to change, as two sentences; empty when it is fine."""
        return f"{self.found[0].upper()}{self.found[1:]}. {self.change}" if self.change else ""


def _weigh(key: str, amount: float) -> str:
    t = THRESHOLDS[key]
    if t.stop is not None and (amount < t.stop if t.stop < t.note else amount > t.stop):
        return "stop"
    if amount < t.note if t.stop is not None and t.stop < t.note else amount > t.note:
        return "watch"
    return "fine"


def _check(key: str, name: str, found: str, weight: str, change: str) -> Check:
    return Check(id=key, name=name, found=found, weight=weight, change="" if weight == "fine" else change)


def _percent(share: float) -> str:
    return f"{share:.0%}".replace("%", " %")


def minutes_apart(a: datetime, b: datetime) -> int:
    """Difference of two clock times in minutes, each as its own clock showed it, around midnight too."""
    apart = abs((a.hour * 60 + a.minute) - (b.hour * 60 + b.minute))
    return min(apart, 1440 - apart)


def _pose_checks(seen: Seen, own: Seen | None) -> list[Check]:
    toward = "left" if seen.yaw_deg > 0 else "right"
    turn = _weigh("turn", abs(seen.yaw_deg))
    out = [
        _check(
            "turn",
            name="turn",
            found=f"{abs(seen.yaw_deg):.1f}° {toward}" if turn == "fine" else f"{abs(seen.yaw_deg):.1f}° to the client's {toward}",
            weight=turn,
            change="Point the nose straight at the lens.",
        ),
        _check(
            "tilt",
            name="tilt",
            found=f"{abs(seen.roll_deg):.1f}°",
            weight=_weigh("tilt", abs(seen.roll_deg)),
            change="Hold the head straight.",
        ),
    ]
    if own:
        nod = seen.pitch_deg - own.pitch_deg
        way = "Lower the lens or lift the chin a little." if nod > 0 else "Raise the lens or lower the chin a little."
        out.append(
            _check("nod", name="nod", found=f"{abs(nod):.1f}° {'down' if nod > 0 else 'up'}", weight=_weigh("nod", abs(nod)), change=way)
        )
    return out


def _gates(seen: Seen, view: str) -> list[Check]:
    """What a picture must have before anything is measured on it; said only where it is missing. Closed eyes show no white to tell the
    light by."""
    open_eyes = view != "eyes-closed" and max(seen.eye_trust.values(), default=1.0) >= THRESHOLDS["eyes"].note
    out = []
    if seen.cut:
        change = "Step back until the whole face, from brows to chin and from ear to ear, is in the picture."
        out.append(Check(id="edge", name="edge", found="the face runs over the edge", weight="stop", change=change))
    if seen.colour is not None and (weight := _weigh("colour", seen.colour)) != "fine":
        found = "no colour" if weight == "stop" else "hardly any colour"
        out.append(Check(id="colour", name="colour", found=found, weight=weight, change="Switch filters off and take it in colour."))
    if open_eyes and seen.white is not None and (weight := _weigh("dark", seen.white)) != "fine":
        found = "far too dark" if weight == "stop" else "rather dark"
        change = "Bring light to the face from the front, as a window gives, and take it again."
        out.append(Check(id="dark", name="light level", found=found, weight=weight, change=change))
    return out


def _picture_checks(seen: Seen) -> list[Check]:
    brighter = "left" if seen.light > 0 else "right"
    clipped = "highlights" if seen.highlights >= seen.shadows else "shadows"
    share = max(seen.highlights, seen.shadows)
    exposed = _weigh(clipped, share)
    lit = _weigh("light", abs(seen.light))
    sharp = _weigh("sharp", seen.sharp)
    return [
        _check(
            "size",
            name="size",
            found=f"iris {seen.iris_px:.0f} px",
            weight=_weigh("size", seen.iris_px),
            change="Use the better camera, or crop less; at least 12 pixels, better 20.",
        ),
        _check(
            "sharp",
            name="sharp",
            found={"fine": "sharp", "watch": "soft", "stop": "blurred"}[sharp],
            weight=sharp,
            change="Wipe the lens, steady the camera, let it focus on the eyes.",
        ),
        _check(
            clipped,
            name="exposure",
            found="good" if exposed == "fine" else f"{_percent(share)} {'blown out' if clipped == 'highlights' else 'black'}",
            weight=exposed,
            change="Step away from the lamp or out of the sun." if clipped == "highlights" else "Bring more light to the face.",
        ),
        _check(
            "light",
            name="light",
            found=f"{brighter} +{_percent(abs(seen.light))}" if lit == "fine" else f"{brighter} cheek {_percent(abs(seen.light))} brighter",
            weight=lit,
            change="Turn toward the window until both cheeks are alike.",
        ),
    ]


def _eyes_check(seen: Seen, view: str) -> Check:
    if view == "eyes-closed":
        return Check(id="eyes", name="eyes", found="not looked for in this view", weight="fine")
    covered = [side.value for side in Side if seen.eye_trust.get(side.value, 1.0) < THRESHOLDS["eyes"].note]
    if not covered:
        return Check(id="eyes", name="eyes", found="both seen", weight="fine")
    which = "both eyes" if len(covered) == 2 else f"{covered[0]} eye"
    return Check(
        id="eyes",
        name="eyes",
        found=f"{which} cannot be seen well",
        weight="stop" if len(covered) == 2 else "watch",
        change="Take off glasses, move hair and hands away, open the eyes.",
    )


def _neutral_check(seen: Seen, own: Seen | None) -> Check:
    wrong, change = [], []
    if seen.lip_gap > THRESHOLDS["lips"].note:
        wrong.append("lips apart")
        change.append("Let the lips just touch.")
    if own and seen.mouth / own.mouth - 1 > THRESHOLDS["corners"].note:
        wrong.append("a smile begins")
        change.append("Let the mouth rest.")
    if own and seen.brow / own.brow - 1 > THRESHOLDS["brows"].note:
        wrong.append("brows lifted")
        change.append("Let the brows rest.")
    if not wrong:
        return Check(id="expression", name="face", found="at rest", weight="fine")
    return Check(id="expression", name="face", found=join_words(wrong), weight="watch", change=" ".join(change))


def _distance_check(narrower: float) -> Check:
    """``narrower`` is the share by which the outline is narrower against the eyes than at the baseline. A lens further away is never wrong
    in itself: it only keeps widths from being compared."""
    weight = _weigh("distance", abs(narrower))
    if narrower > 0:
        where, change = "closer", "Stand further back, as at the first sitting."
    else:
        where, change = "further away", "Stand nearer, as at the first sitting, but no nearer than 60 cm."
        weight = "watch" if weight == "stop" else weight
    found = "as before" if weight == "fine" else f"taken from {where} than the baseline"
    return _check("distance", name="distance", found=found, weight=weight, change=change)


def judge(
    seen: Seen, view: str, *, own: Seen | None = None, taken_at: datetime | None = None, baseline_at: datetime | None = None
) -> list[Check]:
    """Every check of a front view, the one to act on first standing first.

    ``own`` are the numbers of the client's baseline neutral view. ``taken_at`` and ``baseline_at`` carry their own clocks.
    """
    level = own if view != "chin-up" else None  # a lifted chin is what that view asks for
    checks = [*_gates(seen, view), *_pose_checks(seen, own=level), *_picture_checks(seen), _eyes_check(seen, view)]
    if view == "front-neutral":
        checks.append(_neutral_check(seen, own=own))
    if own and own.temples and seen.temples and view not in OUTLINE_MOVES:
        checks.append(_distance_check(1 - seen.temples / own.temples))
    if baseline_at and taken_at:
        apart = minutes_apart(taken_at, b=baseline_at)
        weight = _weigh("clock", apart)
        # Clocks themselves are written by the page, in the reader's own style; here stands what they come to.
        long = f"{apart // 60} h {apart % 60:02d} min from the baseline's time of day"
        found = "as before" if weight == "fine" else long
        checks.append(_check("clock", name="time", found=found, weight=weight, change="Take it at the baseline's time of day next time."))
    elif taken_at:
        checks.append(Check(id="clock", name="time", found="told", weight="fine"))
    else:
        checks.append(Check(id="untimed", name="time", found="not told by the file", weight="watch", change="Say when it was taken."))
    rank = {key: i for i, key in enumerate(THRESHOLDS)}
    return sorted(checks, key=lambda c: (-WEIGHTS.index(c.weight), rank.get(c.id, 99)))


def wrong_face(seen: Seen | None, view: str) -> Check | None:
    """A view taken from the wrong side, as a profile among front views; None when it fits."""
    face = VIEWS[view].face
    turned = 0.0 if seen is None else seen.yaw_deg
    if face is Face.FRONT and seen is not None and abs(turned) <= 20:
        return None
    if face is not Face.FRONT and (seen is None or abs(turned) > 15):
        wanted_left = face in (Face.THREE_QUARTER_LEFT, Face.PROFILE_LEFT)
        if seen is None or (turned < 0) == wanted_left:
            return None
        return Check(
            id="turn",
            name="turn",
            found=f"this shows the {'right' if turned > 0 else 'left'} side",
            weight="stop",
            change="Choose the other side's view for it.",
        )
    if seen is None:
        return Check(
            id="turn",
            name="turn",
            found="no face seen from the front",
            weight="stop",
            change="Choose a profile view for it, or take it again from the front.",
        )
    found = f"the head is turned by {abs(turned):.0f}°" if face is Face.FRONT else "the head looks straight ahead"
    return Check(id="turn", name="turn", found=found, weight="stop", change="Choose the view that it shows, or take it again.")


class Standing:
    """What a shot is good for."""

    ACCEPTED = "accepted"
    NOTED = "accepted with a note"
    RETAKE = "to be retaken"


def standing(checks: list[Check]) -> str:
    """Accepted, accepted with a note, or to be retaken."""
    weights = {c.weight for c in checks}
    return Standing.RETAKE if "stop" in weights else Standing.NOTED if "watch" in weights else Standing.ACCEPTED
