"""How a practice works: approach, count pace, change-overs, limits; and what a change of them would do before it is kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from uuid import UUID

from dimbo.core.design.sheet import Sheet, compile_sheet
from dimbo.core.design.weeks import About
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.programs.program import LIMITS, Settings, checked_settings
from dimbo.core.text import clock
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients, practices
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client, Ways
from dimbo.store.programs import programs
from dimbo.work.exercises.shelf import shelf
from dimbo.work.people.beginning import WAYS
from dimbo.work.shared.errors import Refused, Why

from .documents import ProgramDocument, to_program
from .safety_settings import require_confirmed


def wanted(approach: str, values: Mapping[str, float]) -> Ways:
    """Ways from plain values. Raises Refused that names the setting and its bounds."""
    if approach not in APPROACHES:
        raise Refused(Why.UNKNOWN, f"There is no approach “{approach}”. Choose from {', '.join(APPROACHES)}.", "approach")
    shipped = asdict(Settings())
    # What is shown rounded to thousandths comes back so; a shipped value stays exactly what it is.
    exact = {k: shipped[k] if k in shipped and round(shipped[k], 3) == v else v for k, v in values.items()}
    try:
        return Ways(approach, checked_settings(exact))
    except ValueError as error:
        field = next((k for k, limit in LIMITS.items() if limit.name in str(error)), None)
        raise Refused(Why.UNREADABLE, f"{str(error)[0].upper()}{str(error)[1:]}.", field) from error


@dataclass(frozen=True, kw_only=True)
class Effect:
    """What a change of ways would do to one running or drafted program."""

    program_id: UUID
    title: str
    client: str
    seconds_before: float
    seconds_after: float
    speaks: tuple[str, ...]
    """Notes that would be new in the margin."""
    settles: tuple[str, ...]
    """Notes that would go."""

    @property
    def sentence(self) -> str:
        parts = []
        if round(self.seconds_before) != round(self.seconds_after):
            parts.append(f"the longest session from {clock(self.seconds_before)} to {clock(self.seconds_after)}")
        if self.speaks:
            parts.append(f"{len(self.speaks)} new in the margin")
        if self.settles:
            parts.append(f"{len(self.settles)} settled")
        return f"{self.title} ({self.client}): {'; '.join(parts)}."


def load(db: Database, coach: Person) -> Ways:
    with db.of(coach) as conn:
        return clients.ways(conn)


def _longest(sheet: Sheet) -> float:
    return max((w.seconds for w in sheet.weeks), default=0.0)


def _effects(conn: Conn, coach: Person, new: Ways) -> tuple[list[Effect], int]:
    """Effects on every client's newest program; running ones keep the settings that they were assigned with."""
    old, books = clients.ways(conn), shelf(conn, coach.practice_id)
    known = About(cards=books.offered)
    out, seen = [], 0
    for client in clients.every(conn):
        newest = programs.of_client(conn, client.id)[:1]
        for summary in newest:
            seen += 1
            stored = programs.one(conn, summary.id)
            document = ProgramDocument.model_validate(stored.document)
            follows = client.approach is None and document.approach == old.approach
            sheets = []
            for ways in (old, new):
                own = document.model_copy(update={"approach": ways.approach}) if follows else document
                settings = Settings(**{**asdict(ways.settings), **({"pace_s": client.pace_s} if client.pace_s else {})})
                sheets.append(compile_sheet(to_program(stored.title, own, books.cards), settings, known))
            before, after = ({n.text for n in s.notes} for s in sheets)
            effect = Effect(
                program_id=stored.id,
                title=stored.title,
                client=client.name,
                seconds_before=_longest(sheets[0]),
                seconds_after=_longest(sheets[1]),
                speaks=tuple(n.text for n in sheets[1].notes if n.text not in before),
                settles=tuple(n.text for n in sheets[0].notes if n.text not in after),
            )
            if effect.speaks or effect.settles or round(effect.seconds_before) != round(effect.seconds_after):
                out.append(effect)
    return sorted(out, key=lambda e: -len(e.speaks)), seen


def preview(db: Database, coach: Person, new: Ways) -> tuple[list[Effect], int]:
    """What a change would do, and how many programs were looked at; nothing is stored."""
    with db.of(coach) as conn:
        return _effects(conn, coach, new)


def save(db: Database, coach: Person, new: Ways) -> None:
    """Keep what the practice decides. Running programs go on as they were assigned. Raises Refused for a careful starting
    value that is loosened and that nobody has confirmed."""
    with db.of(coach) as conn:
        require_confirmed(conn, new.settings)
        clients.set_ways(conn, new.approach, new.settings)
        practices.settle_step(conn, WAYS)


def own(db: Database, coach: Person, client_id: UUID) -> tuple[Client, Ways]:
    """A client with their own ways, and the practice's. Raises NotThere."""
    with db.of(coach) as conn:
        return clients.one(conn, client_id), clients.ways(conn)


def set_own(db: Database, coach: Person, client_id: UUID, approach: str | None, pace_s: float | None) -> None:
    """A client's own approach and count pace; None follows the practice. Raises Refused, NotThere."""
    if approach is not None and approach not in APPROACHES:
        raise Refused(Why.UNKNOWN, f"There is no approach “{approach}”. Choose from {', '.join(APPROACHES)}.", "approach")
    limit = LIMITS["pace_s"]
    if pace_s is not None and not limit.least <= pace_s <= limit.most:
        raise Refused(Why.BOUNDS, f"A count lasts {limit.least:g} to {limit.most:g} s, not {pace_s:g}.", "pace_s")
    with db.of(coach) as conn:
        clients.set_own_ways(conn, client_id, approach, pace_s)
