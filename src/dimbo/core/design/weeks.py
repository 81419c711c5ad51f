"""The weeks of a program worked out: every cell read, every session timed and loaded."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from dimbo.core.anatomy import SideSeconds, Stage
from dimbo.core.calendar.schedule import most_days, nested
from dimbo.core.exercises.card import Card
from dimbo.core.intake.conclusions import ConcernView
from dimbo.core.programs.daily_ceilings import Spent, planned
from dimbo.core.programs.program import Cell, Program, Settings, When, read_cell, read_sheet
from dimbo.core.programs.progression import eased_line
from dimbo.core.safety.cautions import Cautions
from dimbo.core.sessions.muscle_load import added, muscle_contraction, muscle_hands_on, session_contraction
from dimbo.core.sessions.timeline import Item, flowing, session_s
from dimbo.core.sittings.bias import Bias

NOTHING_HELD = Cautions((), ())


@dataclass(frozen=True, slots=True)
class Beside:
    """What another program of the same client takes of the daily ceilings, at most on one day."""

    title: str
    used: Spent


@dataclass(frozen=True, kw_only=True)
class About:
    """What the checks know besides the program: the client's cautions, days and readings, other programs, the catalogue."""

    cautions: Cautions = NOTHING_HELD
    weekdays: tuple[int, ...] = ()
    bias: Mapping[str, Bias] = field(default_factory=dict)
    """What the newest sitting says of a side, by reading; empty without a sitting."""
    beside: tuple[Beside, ...] = ()
    cards: Mapping[str, Card] = field(default_factory=dict)
    """Exercises that a remedy may add."""
    concerns: tuple[ConcernView, ...] = ()
    """What the client comes with, each with the cause that it is worked for; empty for a program of nobody."""
    not_agreed: str = ""
    no_age: bool = False
    """The year of birth is not known."""
    """Why consent to practise is not in force, in a sentence; empty when it is, and for a program of nobody."""


NOBODY = About()


@dataclass(frozen=True, slots=True, kw_only=True)
class SessionPlan:
    """Sessions of a week that are alike: when, on which of the week's days (from 0), and what is in them."""

    when: When
    on: tuple[int, ...]
    items: tuple[Item, ...]
    seconds: float
    contraction: SideSeconds


@dataclass(frozen=True, slots=True, kw_only=True)
class Week:
    """One week of the sheet. ``seconds`` is that of its longest session, ``contraction`` that of its busiest; ``muscles``
    and ``hands_on`` are the sums of the whole week, in seconds, and beside them those of the longest session."""

    number: int
    sessions: float
    plans: tuple[SessionPlan, ...]
    seconds: float
    contraction: SideSeconds
    muscles: dict[str, SideSeconds]
    hands_on: dict[str, SideSeconds]
    session_muscles: dict[str, SideSeconds]
    session_hands_on: dict[str, SideSeconds]

    @property
    def longest(self) -> SessionPlan | None:
        return max(self.plans, key=lambda p: p.seconds, default=None)

    @property
    def items(self) -> tuple[Item, ...]:
        """The exercises of the longest session."""
        return self.longest.items if self.longest else ()

    @property
    def total_s(self) -> float:
        """Seconds of all sessions of the week."""
        return self.often * sum(p.seconds * len(p.on) for p in self.plans)

    @property
    def often(self) -> float:
        """How much of a full week's sessions it has on average: 7/8 for every other day, else 1."""
        return self.sessions / most_days(self.sessions)


@dataclass(frozen=True, slots=True, kw_only=True)
class Compiled:
    """A program read and worked out, before it is checked."""

    program: Program
    settings: Settings
    about: About
    cells: Mapping[str, tuple[Cell, ...]]
    items: Mapping[str, Mapping[int, Item]]
    """Items by line and week."""
    weeks: tuple[Week, ...]

    def day(self, week: int) -> Spent:
        """What a day of a week takes of the ceilings at most."""
        return planned(self.program, week, self.settings)


def arranged(program: Program, items: Iterable[tuple[str, Item]]) -> tuple[Item, ...]:
    """Items in the order of practice: circuits repeated, no habits, each told what flows on. Takes line id and item, in sheet order."""
    out: list[Item] = []
    here = [(i, item) for i, item in items if item.line.stage is not Stage.DAY]
    circuit_of = {line: c for c in program.circuits for line in c.lines}
    at = 0
    while at < len(here):
        circuit = circuit_of.get(here[at][0])
        if circuit is None:
            out.append(here[at][1])
            at += 1
            continue
        block = []
        while at < len(here) and circuit_of.get(here[at][0]) is circuit:
            block.append(here[at][1])
            at += 1
        out += block * circuit.rounds
    return flowing(out)


def _items(program: Program, cells: Mapping[str, tuple[Cell, ...]]) -> dict[str, dict[int, Item]]:
    """Items by line and week; weeks with the same dose share one, so that it is worked out once."""
    out: dict[str, dict[int, Item]] = {}
    for line in program.lines:
        known: dict[str, Item] = {}
        weeks = out.setdefault(line.id, {})
        for week, (text, cell) in enumerate(zip(line.cells, cells[line.id], strict=True), start=1):
            if cell.dose is not None:
                if text not in known:
                    known[text] = Item(line, cell.dose)
                weeks[week] = known[text]
    return out


def _plans(program: Program, items: Mapping[str, Mapping[int, Item]], week: int, settings: Settings) -> tuple[SessionPlan, ...]:
    sessions = program.sessions[week - 1]
    here = [(n, items[n.id][week]) for n in program.lines if week in items[n.id]]
    alike: dict[tuple[When, tuple[str, ...]], list[int]] = {}
    on = {n.id: frozenset(nested(n.days_in(week, sessions), sessions=sessions)) for n, _ in here}
    for part in program.parts:
        of_part = [n for n, _ in here if part in n.when.parts]
        if all(n.days is None for n in of_part):
            alike[part, tuple(n.id for n in of_part)] = list(range(most_days(sessions)))
            continue
        for day in range(most_days(sessions)):
            alike.setdefault((part, tuple(n.id for n in of_part if day in on[n.id])), []).append(day)
    out = []
    by_id = {n.id: item for n, item in here}
    for (part, ids), days in alike.items():
        own = arranged(program, ((i, by_id[i]) for i in ids))
        if own:
            out.append(
                SessionPlan(
                    when=part,
                    on=tuple(days),
                    items=own,
                    seconds=session_s(own, settings),
                    contraction=session_contraction(own, settings.pace_s),
                )
            )
    return tuple(out)


def _week(program: Program, items: Mapping[str, Mapping[int, Item]], number: int, settings: Settings) -> Week:
    plans = _plans(program, items, number, settings)
    longest = max(plans, key=lambda p: p.seconds, default=None)
    busiest = max(plans, key=lambda p: max(p.contraction.right, p.contraction.left), default=None)
    pace_s, sessions = settings.pace_s, program.sessions[number - 1]
    often = sessions / most_days(sessions)
    contraction = [muscle_contraction(p.items, pace_s) for p in plans]
    hands_on = [muscle_hands_on(p.items, pace_s) for p in plans]
    return Week(
        number=number,
        sessions=sessions,
        plans=plans,
        seconds=longest.seconds if longest else 0.0,
        contraction=busiest.contraction if busiest else SideSeconds(0.0, left=0.0),
        muscles=added([(often * len(p.on), loads) for p, loads in zip(plans, contraction, strict=True)]),
        hands_on=added([(often * len(p.on), loads) for p, loads in zip(plans, hands_on, strict=True)]),
        session_muscles=contraction[plans.index(longest)] if longest else {},
        session_hands_on=hands_on[plans.index(longest)] if longest else {},
    )


def passes_minutes(seconds: float, minutes: int | None, settings: Settings) -> bool:
    """Whether a session is longer than the minutes that the client really has, by more than the practice's slack. Half a second
    is rounding."""
    return minutes is not None and seconds > minutes * 60 + settings.budget_slack_s + 0.5


def work_out(program: Program, settings: Settings, about: About = NOBODY) -> Compiled:
    """Read, time and load a whole program."""
    cells = read_sheet(program)
    items = _items(program, cells)
    weeks = tuple(_week(program, items, number, settings) for number in range(1, program.weeks + 1))
    return Compiled(program=program, settings=settings, about=about, cells=cells, items=items, weeks=weeks)


def week_plans(program: Program, settings: Settings, week: int, back: int = 0) -> tuple[SessionPlan, ...]:
    """The sessions of one week (1-based), ``back`` rungs lower after a break; nothing else of the program is worked out."""
    lines = tuple(eased_line(n, week, back=back, pace_s=settings.pace_s, lighter=program.lighter) for n in program.lines)
    cells = ((n, read_cell(n.cells[week - 1], n.card)) for n in lines)
    items = {n.id: {week: Item(n, cell.dose)} if cell.dose is not None else {} for n, cell in cells}
    return _plans(replace(program, lines=lines), items, week, settings)


def items_of_day(program: Program, settings: Settings, week: int, place: int, when: When = When.MORNING, back: int = 0) -> tuple[Item, ...]:
    """The exercises of one session in order: week (1-based), its day's place in the week (from 0), morning or evening.

    Only the lines that are in it are read; ``week_plans`` says the same of a whole week.
    """
    sessions = program.sessions[week - 1]
    if place >= most_days(sessions) or when not in program.parts:
        return ()
    items = []
    for line in program.lines:
        if when in line.when.parts and (line.days is None or place in nested(line.days_in(week, sessions), sessions=sessions)):
            eased = eased_line(line, week, back=back, pace_s=settings.pace_s, lighter=program.lighter)
            dose = read_cell(eased.cells[week - 1], eased.card).dose
            if dose is not None:
                items.append((line.id, Item(eased, dose)))
    return arranged(program, items)
