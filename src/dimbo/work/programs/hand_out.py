"""The printed hand-out of a client's week."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime
from uuid import UUID

from dimbo.catalogue import shipped_intake
from dimbo.core.anatomy import Stage
from dimbo.core.calendar.schedule import DAYS, days_in_words, practice_day, zone
from dimbo.core.design.weeks import week_plans
from dimbo.core.exercises.dose_in_words import in_words
from dimbo.core.safety.cautions import LOCAL_NUMBER, URGENT, Effect, care
from dimbo.core.sessions.eased_version import eased_item
from dimbo.core.sessions.timeline import Item, session_s
from dimbo.core.text import join_words, list_weeks
from dimbo.printing.handout import PAPERS, Doses, Handout, Print, Sheet, handout_pdf
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.work.shared.errors import Refused, Why

from .writing import load


def print_week(
    db: Database,
    coach: Person,
    program_id: UUID,
    week: int,
    how: Print,
    now: datetime,
    only: frozenset[str] = frozenset(),
    *,
    whole: bool = False,
) -> tuple[str, bytes]:
    """A file name and the PDF of a week, of some rows of it (``only``, ids), or of the ``whole`` program: every exercise once, as it
    begins, and its dose week by week. What is locked is left out. Raises Refused, NotThere."""
    if how.paper not in PAPERS:
        raise Refused(Why.UNREADABLE, f"Paper is {' or '.join(PAPERS)}.", "paper")
    opened = load(db, coach, program_id, now)
    program, cautions, settings = opened.sheet.program, opened.context.about.cautions, opened.context.settings
    if not 1 <= week <= program.weeks:
        raise Refused(Why.BOUNDS, f"This program has weeks 1 to {program.weeks}.", "week")
    with db.of(coach) as conn:
        client = clients.one(conn, opened.stored.client_id)
        number = clients.emergency_number(conn)
        back = _rungs_back(conn, client, program_id, week, now)
    if cautions.urgent:
        raise Refused(Why.CARE, f"{care(h.rule for h in cautions.urgent)} {cautions.urgent[0].reason} Nothing is handed out meanwhile.")
    if missing := next((n for n in opened.sheet.notes if n.rule == "unasked"), None):
        raise Refused(Why.CARE, f"{missing.text} {missing.remedy}")
    verdicts = {n.card.id: cautions.of(n.card) for n in program.lines}
    eased = {i: join_words([h.rule.name.lower() for h in v.held]) for i, v in verdicts.items() if v.effect is Effect.EASE}

    def allowed(items: Iterable[Item]) -> tuple[Item, ...]:
        chosen = [i for i in items if not only or i.line.id in only]
        kept = [i for i in chosen if verdicts[i.card.id].version is not None and not i.card.withdrawn]
        return tuple(i if verdicts[i.card.id].version is i.card else eased_item(i) for i in kept)

    sheets = []
    plans = week_plans(program, settings, week, back=back)
    for plan in plans if not whole else ():
        items = allowed(plan.items)
        part = plan.when.value.capitalize() if len(program.parts) > 1 else "Session"
        days = f", on {len(plan.on)} day{'' if len(plan.on) == 1 else 's'}" if len(plans) > len(program.parts) else ""
        if items or not only:
            sheets.append(Sheet(f"{part}{days}", items, session_s(items, settings)))
    by_week = (
        [(n, allowed(i for p in week_plans(program, settings, n) for i in p.items)) for n in range(1, program.weeks + 1)] if whole else []
    )
    if whole:
        first = {i.line.id: i for _, items in reversed(by_week) for i in items}
        every = tuple(first[n.id] for n in program.lines if n.id in first)
        sheets.append(Sheet("Every exercise, as it begins", every, 0.0))
    daily = [n for n in program.lines if n.stage is Stage.DAY and (not only or n.id in only)]
    habits = tuple(
        (n.card.name, in_words(cell.dose, settings.pace_s), n.note or " ".join(n.card.cues))
        for n in daily
        if verdicts[n.card.id].version is not None and (cell := opened.sheet.cells[n.id][week - 1]).dose
    )
    reminders = tuple(h.rule.text for h in cautions.held if h.effect is not None)
    made = Handout(
        practice=coach.practice_name,
        client=client.name,
        title=program.title,
        week=week,
        weeks=program.weeks,
        days=days_in_words(program.sessions[week - 1]) + (" a week" if program.sessions[week - 1] not in (3.5, 7) else ""),
        sheets=tuple(sheets),
        habits=habits,
        expectations=program.expectations,
        cautions=tuple(dict.fromkeys(reminders)),
        eased=eased,
        pace_s=settings.pace_s,
        signs=_signs(number),
        course=_course(by_week, settings.pace_s),
    )
    return f"{program.title}{'' if whole else f', week {week}'}.pdf", handout_pdf(made, now, how)


def _course(by_week: Sequence[tuple[int, Sequence[Item]]], pace_s: float) -> tuple[Doses, ...]:
    """Each exercise with its doses in words and the weeks that have them, in the order in which they begin."""
    found: dict[str, tuple[str, list[tuple[str, list[int]]]]] = {}
    for week, items in by_week:
        for i in items:
            _, doses = found.setdefault(i.line.id, (i.card.name, []))
            dose = in_words(i.dose, pace_s)
            if doses and doses[-1][0] == dose:
                doses[-1][1].append(week)
            else:
                doses.append((dose, [week]))
    return tuple(Doses(name, tuple((list_weeks(sorted(set(weeks))), dose) for dose, weeks in doses)) for name, doses in found.values())


def _rungs_back(conn: Conn, client: Client, program_id: UUID, week: int, now: datetime) -> int:
    """How many rungs lower the phone plays this week of the program now, because it comes back from a break."""
    running = next((a for a in assignments.running_of(conn, client.id) if a.program_id == program_id), None)
    if running is None:
        return 0
    place = (practice_day(now, zone(client.time_zone)) - running.anchor).days // DAYS
    step = running.steps[place] if 0 <= place < len(running.steps) else (0, 0)
    return step[1] if step[0] == week else 0


def _signs(number: str) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """The sudden signs as they stand on the paper: those for the emergency number, and those for a doctor today."""
    signs = [r for r in shipped_intake().tables.cautions if r.group == URGENT]
    call = f"New and sudden? Stop, and call {number or LOCAL_NUMBER} now:"
    return (
        (call, tuple(r.name for r in signs if not r.same_day)),
        ("See a doctor today:", tuple(r.name for r in signs if r.same_day)),
    )
