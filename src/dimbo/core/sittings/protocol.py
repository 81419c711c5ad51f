"""The photo protocol: which views a sitting takes, what is said to the client, and what each is good for."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Face(StrEnum):
    """How the head stands to the lens. The left profile shows the client's left side."""

    FRONT = "front"
    THREE_QUARTER_LEFT = "three-quarter left"
    THREE_QUARTER_RIGHT = "three-quarter right"
    PROFILE_LEFT = "profile left"
    PROFILE_RIGHT = "profile right"

    @property
    def is_profile(self) -> bool:
        """Whether it shows one side only; its points are set by hand."""
        return self in (Face.PROFILE_LEFT, Face.PROFILE_RIGHT)


class Use(StrEnum):
    """What Dimbo does with a view."""

    MEASURED = "measured"
    BY_HAND = "by hand"
    LOOKED_AT = "looked at"


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """One view of the protocol. ``say`` is what the client is asked to do; ``shots`` how many are asked for."""

    id: str
    name: str
    say: str
    shots: int
    face: Face
    use: Use


NEUTRAL = "front-neutral"
VIEWS: dict[str, View] = {
    v.id: v
    for v in (
        View(
            id=NEUTRAL,
            name="Front, neutral",
            say="Look into the lens, lips just touching, nothing else.",
            shots=3,
            face=Face.FRONT,
            use=Use.MEASURED,
        ),
        View(id="gentle-smile", name="Gentle smile", say="Smile gently, lips together.", shots=1, face=Face.FRONT, use=Use.MEASURED),
        View(id="full-smile", name="Full smile", say="Smile as widely as you like.", shots=1, face=Face.FRONT, use=Use.MEASURED),
        View(id="brows-raised", name="Brows raised", say="Lift both brows as high as they go.", shots=1, face=Face.FRONT, use=Use.MEASURED),
        View(id="eyes-wide", name="Eyes wide", say="Open the eyes wide, brows quiet.", shots=1, face=Face.FRONT, use=Use.MEASURED),
        View(id="eyes-closed", name="Eyes closed", say="Close the eyes gently, as in sleep.", shots=1, face=Face.FRONT, use=Use.BY_HAND),
        View(id="lips-pressed", name="Lips pressed", say="Press the lips together.", shots=1, face=Face.FRONT, use=Use.LOOKED_AT),
        View(
            id="three-quarter-left",
            name="Three-quarter, left side",
            say="Turn your nose halfway to your right; the left side shows.",
            shots=1,
            face=Face.THREE_QUARTER_LEFT,
            use=Use.LOOKED_AT,
        ),
        View(
            id="three-quarter-right",
            name="Three-quarter, right side",
            say="Turn your nose halfway to your left; the right side shows.",
            shots=1,
            face=Face.THREE_QUARTER_RIGHT,
            use=Use.LOOKED_AT,
        ),
        View(
            id="profile-left",
            name="Profile, left side",
            say="Turn fully to your right; the left side shows.",
            shots=1,
            face=Face.PROFILE_LEFT,
            use=Use.BY_HAND,
        ),
        View(
            id="profile-right",
            name="Profile, right side",
            say="Turn fully to your left; the right side shows.",
            shots=1,
            face=Face.PROFILE_RIGHT,
            use=Use.BY_HAND,
        ),
        View(
            id="chin-up",
            name="Chin up",
            say="From the front, lift the chin toward the ceiling.",
            shots=1,
            face=Face.FRONT,
            use=Use.LOOKED_AT,
        ),
    )
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Live:
    """What a live picture is held against before it is taken; a shot itself is judged by its own numbers."""

    dark: float = 60
    """Mean brightness, 0 to 255, below which noise drowns the lids."""
    bright: float = 225
    sides: float = 0.15
    """Share by which one side may be brighter: more moves the edges between which is measured."""
    tilt_deg: float = 4
    """Of the device: held level, the angles of a profile are true."""


LIVE = Live()

SETTING = (
    "The same place, with light from the front and none from one side.",
    "The lens at eye height, at least 60 cm away; 1 m is better.",
    "Hair back, no make-up, nothing over the eyes.",
    "Before practice, within two hours of the first sitting's time of day.",
    "At least an hour after waking.",
)
"""What stays alike between sittings, as it is said."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pose:
    """What tells the views apart on one photograph: turn in degrees (to the client's left is positive) and pitch against
    the client's neutral, and ratios: ``eye_open`` fissure over iris, ``smile`` mouth width over en-en, ``brow`` brow
    height over en-en, ``lips`` vermilion height over en-en."""

    yaw_deg: float
    eye_open: float
    smile: float
    brow: float
    lips: float
    lip_gap: float
    pitch_deg: float = 0.0


TYPICAL = Pose(yaw_deg=0.0, eye_open=0.74, smile=1.58, brow=0.89, lips=0.63, lip_gap=0.0)
"""Used until the client's own neutral view is known."""


def suggest_view(pose: Pose | None, own: Pose | None = None, *, eyes_seen: bool = True) -> str:
    """The view that a photograph most likely shows; None (no face found) reads as a profile, whose side is asked.

    Changes are judged against the client's own neutral view where there is one; the coach confirms every suggestion.
    """
    if pose is None:
        return "profile-left"
    if abs(pose.yaw_deg) > 20:
        return "three-quarter-left" if pose.yaw_deg < 0 else "three-quarter-right"
    base = own or TYPICAL
    if own and pose.pitch_deg - own.pitch_deg < -12:
        return "chin-up"
    if not eyes_seen:
        return "eyes-closed"
    smile, eyes, lips = pose.smile / base.smile, pose.eye_open / base.eye_open, pose.lips / base.lips
    if lips < 0.70 and eyes > 0.93:
        return "lips-pressed"
    if smile > 1.10:
        return "full-smile" if smile > 1.26 else "gentle-smile"
    if pose.brow / base.brow > 1.085:
        return "brows-raised"
    if eyes > (1.12 if own else 1.18):
        return "eyes-wide"
    return NEUTRAL
