"""A program as a coach writes it: exercises as lines, weeks as columns, dose lines in the cells."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from enum import StrEnum

from dimbo.core.anatomy import Stage
from dimbo.core.exercises.approach import DEFAULT_APPROACH, approach
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose import DEFAULT_PACE_S, MAX_PACE_S, MIN_PACE_S, Dose
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.dose_tokens import DoseLineError

from .muscle_ceilings import JAW_RANGE_S, JAW_RANGE_WHY, MUSCLES

MAX_WEEKS, MAX_LINES, MAX_ROUNDS = 52, 60, 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """A number that a practice may set: its name, unit, bounds, and what it decides."""

    name: str
    unit: str
    least: float
    most: float
    about: str
    group: str = "Pace, times and limits"
    """The heading under which it stands."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Settings:
    """What a practice decides once; a client may have a count pace of their own."""

    pace_s: float = DEFAULT_PACE_S
    change_over_s: float = 8.0
    oil_change_over_s: float = 20.0
    """When oil comes in, or hands must be washed."""
    line_growth: float = 4 / 3
    """Most that the load of one line may grow from week to week, as a factor; about 30 %."""
    session_growth: float = 1.25
    budget_slack_s: float = 0.0
    """Seconds that a session may pass the client's minutes before the margin speaks."""
    early_weeks: float = 2
    """Weeks at the beginning in which a muscle rests a day between hard days."""
    balance: float = 3.0
    """How many times as much one side of a pair of opposing muscles may work before the margin speaks."""
    lighter: float = 0.6
    """Load of a lighter week, as a share of the week before it."""
    # Most contraction of a muscle of each region, a side and a day, in seconds; see muscle_ceilings.
    most_forehead_s: float = MUSCLES["forehead"].seconds
    most_brow_s: float = MUSCLES["brow"].seconds
    most_eye_s: float = MUSCLES["eye"].seconds
    most_nose_s: float = MUSCLES["nose"].seconds
    most_cheek_s: float = MUSCLES["cheek"].seconds
    most_mouth_s: float = MUSCLES["mouth"].seconds
    most_chin_s: float = MUSCLES["chin"].seconds
    most_jaw_s: float = MUSCLES["jaw"].seconds
    most_temple_s: float = MUSCLES["temple"].seconds
    most_under_the_chin_s: float = MUSCLES["under the chin"].seconds
    most_front_of_neck_s: float = MUSCLES["front of neck"].seconds
    most_mouth_floor_s: float = MUSCLES["mouth floor"].seconds
    most_neck_s: float = MUSCLES["neck"].seconds
    most_shoulder_s: float = MUSCLES["shoulder"].seconds
    most_ear_s: float = MUSCLES["ear"].seconds
    most_scalp_s: float = MUSCLES["scalp"].seconds
    most_jaw_range_s: float = JAW_RANGE_S
    strength_days: float = 5
    """Days of a week on which an exercise that contracts against something may be done."""


MUSCLE_GROUP = "Most work of one muscle on one side, a day"
LIMITS: Mapping[str, Limit] = (
    {
        "pace_s": Limit(
            name="Count pace",
            unit="s",
            least=MIN_PACE_S,
            most=MAX_PACE_S,
            about="How long one count lasts. Ten counts at 1.5 s are fifteen seconds.",
        ),
        "change_over_s": Limit(name="Change-over", unit="s", least=0, most=60, about="Time from one exercise to the next."),
        "oil_change_over_s": Limit(
            name="Change-over with oil or washing", unit="s", least=0, most=120, about="When oil comes in, or hands must be clean again."
        ),
        "line_growth": Limit(
            name="Rise of one exercise",
            unit="× a week",
            least=1.05,
            most=2,
            about="From one week to the next the load of a line rises by no more.",
        ),
        "session_growth": Limit(
            name="Rise of a session",
            unit="× a week",
            least=1.05,
            most=2,
            about="From one week to the next the contraction of a session rises by no more.",
        ),
        "budget_slack_s": Limit(
            name="Slack over the minutes",
            unit="s",
            least=0,
            most=300,
            about="How far a session may pass the client's minutes before the margin speaks.",
        ),
        "early_weeks": Limit(
            name="Early weeks", unit="weeks", least=0, most=8, about="In these weeks no muscle works hard on two days in a row."
        ),
        "balance": Limit(
            name="Balance of opposing muscles",
            unit="×",
            least=1.5,
            most=10,
            about="How many times as much one may work as the one against it.",
        ),
        "lighter": Limit(name="Lighter week", unit="× the week before", least=0.3, most=0.9, about="Load of a week that is made lighter."),
        "strength_days": Limit(
            name="Days of strength",
            unit="days a week",
            least=2,
            most=7,
            about="An exercise of strength is done on so many days of a week at most.",
        ),
    }
    | {
        m.setting: Limit(name=m.region.capitalize(), unit="s", least=30, most=900, about=m.why, group=MUSCLE_GROUP)
        for m in MUSCLES.values()
    }
    | {"most_jaw_range_s": Limit(name="Jaw joint at its range", unit="s", least=30, most=900, about=JAW_RANGE_WHY, group=MUSCLE_GROUP)}
)
"""Every setting of ``Settings`` with its bounds."""


def days_within(card: Card, wanted: tuple[float, ...], given: tuple[float, ...] | None, settings: Settings) -> tuple[float, ...] | None:
    """Days a week of a row, with what it rests: strength is ``wanted`` on so many days of each week at most; all else, and
    strength that asks for no more, keeps what was ``given``."""
    if not card.strength or max(wanted) <= settings.strength_days:
        return given
    return tuple(min(d, settings.strength_days) for d in wanted)


def checked_settings(values: Mapping[str, float]) -> Settings:
    """Settings from plain numbers. Raises ValueError that names the setting and its bounds."""
    known = {f.name for f in fields(Settings)}
    for key, value in values.items():
        if key not in known:
            raise ValueError(f"there is no setting “{key}”")
        limit = LIMITS[key]
        if not limit.least <= value <= limit.most:
            raise ValueError(f"{limit.name} must be {limit.least:g} to {limit.most:g} {limit.unit}, not {value:g}")
    return Settings(**values)


class When(StrEnum):
    """The session of the day that a line belongs to. A day has an evening session when a line asks for one."""

    MORNING = "morning"
    EVENING = "evening"
    BOTH = "both"

    @property
    def parts(self) -> tuple[When, ...]:
        return (When.MORNING, When.EVENING) if self is When.BOTH else (self,)


class Mode(StrEnum):
    """What moves a program from week to week: the calendar, or the weekly review."""

    CALENDAR = "calendar"
    EARNED = "earned"


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One exercise through all weeks. An empty cell means that the exercise rests that week."""

    id: str
    card: Card
    stage: Stage
    cells: tuple[str, ...]
    when: When = When.MORNING
    days: tuple[float, ...] | None = None
    """Days a week on which it is practised, week by week; None means every day of the program."""
    note: str = ""
    """What the coach says to the client about it."""
    why: str = ""
    """Why it is here, for the coach."""
    flows: bool = False
    """Whether it goes on from what comes before it without a change-over, as massage that is taught in one flow."""

    def days_in(self, week: int, sessions: float) -> float:
        """Days of a week (1-based) on which it is practised, of the program's ``sessions``."""
        return sessions if self.days is None else min(self.days[week - 1], sessions)


@dataclass(frozen=True, slots=True)
class Circuit:
    """Lines that stand together and are gone through several times."""

    lines: tuple[str, ...]
    rounds: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Program:
    """Lines in the order of practice; ``sessions`` (days a week) and every line's cells have one entry per week."""

    title: str
    weeks: int
    sessions: tuple[float, ...]
    """Days a week: 1 to 7, or 3.5 for every other day."""
    minutes: int | None
    """Minutes a session that the client really has; None if nobody asked."""
    lines: tuple[Line, ...]
    mode: Mode = Mode.CALENDAR
    lighter: frozenset[int] = frozenset()
    """Weeks that were made lighter."""
    circuits: tuple[Circuit, ...] = ()
    expectations: str = ""
    """What the client is told about when a change can be looked for."""
    approach: str = DEFAULT_APPROACH
    review: tuple[tuple[str, float], ...] = ()
    """The program's own thresholds of the weekly review, by name."""

    def __post_init__(self) -> None:
        if not 1 <= self.weeks <= MAX_WEEKS:
            raise ValueError(f"a program has 1 to {MAX_WEEKS} weeks, not {self.weeks}")
        if len(self.lines) > MAX_LINES:
            raise ValueError(f"a program has at most {MAX_LINES} lines, not {len(self.lines)}")
        if len(self.sessions) != self.weeks or any(len(line.cells) != self.weeks for line in self.lines):
            raise ValueError("every row needs one entry per week")
        if any(line.days is not None and len(line.days) != self.weeks for line in self.lines):
            raise ValueError("the days of a row need one entry per week")
        approach(self.approach)
        order = [line.id for line in self.lines]
        for circuit in self.circuits:
            if not 2 <= circuit.rounds <= MAX_ROUNDS:
                raise ValueError(f"a circuit has 2 to {MAX_ROUNDS} rounds, not {circuit.rounds}")
            if not circuit.lines or any(i not in order for i in circuit.lines):
                raise ValueError("a circuit names a row that is not there")
            first = order.index(circuit.lines[0])
            if tuple(order[first : first + len(circuit.lines)]) != circuit.lines:
                raise ValueError("the rows of a circuit stand together, in order")

    def with_line(self, line_id: str, **changes: object) -> Program:
        """The program with one line changed."""
        return replace(self, lines=tuple(replace(n, **changes) if n.id == line_id else n for n in self.lines))  # type: ignore[arg-type]

    def rounds_of(self, line_id: str) -> int:
        return next((c.rounds for c in self.circuits if line_id in c.lines), 1)

    def times_a_day(self, line: Line) -> int:
        """How often a line is gone through on one day: rounds of its circuit, morning and evening."""
        return self.rounds_of(line.id) * len(line.when.parts)

    @property
    def parts(self) -> tuple[When, ...]:
        """The sessions of a day, morning before evening."""
        asked = {part for n in self.lines if n.stage is not Stage.DAY for part in n.when.parts}
        return tuple(p for p in (When.MORNING, When.EVENING) if p in asked) or (When.MORNING,)


@dataclass(frozen=True, slots=True)
class Cell:
    """A read cell: its dose, or why it could not be read; both None when it is empty."""

    dose: Dose | None
    error: DoseLineError | None = None


def read_cell(text: str, card: Card) -> Cell:
    """Read one cell; an error is a value here, because what was typed must be kept."""
    if not text.strip():
        return Cell(None)
    try:
        return Cell(parse(text, card.style))
    except DoseLineError as error:
        return Cell(None, error)


def read_sheet(program: Program) -> Mapping[str, tuple[Cell, ...]]:
    """Every cell by line id, one per week."""
    return {line.id: tuple(read_cell(text, line.card) for text in line.cells) for line in program.lines}
