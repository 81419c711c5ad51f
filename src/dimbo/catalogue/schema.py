"""The schema of the data files. docs/formats/catalogue.md tells the same in words."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

Text = Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=400)]
Slug = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_-]*$")]


Mark = Literal["head-back", "head-tilt", "head-down", "breath-hold", "wide-open", "lip-stretch"]


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class MuscleEntry(Strict):
    id: Slug
    name: Text
    region: Text
    action: Text
    against: tuple[Slug, ...] = ()


class DirectionEntry(Strict):
    name: Text
    loads: Literal["both", "left", "right"] = "both"


class PhaseEntry(Strict):
    """Usual lead and release in seconds; hold and repetitions stand in the dose lines."""

    kind: Literal["hold", "reps", "strokes", "circles", "press", "tap", "breaths"]
    lead: float = Field(default=0, ge=0, le=30)
    release: float = Field(default=0, ge=0, le=30)
    directions: tuple[DirectionEntry | Text, ...] = ()


class CeilingEntry(Strict):
    seconds: float = Field(gt=0, le=1200)
    basis: Literal["contraction", "hands-on"]


class FaultEntry(Strict):
    fault: Text
    remedy: Text


class CautionEntry(Strict):
    about: Text
    text: Text
    effect: Literal["lock", "ease", "remind"]


class SessionsEntry(Strict):
    start: int = Field(default=3, ge=1, le=7)
    target: int = Field(default=7, ge=1, le=7)


class ExerciseEntry(Strict):
    """One card. The family is the name of the file that it stands in."""

    id: Slug
    name: Text
    stage: Literal["prepare", "loosen", "wake", "work", "release", "drain", "close"]
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
    cautions: tuple[CautionEntry, ...] = ()
    regions: tuple[Text, ...] = ()
    marks: tuple[Mark, ...] = ()
    sessions: SessionsEntry = SessionsEntry()
