"""Clients of a practice, and the practice's own settings."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import date, datetime
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.core.programs.program import Settings
from dimbo.store.database import Conn, NotThere, add, add_all, columns_of, many, new_id, one_or_none


@dataclass(frozen=True, kw_only=True)
class Client:
    id: UUID
    name: str
    birth_year: int | None
    time_zone: str
    minutes: int | None
    concerns: list[str]
    goals: str
    pace_s: float | None
    approach: str | None
    """The client's own approach; None follows the practice."""
    portrait: str | None
    created_at: datetime
    has_account: bool
    email: str
    phone: str
    days: list[int]
    """Weekdays on which there is time, Monday 1 to Sunday 7; empty when nobody asked."""
    agreed: list[str]
    """What the coach agreed to look at."""
    status: str
    intake_opened_at: datetime | None
    intake_opened_by: str | None
    intake_finished_at: datetime | None
    coach_id: UUID | None
    """Who took the client on; None for clients from before that was kept."""
    archived_at: datetime | None
    """Since when the client is away from desk and list, because the course is over; None while they are not."""
    kept_until: date | None
    """Nothing is deleted for its age before this day."""


PROFILE = ("name", "birth_year", "time_zone", "minutes", "days", "email", "phone", "goals", "agreed", "status")
"""What a coach fills in about a client; each is a column."""


_COLUMNS = """c.id, c.name, c.birth_year, c.time_zone, c.minutes, c.concerns, c.goals, c.pace_s::float8 as pace_s,
    c.approach, c.portrait, c.created_at, c.email, c.phone, c.days, c.agreed, c.status, c.intake_opened_at, c.intake_opened_by,
    c.intake_finished_at, c.coach_id, c.archived_at, c.kept_until,
    exists (select from accounts a where a.client_id = c.id) as has_account"""


def emergency_number(conn: Conn) -> str:
    """The practice's own number for an emergency; empty for none."""
    row = conn.execute("select emergency_number from practices where id = current_practice()").fetchone()
    return str(row[0]) if row else ""


def set_emergency_number(conn: Conn, number: str) -> None:
    conn.execute("update practices set emergency_number = %s where id = current_practice()", (number,))


def every(conn: Conn) -> list[Client]:
    return many(conn, Client, f"select {_COLUMNS} from clients c order by c.name")


def at_work_with(conn: Conn) -> list[Client]:
    """Everybody who is not archived."""
    return many(conn, Client, f"select {_COLUMNS} from clients c where c.archived_at is null order by c.name")


def archive(conn: Conn, client_id: UUID, at: datetime | None) -> None:
    """Away from desk and list since a moment, or with None back again."""
    conn.execute("update clients set archived_at = %s where id = %s", (at, client_id))


ONE = f"select {_COLUMNS} from clients c where c.id = %s"
"""A client by id."""


def one(conn: Conn, client_id: UUID) -> Client:
    """Raises NotThere."""
    return there(one_or_none(conn, Client, ONE, (client_id,)))


def there(row: Client | None) -> Client:
    """Raises NotThere."""
    if row is None:
        raise NotThere("There is no such client.")
    return row


@dataclass(frozen=True, kw_only=True)
class NewClient:
    """A client to be made, as an import brings it."""

    id: UUID
    name: str
    birth_year: int | None
    time_zone: str
    minutes: int | None
    concerns: list[str]
    goals: str
    email: str
    phone: str
    status: str


def hold(conn: Conn, client_id: UUID) -> None:
    """Wait until no other transaction changes what is known of a client."""
    conn.execute("select 1 from clients where id = %s for update", (client_id,))


def create_many(conn: Conn, practice_id: UUID, new: list[NewClient], coach_id: UUID) -> None:
    add_all(conn, "clients", [{"practice_id": practice_id, "coach_id": coach_id} | columns_of(c) for c in new])


def identities(conn: Conn) -> list[tuple[str, int | None, str]]:
    """Name, birth year and e-mail of every client, to know them again."""
    return conn.execute("select name, birth_year, email from clients").fetchall()


def create(
    conn: Conn,
    practice_id: UUID,
    name: str,
    *,
    birth_year: int | None,
    time_zone: str,
    minutes: int | None,
    concerns: list[str],
    goals: str,
    portrait: str | None = None,
    email: str = "",
    phone: str = "",
    status: str = "active",
    coach_id: UUID | None = None,
) -> UUID:
    values = {
        "practice_id": practice_id,
        "name": name,
        "birth_year": birth_year,
        "time_zone": time_zone,
        "minutes": minutes,
        "concerns": concerns,
        "goals": goals,
        "portrait": portrait,
        "email": email,
        "phone": phone,
        "status": status,
        "coach_id": coach_id,
    }
    return new_id(add(conn, "clients", values, "returning id"))


def set_profile(conn: Conn, client_id: UUID, field: str, value: object) -> None:
    """Change one column of ``PROFILE``. Raises NotThere."""
    assert field in PROFILE
    if conn.execute(f"update clients set {field} = %s where id = %s".encode(), (value, client_id)).rowcount == 0:
        raise NotThere("There is no such client.")


def set_concerns(conn: Conn, client_id: UUID, concerns: list[str]) -> None:
    """The concerns that are rated above none, the most marked first."""
    conn.execute("update clients set concerns = %s where id = %s", (concerns, client_id))


def open_intake(conn: Conn, client_id: UUID, by: str, at: datetime) -> bool:
    """Open an intake; False when one is open already."""
    done = conn.execute(
        """
        update clients
        set intake_opened_at = %s, intake_opened_by = %s, intake_finished_at = null
        where id = %s and (intake_opened_at is null or intake_finished_at is not null)""",
        (at, by, client_id),
    )
    return done.rowcount == 1


def finish_intake(conn: Conn, client_id: UUID, at: datetime) -> bool:
    """Finish the open intake; False when none is open."""
    done = conn.execute(
        "update clients set intake_finished_at = %s where id = %s and intake_opened_at is not null and intake_finished_at is null",
        (at, client_id),
    )
    return done.rowcount == 1


@dataclass(frozen=True)
class Ways:
    """How a practice works: its approach and its settings, with the client's own approach and count pace where there are any."""

    approach: str
    settings: Settings


def ways(conn: Conn, client_id: UUID | None = None) -> Ways:
    """Raises NotThere."""
    row = conn.execute(
        """
        select coalesce(c.approach, p.approach), coalesce(c.pace_s, p.pace_s)::float8, p.change_over_s::float8,
            p.oil_change_over_s::float8, p.limits
        from practices p
        left join clients c on c.id = %s
        where p.id = current_practice()""",
        (client_id,),
    ).fetchone()
    if row is None:
        raise NotThere("There is no such practice.")
    return Ways(row[0], Settings(pace_s=row[1], change_over_s=row[2], oil_change_over_s=row[3], **row[4]))


def settings(conn: Conn, client_id: UUID | None = None) -> Settings:
    """The practice's settings, with the client's own count pace where there is one."""
    return ways(conn, client_id).settings


def set_ways(conn: Conn, approach: str, settings: Settings) -> None:
    """What the practice decides. Bounds are the caller's."""
    limits = {k: v for k, v in asdict(settings).items() if k not in ("pace_s", "change_over_s", "oil_change_over_s")}
    conn.execute(
        """
        update practices
        set approach = %s, pace_s = %s, change_over_s = %s, oil_change_over_s = %s, limits = %s
        where id = current_practice()""",
        (approach, settings.pace_s, settings.change_over_s, settings.oil_change_over_s, Jsonb(limits)),
    )


def set_own_ways(conn: Conn, client_id: UUID, approach: str | None, pace_s: float | None) -> None:
    """A client's own approach and count pace; None follows the practice. Raises NotThere."""
    if conn.execute("update clients set approach = %s, pace_s = %s where id = %s", (approach, pace_s, client_id)).rowcount == 0:
        raise NotThere("There is no such client.")


def hand_over(conn: Conn, to: UUID, *, from_: UUID | None = None, client_id: UUID | None = None) -> int:
    """Give one client, or all whom somebody has taken on, to another coach; returns how many changed hands."""
    done = conn.execute(
        "update clients set coach_id = %(to)s where (id = %(client)s or coach_id = %(from)s) and coach_id is distinct from %(to)s",
        {"to": to, "client": client_id, "from": from_},
    )
    return done.rowcount
