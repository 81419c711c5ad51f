"""The client's days, and what a device hands in."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .exercises import ClipView, FigureView, TrainView
from .intake import ConsentTextView
from .messages import MessageView
from .wire import Wire

PartOfDay = Literal["morning", "evening"]
OneSide = Literal["right", "left"]
Effort = Annotated[int | None, Field(ge=0, le=10)]


class CueView(Wire):
    start_s: float
    length_s: float
    beat: str
    item: int
    side: OneSide | None
    set_number: int
    sets: int
    rep: int
    reps: int
    phase: int
    direction: str
    counts: bool
    """Whether its time counts toward the daily ceiling of its exercise."""
    loads: bool
    """Whether its time is contraction of the exercise's muscles."""
    word: str
    """What is done now, in a word: Hold, Stroke, Wink, Breathe in."""
    breath: Literal["in", "out"] | None
    """The way the breath goes, where breathing paces the exercise."""
    with_breath: bool
    """Whether it is work that goes with the breath, and not breathing alone."""
    works: OneSide | None
    """The one side that works now: whose turn it is, or that the direction loads; none for both."""


class PlannedCounts(Wire):
    """Sets, and repetitions a set."""

    sets: int
    reps: int


class TaughtVersion(Wire):
    """What somebody reads, sees and hears of an exercise in one version."""

    name: str
    dose: str
    """In words: who practises reads no dose line."""
    seconds: float
    cues: list[str]
    key_cue: str
    hands: str
    """Where the hands go, in a few words; empty when no hand is on the face."""
    hands_long: str
    """The same at length, for the first time."""
    places: list[str]
    """The places of the face along which the first hand goes, in words."""
    beat_s: float
    """Seconds from one soft beat of its movement to the next; 0 for none."""
    felt_at: str
    needs: list[str]
    position: str
    in_eased_version: bool
    """Whether this is the eased version: cues, figure and dose are that version's own."""
    figure: FigureView
    clip: ClipView | None
    """A clip of the coach's that shows it; none for most."""
    picture: str
    """The hash of a picture of the coach's; empty for most."""
    train: TrainView


class EasedTrack(TaughtVersion):
    """The eased version of an item, laid behind the end of the session's timeline, where its cues are."""

    item: int
    start_s: float


class SessionItem(TaughtVersion):
    assignment_id: UUID
    line_id: str
    exercise: str
    family: str
    stage: str
    first_time: bool
    """Never done before: everything is said; later the key cue is enough."""
    prepare: list[str]
    """What the change-over to it asks for."""
    regions: list[str]
    """Regions of the face that it works or touches."""
    tender: str
    """Where it was held longer last time; empty when it was not."""
    may_stay: bool
    """Whether it can be held longer: hands rest on or knead a place, and nothing contracts."""
    eased: str
    """How to do it easier, in words; empty when this is its eased version."""
    eased_for: str
    """The cautions because of which the eased version is done; empty when it is done as written."""
    stop_rule: str
    note: str
    """What the coach says about it."""
    muscles: dict[str, float]
    """What it loads: muscle id to the share of the work that it has, 1 a prime mover, 0.5 a helper; ``jaw-range`` for the jaw
    joint at the end of its range."""
    counts: dict[OneSide, PlannedCounts]
    """What the dose plans on each side that it works, for telling practice without the player."""
    spare_s: dict[OneSide, float]
    """Seconds that may still be repeated today before the daily ceiling is reached, by side."""
    spare_muscles: dict[str, dict[OneSide, float]]
    """The same for each of its muscles, in seconds of contraction."""
    strength: bool
    """Whether it rests on a day of soreness."""
    stops_with: list[str]
    """Exercises of the session that wait together with it when it hurts."""


class PlayedPart(Wire):
    """Which session of which plan something is."""

    assignment_id: UUID
    plan: Annotated[int, Field(ge=1, le=32000)]
    week: Annotated[int, Field(ge=1, le=60)]
    place: Annotated[int, Field(ge=0, le=14)]
    back: Annotated[int, Field(ge=0, le=5)] = 0


class LeftOutOfSession(Wire):
    name: str
    reason: str


class SessionView(Wire):
    key: str
    part: PartOfDay
    title: str
    seconds: float
    pace_s: float
    items: list[SessionItem]
    cues: list[CueView]
    tracks: list[EasedTrack]
    """Eased versions that practice may change over to; their cues follow in ``eased_cues``."""
    eased_cues: list[CueView]
    left_out: list[LeftOutOfSession]
    changed: list[str]
    """What is new against the session practised last, in sentences."""


class HabitView(Wire):
    """A habit task of the day, and how often it was done."""

    assignment_id: UUID
    exercise_id: str
    name: str
    often: str
    times: int
    say: str
    count: int


class BegunView(Wire):
    """A session that was begun: its log, where it goes on in the timeline, and which items are done."""

    log: UUID
    at_s: float
    done: list[int]


class DuePartView(Wire):
    part: PartOfDay
    at: str | None
    """Time of day, as 07:30."""
    session: str | None
    """Key of its session; none while nothing may be practised."""
    parts: list[PlayedPart]
    done_at: datetime | None
    """When it was done; none while it is due, also when it was mostly left out."""
    done_share: float
    """Share of it that was done, 0 to 1, without what hurt."""
    begun: BegunView | None
    """The part that was handed in of a session that is not done, so that it can be gone on with."""


class DayView(Wire):
    day: date
    opens_at: datetime
    closes_at: datetime
    parts: list[DuePartView]
    habits: list[HabitView]
    paused: bool


class SoreView(Wire):
    muscle: Annotated[str, Field(max_length=60)]
    side: OneSide


class CheckInView(Wire):
    soreness: int
    places: list[SoreView]


class MuscleName(Wire):
    id: str
    name: str


class HealthQuestion(Wire):
    """A caution as it is asked, and what is asked with a yes."""

    id: str
    name: str
    group: str
    ask: str
    text: str
    dated: bool
    noted_regions: bool
    locks: bool


class SignView(HealthQuestion):
    """A sudden sign, with what is said once it was told."""

    stop_words: str
    same_day: bool
    kin: str
    """What it concerns, as a heading: Eyes; Face, arm, speech."""


class ChangeQuestion(HealthQuestion):
    """A condition, and the exercises of these days that wait when it is told."""

    reaches: list[str]


class AskAgain(Wire):
    because: str
    first: bool


class DaysView(Wire):
    """All that a client's phone needs for today and the days that it may have to do without a connection."""

    made_at: datetime
    name: str
    practice_name: str
    coach_name: str
    time_zone: str
    today: date
    day_closes: int
    """Hour at which a day closes, in the client's zone."""
    evening_from: int
    """Hour from which the evening's session is offered first."""
    done_from: float
    """Share of a session from which it passes for done today."""
    titles: list[str]
    days: list[DayView]
    sessions: dict[str, SessionView]
    halt: str
    """Why nothing may be practised now; empty when it may."""
    questions: list[HealthQuestion]
    """Asked before practice starts, the sudden signs first; without them nothing is compiled."""
    no_age: bool
    """The year of birth must be told before practice starts."""
    ask: AskAgain | None
    """That health is to be asked again; practice may have to wait for it."""
    changes: list[ChangeQuestion]
    """Every condition that can be told when something has changed, besides the sudden signs."""
    at_place: dict[str, list[str]]
    """Places at which pain stops more than the exercise: the exercises of these days that move the joint there."""
    grave_places: list[str]
    grave_level: int
    """Pain at one of these places, or from this level of 10, ends the session."""
    sore_above: float
    """Soreness above it leaves strength out on the day on which it is told."""
    emergency_number: str
    """As the practice has it; empty for none."""
    lenses: bool
    """Whether contact lenses are worn, so that they are taken out before eye work."""
    to_agree: ConsentTextView | None
    """The consent to practise, where it must be given first."""
    signs: list[SignView]
    """The sudden signs, so that one can be told at any moment, also without a connection."""
    regions: list[str]
    """Regions of the face that an answer may name."""
    notes: list[str]
    next_day: date | None
    done: float
    planned: int
    missed: int
    check_in_about: date | None
    checked_in: CheckInView | None
    photo_due: date | None
    messages: list[MessageView]
    muscles: list[MuscleName]


class StretchIn(Wire):
    """A stretch of the session's timeline that was played, and when it began by the device's clock."""

    from_s: Annotated[float, Field(ge=0, le=4 * 3600)]
    to_s: Annotated[float, Field(ge=0, le=4 * 3600)]
    at: datetime


class CountsIn(Wire):
    """Sets, and repetitions a set."""

    sets: Annotated[int, Field(ge=0, le=20)]
    reps: Annotated[int, Field(ge=0, le=200)]


class StayIn(Wire):
    """A release or press that was held longer, at a tender spot."""

    at_s: Annotated[float, Field(ge=0, le=4 * 3600)]
    seconds: Annotated[float, Field(gt=0, le=600)]
    side: OneSide | None = None
    where: Annotated[str, Field(max_length=120)] = ""


class ItemIn(Wire):
    assignment_id: UUID
    line_id: Annotated[str, Field(max_length=40)]
    hurt: bool = False
    pain_side: Literal["right", "left", "both"] | None = None
    pain_level: Effort = None
    pain_where: Annotated[str, Field(max_length=200)] = ""
    pain_since: Annotated[str, Field(max_length=60)] = ""
    stays: Annotated[list[StayIn], Field(max_length=60, default_factory=list)]
    eased: bool = False
    skip_reason: Annotated[str, Field(max_length=200)] = ""
    counts: dict[OneSide, CountsIn] | None = None
    """For practice without the player."""
    in_eased_version: bool = False


class LogIn(Wire):
    kind: Literal["log"]
    id: UUID
    day: date
    part: PartOfDay
    source: Literal["player", "manual"]
    parts: Annotated[list[PlayedPart], Field(min_length=1, max_length=4)]
    items: Annotated[list[ItemIn], Field(min_length=1, max_length=240)]
    stretches: Annotated[list[StretchIn], Field(max_length=400, default_factory=list)]
    started_at: datetime
    ended_at: datetime
    effort: Effort = None
    form: Literal["yes", "partly", "no"] | None = None
    note: Annotated[str, Field(max_length=2000)] = ""
    replaces: UUID | None = None
    continues: UUID | None = None
    """The log of the first part of this session, with which it becomes one."""


class CheckInIn(Wire):
    kind: Literal["check-in"]
    id: UUID
    soreness: Annotated[int, Field(ge=0, le=10)]
    places: Annotated[list[SoreView], Field(max_length=60, default_factory=list)]
    said_at: datetime


class TickIn(Wire):
    kind: Literal["habit"]
    id: UUID
    assignment_id: UUID
    exercise_id: Annotated[str, Field(max_length=60)]
    amount: Literal[1, -1]
    said_at: datetime


class MessageIn(Wire):
    kind: Literal["message"]
    id: UUID
    text: Annotated[str, Field(min_length=1, max_length=2000)]
    about_day: date | None = None
    exercise_id: Annotated[str | None, Field(max_length=60)] = None
    written_at: datetime


class AnswerIn(Wire):
    """An answer to a caution: an open question, something that has changed, a sudden sign."""

    kind: Literal["answer"]
    id: UUID
    caution: Annotated[str, Field(max_length=60)]
    answer: Literal["yes", "no", "unsure"]
    regions: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=30, default_factory=list)]
    event_on: date | None = None
    said_at: datetime


class AgreeIn(Wire):
    """The client's word on practising with guidance."""

    kind: Literal["agree"]
    id: UUID
    given: bool
    version: int
    said_at: datetime


class BornIn(Wire):
    """The client's year of birth."""

    kind: Literal["born"]
    id: UUID
    year: int
    said_at: datetime


class AskedIn(Wire):
    """That the client was asked again, and nothing has changed in their health."""

    kind: Literal["asked"]
    id: UUID
    said_at: datetime


Entry = Annotated[LogIn | CheckInIn | TickIn | MessageIn | AnswerIn | AskedIn | BornIn | AgreeIn, Field(discriminator="kind")]


class HandInRequest(Wire):
    """What waited on a device, in the order in which it was made there."""

    sent_at: datetime
    """The device's clock as it sends; it tells how far that clock is off."""
    entries: Annotated[list[Entry], Field(min_length=1, max_length=100)]


class HandedIn(Wire):
    id: UUID
    state: Literal["kept", "had", "refused", "later"]
    """``had``: this very entry had arrived before. ``later``: it could not be taken now and is to be sent again."""
    said: list[str]
    """For the client: cautions, corrections, or why it was refused."""


class HandInAnswer(Wire):
    results: list[HandedIn]


class SideView(Wire):
    side: OneSide
    planned_sets: int
    done_sets: int
    planned_reps: int
    done_reps: int
    planned_hold_s: float
    done_hold_s: float
    planned_s: float
    done_s: float


class LoggedItem(Wire):
    exercise_id: str
    name: str
    dose: str
    outcome: Literal["done", "partly", "skipped", "hurt"]
    planned_s: float
    done_s: float
    eased: bool
    skip_reason: str
    pauses: int
    paused_s: float
    pain_side: str | None
    pain_level: int | None
    pain_where: str
    pain_since: str
    stays: list[StayIn]
    sides: list[SideView]


class LoggedSession(Wire):
    """A log as it was kept, exercise by exercise and side by side."""

    id: UUID
    day: date
    part: PartOfDay
    started_at: datetime
    ended_at: datetime
    source: Literal["player", "manual"]
    effort: int | None
    form: str | None
    note: str
    pauses: int
    paused_s: float
    clock_off_s: float
    named_day: date | None
    stands: bool
    """False when a correction, or the same session from another device, stands in its place."""
    items: list[LoggedItem]
