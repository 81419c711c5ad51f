"""Exercise cards and the pulse train of a dose."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from dimbo.core.exercises.figure import View

from .wire import Wire


class Named(Wire):
    id: str
    name: str


class TrainPhaseView(Wire):
    kind: str
    reps: int
    lead_s: float
    hold_s: float
    release_s: float
    directions: int


class TrainView(Wire):
    phases: list[TrainPhaseView]
    runs: list[Literal["right", "left", "both"]]
    rest_s: float
    total_s: float
    left_phases: list[TrainPhaseView] | None = None
    """Those of the runs of the left side, where they are not the same."""


class CautionView(Wire):
    """What a caution of the table would do to the exercise, if the client had it."""

    about: str
    text: str
    effect: Literal["lock", "ease", "remind"]


class FaultView(Wire):
    fault: str
    remedy: str


class RungView(Wire):
    line: str
    train: TrainView
    sessions: int
    steep: bool


class HandView(Wire):
    tool: str
    path: list[str]
    does: str
    other: bool


class FigureView(Wire):
    """How an exercise is done; the interface draws it on the face map. ``words`` say the same."""

    view: View
    mouth: list[str]
    eyes: list[str]
    brows: list[str]
    head: list[str]
    hands: list[HandView]
    moves: list[list[str]]
    one_side: bool
    breath: bool
    """Whether the breath is drawn."""
    words: list[str]


class ClipView(Wire):
    """A clip of an own exercise, to be had by its hash."""

    hash: str
    seconds: float
    sound: bool


class SchoolNote(Wire):
    school: str
    note: str


class CardBrief(Wire):
    """What the place of exercises finds a card by."""

    id: str
    name: str
    family: str
    stage: str
    purpose: str
    concerns: list[Named]
    prime_movers: list[Named]
    helpers: list[Named]
    regions: list[str]
    needs: list[str]
    schools: list[str]
    """Approaches that speak of it, or forbid it."""
    forbidden_by: list[str]
    foundation: bool
    sides: str
    own: bool
    retired: bool


class EasierView(Wire):
    """The eased version as it is practised."""

    dose: str
    cues: list[str]


class CardView(CardBrief):
    start_line: str
    target_line: str
    rungs: list[RungView]
    axes: list[str]
    ceiling_s: float
    ceiling_basis: str
    ceiling_why: str
    """Why a day holds no more of it."""
    pressure: str
    position: str
    after: list[Named]
    cues: list[str]
    felt_at: str
    faults: list[FaultView]
    eased: str
    easier: EasierView | None
    stop_rule: str
    care: list[str]
    school_notes: list[SchoolNote]
    cautions: list[CautionView]
    figure: FigureView
    clip: ClipView | None
    picture: str
    """The hash of its picture; empty for none."""
    version: int


class MuscleView(Wire):
    id: str
    name: str
    region: str
    action: str


class FigureTerms(Wire):
    """What a figure is made of, each with the words for it: places by view, what touches, what it does, states of the face."""

    places: dict[View, dict[str, str]]
    tools: dict[str, str]
    does: dict[str, str]
    mouth: dict[str, str]
    eyes: dict[str, str]
    brows: dict[str, str]
    head: dict[str, str]


class CatalogueView(Wire):
    cards: list[CardBrief]
    concerns: list[Named]
    muscles: list[MuscleView]
    approaches: list[Named]
    needs: list[str]
    families: list[str]
    stages: list[str]
    marks: list[Named]
    """Moves of head, breath, mouth and lips that some cautions hold."""
    figure: FigureTerms


class WrittenView(Wire):
    """A card as it is written, to copy or to edit."""

    id: str
    family: str
    entry: dict[str, object]
    version: int
    retired: bool
    saved_by: str | None


class WrittenRequest(Wire):
    family: Annotated[str, Field(max_length=40)]
    entry: dict[str, object]
    base_version: int = 0


class EntryFault(Wire):
    """What still stands against keeping an exercise: the field, and a sentence that says what to do."""

    field: str
    words: str


class MediumView(Wire):
    """A clip or picture that was kept. ``seconds`` is 0 for a picture."""

    hash: str
    seconds: float
    sound: bool


class CreatedExercise(Wire):
    id: str


class RetireRequest(Wire):
    retired: bool
