"""The schema of the data files. docs/formats/catalogue.md tells the same in words."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from dimbo.core.exercises.figure import Figure, Hand, View, misdrawn

Text = Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=400)]
Slug = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_-]*$")]


Mark = Literal[
    "head-back",
    "head-tilt",
    "neck-turn",
    "head-down",
    "breath-hold",
    "wide-open",
    "jaw-forward",
    "strain",
    "air-pressure",
    "palms-on-eyes",
    "fast-blinks",
    "pinch",
    "lip-stretch",
    "puckers",
    "twist",
]


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class MuscleEntry(Strict):
    id: Slug
    name: Text
    region: Text
    action: Text
    against: tuple[Slug, ...] = ()


Way = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
"""What a direction is called: a word such as "up", or a way described."""


class DirectionEntry(Strict):
    name: Way
    loads: Literal["both", "left", "right"] = "both"


class PhaseEntry(Strict):
    """Usual lead and release in seconds; hold and repetitions stand in the dose lines."""

    kind: Literal["hold", "reps", "strokes", "circles", "press", "tap", "breaths", "times"]
    lead: float = Field(default=0, ge=0, le=30)
    release: float = Field(default=0, ge=0, le=30)
    directions: tuple[DirectionEntry | Way, ...] = ()


class CeilingEntry(Strict):
    seconds: float = Field(gt=0, le=1200)
    basis: Literal["contraction", "hands-on", "times"]
    why: Text | None = None
    """Why a day holds no more, where it is not the reason of its family."""


class FaultEntry(Strict):
    fault: Text
    remedy: Text


class HandEntry(Strict):
    tool: str = Field(alias="with", max_length=20)
    path: tuple[Slug, ...] = Field(min_length=1, max_length=8)
    do: str = Field(max_length=20)
    other: bool = False

    @model_validator(mode="before")
    @classmethod
    def _at(cls, given: object) -> object:
        """``at: place`` is a path of one place."""
        if isinstance(given, dict) and "at" in given:
            return {**{k: v for k, v in given.items() if k != "at"}, "path": [given["at"]]}
        return given


class FigureEntry(Strict):
    """States are written as ``oval`` or ``rest > oval``. See docs/formats/catalogue.md."""

    view: View = "front"
    mouth: str = Field(default="rest", max_length=60)
    eyes: str = Field(default="rest", max_length=60)
    brows: str = Field(default="rest", max_length=60)
    head: str = Field(default="level", max_length=60)
    hands: tuple[HandEntry, ...] = Field(default=(), max_length=4)
    moves: tuple[tuple[Slug, ...], ...] = Field(default=(), max_length=4)
    sides: Literal["both", "one"] = "both"
    breath: bool = False

    def figure(self) -> Figure:
        """The figure that the core draws from."""

        def states(text: str) -> tuple[str, ...]:
            return tuple(part.strip() for part in text.split(">"))

        return Figure(
            view=self.view,
            mouth=states(self.mouth),
            eyes=states(self.eyes),
            brows=states(self.brows),
            head=states(self.head),
            hands=tuple(Hand(h.tool, h.path, h.do, h.other) for h in self.hands),
            moves=self.moves,
            one_side=self.sides == "one",
            breath=self.breath,
        )

    @model_validator(mode="after")
    def _can_be_drawn(self) -> FigureEntry:
        if wrong := misdrawn(self.figure()):
            raise ValueError(wrong)
        return self


School = Literal["strength-first", "release-first", "drain-and-calm", "balanced"]


class SessionsEntry(Strict):
    start: int = Field(default=3, ge=1, le=7)
    target: int = Field(default=7, ge=1, le=7)


class RhythmEntry(Strict):
    """What the movement is called while it is done, and the seconds from one soft beat to the next; 0 for none."""

    word: Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=24)]
    every: float = Field(default=0, ge=0, le=10)


class EasierEntry(Strict):
    """The eased version as an exercise of its own. What is left out is that of the card, figure and marks too; ``dose`` is a
    dose line."""

    cues: tuple[Text, ...] = Field(min_length=2)
    dose: str
    figure: FigureEntry | None = None
    directions: tuple[DirectionEntry | Way, ...] | None = None
    position: Text | None = None
    needs: tuple[Text, ...] | None = None
    pressure: Literal["none", "feather", "light", "firm"] | None = None
    felt_at: Text | None = None
    marks: tuple[Mark, ...] | None = None
    regions: tuple[Text, ...] | None = None


Hash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
MOST_CLIP_S = 60.0


class ClipEntry(Strict):
    """A short clip of an exercise of one's own, kept by the SHA-256 of its file."""

    hash: Hash
    seconds: float = Field(gt=0, le=MOST_CLIP_S + 0.5)
    sound: bool = False


class PictureEntry(Strict):
    """A picture of an exercise of one's own, kept by the SHA-256 of its file."""

    hash: Hash


class ExerciseEntry(Strict):
    """One card. The family is the name of the file that it stands in."""

    id: Slug
    name: Text
    stage: Literal["prepare", "loosen", "wake", "work", "release", "drain", "close", "through the day"]
    purpose: Text
    concerns: tuple[Slug, ...] = Field(min_length=1)
    prime_movers: tuple[Slug, ...] = ()
    helpers: tuple[Slug, ...] = ()
    phases: tuple[PhaseEntry, ...] = Field(min_length=1, max_length=6)
    rest: float = Field(ge=0, le=120)
    sides: Literal["together", "each", "weak"]
    start: str
    target: str
    axes: tuple[Literal["hold", "reps", "sets", "sessions"], ...] = Field(min_length=1)
    ceiling: CeilingEntry
    setup: float = Field(default=0, ge=0, le=120)
    settle: float = Field(default=0, ge=0, le=120)
    pressure: Literal["none", "feather", "light", "firm"] = "none"
    needs: tuple[Text, ...] = ()
    position: Text
    foundation: bool = False
    after: tuple[Slug, ...] = ()
    cues: tuple[Text, ...] = Field(min_length=2)
    felt_at: Text
    faults: tuple[FaultEntry, ...] = Field(min_length=1)
    eased: Text
    stop_rule: Text
    care: tuple[Text, ...] = Field(default=(), max_length=4)
    schools: dict[School, Text] = {}
    figure: FigureEntry
    regions: tuple[Text, ...] = ()
    marks: tuple[Mark, ...] = ()
    stretches_lip: tuple[Literal["upper", "corners", "lower"], ...] = ()
    """Where a hand stretches the lips; it carries the mark ``lip-stretch`` by itself."""
    sessions: SessionsEntry = SessionsEntry()
    rhythm: RhythmEntry | None = None
    easier: EasierEntry | None = None
    longest_hold: float | None = Field(default=None, gt=0, le=60)
    """Seconds that no hold of it may pass, whatever the ceiling allows."""
    longest_window: float | None = Field(default=None, gt=0, le=600)
    """Seconds by the clock that no fixed window of it may pass, at any count pace."""
    clip: ClipEntry | None = None
    picture: PictureEntry | None = None
    withdrawn: Text | None = None
    """Why it is not practised any more. It stays readable in programs that have it."""
    rewritten: Text | None = None
    """Why an earlier text of it is not practised any more, where a program still holds that one."""
