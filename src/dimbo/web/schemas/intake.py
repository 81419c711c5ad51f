"""The intake: its tables, what was entered, and what Dimbo concludes."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field

from dimbo.work.intake.self_filling import Draft

from .exercises import Named
from .wire import Wire


class MuscleView(Wire):
    id: str
    name: str
    region: str
    action: str


class ConcernTableView(Wire):
    id: str
    name: str
    paired: bool
    muscles: list[str]
    also: list[str]
    levels: list[str]
    """Words for severity 1 to 4."""


class QuestionView(Wire):
    id: str
    ask: str
    source: str | None


class CauseView(Wire):
    id: str
    name: str
    because: str
    helps: str
    families: list[str]
    few: str
    """Why no more than one or two families help, where they are so few."""
    muscles: list[str]
    avoid: str
    habits: list[str]


class ReasoningView(Wire):
    concern: str
    questions: list[QuestionView]
    causes: list[CauseView]


class SideTestView(Wire):
    id: str
    name: str
    group: str
    ask: str
    steps: list[str]
    say: str
    answers: list[str]
    measured: bool
    """Answered by the newest measured sitting, never by hand."""


class CautionRuleView(Wire):
    id: str
    name: str
    group: str
    ask: str
    text: str
    effect: Literal["lock", "ease", "remind"]
    cleared_by: str
    roles: tuple[str, ...]
    """Whose word releases it."""
    lasts_months: int
    says: str
    dated: bool
    noted_regions: bool
    same_day: bool


class ConsentTextView(Wire):
    id: str
    name: str
    version: int
    months: int
    text: str
    withdrawn: str
    names: str
    """Who must be named with a yes; empty for nobody."""
    names_colleague: bool
    """Whether a coach of the practice is chosen, by account."""


class IntakeTablesView(Wire):
    concerns: list[ConcernTableView]
    reasoning: list[ReasoningView]
    tests: list[SideTestView]
    cautions: list[CautionRuleView]
    consents: list[ConsentTextView]
    regions: list[str]
    muscles: list[MuscleView]


class ProfileView(Wire):
    name: str
    email: str
    phone: str
    birth_year: int | None
    time_zone: str
    minutes: int | None
    days: list[int]
    goals: str
    agreed: list[str]
    status: str


class RatingView(Wire):
    right: int
    left: int


class CautionAnswerView(Wire):
    answer: Literal["yes", "no", "unsure"]
    regions: list[str]
    event_on: date | None
    note: str


class ResultView(Wire):
    answer: str
    noted_on: date
    measured: bool


class ClearanceView(Wire):
    caution: str
    by_name: str
    role: str
    given_on: date
    says: str
    regions: list[str]
    valid_from: date | None
    until: date | None


class HeldView(Wire):
    caution: str
    name: str
    group: str
    state: str
    effect: Literal["lock", "ease", "remind"] | None
    locked: bool
    reason: str
    remedy: str


class RegionStateView(Wire):
    region: str
    effect: Literal["lock", "ease", "remind"]
    partial: bool
    cautions: list[str]


class ExerciseVerdictView(Wire):
    id: str
    name: str
    effect: Literal["lock", "ease", "remind"]
    because: list[str]


class WeighedView(Wire):
    cause: str
    name: str
    score: int
    steps: list[str]


class SuggestionView(Wire):
    concern: str
    name: str
    paired: bool
    right: int
    left: int
    summary: str
    clear: bool
    ranked: list[WeighedView]
    cause: CauseView
    chosen: bool
    differs: bool
    derived: dict[str, str]
    """Questions that were answered elsewhere, with the answer."""


class FamilyAdviceView(Wire):
    family: str
    weight: int
    concerns: list[str]
    muscles: list[Named]
    locked: list[str]


class TopicView(Wire):
    id: str
    side: Literal["right", "left"] | None
    conflict: str | None


class HabitAskedView(Wire):
    test: str
    text: str
    times: int
    agreed: bool


class AskView(Wire):
    place: str
    key: str
    text: str
    why: str


class ConclusionsView(Wire):
    urgent: str
    """What is said before anything else; empty when no urgent sign stands."""
    held: list[HeldView]
    regions: list[RegionStateView]
    holds: dict[str, Literal["lock", "ease"]]
    """Muscles whose region is locked, or eased (or locked in part)."""
    exercises: list[ExerciseVerdictView]
    concerns: list[SuggestionView]
    families: list[FamilyAdviceView]
    topics: list[TopicView]
    habits: list[HabitAskedView]
    ask_next: list[AskView]


class CoachName(Wire):
    id: UUID
    name: str


class ConsentView(Wire):
    id: str
    state: str
    in_force: bool
    settled: bool
    sentence: str
    until: date | None
    person: str
    account: UUID | None


class LinkState(Wire):
    """The newest self-intake: open, sent in, or reviewed."""

    state: Literal["open", "expired", "sent in", "reviewed"]
    expires_at: datetime
    submitted_at: datetime | None
    begun: bool


class IntakeView(Wire):
    client_id: UUID
    today: date
    opened_at: datetime | None
    opened_by: str | None
    finished_at: datetime | None
    profile: ProfileView
    concerns: list[str]
    """What the client came with, rated or not yet."""
    ratings: dict[str, RatingView]
    answers: dict[str, str]
    causes: dict[str, str]
    results: dict[str, ResultView]
    cautions: dict[str, CautionAnswerView]
    clearances: list[ClearanceView]
    consents: list[ConsentView]
    photographs: int
    coaches: list[CoachName]
    """Whom the client can name as second coach."""
    self_intake: LinkState | None
    conclusions: ConclusionsView


class EntryIn(Wire):
    id: UUID
    kind: Literal["rating", "answer", "cause", "test", "habit", "caution", "clearance", "profile", "note"]
    key: Annotated[str, Field(max_length=120)] = ""
    value: dict[str, Any]


class EntriesIn(Wire):
    entries: Annotated[list[EntryIn], Field(min_length=1, max_length=60)]


class TimelineEntry(Wire):
    seq: int
    at: datetime
    author: str
    source: str
    kind: str
    text: str


class ConsentChoice(Wire):
    given: bool
    version: int
    person: Annotated[str, Field(max_length=120)] = ""
    """The name of the guardian, where one agrees."""
    account: UUID | None = None
    """The second coach, where one is named."""
    how: Literal["", "in person", "in writing", "by telephone"] = ""
    """How a client told the coach who notes down a second coach."""
    deletes: int | None = None
    """How many photographs a withdrawal deletes; must be the number there are."""


class MyConsents(Wire):
    texts: list[ConsentTextView]
    consents: list[ConsentView]
    photographs: int
    coaches: list[CoachName]


class SelfIntakeLink(Wire):
    path: str
    days: int


class SelfIntakeView(Wire):
    client_name: str
    practice_name: str
    expires_at: datetime
    document: Draft
    revision: int
    tables: IntakeTablesView
    urgent: str
    coaches: list[CoachName]


class DraftIn(Wire):
    document: Draft
    base: int


class DraftSaved(Wire):
    revision: int
    urgent: str
    """What is said at once when an urgent sign was answered with yes."""


class ReviewItemView(Wire):
    id: str
    section: str
    label: str
    theirs: str
    current: str
    same: bool
    """Nothing is left to decide."""
    open: bool
    """A health question that the client did not answer."""
    remark: str


class AcceptIn(Wire):
    ids: Annotated[list[str], Field(min_length=1, max_length=200)]


class NotTakenView(Wire):
    """A field that could not be taken over, and why."""

    id: str
    message: str


class AcceptedView(Wire):
    intake: IntakeView
    refused: list[NotTakenView]


class SubmitIn(Wire):
    """``leaves`` names the health questions that the client leaves open on purpose."""

    leaves: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=200, default_factory=list)]


class ReasoningEntryView(Wire):
    """One entry of the reasoning table as a practice edits it; ``document`` is what docs/formats/intake-tables.md describes."""

    concern: str
    name: str
    edited_by: str | None
    edited_at: datetime | None
    document: dict[str, Any]


class ReasoningIn(Wire):
    document: dict[str, Any]


class ImportCell(Wire):
    """A cell: its line in the file, counted from 1, and its column from 0."""

    line: int
    column: int


class ImportSaid(Wire):
    """What a row is that was asked about."""

    line: int
    says: Literal["client", "leave"]


class ImportChoices(Wire):
    """What whoever imports has decided: fields by column (null has them guessed), whether short dates begin with the year, whether other
    columns become a note, cells and columns of unreadable cells that are left out, and what rows are that were asked about."""

    columns: Annotated[list[str] | None, Field(max_length=200)] = None
    year_first: bool | None = None
    rest: bool = False
    left_out: list[ImportCell] = Field(default_factory=list, max_length=20_000)
    left_out_columns: list[int] = Field(default_factory=list, max_length=200)
    rows: list[ImportSaid] = Field(default_factory=list, max_length=20_000)


class ImportField(Wire):
    id: str
    name: str


class ImportColumn(Wire):
    """``unreadable`` is how many of its cells cannot be read as its field."""

    header: str
    field: str
    samples: list[str]
    unreadable: int


class ImportRow(Wire):
    line: int
    fate: Literal["new", "here", "ask", "none", "wrong"]
    values: dict[str, str]
    remark: str


class ImportError(Wire):
    """``place`` is the column from 0, null for the whole row."""

    line: int
    column: str
    message: str
    place: int | None


class ImportPreview(Wire):
    encoding: str
    delimiter: str
    named_in: int
    """Line of the file that names the columns."""
    fields: list[ImportField]
    columns: list[ImportColumn]
    rows: list[ImportRow]
    new: int
    here: int
    ask: int
    none: int
    wrong: int
    asks_order: bool
    """Whether dates can be read in two ways until somebody says which."""
    errors: list[ImportError]
    more_errors: int
