"""Sittings on the wire. Points are pixels of the stored picture, x right and y down; readings in their unit."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .practice import AnswerIn, AskedIn, ChangeQuestion, SignView
from .wire import Wire

Verdict = Literal["beyond noise", "within noise", "not comparable"]
Side = Literal["right", "left"]
Weight = Literal["stop", "watch", "fine", "remark"]
Place = Annotated[tuple[float, float], Field(description="x, y in pixels")]


class ReadingView(Wire):
    id: str
    name: str
    definition: str
    unit: str
    view: str
    needs: list[str]
    """The points it is measured between."""
    region: Literal["brows", "eyes", "nose", "mouth", "jaw and chin"]
    paired: bool
    value: float
    """For a pair, left minus right."""
    right: float | None
    left: float | None
    index: float | None
    ratio: float | None
    band: float
    shots: list[float]
    shot_sd: float
    sitting_sd: float
    method_sd: float
    """How far the method itself is off from face to face; part of the band, and gone between two sittings of one face."""
    care: str
    """What whoever reads it must know of the method; empty where it follows a change well."""
    provisional: bool
    real: bool
    smaller_side: Side | None
    sentence: str


class SideChangeView(Wire):
    side: Side
    amount: float
    mdc: float
    beyond: bool


class StartView(Wire):
    """What a later sitting is held against: the earlier one, or (``both``) a double baseline as one."""

    value: float
    right: float | None
    left: float | None
    band: float
    shots: list[float]
    both: bool


class ChangeView(Wire):
    id: str
    name: str
    unit: str
    paired: bool
    before: float
    after: float
    amount: float
    mdc: float
    holm_mdc: float | None
    p: float | None
    verdict: Verdict
    direction: str | None
    primary: bool
    reason: str
    sentence: str
    sides: list[SideChangeView]
    start: StartView | None


class ShotCheckView(Wire):
    id: str
    name: str
    found: str
    weight: Weight
    change: str
    why: str
    """The reason for the threshold."""


class ProfileReadingView(Wire):
    id: str
    name: str
    definition: str
    unit: str
    value: float | None
    again: float | None
    """Of the same picture, its points set a second time without seeing the first."""
    band: float
    """Half width of the 95 % band, for the setting of the points alone."""
    pictures: int
    """How many pictures of this practice were set twice; with few the shipped noise counts for the most."""
    needs: list[str]
    lines: list[list[str]]


class ProfileChangeView(Wire):
    """A profile's reading of two sittings."""

    id: str
    name: str
    view: str
    view_name: str
    unit: str
    before: float
    after: float
    mdc: float
    beyond: bool
    sentence: str


class PhotographView(Wire):
    id: UUID
    sitting_id: UUID
    view: str
    view_name: str
    confirmed: bool
    suggested: str | None
    source_name: str
    width: int
    height: int
    taken_at: datetime | None
    taken_told: str
    state: Literal["waiting", "working", "measured", "refused"]
    step: str
    refusal: str
    method: str | None
    current_method: bool
    flipped: bool
    asks_flip: bool
    asks_way: bool
    """Whether it is the first and nobody has said yet which way round it is."""
    asks_person: bool
    same_person: bool | None
    standing: Literal["accepted", "accepted with a note", "to be retaken"] | None
    quality: list[ShotCheckView]
    points: dict[str, list[float]]
    hand: dict[str, list[float]]
    unmeasured: dict[str, str]
    profile: list[ProfileReadingView]
    suggested_points: dict[str, list[float]]
    """Where the missing points of a profile may be, by an earlier picture of the same side."""


class AsymmetryView(Wire):
    percent: float
    shares: dict[str, float]


class SittingRow(Wire):
    id: UUID
    taken_on: date
    kind: Literal["baseline", "follow-up"]
    note: str
    how: str
    hint: str
    own_note: str
    """What the client wrote beside it."""
    asked_views: list[str]
    handed_in_at: datetime | None
    photographs: list[PhotographView]
    readings: list[ReadingView]
    asymmetry: AsymmetryView | None


class SittingBrief(Wire):
    """A sitting on the course: its cover and the readings that get a headline."""

    id: UUID
    taken_on: date
    kind: Literal["baseline", "follow-up"]
    photographs: list[UUID]
    readings: list[ReadingView]


class SittingNoteView(Wire):
    id: str
    weight: Weight
    text: str
    action: str
    photograph: str


class TrendView(Wire):
    id: str
    name: str
    unit: str
    per_four_weeks: float
    low: float
    high: float
    verdict: Verdict


class BiasView(Wire):
    reading: str
    take: Literal["on", "keep", "off"]
    side: Side | None
    because: str


class ProtocolView(Wire):
    id: str
    name: str
    say: str
    shots: int
    face: str
    use: Literal["measured", "by hand", "looked at"]


class PointView(Wire):
    id: str
    words: str
    side: Side | None


class ReadingChoice(Wire):
    id: str
    name: str
    definition: str


class ByHandReading(Wire):
    """A reading that is taken only between points set by hand."""

    id: str
    name: str
    definition: str
    view: str
    needs: list[str]


class ComparisonView(Wire):
    before: UUID | None
    after: UUID | None
    changes: list[ChangeView]
    notes: list[SittingNoteView]
    bias: list[BiasView]


class SittingsView(Wire):
    client_id: UUID
    client_name: str
    may_keep: bool
    """Whether the client has agreed that photographs are kept."""
    may_compare: bool
    """Whether the client has agreed to a comparison picture."""
    consent: str
    sittings: list[SittingRow]
    comparison: ComparisonView
    primary: list[str]
    primary_locked: bool
    double_baseline: bool
    ruler_mm: float | None
    trends: list[TrendView]
    outdated: int
    protocol: list[ProtocolView]
    points: list[PointView]
    profile_points: list[PointView]
    choices: list[ReadingChoice]
    by_hand: list[ByHandReading]
    profile_changes: list[ProfileChangeView]


class PreviewView(Wire):
    """What one sitting says with points moved, and what changed then."""

    readings: list[ReadingView]
    changes: list[ChangeView]
    profile: list[ProfileReadingView]


class NewSitting(Wire):
    taken_on: date | None = None
    """The client's own day when absent."""
    kind: str = ""
    asked_views: list[str] = Field(default_factory=lambda: ["front-neutral"])
    how: str = ""
    hint: Annotated[str, Field(max_length=200)] = ""
    note: Annotated[str, Field(max_length=2000)] = ""


class MovesIn(Wire):
    moves: dict[str, Place | None]
    before: UUID | None = None


class PointsIn(Wire):
    moves: dict[str, Place | None]
    again: bool = False
    """Whether a profile's points are set a second time, unseen, to learn how far two settings differ."""


class PhotographAnswer(Wire):
    view: str | None = None
    flipped: bool | None = None
    same_person: bool | None = None
    taken_at: datetime | None = None


class PrimaryIn(Wire):
    readings: Annotated[list[str], Field(max_length=23)]


class UploadState(Wire):
    received: int


class Count(Wire):
    count: int


class SittingLink(Wire):
    path: str


class TakingShot(Wire):
    id: UUID
    view: str
    confirmed: bool
    source_name: str
    state: Literal["waiting", "working", "measured", "refused"]
    step: str
    refusal: str
    standing: Literal["accepted", "accepted with a note", "to be retaken"] | None
    change: str
    """The one most useful instruction, if there is one."""


class HealthAsked(Wire):
    """That health is asked before the first photograph of the day, and what a client can tell."""

    because: str
    signs: list[SignView]
    changes: list[ChangeQuestion]
    regions: list[str]


class HealthTold(Wire):
    entry: Annotated[AnswerIn | AskedIn, Field(discriminator="kind")]


class LiveLimits(Wire):
    """What the picture of the camera is held against while nobody has pressed yet."""

    dark: float
    """Mean brightness, 0 to 255, below which it is too dark."""
    bright: float
    sides: float
    """Share by which one side may be brighter than the other."""
    tilt_deg: float


class TakingView(Wire):
    sitting_id: UUID
    live: LiveLimits
    client_id: UUID
    client_name: str
    practice_name: str
    taken_on: date
    kind: Literal["baseline", "follow-up"]
    hint: str
    may_keep: bool
    consent: str
    views: list[ProtocolView]
    setting: list[str]
    shots: list[TakingShot]
    ghosts: dict[str, UUID]
    baseline_clock: str | None
    stand_in_camera: bool
    handed_in: bool
    health: HealthAsked | None
    halt: str
    """What a client who has told a sudden sign is to do first; empty otherwise."""


class NewRound(Wire):
    kind: Literal["score", "better of two"]
    concern: str
    rater: Literal["coach", "second rater", "client"]
    before: UUID
    after: UUID
    view: str = "front-neutral"


class RoundAhead(Wire):
    """What a round would be, before it begins."""

    earlier: int
    """Photographs of the earlier sitting."""
    later: int
    looks: int
    repeats: int
    """How many of the looks come a second time."""
    seconds: int
    """How long it takes by and large."""
    rest_every: int
    """After so many looks a rest is offered."""


class LookView(Wire):
    round_id: UUID
    kind: Literal["score", "better of two"]
    concern: str
    place: int
    of: int
    flipped: list[bool]
    """Of each photograph of the look, whether its file is mirrored and is shown turned round."""


class RatingIn(Wire):
    place: int
    value: int


class RatedChangeView(Wire):
    before: float
    after: float
    amount: float
    low: float
    high: float
    beyond: bool


class PreferenceView(Wire):
    later: int
    of: int
    low: float
    high: float
    beyond: bool
    """Whether it is beyond chance."""


class RoundView(Wire):
    id: UUID
    kind: Literal["score", "better of two"]
    concern: str
    rater: str
    begun_at: datetime
    finished_at: datetime | None
    answered: int
    of: int
    change: RatedChangeView | None
    preference: PreferenceView | None
    kappa: float | None
    agreement: str
    """The same in words."""
    repeats: int
